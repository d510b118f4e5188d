"""What carriers did: days promised against days taken, what they charged afterwards, what cover pays
(outcomes; rules 17.5).
"""

import statistics
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Literal, get_args

from core.outcomes.model import Outcome
from core.outcomes.rates import wilson
from core.units import Milligrams

__all__ = [
    "PROOFS",
    "Claim",
    "ClaimState",
    "Delivered",
    "OnTime",
    "Proof",
    "Reweighed",
    "claim_for",
    "on_time",
    "reweighed_by",
    "whole_from",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Delivered:
    """A parcel that came: when it left, was promised and came."""

    carrier: str
    service: str
    zone: str
    sent_on: date
    promised_on: date
    delivered_on: date

    @property
    def late_days(self) -> int:
        """Return by how many days it was late; 0: in time or early."""
        return max(0, (self.delivered_on - self.promised_on).days)


@dataclass(frozen=True, slots=True, kw_only=True)
class OnTime:
    """A service in a zone: days promised and taken, share late."""

    carrier: str
    service: str
    zone: str
    count: int
    promised_days: Decimal  #: mean, calendar days
    real_days: Decimal
    late: int
    low: Decimal  #: of the share late
    high: Decimal
    worst_late_days: int


def on_time(parcels: Iterable[Delivered]) -> tuple[OnTime, ...]:
    """Return each service by zone, most parcels first."""
    found: dict[tuple[str, str, str], list[Delivered]] = {}
    for one in parcels:
        found.setdefault((one.carrier, one.service, one.zone), []).append(one)
    rows = []
    for (carrier, service, zone), mine in found.items():
        late = sum(one.late_days > 0 for one in mine)
        low, high = wilson(late, len(mine))
        rows.append(
            OnTime(
                carrier=carrier, service=service, zone=zone, count=len(mine),
                promised_days=_mean([(one.promised_on - one.sent_on).days for one in mine]),
                real_days=_mean([(one.delivered_on - one.sent_on).days for one in mine]),
                late=late, low=low, high=high, worst_late_days=max(one.late_days for one in mine),
            )
        )  # fmt: skip
    return tuple(sorted(rows, key=lambda row: (-row.count, row.carrier, row.service, row.zone)))


def _mean(days: Sequence[int]) -> Decimal:
    return Decimal(f"{statistics.fmean(days):.1f}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Reweighed:
    """What a carrier charged afterwards for what it measured itself."""

    carrier: str
    count: int
    of: int  #: parcels sent with it
    charged: Decimal
    median_more_mg: Milligrams  #: its weight less ours


def reweighed_by(parcels: Iterable[tuple[str, Milligrams, Milligrams | None, Decimal]]) -> tuple[Reweighed, ...]:
    """Return each carrier's later charges: (carrier, our weight, its weight or None, charged afterwards)."""
    rows = list(parcels)
    found = []
    for carrier in sorted({row[0] for row in rows}):
        mine = [row for row in rows if row[0] == carrier]
        again = [row for row in mine if row[3] > 0]
        if again:
            more = [theirs - ours for _, ours, theirs, _ in again if theirs is not None]
            found.append(
                Reweighed(
                    carrier=carrier, count=len(again), of=len(mine),
                    charged=sum((row[3] for row in again), Decimal(0)),
                    median_more_mg=round(statistics.median(more)) if more else 0,
                )
            )  # fmt: skip
    return tuple(found)


def whole_from(delivered_on: date, days: int = 14) -> date:
    """Return the day from which a parcel nobody complained of counts as whole (rules 17.1)."""
    return delivered_on + timedelta(days=days)


#: What a carrier wants to see with a claim.
Proof = Literal["photo", "slip", "label"]
PROOFS: tuple[Proof, ...] = get_args(Proof)
ClaimState = Literal["open", "expired", "not_covered"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim:
    """What may be claimed for one parcel."""

    state: ClaimState
    pays: Decimal  #: the loss, at most what it is covered for
    until: date | None  #: last day; None: the carrier names none
    days_left: int | None
    missing: tuple[Proof, ...]


def claim_for(
    outcome: Outcome,
    *,
    loss: Decimal,
    cover: Decimal,
    excluded: bool,
    arrived_on: date | None,
    claim_days: int | None,
    proofs: Iterable[Proof],
    today: date,
) -> Claim | None:
    """Return the claim of a parcel that was damaged or lost; None for any other.

    ``excluded``: the carrier covers no such goods. ``arrived_on``: for a lost parcel the day it was promised for.
    """
    if outcome not in ("broken", "spoiled", "lost"):
        return None
    until = arrived_on + timedelta(days=claim_days) if arrived_on is not None and claim_days is not None else None
    amount = Decimal(0) if excluded else min(loss, cover)
    had = set(proofs)
    # A parcel that never came cannot be photographed.
    wanted = [proof for proof in PROOFS if outcome != "lost" or proof != "photo"]
    state: ClaimState = "open"
    if amount <= 0:
        state = "not_covered"
    elif until is not None and today > until:
        state = "expired"
    return Claim(
        state=state,
        pays=amount,
        until=until,
        days_left=(until - today).days if until is not None else None,
        missing=tuple(proof for proof in wanted if proof not in had),
    )
