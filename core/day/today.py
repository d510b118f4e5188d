"""One day put together: which parcels are due at which hand-over, the order of packing, when to start, what is late,
and the ways out (day; rules 20.5).

Each parcel has the hand-over its service must make; those of the day are packed in time if that can be. The latest
start of a hand-over is that of its parcels and of all due later that day: what is due earlier is packed by then.
"""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, time
from decimal import ROUND_HALF_UP, Decimal
from typing import Literal

from core.day.hand_overs import HandOver, TableHours, due_at, next_opening_s, share_out, tables_on
from core.day.model import LIKE_SAVING_PERCENT, Job, Schedule, Slot, Span, Table
from core.day.schedule import latest_start, schedule, soon_in_time
from core.day.waves import MOST_A_WAVE, Gathered, Wave, waves_of

__all__ = [
    "DayParcel",
    "DayPlan",
    "Moved",
    "Post",
    "WayKind",
    "WayOut",
    "jobs_of",
    "moved",
    "plan_day",
    "waves_of_day",
    "ways_of_day",
    "ways_out",
]

#: A person comes, or all begin, at a round time.
_ROUND_S = 300
_CENT = Decimal("0.01")


@dataclass(frozen=True, slots=True, kw_only=True)
class DayParcel:
    """One parcel that is planned and not closed yet."""

    code: str
    seconds: int
    alike: str
    carrier: str
    cut_off: time
    ship_on: date
    ready_s: int = 0  #: moment of the day from which it can be packed
    weight: int = 1
    hand_over: str = ""  #: key of the one a person chose
    begun: bool = False  #: it lies on a table: it is finished first, where that makes nothing late
    settle_s: int = 0  #: so long before it leaves it is packed: its closure holds fully then (rules 7.3)


@dataclass(frozen=True, slots=True, kw_only=True)
class Post:
    """A hand-over of the day and what is due at it."""

    hand_over: HandOver
    parcels: tuple[str, ...]  #: not packed yet, in the order of packing, late ones last
    late: tuple[str, ...]
    latest_start_s: int | None  #: begin by then, for this and all later ones; None: nothing to pack, or no way found
    seconds: int  #: that packing them takes as scheduled; late ones by their full time


@dataclass(frozen=True, slots=True, kw_only=True)
class DayPlan:
    """The day."""

    posts: tuple[Post, ...]
    schedule: Schedule
    tables: tuple[Table, ...]
    due: Mapping[str, HandOver]  #: of every parcel, also those of other days
    nowhere: tuple[str, ...]  #: no hand-over takes them within the days looked at
    ahead: frozenset[str] = frozenset()  #: packed today for a hand-over of a later day: their closure needs the time

    @property
    def latest_start_s(self) -> int | None:
        """Return when packing must begin for all of the day to leave."""
        return min((p.latest_start_s for p in self.posts if p.latest_start_s is not None), default=None)

    def closes_s(self, now_s: int) -> int:
        """Return until when somebody packs on this day."""
        return max((span.to_s for table in self.tables for span in table.spans), default=now_s)


def plan_day(
    parcels: Sequence[DayParcel],
    hand_overs: Sequence[HandOver],
    hours: Sequence[TableHours],
    *,
    today: date,
    now_s: int,
    closed: Collection[date] = (),
    saving_percent: int = LIKE_SAVING_PERCENT,
) -> DayPlan:
    """Return the day from now on. ``parcels`` are in the order they have a right to a full hand-over.

    Nobody goes on an own trip for which there is nothing to carry.
    """
    due, nowhere = _due(parcels, hand_overs, today, now_s)
    used = {one.key for one in due.values()}
    trips = [one for one in hand_overs if one.key in used]
    # Who packs no more today has no table: the numbers of the schedule's tables are those of ``tables``.
    tables = tuple(
        table for table in tables_on(today, hours, trips, today=today, closed=closed, from_s=now_s) if table.spans
    )
    opens_s = next_opening_s(hours, today=today, closed=closed)
    ahead = frozenset(
        one.code
        for one in parcels
        if one.settle_s and one.code in due and due[one.code].day > today
        and due[one.code].due_s - one.settle_s < opens_s
    )  # fmt: skip
    jobs = jobs_of(parcels, due, today, ahead)
    begun = {one.code for one in parcels if one.begun}
    found = _begun_first(jobs, begun, tables, saving_percent)
    place = {slot.code: number for number, slot in enumerate(found.slots)}
    seconds = {slot.code: slot.end_s - slot.start_s for slot in found.slots}
    posts = []
    for hand_over in hand_overs:
        if hand_over.day != today and all(due[code].key != hand_over.key for code in ahead):
            continue
        mine = [job for job in jobs if due[job.code].key == hand_over.key]
        late = tuple(job.code for job in mine if job.code in found.late)
        first_s = min((job.due_s for job in mine), default=0)
        later = [job for job in jobs if job.due_s >= first_s and job.code not in found.late]
        posts.append(
            Post(
                hand_over=hand_over,
                parcels=(*sorted((j.code for j in mine if j.code in place), key=place.__getitem__), *late),
                late=late,
                latest_start_s=latest_start(later, tables, saving_percent=saving_percent) if mine else None,
                seconds=sum(seconds.get(job.code, job.seconds) for job in mine),
            )
        )
    return DayPlan(posts=tuple(posts), schedule=found, tables=tables, due=due, nowhere=nowhere, ahead=ahead)


