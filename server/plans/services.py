"""Planning open orders and keeping their plans true when what they depend on changes.

The workshop's row is locked only while a plan is held against the stock that is free and promised: so two people cannot
both promise the last carton, and nobody waits while a plan is searched for (``writing``).
"""

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from datetime import timedelta

from django.db import transaction
from django.db.models import Q, QuerySet
from procrastinate import exceptions
from procrastinate.contrib.django import app

from core.messages import Text
from core.parcels.plan import Blocked, Overrides, more_that_fit
from core.parcels.remembered import Remembered
from core.parcels.room import Room
from server.api.problems import Refused
from server.carriers.selectors import core_tariffs
from server.orders.models import Order, OrderLine
from server.plans.facts import load, place_of, ship_day
from server.plans.mapping import plan_of, texts_from_json
from server.plans.models import Plan
from server.plans.writing import draft, overrides_of, promise
from server.supplies.models import Supply
from server.words import day_words
from server.workshops.models import Workshop, lock_workshop

__all__ = [
    "PLAN_STALE_TASK",
    "choose_container",
    "due_orders",
    "fresh_plan",
    "open_orders",
    "plan_later",
    "plan_stale",
    "room_in",
    "set_decisions",
    "set_overrides",
]

#: The worker's task, by name: tasks know services, not the other way round.
PLAN_STALE_TASK = "plan_stale_orders"
#: So often a plan is made again because something changed meanwhile; the last time nothing can.
_TRIES = 3
#: Nobody waits longer than this for an order to leave.
_FURTHEST_DAYS = 180


def open_orders(workshop: Workshop) -> QuerySet[Order]:
    """Return the orders a plan may still change for."""
    return Order.objects.of(workshop).filter(state__in=Order.OPEN)


def due_orders(workshop: Workshop) -> QuerySet[Order]:
    """Return the open orders that have no plan, a stale one, one for a day that is over, or whose day to wait for has
    come.
    """
    day = ship_day(workshop)
    past = Q(plan__ship_on__lt=day)
    # What waits for another weather is looked at again when its plan is marked, not on each day.
    come = Q(
        Q(state=Order.State.HELD, hold_code="", plan__status="planned", plan__ship_on__lte=day)
        & ~Q(plan__care_state="danger")
    )
    return open_orders(workshop).filter(Q(plan=None) | Q(plan__stale=True) | past | come)


def plan_stale(*, workshop: Workshop, orders: Iterable[int], remembered: Remembered | None = None) -> int:
    """Plan those of these orders that are open and have no plan or a stale one. Returns how many were planned.

    ``remembered``: what was planned before in the same wave. Call outside a transaction: then the lock is short.
    """
    wanted = list(orders)

    def due() -> list[Order]:
        rows = due_orders(workshop).filter(pk__in=wanted)
        return list(rows.select_related("plan").order_by("placed_on", "id"))

    return len(_plan(workshop, due, remembered=remembered))


def _plan(
    workshop: Workshop,
    due: Callable[[], list[Order]],
    *,
    forced: Callable[[list[Order]], dict[int, Overrides]] | None = None,
    remembered: Remembered | None = None,
    check: Callable[[list[Plan]], None] | None = None,
) -> list[Plan]:
    """Draft plans and promise them; when something changed meanwhile, again, the last time with the lock held.

    ``check`` may refuse what came out: then nothing is written.
    """
    for attempt in range(_TRIES):
        with transaction.atomic():
            if attempt == _TRIES - 1:
                lock_workshop(workshop)
            rows = due()
            if not rows:
                return []
            drafted = draft(workshop, rows, forced=forced(rows) if forced else None, remembered=remembered)
            # Taken only now: what was searched for long is written in a moment.
            plans = promise(workshop, drafted, changes=lock_workshop(workshop))
            if plans is not None:
                if check is not None:
                    check(plans)
                return plans
    raise Refused("Others are changing this order at the same time. Try again.", code="busy", status=503)


def fresh_plan(*, workshop: Workshop, order_id: int) -> Plan:
    """Return the order's plan, planned again first when it is stale.

    Raises Refused (404) when there is no such open order.
    """
    plan_stale(workshop=workshop, orders=[order_id])
    plan = Plan.objects.of(workshop).filter(order_id=order_id).select_related("order", "kept").first()
    if plan is None:
        raise Refused("There is no such open order in your workshop.", code="not_found", status=404)
    return plan


