"""Planning orders one after the other and writing what comes out (plans; used by ``services`` and ``waves``)."""

from collections.abc import Iterable, Sequence

from django.utils import timezone

from core.parcels.plan import Blocked, Overrides, PlannedOrder
from core.parcels.remembered import Remembered
from core.recipes.expand import amounts_of
from server.orders.models import Order
from server.plans.facts import Loaded, leaves_on, load, place_of, ship_day
from server.plans.mapping import overrides_from_json, overrides_to_json, plan_to_json, texts_to_json
from server.plans.models import Plan, PlannedUse
from server.workshops.models import Workshop

__all__ = ["OPEN", "overrides_of", "plan_all", "settle_states"]

#: States of orders a plan may still change for.
OPEN = (Order.State.NEW, Order.State.HELD, Order.State.PLANNED)


def overrides_of(plan: Plan) -> Overrides:
    """Return what a person decided for the plan's order."""
    return overrides_from_json(plan.overrides)


def plan_all(
    workshop: Workshop,
    orders: Sequence[Order],
    *,
    forced: dict[int, Overrides] | None = None,
    remembered: Remembered | None = None,
) -> list[Plan]:
    """Plan these orders one after the other and write their plans, uses and states. With the workshop's lock held.

    ``forced`` is what a person decides now, ``remembered`` what was planned before in the same wave.
    """
    remembered = remembered or Remembered()
    loaded = load(workshop, orders)
    day = ship_day(workshop)
    old = {
        plan.order_id: plan
        for plan in Plan.objects.of(workshop).filter(order__in=orders).prefetch_related("uses__supply")
    }
    supplies = {stock.supply.code: stock.supply.pk for stock in loaded.stocks}
    free = dict(loaded.facts.free)
    for plan in old.values():  # what these orders promised is theirs to promise again
        for use in plan.uses.all():
            free[use.supply.code] += use.quantity
    plans: list[Plan] = []
    uses: list[PlannedUse] = []
    for order in orders:
        before = old.get(order.pk)
        own = overrides_of(before) if before else Overrides()
        force = forced.get(order.pk, own) if forced else own
        result = remembered.plan_order(
            loaded.lines_of(order),
            loaded.with_free(free),
            destination=place_of(order),
            ship_on=leaves_on(day, force, workshop),
            overrides=force,
            occasion=loaded.occasion_of(order),
        )
        needed = amounts_of(result.chosen.uses) if isinstance(result, PlannedOrder) else {}
        for code, quantity in needed.items():
            free[code] -= quantity
        plan = _row(order, before, result, loaded, force)
        plan.ship_on = result.ship_on if isinstance(result, PlannedOrder) else day
        plans.append(plan)
        uses += [
            PlannedUse(workshop=workshop, plan=plan, supply_id=supplies[code], quantity=q) for code, q in needed.items()
        ]
    _save(workshop, plans, uses)
    settle_states(workshop, orders)
    return plans


def _row(order: Order, before: Plan | None, result: PlannedOrder | Blocked, loaded: Loaded, force: Overrides) -> Plan:
    plan = before or Plan(workshop=order.workshop, order=order)
    plan.status = result.status
    plan.document = plan_to_json(result)
    plan.overrides = overrides_to_json(force)
    plan.stale = False
    plan.at = timezone.now()
    if isinstance(result, PlannedOrder):
        plan.missing, plan.total = [], result.chosen.costs.total
        plan.container = ", ".join(result.chosen.containers)[:200]
        used = {piece.recipe for piece in result.pieces}
        plan.recipe_versions = {code: recipe.version for code, recipe in loaded.recipes.items() if code in used}
    else:
        plan.missing = texts_to_json(tuple(missing.message for missing in result.missing))
        plan.container, plan.total, plan.recipe_versions = "", None, {}
    return plan


def _save(workshop: Workshop, plans: list[Plan], uses: list[PlannedUse]) -> None:
    PlannedUse.objects.of(workshop).filter(plan__in=[p for p in plans if p.pk]).delete()
    fields = [
        "status",
        "document",
        "overrides",
        "stale",
        "at",
        "missing",
        "container",
        "total",
        "recipe_versions",
        "ship_on",
    ]
    # A statement a row: a plan is some 60 kB, which as one item of an array costs more to quote than to write.
    new, old = [p for p in plans if not p.pk], [p for p in plans if p.pk]
    Plan.objects.of(workshop).bulk_create(new, batch_size=1)
    Plan.objects.of(workshop).bulk_create(
        old, batch_size=1, update_conflicts=True, unique_fields=["id"], update_fields=fields
    )
    for use in uses:
        use.plan_id = use.plan.pk
    PlannedUse.objects.of(workshop).bulk_create(uses)


def settle_states(workshop: Workshop, orders: Iterable[Order]) -> None:
    """Write each open order's state from its hold, its plan and the day it leaves. A parcel's state is the bench's to
    write.
    """
    rows = [o for o in orders if o.state in OPEN]
    day = ship_day(workshop)
    plans = {
        order_id: status == "blocked" or ship_on > day
        for order_id, status, ship_on in Plan.objects.of(workshop)
        .filter(order__in=rows)
        .values_list("order_id", "status", "ship_on")
    }
    for order in rows:
        # A plan for a later day waits for it: nobody packs in November what leaves at Christmas.
        if order.hold_code or plans.get(order.pk):
            order.state = Order.State.HELD
        else:
            order.state = Order.State.PLANNED if order.pk in plans else Order.State.NEW
    Order.objects.of(workshop).bulk_update(rows, ["state"])
