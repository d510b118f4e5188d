"""Importing orders, holding and releasing them."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from server.api.problems import Refused
from server.formats.orders import FileFault, OrderRow, ReadFile
from server.orders.models import Order, OrderLine
from server.recipes.models import Product
from server.workshops.happened import tell_cancelled
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["GroupedOrder", "Intake", "accept", "group", "hold", "release"]


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupedOrder:
    """The rows of one order, and what taking it in would do."""

    channel: str
    number: str
    rows: tuple[OrderRow, ...]
    known: bool  #: already imported, with the same lines
    fault: FileFault | None  #: already imported, with other lines


@dataclass(frozen=True, slots=True, kw_only=True)
class Intake:
    """What a file comes to for this workshop."""

    orders: tuple[GroupedOrder, ...]  #: whole good orders, in file order
    faults: tuple[FileFault, ...]


def group(workshop: Workshop, read: ReadFile) -> Intake:
    """Group good lines into orders and compare with what is here.

    An order with one faulty line is skipped whole: half an order is a wrong parcel.
    """
    bad_lines = {fault.line for fault in read.faults}
    bad = {(cells.get("channel") or "file", cells.get("order", "")) for line, cells in read.raw if line in bad_lines}
    grouped: dict[tuple[str, str], list[OrderRow]] = {}
    for row in read.rows:
        if (row.channel, row.order) not in bad:
            grouped.setdefault((row.channel, row.order), []).append(row)
    here = _here(workshop, [number for _, number in grouped])
    orders = tuple(_compare(key, rows, here.get(key)) for key, rows in grouped.items())
    return Intake(orders=orders, faults=(*read.faults, *(o.fault for o in orders if o.fault)))


@transaction.atomic
def accept(*, workshop: Workshop, intake: Intake) -> tuple[list[int], int]:
    """Import every valid order that is not here yet. Returns the new ones' ids and how many were known.

    The same file twice adds nothing, also when two people do it at once: the workshop's row is locked.
    """
    lock_workshop(workshop)
    here = _here(workshop, [o.number for o in intake.orders])
    due = [o for o in intake.orders if o.fault is None and (o.channel, o.number) not in here]
    known = sum(1 for o in intake.orders if o.fault is None) - len(due)
    products = {p.sku: p for p in Product.objects.of(workshop).filter(sku__in={r.sku for o in due for r in o.rows})}
    rows = Order.objects.of(workshop).bulk_create([_order(workshop, o.rows) for o in due])
    OrderLine.objects.of(workshop).bulk_create(
        [
            OrderLine(
                workshop=workshop,
                order=row,
                position=at,
                sku=line.sku,
                product=products.get(line.sku),
                title=line.title or (products[line.sku].name if line.sku in products else ""),
                quantity=line.quantity,
                unit_price=line.unit_price,
            )
            for row, grouped in zip(rows, due, strict=True)
            for at, line in enumerate(grouped.rows, start=1)
        ]
    )
    return [row.pk for row in rows], known


@transaction.atomic
def hold(*, by: Member, order_id: int, reason: str) -> Order:
    """Set an open order aside with a reason. Raises Refused when it is at the bench, packed or cancelled."""
    order = _open(by.workshop, order_id)
    if order.state == Order.State.CANCELLED:
        raise Refused(f"Order {order.number} is cancelled: {order.hold_text}", code="cancelled")
    order.hold_code, order.hold_text, order.state = "by_hand", reason, Order.State.HELD
    order.save(update_fields=["hold_code", "hold_text", "state"])
    return order


@transaction.atomic
def cancel(*, by: Member, order_id: int, reason: str) -> Order:
    """The buyer does not want it any more: its plan and what that promised are given up. Release makes it open again.

    Raises Refused (404, not_open): what is at the bench is taken off first, what is packed is reopened first.
    """
    order = _open(by.workshop, order_id)
    if order.state == Order.State.CANCELLED:
        return order
    order.state, order.hold_code, order.hold_text = Order.State.CANCELLED, "cancelled", reason[:300]
    order.save(update_fields=["hold_code", "hold_text", "state"])
    tell_cancelled(by.workshop, order.pk)
    return order


@transaction.atomic
def release(*, by: Member, order_id: int) -> Order:
    """Lift a hold, or open a cancelled order again; whether it can be packed is then up to its plan."""
    order = _open(by.workshop, order_id)
    if not order.hold_code:
        raise Refused("Nobody holds this order. If it is held, its plan lacks something: see Plan.", code="not_held")
    order.hold_code, order.hold_text, order.state = "", "", Order.State.NEW
    order.save(update_fields=["hold_code", "hold_text", "state"])
    return order


def _open(workshop: Workshop, order_id: int) -> Order:
    lock_workshop(workshop)
    order = Order.objects.of(workshop).select_for_update().filter(pk=order_id).first()
    if order is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    if order.state in (Order.State.BENCH, Order.State.PACKED):
        raise Refused(
            f"Order {order.number} is {'at the bench' if order.state == 'bench' else 'packed'} already.",
            code="not_open",
        )
    return order


def _here(workshop: Workshop, numbers: Sequence[str]) -> dict[tuple[str, str], list[tuple[str, int]]]:
    found: dict[tuple[str, str], list[tuple[str, int]]] = {}
    rows = OrderLine.objects.of(workshop).filter(order__number__in=numbers)
    for channel, number, sku, quantity in rows.values_list("order__channel", "order__number", "sku", "quantity"):
        found.setdefault((channel, number), []).append((sku, quantity))
    return found


def _compare(key: tuple[str, str], rows: list[OrderRow], here: list[tuple[str, int]] | None) -> GroupedOrder:
    fault = None
    if here is not None and sorted(here) != sorted((row.sku, row.quantity) for row in rows):
        held = ", ".join(f"{quantity} x {sku}" for sku, quantity in here)
        fault = FileFault(
            line=rows[0].line,
            column="order",
            value=key[1],
            allowed=f"the lines it came with before ({held}), or another order number",
        )
    return GroupedOrder(
        channel=key[0], number=key[1], rows=tuple(rows), known=here is not None and fault is None, fault=fault
    )


def _order(workshop: Workshop, rows: Sequence[OrderRow]) -> Order:
    lead = rows[0]
    code, text = _hold_at_intake(lead)
    return Order(
        workshop=workshop,
        channel=lead.channel,
        number=lead.order,
        state=Order.State.HELD if code else Order.State.NEW,
        placed_on=lead.placed_on,
        buyer=lead.buyer,
        address=[part for part in (lead.address, lead.town) if part],
        postcode=lead.postcode,
        country=lead.country,
        note=lead.note,
        paid=lead.paid,
        gift=lead.gift,
        postage_charged=lead.postage_charged,
        goods_value=sum((row.unit_price * row.quantity for row in rows), Decimal(0)),
        hold_code=code,
        hold_text=text,
        taken_in_at=timezone.now(),
    )


def _hold_at_intake(row: OrderRow) -> tuple[str, str]:
    """Orders not to pack yet: payment not in, or a note that asks something."""
    if not row.paid:
        return "not_paid", "The payment has not come in. Release it when it has."
    if "?" in row.note:
        return "note", "The buyer's note asks something. Answer it, then release the order."
    return "", ""
