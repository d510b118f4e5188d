"""Planning orders one after the other and writing what comes out (plans; used by ``services`` and ``waves``).

A draft is made without any lock, which takes the time; then, with the workshop's lock, it is held against what has
changed since and against the stock that is still free, and promised. So nobody waits for another's plan, and two people
cannot promise the last carton.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from functools import partial

from django.utils import timezone

from core.care.planning import Cared, HeldCare, plan_with_care
from core.care.words import why_waits
from core.messages import Message
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, Overrides, PlannedOrder
from core.parcels.remembered import Remembered
from core.recipes.expand import OrderLine as LineValue
from core.recipes.expand import amounts_of, merged
from server.orders.models import Order, OrderLine
from server.plans.facts import Loaded, leaves_on, load, place_of, ship_day
from server.plans.mapping import (
    care_from_json,
    care_to_json,
    overrides_from_json,
    overrides_to_json,
    plan_to_json,
    texts_to_json,
)
from server.plans.models import Plan, PlanDocument, PlannedUse, PlanPart
from server.plans.parts import parts_of, save_parts
from server.plans.standing import Standing, standing
from server.supplies.selectors import as_stocks, supplies_with_stock
from server.workshops.happened import tell_planned
from server.workshops.models import Workshop

__all__ = ["Draft", "as_lines", "draft", "overrides_of", "promise", "settle_states"]


def overrides_of(plan: Plan) -> Overrides:
    """Return what a person decided for the plan's order."""
    return overrides_from_json(plan.overrides)


@dataclass(frozen=True, slots=True, kw_only=True)
class Drafted:
    """One order's plan as it came out, and when the plan it takes the place of was made (None: there was none)."""

    order: Order
    cared: Cared
    decided: Overrides
    before_at: datetime | None
    needed: Mapping[str, Decimal]  #: supply code -> stock units
    counts_on: int | None = None  #: the parcel packed ahead it takes, where the cupboard alone does not do

    @property
    def result(self) -> PlannedOrder | Blocked:
        """Return the plan."""
        return self.cared.result


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """Plans made but not promised, and the state of the workshop they rest on."""

    changes: int
    day: date
    loaded: Loaded
    orders: tuple[Drafted, ...]


def draft(
    workshop: Workshop,
    orders: Sequence[Order],
    *,
    forced: Mapping[int, Overrides] | None = None,
    remembered: Remembered | None = None,
    typed: Mapping[int, Sequence[OrderLine]] | None = None,
) -> Draft:
    """Plan these orders one after the other from the stock that is free now; write nothing, lock nothing.

    ``forced`` is what a person decides now, ``remembered`` what was planned before in the same wave,
    ``typed`` lines that are not saved, by their order's key.
    """
    remembered = remembered or Remembered()
    # First of all: what changes while the rest is read is noticed.
    changes = Workshop.objects.values_list("changes", flat=True).get(pk=workshop.pk)
    loaded = load(workshop, orders, typed=typed)
    day = ship_day(workshop)
    rows = Plan.objects.of(workshop).filter(order__in=orders).prefetch_related("uses__supply")
    old = {plan.order_id: plan for plan in rows}
    free = dict(loaded.facts.free)
    for plan in old.values():  # what these orders promised is theirs to promise again
        for use in plan.uses.all():
            free[use.supply.code] += use.quantity
    ahead: list[Standing] | None = None
    made: list[Drafted] = []
    for order in orders:
        before = old.get(order.pk)
        own = overrides_of(before) if before else Overrides()
        decided = forced.get(order.pk, own) if forced else own

        held = _held(before) if loaded.weather.silent else None
        plan_from = partial(_planned, loaded, remembered, order, decided, leaves_on(day, decided, workshop), held)
        cared, taken = plan_from(free), None
        if isinstance(cared.result, Blocked):
            ahead = standing(workshop, besides=orders) if ahead is None else ahead
            taken, cared = _by_standing(ahead, loaded, order, free, cared, plan_from)
        result = cared.result
        needed = amounts_of(result.chosen.uses) if isinstance(result, PlannedOrder) else {}
        if taken is not None:
            left = {code: quantity - taken.used.get(code, 0) for code, quantity in needed.items()}
            needed = {code: quantity for code, quantity in left.items() if quantity > 0}
        for code, quantity in needed.items():
            free[code] -= quantity
        made.append(
            Drafted(
                order=order,
                cared=cared,
                decided=decided,
                before_at=before.at if before else None,
                needed=needed,
                counts_on=taken.id if taken is not None else None,
            )
        )
    return Draft(changes=changes, day=day, loaded=loaded, orders=tuple(made))


