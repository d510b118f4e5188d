"""Shifting what is already in order, so that all of it is held (packing kernel).

When it is settled which unit stands before, behind, left, right of or under which, each may still be shifted a little
between its neighbours. A unit that is held on too little of its base, or one that holds it, goes where the bases that
are missing shrink most: edge to edge with the other, or just far enough. Not every way is tried: that none is found
proves nothing.
"""

import numpy as np

from core.packing.kernel.compiled import compiled
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import contact

__all__ = ["held_area", "nothing_before", "shift"]

_SWEEPS = 6


@compiled
def _missing(p: Problem, at: Grid, size: Grid) -> int:
    """Return by how much support falls short over all units, hundredths of um2."""
    n = len(size)
    total = 0
    for i in range(n):
        if at[i, 2] <= p.floor:
            continue
        total += max(0, p.support * size[i, 0] * size[i, 1] - 100 * held_area(p, i, at, size))
    return total


@compiled
def held_area(p: Problem, i: int, at: Grid, size: Grid) -> int:
    """Return how much of a unit's base lies on tops below, um2."""
    held = 0
    for k in range(len(size)):
        if k != i and at[k, 2] + size[k, 2] + p.gap == at[i, 2]:
            held += contact(at[i, 0], at[i, 1], size[i, 0], size[i, 1], at[k, 0], at[k, 1], size[k, 0], size[k, 1])
    return held


@compiled
def _room(p: Problem, i: int, axis: int, before: Grid, at: Grid, size: Grid) -> tuple[int, int]:
    """Return the least and the greatest start of unit i between its neighbours along the axis."""
    low, high = p.side[i], p.inner[axis] - p.side[i] - size[i, axis]
    for k in range(len(size)):
        if k == i:
            continue
        if before[k, i] == axis:
            low = max(low, at[k, axis] + size[k, axis] + p.gap)
        if before[i, k] == axis:
            high = min(high, at[k, axis] - p.gap - size[i, axis])
    return low, high


@compiled
def _move(
    p: Problem, i: int, other: int, needed: int, before: Grid, at: Grid, size: Grid, missing: int, looks: Row
) -> int:
    """Put unit i where least is missing, seen from ``other``, below or above it; return what is missing then."""
    for axis in range(2):
        low, high = _room(p, i, axis, before, at, size)
        if low > high:
            continue
        across = 1 - axis
        shared = min(at[i, across] + size[i, across], at[other, across] + size[other, across]) - max(
            at[i, across], at[other, across]
        )
        wide = min(size[i, axis], size[other, axis])
        if shared > 0:
            wide = min(wide, -(-needed // shared))
        start, end = at[other, axis], at[other, axis] + size[other, axis]
        best = at[i, axis]
        for choice in range(6):
            if choice == 0:
                x = start
            elif choice == 1:
                x = end - size[i, axis]
            elif choice == 2:
                x = start + wide - size[i, axis]
            elif choice == 3:
                x = end - wide
            elif choice == 4:
                x = low
            else:
                x = high
            at[i, axis] = min(max(x, low), high)
            now = _missing(p, at, size)
            looks[0] += 1
            if now < missing:
                missing = now
                best = at[i, axis]
        at[i, axis] = best
    return missing


@compiled
def shift(p: Problem, before: Grid, at: Grid, size: Grid, looks: Row) -> bool:
    """Shift units until all are held; return whether they are. ``before[i, k]``: axis along which i comes before k,
    or -1.

    ``at`` must be free of overlaps, its heights stay. ``looks`` counts the places tried.
    """
    n = len(size)
    missing = _missing(p, at, size)
    for _ in range(_SWEEPS):
        begun = missing
        for i in range(n):
            if missing == 0:
                return True
            if at[i, 2] <= p.floor or 100 * held_area(p, i, at, size) >= p.support * size[i, 0] * size[i, 1]:
                continue
            needed = -(-p.support * size[i, 0] * size[i, 1] // 100)
            for k in range(n):
                if k != i and at[k, 2] + size[k, 2] + p.gap == at[i, 2] and p.limit[k] != 0:
                    missing = _move(p, i, k, needed, before, at, size, missing, looks)
                    missing = _move(p, k, i, needed, before, at, size, missing, looks)
        if missing == begun:
            break
    return missing == 0


@compiled
def nothing_before(n: int) -> Grid:
    """Return the table of ``shift`` with no relation in it."""
    return np.full((n, n), -1, dtype=np.int64)
