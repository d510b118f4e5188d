"""An order as the screens read it."""

from datetime import date
from decimal import Decimal
from typing import Any

from pydantic import BaseModel, TypeAdapter

from core.messages import Message, Text, say
from server.orders.models import Order, OrderLine
from server.workshops.models import Workshop

__all__ = ["LineOut", "OrderOut", "order_out", "orders_out"]


class LineOut(BaseModel):
    """One line."""

    sku: str
    title: str
    quantity: int
    unit_price: Decimal
    known: bool  #: there is a product of that sku
    of_order: str  #: number of the joined order it came with; empty: this one


class OrderOut(BaseModel):
    """An order with its lines, where it stands and why it is held."""

    id: int
    number: str
    channel: str
    state: str
    placed_on: date
    buyer: str
    address: list[str]
    postcode: str
    country: str
    note: str
    paid: bool
    gift: bool
    postage_charged: Decimal
    goods_value: Decimal
    held_by: str  #: "": nobody; a code when a person or the intake holds it
    reason: Text  #: why it is held: the hold first, then what the plan lacks
    container: str
    total: Decimal | None
    parcel_id: int | None  #: the first that is not closed, else the first
    tracking: str
    revision: int  #: counts its changes
    joined_into: str  #: number of the order it is packed with; empty: none
    joined: list[str]  #: numbers of the orders that are packed with it
    lines: list[LineOut]


def orders_out(workshop: Workshop, rows: list[Any]) -> list[OrderOut]:
    """Return orders for the screens; rows need ``plan`` and ``joined_into`` selected, and
    ``parcels``, ``joined`` and ``joined_into__parcels`` prefetched."""
    lines: dict[int, list[LineOut]] = {}
    for line in OrderLine.objects.of(workshop).filter(order__in=rows).select_related("of_order"):
        lines.setdefault(line.order_id, []).append(
            LineOut(
                of_order=line.of_order.number if line.of_order else "",
                sku=line.sku,
                title=line.title or line.sku,
                quantity=line.quantity,
                unit_price=line.unit_price,
                known=line.product_id is not None,
            )
        )
    return [_out(row, lines.get(row.pk, [])) for row in rows]


def order_out(workshop: Workshop, order: Order) -> OrderOut:
    """Return one order for the screens."""
    rows = Order.objects.of(workshop).select_related("plan", "joined_into")
    row = rows.prefetch_related("parcels", "joined", "joined_into__parcels").get(pk=order.pk)
    return orders_out(workshop, [row])[0]


def _message(document: Any) -> Message:
    return _MESSAGE.validate_python(document)


_MESSAGE: TypeAdapter[Message] = TypeAdapter(Message)


def _out(row: Order, lines: list[LineOut]) -> OrderOut:
    plan = getattr(row, "plan", None)
    parcels = sorted((p for p in (row.joined_into or row).parcels.all() if p.state != "undone"), key=lambda p: p.part)
    parcel = next((p for p in parcels if p.state == "packing"), parcels[0] if parcels else None)
    reasons: list[Any] = [row.hold_text] if row.hold_code else []
    held_by = row.hold_code
    if plan is not None and row.state == Order.State.HELD:
        # Messages as they are written down: the answer's edge puts them in words.
        reasons += [message if isinstance(message, str) else _message(message) for message in plan.missing]
        if plan.care_state == "danger" and not row.hold_code:
            held_by = "weather"
        elif plan.status == "planned" and not row.hold_code:
            held_by = "until_day"
            reasons.append(say("held_until", leaves_on=plan.ship_on))
    return OrderOut(
        id=row.pk,
        number=row.number,
        channel=row.channel,
        state=row.state,
        placed_on=row.placed_on,
        buyer=row.buyer,
        address=row.address,
        postcode=row.postcode,
        country=row.country,
        note=row.note,
        paid=row.paid,
        gift=row.gift,
        postage_charged=row.postage_charged,
        goods_value=row.goods_value,
        held_by=held_by,
        reason=say("after_each_other", texts=tuple(reasons)),
        container=plan.container if plan else "",
        total=plan.total if plan else None,
        parcel_id=parcel.pk if parcel else None,
        tracking=", ".join(p.tracking for p in parcels if p.tracking),
        revision=row.revision,
        joined_into=row.joined_into.number if row.joined_into else "",
        joined=[one.number for one in row.joined.all()],
        lines=lines,
    )
