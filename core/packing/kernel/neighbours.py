"""A search near a filling: most units keep how they stand and on which side of each other they are (packing kernel).

What is kept may still be shifted; only few units are free to go anywhere. So a search among fifteen becomes one among
five (large neighbourhood search, Shaw 1998).
"""

from core.packing.kernel.compiled import compiled
from core.packing.kernel.desk import KIND, LEVEL, MOST_UNITS, OFF_FLOOR, ON_FLOOR, PAIR, WAYS, measure
from core.packing.kernel.problem import Grid, Problem, Row

__all__ = ["keep_as_they_are"]


@compiled
def keep_as_they_are(p: Problem, desk: Row, at: Grid, size: Grid, kept: Row) -> None:
    """Leave the units kept no other way to stand, no other level and no other relation to each other.

    Call it when the desk is laid out and nothing is chosen. Equal units are no longer put in order: they have their places.
    """
    n = len(kept)
    for i in range(n):
        desk[KIND + i] = i
        if not kept[i]:
            continue
        for way in range(p.ways[i]):
            if p.sizes[i, way, 0] == size[i, 0] and p.sizes[i, way, 1] == size[i, 1]:
                desk[WAYS + i] = 1 << way
        measure(desk, i)
        if p.support > 0:
            desk[LEVEL + i] = ON_FLOOR if at[i, 2] <= p.floor else OFF_FLOOR
        for j in range(i + 1, n):
            if kept[j]:
                desk[PAIR + MOST_UNITS * i + j] = _relation(p.gap, i, j, at, size)


@compiled
def _relation(gap: int, i: int, j: int, at: Grid, size: Grid) -> int:
    """Return the relation of two placed units as its bit: along the first axis that sets them apart."""
    for axis in range(3):
        if at[i, axis] + size[i, axis] + gap <= at[j, axis]:
            return 1 << axis
        if at[j, axis] + size[j, axis] + gap <= at[i, axis]:
            return 8 << axis
    return 0
