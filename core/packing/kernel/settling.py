"""When all relations are settled: the packings at the ends of the windows, or proof that none holds (packing kernel).

Used by ``relations``. What is left open then is how far units shift within their windows and how high they stand on the
floor's cushion. Packings at the ends are tried, shifted until all is held; what even the best shifting could not hold is
no packing; what is in doubt is halved window by window.
"""

import numpy as np

from core.packing.kernel.compiled import compiled
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.propagation import OFF_FLOOR, State, under
from core.packing.kernel.resting import loads_hold
from core.packing.kernel.shifting import held_area, nothing_before, shift

__all__ = ["FOUND", "NONE", "UNKNOWN", "halve", "settle", "widest"]

FOUND, NONE, UNKNOWN = 1, 0, -1
#: Windows narrower than this are not halved.
_NARROW_UM = 2_000


@compiled
def settle(p: Problem, s: State, at: Grid, size: Grid) -> int:
    """Try the packings at the ends of the windows; return FOUND, NONE when supports or loads can never hold, or UNKNOWN."""
    lo, hi, ways, pairs = s.lo, s.hi, s.ways, s.pairs
    n = len(ways)
    for i in range(n):
        way = 0
        while not ways[i] >> way & 1:
            way += 1
        size[i] = p.sizes[i, way]
    done = np.arange(n)
    before = _before(pairs)
    upwards = np.argsort(lo[:, 2], kind="mergesort")
    for corner in range(12):
        # The cushion is level, so the floor's level comes first; then each unit at its own lowest, then raised from there
        # to a neighbour's level where something lies on both.
        if corner >= 4 and np.min(p.bottom) == p.floor:
            break
        for place in range(n):
            i = upwards[place]
            at[i, 2] = p.bottom[i] if corner >= 4 else p.floor
            for axis in range(2):
                at[i, axis] = hi[i, axis] - p.gap - size[i, axis] if corner >> axis & 1 else lo[i, axis]
            for k in range(n):
                if under(pairs, k, i):
                    at[i, 2] = max(at[i, 2], at[k, 2] + size[k, 2] + p.gap)
            if corner >= 8:
                _raise_below(p, pairs, i, upwards[:place], at, size)
        low_enough = True
        for i in range(n):
            if at[i, 2] + size[i, 2] + p.gap > hi[i, 2]:
                low_enough = False
                break
        if low_enough and (p.support == 0 or (shift(p, before, at, size) and loads_hold(p, done, n, at, size))):
            return FOUND
    return UNKNOWN if _could_hold(p, lo, hi, pairs, size) else NONE


@compiled
def _raise_below(p: Problem, pairs: Grid, i: int, lower: Row, at: Grid, size: Grid) -> None:
    """Raise what stands on the floor's cushion under unit i to where i begins, as far as the cushion and others on it allow."""
    for k in range(len(size)):
        rise = at[i, 2] - (at[k, 2] + size[k, 2] + p.gap)
        if not under(pairs, k, i) or rise <= 0 or at[k, 2] + rise > p.floor:
            continue
        free = True
        for other in lower:
            if under(pairs, k, other) and at[other, 2] < at[i, 2]:
                free = False
        if free:
            at[k, 2] += rise


@compiled
def _before(pairs: Grid) -> Grid:
    """Return along which axis each unit comes before each other one, -1 for none; all relations are settled."""
    n = len(pairs)
    before = nothing_before(n)
    for i in range(n):
        for j in range(i + 1, n):
            for axis in range(3):
                if pairs[i, j] >> axis & 1:
                    before[i, j] = axis
                if pairs[i, j] >> (axis + 3) & 1:
                    before[j, i] = axis
    return before


@compiled
def _could_hold(p: Problem, lo: Grid, hi: Grid, pairs: Grid, size: Grid) -> bool:
    """Return False when no shifting within the windows can give every unit its support and every load its limit.

    All relations are settled, so what stands off the floor begins at the highest top under it; only how high a unit
    stands on the floor's cushion is open, which leaves a range of levels for it and for what it carries.
    """
    n = len(size)
    order = np.argsort(lo[:, 2], kind="mergesort")
    latest = np.zeros(n, dtype=np.int64)
    for j in order:
        if lo[j, 2] <= p.floor:
            latest[j] = p.floor
        for k in range(n):
            if under(pairs, k, j):
                latest[j] = max(latest[j], latest[k] + size[k, 2] + p.gap)
    carried = np.zeros(n, dtype=np.float64)
    for j in order[::-1]:
        if lo[j, 2] <= p.floor:
            continue
        area, holders, holder, room, endless = 0, 0, -1, 0.0, False
        for k in range(n):
            if not under(pairs, k, j) or latest[k] + size[k, 2] + p.gap < lo[j, 2]:
                continue
            if p.limit[k] == 0:
                exact = latest[k] == lo[k, 2] and latest[j] == lo[j, 2] and lo[k, 2] + size[k, 2] + p.gap == lo[j, 2]
                if p.gap == 0 and exact:
                    return False
                continue
            wide = min(size[j, 0], size[k, 0], hi[j, 0] - p.gap - lo[k, 0], hi[k, 0] - p.gap - lo[j, 0])
            deep = min(size[j, 1], size[k, 1], hi[j, 1] - p.gap - lo[k, 1], hi[k, 1] - p.gap - lo[j, 1])
            if wide > 0 and deep > 0:
                area += wide * deep
                holders += 1
                holder = k
                if p.limit[k] < 0:
                    endless = True
                else:
                    room += p.limit[k]
        if area * 100 < p.support * size[j, 0] * size[j, 1] or holders == 0:
            return False
        if not endless and room < p.weight[j] + carried[j]:
            return False
        if holders == 1:
            carried[holder] += p.weight[j] + carried[j]
            if 0 <= p.limit[holder] < carried[holder]:
                return False
    return True


@compiled
def widest(p: Problem, s: State, at: Grid, size: Grid) -> tuple[int, int]:
    """Return the unit and, as n + 1 + axis, the window to halve when all relations are settled and support is in doubt.

    It is the widest of a unit that was held on too little where it was put last (of any, when none was), or of one that
    may hold it; (-1, -1) when all are narrow.
    """
    lo, hi, pairs, level = s.lo, s.hi, s.pairs, s.level
    n = len(level)
    for lacking in range(1, -1, -1):
        best, one, other = _NARROW_UM, -1, -1
        for j in range(n):
            if level[j] != OFF_FLOOR:
                continue
            enough = 100 * held_area(p, j, at, size) >= p.support * size[j, 0] * size[j, 1]
            if lacking == 1 and enough:
                continue
            for k in range(n):
                if k != j and not under(pairs, k, j):
                    continue
                for axis in range(2):
                    wide = hi[k, axis] - p.gap - size[k, axis] - lo[k, axis]
                    if wide > best:
                        best, one, other = wide, k, n + 1 + axis
        if one >= 0:
            break
    return one, other


@compiled
def halve(lo: Grid, hi: Grid, least: Grid, i: int, axis: int, bit: int) -> None:
    """Keep a unit's start to the lower half of its window, or to the upper."""
    middle = (lo[i, axis] + hi[i, axis] - least[i, axis]) // 2
    if bit == 1:
        hi[i, axis] = middle + least[i, axis]
    else:
        lo[i, axis] = middle + 1
