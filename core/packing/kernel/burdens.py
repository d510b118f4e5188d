"""What placed units rest on and carry, kept up to date while a container is filled (packing kernel; used by
``filling``).

The rules of ``resting`` once more: a unit hands its weight and all it carries down to what it rests on, split by
contact area. Here only what one more unit adds is handed down, so that trying a place costs little.
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.lending import lent
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import contact, is_too_heavy

__all__ = ["Burdens", "burdens_for", "can_carry", "empty", "holders_of", "lent_burdens", "lies_under", "set_down"]

_Shares = npt.NDArray[np.float64]


class Burdens(NamedTuple):
    """Arrays over the rows of the problem."""

    holders: Row  #: the units each one rests on: of unit i from i * n on
    shares: _Shares  #: which share of its load each of those takes
    rests_on: Row  #: how many it rests on
    carried: _Shares  #: mg on top
    added: _Shares  #: mg more that is being tried; nought between calls
    found: Row  #: the holders of the place looked at, filled by ``holders_of``
    areas: Row  #: and the areas they share with it
    stack: Row  #: units that still hand down
    loads: _Shares  #: and what
    units: int  #: n
    deep: int  #: how long the stack may be


@compiled
def burdens_for(n: int) -> Burdens:
    """Return empty arrays for n units."""
    deep = 8 * n + 64
    return Burdens(
        np.empty(n * n, dtype=np.int64),
        np.empty(n * n, dtype=np.float64),
        np.zeros(n, dtype=np.int64),
        np.zeros(n, dtype=np.float64),
        np.zeros(n, dtype=np.float64),
        np.empty(n, dtype=np.int64),
        np.empty(n, dtype=np.int64),
        np.empty(deep, dtype=np.int64),
        np.empty(deep, dtype=np.float64),
        n,
        deep,
    )


@compiled
def lent_burdens(b: Burdens) -> Burdens:
    """Return the arrays as lent ones; ``b`` must outlive them."""
    return Burdens(
        lent(b.holders), lent(b.shares), lent(b.rests_on), lent(b.carried), lent(b.added), lent(b.found),
        lent(b.areas), lent(b.stack), lent(b.loads), b.units, b.deep,
    )  # fmt: skip


@compiled
def empty(b: Burdens) -> None:
    """Forget all that was set down."""
    for i in range(b.units):
        b.rests_on[i], b.carried[i] = 0, 0.0


@compiled
def holders_of(
    gap: int, limit: Row, done: Row, count: int, at: Grid, size: Grid, b: Burdens,
    x: int, y: int, z: int, dx: int, dy: int,
) -> tuple[int, int]:  # fmt: skip
    """Find what a base off the floor rests on; return how many and the area, (0, -1) when one may carry nothing."""
    found, held = 0, 0
    for index in range(count):
        k = done[index]
        if at[k, 2] + size[k, 2] + gap != z:
            continue
        area = contact(x, y, dx, dy, at[k, 0], at[k, 1], size[k, 0], size[k, 1])
        if area > 0:
            if limit[k] == 0:
                return 0, -1
            b.found[found], b.areas[found] = k, area
            held += area
            found += 1
    return found, held


@written_in
def lies_under(
    gap: int, floor: int, done: Row, count: int, at: Grid, size: Grid, x: int, y: int, top: int, dx: int, dy: int
) -> bool:
    """Return whether a unit with its top here would carry one that is placed already."""
    found = False
    for index in range(count):
        k = done[index]
        above = at[k, 2] == top + gap and at[k, 2] > floor
        if above and contact(x, y, dx, dy, at[k, 0], at[k, 1], size[k, 0], size[k, 1]) > 0:
            found = True
            break
    return found


@compiled
def can_carry(limit: Row, weight: int, found: int, held: int, b: Burdens, keep: bool) -> bool:
    """Return whether the holders found last, and all below, can carry the weight; with ``keep`` it stays on them."""
    height = 0
    for index in range(found):
        b.stack[height], b.loads[height] = b.found[index], weight * (b.areas[index] / held)
        height += 1
    fine = True
    while height and fine:
        height -= 1
        k, load = b.stack[height], b.loads[height]
        b.added[k] += load
        if is_too_heavy(b.carried[k] + b.added[k], limit[k]):
            fine = False
        elif height + b.rests_on[k] >= b.deep:
            # More ways down than there is room for: taken as too much.
            fine = False
        else:
            for index in range(b.rests_on[k]):
                b.stack[height], b.loads[height] = b.holders[k * b.units + index], load * b.shares[k * b.units + index]
                height += 1
    for k in range(b.units):
        if keep:
            b.carried[k] += b.added[k]
        b.added[k] = 0.0
    return fine


@compiled
def set_down(p: Problem, i: int, done: Row, count: int, at: Grid, size: Grid, b: Burdens) -> None:
    """Take unit i, just placed as the last of ``done``, into the burdens."""
    x, y, z, dx, dy = at[i, 0], at[i, 1], at[i, 2], size[i, 0], size[i, 1]
    if lies_under(p.gap, p.floor, done, count, at, size, x, y, z + size[i, 2], dx, dy):
        # What lay on others lies on it now: all is counted again, from below.
        heights = np.empty(count, dtype=np.int64)
        for index in range(count):
            k = done[index]
            heights[index], b.carried[k] = at[k, 2], 0.0
        for index in np.argsort(heights):
            _rest(p, done[index], done, count, at, size, b)
        return
    _rest(p, i, done, count, at, size, b)


@compiled
def _rest(p: Problem, i: int, done: Row, count: int, at: Grid, size: Grid, b: Burdens) -> None:
    b.rests_on[i] = 0
    if at[i, 2] <= p.floor:
        return
    found, held = holders_of(
        p.gap, p.limit, done, count, at, size, b, at[i, 0], at[i, 1], at[i, 2], size[i, 0], size[i, 1]
    )
    for index in range(found):
        b.holders[i * b.units + index], b.shares[i * b.units + index] = b.found[index], b.areas[index] / held
    b.rests_on[i] = found
    can_carry(p.limit, p.weight[i], found, held, b, True)
