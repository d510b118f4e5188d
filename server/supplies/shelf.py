"""What is on which shelf: adding supplies, changing their facts, moving, retiring and bringing them back.

Stock is not touched here but for the first entry of a new supply; see ``services`` for the ledger.
"""

import re
from collections.abc import Sequence

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from server.api.problems import Refused
from server.formats.supplies import SupplyItem
from server.supplies.models import Supply
from server.supplies.services import first_stock
from server.workshops.happened import tell_anything
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "add_supplies",
    "add_supply",
    "arrange",
    "bring_back",
    "change_supply",
    "name_shelf",
    "retire",
    "set_label_supply",
]

_MOST_SLOT = 99


@transaction.atomic
def add_supply(*, by: Member, item: SupplyItem) -> Supply:
    """Put a new supply on its shelf, with what is there of it. Raises Refused (code_taken) when the code is in use."""
    lock_workshop(by.workshop)
    taken = Supply.objects.of(by.workshop).filter(code__iexact=item.code).first()
    if taken is not None:
        where = "among the retired ones" if taken.retired_at else f"on shelf {taken.place}"
        raise Refused(
            f"There is a supply {taken.code} already, {taken.name}, {where}. Choose another code.",
            code="code_taken",
            field="code",
        )
    row = _made(by, item)
    tell_anything(by.workshop)
    return row


@transaction.atomic
def add_supplies(*, by: Member, items: Sequence[SupplyItem]) -> int:
    """Put several on their shelves; codes that are in use stay as they are. Returns how many are new."""
    lock_workshop(by.workshop)
    known = {code.lower() for code in Supply.objects.of(by.workshop).values_list("code", flat=True)}
    new = [item for item in items if item.code.lower() not in known]
    for item in new:
        _made(by, item)
    if new:
        tell_anything(by.workshop)
    return len(new)


def _made(by: Member, item: SupplyItem) -> Supply:
    row = Supply.objects.of(by.workshop).create(
        workshop=by.workshop,
        code=item.code,
        name=item.name,
        kind=item.facts.kind,
        shelf=item.shelf,
        slot=item.slot,
        reorder_at=item.reorder_at,
        facts=item.facts.model_dump(mode="json"),
        estimated=item.estimated,
    )
    if item.on_hand > 0:
        first_stock(row, quantity=item.on_hand, unit_cost=item.unit_cost, by=by.name, note="first stock")
    return row


@transaction.atomic
def change_supply(*, by: Member, supply_id: int, item: SupplyItem) -> Supply:
    """Give a supply other facts, another name or place. Its code and kind stay: recipes and parcels name them.

    What was an estimate and is given otherwise now counts as measured. Raises Refused (404, kind_differs, code_fixed).
    """
    lock_workshop(by.workshop)
    row = _found(by.workshop, supply_id)
    if row.code != item.code:
        raise Refused(
            f"Recipes and parcels name {row.code}: its code stays. Copy it to have it under another one.",
            code="code_fixed",
            field="code",
        )
    if row.kind != item.facts.kind:
        raise Refused(f"{row.code} is a {row.kind}; it cannot become a {item.facts.kind}.", code="kind_differs")
    before, now = row.facts, item.facts.model_dump(mode="json")
    row.estimated = [name for name in item.estimated if name not in now or before.get(name) == now[name]]
    row.name, row.shelf, row.slot, row.reorder_at, row.facts = item.name, item.shelf, item.slot, item.reorder_at, now
    row.save()
    tell_anything(by.workshop)
    return row


@transaction.atomic
def arrange(*, by: Member, supply_id: int, shelf: str, slot: int) -> None:
    """Put a supply on a place; what stands there and behind it moves on by one. Raises Refused (404, shelf_full)."""
    lock_workshop(by.workshop)
    row = _found(by.workshop, supply_id)
    rows = Supply.objects.of(by.workshop).filter(retired_at=None)
    there = [one for one in rows.filter(shelf=shelf).order_by("slot", "code") if one.pk != row.pk]
    if len(there) >= _MOST_SLOT:
        raise Refused(f"Shelf {shelf} has {_MOST_SLOT} places, all taken. Take another shelf.", code="shelf_full")
    there.insert(min(slot - 1, len(there)), row)
    for at, one in enumerate(there, start=1):
        one.shelf, one.slot = shelf, at
    Supply.objects.of(by.workshop).bulk_update(there, ["shelf", "slot"])


@transaction.atomic
def name_shelf(*, by: Member, letter: str, name: str) -> dict[str, str]:
    """Say what stands on a shelf. Returns all names. Raises Refused when there is no such shelf."""
    if not re.fullmatch("[A-Z]", letter):
        raise Refused(f"A shelf is one capital letter; given: {letter[:10]}.", code="not_found", status=404)
    lock_workshop(by.workshop)
    workshop = Workshop.objects.get(pk=by.workshop.pk)
    names = {**workshop.shelf_names, letter: name.strip()}
    workshop.shelf_names = {key: value for key, value in sorted(names.items()) if value}
    workshop.save(update_fields=["shelf_names"])
    return dict(workshop.shelf_names)


@transaction.atomic
def retire(*, by: Member, supply_id: int) -> Supply:
    """Take a supply out of use: no plan chooses it any more. What is on the shelf stays in the ledger."""
    lock_workshop(by.workshop)
    row = _found(by.workshop, supply_id)
    if row.retired_at is None:
        row.retired_at = timezone.now()
        row.save(update_fields=["retired_at"])
        tell_anything(by.workshop)
    return row


@transaction.atomic
def bring_back(*, by: Member, supply_id: int) -> Supply:
    """Take a retired supply into use again, at the end of its shelf."""
    lock_workshop(by.workshop)
    row = _found(by.workshop, supply_id)
    if row.retired_at is not None:
        last = (
            Supply.objects.of(by.workshop).filter(shelf=row.shelf, retired_at=None).aggregate(last=Max("slot"))["last"]
        )
        row.retired_at, row.slot = None, min(_MOST_SLOT, (last or 0) + 1)
        row.save(update_fields=["retired_at", "slot"])
        tell_anything(by.workshop)
    return row


def set_label_supply(workshop: Workshop, code: str) -> None:
    """Say which supply the shipping label is. Call with the workshop locked."""
    Workshop.objects.filter(pk=workshop.pk).update(label_supply=code)
    workshop.label_supply = code
    tell_anything(workshop)


def _found(workshop: Workshop, supply_id: int) -> Supply:
    row = Supply.objects.of(workshop).select_for_update(no_key=True).filter(pk=supply_id).first()
    if row is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    return row
