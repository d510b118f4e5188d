"""One container and the units for it, as arrays (packing; the form the inner loops read).

Every unit is its own row, equal units side by side. Lengths um, weights mg. Touching along an axis is allowed, so a
gap between units is kept by letting each unit take its size plus the gap, in a window that is one gap longer.
"""

from functools import lru_cache
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from core.packing.kernel.compiled import compiled
from core.packing.kernel.lending import lent, lent_ways
from core.packing.model import Box, PackRules, PackUnit, floor_um, orientations

__all__ = ["Grid", "Problem", "Row", "lent_problem", "problem_of"]

Row = npt.NDArray[np.int64]
Grid = npt.NDArray[np.int64]

#: A limit that is never reached: the unit carries anything.
_NO_LIMIT = -1
_MOST_WAYS = 6


class Problem(NamedTuple):
    """The arrays; ``n`` rows, one a unit."""

    inner: Row  #: the container's inside: length, width, height
    sizes: Grid  #: n x 6 x 3: the ways each unit may stand, sizes without the gap
    ways: Row  #: how many of the six are in use
    kind: Row  #: equal units share a number
    weight: Row
    limit: Row  #: load on top in mg; -1: no limit
    side: Row
    bottom: Row
    top: Row
    window: Row  #: the widest room along each axis, one gap longer
    gap: int
    support: int  #: percent
    floor: int  #: a unit no higher than this stands on the floor


@compiled
def lent_problem(p: Problem) -> Problem:
    """Return the arrays as lent ones; ``p`` must outlive them."""
    return Problem(
        lent(p.inner), lent_ways(p.sizes), lent(p.ways), lent(p.kind), lent(p.weight), lent(p.limit), lent(p.side),
        lent(p.bottom), lent(p.top), lent(p.window), p.gap, p.support, p.floor,
    )  # fmt: skip


def problem_of(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> Problem:
    """Return the arrays for a container and its units; every unit of a line becomes a row."""
    side = min(unit.clearance.side_um for unit in units)
    low = min(unit.clearance.bottom_um for unit in units) + min(unit.clearance.top_um for unit in units)
    length, width, height = (inner + rules.gap_um for inner in box.inner_um)
    return _rows_of(units, rules)._replace(
        inner=_column(list(box.inner_um)), window=_column([length - 2 * side, width - 2 * side, height - low])
    )


@lru_cache(maxsize=64)
def _rows_of(units: tuple[PackUnit, ...], rules: PackRules) -> Problem:
    """Return the arrays without a container: the same for all that are tried. Nobody writes into them."""
    ways, sizes = [], []
    for unit in units:
        stands = orientations(unit)
        ways.append(len(stands))
        sizes.append([*stands, *[(0, 0, 0)] * (_MOST_WAYS - len(stands))])
    many = [unit.quantity for unit in units]
    return Problem(
        inner=_column([0, 0, 0]),
        window=_column([0, 0, 0]),
        sizes=np.repeat(np.array(sizes, dtype=np.int64), many, axis=0),
        ways=np.repeat(ways, many),
        kind=np.repeat(np.arange(len(units)), many),
        weight=np.repeat([unit.weight_mg for unit in units], many),
        limit=np.repeat([_NO_LIMIT if unit.load_on_top_mg is None else unit.load_on_top_mg for unit in units], many),
        side=np.repeat([unit.clearance.side_um for unit in units], many),
        bottom=np.repeat([unit.clearance.bottom_um for unit in units], many),
        top=np.repeat([unit.clearance.top_um for unit in units], many),
        gap=rules.gap_um,
        support=rules.support_percent,
        floor=floor_um(units),
    )


def _column(values: list[int]) -> Row:
    return np.array(values, dtype=np.int64)
