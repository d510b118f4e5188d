"""Whether what must stand on the floor can have room there (packing kernel; used by ``relations``).

Units that are certainly on the floor, and of which none can stand on another there, lie side by side: a packing of
rectangles. The dual feasible functions of ``bounds`` along both axes tell when their areas are too much for it.
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from core.packing.kernel.bounds import function_value, function_widths
from core.packing.kernel.compiled import ONE, ZERO, compiled
from core.packing.kernel.desk import BASES, FLOOR_CHANGED, LEVEL, ON_FLOOR, REASONS, UNITS, WAYS
from core.packing.kernel.facts import because_absent, because_settled, refuse
from core.packing.kernel.problem import Problem, Row

__all__ = ["Ground", "floor_suffices", "ground_of", "overfull"]

#: Values of the functions, in parts of WHOLE: unit, way, pair of functions.
Table = npt.NDArray[np.int32]
WHOLE = 1 << 24
#: No value counts for more than this.
_MOST_VALUE = 1.5
#: Distinct sizes per axis that make functions.
_MOST_SIZES = 4
#: Values are rounded down by more than the error of floats, in parts of WHOLE.
_ERROR = 1e-3


class Ground(NamedTuple):
    """What is asked of the floor."""

    table: Table
    solid: Row  #: 1: nothing can stand under it that counts as on the floor


@compiled
def _values(p: Problem, axis: int) -> npt.NDArray[np.float64]:
    """Return the values of every function along an axis, for each unit and way; equal functions once."""
    n = len(p.kind)
    sizes = np.zeros(6 * n, dtype=np.int64)
    count = 0
    for i in range(n):
        for way in range(p.ways[i]):
            sizes[count] = p.sizes[i, way, axis] + p.gap
            count += 1
    whole = p.window[axis]
    widths = function_widths(np.unique(sizes[:count]), whole)[:_MOST_SIZES]
    values = np.zeros((5 + 2 * len(widths), n, 6))
    kept = 0
    for which in range(len(values)):
        for i in range(n):
            for way in range(p.ways[i]):
                values[kept, i, way] = function_value(which, p.sizes[i, way, axis] + p.gap, whole, widths, len(widths))
        new = True
        for other in range(kept):
            new = new and not np.all(values[other] == values[kept])
        kept += new
    return values[:kept]


@compiled
def _table(p: Problem) -> Table:
    along, across = _values(p, ZERO), _values(p, ONE)
    n = len(p.kind)
    table = np.zeros((n, 6, len(along) * len(across)), dtype=np.int32)
    for i in range(n):
        for way in range(p.ways[i]):
            for a in range(len(along)):
                for b in range(len(across)):
                    value = min(_MOST_VALUE, along[a, i, way] * across[b, i, way])
                    table[i, way, a * len(across) + b] = max(0, int(np.floor(value * WHOLE - _ERROR)))
    return table


@compiled
def _solid(p: Problem) -> Row:
    # What is lower than the cushion is deep could stand under another that counts as on the floor.
    solid = np.zeros(len(p.kind), dtype=np.int64)
    for i in range(len(solid)):
        solid[i] = p.bottom[i] + np.min(p.sizes[i, : p.ways[i], 2]) + p.gap > p.floor
    return solid


def ground_of(p: Problem) -> Ground:
    """Return what the units ask of the floor by every function along the length and the width."""
    return Ground(table=_table(p), solid=_solid(p))


@compiled
def overfull(desk: Row, ground: Ground) -> bool:
    """Return True when the units on the floor certainly cannot lie side by side there."""
    pairs = ground.table.shape[2]
    total, least = np.zeros(pairs, dtype=np.int32), np.empty(pairs, dtype=np.int32)
    for i in range(desk[UNITS]):
        if desk[LEVEL + i] != ON_FLOOR or not ground.solid[i]:
            continue
        some = False
        for way in range(6):
            if not desk[WAYS + i] >> way & 1:
                continue
            values = ground.table[i, way]
            if some:
                for pair in range(pairs):
                    least[pair] = min(least[pair], values[pair])
            else:
                least[:] = values
            some = True
        for pair in range(pairs):
            total[pair] += least[pair]
    return bool(pairs > 0 and np.max(total) > WHOLE)


@compiled
def floor_suffices(desk: Row, ground: Ground) -> bool:
    """Refuse when what is on the floor cannot lie side by side there; looked at when ways or levels have changed."""
    if desk[FLOOR_CHANGED] == 0:
        return True
    desk[FLOOR_CHANGED] = 0
    if not overfull(desk, ground):
        return True
    begin = desk[REASONS]
    for i in range(desk[UNITS]):
        if desk[LEVEL + i] == ON_FLOOR and ground.solid[i]:
            because_settled(desk, LEVEL + i)
            for way in range(6):
                if desk[BASES + 6 * i + way] > 0 and not desk[WAYS + i] >> way & 1:
                    because_absent(desk, WAYS + i, 1 << way)
    return refuse(desk, begin)