def _held(before: Plan | None) -> HeldCare | None:
    """What the plan of before had against the weather."""
    kept = care_from_json(before.care) if before is not None else None
    if kept is None:
        return None
    wish = next((one.wish for one in kept.report.parcels if one.wish.any), ThermalWish())
    return HeldCare(danger=kept.report.verdict == "danger", wish=wish)


def _planned(
    loaded: Loaded,
    remembered: Remembered,
    order: Order,
    decided: Overrides,
    ship_on: date,
    held: HeldCare | None,
    free: dict[str, Decimal],
) -> Cared:
    """Plan one order from what is free, with what is to be used up first while there is any, and with the weather."""
    for lines in loaded.lines_to_try(order, free):
        plan_from = partial(as_lines, loaded, remembered, order, lines, free)
        cared = plan_with_care(plan_from, decided, ship_on, loaded.care_context(order, lines, free), held=held)
        if isinstance(cared.result, PlannedOrder):
            break
    return cared


def as_lines(
    loaded: Loaded,
    remembered: Remembered,
    order: Order,
    lines: tuple[LineValue, ...],
    free: dict[str, Decimal],
    decided: Overrides,
    day: date,
    wish: ThermalWish | None,
) -> PlannedOrder | Blocked:
    """Plan an order's lines from what is free, for a day, with what goes in against heat and cold."""
    return remembered.plan_order(
        lines,
        loaded.with_free(free),
        destination=place_of(order),
        ship_on=day,
        overrides=decided,
        occasion=loaded.occasion_of(order),
        thermal=wish,
    )


def _by_standing(
    ahead: list[Standing],
    loaded: Loaded,
    order: Order,
    free: Mapping[str, Decimal],
    blocked: Cared,
    plan_from: Callable[[dict[str, Decimal]], Cared],
) -> tuple[Standing | None, Cared]:
    """Return the parcel packed ahead that a blocked order can take, off the list, and its plan with it; or neither."""
    goods = tuple((line.sku, line.quantity) for line in merged(loaded.lines_of(order)))
    for one in ahead:
        if goods == (one.goods,):
            cared = plan_from({code: quantity + one.used.get(code, 0) for code, quantity in free.items()})
            if isinstance(cared.result, PlannedOrder) and one.is_of(cared.result, loaded.recipes_of(order)):
                ahead.remove(one)
                return one, cared
    return None, blocked


def promise(workshop: Workshop, drafted: Draft, *, changes: int) -> list[Plan] | None:
    """Write the plans, uses and states of a draft. With the workshop's lock held; ``changes`` is its count by then.

    Returns None, with nothing written, when the draft rests on what is no longer so: make another.
    """
    orders = [one.order for one in drafted.orders]
    found = {o.pk: o for o in Order.objects.of(workshop).filter(pk__in=[o.pk for o in orders], state__in=Order.OPEN)}
    rows = Plan.objects.of(workshop).filter(order__in=orders).prefetch_related("uses")
    old = {plan.order_id: plan for plan in rows}
    same = all((old[o.order.pk].at if o.order.pk in old else None) == o.before_at for o in drafted.orders)
    if changes != drafted.changes or not same or len(found) < len(orders):
        return None
    needed: dict[str, Decimal] = {}
    for one in drafted.orders:
        for code, quantity in one.needed.items():
            needed[code] = needed.get(code, Decimal(0)) + quantity
    if not _still_free(workshop, needed, old.values()) or not _still_stand(workshop, drafted.orders):
        return None
    ids = {stock.supply.code: stock.supply.pk for stock in drafted.loaded.stocks}
    plans: list[Plan] = []
    uses: list[PlannedUse] = []
    parts: list[PlanPart] = []
    replaced = [plan.kept_id for plan in old.values()]
    for one in drafted.orders:
        plan = _row(one.order, old.get(one.order.pk), one.cared, drafted.loaded, one.decided)
        plan.standing_id = one.counts_on
        plan.ship_on = one.result.ship_on if isinstance(one.result, PlannedOrder) else drafted.day
        plans.append(plan)
        if isinstance(one.result, PlannedOrder):
            recipes = drafted.loaded.recipes_of(one.order)
            parts += parts_of(workshop, plan, one.result, recipes, drafted.loaded.facts.shelf)
        uses += [PlannedUse(workshop=workshop, plan=plan, supply_id=ids[c], quantity=q) for c, q in one.needed.items()]
    _save(workshop, plans, uses, replaced)
    for part in parts:
        part.plan_id = part.plan.pk
    save_parts(workshop, plans, parts)
    for one in drafted.orders:  # a hold may have been set since the draft
        now = found[one.order.pk]
        one.order.state, one.order.hold_code, one.order.hold_text = now.state, now.hold_code, now.hold_text
    settle_states(workshop, orders)
    tell_planned(workshop, [one.order.pk for one in drafted.orders if isinstance(one.result, PlannedOrder)])
    return plans


