"""A year day by day for one player: packing in the hours there are, supplies that come with a lead time, parcels that
break by their true causes and come late by their carrier's.

Every player gets the same orders, the same hours, the same luck. Costs are Cr as floats: sums of a year, no books.
"""

import math
from collections import defaultdict, deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import timedelta
from decimal import Decimal
from functools import cache

from core.buying.reorder import reorder_point, safety_stock
from core.buying.use import WeekUse, use_rate
from core.recipes.damage import Arrivals
from server.simulation.contents import Content, Packed
from server.simulation.habits import Chooser, Habit
from server.simulation.shop import DAYS, SEASON, YEAR_BEGINS, Shop, Truth, YearOrder

__all__ = ["Outcome", "YearPlay", "content_of"]

_WORKDAYS = 5
#: The second and later of parcels alike in a row take so much less (rules 20.2).
_IN_A_ROW = 0.85
#: Money that lies on the shelf costs so much a year.
_INTEREST = 0.20
_Z, _LEAD_DAYS, _COVER_WEEKS = Decimal("1.645"), 5, 6
#: Fixed levels: ordered below two weeks of an even year's use, six weeks at a time, looked at on Fridays.
_FIXED_LEVEL_WEEKS, _FIXED_ORDER_WEEKS = 2.0, 6.0
_ORDINARY_DAYS, _ABROAD_DAYS, _URGENT_DAYS = 6, 12, 4
_FRIDAY = 4
#: What is due within so many days is packed first.
_SLACK = 5


@dataclass(slots=True)
class Outcome:
    """What a year came to."""

    player: str
    orders: int = 0
    unsent: int = 0
    materials: float = 0.0
    labour: float = 0.0
    postage: float = 0.0
    loss: float = 0.0
    holding: float = 0.0
    broken: int = 0
    late: int = 0
    waited: int = 0  #: orders that could not be packed for want of a supply on the day they could have been
    asleep_mean: float = 0.0
    paid: list[float] = field(default_factory=list)  #: postage of each order

    @property
    def all_in(self) -> float:
        """Return the cost of all."""
        return self.materials + self.labour + self.postage + self.loss + self.holding

    @property
    def per_order(self) -> float:
        """Return the cost of an order that was sent."""
        return self.all_in / self.orders if self.orders else 0.0


def content_of(order: YearOrder, shop: Shop, *, quarter: int) -> Content:
    """Return which content an order is; ``quarter``: how much of the year's arrivals the program knew."""
    on = YEAR_BEGINS + timedelta(days=order.day)
    return Content(
        goods=order.goods, place=order.place, urgent=order.urgent, later=on >= shop.changes_on, quarter=quarter
    )


