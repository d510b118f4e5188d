"""Orders that their channel sent again otherwise, or cancelled: noted, shown, applied or ignored (orders).

Until a person has looked, the order is held, so that nobody packs what the buyer does not want any more. What is at the
bench or packed is not changed under anybody's hands: it is taken off, or opened again, first.
"""

from collections.abc import Collection, Mapping
from decimal import Decimal
from typing import Any, Literal

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from server.api.problems import Refused
from server.orders.documents import lines_of
from server.orders.models import Order, OrderChange, OrderLine
from server.recipes.models import Product
from server.workshops.happened import tell_cancelled, tell_order
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "HOLD",
    "apply_change",
    "before_change",
    "hold_for_changes",
    "ignore_change",
    "note_change",
    "open_change",
    "waiting_changes",
    "was_cancelled",
]

#: Why an order is held until somebody has looked at its change.
HOLD = "changed"
_HOLD_TEXT = {
    "changed": "Its channel sent it again otherwise. Look at the change, then apply or ignore it.",
    "cancelled": "Its channel says the buyer cancelled it. Look at it, then apply or ignore that.",
}


def note_change(
    *,
    workshop: Workshop,
    order: Order,
    document: dict[str, Any],
    mark: int,
    kind: Literal["changed", "cancelled"] | None,
) -> None:
    """Note what came of an order that is here; None: it came as it is here. With the workshop's lock held."""
    if mark and order.mark and mark < order.mark:
        return
    if mark > order.mark:
        order.mark = mark
        order.save(update_fields=["mark"])
    waiting = OrderChange.objects.of(workshop).filter(order=order, state=OrderChange.State.OPEN).first()
    if kind is None:
        if waiting is not None and document == order.came_as:
            _end(waiting, OrderChange.State.OVER)
            hold_for_changes(order)
        return
    if waiting is not None:
        if waiting.kind == kind and waiting.document == document:
            return
        _end(waiting, OrderChange.State.OVER)
    elif _ignored_before(workshop, order, kind, document):
        return
    OrderChange.objects.of(workshop).create(
        workshop=workshop, order=order, kind=kind, document=document, mark=mark, came_at=timezone.now()
    )
    hold_for_changes(order)


def hold_for_changes(order: Order) -> None:
    """Hold what is packed until somebody has looked at its changes; release it when there is none left.

    What is packed is the order, or the one it is joined to, with all that are joined to that. At the bench and packed
    nothing is held: there the change stops the label and the closing (bench).
    """
    packed = order.joined_into or order
    workshop = packed.workshop
    kinds = list(
        OrderChange.objects.of(workshop)
        .filter(Q(order=packed) | Q(order__joined_into=packed), state=OrderChange.State.OPEN)
        .order_by("id")
        .values_list("kind", flat=True)
    )
    if kinds and packed.state in Order.OPEN and packed.hold_code in ("", HOLD):
        packed.state, packed.hold_code, packed.hold_text = Order.State.HELD, HOLD, _HOLD_TEXT[kinds[0]]
        packed.save(update_fields=["state", "hold_code", "hold_text"])
    elif not kinds and packed.hold_code == HOLD and packed.state in Order.OPEN:
        packed.hold_code, packed.hold_text, packed.state = "", "", Order.State.NEW
        packed.save(update_fields=["hold_code", "hold_text", "state"])
        tell_order(workshop, packed.pk, other_goods=False)


def _ignored_before(workshop: Workshop, order: Order, kind: str, document: Mapping[str, Any]) -> bool:
    """A cancelling that was ignored is not asked about again each time the file comes."""
    last = OrderChange.objects.of(workshop).filter(order=order).order_by("-id").first()
    return (
        last is not None and last.state == OrderChange.State.IGNORED and last.kind == kind and last.document == document
    )


def open_change(workshop: Workshop, order_id: int) -> OrderChange | None:
    """Return a change that nobody has looked at yet, of an order or of one that is packed with it."""
    of = Q(order_id=order_id) | Q(order__joined_into_id=order_id)
    return OrderChange.objects.of(workshop).filter(of, state=OrderChange.State.OPEN).select_related("order").first()


def waiting_changes(workshop: Workshop, order_ids: Collection[int]) -> set[int]:
    """Return which of these orders have a change that nobody has looked at yet."""
    rows = OrderChange.objects.of(workshop).filter(order_id__in=order_ids, state=OrderChange.State.OPEN)
    return set(rows.values_list("order_id", flat=True))


def was_cancelled(order: Order) -> bool:
    """Tell whether its channel cancelled it, when last a person here took that over."""
    return bool((order.came_as or {}).get("cancelled"))


def before_change(order: Order) -> dict[str, Any]:
    """Return the order as it came before, or as it is here when that was not kept."""
    if order.came_as is not None:
        return dict(order.came_as)
    lines = [line for line in order.lines.all() if line.of_order_id is None]
    return {
        "lines": sorted([line.sku, line.quantity, f"{line.unit_price:.2f}", line.title] for line in lines),
        "buyer": order.buyer,
        "address": list(order.address),
        "postcode": order.postcode,
        "country": order.country,
        "note": order.note,
        "paid": order.paid,
        "gift": order.gift,
        "postage_charged": f"{order.postage_charged:.2f}",
    }


