"""An order its channel changed or cancelled while it is at the bench: no label, no closing before somebody looked."""

from server.api.problems import Refused
from server.orders.changes import open_change
from server.workshops.models import Workshop

__all__ = ["refuse_changed"]


def refuse_changed(workshop: Workshop, order_id: int) -> None:
    """Raise Refused (change_waits) when a change of the order waits to be looked at."""
    change = open_change(workshop, order_id)
    if change is None:
        return
    what = "was cancelled by its buyer" if change.kind == "cancelled" else "was changed by its channel"
    raise Refused(
        f"Order {change.order.number} {what} while it is packed. Look at it under Orders, Changes: take the parcel off "
        "the bench (H) and apply it, or ignore it and go on.",
        code="change_waits",
        facts={"change": change.pk},
    )
