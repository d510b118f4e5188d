"""Orders that cannot be packed for want of a supply, by supply: who counts on what is on its way (buying)."""

from server.orders.models import Order
from server.plans.models import Plan
from server.supplies.arriving import codes_in
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["waiting_for"]


def waiting_for(workshop: Workshop) -> dict[int, list[str]]:
    """Return the numbers of blocked orders by the supply they lack."""
    ids = dict(Supply.objects.of(workshop).values_list("code", "pk"))
    rows = Plan.objects.of(workshop).filter(status="blocked", order__state__in=Order.OPEN).order_by("order__placed_on")
    found: dict[int, list[str]] = {}
    for number, missing in rows.values_list("order__number", "missing"):
        for code in codes_in(missing, ids):
            found.setdefault(ids[code], []).append(number)
    return found
