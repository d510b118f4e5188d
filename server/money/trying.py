"""The worker's run of a what-if: the period's orders planned before and after, telling how far it is (money)."""

import time
from datetime import date, timedelta
from decimal import Decimal

from django.utils import timezone

from core.money.changes import World, applied
from core.money.tipping import Period, tipping
from core.money.what_if import PeriodOrder, compared
from server.buying.reading import settings_of as buying_settings
from server.money.changes import ASKED, core_changes
from server.money.models import WhatIf
from server.money.side_by_side import tried_side_by_side
from server.money.what_if_screens import result_of
from server.money.zoning import zoning_of
from server.orders.models import Order
from server.plans.facts import Loaded, load, place_of, ship_day, ship_days
from server.workshops.models import Workshop

__all__ = ["MOST_ORDERS", "orders_of_period", "run"]

#: The newest orders of the period, at most.
MOST_ORDERS = 3_000
#: A run tells how far it is every so often.
_TELL_SECONDS = 0.5
_PLENTY = Decimal(1_000_000)


def run(workshop: Workshop, what_if_id: int) -> bool:
    """Try a change. Returns whether it was done; not when it was cancelled. For the worker."""
    rows = WhatIf.objects.of(workshop).filter(pk=what_if_id)
    alive = rows.filter(state__in=WhatIf.UNDER_WAY)
    if not alive.update(state=WhatIf.State.RUNNING, done=0, told_at=timezone.now()):
        return False
    begun = time.perf_counter()
    kept = rows.get().asked
    asked = ASKED.validate_python({"changes": kept["changes"], "weeks": kept["weeks"]})
    rows_by_key, orders, world = orders_of_period(workshop, asked.weeks, date.fromisoformat(kept["until"]))
    rows.update(of=len(orders))
    changes = core_changes(asked, workshop, world.facts)
    worlds = applied(world, changes)
    told = begun

    def still(done: int) -> bool:
        nonlocal told
        if time.perf_counter() - told < _TELL_SECONDS and done < len(orders):
            return True
        told = time.perf_counter()
        return bool(alive.update(done=done, told_at=timezone.now()))

    tried = tried_side_by_side(orders, *worlds, changes, still)
    if tried is None:
        return False
    found = compared(tried)
    keeping = Decimal(buying_settings(workshop).keeping_a_kind) / 12
    period = Period(weeks=asked.weeks, keeping_a_month=keeping, digits=workshop.money_digits)
    tip = tipping(found, worlds, changes, period, lambda: still(len(tried)))
    seconds = time.perf_counter() - begun
    result = result_of(found, rows_by_key, tip, by_day=worlds[1].by_weekday, seconds=seconds)
    return bool(alive.update(state=WhatIf.State.DONE, result=result.model_dump(mode="json"), ended_at=timezone.now()))


def orders_of_period(workshop: Workshop, weeks: int, until: date) -> tuple[dict[str, Order], list[PeriodOrder], World]:
    """Return the orders placed in the weeks, and the world as it is now, with plenty of everything on the shelf."""
    placed = Order.objects.of(workshop).filter(placed_on__gt=until - timedelta(weeks=weeks), placed_on__lte=until)
    rows = placed.filter(joined_into=None).exclude(state=Order.State.CANCELLED)
    found = list(rows.order_by("-placed_on", "-id")[:MOST_ORDERS])
    loaded = load(workshop, found)
    loaded.picked.clear()  # a trial picks versions for orders to come
    zoning = zoning_of(workshop)
    orders = [known for order in found if (known := _order(order, loaded, zoning.zone_of_order(order))) is not None]
    facts = loaded.with_free(dict.fromkeys(loaded.facts.free, _PLENTY))
    world = World(facts=facts, ship_on=ship_day(workshop), send_days=ship_days(workshop))
    return {str(order.pk): order for order in found}, orders, world


def _order(order: Order, loaded: Loaded, zone: str) -> PeriodOrder | None:
    """Return an order as it is tried; None where nobody could plan it: a product or recipe is missing."""
    lines = loaded.lines_of(order)
    if not lines or any(line.product is None or line.recipe is None for line in lines):
        return None
    return PeriodOrder(
        key=str(order.pk),
        lines=lines,
        destination=place_of(order),
        occasion=loaded.occasion_of(order),
        placed_on=order.placed_on,
        charged=order.postage_charged,
        value=order.goods_value,
        zone=zone,
        units=sum(line.quantity for line in lines),
    )
