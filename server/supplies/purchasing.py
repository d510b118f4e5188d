"""Suppliers and their offers, orders to them, and receiving what they bring: at once, in parts, more, at another price.

Every write is under the workshop's lock and takes a key: sent twice, it is done once.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from server.api.problems import Fault, Refused
from server.supplies.models import Entry, Offer, Purchase, PurchaseLine, Supplier, Supply
from server.supplies.services import parts_of_a_piece, receive_line
from server.workshops.clock import today
from server.workshops.happened import tell_stock
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "Received",
    "Wanted",
    "cancel_purchase",
    "drop_offer",
    "expect_on",
    "order_from",
    "receive_purchase",
    "retire_supplier",
    "save_offer",
    "save_supplier",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """One line to order."""

    supply_id: int
    quantity: Decimal
    price: Decimal  #: of one stock unit


@dataclass(frozen=True, slots=True, kw_only=True)
class Received:
    """What came of one line."""

    line_id: int
    quantity: Decimal
    price: Decimal | None = None  #: of one stock unit; None: as ordered
    last: bool = False  #: nothing more of it is expected
    good_until: date | None = None  #: of stock that expires


@transaction.atomic
def save_supplier(*, by: Member, supplier_id: int | None, values: dict[str, Any]) -> Supplier:
    """Write a supplier down, a new one or another way. Raises Refused (404, name_taken)."""
    lock_workshop(by.workshop)
    rows = Supplier.objects.of(by.workshop)
    taken = rows.filter(name__iexact=values["name"]).exclude(pk=supplier_id or 0).first()
    if taken is not None:
        raise Refused(
            f"There is a supplier {taken.name} already. Change that one, or take another name.",
            code="name_taken",
            field="name",
        )
    if supplier_id is None:
        return rows.create(workshop=by.workshop, **values)
    row = _supplier(by.workshop, supplier_id)
    for name, value in values.items():
        setattr(row, name, value)
    row.save()
    return row


@transaction.atomic
def retire_supplier(*, by: Member, supplier_id: int) -> Supplier:
    """Buy nothing there any more; what was ordered still comes. Raises Refused (404)."""
    lock_workshop(by.workshop)
    row = _supplier(by.workshop, supplier_id)
    if row.retired_at is None:
        row.retired_at = timezone.now()
        row.save(update_fields=["retired_at"])
    return row


@transaction.atomic
def save_offer(*, by: Member, supplier_id: int, supply_id: int, values: dict[str, Any]) -> Offer:
    """Write down what a supplier asks for a supply, in place of what it asked. Raises Refused (404)."""
    lock_workshop(by.workshop)
    supplier, supply = _supplier(by.workshop, supplier_id), _supply(by.workshop, supply_id)
    row, _ = Offer.objects.of(by.workshop).update_or_create(
        supplier=supplier, supply=supply, defaults={"workshop": by.workshop, **values}
    )
    return row


@transaction.atomic
def drop_offer(*, by: Member, supplier_id: int, supply_id: int) -> None:
    """A supplier sells a supply no more. Raises Refused (404) when it did not."""
    lock_workshop(by.workshop)
    gone, _ = Offer.objects.of(by.workshop).filter(supplier_id=supplier_id, supply_id=supply_id).delete()
    if not gone:
        raise Refused("There is no such offer.", code="not_found", status=404)


@transaction.atomic
def order_from(
    *,
    by: Member,
    supplier_id: int,
    lines: Sequence[Wanted],
    delivery: Decimal,
    expected_on: date,
    note: str,
    request_key: UUID,
) -> Purchase:
    """Write down what was ordered of a supplier. Asked again with the same key, returns the same.

    Raises Refused (404, not_valid with every error).
    """
    lock_workshop(by.workshop)
    before = Purchase.objects.of(by.workshop).filter(request_key=request_key).first()
    if before is not None:
        return before
    supplier = _supplier(by.workshop, supplier_id)
    day = today(by.workshop)
    faults = _faults(by.workshop, lines)
    if expected_on < day:
        faults.append(Fault(path="expected_on", message=f"It is {day} today: it cannot be expected before that."))
    if faults:
        raise Refused("This order cannot be so. Nothing was saved.", code="not_valid", status=422, faults=faults)
    last = Purchase.objects.of(by.workshop).aggregate(last=Max("number"))["last"] or 0
    row = Purchase.objects.of(by.workshop).create(
        workshop=by.workshop,
        number=last + 1,
        supplier=supplier,
        ordered_on=day,
        expected_on=expected_on,
        first_expected_on=expected_on,
        delivery=delivery,
        note=note,
        by=by.name,
        at=timezone.now(),
        request_key=request_key,
    )
    PurchaseLine.objects.of(by.workshop).bulk_create(
        PurchaseLine(
            workshop=by.workshop, purchase=row, supply_id=one.supply_id, quantity=one.quantity, price=one.price
        )
        for one in lines
    )
    return row


def _faults(workshop: Workshop, lines: Sequence[Wanted]) -> list[Fault]:
    ids = [one.supply_id for one in lines]
    known = {row.pk: row for row in Supply.objects.of(workshop).filter(pk__in=ids)}
    faults = [] if lines else [Fault(path="lines", message="Choose at least one supply to order.")]
    for at, one in enumerate(lines):
        supply = known.get(one.supply_id)
        if supply is None:
            faults.append(Fault(path=f"lines[{at}].supply_id", message="There is no such supply in your cupboard."))
        elif words := parts_of_a_piece(supply, one.quantity):
            faults.append(Fault(path=f"lines[{at}].quantity", message=words))
        if ids.index(one.supply_id) != at:
            faults.append(Fault(path=f"lines[{at}].supply_id", message="It is in this order twice."))
    return faults


@transaction.atomic
def receive_purchase(*, by: Member, purchase_id: int, lines: Sequence[Received], request_key: UUID) -> Purchase:
    """Receive what came of an order: each line at what it cost, the moving average follows; the order ends with its
    last line. More than was ordered is taken as it came. Asked again with the same key, nothing more happens.

    Raises Refused (404, not_open, not_valid).
    """
    lock_workshop(by.workshop)
    row = _purchase(by.workshop, purchase_id)
    came = [one for one in lines if one.quantity > 0]
    keys = [_key(request_key, at) for at in range(max(1, len(came)))]
    if Entry.objects.of(by.workshop).filter(request_key__in=keys).exists():
        return row
    if row.state == Purchase.State.RECEIVED and not came and lines:
        return row  # that nothing more comes is known
    _refuse_ended(row)
    known = {
        line.pk: line
        for line in PurchaseLine.objects.of(by.workshop).filter(purchase=row).select_related("supply").order_by("pk")
    }
    faults = [] if lines else [Fault(path="lines", message="Say what came.")]
    for at, one in enumerate(lines):
        line = known.get(one.line_id)
        if line is None:
            faults.append(Fault(path=f"lines[{at}].line_id", message="That line is not in this order."))
        elif words := parts_of_a_piece(line.supply, one.quantity):
            faults.append(Fault(path=f"lines[{at}].quantity", message=words))
    if len({one.line_id for one in lines}) != len(lines):
        faults.append(Fault(path="lines", message="A line is named twice."))
    if faults:
        raise Refused("This cannot be received so. Nothing was saved.", code="not_valid", status=422, faults=faults)
    # In code order, as every write of the ledger locks its supplies.
    for one, key in zip(sorted(came, key=lambda each: known[each.line_id].supply.code), keys, strict=False):
        line = known[one.line_id]
        receive_line(
            by=by,
            line=line,
            quantity=one.quantity,
            unit_cost=line.price if one.price is None else one.price,
            note=f"order P-{row.number}, {row.supplier.name}",
            request_key=key,
            good_until=one.good_until,
        )
    for one in lines:
        line = known[one.line_id]
        line.received += one.quantity
        line.closed = one.last or line.received >= line.quantity
        line.save(update_fields=["received", "closed"])
    if all(line.closed for line in known.values()):
        row.state = Purchase.State.RECEIVED
        row.save(update_fields=["state"])
    if came:
        tell_stock(by.workshop, [known[one.line_id].supply_id for one in came])
    return row


def _key(request_key: UUID, at: int) -> UUID:
    """Return the key of one line's entry: the entries of a ledger each have their own."""
    return UUID(int=(request_key.int + at) % (1 << 128))


