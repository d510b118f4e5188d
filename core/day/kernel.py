"""The day's loops, compiled: every order of few parcels, and many orders of many (day; used by ``schedule``).

``Work`` is n parcels and k tables in arrays of whole seconds; a parcel's spot is a bit in a set of parcels.

Few (at most MOST_EXACT): for each table, set of parcels and last one, the earliest end of an order in which all are
in time; ending earlier never harms what follows, so nothing else need be kept. Then sets are shared out among the
tables. Backwards the same gives the latest start. Many: parcels are taken in an order, each to the table where it ends
first, left out where it would be late; the order is improved by moves, as many as ``evaluations`` allows, chosen by
numbers that look like chance and are the same on every machine.

Everything compiled stands in this one file: the cache watches files on their own (``packing.kernel.compiled``).
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from core.packing.kernel.compiled import compiled

__all__ = [
    "MOST_EXACT",
    "NEVER",
    "Row",
    "Work",
    "best_sets",
    "best_waves",
    "improved",
    "latest_common_start",
    "placed",
]

Row = npt.NDArray[np.int64]
Grid = npt.NDArray[np.int64]

#: So many parcels are looked through in every order: 2^9 sets x 9 last ones for each table.
MOST_EXACT = 9
#: Later than any moment of a day.
NEVER = 1 << 50


class Work(NamedTuple):
    """What is to be done and by whom."""

    full: Row  #: seconds after another parcel, n
    saved: Row  #: seconds after one that is alike, n
    alike: Row  #: number of the kind, -1: like no other, n
    due: Row  #: n
    ready: Row  #: n
    weight: Row  #: n
    begins: Grid  #: k x spans, ascending
    ends: Grid  #: k x spans; a span that ends where it begins is none


@compiled
def _start(w: Work, table: int, at: int, seconds: int) -> int:
    """Return the first moment from ``at`` at which so many seconds are free, NEVER when there is none."""
    for span in range(w.begins.shape[1]):
        begin: int = max(w.begins[table, span], at)
        if begin + seconds <= w.ends[table, span]:
            return begin
    return NEVER


@compiled
def _latest(w: Work, table: int, by: int, seconds: int) -> int:
    """Return the last moment at which so many seconds may begin to end ``by`` then, -NEVER when there is none."""
    for back in range(w.begins.shape[1]):
        span = w.begins.shape[1] - 1 - back
        begin: int = min(w.ends[table, span], by) - seconds
        if begin >= w.begins[table, span]:
            return begin
    return -NEVER


@compiled
def _takes(w: Work, before: int, job: int) -> int:
    """Return the seconds a parcel takes after another; ``before`` -1: the first."""
    in_row = before >= 0 and w.alike[job] >= 0 and w.alike[before] == w.alike[job]
    takes: int = w.saved[job] if in_row else w.full[job]
    return takes


@compiled
def _orders_on(w: Work, table: int, before: Row) -> Row:
    """Return the earliest end for set * n + last, and write which came before the last."""
    n = len(w.full)
    ends = np.full((1 << n) * n, NEVER, dtype=np.int64)
    for job in range(n):
        start = _start(w, table, w.ready[job], w.full[job])
        if start + w.full[job] <= w.due[job]:
            ends[(1 << job) * n + job] = start + w.full[job]
    for chosen in range(1, 1 << n):
        for last in range(n):
            end = ends[chosen * n + last]
            if end == NEVER:
                continue
            for job in range(n):
                if chosen >> job & 1:
                    continue
                takes = _takes(w, last, job)
                new = _start(w, table, max(end, w.ready[job]), takes) + takes
                at = (chosen | 1 << job) * n + job
                if new <= w.due[job] and new < ends[at]:
                    ends[at] = new
                    before[at] = last
    return ends


@compiled
def best_sets(w: Work, table_of: Row, rank: Row) -> int:
    """Find the set of parcels that weighs most with all in time, ending earliest; return it.

    Writes each parcel's table (-1: left out) and its place in that table's order.
    """
    n, k = len(w.full), len(w.begins)
    sets = 1 << n
    before = np.full((k, sets * n), -1, dtype=np.int64)
    last_of = np.full((k, sets), -1, dtype=np.int64)
    end_of = np.full((k, sets), NEVER, dtype=np.int64)
    for table in range(k):
        ends = _orders_on(w, table, before[table])
        end_of[table, 0] = 0
        for chosen in range(1, sets):
            for last in range(n):
                if ends[chosen * n + last] < end_of[table, chosen]:
                    end_of[table, chosen] = ends[chosen * n + last]
                    last_of[table, chosen] = last
    # The last end first, then the sum of the ends: nobody works longer than is needed.
    longest = np.full((k + 1, sets), NEVER, dtype=np.int64)
    total = np.full((k + 1, sets), NEVER, dtype=np.int64)
    share = np.zeros((k + 1, sets), dtype=np.int64)
    longest[0, 0] = total[0, 0] = 0
    for table in range(k):
        for chosen in range(sets):
            part = chosen
            while True:
                rest = chosen & ~part
                if longest[table, rest] < NEVER and end_of[table, part] < NEVER:
                    worst = max(longest[table, rest], end_of[table, part])
                    summed = total[table, rest] + end_of[table, part]
                    held = longest[table + 1, chosen]
                    if worst < held or (worst == held and summed < total[table + 1, chosen]):
                        longest[table + 1, chosen], total[table + 1, chosen] = worst, summed
                        share[table + 1, chosen] = part
                if part == 0:
                    break
                part = (part - 1) & chosen
    best, heaviest = 0, -1
    for chosen in range(sets):
        if longest[k, chosen] == NEVER:
            continue
        weight = 0
        for job in range(n):
            if chosen >> job & 1:
                weight += w.weight[job]
        if weight > heaviest or (weight == heaviest and longest[k, chosen] <= longest[k, best]):
            best, heaviest = chosen, weight
    table_of[:] = -1
    left = best
    for back in range(k):
        table = k - 1 - back
        part = share[table + 1, left]
        left &= ~part
        last = last_of[table, part]
        while part:
            place = 0
            for job in range(n):
                place += part >> job & 1
            table_of[last], rank[last] = table, place - 1
            earlier = before[table, part * n + last]
            part &= ~(1 << last)
            last = earlier
    return best


@compiled
def latest_common_start(w: Work) -> int:
    """Return the last moment before which nobody need begin for all to be in time, -NEVER when not all can be."""
    n, k = len(w.full), len(w.begins)
    sets = 1 << n
    shared = np.full(sets, -NEVER, dtype=np.int64)
    shared[0] = NEVER
    start = np.empty((sets * n, 2), dtype=np.int64)  # of the first parcel, taking its full time or less
    for table in range(k):
        start[:] = -NEVER
        of_set = np.full(sets, -NEVER, dtype=np.int64)
        of_set[0] = NEVER
        for chosen in range(1, sets):
            for first in range(n):
                if not chosen >> first & 1:
                    continue
                rest = chosen & ~(1 << first)
                by = NEVER if rest == 0 else -NEVER
                for job in range(n):
                    if rest >> job & 1:
                        alike = w.alike[first] >= 0 and w.alike[first] == w.alike[job]
                        by = max(by, start[rest * n + job, 1 if alike else 0])
                by = min(by, w.due[first])
                for less in range(2):
                    begin = _latest(w, table, by, w.saved[first] if less else w.full[first])
                    if begin >= w.ready[first]:
                        start[chosen * n + first, less] = begin
                of_set[chosen] = max(of_set[chosen], start[chosen * n + first, 0])
        # From the largest set down: what is shared out already stays as it was before this table.
        for back in range(sets):
            chosen = sets - 1 - back
            best = shared[chosen]
            part = chosen
            while part:
                best = max(best, min(shared[chosen & ~part], of_set[part]))
                part = (part - 1) & chosen
            shared[chosen] = best
    latest: int = shared[sets - 1]
    return latest


@compiled
def placed(w: Work, order: Row, table_of: Row, start_of: Row, end_of: Row) -> tuple[int, int]:
    """Take the parcels in an order, each to the table where it ends first; one that would be late is left out.

    Writes table (-1: left out), start and end; returns the weight left out and the last end.
    """
    k = len(w.begins)
    free = np.full(k, -NEVER, dtype=np.int64)
    last = np.full(k, -1, dtype=np.int64)
    lost, latest = 0, 0
    for job in order:
        best, best_start, best_end, best_takes = -1, NEVER, NEVER, NEVER
        for table in range(k):
            takes = _takes(w, last[table], job)
            start = _start(w, table, max(free[table], w.ready[job]), takes)
            end = start + takes
            if end < best_end or (end == best_end and takes < best_takes):
                best, best_start, best_end, best_takes = table, start, end, takes
        if best_end > w.due[job]:
            table_of[job] = -1
            lost += w.weight[job]
            continue
        table_of[job], start_of[job], end_of[job] = best, best_start, best_end
        free[best], last[best] = best_end, job
        latest = max(latest, best_end)
    return lost, latest


@compiled
def improved(w: Work, order: Row, evaluations: int, enough: bool) -> tuple[int, int]:
    """Improve an order in place; return the weight it leaves out and its last end.

    ``enough``: stop as soon as nothing is left out; else go on to end earlier.
    """
    n = len(order)
    table_of, start_of, end_of = np.empty(n, np.int64), np.empty(n, np.int64), np.empty(n, np.int64)
    lost, latest = placed(w, order, table_of, start_of, end_of)
    tried = np.empty(n, dtype=np.int64)
    seed = 88172645463325252
    mask = (1 << 62) - 1
    for _ in range(evaluations):
        if n < 2 or (enough and lost == 0):
            break
        seed ^= (seed << 13) & mask
        seed ^= seed >> 7
        seed ^= (seed << 17) & mask
        at, to, how = seed % n, (seed >> 20) % n, (seed >> 40) % 4
        if how == 0:  # to another place
            _moved(order, tried, at, 1, to)
        elif how == 1:  # beside one that is alike
            beside = -1
            for step in range(1, n):
                other = (at + to + step) % n
                if other != at and w.alike[order[other]] >= 0 and w.alike[order[other]] == w.alike[order[at]]:
                    beside = other
                    break
            if beside < 0:
                continue
            _moved(order, tried, at, 1, beside)
        elif how == 2:  # a whole row
            first, count = at, 1
            while first > 0 and w.alike[order[at]] >= 0 and w.alike[order[first - 1]] == w.alike[order[at]]:
                first -= 1
                count += 1
            while first + count < n and w.alike[order[at]] >= 0 and w.alike[order[first + count]] == w.alike[order[at]]:
                count += 1
            _moved(order, tried, first, count, to)
        else:
            tried[:] = order
            tried[at], tried[to] = order[to], order[at]
        new_lost, new_latest = placed(w, tried, table_of, start_of, end_of)
        # Equal orders are tried on only while something is left out: the order shown stays what it is as time goes by.
        if new_lost < lost or (new_lost == lost and (new_latest < latest or (lost > 0 and new_latest == latest))):
            order[:] = tried
            lost, latest = new_lost, new_latest
    return lost, latest


@compiled
def _moved(order: Row, into: Row, first: int, count: int, to: int) -> None:
    """Write the order with some parcels in a row taken out and put in so that the first comes to stand at ``to``."""
    n = len(order)
    to = min(to, n - count)
    at = 0
    for spot in range(n):
        if to <= spot < to + count:
            into[spot] = order[first + spot - to]
            continue
        if at == first:
            at += count
        into[spot] = order[at]
        at += 1


@compiled
def _different(things: Grid, chosen: int) -> int:
    """Return how many different things the parcels of a set need; ``things`` holds 1 where a parcel needs one."""
    count = 0
    for thing in range(things.shape[1]):
        for parcel in range(things.shape[0]):
            if chosen >> parcel & 1 and things[parcel, thing]:
                count += 1
                break
    return count


@compiled
def best_waves(things: Grid, most: int, walk: int, wave_of: Row) -> int:
    """Share parcels out into waves of at most ``most`` so that walks and things fetched are fewest; return that sum.

    A walk counts as much as ``walk`` things. Writes each parcel's wave; of equals, the first found.
    """
    n = len(wave_of)
    sets = 1 << n
    cost = np.full(sets, NEVER, dtype=np.int64)
    for chosen in range(1, sets):
        members = 0
        for parcel in range(n):
            members += chosen >> parcel & 1
        if members <= most:
            cost[chosen] = walk + _different(things, chosen)
    best = np.full(sets, NEVER, dtype=np.int64)
    wave = np.zeros(sets, dtype=np.int64)
    best[0] = 0
    for chosen in range(1, sets):
        lowest = chosen & -chosen
        part = chosen
        while part:
            # The first parcel of what is left goes in the next wave: no sharing out is looked at twice.
            if part & lowest and cost[part] < NEVER and best[chosen & ~part] + cost[part] < best[chosen]:
                best[chosen], wave[chosen] = best[chosen & ~part] + cost[part], part
            part = (part - 1) & chosen
    left, number = sets - 1, 0
    while left:
        for parcel in range(n):
            if wave[left] >> parcel & 1:
                wave_of[parcel] = number
        left &= ~wave[left]
        number += 1
    least: int = best[sets - 1]
    return least