@transaction.atomic
def apply_change(*, by: Member, change_id: int) -> Order:
    """Make the order as its channel says. Applied twice it is applied once.

    Raises Refused: not_found, over (another came since), not_open (at the bench or packed), joined.
    """
    change, order = _locked(by.workshop, change_id)
    if change.state == OrderChange.State.APPLIED:
        return order
    _still_open(change, order)
    if order.state in (Order.State.BENCH, Order.State.PACKED):
        raise Refused(_not_now(order), code="not_open", facts={"state": order.state})
    if order.state == Order.State.JOINED or OrderLine.objects.of(by.workshop).filter(
        order=order, of_order__isnull=False
    ):
        raise Refused(
            f"Order {order.number} is packed with another one. Part them first, then apply the change.", code="joined"
        )
    if change.kind == "cancelled":
        order.state, order.hold_code = Order.State.CANCELLED, "cancelled"
        order.hold_text = "Its channel says the buyer cancelled it."
        # Kept, so that the same order sent as an open one again is told from one that was never cancelled there.
        order.came_as = {**change.document, "cancelled": True}
        order.save(update_fields=["state", "hold_code", "hold_text", "came_as"])
        tell_cancelled(by.workshop, order.pk)
    else:
        _change(by.workshop, order, change.document)
    _end(change, OrderChange.State.APPLIED, by.name)
    return order


@transaction.atomic
def ignore_change(*, by: Member, change_id: int) -> Order:
    """Keep the order as it is here; the same change is not asked about again. Raises Refused: not_found, over."""
    change, order = _locked(by.workshop, change_id)
    if change.state == OrderChange.State.IGNORED:
        return order
    _still_open(change, order)
    if change.kind == "changed":
        order.came_as = change.document
        order.save(update_fields=["came_as"])
    _end(change, OrderChange.State.IGNORED, by.name)
    hold_for_changes(order)
    return order


def _not_now(order: Order) -> str:
    if order.state == Order.State.BENCH:
        return (
            f"Order {order.number} is at the bench. Take it off there first (H): its label is cancelled and what was "
            "laid out goes back; then apply the change."
        )
    return f"Order {order.number} is packed already. Open its parcel again first, or tell the buyer it is on its way."


def _locked(workshop: Workshop, change_id: int) -> tuple[OrderChange, Order]:
    lock_workshop(workshop)
    change = OrderChange.objects.of(workshop).filter(pk=change_id).first()
    if change is None:
        raise Refused("There is no such change in your workshop.", code="not_found", status=404)
    return change, Order.objects.of(workshop).select_for_update().get(pk=change.order_id)


def _still_open(change: OrderChange, order: Order) -> None:
    if change.state != OrderChange.State.OPEN:
        raise Refused(
            f"This change of order {order.number} is {change.state} already. Look at its changes again.", code="over"
        )


def _change(workshop: Workshop, order: Order, document: Mapping[str, Any]) -> None:
    lines = lines_of(document)
    before = sorted(OrderLine.objects.of(workshop).filter(order=order).values_list("sku", "quantity"))
    products = {one.sku: one for one in Product.objects.of(workshop).filter(sku__in=[sku for sku, *_ in lines])}
    order.buyer, order.address = document["buyer"], document["address"]
    order.postcode, order.country = document["postcode"], document["country"]
    order.note, order.gift, order.paid = document["note"], document["gift"], document["paid"]
    order.postage_charged = Decimal(document["postage_charged"])
    order.goods_value = sum((price * quantity for _, quantity, price, _ in lines), Decimal(0))
    open_again = was_cancelled(order)
    order.came_as = dict(document)
    order.revision += 1
    if order.hold_code in (HOLD, "not_paid") or (order.state == Order.State.CANCELLED and open_again):
        order.hold_code, order.hold_text = "", ""
    if not order.paid and not order.hold_code:
        order.hold_code, order.hold_text = "not_paid", "The payment has not come in. Release it when it has."
    if order.hold_code != "cancelled":  # by a person here, whatever the channel changed since
        order.state = Order.State.HELD if order.hold_code else Order.State.NEW
    order.save()
    OrderLine.objects.of(workshop).filter(order=order).delete()
    OrderLine.objects.of(workshop).bulk_create(
        [
            OrderLine(
                workshop=workshop,
                order=order,
                position=at,
                sku=sku,
                product=products.get(sku),
                title=title or (products[sku].name if sku in products else ""),
                quantity=quantity,
                unit_price=price,
            )
            for at, (sku, quantity, price, title) in enumerate(lines, start=1)
        ]
    )
    other = before != sorted((sku, quantity) for sku, quantity, *_ in lines)
    tell_order(workshop, order.pk, other_goods=other)


def _end(change: OrderChange, state: OrderChange.State, by: str = "") -> None:
    change.state, change.settled_at, change.settled_by = state, timezone.now(), by
    change.save(update_fields=["state", "settled_at", "settled_by"])
