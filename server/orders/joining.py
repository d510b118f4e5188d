"""Two or more open orders of one buyer to one place, packed as one parcel (orders; step 6 of the work).

The lines of the others are added to the first order's, each still knowing the order it came with; the others wait
beside it as ``joined``. Parted again, each has its own lines back. Nothing is done unasked.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from django.db import transaction
from django.db.models import Count

from server.api.problems import Refused
from server.orders.changes import hold_for_changes
from server.orders.models import Order, OrderLine
from server.workshops.happened import tell_cancelled, tell_order
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["JoinOffer", "join", "join_offers", "joined_lines", "part"]

_MOST_OFFERS = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class JoinOffer:
    """Orders that could leave as one parcel, the oldest first."""

    orders: tuple[Order, ...]


def _place(order: Order) -> tuple[str, ...]:
    """Two addresses are the same place when they differ in case and spaces only."""
    lines = (order.buyer, *order.address, order.postcode, order.country)
    return tuple(" ".join(str(line).lower().split()) for line in lines)


def join_offers(workshop: Workshop) -> list[JoinOffer]:
    """Return open orders of one buyer to one place, at most fifty offers. Held ones are left out: they wait for a
    reason.
    """
    free = Order.objects.of(workshop).filter(state__in=Order.OPEN, hold_code="")
    several = (
        free.order_by()
        .values("buyer", "postcode", "country")
        .annotate(n=Count("id"))
        .filter(n__gt=1)[: _MOST_OFFERS * 2]
    )
    keys = {(one["buyer"], one["postcode"], one["country"]) for one in several}
    rows = free.filter(buyer__in={key[0] for key in keys}, postcode__in={key[1] for key in keys}).order_by(
        "placed_on", "id"
    )
    found: dict[tuple[str, ...], list[Order]] = {}
    for row in rows.prefetch_related("lines"):
        if (row.buyer, row.postcode, row.country) in keys:
            found.setdefault(_place(row), []).append(row)
    return [JoinOffer(orders=tuple(mine)) for mine in found.values() if len(mine) > 1][:_MOST_OFFERS]


def joined_lines(orders: Sequence[Order]) -> list[OrderLine]:
    """Return the lines of the first order with those of the others added, not saved."""
    lead = orders[0]
    own = list(lead.lines.all())
    added = [
        OrderLine(
            workshop_id=lead.workshop_id,
            order=lead,
            sku=line.sku,
            product_id=line.product_id,
            title=line.title,
            quantity=line.quantity,
            unit_price=line.unit_price,
            of_order=order,
        )
        for order in orders[1:]
        for line in order.lines.all()
    ]
    for at, line in enumerate(added, start=max((one.position for one in own), default=0) + 1):
        line.position = at
    return [*own, *added]


@transaction.atomic
def join(*, by: Member, order_ids: Sequence[int]) -> Order:
    """Pack these orders as one parcel, the oldest leading. Asked again, it is done once.

    Raises Refused: not_found, not_open (one is not free), other_place.
    """
    lock_workshop(by.workshop)
    rows = list(
        Order.objects.of(by.workshop)
        .select_for_update()
        .filter(pk__in=order_ids)
        .order_by("placed_on", "id")
        .prefetch_related("lines")
    )
    if len(rows) < len(set(order_ids)) or len(rows) < 2:
        raise Refused("Name two or more orders of your workshop.", code="not_found", status=404)
    lead, others = rows[0], rows[1:]
    if all(row.joined_into_id == lead.pk for row in others):
        return lead
    for row in rows:
        if row.state not in Order.OPEN or row.hold_code or row.joined.exists():
            raise Refused(
                f"Order {row.number} cannot be joined: it is {_why(row)}. Join orders that wait to be packed.",
                code="not_open",
            )
        if _place(row) != _place(lead):
            raise Refused(
                f"Orders {lead.number} and {row.number} go to different places. Join orders of one buyer to one place.",
                code="other_place",
            )
    OrderLine.objects.of(by.workshop).bulk_create([line for line in joined_lines(rows) if line.pk is None])
    for row in others:
        row.state, row.joined_into = Order.State.JOINED, lead
        row.save(update_fields=["state", "joined_into"])
        tell_cancelled(by.workshop, row.pk)  # its own plan and what that promised are given up
    _count(lead, others, Decimal(1))
    tell_order(by.workshop, lead.pk, other_goods=True)
    return lead


@transaction.atomic
def part(*, by: Member, order_id: int) -> list[Order]:
    """Pack joined orders apart again; ``order_id`` is the leading one's. Returns them all.

    Raises Refused: not_found, not_joined, not_open (at the bench or packed).
    """
    lock_workshop(by.workshop)
    lead = Order.objects.of(by.workshop).select_for_update().filter(pk=order_id).first()
    if lead is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    others = list(Order.objects.of(by.workshop).select_for_update().filter(joined_into=lead).order_by("id"))
    if not others:
        raise Refused(f"Order {lead.number} is packed alone already.", code="not_joined")
    if lead.state not in Order.OPEN:
        raise Refused(
            f"Order {lead.number} is {_why(lead)}. Take it off the bench or open it again first.", code="not_open"
        )
    OrderLine.objects.of(by.workshop).filter(order=lead, of_order__isnull=False).delete()
    for row in others:
        row.state, row.joined_into = Order.State.NEW, None
        row.save(update_fields=["state", "joined_into"])
    _count(lead, others, Decimal(-1))
    for row in (lead, *others):
        tell_order(by.workshop, row.pk, other_goods=True)
        hold_for_changes(row)
    return [lead, *others]


def _count(lead: Order, others: Sequence[Order], sign: Decimal) -> None:
    """What the goods are worth decides on cover and signature: the whole parcel's counts."""
    lead.goods_value += sign * sum((row.goods_value for row in others), Decimal(0))
    lead.revision += 1
    lead.save(update_fields=["goods_value", "revision"])


def _why(order: Order) -> str:
    return {
        Order.State.BENCH: "at the bench",
        Order.State.PACKED: "packed",
        Order.State.CANCELLED: "cancelled",
        Order.State.JOINED: "joined to another already",
    }.get(Order.State(order.state), "held" if order.hold_code else "the parcel of several already")
