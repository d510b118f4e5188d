"""Orders typed in by a person: a counter sale, a letter, a call; and changing any order while it is open."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from server.api.problems import Refused
from server.orders.models import Order, OrderLine
from server.recipes.models import Product
from server.workshops.clock import today
from server.workshops.happened import tell_order
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["CHANNEL", "Buyer", "TypedLine", "TypedOrder", "add_order", "buyers", "change_order", "sketched"]

#: The channel of what is typed in.
CHANNEL = "counter"
_MOST_BUYERS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class TypedLine:
    """So many of one product."""

    sku: str
    quantity: int
    unit_price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class TypedOrder:
    """An order as it was typed."""

    number: str  #: empty: the next of its own
    placed_on: date | None  #: None: today
    buyer: str
    address: tuple[str, ...]
    postcode: str
    country: str
    note: str
    paid: bool
    gift: bool
    postage_charged: Decimal
    lines: tuple[TypedLine, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Buyer:
    """Somebody who ordered before."""

    buyer: str
    address: tuple[str, ...]
    postcode: str
    country: str
    orders: int


@transaction.atomic
def add_order(*, by: Member, typed: TypedOrder, request_key: UUID) -> Order:
    """Take in an order; sent again with the same key, the one made then. Raises Refused (422, number_taken)."""
    lock_workshop(by.workshop)
    done = Order.objects.of(by.workshop).filter(request_key=request_key).first()
    if done is not None:
        return done
    if typed.number:
        if Order.objects.of(by.workshop).filter(channel=CHANNEL, number=typed.number).exists():
            raise Refused(
                f"There is an order {typed.number} typed in already. Give another number, or none.",
                code="number_taken",
                field="number",
            )
        number = typed.number
    else:
        number = _next_number(by.workshop)
    order, lines = sketched(by.workshop, typed, Order(number=number, channel=CHANNEL, request_key=request_key))
    order.save()
    _write_lines(order, lines)
    return order


@transaction.atomic
def change_order(*, by: Member, order_id: int, typed: TypedOrder, revision: int) -> Order:
    """Change an open order: its plan is made again, what it promised is freed, its decisions too.

    ``revision`` is the one the person saw. Raises Refused: not_found, not_open, cancelled, changed_meanwhile.
    """
    lock_workshop(by.workshop)
    order = Order.objects.of(by.workshop).select_for_update().filter(pk=order_id).first()
    if order is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    if order.state == Order.State.BENCH:
        raise Refused(
            f"Order {order.number} is at the bench. Take it off there first (H): its label is cancelled and what was "
            "laid out goes back; then change it.",
            code="not_open",
        )
    if order.state in (Order.State.PACKED, Order.State.CANCELLED):
        raise Refused(
            f"Order {order.number} is {order.state} already. Open it again first.",
            code="not_open",
        )
    if order.state == Order.State.JOINED or order.joined.exists():
        raise Refused(
            f"Order {order.number} is packed with another one. Part them first, then change it.", code="joined"
        )
    if order.revision != revision:
        raise Refused(
            f"Somebody changed order {order.number} meanwhile. Look at it as it is now, then change it again.",
            code="changed_meanwhile",
        )
    before = list(OrderLine.objects.of(by.workshop).filter(order=order).values_list("sku", "quantity"))
    order, lines = sketched(by.workshop, typed, order)
    order.revision += 1
    order.save()
    OrderLine.objects.of(by.workshop).filter(order=order).delete()
    _write_lines(order, lines)
    tell_order(by.workshop, order.pk, other_goods=sorted(before) != sorted((line.sku, line.quantity) for line in lines))
    return order


def sketched(workshop: Workshop, typed: TypedOrder, order: Order) -> tuple[Order, list[OrderLine]]:
    """Return an order with what was typed and its lines, nothing saved. Raises Refused (unknown_product) by line."""
    skus = [line.sku for line in typed.lines]
    products = {product.sku: product for product in Product.objects.of(workshop).filter(sku__in=skus)}
    for at, line in enumerate(typed.lines):
        if line.sku not in products:
            raise Refused(
                f"There is no product {line.sku}. Choose one of your products, or add it first.",
                code="unknown_product",
                status=422,
                field=f"lines.{at}.sku",
            )
    order.workshop = workshop
    order.placed_on = typed.placed_on or order.placed_on or today(workshop)
    order.buyer, order.address = typed.buyer, list(typed.address)
    order.postcode, order.country = " ".join(typed.postcode.upper().split()), typed.country
    order.note, order.paid, order.gift = typed.note, typed.paid, typed.gift
    order.postage_charged = typed.postage_charged
    order.goods_value = sum((line.unit_price * line.quantity for line in typed.lines), Decimal(0))
    order.taken_in_at = order.taken_in_at or timezone.now()
    if not typed.paid and not order.hold_code:
        order.hold_code, order.hold_text = "not_paid", "The payment has not come in. Release it when it has."
    elif typed.paid and order.hold_code == "not_paid":
        order.hold_code, order.hold_text = "", ""
    order.state = Order.State.HELD if order.hold_code else Order.State.NEW
    lines = [
        OrderLine(
            workshop=workshop,
            order=order,
            position=at,
            sku=line.sku,
            product=products[line.sku],
            title=products[line.sku].name,
            quantity=line.quantity,
            unit_price=line.unit_price,
        )
        for at, line in enumerate(typed.lines, start=1)
    ]
    return order, lines


def buyers(workshop: Workshop, find: str) -> list[Buyer]:
    """Return who ordered before, by part of the name, the last ones first: each place once."""
    rows = Order.objects.of(workshop).filter(buyer__icontains=find).order_by("-placed_on", "-id")[:200]
    found: dict[tuple[str, str, str], list[Order]] = {}
    for row in rows:
        found.setdefault((row.buyer, row.postcode, row.country), []).append(row)
    return [
        Buyer(
            buyer=mine[0].buyer,
            address=tuple(mine[0].address),
            postcode=mine[0].postcode,
            country=mine[0].country,
            orders=len(mine),
        )
        for mine in list(found.values())[:_MOST_BUYERS]
    ]


def _write_lines(order: Order, lines: Sequence[OrderLine]) -> None:
    for line in lines:
        line.order = order
    OrderLine.objects.of(order.workshop).bulk_create(lines)


def _next_number(workshop: Workshop) -> str:
    taken = Order.objects.of(workshop).filter(channel=CHANNEL, number__regex=r"^H-[0-9]{1,9}$")
    last = max((int(number[2:]) for number in taken.values_list("number", flat=True)), default=0)
    return f"H-{last + 1}"