def _still_free(workshop: Workshop, needed: Mapping[str, Decimal], old: Iterable[Plan]) -> bool:
    """Tell whether all of it is on the shelf and promised to nobody else."""
    own: dict[int, Decimal] = {}
    for plan in old:
        for use in plan.uses.all():
            own[use.supply_id] = own.get(use.supply_id, Decimal(0)) + use.quantity
    stocks = as_stocks(workshop, supplies_with_stock(workshop).filter(code__in=needed))
    free = {stock.supply.code: stock.free + own.get(stock.supply.pk, Decimal(0)) for stock in stocks}
    return all(code in free and free[code] >= quantity for code, quantity in needed.items())


def _still_stand(workshop: Workshop, made: Sequence[Drafted]) -> bool:
    """Tell whether the parcels packed ahead these orders count on stand there, and nobody else counts on them."""
    wanted = {one.counts_on for one in made if one.counts_on is not None}
    return not wanted or wanted <= {one.id for one in standing(workshop, besides=[one.order for one in made])}


def _row(order: Order, before: Plan | None, cared: Cared, loaded: Loaded, force: Overrides) -> Plan:
    result = cared.result
    plan = before or Plan(workshop=order.workshop, order=order)
    plan.status = result.status
    plan.kept = PlanDocument(workshop=order.workshop)
    plan.kept.write(plan_to_json(result))
    plan.overrides = overrides_to_json(force)
    plan.stale = False
    plan.care = care_to_json(cared)
    plan.care_state = cared.report.verdict if cared.report is not None else ""
    plan.at = timezone.now()
    if isinstance(result, PlannedOrder):
        waits = cared.report is not None and cared.report.verdict == "danger"
        plan.missing = texts_to_json((_why_waits(cared, loaded),)) if waits else []
        plan.total = result.chosen.costs.total
        plan.container = ", ".join(result.chosen.containers)[:200]
        used = {piece.recipe for piece in result.pieces}
        recipes = loaded.recipes_of(order)
        plan.recipe_versions = {code: recipe.version for code, recipe in recipes.items() if code in used}
    else:
        plan.missing = texts_to_json(tuple(missing.message for missing in result.missing))
        plan.container, plan.total, plan.recipe_versions = "", None, {}
    return plan


def _why_waits(cared: Cared, loaded: Loaded) -> Message:
    if cared.report is None:  # pragma: no cover - asked only where there is one
        raise ValueError("no report")
    return why_waits(cared.report, {sku: product.name for sku, (product, _) in loaded.products.items()})


def _save(workshop: Workshop, plans: list[Plan], uses: list[PlannedUse], replaced: list[int]) -> None:
    PlannedUse.objects.of(workshop).filter(plan__in=[p for p in plans if p.pk]).delete()
    fields = [
        "status",
        "kept",
        "overrides",
        "care",
        "care_state",
        "stale",
        "at",
        "missing",
        "container",
        "total",
        "recipe_versions",
        "ship_on",
        "standing_id",
    ]
    PlanDocument.objects.of(workshop).bulk_create([plan.kept for plan in plans])
    for plan in plans:
        plan.kept_id = plan.kept.pk
    new, old = [p for p in plans if not p.pk], [p for p in plans if p.pk]
    Plan.objects.of(workshop).bulk_create(new)
    Plan.objects.of(workshop).bulk_create(old, update_conflicts=True, unique_fields=["id"], update_fields=fields)
    # What a parcel was begun with stays its own, also when it was undone since.
    PlanDocument.objects.of(workshop).filter(pk__in=replaced, parcels=None).delete()
    for use in uses:
        use.plan_id = use.plan.pk
    PlannedUse.objects.of(workshop).bulk_create(uses)


def settle_states(workshop: Workshop, orders: Iterable[Order]) -> None:
    """Write each open order's state from its hold, its plan and the day it leaves. A parcel's state is the bench's to
    write.
    """
    rows = [o for o in orders if o.state in Order.OPEN]
    day = ship_day(workshop)
    plans = {
        order_id: status == "blocked" or ship_on > day or care == "danger"
        for order_id, status, ship_on, care in Plan.objects.of(workshop)
        .filter(order__in=rows)
        .values_list("order_id", "status", "ship_on", "care_state")
    }
    for order in rows:
        # A plan for a later day waits for it: nobody packs in November what leaves at Christmas.
        if order.hold_code or plans.get(order.pk):
            order.state = Order.State.HELD
        else:
            order.state = Order.State.PLANNED if order.pk in plans else Order.State.NEW
    Order.objects.of(workshop).bulk_update(rows, ["state"])
