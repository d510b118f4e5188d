"""Maximal empty spaces: the largest boxes no unit reaches into (packing kernel; used by ``filling``).

A space is x1, y1, z1, x2, y2, z2 in the container inflated by the gap. Placing a unit cuts every space it reaches
into up to six smaller ones; those inside another, or too small for anything left, are dropped.
"""

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.problem import Grid, Row

__all__ = ["MOST_SPACES", "carve"]

#: Room for spaces in the arrays; new ones are dropped when it is full (bounds sixty units).
MOST_SPACES = 400
#: So many spaces compared with each other cost as much as looking at one place.
_COMPARED = 16


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
def _beside(
    spaces: Grid, born: int, hits: Row, hit_count: int, face: int, low: Row, high: Row, least: Row, rest: Grid,
    rest_count: int,
) -> int:  # fmt: skip
    """Add what spaces leave before the block along an axis (faces 0 to 2) or after (3 to 5); return how many."""
    axis = face % 3
    for h in range(hit_count):
        index = hits[h]
        left = low[axis] - spaces[index, axis] if face < 3 else spaces[index, axis + 3] - high[axis]
        if left < least[axis] or born >= MOST_SPACES:
            continue
        _copy(spaces, index, born)
        if face < 3:
            spaces[born, axis + 3] = low[axis]
        else:
            spaces[born, axis] = high[axis]
        if _useful(spaces, born, rest, rest_count):
            born += 1
    return born


@compiled
def _drop_inside(spaces: Grid, count: int, first: int, born: int, side: int) -> None:
    """Mark the spaces from ``first`` on that are inside another one.

    They end at one face of the block, and reach past it along the other axes: so does what holds one of them. All
    others, old or new, need not be looked at.
    """
    for index in range(first, born):
        end = spaces[index, side]
        gone = False
        for other in range(count):
            if spaces[other, side] == end and _inside(spaces, index, other):
                gone = True
                break
        if not gone:
            for other in range(first, born):
                if other != index and spaces[other, 0] >= 0 and _inside(spaces, index, other):
                    gone = True
                    break
        if gone:
            spaces[index, 0] = -1


@compiled
def carve(
    spaces: Grid, count: int, low: Row, high: Row, least: Row, rest: Grid, rest_count: int, hits: Row, work: Row
) -> int:
    """Cut the block low..high out of the spaces in place and return how many there are now.

    ``least`` is the smallest extent per axis anything left to place can have, ``rest`` all the sizes it can have;
    ``hits`` is room to work, ``work`` counts what that took.
    """
    hit_count = 0
    for index in range(count):
        hit = True
        for axis in range(3):
            if spaces[index, axis] >= high[axis] or spaces[index, axis + 3] <= low[axis]:
                hit = False
                break
        if hit:
            hits[hit_count] = index
            hit_count += 1
    born = count
    for face in range(6):
        first = born
        born = _beside(spaces, born, hits, hit_count, face, low, high, least, rest, rest_count)
        _drop_inside(spaces, count, first, born, face + 3 if face < 3 else face - 3)
        work[0] += (born - first) * (count + born - first) // _COMPARED
    for h in range(hit_count):
        spaces[hits[h], 0] = -1
    kept = 0
    for index in range(born):
        if spaces[index, 0] >= 0:
            if kept != index:
                _copy(spaces, index, kept)
            kept += 1
    return kept
