"""Taking what the bench taught, and taking it back (outcomes; rules 17.5).

What was taken is kept with its evidence; taking it back puts the value of before in its place, unless somebody has
changed it since.
"""

from collections.abc import Mapping
from decimal import Decimal
from typing import Any, NoReturn
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from server.api.problems import Refused
from server.formats.recipe import document_of
from server.formats.supplies import facts_of
from server.outcomes.learned import Figure, Kind, Offer, Unit, offers, version_of
from server.outcomes.models import LearnedValue
from server.recipes.mapping import core_recipe
from server.recipes.models import Product
from server.recipes.services import add_version
from server.supplies.models import Supply
from server.workshops.happened import tell_anything
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["figures_of", "take", "undo"]


@transaction.atomic
def take(*, by: Member, kind: Kind, subject: str, after: Mapping[str, Decimal], request_key: UUID) -> LearnedValue:
    """Take an offer: plans go by it from now on. Sent twice, it is taken once.

    Raises Refused: 404 when there is no such offer any more; 409 changed when it has become another since.
    """
    lock_workshop(by.workshop)
    before = LearnedValue.objects.of(by.workshop).filter(request_key=request_key).first()
    if before is not None:
        return before
    offer = next((one for one in offers(by.workshop) if (one.kind, one.subject) == (kind, subject)), None)
    if offer is None:
        raise Refused(
            "This is not offered any more: plans go by it, or too little tells of it.", code="not_found", status=404
        )
    if {one.name: one.after for one in offer.figures} != dict(after):
        raise Refused("More parcels have changed this value since you looked. Look at it again.", code="changed")
    _write(by, offer, f"Minutes learned from {offer.count} parcels")
    return LearnedValue.objects.of(by.workshop).create(
        workshop=by.workshop, kind=kind, subject=subject, name=offer.name,
        before={one.name: f"{one.before:f}" for one in offer.figures},
        after={one.name: f"{one.after:f}" for one in offer.figures},
        evidence={"count": offer.count, "error": f"{offer.error:f}", "left_out": offer.left_out},
        taken_at=timezone.now(), taken_by=by.name, request_key=request_key,
    )  # fmt: skip


@transaction.atomic
def undo(*, by: Member, value_id: int) -> LearnedValue:
    """Put the value of before in its place. Asked again it does nothing more.

    Raises Refused: 404; changed_since when somebody has changed the value after it was taken.
    """
    lock_workshop(by.workshop)
    row = LearnedValue.objects.of(by.workshop).select_for_update().filter(pk=value_id).first()
    if row is None:
        raise Refused("There is no such value in your workshop.", code="not_found", status=404)
    if row.undone_at is not None:
        return row
    _write(by, _offer_of(row).back, "Minutes as before")
    row.undone_at, row.undone_by = timezone.now(), by.name
    row.save(update_fields=["undone_at", "undone_by"])
    return row


#: In their order: a JSON column keeps none.
_FIGURES: dict[str, tuple[tuple[str, Unit], ...]] = {
    "minutes": (("unit", "minutes"), ("parcel", "minutes")),
    "weight": (("weight", "mg"), ("spread", "mg")),
    "bulge": (("bulge", "um"),),
    "fill": (("factor", "number"),),
}


def figures_of(row: LearnedValue) -> tuple[Figure, ...]:
    """Return the figures of a value that was taken."""
    return tuple(
        Figure(name=name, unit=unit, before=Decimal(row.before[name]), after=Decimal(row.after[name]))
        for name, unit in _FIGURES[row.kind]
    )


def _offer_of(row: LearnedValue) -> Offer:
    figures = figures_of(row)
    return Offer(kind=row.kind, subject=row.subject, name=row.name, figures=figures, count=0, error=Decimal(0))  # type: ignore[arg-type]


def _write(by: Member, offer: Offer, reason: str) -> None:
    """Put what is offered in the place of what was before; refused when something else stands there by now."""
    if offer.kind == "minutes":
        _write_minutes(by, offer, reason)
    elif offer.kind == "weight":
        _write_weight(by.workshop, offer)
    else:
        _write_fill(by.workshop, offer)


def _refuse_changed(name: str) -> NoReturn:
    raise Refused(
        f"{name} was changed after this was taken: it is not put back. Change it where it stands.",
        code="changed_since",
    )


def _write_minutes(by: Member, offer: Offer, reason: str) -> None:
    version = version_of(by.workshop, offer)
    recipe = core_recipe(version)
    other = offer.changed(recipe)
    if other == recipe:
        _refuse_changed(offer.name)
    add_version(
        by=by, recipe_id=version.recipe_id, base_version=version.number,
        document=document_of(other).model_dump(mode="json"), reason=reason,
    )  # fmt: skip


def _write_weight(workshop: Workshop, offer: Offer) -> None:
    weight_mg, spread_mg = map(int, offer.after)
    rows = Product.objects.of(workshop).filter(sku=offer.subject, weight_mg=int(offer.before[0]))
    if not rows.update(weight_mg=weight_mg, weight_spread_mg=spread_mg):
        _refuse_changed(offer.name)
    tell_anything(workshop)


def _write_fill(workshop: Workshop, offer: Offer) -> None:
    (before,), (after,) = offer.before, offer.after
    field = "bulge_um" if offer.kind == "bulge" else "packing_factor"
    row = Supply.objects.of(workshop).select_for_update(of=("self",)).filter(code=offer.subject, kind="fill").first()
    if row is None or Decimal(str(row.facts[field])) != before:
        _refuse_changed(offer.name)
    facts: dict[str, Any] = {**row.facts, field: int(after) if field == "bulge_um" else f"{after:f}"}
    facts_of(facts)  # what is kept can be read
    row.facts = facts
    row.estimated = [name for name in row.estimated if name != field]
    row.save(update_fields=["facts", "estimated"])
    tell_anything(workshop)
