"""How a supply's stock goes on day by day, and when it runs out (buying; rules 14.2).

Sums go in millionths of a stock unit, whole numbers: a hundred supplies over half a year are worked out at once.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from math import isqrt

from core.buying.use import Season, UseRate

__all__ = ["Arrival", "Outlook", "outlook", "parts", "runs_out_with"]

_PARTS = 1_000_000
#: Nine times in ten the run-out is within so many deviations of what is expected, in thousandths.
_RANGE_PER_MILLE = 1_645


@dataclass(frozen=True, slots=True, kw_only=True)
class Arrival:
    """Stock that was ordered and is not there yet."""

    day: date
    quantity: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """The days looked at, and what is on the shelf at the end of each, in millionths of the stock unit."""

    mean_now: Decimal  #: what a working day of the first day's month uses, by the last weeks; stock units
    days: tuple[date, ...]  #: working days from today on
    use: tuple[int, ...]  #: of each day
    level: tuple[int, ...]
    spread: tuple[int, ...]  #: half of the range nine in ten lie in
    runs_out: date | None  #: first day on which there is too little; None: not within the days
    early: date | None  #: nine in ten run out between this
    late: date | None  #: and this day; None: beyond

    @property
    def cover_days(self) -> int | None:
        """Return for how many working days it lasts, today included; None: beyond the days."""
        return None if self.runs_out is None else self.days.index(self.runs_out)

    def day_at(self, at: int) -> date | None:
        """Return a day by its place; None: it is beyond the days looked at."""
        return self.days[at] if at < len(self.days) else None

    def level_on(self, at: int) -> Decimal:
        """Return the stock at the end of a day, by its place among the days."""
        return Decimal(self.level[at]) / _PARTS

    def half_range_on(self, at: int) -> Decimal:
        """Return by how much it may be more or less at the end of a day, nine times in ten."""
        return Decimal(self.spread[at]) / _PARTS

    def used_in(self, first: int, count: int) -> Decimal:
        """Return what so many days from a place on use together."""
        return Decimal(sum(self.use[first : first + count])) / _PARTS


def parts(quantity: Decimal) -> int:
    """Return a quantity in millionths, rounded to the nearest."""
    return int((quantity * _PARTS).to_integral_value())


def outlook(
    on_hand: Decimal,
    arrivals: Sequence[Arrival],
    needed: Mapping[date, Decimal],
    rate: UseRate,
    *,
    season: Season,
    days: Sequence[date],
) -> Outlook:
    """Return the stock of the days to come.

    ``needed``: what open planned orders need, by the day they are packed for; what is overdue is needed today. Each day
    uses the larger of that and the mean. What should have arrived by now is counted on from tomorrow.
    """
    if not days:
        raise ValueError("no days to look at")
    asked = [0] * len(days)
    for day, quantity in needed.items():
        at = _at(days, day)
        if at is not None:
            asked[at] += parts(quantity)
    comes = [0] * len(days)
    for arrival in arrivals:
        at = _at(days, arrival.day) if arrival.day >= days[0] else min(1, len(days) - 1)
        if at is not None:
            comes[at] += parts(arrival.quantity)
    mean_by_month = {month: parts(rate.mean * season[month - 1]) for month in range(1, 13)}
    sd_by_month = {month: parts(rate.sd * season[month - 1]) for month in range(1, 13)}
    use, level, spread = [], [], []
    stock, variance = parts(on_hand), 0
    for at, day in enumerate(days):
        used = max(asked[at], mean_by_month[day.month])
        stock += comes[at] - used
        variance += sd_by_month[day.month] ** 2
        use.append(used)
        level.append(stock)
        spread.append(isqrt(variance) * _RANGE_PER_MILLE // 1_000)
    return Outlook(
        mean_now=Decimal(mean_by_month[days[0].month]) / _PARTS,
        days=tuple(days),
        use=tuple(use),
        level=tuple(level),
        spread=tuple(spread),
        runs_out=next((day for day, now in zip(days, level, strict=True) if now < 0), None),
        early=next((d for d, now, more in zip(days, level, spread, strict=True) if now - more < 0), None),
        late=next((d for d, now, more in zip(days, level, spread, strict=True) if now + more < 0), None),
    )


def runs_out_with(found: Outlook, quantity: Decimal, arrives_at: int) -> int:
    """Return the place of the day it runs out on when so much more arrives; the number of days when it does not.

    What runs out before the arrival cannot be helped by it: the next time it runs out counts then.
    """
    more = parts(quantity)
    if more <= 0:
        return next((at for at, now in enumerate(found.level) if now < 0), len(found.days))
    return next((at for at in range(arrives_at, len(found.days)) if found.level[at] + more < 0), len(found.days))


def _at(days: Sequence[date], day: date) -> int | None:
    """Return the place of the first working day at or after a day; None: after the last."""
    low, high = 0, len(days)
    while low < high:
        middle = (low + high) // 2
        if days[middle] < day:
            low = middle + 1
        else:
            high = middle
    return low if low < len(days) else None
