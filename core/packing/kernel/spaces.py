"""Maximal empty spaces: the largest boxes no unit reaches into (packing kernel; used by ``filling``).

A space is x1, y1, z1, x2, y2, z2 in the container inflated by the gap. Placing a unit cuts every space it reaches
into up to six smaller ones; those inside another, or too small for anything left, are dropped.
"""

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.problem import Grid, Row

__all__ = ["MOST_SPACES", "carve"]

#: Room for spaces in the arrays; the smallest new ones are dropped when it is full (bounds sixty units).
MOST_SPACES = 400


@written_in
def _inside(spaces: Grid, one: int, other: int) -> bool:
    inside = True
    for axis in range(3):
        if spaces[one, axis] < spaces[other, axis] or spaces[one, axis + 3] > spaces[other, axis + 3]:
            inside = False
            break
    return inside


@written_in
def _copy(spaces: Grid, one: int, other: int) -> None:
    for side in range(6):
        spaces[other, side] = spaces[one, side]


@written_in
def _useful(spaces: Grid, one: int, rest: Grid, count: int) -> bool:
    """Return whether any of the sizes left to place fits."""
    long, wide, high = (
        spaces[one, 3] - spaces[one, 0],
        spaces[one, 4] - spaces[one, 1],
        spaces[one, 5] - spaces[one, 2],
    )
    found = False
    for k in range(count):
        if rest[k, 0] <= long and rest[k, 1] <= wide and rest[k, 2] <= high:
            found = True
            break
    return found


@compiled
def carve(spaces: Grid, count: int, low: Row, high: Row, least: Row, rest: Grid, rest_count: int, work: Row) -> int:
    """Cut the block low..high out of the spaces in place and return how many there are now.

    ``least`` is the smallest extent per axis anything left to place can have, ``rest`` all the sizes it can have;
    ``work`` counts what that took.
    """
    kept = 0
    born = count
    for index in range(count):
        hit = True
        for axis in range(3):
            if spaces[index, axis] >= high[axis] or spaces[index, axis + 3] <= low[axis]:
                hit = False
                break
        if not hit:
            continue
        for axis in range(3):
            if low[axis] - spaces[index, axis] >= least[axis] and born < MOST_SPACES:
                _copy(spaces, index, born)
                spaces[born, axis + 3] = low[axis]
                born += 1
            if spaces[index, axis + 3] - high[axis] >= least[axis] and born < MOST_SPACES:
                _copy(spaces, index, born)
                spaces[born, axis] = high[axis]
                born += 1
        spaces[index, 0] = -1
    for index in range(count, born):
        if not _useful(spaces, index, rest, rest_count):
            spaces[index, 0] = -1
    work[0] += (born - count) * born // 8
    # Old spaces are never inside one another; new ones may be inside an old or another new one.
    for index in range(count, born):
        if spaces[index, 0] < 0:
            continue
        for other in range(born):
            if other == index or spaces[other, 0] < 0:
                continue
            if _inside(spaces, index, other):
                spaces[index, 0] = -1
                break
    for index in range(born):
        if spaces[index, 0] >= 0:
            if kept != index:
                _copy(spaces, index, kept)
            kept += 1
    return kept
