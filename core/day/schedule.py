"""Which parcel is packed when and by whom, so that as many as can be are in time (day; rules 20.3).

Aim, in this order: the most weight in time; then the last parcel packed as early as can be. Up to MOST_EXACT parcels
every order at every table is looked through. Beyond, orders are begun with (earliest due first, like with like; rows of
alike parcels across dues; longest first) and improved by moves; "cannot" is said only where a bound proves it:

- one parcel alone does not end in time at any table;
- of all due by some moment, the least seconds are more than all tables have until then. A parcel counts with its time
  in a row, but for one of each kind when no other of the kind is due later;
- of those due by some moment there are few, and every order of them was looked through (with their time in a row where
  another of the kind is due later, which is never more than they take).

Worked by hand: A and B due in 30 minutes, A and B due in 37.5, 10 minutes each, one table: earliest due first takes
10 + 10 + 10 + 8.5 = 38.5; A A B B takes 10 + 8.5 + 10 + 8.5 = 37.0 and is in time.
"""

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from typing import Literal

import numpy as np

from core.day.kernel import MOST_EXACT, NEVER, Row, Work, best_sets, improved, latest_common_start, placed
from core.day.model import LIKE_SAVING_PERCENT, Job, Outcome, Schedule, Slot, Table, saved_seconds

__all__ = [
    "EVALUATIONS",
    "LateWhy",
    "latest_of_many",
    "latest_start",
    "schedule",
    "soon_in_time",
    "why_late",
]

#: Parcel placements that improving may take: 60 parcels get 2 500 orders, 300 get 500.
EVALUATIONS = 150_000
#: And when only asked whether all can be in time, from an order that was found before.
_EVALUATIONS_AGAIN = 8_000


def schedule(jobs: Sequence[Job], tables: Sequence[Table], *, saving_percent: int = LIKE_SAVING_PERCENT) -> Schedule:
    """Return the order of packing, and what cannot be in time.

    ``tables`` hold only time that is still to come. Parcels have distinct codes.
    """
    jobs, tables = tuple(jobs), tuple(table for table in tables if table.spans)
    if len(jobs) <= MOST_EXACT:
        return _exact(jobs, tables, saving_percent)
    found = _searched(jobs, tables, saving_percent, EVALUATIONS)
    if not found.late:
        return found
    outcome: Outcome = "cannot" if _ruled_out(jobs, tables, saving_percent) else "not_found"
    if outcome == "not_found" and 1 < len(tables) <= _MOST_LEFT_OUT:
        # Who packs alone may do what was not found for two: another person never makes a day worse.
        for table in range(len(tables)):
            fewer = schedule(jobs, tables[:table] + tables[table + 1 :], saving_percent=saving_percent)
            if not fewer.late:
                return replace(fewer, slots=tuple(_at(slot, table) for slot in fewer.slots))
    return replace(found, outcome=outcome)


#: More people than this are not tried without one of them.
_MOST_LEFT_OUT = 3


def _at(slot: Slot, left_out: int) -> Slot:
    return replace(slot, table=slot.table + 1) if slot.table >= left_out else slot


def soon_in_time(jobs: Sequence[Job], tables: Sequence[Table], *, saving_percent: int = LIKE_SAVING_PERCENT) -> bool:
    """Return whether all are in time, with little search, for asking often: a way may be missed, none is made up."""
    jobs, tables = tuple(jobs), tuple(table for table in tables if table.spans)
    if len(jobs) <= MOST_EXACT:
        return not _exact(jobs, tables, saving_percent).late
    return not _searched(jobs, tables, saving_percent, _EVALUATIONS_AGAIN).late


def latest_start(
    jobs: Sequence[Job], tables: Sequence[Table], *, saving_percent: int = LIKE_SAVING_PERCENT
) -> int | None:
    """Return the last moment before which nobody need begin for all these to be in time; None: no way was found.

    Exact for few parcels. For many it is a moment for which an order was found, to the minute: later ones may be.
    Worked by hand: 60 minutes due at 10:00 and 60 due at 10:30, one table: 8:30, since the second hour ends at 10:30.
    """
    jobs, tables = tuple(jobs), tuple(table for table in tables if table.spans)
    if not jobs or not tables:
        return None
    if len(jobs) <= MOST_EXACT:
        found = int(latest_common_start(_work(jobs, tables, saving_percent)))
        return None if found <= -NEVER else found
    many = latest_of_many(jobs, tables, saving_percent=saving_percent)
    return None if many is None else many[0]


