"""Hand-overs: when a carrier collects or we go to the counter, and which one a parcel must make (day; rules 20.1).

A service's cut-off on a ship day is the last moment at which it counts as handed over on that day. A parcel is due at
the last hand-over of its carrier at or before it. Closures of the workshop and holidays of the carrier have none.
Moments are seconds from the midnight of the day looked at; those of other days are so many whole days away.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, time, timedelta
from typing import Literal

from core.day.model import Span, Table

__all__ = [
    "DAY_S",
    "HandOver",
    "HandOverKind",
    "HandOverRule",
    "TableHours",
    "due_at",
    "hand_overs_between",
    "leaves_with",
    "moment_s",
    "next_opening_s",
    "next_taking",
    "share_out",
    "tables_on",
]

HandOverKind = Literal["collection", "trip"]
DAY_S = 86_400
#: A carrier may come so much late (a judgement).
LATE_S = 3_600
#: So many days ahead a hand-over is looked for.
_FAR_DAYS = 35


@dataclass(frozen=True, slots=True, kw_only=True)
class HandOverRule:
    """A hand-over that comes again: a carrier's collection, or our own trip."""

    code: str
    carriers: tuple[str, ...]  #: what it takes; empty: parcels of every carrier
    kind: HandOverKind
    days: tuple[int, ...]  #: weekdays, Monday 0
    at: time  #: the carrier comes, or we are at the counter
    way_minutes: int = 0  #: of an own trip, one way
    most_parcels: int | None = None
    who: str = ""  #: who goes; empty: whoever is first at the table then
    closed_on: tuple[date, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class HandOver:
    """One hand-over on one day."""

    code: str
    carriers: tuple[str, ...]
    kind: HandOverKind
    day: date
    at_s: int  #: the carrier comes, or we are at the counter
    due_s: int  #: packed by then: when it is collected, or when we leave
    back_s: int  #: we are back from the counter; of a collection the same as ``at_s``
    most_parcels: int | None = None
    who: str = ""

    @property
    def key(self) -> str:
        """Return what names it among all days' hand-overs."""
        return f"{self.code}@{self.day.isoformat()}"

    def takes(self, carrier: str) -> bool:
        """Return whether a carrier's parcels go with it."""
        return not self.carriers or carrier in self.carriers


@dataclass(frozen=True, slots=True, kw_only=True)
class TableHours:
    """When one person packs, by weekday."""

    who: str
    days: tuple[int, ...]  #: Monday 0
    begins: time
    ends: time


def moment_s(day: date, at: time, today: date) -> int:
    """Return a moment in seconds from the midnight of ``today``.

    >>> moment_s(date(2026, 11, 24), time(9, 30), date(2026, 11, 23)) == DAY_S + 34_200
    True
    """
    return (day - today).days * DAY_S + at.hour * 3600 + at.minute * 60 + at.second


def hand_overs_between(
    rules: Sequence[HandOverRule],
    *,
    today: date,
    first: date,
    days: int,
    closed: Collection[date] = (),
    holidays: Mapping[str, Collection[date]] | None = None,
) -> tuple[HandOver, ...]:
    """Return every hand-over from ``first`` on, earliest first.

    ``closed``: days the workshop is closed; ``holidays``: days on which nothing of a carrier moves.
    """
    found = []
    for ahead in range(days):
        day = first + timedelta(days=ahead)
        if day in closed:
            continue
        for rule in rules:
            if day.weekday() not in rule.days or day in rule.closed_on:
                continue
            moving = tuple(code for code in rule.carriers if day not in (holidays or {}).get(code, ()))
            if rule.carriers and not moving:
                continue
            at_s = moment_s(day, rule.at, today)
            way_s = rule.way_minutes * 60 if rule.kind == "trip" else 0
            found.append(
                HandOver(
                    code=rule.code,
                    carriers=moving,
                    kind=rule.kind,
                    day=day,
                    at_s=at_s,
                    due_s=at_s - way_s,
                    back_s=at_s + way_s,
                    most_parcels=rule.most_parcels,
                    who=rule.who,
                )
            )
    return tuple(sorted(found, key=lambda one: (one.at_s, one.code)))


def due_at(
    carrier: str,
    cut_off: time,
    ship_on: date,
    hand_overs: Sequence[HandOver],
    *,
    today: date,
    now_s: int,
    settle_s: int = 0,
) -> HandOver | None:
    """Return the hand-over a parcel of a service must make, None when there is none within the days looked at.

    It is the last one at or before the cut-off of ``ship_on`` and after that of the day before, so that it counts as of
    that day and not an earlier one. When those are over, or there are none, it is the next day's. ``settle_s``: so long
    after the packing its closure holds fully, which must be before it leaves (rules 7.3).
    """
    mine = [one for one in hand_overs if one.takes(carrier) and one.due_s - settle_s >= now_s]
    for ahead in range(_FAR_DAYS):
        last_s = moment_s(ship_on + timedelta(days=ahead), cut_off, today)
        for one in reversed(mine):
            if last_s - DAY_S < one.at_s <= last_s:
                return one
    return None


def share_out(
    wanted: Sequence[tuple[str, HandOver]], hand_overs: Sequence[HandOver], carriers: Mapping[str, str]
) -> dict[str, HandOver]:
    """Return each parcel's hand-over when none takes more than it can: who came first goes first, the others wait.

    ``wanted``: parcel and its hand-over, in the order they have a right to it; ``carriers``: of each parcel.
    A parcel for which no later one has room either is not in the answer.
    """
    count: dict[str, int] = {}
    found: dict[str, HandOver] = {}
    for code, first in wanted:
        later = (one for one in hand_overs if one.takes(carriers[code]) and one.at_s > first.at_s)
        for one in (first, *later):
            if one.most_parcels is None or count.get(one.key, 0) < one.most_parcels:
                count[one.key] = count.get(one.key, 0) + 1
                found[code] = one
                break
    return found


def next_taking(carrier: str, hand_overs: Sequence[HandOver], *, after_s: int) -> HandOver | None:
    """Return the next hand-over later than a moment that takes a carrier's parcels."""
    return next((one for one in hand_overs if one.takes(carrier) and one.at_s > after_s), None)


def leaves_with(
    carrier: str, hand_overs: Sequence[HandOver], *, done: Collection[str], now_s: int, holds_s: int | None = None
) -> HandOver | None:
    """Return the hand-over a closed parcel goes with: the next of its carrier that was not done yet.

    One that is not recorded yet still counts for an hour after its time: carriers come late. ``holds_s``: none before
    its closure holds fully, by the time they are due.
    """
    open_now = [one for one in hand_overs if one.key not in done and (holds_s is None or one.at_s >= holds_s)]
    return next_taking(carrier, open_now, after_s=now_s - LATE_S - 1)


def tables_on(
    day: date,
    hours: Sequence[TableHours],
    hand_overs: Sequence[HandOver],
    *,
    today: date,
    closed: Collection[date] = (),
    from_s: int | None = None,
) -> tuple[Table, ...]:
    """Return who packs when on a day, in the order of ``hours``; a person on an own trip is away until back.

    ``from_s``: only what is still to come. Nobody packs on a day the workshop is closed.
    """
    if day in closed:
        return ()
    found: dict[str, Table] = {}
    for one in hours:
        if day.weekday() not in one.days:
            continue
        begins, ends = moment_s(day, one.begins, today), moment_s(day, one.ends, today)
        before = found.get(one.who, Table(who=one.who, spans=()))
        found[one.who] = _with_span(before, begins, ends)
    for trip in hand_overs:
        if trip.kind == "trip" and trip.day == day:
            who = trip.who or next(
                (who for who, table in found.items() if table.within(trip.due_s, trip.at_s).spans), ""
            )
            if who in found:
                found[who] = found[who].without(trip.due_s, trip.back_s)
    tables = found.values()
    return tuple(
        table if from_s is None else table.within(from_s, moment_s(day, time(0), today) + DAY_S) for table in tables
    )


def next_opening_s(
    hours: Sequence[TableHours], *, today: date, closed: Collection[date] = (), within_days: int = _FAR_DAYS
) -> int:
    """Return when somebody packs again after today; the end of the days looked at when nobody does."""
    for ahead in range(1, within_days):
        day = today + timedelta(days=ahead)
        if day in closed:
            continue
        begins = [one.begins for one in hours if day.weekday() in one.days and one.begins < one.ends]
        if begins:
            return moment_s(day, min(begins), today)
    return within_days * DAY_S


def _with_span(table: Table, begins_s: int, ends_s: int) -> Table:
    """Return the table with more hours; hours that touch or overlap are one span."""
    if ends_s <= begins_s:
        return table
    spans = sorted([*((s.from_s, s.to_s) for s in table.spans), (begins_s, ends_s)])
    joined: list[tuple[int, int]] = []
    for begin, end in spans:
        if joined and begin <= joined[-1][1]:
            joined[-1] = (joined[-1][0], max(end, joined[-1][1]))
        else:
            joined.append((begin, end))
    return replace(table, spans=tuple(Span(from_s=begin, to_s=end) for begin, end in joined))
