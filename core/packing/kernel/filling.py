"""Filling a container unit by unit (packing kernel).

Each unit of an order goes to its best place (``places``) in the maximal empty spaces; a unit that found no place
is tried again when others have made tops to stand on.
"""

from core.packing.kernel.burdens import empty, set_down
from core.packing.kernel.compiled import ONE, ZERO, compiled
from core.packing.kernel.places import Workspace, put_in_best_place
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.spaces import carve

__all__ = ["ANY_WAY", "fill", "volume"]

#: Any way a unit may stand, as bits.
ANY_WAY = 63
#: To take up one unit costs as much as looking at so many places.
_TAKING_UP = 8


@compiled
def _write_rest(p: Problem, units: int, placed: Row, least: Row, rest: Grid) -> int:
    """Write the sizes units not placed yet can have, and the least along each axis; return how many sizes."""
    least[0] = least[1] = least[2] = 1 << 60
    kind, count = -1, 0
    for i in range(units):
        if placed[i] or p.kind[i] == kind:
            continue
        kind = p.kind[i]
        for way in range(p.ways[i]):
            for axis in range(3):
                rest[count, axis] = p.sizes[i, way, axis] + p.gap
                least[axis] = min(least[axis], rest[count, axis])
            count += 1
    return count


@compiled
def volume(p: Problem, i: int) -> int:
    """Return a unit's volume in millions of um3, never nought."""
    return int(p.sizes[i, 0, 0] * p.sizes[i, 0, 1] // 1000 * p.sizes[i, 0, 2] // 1000 + 1)


@compiled
def _begin(p: Problem, units: int, placed: Row, w: Workspace) -> None:
    for i in range(units):
        placed[i] = 0
    empty(w.burdens)
    for axis in range(3):
        w.spaces[0, axis], w.spaces[0, axis + 3] = 0, p.inner[axis] + p.gap


@compiled
def _waits(units: int, allowed: Row, placed: Row) -> bool:
    """Return whether a unit is not placed that could stand in more ways than it was let."""
    count = 0
    for i in range(units):
        count += not placed[i] and allowed[i] != ANY_WAY
    return count > 0


@compiled
def fill(
    p: Problem, order: Row, how: int, level: int, which: int, at: Grid, size: Grid, placed: Row, allowed: Row,
    most_left: int, w: Workspace,
) -> int:  # fmt: skip
    """Place the units in the order given; return the volume left out, millions of um3.

    ``how``, ``level`` and ``which`` say which place is best (``places``), ``allowed`` the ways each unit stands if
    it can, as bits: what finds no place so may stand any way when nothing else does.
    Nought means all are placed: ``at`` and ``size`` then hold every unit. The filling ends as soon as more than
    ``most_left`` (-1: any) found no place, or half as much again where it may still come to lie on others.
    """
    n = len(order)
    loaded = False
    for i in range(n):
        loaded = loaded or p.limit[i] >= 0
    # Where nothing has to rest on anything a unit that found no place finds none later.
    may_come = most_left // 2 if p.support > 0 else ZERO
    _begin(p, n, placed, w)
    space_count, count = ONE, ZERO
    again, anyhow = True, False
    while again and count < n:
        again = False
        for i in range(n):
            w.failed[i] = 0
        lost = 0
        for i in order:
            # Of a kind those wait too that may stand no other way than one that found no place.
            ways = (ANY_WAY if anyhow else allowed[i]) & ~w.failed[p.kind[i]]
            if placed[i] or ways == 0:
                continue
            w.work[0] += _TAKING_UP
            if not put_in_best_place(p, i, how, level, which, space_count, count, at, size, loaded, ways, w):
                w.failed[p.kind[i]] |= ways
                lost += volume(p, i)
                if most_left >= 0 and lost > most_left + may_come:
                    return lost
                continue
            placed[i] = 1
            w.done[count] = i
            count += 1
            if loaded:
                set_down(p, i, w.done, count, at, size, w.burdens)
            again = True
            for axis in range(3):
                w.low[axis], w.high[axis] = at[i, axis], at[i, axis] + size[i, axis] + p.gap
            rest_count = _write_rest(p, n, placed, w.least, w.rest)
            space_count = carve(w.spaces, space_count, w.low, w.high, w.least, w.rest, rest_count, w.hits, w.work)
        again = again and p.support > 0
        if not again and not anyhow:
            anyhow = again = _waits(n, allowed, placed)
    left = 0
    for i in range(n):
        if not placed[i]:
            left += volume(p, i)
    return left
