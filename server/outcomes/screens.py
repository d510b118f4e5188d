"""What the Arrivals screen is shown (outcomes)."""

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import Literal

from django.db.models import prefetch_related_objects
from pydantic import BaseModel

from core.outcomes.carriers import Proof
from core.outcomes.model import HarmKind, Outcome, Place
from core.outcomes.rates import Counted
from server.outcomes.claims import claim_of
from server.outcomes.models import Arrival
from server.plans.models import TrialPick
from server.workshops.models import Workshop

__all__ = ["ArrivalOut", "CountedOut", "HarmOut", "arrivals_out", "counted_out"]


class CountedOut(BaseModel):
    """So many of so many damaged, with the interval of the true share."""

    damaged: int
    known: int
    assumed: int
    share: Decimal | None
    low: Decimal
    high: Decimal


def counted_out(one: Counted) -> CountedOut:
    """Return a count with its interval."""
    low, high = one.interval
    return CountedOut(damaged=one.damaged, known=one.known, assumed=one.assumed, share=one.share, low=low, high=high)


class ArrivedGoods(BaseModel):
    """Goods in a parcel, and the version they were packed by."""

    sku: str
    name: str
    units: int
    recipe_id: int | None
    recipe: str
    version: int | None
    hurt: bool


class HarmOut(BaseModel):
    """Something that was hurt."""

    kind: HarmKind
    place: Place | None
    spot: str
    sku: str
    units: int


class ArrivalClaim(BaseModel):
    """The claim for a parcel, in short."""

    id: int
    state: Literal["open", "made", "paid", "refused", "dropped"]
    amount: Decimal
    until: date | None
    days_left: int | None
    missing: list[Proof]


class ArrivalOut(BaseModel):
    """A parcel that has left, and what is known of it."""

    id: int
    parcel_id: int
    order_id: int
    number: str
    part: int
    parts: int
    buyer: str
    place: str
    goods: list[ArrivedGoods]
    sent_on: date
    promised_on: date
    delivered_on: date | None
    late_days: int  #: came so many days after it was promised, or is so many days over it
    whole_by: date | None
    outcome: Outcome
    source: Literal["", "us", "buyer", "file", "assumed"]
    harms: list[HarmOut]
    note: str
    message: str
    gave_back: Literal["", "refund", "part_refund", "replacement"]
    gave_amount: Decimal
    answered_at: datetime | None
    answered_by: str
    revision: int
    container: str
    carrier: str
    service_name: str
    tracking: str
    outer_um: tuple[int, int, int]
    at_risk: Decimal
    photos: list[int]
    claim: ArrivalClaim | None
    trial: str  #: what the trial it was picked for asks; empty: none


def arrivals_out(workshop: Workshop, rows: Sequence[Arrival], day: date, questions: dict[str, str]) -> list[ArrivalOut]:
    """Return rows as the screen shows them, in a fixed number of queries; ``questions``: of running trials, by key."""
    prefetch_related_objects(list(rows), "goods__version__recipe", "harms", "photos")
    picks = dict(
        TrialPick.objects.of(workshop)
        .filter(order__parcels__arrival__in=[row.pk for row in rows])
        .values_list("order_id", "trial")
    )
    return [_row(row, day, questions.get(picks.get(row.parcel.order_id, ""), "")) for row in rows]


def _row(row: Arrival, day: date, trial: str) -> ArrivalOut:
    order = row.parcel.order
    claim = getattr(row, "claim", None)
    may = claim_of(row, day) if claim is not None else None
    length, width, height = row.outer_um
    came = row.delivered_on or day
    plain = (
        "sent_on", "promised_on", "delivered_on", "whole_by", "outcome", "source", "note", "message", "gave_back",
        "gave_amount", "answered_at", "answered_by", "revision", "container", "carrier", "service_name", "at_risk",
    )  # fmt: skip
    return ArrivalOut(
        **{name: getattr(row, name) for name in plain},
        id=row.pk,
        parcel_id=row.parcel_id,
        order_id=order.pk,
        number=order.number,
        part=row.parcel.part,
        parts=row.parcel.parts,
        buyer=order.buyer,
        place=order.address[-1] if order.address else order.postcode,
        goods=[
            ArrivedGoods(
                sku=one.sku, name=one.name, units=one.units, hurt=one.hurt,
                recipe_id=one.version.recipe_id if one.version else None,
                recipe=one.version.recipe.name if one.version else "",
                version=one.version.number if one.version else None,
            )
            for one in row.goods.all()
        ],
        late_days=max(0, (came - row.promised_on).days),
        harms=[
            HarmOut(kind=one.kind, place=one.place or None, spot=one.spot, sku=one.sku, units=one.units)  # type: ignore[arg-type]
            for one in row.harms.all()
        ],
        tracking=row.parcel.tracking,
        outer_um=(length, width, height),
        photos=[one.pk for one in row.photos.all()],
        claim=ArrivalClaim(
            id=claim.pk, state=claim.state, amount=claim.amount, until=claim.until,
            days_left=(claim.until - day).days if claim.until else None, missing=list(may.missing) if may else [],
        )
        if claim is not None
        else None,
        trial=trial,
    )  # fmt: skip
