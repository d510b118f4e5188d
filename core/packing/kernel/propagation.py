"""What follows from the relations chosen so far: tighter windows, fewer ways to stand, fewer relations (packing kernel).

For every unit the lowest start and the highest end along each axis; for every pair the relations still possible, as
bits: the first before the second along axis 0, 1, 2, then the second before the first. A branch has no room when a
unit has no way left to stand, a pair no relation, when what can hold a unit off the floor is too little, or when some
plane is certainly crossed by more than its area.
"""

from typing import NamedTuple

import numpy as np

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.problem import Grid, Problem, Row

__all__ = ["OFF_FLOOR", "ON_FLOOR", "State", "extents", "propagate", "under"]

#: Whether a unit stands on the floor; 0 while it is open. Only asked where units need support.
ON_FLOOR, OFF_FLOOR = 1, 2
_MOST_LOOKS = 60
#: What a tightening came to: no room is left, nothing new, windows tighter, or a possibility struck out.
_NO_ROOM, _NOTHING, _TIGHTER, _STRUCK = -1, 0, 1, 2


class State(NamedTuple):
    """What is still possible, one row a unit; lengths with the gap."""

    lo: Grid  #: lowest start along each axis
    hi: Grid  #: highest end
    ways: Row  #: the ways it may still stand, as bits
    pairs: Grid  #: the relations still possible of each two, as bits; used above the diagonal
    level: Row  #: ON_FLOOR, OFF_FLOOR or 0
    least: Grid  #: least extents; columns 3 to 5: least area across each axis
    most: Grid  #: greatest extents


@written_in
def under(pairs: Grid, k: int, j: int) -> bool:
    """Return whether k under j is settled or still possible."""
    if k == j:
        return False
    return bool(pairs[k, j] >> 2 & 1) if k < j else bool(pairs[j, k] >> 5 & 1)


@written_in
def _at_least(i: int, j: int, axis: int, shared: int, gap: int, lo: Grid, hi: Grid, least: Grid, most: Grid) -> bool:
    """Tighten: i reaches ``shared`` into j's extent along the axis from below; return whether something changed."""
    changed = False
    if lo[j, axis] + shared - (most[i, axis] - gap) > lo[i, axis]:
        lo[i, axis] = lo[j, axis] + shared - (most[i, axis] - gap)
        changed = True
    if hi[i, axis] - gap - shared + most[j, axis] < hi[j, axis]:
        hi[j, axis] = hi[i, axis] - gap - shared + most[j, axis]
        changed = True
    return changed