def latest_of_many(
    jobs: tuple[Job, ...], tables: tuple[Table, ...], *, saving_percent: int = LIKE_SAVING_PERCENT
) -> tuple[int, Schedule] | None:
    """Return the latest start that was found, with the schedule that shows it can be kept; every table has hours."""
    orders = _first_orders(jobs)
    work = _work(jobs, tables, saving_percent)
    best = min(orders, key=lambda order: improved(work, order, 0, True))
    if improved(work, best, EVALUATIONS // len(jobs), True)[0] > 0:
        return None
    begin = min(table.spans[0].from_s for table in tables)
    low, high = 0, (max(job.due_s for job in jobs) - begin) // 60 + 1
    while high - low > 1:
        middle = (low + high) // 2
        later = _work(jobs, _beginning(tables, begin + middle * 60), saving_percent)
        for order in (*(one for one in orders if one is not best), best):
            tried = order.copy()
            if improved(later, tried, _EVALUATIONS_AGAIN // len(jobs), True)[0] == 0:
                low, best = middle, tried
                break
        else:
            high = middle
    start = begin + low * 60
    return start, _as_ordered(best, jobs, _beginning(tables, start), saving_percent)


def _beginning(tables: tuple[Table, ...], at_s: int) -> tuple[Table, ...]:
    return tuple(table.within(at_s, NEVER) for table in tables)


def _work(jobs: tuple[Job, ...], tables: tuple[Table, ...], saving_percent: int) -> Work:
    kinds: dict[str, int] = {}
    spans = max((len(table.spans) for table in tables), default=1)
    begins = np.zeros((len(tables), max(1, spans)), dtype=np.int64)
    ends = np.full_like(begins, -NEVER)
    for row, table in enumerate(tables):
        for column, span in enumerate(table.spans):
            begins[row, column], ends[row, column] = span.from_s, span.to_s
    return Work(
        full=_row(job.seconds for job in jobs),
        saved=_row(saved_seconds(job.seconds, saving_percent) for job in jobs),
        alike=_row(kinds.setdefault(job.alike, len(kinds)) if job.alike else -1 for job in jobs),
        due=_row(job.due_s for job in jobs),
        ready=_row(job.ready_s for job in jobs),
        weight=_row(job.weight for job in jobs),
        begins=begins,
        ends=ends,
    )


def _row(values: Iterable[int]) -> Row:
    return np.array(list(values), dtype=np.int64)


def _exact(given: tuple[Job, ...], tables: tuple[Table, ...], saving_percent: int) -> Schedule:
    # Among equals the first parcel found stands last: so the latest due comes first here.
    jobs = tuple(given[int(j)] for j in reversed(_first_orders(given)[0]))
    table_of = np.full(len(jobs), -1, dtype=np.int64)
    rank = np.zeros(len(jobs), dtype=np.int64)
    work = _work(jobs, tables, saving_percent)
    if jobs and tables:
        best_sets(work, table_of, rank)
    slots = []
    for number in range(len(tables)):
        mine = sorted((j for j in range(len(jobs)) if table_of[j] == number), key=lambda j: int(rank[j]))
        slots += _walked([jobs[j] for j in mine], tables[number], number, saving_percent)
    left = {job.code for j, job in enumerate(jobs) if table_of[j] < 0}
    late = tuple(job.code for job in given if job.code in left)
    return Schedule(outcome="cannot" if late else "all", slots=_in_time_order(slots), late=late, exact=True)


def _walked(jobs: Sequence[Job], table: Table, number: int, saving_percent: int) -> list[Slot]:
    """Pack parcels one after another at a table, each as early as it can be."""
    found: list[Slot] = []
    before: Job | None = None
    for job in jobs:
        in_row = before is not None and bool(job.alike) and before.alike == job.alike
        takes = saved_seconds(job.seconds, saving_percent) if in_row else job.seconds
        at = max(job.ready_s, found[-1].end_s if found else job.ready_s)
        start = next(max(s.from_s, at) for s in table.spans if max(s.from_s, at) + takes <= s.to_s)
        found.append(Slot(code=job.code, table=number, start_s=start, end_s=start + takes, in_row=in_row))
        before = job
    return found


def _in_time_order(slots: list[Slot]) -> tuple[Slot, ...]:
    return tuple(sorted(slots, key=lambda slot: (slot.start_s, slot.table)))


def _searched(jobs: tuple[Job, ...], tables: tuple[Table, ...], saving_percent: int, most: int) -> Schedule:
    """Begin with several orders, go on from the best."""
    if not tables:
        return Schedule(outcome="not_found", slots=(), late=tuple(job.code for job in jobs), exact=False)
    work = _work(jobs, tables, saving_percent)
    orders = _first_orders(jobs)
    order = min(orders, key=lambda order: improved(work, order, 0, False))
    improved(work, order, most // len(jobs), False)
    return _as_ordered(order, jobs, tables, saving_percent)


def _as_ordered(order: Row, jobs: tuple[Job, ...], tables: tuple[Table, ...], saving_percent: int) -> Schedule:
    """Return the schedule of parcels taken in an order, each to the table where it ends first."""
    table_of, start, end = (np.zeros(len(jobs), dtype=np.int64) for _ in range(3))
    placed(_work(jobs, tables, saving_percent), order, table_of, start, end)
    slots = []
    for number in range(len(tables)):
        mine = sorted((j for j in range(len(jobs)) if table_of[j] == number), key=lambda j: int(start[j]))
        slots += _walked([jobs[j] for j in mine], tables[number], number, saving_percent)
    late = tuple(job.code for j, job in enumerate(jobs) if table_of[j] < 0)
    return Schedule(outcome="not_found" if late else "all", slots=_in_time_order(slots), late=late, exact=False)


def _first_orders(jobs: tuple[Job, ...]) -> list[Row]:
    """Return orders worth beginning with."""
    first_due: dict[str, int] = {}
    for job in jobs:
        kind = job.alike or job.code
        first_due[kind] = min(first_due.get(kind, job.due_s), job.due_s)
    keys: tuple[Callable[[Job], tuple[int | str, ...]], ...] = (
        lambda job: (job.due_s, first_due[job.alike or job.code], job.alike or job.code, -job.seconds, job.code),
        lambda job: (first_due[job.alike or job.code], job.alike or job.code, job.due_s, job.code),
        lambda job: (job.due_s, -job.seconds, job.alike, job.code),
        lambda job: (job.due_s, job.seconds, job.alike, job.code),
    )
    return [_row(sorted(range(len(jobs)), key=lambda j: key(jobs[j]))) for key in keys]


def _ruled_out(jobs: tuple[Job, ...], tables: tuple[Table, ...], saving_percent: int) -> bool:
    """Return whether it is proven that not all can be in time."""
    kinds = Counter(job.alike for job in jobs if job.alike)
    least = [saved_seconds(j.seconds, saving_percent) if kinds[j.alike] > 1 else j.seconds for j in jobs]
    if any(not _fits_alone(job, seconds, tables) for job, seconds in zip(jobs, least, strict=True)):
        return True
    for due_s in sorted({job.due_s for job in jobs}):
        mine = tuple(job for job in jobs if job.due_s <= due_s)
        count = Counter(job.alike for job in mine if job.alike)
        open_ended = {kind for kind, of in count.items() if of < kinds[kind]}
        if _least_seconds(mine, open_ended, saving_percent) > sum(t.within(-NEVER, due_s).seconds for t in tables):
            return True
        if len(mine) <= MOST_EXACT:
            easier = tuple(
                replace(job, seconds=saved_seconds(job.seconds, saving_percent)) if job.alike in open_ended else job
                for job in mine
            )
            if _exact(easier, tables, saving_percent).late:
                return True
    return False


def _fits_alone(job: Job, seconds: int, tables: tuple[Table, ...]) -> bool:
    return any(
        max(span.from_s, job.ready_s) + seconds <= min(span.to_s, job.due_s) for table in tables for span in table.spans
    )


def _least_seconds(jobs: tuple[Job, ...], open_ended: set[str], saving_percent: int) -> int:
    total = 0
    first: dict[str, int] = {}
    for job in jobs:
        less = saved_seconds(job.seconds, saving_percent) if job.alike else job.seconds
        total += less
        if job.alike and job.alike not in open_ended:
            first[job.alike] = min(first.get(job.alike, job.seconds - less), job.seconds - less)
    return total + sum(first.values())


#: over: it was due before now; nobody: no hours until it is due; not_ready: what is prepared for it is not;
#: too_long: alone it ends too late; too_much: proven that not all can be in time; not_found: no way found.
LateWhy = Literal["over", "nobody", "not_ready", "too_long", "too_much", "not_found"]


def why_late(job: Job, tables: Sequence[Table], outcome: Outcome, now_s: int) -> LateWhy:
    """Return why a parcel that was left out is late."""
    if job.due_s < now_s:
        return "over"
    until = [table.within(now_s, job.due_s) for table in tables]
    if not any(table.spans for table in until):
        return "nobody"
    if not _fits_alone(replace(job, ready_s=now_s), job.seconds, tuple(until)):
        return "too_long"
    if not _fits_alone(job, job.seconds, tuple(until)):
        return "not_ready"
    return "too_much" if outcome == "cannot" else "not_found"
