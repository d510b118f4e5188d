"""When all relations are settled: the packings at the ends of the windows (packing kernel).

Used by ``relations``. What is left open then is how far units shift within their windows and how high they stand on the
floor's cushion. Packings at the ends are tried, shifted until all is held. When none of them is, the search
settles what touches what, and then halves the windows where support is in doubt.
"""

import numpy as np

from core.packing.kernel.compiled import compiled
from core.packing.kernel.desk import HIGH, LEVEL, MOST_UNITS, OFF_FLOOR, PAIR, WAYS, under
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import loads_hold
from core.packing.kernel.shifting import held_area, nothing_before, shift

__all__ = ["settle", "widest"]

#: Windows narrower than this are not halved.
_NARROW_UM = 500


@compiled
def _is_under(desk: Row, k: int, j: int) -> bool:
    """Return whether k is under j."""
    key, bit = under(k, j)
    return bool(desk[key] == bit)


@compiled
def settle(p: Problem, desk: Row, at: Grid, size: Grid, looks: Row) -> bool:
    """Try the packings at the ends of the windows; return whether one holds. Counts ``looks``."""
    n = len(p.kind)
    for i in range(n):
        way = 0
        while not desk[WAYS + i] >> way & 1:
            way += 1
        size[i] = p.sizes[i, way]
    done = np.arange(n)
    before = _before(desk, n)
    upwards = _upwards(desk, n)
    for corner in range(8):
        # The cushion is level, so the floor's level comes first; then each unit as low as it may.
        if corner >= 4 and np.min(p.bottom) == p.floor:
            break
        for i in upwards:
            for axis in range(2):
                at[i, axis] = desk[6 * i + axis + (HIGH if corner >> axis & 1 else 0)]
            at[i, 2] = desk[6 * i + 2]
            if corner < 4:
                at[i, 2] = p.floor
                for k in range(n):
                    if k != i and _is_under(desk, k, i):
                        at[i, 2] = max(at[i, 2], at[k, 2] + size[k, 2] + p.gap)
        low_enough = True
        for i in range(n):
            if at[i, 2] > desk[6 * i + HIGH + 2]:
                low_enough = False
                break
        if low_enough and (p.support == 0 or (shift(p, before, at, size, looks) and loads_hold(p, done, n, at, size))):
            return True
    return False


@compiled
def _upwards(desk: Row, n: int) -> Row:
    """Return the units by their lowest start above the floor."""
    starts = np.empty(n, dtype=np.int64)
    for i in range(n):
        starts[i] = desk[6 * i + 2]
    return np.argsort(starts, kind="mergesort")


@compiled
def _before(desk: Row, n: int) -> Grid:
    """Return along which axis each unit comes before each other one, -1 for none; all relations are settled."""
    before = nothing_before(n)
    for i in range(n):
        for j in range(i + 1, n):
            for axis in range(3):
                if desk[PAIR + MOST_UNITS * i + j] == 1 << axis:
                    before[i, j] = axis
                elif desk[PAIR + MOST_UNITS * i + j] == 8 << axis:
                    before[j, i] = axis
    return before


@compiled
def widest(p: Problem, desk: Row, at: Grid, size: Grid) -> int:
    """Return the key of the lowest start of the window to halve when all relations are settled and support is in doubt.

    It is the widest of a unit that was held on too little where it was put last (of any, when none was), or of one that
    may hold it; -1 when all are narrow.
    """
    n = len(p.kind)
    for lacking in range(1, -1, -1):
        best, key = _NARROW_UM, -1
        for j in range(n):
            if desk[LEVEL + j] != OFF_FLOOR:
                continue
            enough = 100 * held_area(p, j, at, size) >= p.support * size[j, 0] * size[j, 1]
            if lacking == 1 and enough:
                continue
            for k in range(n):
                if k != j and not _is_under(desk, k, j):
                    continue
                for axis in range(2):
                    wide = desk[6 * k + HIGH + axis] - desk[6 * k + axis]
                    if wide > best:
                        best, key = wide, 6 * k + axis
        if key >= 0:
            break
    return key