class _Supplies:
    """The shelf of one player: what is there, what is on its way."""

    def __init__(self, shop: Shop, mean_week: Mapping[str, float], *, by_use: bool) -> None:
        self.price = _prices(shop)
        self.by_use = by_use
        self.mean_week = mean_week
        self.there: dict[str, float] = {code: 5 * use for code, use in mean_week.items()}
        self.coming: deque[tuple[int, str, float]] = deque()
        self.weeks: dict[str, list[float]] = defaultdict(list)
        self.this_week: dict[str, float] = defaultdict(float)

    def value(self) -> float:
        return sum(self.price.get(code, 0.0) * quantity for code, quantity in self.there.items())

    def takes(self, way: Packed) -> bool:
        return all(self.there.get(code, 0.0) + 1e-9 >= quantity for code, quantity in way.uses)

    def use(self, way: Packed) -> None:
        for code, quantity in way.uses:
            self.there[code] = self.there.get(code, 0.0) - quantity
            self.this_week[code] += quantity

    def receive(self, day: int) -> None:
        while self.coming and self.coming[0][0] <= day:
            _, code, quantity = self.coming.popleft()
            self.there[code] = self.there.get(code, 0.0) + quantity

    def order(self, day: int, wanted: Mapping[str, float]) -> None:
        """Order what falls short; ``wanted``: what open orders would use."""
        on = YEAR_BEGINS + timedelta(days=day)
        waiting: dict[str, float] = defaultdict(float)
        for _, code, quantity in self.coming:
            waiting[code] += quantity
        for code in {*self.mean_week, *wanted}:
            mean_week = self.mean_week.get(code, 0.0)
            standing = self.there.get(code, 0.0) + waiting[code]
            if self.by_use:
                quantity = self._by_use(code, on.month, standing, wanted[code], day)
            elif on.weekday() == _FRIDAY and standing < _FIXED_LEVEL_WEEKS * mean_week:
                quantity = _FIXED_ORDER_WEEKS * mean_week
            elif on.weekday() == _FRIDAY and mean_week == 0 and standing < wanted[code]:
                quantity = 2 * wanted[code]
            else:
                continue
            if quantity > 0:
                self.coming.append((day + 7, code, math.ceil(quantity * 100) / 100))
        self.coming = deque(sorted(self.coming))

    def _by_use(self, code: str, month: int, standing: float, wanted: float, day: int) -> float:
        """Rules 14.1 and 14.3: use of the last weeks by season, lead time, spread."""
        season = tuple(Decimal(str(one)) for one in SEASON)
        weeks = [
            WeekUse(first_day=YEAR_BEGINS + timedelta(days=7 * at), used=Decimal(str(round(used, 4))))
            for at, used in enumerate(self.weeks[code])
        ][-8:]
        if weeks:
            rate = use_rate(weeks, season=season, days_a_week=_WORKDAYS)
            mean, sd = rate.mean, rate.sd
        else:
            mean, sd = Decimal(str(self.mean_week.get(code, 0.0) / _WORKDAYS)), Decimal(0)
        ahead = season[(YEAR_BEGINS + timedelta(days=min(day + 14, DAYS - 1))).month - 1]
        mean, sd = mean * ahead, sd * ahead
        point = reorder_point(mean=mean, lead_days=_LEAD_DAYS, safety=safety_stock(z=_Z, sd=sd, lead_days=_LEAD_DAYS))
        free = standing - wanted
        if free >= float(point):
            return 0.0
        return float(point) + float(mean) * _WORKDAYS * _COVER_WEEKS * 0.5 - free

    def week_ends(self) -> None:
        for code in {*self.weeks, *self.this_week}:
            self.weeks[code].append(self.this_week[code])
        self.this_week.clear()


def _prices(shop: Shop) -> dict[str, float]:
    shelf = shop.facts.shelf
    every = [*shop.facts.containers, *shelf.wraps.values(), *shelf.fills.values(), *shelf.tapes.values(),
             *shelf.inserts.values(), *shelf.unit_boxes.values()]  # fmt: skip
    return {one.code: float(one.unit_cost) for one in every}