def _begun_first(
    jobs: tuple[Job, ...], begun: Collection[str], tables: tuple[Table, ...], saving_percent: int
) -> Schedule:
    """Return a schedule that finishes what lies on the tables before anything else, unless that leaves more behind."""
    here = [job for job in jobs if job.code in begun]
    rest = [job for job in jobs if job.code not in begun]
    if not here or not tables:
        return schedule(jobs, tables, saving_percent=saving_percent)
    slots: list[Slot] = []
    left = list(tables)
    for job in here:
        starts = [
            (next((s.from_s for s in table.spans if s.from_s + job.seconds <= min(s.to_s, job.due_s)), None), number)
            for number, table in enumerate(left)
        ]
        start, number = min(((at, n) for at, n in starts if at is not None), default=(None, 0))
        if start is None:
            return schedule(jobs, tables, saving_percent=saving_percent)
        end = start + job.seconds
        slots.append(Slot(code=job.code, table=number, start_s=start, end_s=end, in_row=False))
        left[number] = left[number].without(start, end)
    # A table that is full keeps its place, so that the others keep their numbers.
    open_now = [number for number, table in enumerate(left) if table.spans]
    others = schedule(rest, [left[number] for number in open_now], saving_percent=saving_percent)
    if others.late:
        free = schedule(jobs, tables, saving_percent=saving_percent)
        if len(free.late) < len(others.late) or free.outcome == "cannot":
            return free
        return replace(others, outcome="not_found", slots=_merged(slots, others, open_now), exact=False)
    return replace(others, slots=_merged(slots, others, open_now), exact=False)


def _merged(slots: list[Slot], others: Schedule, numbers: list[int]) -> tuple[Slot, ...]:
    placed = (replace(slot, table=numbers[slot.table]) for slot in others.slots)
    return tuple(sorted((*slots, *placed), key=lambda slot: (slot.start_s, slot.table)))


def jobs_of(
    parcels: Sequence[DayParcel], due: Mapping[str, HandOver], today: date, ahead: Collection[str] = ()
) -> tuple[Job, ...]:
    """Return what is to be packed for the hand-overs of the day, and ``ahead`` for one of a later day."""
    return tuple(
        Job(
            code=one.code,
            seconds=one.seconds,
            alike=one.alike,
            due_s=due[one.code].due_s - one.settle_s,
            ready_s=one.ready_s,
            weight=one.weight,
        )
        for one in parcels
        if one.code in due and (due[one.code].day == today or one.code in ahead)
    )


def _due(
    parcels: Sequence[DayParcel], hand_overs: Sequence[HandOver], today: date, now_s: int
) -> tuple[dict[str, HandOver], tuple[str, ...]]:
    by_key = {one.key: one for one in hand_overs}
    wanted: list[tuple[str, HandOver]] = []
    for parcel in parcels:
        chosen = by_key.get(parcel.hand_over)
        if chosen is None or chosen.due_s < now_s or not chosen.takes(parcel.carrier):
            chosen = due_at(
                parcel.carrier,
                parcel.cut_off,
                parcel.ship_on,
                hand_overs,
                today=today,
                now_s=now_s,
                settle_s=parcel.settle_s,
            )
        if chosen is not None:
            wanted.append((parcel.code, chosen))
    carriers = {parcel.code: parcel.carrier for parcel in parcels}
    due = share_out(wanted, hand_overs, carriers)
    return due, tuple(parcel.code for parcel in parcels if parcel.code not in due)


WayKind = Literal["person", "earlier"]


@dataclass(frozen=True, slots=True, kw_only=True)
class WayOut:
    """How all of the day could leave after all."""

    kind: WayKind
    at_s: int  #: one more person from then, or everybody begins then
    until_s: int  #: the additional person packs until then, or everybody's usual beginning
    cost: Decimal


