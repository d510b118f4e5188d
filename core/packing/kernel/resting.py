"""What a placed unit rests on and carries (packing kernel; the rules of ``verify`` once more, for speed)."""

import numpy as np

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.problem import Grid, Problem, Row

__all__ = ["contact", "is_too_heavy", "loads_hold", "supported"]


@written_in
def contact(ax: int, ay: int, adx: int, ady: int, bx: int, by: int, bdx: int, bdy: int) -> int:
    """Return the area two bases share, um2."""
    wide = min(ax + adx, bx + bdx) - max(ax, bx)
    deep = min(ay + ady, by + bdy) - max(ay, by)
    return wide * deep if wide > 0 and deep > 0 else 0


@compiled
def supported(
    p: Problem, done: Row, count: int, at: Grid, size: Grid, x: int, y: int, z: int, dx: int, dy: int
) -> bool:
    """Return whether a base at x, y, z lies over the floor or over enough of the tops below it."""
    if z <= p.floor or p.support == 0:
        return True
    held = 0
    for index in range(count):
        k = done[index]
        if at[k, 2] + size[k, 2] + p.gap == z:
            held += contact(x, y, dx, dy, at[k, 0], at[k, 1], size[k, 0], size[k, 1])
    return held * 100 >= p.support * dx * dy


@written_in
def is_too_heavy(load: float, limit: int) -> bool:
    """Return whether a load is more than a limit in mg (-1: none, 0: nothing may rest there).

    Loads are floats. One that was split unevenly is rounded to the safe side by a millionth, and the checker
    counts again in fractions; a whole number of mg was not, so that two of 1 kg go on what carries 2 kg.
    """
    return limit >= 0 and (limit == 0 or load > limit or (load != np.floor(load) and load * 1.000001 > limit))


@compiled
def loads_hold(p: Problem, done: Row, count: int, at: Grid, size: Grid) -> bool:
    """Return whether no unit carries more than its limit; weight goes down split by contact area."""
    depths = np.empty(count, dtype=np.int64)
    for index in range(count):
        depths[index] = -at[done[index], 2]
    order = np.argsort(depths)
    carried = np.zeros(count, dtype=np.float64)
    for place in range(count):
        here = order[place]
        i = done[here]
        if at[i, 2] <= p.floor:
            continue
        held = 0
        for index in range(count):
            k = done[index]
            if at[k, 2] + size[k, 2] + p.gap == at[i, 2]:
                held += contact(at[i, 0], at[i, 1], size[i, 0], size[i, 1], at[k, 0], at[k, 1], size[k, 0], size[k, 1])
        if held == 0:
            return False
        for index in range(count):
            k = done[index]
            if at[k, 2] + size[k, 2] + p.gap != at[i, 2]:
                continue
            area = contact(at[i, 0], at[i, 1], size[i, 0], size[i, 1], at[k, 0], at[k, 1], size[k, 0], size[k, 1])
            if area == 0:
                continue
            carried[index] += (p.weight[i] + carried[here]) * (area / held)
            if is_too_heavy(carried[index], p.limit[k]):
                return False
    return True
