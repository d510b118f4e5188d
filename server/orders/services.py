"""Holding, cancelling and releasing orders."""

from django.db import transaction

from server.api.problems import Refused
from server.orders.changes import HOLD, open_change
from server.orders.models import Order
from server.workshops.happened import tell_cancelled
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["cancel", "hold", "release"]


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
    if order.joined.exists():
        raise Refused(f"Order {order.number} is packed with others. Part them first, then cancel it.", code="joined")
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
    if order.hold_code == HOLD and open_change(by.workshop, order_id) is not None:
        raise Refused(
            f"Order {order.number} was changed by its channel. Look at the change first: apply it or ignore it.",
            code="change_waits",
        )
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
    if order.state == Order.State.JOINED and order.joined_into is not None:
        raise Refused(
            f"Order {order.number} is packed with order {order.joined_into.number}. Part them first.", code="joined"
        )
    return order