def ways_out(
    jobs: Sequence[Job],
    tables: Sequence[Table],
    *,
    now_s: int,
    closes_s: int,
    wage_per_hour: Decimal,
    saving_percent: int = LIKE_SAVING_PERCENT,
) -> tuple[WayOut, ...]:
    """Return what brings all in time: one more person from the latest round time that is enough, and beginning earlier.

    ``tables`` begin with now; ``closes_s``: until when another person would pack. Each way is found by the same search,
    so it can be done; none is told that was not found.
    """
    tables = tuple(table for table in tables if table.spans)
    found = []
    another = _last_enough(
        now_s,
        closes_s,
        lambda at_s: soon_in_time(jobs, (*tables, _table(at_s, closes_s)), saving_percent=saving_percent),
    )
    if another is not None:
        plan = schedule(jobs, (*tables, _table(another, closes_s)), saving_percent=saving_percent)
        until = max((slot.end_s for slot in plan.of_table(len(tables))), default=another)
        found.append(WayOut(kind="person", at_s=another, until_s=until, cost=_wages(until - another, wage_per_hour)))
    opens_s = min((table.spans[0].from_s for table in tables if table.spans), default=now_s)
    if opens_s > now_s:
        earlier = _last_enough(
            now_s,
            opens_s,
            lambda at_s: soon_in_time(jobs, _from(tables, at_s, opens_s), saving_percent=saving_percent),
        )
        if earlier is not None and earlier < opens_s:
            people = sum(1 for table in tables if table.spans and table.spans[0].from_s == opens_s)
            cost = _wages((opens_s - earlier) * people, wage_per_hour)
            found.append(WayOut(kind="earlier", at_s=earlier, until_s=opens_s, cost=cost))
    return tuple(found)


def ways_of_day(
    plan: DayPlan, parcels: Sequence[DayParcel], *, today: date, now_s: int, wage_per_hour: Decimal, saving_percent: int
) -> tuple[WayOut, ...]:
    """Return what would bring all of a day in time; nothing when all are."""
    if not plan.schedule.late:
        return ()
    return ways_out(
        jobs_of(parcels, plan.due, today, plan.ahead),
        plan.tables,
        now_s=now_s,
        closes_s=plan.closes_s(now_s),
        wage_per_hour=wage_per_hour,
        saving_percent=saving_percent,
    )


def waves_of_day(plan: DayPlan, things: Mapping[str, frozenset[str]], *, most: int = MOST_A_WAVE) -> tuple[Wave, ...]:
    """Return the waves of the day in the order of packing, what is late last; of the parcels in ``things`` alone."""
    order = [*(slot.code for slot in plan.schedule.slots), *plan.schedule.late]
    return waves_of(
        [Gathered(code=code, hand_over=plan.due[code].key, things=things[code]) for code in order if code in things],
        most=most,
    )


def _table(from_s: int, to_s: int) -> Table:
    return Table(who="", spans=(Span(from_s=from_s, to_s=to_s),) if to_s > from_s else ())


def _from(tables: Sequence[Table], at_s: int, opens_s: int) -> tuple[Table, ...]:
    """Return the tables with those that open first open earlier."""
    return tuple(
        replace(table, spans=(replace(table.spans[0], from_s=at_s), *table.spans[1:]))
        if table.spans and table.spans[0].from_s == opens_s
        else table
        for table in tables
    )


def _last_enough(first_s: int, last_s: int, enough: Callable[[int], bool]) -> int | None:
    """Return the last round moment from ``first_s`` to ``last_s`` that is enough, None when not even the first is."""
    if not enough(first_s):
        return None
    low, high = first_s // _ROUND_S, last_s // _ROUND_S + 1
    while high - low > 1:
        middle = (low + high) // 2
        if enough(middle * _ROUND_S):
            low = middle
        else:
            high = middle
    return max(first_s, low * _ROUND_S)


def _wages(seconds: int, wage_per_hour: Decimal) -> Decimal:
    return (wage_per_hour * seconds / 3600).quantize(_CENT, ROUND_HALF_UP)


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """What moving a parcel does to the day."""

    makes_it: bool  #: the parcel is in time for its new hand-over; true for one of another day
    late: tuple[str, ...]  #: what would not make it then
    latest_start_s: int | None  #: of the whole day then


def moved(
    plan: DayPlan, parcels: Sequence[DayParcel], code: str, hand_over: HandOver, *, today: date, saving_percent: int
) -> Moved:
    """Return the day with one parcel at another hand-over."""
    due = {**plan.due, code: hand_over}
    jobs = jobs_of(parcels, due, today, plan.ahead - {code})
    found = schedule(jobs, plan.tables, saving_percent=saving_percent)
    start = latest_start(
        [job for job in jobs if job.code not in found.late], plan.tables, saving_percent=saving_percent
    )
    return Moved(makes_it=code not in found.late, late=found.late, latest_start_s=start)
