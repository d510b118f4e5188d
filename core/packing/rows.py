"""From units to the orders fillings begin from, and from arrays back to placements (packing; used by the searches)."""

from functools import lru_cache

import numpy as np

from core.packing.kernel.problem import Grid, Problem
from core.packing.model import Box, Packing, PackUnit, Placement, orientations

__all__ = ["measures_of", "orders_of", "packing_of", "sorted_orders", "unplaced"]


def unplaced(problem: Problem) -> tuple[Grid, Grid]:
    """Return arrays for where units are and their sizes as they stand."""
    return np.zeros((len(problem.kind), 3), dtype=np.int64), np.zeros((len(problem.kind), 3), dtype=np.int64)


#: What orders go by: whether nothing may rest on a unit, its weight, base, volume and longest side, these as negative
#: numbers.
Measures = tuple[int, int, int, int, int]


def measures_of(unit: PackUnit) -> Measures:
    """Return what orders go by; the largest base it may stand on."""
    base = max(a * b for a, b, _ in orientations(unit))
    volume = unit.size_um[0] * unit.size_um[1] * unit.size_um[2]
    return int(unit.load_on_top_mg == 0), -unit.weight_mg, -base, -volume, -max(unit.size_um)


@lru_cache(maxsize=64)
def sorted_orders(units: tuple[PackUnit, ...]) -> Grid:
    """Return the orders greedy fillings begin from, as rows of a problem."""
    return orders_of([measures_of(unit) for unit in units], [unit.quantity for unit in units])


def orders_of(measures: list[Measures], quantities: list[int]) -> Grid:
    """Return orders of so many units of each kind, as rows of a problem: heavy low first, then by base, volume and
    longest side.

    In the first orders what nothing may rest on goes last (rules 4.4); in the last two size alone counts.
    """
    numbers = range(len(measures))
    orders = [sorted(numbers, key=[(one[0], one[place]) for one in measures].__getitem__) for place in (1, 2, 3, 4)]
    orders += [sorted(numbers, key=[one[place] for one in measures].__getitem__) for place in (3, 2)]
    rows, begin = [], 0
    for quantity in quantities:
        rows.append(range(begin, begin + quantity))
        begin += quantity
    distinct = dict.fromkeys(tuple(order) for order in orders)
    return np.array([[row for number in order for row in rows[number]] for order in distinct], dtype=np.int64)


def packing_of(box: Box, units: tuple[PackUnit, ...], problem: Problem, at: Grid, size: Grid) -> Packing:
    """Return the packing that the arrays tell, under the codes of the units; low before high, back before front."""
    placements = [
        Placement(unit=units[kind].code, at_um=(x, y, z), size_um=(dx, dy, dz))
        for kind, (x, y, z), (dx, dy, dz) in zip(problem.kind.tolist(), at.tolist(), size.tolist(), strict=True)
    ]
    return Packing(
        box=box.code, placements=tuple(sorted(placements, key=lambda p: (p.at_um[2], p.at_um[1], p.at_um[0])))
    )