def choose_container(*, workshop: Workshop, order_id: int, container: str) -> Plan:
    """Override the container, or take the override back with an empty code.

    The choice is checked like any other: one that does not work is refused with the reason and nothing changes.
    """

    def wanted(plan: Plan) -> Overrides:
        return replace(overrides_of(plan), container=container or None)

    return _override(workshop, order_id, wanted, field="container")


def set_overrides(*, workshop: Workshop, order_id: int, wanted: Overrides) -> Plan:
    """Set what a person decided besides the container: ruled out ones, goods that may lie, parcels, days, a note.

    Checked like a chosen container; naming a container or goods that are not there is refused. A chosen container
    falls with a change in the number of parcels or in what goes where: it was chosen for another division.
    """

    def all_of(plan: Plan) -> Overrides:
        before = overrides_of(plan)
        same_division = (before.parcels, before.shares) == (wanted.parcels, wanted.shares)
        whole = replace(
            wanted,
            container=before.container if same_division else None,
            # Decided elsewhere: they stay as they are.
            service=before.service,
            care=before.care,
            omitted=before.omitted,
            substitutes=before.substitutes,
        )
        return _checked(workshop, plan, whole)

    return _override(workshop, order_id, all_of, field="forbidden")


def set_decisions(*, workshop: Workshop, order_id: int, wanted: Overrides) -> Plan:
    """Set everything a person decided at once: to apply advice, or to take it back.

    Checked like any decision; what leaves no way to send the order is refused, and nothing changes.
    """
    return _override(workshop, order_id, lambda plan: _checked(workshop, plan, wanted), field="container")


def _checked(workshop: Workshop, plan: Plan, wanted: Overrides) -> Overrides:
    """Return the decisions tidied up. Raises Refused naming what there is not."""
    containers = set(Supply.objects.of(workshop).filter(kind__in=("carton", "mailer")).values_list("code", flat=True))
    _all_known(wanted.forbidden, containers, "forbidden", "container in the cupboard")
    goods = set(OrderLine.objects.of(workshop).filter(order=plan.order).values_list("sku", flat=True))
    _all_known(wanted.may_lie_down, goods, "may_lie_down", "sku of this order")
    _all_known([sku for share in wanted.shares for sku, _ in share], goods, "shares", "sku of this order")
    _service_known(workshop, wanted.service)
    _care_known(workshop, wanted)
    _swaps_known(workshop, wanted)
    _days_possible(workshop, wanted)
    wanted = replace(
        wanted,
        forbidden=tuple(sorted(set(wanted.forbidden))),
        may_lie_down=tuple(sorted(set(wanted.may_lie_down))),
        note=wanted.note.strip(),
        # A day that is over by now is decided no longer.
        not_before=wanted.not_before if wanted.not_before and wanted.not_before >= ship_day(workshop) else None,
    )
    if wanted.container and set(re.split(r"[+&/]", wanted.container)) & set(wanted.forbidden):
        raise Refused(
            f"{wanted.container} is the container chosen for this order; undo that first.",
            code="override_refused",
            field="forbidden",
        )
    return wanted


def _service_known(workshop: Workshop, service: str | None) -> None:
    known = {one.code for tariff in core_tariffs(workshop) for one in tariff.services}
    if service is not None and service not in known:
        raise Refused(
            f"There is no service {service}; there are {', '.join(sorted(known))}.", code="unknown", field="service"
        )


def _care_known(workshop: Workshop, wanted: Overrides) -> None:
    """What goes in against heat and cold is a liner or a pack of the cupboard."""
    if wanted.care is None:
        return
    wish = wanted.care.wish
    inserts = Supply.objects.of(workshop).filter(kind="insert", code__in=[wish.liner, wish.pack])
    facts = {row.code: row.facts for row in inserts}
    for code, what in ((wish.liner, "liner"), (wish.pack, "pack")):
        if code and not facts.get(code, {}).get(what):
            words = "liner in the cupboard" if what == "liner" else "gel, ice or heat pack in the cupboard"
            raise Refused(f"{code}: no such {words}.", code="unknown", field="care")


