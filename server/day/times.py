"""The workshop's hours, hand-overs and closures as the core wants them, and its clock (day)."""

from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from django.utils import timezone

from core.day.hand_overs import HandOver, HandOverRule, TableHours, hand_overs_between, moment_s
from core.tariffs.quote import tariffs_in_force
from server.carriers.models import TariffVersion
from server.carriers.selectors import core_tariffs
from server.day.models import Closure, HandOverTime, PackingHours
from server.plans.facts import ship_days
from server.workshops.models import Workshop

__all__ = ["ASSUMED_BEGINS", "ASSUMED_ENDS", "DAYS_AHEAD", "Clock", "Times", "clock_of", "times_of"]

#: Until somebody says otherwise one person packs from nine to five.
ASSUMED_BEGINS, ASSUMED_ENDS = time(9), time(17)
#: Hand-overs are looked for so many days ahead.
DAYS_AHEAD = 21


@dataclass(frozen=True, slots=True, kw_only=True)
class Clock:
    """The workshop's own clock, read once."""

    now: datetime  #: with its time zone; of another day that is looked at its first moment
    real: datetime  #: what the clock shows now

    @property
    def today(self) -> date:
        """Return the day."""
        return self.now.date()

    @property
    def now_s(self) -> int:
        """Return the time of day in seconds from midnight, as the clock on the wall shows it."""
        return moment_s(self.today, self.now.time(), self.today)

    def moment(self, at_s: int) -> datetime:
        """Return a moment of the day with the workshop's time zone."""
        wall = datetime.combine(self.today, time(0)) + timedelta(seconds=at_s)
        return wall.replace(tzinfo=self.now.tzinfo)

    def seconds(self, moment: datetime) -> int:
        """Return a moment as the wall's clock shows it, in seconds from today's midnight."""
        wall = moment.astimezone(self.now.tzinfo)
        return moment_s(wall.date(), wall.time(), self.today)


def clock_of(workshop: Workshop, day: date | None = None) -> Clock:
    """Return what the clock on the workshop's wall shows; of a later day its midnight, to look at it ahead."""
    now = timezone.now().astimezone(ZoneInfo(workshop.time_zone))
    if day is None or day <= now.date():
        return Clock(now=now, real=now)
    return Clock(now=datetime.combine(day, time(0), tzinfo=now.tzinfo), real=now)


@dataclass(frozen=True, slots=True, kw_only=True)
class Times:
    """Everything of the workshop's times that a day depends on."""

    hours: tuple[TableHours, ...]
    hours_assumed: bool
    hand_overs: tuple[HandOver, ...]  #: from today on
    names: dict[str, str]  #: of hand-overs, by code
    assumed: frozenset[str]  #: codes of hand-overs nobody entered: taken from the carriers' cut-offs
    closed: frozenset[date]

    def name_of(self, hand_over: HandOver) -> str:
        """Return what a hand-over is called."""
        return self.names[hand_over.code]

    def by_key(self, key: str) -> HandOver | None:
        """Return a hand-over from today on, None when there is no such."""
        return next((one for one in self.hand_overs if one.key == key), None)

    def opening_s(self, day: date, today: date) -> int:
        """Return when packing begins on a day, in seconds from the midnight of ``today``."""
        mine = [one.begins for one in self.hours if day.weekday() in one.days]
        return moment_s(day, min(mine, default=ASSUMED_BEGINS), today)


def times_of(workshop: Workshop, clock: Clock) -> Times:
    """Return the workshop's times; what nobody entered is assumed, and said to be."""
    hours = tuple(
        TableHours(who=row.who, days=tuple(row.days), begins=row.begins, ends=row.ends)
        for row in PackingHours.objects.of(workshop)
    )
    assumed_hours = TableHours(who="", days=ship_days(workshop), begins=ASSUMED_BEGINS, ends=ASSUMED_ENDS)
    rows = list(HandOverTime.objects.of(workshop))
    rules = [_rule(row) for row in rows]
    names = {str(row.pk): row.name for row in rows}
    assumed: list[HandOverRule] = []
    if all(rule.carriers for rule in rules):
        assumed = _assumed(workshop, clock.today, {code for rule in rules for code in rule.carriers}, names)
    closed = frozenset(Closure.objects.of(workshop).filter(day__gte=clock.today).values_list("day", flat=True))
    return Times(
        hours=hours or (assumed_hours,),
        hours_assumed=not hours,
        hand_overs=hand_overs_between(
            [*rules, *assumed],
            today=clock.today,
            first=clock.today,
            days=DAYS_AHEAD,
            closed=closed,
            holidays=_holidays(workshop),
        ),
        names=names,
        assumed=frozenset(rule.code for rule in assumed),
        closed=closed,
    )


def _rule(row: HandOverTime) -> HandOverRule:
    return HandOverRule(
        code=str(row.pk),
        carriers=tuple(row.carriers),
        kind="trip" if row.kind == HandOverTime.Kind.TRIP else "collection",
        days=tuple(row.days),
        at=row.at,
        way_minutes=row.way_minutes,
        most_parcels=row.most_parcels,
        who=row.who,
    )


def _assumed(workshop: Workshop, today: date, known: set[str], names: dict[str, str]) -> list[HandOverRule]:
    """Return a collection at the last cut-off of each carrier for which nobody entered a hand-over."""
    carriers = set(TariffVersion.objects.of(workshop).order_by().values_list("carrier", flat=True).distinct())
    if carriers <= known:
        return []
    found = []
    for tariff in tariffs_in_force(core_tariffs(workshop), today):
        services = [one for one in tariff.services if not workshop.services or one.code in workshop.services]
        if tariff.carrier in known or not services:
            continue
        code = f"at-{tariff.carrier}"[:25]
        names[code] = tariff.carrier_name
        last = max(one.cut_off for one in services)
        found.append(
            HandOverRule(code=code, carriers=(tariff.carrier,), kind="collection", days=ship_days(workshop), at=last)
        )
    return found


def _holidays(workshop: Workshop) -> dict[str, frozenset[date]]:
    """Return the days on which nothing of a carrier moves, from all its lists."""
    found: dict[str, set[date]] = {}
    rows = TariffVersion.objects.of(workshop).values_list("carrier", "document__holidays")
    for carrier, days in rows:
        found.setdefault(carrier, set()).update(date.fromisoformat(day) for day in days or ())
    return {carrier: frozenset(days) for carrier, days in found.items()}
