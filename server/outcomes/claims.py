"""Claims for parcels that were damaged or lost: what cover pays, until when, which proofs are there (outcomes)."""

from collections import Counter
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from django.db import transaction
from django.db.models import QuerySet

from core.outcomes.carriers import Claim as ClaimValue
from core.outcomes.carriers import Proof, claim_for
from server.api.problems import Refused
from server.outcomes.models import Arrival, Claim
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["ClaimTold", "claim_of", "proofs_of", "save_claim", "settle_claim"]


def proofs_of(row: Arrival) -> tuple[Proof, ...]:
    """Return the proofs that are there: a photo somebody took; slip and label are kept with every parcel."""
    found: list[Proof] = ["slip"]
    if row.parcel.tracking:
        found.append("label")
    if row.photos.all():
        found.append("photo")
    return tuple(found)


def claim_of(row: Arrival, day: date) -> ClaimValue | None:
    """Return what may be claimed for a parcel today, None when nothing may."""
    return claim_for(
        row.outcome,  # type: ignore[arg-type]
        loss=_loss(row),
        cover=row.cover,
        excluded=not row.covered,
        arrived_on=row.delivered_on or (row.promised_on if row.outcome == "lost" else None),
        claim_days=row.claim_days,
        proofs=proofs_of(row),
        today=day,
    )


def _loss(row: Arrival) -> Decimal:
    """Return what a claim asks for: what the buyer paid for the goods that were hurt, all of them when it is lost."""
    goods = list(row.goods.all())
    alone = goods[0].sku if len(goods) == 1 else ""
    told: Counter[str] = Counter()
    for harm in row.harms.all():
        if harm.kind != "marked" and (harm.sku or alone):
            told[harm.sku or alone] += harm.units
    if row.outcome == "lost" or not told:
        return sum((one.unit_value * one.units for one in goods), Decimal(0))
    return sum((one.unit_value * min(told[one.sku], one.units) for one in goods), Decimal(0))


def settle_claim(workshop: Workshop, row: Arrival) -> None:
    """Open a claim for a parcel that is damaged or lost and covered; take an open one back that has no cause."""
    found = claim_of(row, today(workshop))
    mine = Claim.objects.of(workshop).filter(arrival=row)
    if found is None or found.pays <= 0:
        mine.filter(state=Claim.State.OPEN).delete()
        return
    _, made = Claim.objects.of(workshop).get_or_create(
        arrival=row, defaults={"workshop": workshop, "amount": found.pays, "until": found.until}
    )
    if not made:
        mine.filter(state=Claim.State.OPEN).update(amount=found.pays, until=found.until)


@dataclass(frozen=True, slots=True, kw_only=True)
class ClaimTold:
    """How a claim stands, as somebody writes it down."""

    state: str
    amount: Decimal
    paid: Decimal | None
    made_on: date | None
    reference: str
    note: str


@transaction.atomic
def save_claim(*, by: Member, claim_id: int, told: ClaimTold, revision: int) -> Claim:
    """Write down how a claim stands. Raises Refused: 404, 409 changed, not_valid."""
    lock_workshop(by.workshop)
    rows: QuerySet[Claim] = Claim.objects.of(by.workshop).select_for_update(of=("self",))
    row = rows.select_related("arrival__parcel__order").filter(pk=claim_id).first()
    if row is None:
        raise Refused("There is no such claim in your workshop.", code="not_found", status=404)
    if row.revision != revision:
        raise Refused(
            f"{row.by} changed this claim while you did. Look at it, then make your change again.",
            code="changed",
            facts={"revision": row.revision, "by": row.by},
        )
    if told.state == Claim.State.PAID and told.paid is None:
        raise Refused("Say how much was paid.", code="not_valid", status=422, field="paid")
    if told.paid is not None and told.state != Claim.State.PAID:
        raise Refused("An amount was paid only when the claim is paid.", code="not_valid", status=422, field="paid")
    day = today(by.workshop)
    row.state, row.amount, row.paid = told.state, told.amount, told.paid
    row.reference, row.note, row.by = told.reference, told.note, by.name
    made = told.state in (Claim.State.MADE, Claim.State.PAID, Claim.State.REFUSED)
    row.made_on = told.made_on or row.made_on or (day if made else None)
    settled = told.state in (Claim.State.PAID, Claim.State.REFUSED, Claim.State.DROPPED)
    row.settled_on = (row.settled_on or day) if settled else None
    row.revision += 1
    row.save()
    return row
