"""Where a change tips: the number from which it matters, costs the same, or pays (money; rules 22.3). Pure."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import ROUND_CEILING, Decimal
from typing import Literal

from core.money.changes import (
    Change,
    ChargedBy,
    MinutesFactor,
    NewContainer,
    OneNumber,
    WithoutContainer,
    World,
    applied,
)
from core.money.what_if import Comparison, Figures, NotSent, PeriodOrder, Planner, TriedOrder
from core.units import round_money

__all__ = ["Period", "Tip", "tipping"]

_CENT = Decimal("0.01")  #: so exactly a number is found
_MOST_TRIES = 40
_WEEKS_A_MONTH = Decimal(52) / 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Tip:
    """Where it tips."""

    kind: Literal["wage_even", "packed_otherwise", "flat_fee", "orders_a_month"]
    at: Decimal
    now: Decimal
    percent: bool = False  #: packed_otherwise: the number is percent of a recipe's minutes, else money
    keeping: Decimal | None = None  #: orders_a_month: what keeping a kind of container costs a month
    saves: Decimal | None = None  #: orders_a_month: what each order with it saves


@dataclass(frozen=True, slots=True, kw_only=True)
class Period:
    """The orders' period, and what keeping one more kind of container costs in a month."""

    weeks: int
    keeping_a_month: Decimal
    digits: int = 2


def tipping(
    found: Comparison,
    worlds: tuple[World, World],
    changes: Sequence[Change],
    period: Period,
    alive: Callable[[], bool],
) -> Tip | None:
    """Return where the balance tips, None where it does not; only orders that change are planned for it.

    Of one number (a wage, a price, minutes): the first value between now and the change at which some order is packed
    or sent otherwise. Of a container: from how many orders a month it pays for its keeping. Of a charge: the one fee
    for all that covers the postage. Of anything else: the wage, up to four times today's, at which before and after
    cost the same. ``alive`` is asked between tries: when it says no, nothing is found.
    """
    only = changes[0] if len(changes) == 1 else None
    match only:
        case WithoutContainer() | NewContainer():
            return _orders_a_month(found, only, period)
        case ChargedBy():
            return _flat_fee(found, period.digits)
        case _ if isinstance(only, OneNumber):
            return _first_otherwise(found, worlds[0], only, alive)
        case _:
            return _wage_even(found, worlds, changes, alive)


def _orders_a_month(found: Comparison, change: WithoutContainer | NewContainer, period: Period) -> Tip | None:
    """Each order that has the container saves so much against the same order without it."""
    with_it, code, sign = (
        ("before", change.code, 1) if isinstance(change, WithoutContainer) else ("after", change.container.code, -1)
    )

    def has(one: TriedOrder) -> bool:
        side = getattr(one, with_it)
        return isinstance(side, Figures) and code in side.containers and not isinstance(one.after, NotSent)

    using = [one for one in found.orders if has(one)]
    saved = sum((sign * one.change for one in using), Decimal(0))
    if saved <= 0:
        return None
    each = saved / len(using)
    return Tip(
        kind="orders_a_month",
        at=(period.keeping_a_month / each).to_integral_value(rounding=ROUND_CEILING),
        now=round(Decimal(len(using)) / period.weeks * _WEEKS_A_MONTH, 1),
        keeping=round_money(period.keeping_a_month, period.digits),
        saves=round_money(each, period.digits),
    )


def _flat_fee(found: Comparison, digits: int) -> Tip | None:
    if not found.both:
        return None
    cent = Decimal(1).scaleb(-digits)
    return Tip(
        kind="flat_fee",
        at=(found.before.postage / found.both).quantize(cent, rounding=ROUND_CEILING),
        now=round_money(found.before.charged / found.both, digits),
    )


def _first_otherwise(found: Comparison, world: World, change: OneNumber, alive: Callable[[], bool]) -> Tip | None:
    orders = [one.order for one in found.orders if one.packed_otherwise]
    if not orders:
        return None
    base = Planner(world)
    ways = {order.key: _way(base, order) for order in orders}
    low, high = change.now(world), change.number  # at ``low`` all are packed as now, at ``high`` some are not
    for _ in range(_MOST_TRIES):
        if abs(high - low) <= _CENT:
            break
        if not alive():
            return None
        middle = ((low + high) / 2).quantize(_CENT / 100)
        there = change.at(middle)
        planner = Planner(applied(world, (there,))[1], (there,))
        if any(_way(planner, order) != ways[order.key] for order in orders):
            high = middle
        else:
            low = middle
    scale = 100 if isinstance(change, MinutesFactor) else 1
    return Tip(
        kind="packed_otherwise",
        at=(high * scale).quantize(_CENT),
        now=(change.now(world) * scale).quantize(_CENT),
        percent=isinstance(change, MinutesFactor),
    )


def _way(planner: Planner, order: PeriodOrder) -> str:
    figures = planner.figures(order, planner.plan(order))
    return figures.way if isinstance(figures, Figures) else ""


def _wage_even(
    found: Comparison, worlds: tuple[World, World], changes: Sequence[Change], alive: Callable[[], bool]
) -> Tip | None:
    moved = [one.order for one in found.orders if one.change or one.packed_otherwise]
    now = worlds[0].facts.settings.wage_per_hour
    # What takes as long before and after costs as much more at every wage.
    if not moved or now <= 0 or found.before.minutes == found.after.minutes:
        return None
    orders = sorted(moved, key=lambda one: one.content)

    def difference(wage: Decimal) -> Decimal:
        before, after = Planner(_at_wage(worlds[0], wage)), Planner(_at_wage(worlds[1], wage), tuple(changes))
        return sum(
            (
                TriedOrder(
                    order=order,
                    before=before.figures(order, before.plan(order)),
                    after=after.figures(order, after.plan(order)),
                ).change
                for order in orders
            ),
            Decimal(0),
        )

    low, high = Decimal(0), now * 4
    at_low, at_high = difference(low), difference(high)
    if at_low == 0 or at_high == 0 or (at_low > 0) == (at_high > 0):
        return None
    for _ in range(_MOST_TRIES):
        if high - low <= _CENT:
            break
        if not alive():
            return None
        # Costs are straight between two changes of choice: first where a straight line would cross, then the middle.
        crossing = low + (high - low) * abs(at_low) / (abs(at_low) + abs(at_high))
        for guess in (crossing, (low + high) / 2):
            wage = guess.quantize(_CENT / 10)
            if not low < wage < high:
                continue
            there = difference(wage)
            if (there > 0) == (at_low > 0):
                low, at_low = wage, there
            else:
                high, at_high = wage, there
    return Tip(kind="wage_even", at=((low + high) / 2).quantize(_CENT), now=now)


def _at_wage(world: World, wage: Decimal) -> World:
    return replace(world, facts=replace(world.facts, settings=replace(world.facts.settings, wage_per_hour=wage)))