class YearPlay:
    """One player's year, quarter by quarter, so that what was learned by then can change the plans."""

    def __init__(self, shop: Shop, truth: Truth, minutes_a_day: float, mean_week: Mapping[str, float]) -> None:
        self.shop, self.truth, self.minutes_a_day = shop, truth, minutes_a_day
        self.mean_week = mean_week
        self.supplies: _Supplies | None = None
        self.open: list[YearOrder] = []
        self.day = 0
        self.out = Outcome(player="")
        self.arrivals: dict[str, list[int]] = defaultdict(lambda: [0, 0])
        self.asleep: list[float] = []
        self.late_supply: set[int] = set()

    def play(self, orders: Sequence[YearOrder], habit: Habit, quarter: int, until: int) -> None:
        """Play up to a day. ``orders`` are those placed before it and not played yet."""
        self.out.player = habit.player
        supplies = self.supplies or _Supplies(self.shop, self.mean_week, by_use=habit.by_expected_use)
        self.supplies = supplies
        coming = deque(orders)
        choose = cache(habit.choose)  # many orders are alike
        while self.day < until or (until >= DAYS and self.open and self.day < DAYS + 40):
            supplies.receive(self.day)
            while coming and coming[0].day < self.day:
                self.open.append(coming.popleft())
            weekday = (YEAR_BEGINS + timedelta(days=self.day)).weekday()
            if weekday < _WORKDAYS:
                self._work(habit, choose, quarter, supplies)
                supplies.order(self.day, self._wanted(choose, quarter))
            self.asleep.append(supplies.value())
            if weekday == 6:
                supplies.week_ends()
            self.day += 1
        self.open += coming

    def end(self) -> Outcome:
        """Return what the year came to."""
        self.out.asleep_mean = sum(self.asleep) / len(self.asleep)
        self.out.holding = self.out.asleep_mean * _INTEREST
        self.out.unsent += len(self.open)
        return self.out

    def known(self) -> dict[str, Arrivals]:
        """Return how parcels of each recipe arrived so far."""
        return {code: Arrivals(damaged=broken, known=count) for code, (broken, count) in self.arrivals.items()}

    def _wanted(self, choose: Chooser, quarter: int) -> Mapping[str, float]:
        found: dict[str, float] = defaultdict(float)
        for order in self.open:
            for way in choose(content_of(order, self.shop, quarter=quarter))[:1]:
                for code, quantity in way.uses:
                    found[code] += quantity
        return found

    def _work(self, habit: Habit, choose: Chooser, quarter: int, supplies: _Supplies) -> None:
        left = self.minutes_a_day
        queue = list(self.open)
        if habit.like_with_like:  # first what has no day to lose, then the rest; alike ones in a row
            queue.sort(key=lambda one: (self._due(one) - self.day > _SLACK, one.goods, one.day, one.number))
        before = ""
        kept: list[YearOrder] = []
        for at, order in enumerate(queue):
            ways = choose(content_of(order, self.shop, quarter=quarter))
            if not ways:
                self.out.unsent += 1
                continue
            way = next((one for one in ways if supplies.takes(one)), None)
            if way is None or way is not ways[0]:
                self.late_supply.add(order.number)
            if way is None:
                kept.append(order)
                continue
            if habit.like_with_like:
                way = self._in_time(way, order)
            alike = f"{order.goods} {way.container}"
            minutes = way.minutes * (_IN_A_ROW if alike == before else 1.0)
            # What takes longer than a day is begun on a day of its own, not never.
            if minutes > left < self.minutes_a_day:
                kept += queue[at:]
                break
            before, left = alike, left - minutes
            supplies.use(way)
            self._sent(order, way, minutes)
        self.open = kept
        self.out.waited = len(self.late_supply)

    def _sent(self, order: YearOrder, way: Packed, minutes: float) -> None:
        out, shop = self.out, self.shop
        out.orders += 1
        out.materials += way.materials
        out.labour += minutes * float(shop.facts.settings.wage_per_hour) / 60
        out.postage += way.postage
        out.paid.append(way.postage)
        prior, sku = max((shop.priors[sku], sku) for sku, _ in order.goods)
        recipe = shop.recipes[sku].code
        chance = self.truth.chance(
            prior=prior, recipe=recipe, carrier=way.carrier, void=way.void, gross_mg=way.gross_mg, exposed=way.exposed
        )
        broke = order.damage_draw < chance
        counted = self.arrivals[recipe]
        counted[1] += 1
        if broke:
            counted[0] += 1
            out.broken += 1
            goods = sum(float(shop.products[sku].goods_cost) * units for sku, units in order.goods)
            out.loss += goods + way.postage + way.materials
        rate = self.truth.late_rate[way.carrier]
        more = 1 + int(order.late_draw / rate * 3) if order.late_draw < rate else 0
        arrives = _working(self.day, way.days + more)
        out.late += arrives > self._due(order)

    def _due(self, order: YearOrder) -> int:
        """Return the day an order was promised for."""
        origin = self.shop.facts.settings.origin
        abroad = origin is not None and order.place.country != origin.country
        return _working(order.day, _URGENT_DAYS if order.urgent else _ABROAD_DAYS if abroad else _ORDINARY_DAYS)

    def _in_time(self, way: Packed, order: YearOrder) -> Packed:
        """Return the way by the cheapest service that still keeps the promise, when its own does not any more."""
        due = self._due(order)
        if _working(self.day, way.days) <= due:
            return way
        faster = [one for one in way.services if _working(self.day, one[3]) <= due]
        if not faster:
            return way
        code, carrier, price, days = min(faster, key=lambda one: (one[2], one[0]))
        return replace(way, service=code, carrier=carrier, postage=price, days=days)


def _working(day: int, days: int) -> int:
    """Return the day so many working days later."""
    while days > 0:
        day += 1
        if (YEAR_BEGINS + timedelta(days=day)).weekday() < _WORKDAYS:
            days -= 1
    return day
