"""Supplies made out of others, and what is spoiled: paired entries in one transaction (rules 13.5)."""

from collections.abc import Mapping
from decimal import Decimal
from uuid import UUID

from django.db import transaction

from core.supplies.conversion import Input
from core.supplies.conversion import convert as worked_out
from server.api.problems import Refused
from server.supplies.models import Balance, Entry, Supply
from server.supplies.services import answered, locked_supply, post_conversion, post_loss, whole_pieces
from server.workshops.happened import tell_stock
from server.workshops.models import Member, lock_workshop

__all__ = ["convert", "spoil"]


@transaction.atomic
def convert(
    *,
    by: Member,
    inputs: Mapping[int, Decimal],
    output_id: int,
    made: Decimal,
    waste_percent: Decimal,
    note: str,
    request_key: UUID,
) -> Entry:
    """Turn supplies into another one: they go out at what they cost, it comes in with all of that.

    Returns the entry that came in; asked again with the same key, the same.
    Raises Refused (404, not_valid, too_little).
    """
    lock_workshop(by.workshop)
    if done := answered(by.workshop, request_key):
        return done
    ids = {*inputs, output_id}
    rows = Supply.objects.of(by.workshop).filter(pk__in=ids).order_by("code").select_for_update(no_key=True)
    known = {row.pk: row for row in rows}
    if len(known) != len(ids):
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    if not inputs or output_id in inputs:
        raise Refused(
            "Name at least one supply it is made from, different from the one it becomes.",
            code="not_valid",
            status=422,
            field="inputs",
        )
    balances = {row.supply_id: row for row in Balance.objects.of(by.workshop).filter(supply_id__in=ids)}
    for pk, quantity in inputs.items():
        held = balances[pk].on_hand if pk in balances else Decimal(0)
        whole_pieces(known[pk], quantity)
        if quantity > held:
            raise Refused(
                f"{known[pk].name}: {held.normalize():f} on hand, {quantity.normalize():f} asked for. Count the shelf, "
                "or take less.",
                code="too_little",
                field="inputs",
            )
    output = known[output_id]
    try:
        found = worked_out(
            [
                Input(code=known[pk].code, quantity=q, average_cost=balances[pk].average_cost)
                for pk, q in inputs.items()
            ],
            made=made,
            waste_percent=waste_percent,
            whole=output.unit == "pieces",
        )
    except ValueError:
        raise Refused(
            f"Nothing is left of {made.normalize():f} with {waste_percent.normalize():f} % waste.",
            code="not_valid",
            status=422,
            field="waste_percent",
        ) from None
    words = ", ".join(f"{q.normalize():f} {known[pk].code}" for pk, q in inputs.items())
    entry = post_conversion(
        by=by,
        taken={known[pk]: q for pk, q in inputs.items()},
        output=output,
        quantity=found.quantity,
        unit_cost=found.unit_cost,
        note=f"made of {words}. {note}".strip(),
        request_key=request_key,
    )
    tell_stock(by.workshop, list(ids))
    return entry


@transaction.atomic
def spoil(*, by: Member, supply_id: int, quantity: Decimal, note: str, request_key: UUID) -> Entry:
    """Take out what is spoiled, torn or lost. Asked again with the same key, returns the same entry.

    Raises Refused (404, not_valid, too_little).
    """
    lock_workshop(by.workshop)
    if done := answered(by.workshop, request_key):
        return done
    supply = locked_supply(by.workshop, supply_id)
    whole_pieces(supply, quantity)
    balance = Balance.objects.of(by.workshop).filter(supply=supply).first()
    held = balance.on_hand if balance is not None else Decimal(0)
    if quantity > held:
        raise Refused(
            f"{supply.name}: {held.normalize():f} on hand, {quantity.normalize():f} spoiled. Count the shelf first.",
            code="too_little",
            field="quantity",
        )
    entry = post_loss(by=by, supply=supply, quantity=quantity, note=note, request_key=request_key)
    tell_stock(by.workshop, [supply_id])
    return entry