@transaction.atomic
def expect_on(*, by: Member, purchase_id: int, day: date) -> Purchase:
    """It comes on another day. Raises Refused (404, not_open, not_valid)."""
    lock_workshop(by.workshop)
    row = _purchase(by.workshop, purchase_id)
    _refuse_ended(row)
    if day < row.ordered_on:
        raise Refused(
            f"It was ordered on {row.ordered_on}: it cannot come before that.",
            code="not_valid",
            status=422,
            field="expected_on",
        )
    row.expected_on = day
    row.save(update_fields=["expected_on"])
    return row


@transaction.atomic
def cancel_purchase(*, by: Member, purchase_id: int) -> Purchase:
    """Nothing more of it comes; what was received stays. Raises Refused (404, not_open)."""
    lock_workshop(by.workshop)
    row = _purchase(by.workshop, purchase_id)
    _refuse_ended(row)
    lines = PurchaseLine.objects.of(by.workshop).filter(purchase=row)
    came = lines.filter(received__gt=0).exists()
    lines.update(closed=True)
    row.state = Purchase.State.RECEIVED if came else Purchase.State.CANCELLED
    row.save(update_fields=["state"])
    return row


def _refuse_ended(row: Purchase) -> None:
    if row.state != Purchase.State.ORDERED:
        raise Refused(f"Order P-{row.number} is {row.state} already; nothing more is expected of it.", code="not_open")


def _supplier(workshop: Workshop, supplier_id: int) -> Supplier:
    row = Supplier.objects.of(workshop).filter(pk=supplier_id).first()
    if row is None:
        raise Refused("There is no such supplier.", code="not_found", status=404)
    return row


def _supply(workshop: Workshop, supply_id: int) -> Supply:
    row = Supply.objects.of(workshop).filter(pk=supply_id).first()
    if row is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    return row


def _purchase(workshop: Workshop, purchase_id: int) -> Purchase:
    rows = Purchase.objects.of(workshop).select_for_update(of=("self",)).select_related("supplier")
    row = rows.filter(pk=purchase_id).first()
    if row is None:
        raise Refused("There is no such order to a supplier.", code="not_found", status=404)
    return row
