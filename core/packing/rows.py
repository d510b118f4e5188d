"""From units to the orders fillings begin from, and from arrays back to placements (packing; used by the searches)."""

import numpy as np

from core.packing.kernel.problem import Grid, Problem
from core.packing.kernel.resting import loads_hold, supported
from core.packing.model import Box, Packing, PackUnit, Placement

__all__ = ["nowhere", "packing_of", "rests", "rows_of", "sorted_orders"]


def nowhere(problem: Problem) -> tuple[Grid, Grid]:
    """Return arrays for where units are and their sizes as they stand."""
    return np.zeros((len(problem.kind), 3), dtype=np.int64), np.zeros((len(problem.kind), 3), dtype=np.int64)


def sorted_orders(problem: Problem) -> Grid:
    """Return the orders greedy fillings begin from: heavy low first, then by base, volume and longest side.

    In the first orders what nothing may rest on goes last (rules, 4); in the last two size alone counts.
    """
    sizes = problem.sizes
    volume = sizes[:, 0, 0] * (sizes[:, 0, 1] // 1000) * (sizes[:, 0, 2] // 1000)
    base = (sizes[:, :, 0] * sizes[:, :, 1]).max(axis=1)
    longest = sizes[:, 0].max(axis=1)
    bare = (problem.limit == 0).astype(np.int64)
    keys = [
        (-problem.weight, bare),
        (-base, bare),
        (-volume, bare),
        (-longest, bare),
        (-volume, 0 * bare),
        (-base, 0 * bare),
    ]
    found: list[Grid] = []
    for second, first in keys:
        order = np.lexsort((problem.kind, second, first)).astype(np.int64)
        kinds = problem.kind[order]
        # An order of the same kinds fills in the same way.
        if not any(np.array_equal(kinds, problem.kind[other]) for other in found):
            found.append(order)
    return np.array(found, dtype=np.int64)


def packing_of(box: Box, units: tuple[PackUnit, ...], problem: Problem, at: Grid, size: Grid) -> Packing:
    """Return the packing that the arrays tell, under the codes of the units; low before high, back before front."""
    placements = [
        Placement(unit=units[kind].code, at_um=(x, y, z), size_um=(dx, dy, dz))
        for kind, (x, y, z), (dx, dy, dz) in zip(problem.kind.tolist(), at.tolist(), size.tolist(), strict=True)
    ]
    return Packing(
        box=box.code, placements=tuple(sorted(placements, key=lambda p: (p.at_um[2], p.at_um[1], p.at_um[0])))
    )


def rows_of(packing: Packing) -> tuple[Grid, Grid]:
    """Return where the units of a packing are and their sizes, in the order of their codes: as a problem has its rows."""
    placements = sorted(packing.placements, key=lambda p: p.unit)
    return (
        np.array([p.at_um for p in placements], dtype=np.int64),
        np.array([p.size_um for p in placements], dtype=np.int64),
    )


def rests(problem: Problem, at: Grid, size: Grid) -> bool:
    """Return whether every unit lies on enough and none carries more than it may."""
    count = len(problem.kind)
    done = np.arange(count, dtype=np.int64)
    for row in range(count):
        x, y, z, dx, dy = at[row, 0], at[row, 1], at[row, 2], size[row, 0], size[row, 1]
        if not supported(problem, done, count, at, size, x, y, z, dx, dy):
            return False
    return problem.support == 0 or loads_hold(problem, done, count, at, size)