def _days_possible(workshop: Workshop, wanted: Overrides) -> None:
    """The days a person sets are to come, in their order, and not further off than anybody waits."""
    today, last = ship_day(workshop), ship_day(workshop) + timedelta(days=_FURTHEST_DAYS)
    for field, day in (("not_before", wanted.not_before), ("arrive_by", wanted.arrive_by)):
        if day is not None and day > last:
            text = f"{day_words(day)} is too far off; choose a day up to {day_words(last)}."
            raise Refused(text, code="not_valid", status=422, field=field)
    if wanted.arrive_by is not None and wanted.arrive_by < today:
        text = f"{day_words(wanted.arrive_by)} is over; choose a day from {day_words(today)} on."
        raise Refused(text, code="not_valid", status=422, field="arrive_by")
    if wanted.arrive_by and wanted.not_before and wanted.arrive_by < wanted.not_before:
        text = (
            f"It cannot arrive by {day_words(wanted.arrive_by)} when it leaves on "
            f"{day_words(wanted.not_before)} at the earliest."
        )
        raise Refused(text, code="not_valid", status=422, field="arrive_by")


def _swaps_known(workshop: Workshop, wanted: Overrides) -> None:
    codes = {*wanted.omitted, *(code for pair in wanted.substitutes for code in pair)}
    kinds = dict(Supply.objects.of(workshop).filter(code__in=codes).values_list("code", "kind"))
    inserts = {code for code, kind in kinds.items() if kind == "insert"}
    fills = {code for code, kind in kinds.items() if kind == "fill"}
    _all_known(wanted.omitted, inserts, "omitted", "insert in the cupboard")
    _all_known([code for pair in wanted.substitutes for code in pair], inserts | fills, "substitutes", "fill or insert")
    mixed = [pair for pair in wanted.substitutes if kinds[pair[0]] != kinds[pair[1]]]
    if mixed:
        raise Refused(
            f"{mixed[0][1]} cannot take the place of {mixed[0][0]}: one is a fill, the other an insert.",
            code="unknown",
            field="substitutes",
        )


def _all_known(given: Sequence[str], known: set[str], field: str, what: str) -> None:
    unknown = sorted(set(given) - known)
    if unknown:
        raise Refused(f"{', '.join(unknown)[:100]}: no such {what}.", code="unknown", field=field)


def _override(workshop: Workshop, order_id: int, wanted: Callable[[Plan], Overrides], *, field: str) -> Plan:
    """Plan with the overrides; what leaves no way to send the order is refused, and nothing changes."""
    fresh_plan(workshop=workshop, order_id=order_id)
    found: dict[int, Overrides] = {}
    could = False

    def due() -> list[Order]:
        row = Order.objects.of(workshop).filter(pk=order_id).select_related("plan").first()
        if row is None or row.state not in Order.OPEN:
            raise Refused("This order is at the bench or packed; its plan is kept as it is.", code="not_open")
        return [row]

    def forced(rows: list[Order]) -> dict[int, Overrides]:
        nonlocal found, could
        plan = rows[0].plan
        could, found = plan.status == "planned", {rows[0].pk: wanted(plan)}
        return found

    def check(plans: list[Plan]) -> None:
        decided = found[order_id]
        if plans[0].status == "blocked" and (could or decided.container or decided.service) and decided.any:
            raise Refused(texts_from_json(plans[0].missing), code="override_refused", field=field)

    return _plan(workshop, due, forced=forced, check=check)[0]


def room_in(*, workshop: Workshop, order_id: int) -> list[tuple[Text, tuple[Room, ...]]]:
    """Return each parcel's container and how many more of each product it would take.

    Raises Refused when the order has no plan to look at.
    """
    plan = fresh_plan(workshop=workshop, order_id=order_id)
    stored = plan_of(plan.kept)
    if isinstance(stored, Blocked):
        raise Refused("This order has no plan yet; see what is missing.", code="blocked")
    loaded = load(workshop, [plan.order])
    return [
        (
            parcel.candidate.name,
            more_that_fit(
                loaded.lines_taking(loaded.lines_of(plan.order), {use.supply for use in stored.chosen.uses}),
                loaded.facts,
                parcel,
                destination=place_of(plan.order),
                ship_on=plan.ship_on,
                occasion=loaded.occasion_of(plan.order),
                overrides=overrides_of(plan),
            ),
        )
        for parcel in stored.chosen.parcels
    ]


def plan_later(workshop: Workshop) -> None:
    """Ask the worker to plan what is stale; once is enough however often it is asked.

    Enqueued inside the caller's transaction: it is taken back with it. The savepoint keeps a second asking
    from spoiling that transaction.
    """
    # One wave of a workshop at a time (lock), and one waiting for its turn (queueing lock).
    job = app.configure_task(
        PLAN_STALE_TASK, queue="plans", lock=f"wave-{workshop.pk}", queueing_lock=f"plan-{workshop.pk}"
    )
    try:
        with transaction.atomic():
            job.defer(workshop_id=workshop.pk)
    except exceptions.AlreadyEnqueued:
        return