@written_in
def _only_on(p: Problem, j: int, k: int, wanted: int, s: State, moved: Row) -> int:
    """Tighten what follows when j is off the floor and only k can hold it, on at least the area wanted."""
    lo, hi, _, pairs, _, least, most = s
    bit = 4 if k < j else 32
    one, other = min(j, k), max(j, k)
    changed = False
    if pairs[one, other] & ~bit:
        pairs[one, other] = pairs[one, other] & bit
        changed = True
    # j begins where k's top and the gap end.
    if lo[k, 2] + least[k, 2] > lo[j, 2]:
        lo[j, 2] = lo[k, 2] + least[k, 2]
        changed = True
    if hi[k, 2] + most[j, 2] < hi[j, 2]:
        hi[j, 2] = hi[k, 2] + most[j, 2]
        changed = True
    if lo[j, 2] - most[k, 2] > lo[k, 2]:
        lo[k, 2] = lo[j, 2] - most[k, 2]
        changed = True
    if hi[j, 2] - least[j, 2] < hi[k, 2]:
        hi[k, 2] = hi[j, 2] - least[j, 2]
        changed = True
    for axis in range(2):
        across = min(most[j, 1 - axis], most[k, 1 - axis]) - p.gap
        shared = -(-wanted // max(1, across))
        if shared > min(most[j, axis], most[k, axis]) - p.gap:
            return _NO_ROOM
        up = _at_least(j, k, axis, shared, p.gap, lo, hi, least, most)
        down = _at_least(k, j, axis, shared, p.gap, lo, hi, least, most)
        changed = changed or up or down
    if changed:
        moved[j] = 1
        moved[k] = 1
        return _TIGHTER
    return _NOTHING


@written_in
def _bases(p: Problem, i: int, mask: int) -> tuple[int, int]:
    """Return the least and the greatest base of a unit over the ways it may still stand, um2."""
    least, most = 1 << 60, 0
    for way in range(p.ways[i]):
        if mask >> way & 1:
            base = p.sizes[i, way, 0] * p.sizes[i, way, 1]
            least, most = min(least, base), max(most, base)
    return least, most


@compiled
def _tops_suffice(p: Problem, ways: Row, holding: Row, needed: Row, heavy: Row, off: int) -> bool:
    """Return False when the tops that can hold some units are together too small or too weak for them (Hall).

    Each spot of a top holds one unit only. For each unit off the floor: its possible holders as bits, the area it
    needs and its weight. Looked at are the holders of every one and of every two.
    """
    for one in range(off):
        for two in range(one, off):
            holders = holding[one] | holding[two]
            if two > one and (holders == holding[one] or holders == holding[two]):
                continue
            asked, weight = 0, 0
            for j in range(off):
                if holding[j] & ~holders == 0:
                    asked += needed[j]
                    weight += heavy[j]
            tops, room = 0, 0
            for k in range(len(ways)):
                if holders >> k & 1:
                    _, largest = _bases(p, k, ways[k])
                    tops += largest
                    if p.limit[k] < 0:
                        room = -1
                    elif room >= 0:
                        room += p.limit[k]
            if asked > tops or 0 <= room < weight:
                return False
    return True


@compiled
def _held(p: Problem, s: State, moved: Row) -> int:
    """Keep on the floor what no tops below could hold, and others to the tops that could."""
    lo, hi, ways, pairs, level, least, most = s
    n = len(p.kind)
    told = 0
    gap, floor, support = p.gap, p.floor, p.support
    off = 0
    holding, needed, heavy = np.zeros(n, dtype=np.int64), np.zeros(n, dtype=np.int64), np.zeros(n, dtype=np.int64)
    for j in range(n):
        if level[j] == ON_FLOOR or hi[j, 2] - least[j, 2] <= floor:
            continue
        base, _ = _bases(p, j, ways[j])
        wanted = -(-support * base // 100)
        area, room, holders, holder = 0, 0, 0, -1
        endless, mask = False, 0
        lowest, highest = 1 << 60, 0
        starts, ends = lo[j, 2], hi[j, 2] - least[j, 2]
        for k in range(n):
            if k == j or p.limit[k] == 0:
                continue
            if not under(pairs, k, j):
                continue
            # Its top must be able to lie exactly where j begins.
            top = lo[k, 2] + least[k, 2]
            if top > ends or hi[k, 2] < starts:
                continue
            wide = min(most[j, 0], most[k, 0], hi[j, 0] - lo[k, 0], hi[k, 0] - lo[j, 0]) - gap
            deep = min(most[j, 1], most[k, 1], hi[j, 1] - lo[k, 1], hi[k, 1] - lo[j, 1]) - gap
            if wide > 0 and deep > 0:
                area += wide * deep
                holders += 1
                holder = k
                mask |= 1 << k
                lowest = min(lowest, top)
                highest = max(highest, hi[k, 2])
                if p.limit[k] < 0:
                    endless = True
                else:
                    room += p.limit[k]
        if area < wanted or area == 0 or (not endless and room < p.weight[j]):
            if level[j] == OFF_FLOOR or lo[j, 2] > floor:
                return _NO_ROOM
            level[j] = ON_FLOOR
            if floor + most[j, 2] < hi[j, 2]:
                hi[j, 2] = floor + most[j, 2]
            moved[j] = 1
            told = 1
        elif level[j] == OFF_FLOOR or lo[j, 2] > floor:
            level[j] = OFF_FLOOR
            holding[off], needed[off], heavy[off] = mask, wanted, p.weight[j]
            off += 1
            if lowest > lo[j, 2]:
                lo[j, 2] = lowest
                moved[j] = 1
                told = 1
            if highest + most[j, 2] < hi[j, 2]:
                hi[j, 2] = highest + most[j, 2]
                moved[j] = 1
                told = 1
            if holders == 1:
                tightened = _only_on(p, j, holder, wanted, s, moved)
                if tightened == _NO_ROOM:
                    return _NO_ROOM
                told = max(told, tightened)
    return told if off < 2 or _tops_suffice(p, ways, holding, needed, heavy, off) else _NO_ROOM


@compiled
def _crowded(lo: Grid, hi: Grid, least: Grid, window: Row) -> bool:
    """Return whether some plane across an axis is certainly crossed by more than its area (cumulative timetable)."""
    n = len(lo)
    for axis in range(3):
        across = window[(axis + 1) % 3] * window[(axis + 2) % 3]
        for i in range(n):
            plane = hi[i, axis] - least[i, axis]
            if plane >= lo[i, axis] + least[i, axis]:
                continue
            total = 0
            for k in range(n):
                if hi[k, axis] - least[k, axis] <= plane < lo[k, axis] + least[k, axis]:
                    total += least[k, axis + 3]
            if total > across:
                return True
    return False


@compiled
def _fit_in(p: Problem, s: State, blame: Grid, moved: Row, again: Row) -> int:
    """Keep units to their level and strike out the ways too long for their windows; marks in ``again`` what changed."""
    lo, hi, ways, _, level, least, most = s
    told = _NOTHING
    for i in range(len(moved)):
        if moved[i] == 0:
            continue
        if level[i] == ON_FLOOR and p.floor + most[i, 2] < hi[i, 2]:
            hi[i, 2] = p.floor + most[i, 2]
            again[i] = 1
        elif level[i] == OFF_FLOOR and lo[i, 2] <= p.floor:
            lo[i, 2] = p.floor + 1
            again[i] = 1
        mask = ways[i]
        for way in range(p.ways[i]):
            if mask >> way & 1:
                for axis in range(3):
                    if lo[i, axis] + p.sizes[i, way, axis] + p.gap > hi[i, axis]:
                        mask &= ~(1 << way)
                        break
        if mask == 0:
            blame[i, i] += 1
            return _NO_ROOM
        if mask != ways[i]:
            ways[i] = mask
            again[i] = 1
            told = _STRUCK
            extents(p, i, mask, least, most)
    return told


@compiled
def _keep_apart(s: State, blame: Grid, moved: Row, again: Row) -> int:
    """Strike out relations that would need more room than there is, and tighten where one is left.

    Written out in one piece: handing arrays on for each pair costs more than all the sums.
    """
    lo, hi, _, pairs, _, least, most = s
    told = _NOTHING
    for i in range(len(moved)):
        for j in range(i + 1, len(moved)):
            if moved[i] == 0 and moved[j] == 0:
                continue
            mask = pairs[i, j]
            if mask & (mask - 1):
                for axis in range(3):
                    together = least[i, axis] + least[j, axis]
                    if mask >> axis & 1 and lo[i, axis] + together > hi[j, axis]:
                        mask &= ~(1 << axis)
                    if mask >> (axis + 3) & 1 and lo[j, axis] + together > hi[i, axis]:
                        mask &= ~(8 << axis)
                if mask == 0:
                    blame[i, j] += 1
                    return _NO_ROOM
                if mask != pairs[i, j]:
                    pairs[i, j] = mask
                    again[i] = 1
                    again[j] = 1
                    told = _STRUCK
            if mask & (mask - 1):
                continue
            # Settled: one comes before the other along an axis, and both overlap along the axes before that.
            first, then, bit = i, j, mask
            if mask >= 8:
                first, then, bit = j, i, mask >> 3
            axis = bit >> 1
            ends, begins = lo[first, axis] + least[first, axis], hi[then, axis] - least[then, axis]
            if ends > begins:
                blame[i, j] += 1
                return _NO_ROOM
            if ends > lo[then, axis]:
                lo[then, axis] = ends
                again[then] = 1
            if begins < hi[first, axis]:
                hi[first, axis] = begins
                again[first] = 1
            for across in range(axis):
                for _ in range(2):
                    first, then = then, first
                    start = lo[first, across] - most[then, across] + 1
                    if start > lo[then, across]:
                        lo[then, across] = start
                        again[then] = 1
                    end = hi[then, across] - 1 + most[first, across]
                    if end < hi[first, across]:
                        hi[first, across] = end
                        again[first] = 1
    return told


@compiled
def _keep_order(p: Problem, s: State, blame: Grid, moved: Row, again: Row) -> int:
    """Of equal units the first comes first: on the floor before off it, and on one level in order along the length.

    Only on one level: one on the floor and one off it lie as they like.
    """
    lo, hi, _, pairs, level, least, most = s
    told = _NOTHING
    for i in range(len(moved)):
        for j in range(i + 1, len(moved)):
            if p.kind[i] != p.kind[j]:
                break
            if moved[i] == 0 and moved[j] == 0:
                continue
            if p.support > 0 and level[i] != level[j]:
                if level[j] != ON_FLOOR and level[i] != OFF_FLOOR:
                    continue
                if level[i] != 0 and level[j] != 0:
                    return _NO_ROOM
                level[i], level[j] = max(level[i], level[j]), max(level[i], level[j])
                again[i] = 1
                again[j] = 1
                told = _STRUCK
            elif p.support == 0 or level[i] != 0:
                if pairs[i, j] & 8:
                    pairs[i, j] = pairs[i, j] & ~8
                    if pairs[i, j] == 0:
                        blame[i, j] += 1
                        return _NO_ROOM
                    again[i] = 1
                    again[j] = 1
                    told = _STRUCK
                if lo[j, 0] < lo[i, 0]:
                    lo[j, 0] = lo[i, 0]
                    again[j] = 1
                if hi[j, 0] - least[j, 0] + most[i, 0] < hi[i, 0]:
                    hi[i, 0] = hi[j, 0] - least[j, 0] + most[i, 0]
                    again[i] = 1
    return told


@compiled
def _round(p: Problem, s: State, blame: Grid, moved: Row, again: Row) -> int:
    """Tighten once what has to do with the units marked in ``moved``."""
    fits = _fit_in(p, s, blame, moved, again)
    if fits == _NO_ROOM:
        return _NO_ROOM
    apart = _keep_apart(s, blame, moved, again)
    if apart == _NO_ROOM:
        return _NO_ROOM
    ordered = _keep_order(p, s, blame, moved, again)
    return _NO_ROOM if ordered == _NO_ROOM else max(fits, apart, ordered)


@compiled
def propagate(p: Problem, s: State, blame: Grid, moved: Row) -> bool:
    """Tighten starts, ends, ways and pairs until nothing changes; False when something has no room left.

    Only what has to do with the units marked in ``moved`` can change. What it failed on is counted in ``blame``.
    """
    n = len(moved)
    again = np.zeros(n, dtype=np.int64)
    rounds, looks = 0, 0
    while True:
        # Starts that still rise after as many rounds as there are units go round in a circle: no room (Bellman). A
        # possibility struck out begins the count anew.
        rounds += 1
        if rounds > n + 2:
            return False
        again[:] = 0
        told = _round(p, s, blame, moved, again)
        if told == _NO_ROOM:
            return False
        if told == _STRUCK:
            rounds = 0
        moved[:] = again
        changed = bool(np.max(again) > 0)
        # What holds whom may creep on by a micrometre a time: after so many looks it is left as it is, which proves less.
        if not changed and p.support > 0 and looks < _MOST_LOOKS:
            looks += 1
            told = _held(p, s, moved)
            if told == _NO_ROOM:
                return False
            changed = told != _NOTHING
            if changed:
                rounds = 0
        if not changed:
            return not _crowded(s.lo, s.hi, s.least, p.window)


@written_in
def extents(p: Problem, i: int, mask: int, least: Grid, most: Grid) -> None:
    """Write the least and greatest extents of a unit, gap included, and its least area across each axis (columns 3 to 5)."""
    for axis in range(3):
        smallest, largest, area = 1 << 60, 0, 1 << 60
        one, other = (axis + 1) % 3, (axis + 2) % 3
        for way in range(p.ways[i]):
            if mask >> way & 1:
                smallest = min(smallest, p.sizes[i, way, axis] + p.gap)
                largest = max(largest, p.sizes[i, way, axis] + p.gap)
                area = min(area, (p.sizes[i, way, one] + p.gap) * (p.sizes[i, way, other] + p.gap))
        least[i, axis], most[i, axis], least[i, axis + 3] = smallest, largest, area
