"""What a supply needs: its outlook, the offer to take and how much of it, and whether it is on the list (buying)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Literal

from core.buying.offers import ORDINARY_BUYING, Amount, Buying, Offer, amounts, arrives_on, best_amount
from core.buying.outlook import Arrival, Outlook, outlook, runs_out_with
from core.buying.reorder import Reorder, reorder
from core.buying.use import ALL_ALIKE, Season, UseRate, WeekUse, use_rate
from core.buying.workdays import WorkDays

__all__ = [
    "Line", "ListWhy", "Need", "Shop", "Watched", "best_line", "lasts_until", "line_at", "line_of", "watched",
]  # fmt: skip

#: Why it is on the list: it must be ordered within the days, its stock is at the mark, or its supplier is ordered from
#: anyway.
ListWhy = Literal["due", "mark", "with_it"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Need:
    """One supply as it stands; quantities in its stock unit."""

    code: str
    on_hand: Decimal
    arrivals: tuple[Arrival, ...] = ()
    needed: Mapping[date, Decimal]  #: by open planned orders, by the day they are packed for
    weeks: tuple[WeekUse, ...] = ()  #: of the ledger
    offers: tuple[Offer, ...] = ()
    room: Decimal | None = None  #: what its slot takes in all; None: nobody knows
    mark: Decimal | None = None  #: order when no more than this is there or on its way


@dataclass(frozen=True, slots=True, kw_only=True)
class Shop:
    """What all supplies share: the day, the calendar, the season and the judgements."""

    today: date
    calendar: WorkDays
    season: Season = ALL_ALIKE
    buying: Buying = ORDINARY_BUYING

    @property
    def longest_days(self) -> int:
        """Return the working days nothing is bought for longer than."""
        return self.buying.longest_weeks * self.calendar.a_week

    @property
    def cover_days(self) -> int:
        """Return the working days an order is to last."""
        return self.buying.cover_weeks * self.calendar.a_week


@dataclass(frozen=True, slots=True, kw_only=True)
class Watched:
    """A supply with its outlook."""

    need: Need
    rate: UseRate
    outlook: Outlook

    @property
    def stock_and_arriving(self) -> Decimal:
        """Return what is there and on its way."""
        return self.need.on_hand + self.arriving

    @property
    def arriving(self) -> Decimal:
        """Return what is on its way."""
        return sum((one.quantity for one in self.need.arrivals), Decimal(0))

    def asleep(self, shop: "Shop") -> Decimal:
        """Return how much of what is there is left after the longest time anything is bought for (rules 14.5)."""
        last = min(shop.longest_days, len(self.outlook.days)) - 1
        left = self.outlook.level_on(last) - self.arriving
        return max(Decimal(0), min(left, self.need.on_hand))


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One supply to buy, at one supplier."""

    code: str
    offer: Offer
    why: ListWhy
    amounts: tuple[Amount, ...]  #: the amount wanted, and those from which one costs less
    chosen: Amount
    reorder: Reorder
    runs_out: date | None  #: without it
    arrives_on: date
    arrives_at: int  #: its place among the days of the outlook
    lasts_until: date | None  #: with it; None: beyond the days looked at
    too_late: bool  #: it runs out before it arrives

    @property
    def better(self) -> Amount | None:
        """Return the amount of which a year costs less than of the chosen one, where money was short; the cheapest."""
        now = self.chosen.yearly
        if now is None:
            return None
        cheaper = [one for one in self.amounts if not one.barred and one.yearly is not None and one.yearly < now]
        return min(cheaper, key=lambda one: one.yearly or Decimal(0), default=None)


def watched(needs: Sequence[Need], shop: Shop) -> tuple[Watched, ...]:
    """Return every supply with its outlook, all over the same days."""
    lead = max((offer.supplier.lead_days for need in needs for offer in need.offers), default=0)
    days = shop.calendar.days(shop.today, shop.longest_days + shop.cover_days + lead + 15)
    found = []
    for need in needs:
        rate = use_rate(need.weeks, season=shop.season, days_a_week=shop.calendar.a_week)
        look = outlook(need.on_hand, need.arrivals, need.needed, rate, season=shop.season, days=days)
        found.append(Watched(need=need, rate=rate, outlook=look))
    return tuple(found)


def line_at(one: Watched, offer: Offer, shop: Shop, *, why: ListWhy = "due") -> Line:
    """Return what to buy of a supply at one supplier, were it ordered today."""
    look, buying = one.outlook, shop.buying
    ordered = shop.today if shop.calendar.works_on(shop.today) else shop.calendar.add(shop.today, 1)
    arrives = arrives_on(offer.supplier, ordered, shop.calendar)
    at = next((n for n, day in enumerate(look.days) if day >= arrives), len(look.days) - 1)
    spread = one.rate.sd * shop.season[look.days[0].month - 1]
    asks = reorder(
        look.runs_out,
        mean=look.mean_now,
        sd=spread,
        lead_days=offer.supplier.lead_days,
        z=buying.z,
        calendar=shop.calendar,
    )
    used = look.used_in(at, shop.cover_days)
    before = look.level_on(at - 1) if at else one.need.on_hand
    wanted = max(Decimal(0), used + asks.safety - before)
    # A break is weighed by the use of the whole cover, not by that of one day that may be a large one.
    a_day = used / shop.cover_days
    found = amounts(
        offer,
        wanted,
        use_a_day=a_day,
        use_a_year=a_day * shop.calendar.a_year,
        room=None if one.need.room is None else one.need.room - max(Decimal(0), before),
        longest_days=shop.longest_days,
        buying=buying,
    )
    chosen = best_amount(found)
    return Line(
        code=one.need.code,
        offer=offer,
        why=why,
        amounts=found,
        chosen=chosen,
        reorder=asks,
        runs_out=look.runs_out,
        arrives_on=arrives,
        arrives_at=at,
        lasts_until=lasts_until(one, chosen.quantity, at),
        too_late=look.runs_out is not None and look.runs_out < arrives,
    )


def lasts_until(one: Watched, quantity: Decimal, arrives_at: int) -> date | None:
    """Return the day it runs out on when so much more arrives; None: beyond the days looked at."""
    return one.outlook.day_at(runs_out_with(one.outlook, quantity, arrives_at))


def best_line(one: Watched, shop: Shop) -> Line | None:
    """Return what would be bought of a supply today, where a year of it costs least of those that come in time.

    None when nobody offers it.
    """
    return min((line_at(one, offer, shop) for offer in one.need.offers), key=_rank, default=None)


def line_of(one: Watched, shop: Shop) -> Line | None:
    """Return what to buy of a supply; None when nobody offers it, or it need not be ordered yet."""
    best = best_line(one, shop)
    if best is None:
        return None
    last = shop.calendar.add(shop.today, shop.buying.within_days)
    if best.reorder.order_by is not None and best.reorder.order_by <= last:
        return best
    mark = one.need.mark
    if mark is not None and one.stock_and_arriving <= mark:
        return replace(best, why="mark")
    return None


def _rank(line: Line) -> tuple[bool, Decimal, str]:
    amount = line.chosen
    return line.too_late, amount.yearly if amount.yearly is not None else amount.goods, line.offer.supplier.code
