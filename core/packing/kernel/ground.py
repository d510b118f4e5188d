"""Whether what must stand on the floor can have room there (packing kernel; used by ``relations``).

Units that are certainly on the floor, and of which none can stand on another there, lie side by side: a packing of
rectangles. The dual feasible functions of ``bounds`` along both axes tell when their areas are too much for it.
"""

import numpy as np
import numpy.typing as npt

from core.packing.kernel.bounds import function_value, function_widths
from core.packing.kernel.compiled import ONE, ZERO, compiled
from core.packing.kernel.desk import FLOOR_CHANGED, LEVEL, ON_FLOOR, REASONS, WAYS
from core.packing.kernel.facts import because_absent, because_settled, refuse
from core.packing.kernel.problem import Problem, Row

__all__ = ["Table", "floor_suffices", "ground_tables", "overfull"]

Table = npt.NDArray[np.float64]
#: Distinct sizes per axis that make functions.
_MOST_SIZES = 4
_MARGIN = 1e-9


@compiled
def _table(p: Problem, axis: int) -> Table:
    n = len(p.kind)
    sizes = np.zeros(6 * n, dtype=np.int64)
    count = 0
    for i in range(n):
        for way in range(p.ways[i]):
            sizes[count] = p.sizes[i, way, axis] + p.gap
            count += 1
    whole = p.window[axis]
    widths = function_widths(np.unique(sizes[:count]), whole)[:_MOST_SIZES]
    table = np.zeros((5 + 2 * len(widths), n, 6))
    for which in range(len(table)):
        for i in range(n):
            for way in range(p.ways[i]):
                table[which, i, way] = function_value(which, p.sizes[i, way, axis] + p.gap, whole, widths, len(widths))
    return table


@compiled
def ground_tables(p: Problem) -> tuple[Table, Table]:
    """Return the values of every function along the length and along the width, for each unit and way."""
    return _table(p, ZERO), _table(p, ONE)


@compiled
def overfull(p: Problem, ways: Row, level: Row, along: Table, across: Table) -> bool:
    """Return True when the units on the floor certainly cannot lie side by side there."""
    n = len(ways)
    flat = np.zeros(n, dtype=np.int64)
    count = 0
    for i in range(n):
        # What is lower than the cushion is deep could stand under another that counts as on the floor.
        if level[i] == ON_FLOOR and p.bottom[i] + np.min(p.sizes[i, : p.ways[i], 2]) + p.gap > p.floor:
            flat[count] = i
            count += 1
    if count < 2:
        return False
    for a in range(len(along)):
        for b in range(len(across)):
            total = 0.0
            for place in range(count):
                i = flat[place]
                least = 100.0
                for way in range(p.ways[i]):
                    if ways[i] >> way & 1:
                        least = min(least, along[a, i, way] * across[b, i, way])
                total += least
            if total > 1.0 + _MARGIN:
                return True
    return False


@compiled
def floor_suffices(p: Problem, desk: Row, ground: tuple[Table, Table]) -> bool:
    """Refuse when what is on the floor cannot lie side by side there; looked at when ways or levels have changed."""
    n = len(p.kind)
    if desk[FLOOR_CHANGED] == 0:
        return True
    desk[FLOOR_CHANGED] = 0
    if not overfull(p, desk[WAYS : WAYS + n], desk[LEVEL : LEVEL + n], ground[0], ground[1]):
        return True
    begin = desk[REASONS]
    for i in range(n):
        if desk[LEVEL + i] == ON_FLOOR:
            because_settled(desk, LEVEL + i)
            for way in range(p.ways[i]):
                if not desk[WAYS + i] >> way & 1:
                    because_absent(desk, WAYS + i, 1 << way)
    return refuse(desk, begin)
