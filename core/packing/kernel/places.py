"""Where one more unit goes: the best place in the empty spaces by one of several scores (packing kernel; used by
``filling``).

A unit goes into a corner of a space. Off the floor that corner is often over nothing, since the space reaches out
over lower units: there the edges of the tops below are places too.
"""

from typing import NamedTuple

import numpy as np

from core.packing.kernel.burdens import (
    Burdens,
    burdens_for,
    can_carry,
    holders_of,
    lent_burdens,
    lies_under,
)
from core.packing.kernel.compiled import ONE, ZERO, compiled, written_in
from core.packing.kernel.lending import lent, lent_sixes, lent_threes
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import loads_hold
from core.packing.kernel.spaces import MOST_SPACES

__all__ = [
    "BOTH_ENDS", "EVEN", "FIRST_CORNER", "LEVEL", "LOW", "SCORES", "TOP_EDGES", "Workspace", "lent_workspace",
    "put_in_best_place", "workspace_for",
]  # fmt: skip

#: How places are compared: 0 low-back-left, 1 tightest fit, 2 most contact, 3 far corner nearest the origin corner,
#: 4 lowest top.
SCORES = 5
#: How high units stand that need less cushion below than the deepest: on the level of that one, as low as each may,
#: or so that tops are even.
LEVEL, LOW, EVEN = 0, 1, 2
#: Which places in a space are looked at: its first corner, and as bits its other corners and the edges of tops below.
FIRST_CORNER, BOTH_ENDS, TOP_EDGES = 0, 1, 2
#: Starts along one axis that are looked at in one space at most.
_MOST_STARTS = 16


class Workspace(NamedTuple):
    """What one filling after the other writes into."""

    spaces: Grid  #: the maximal empty spaces
    hits: Row  #: the spaces the unit placed last reaches into
    rest: Grid  #: the sizes units not placed yet can have
    done: Row  #: the units placed, in that order
    tops: Row  #: those of them whose tops are as high as the space looked at
    failed: Row  #: the ways in which units of this kind found no place, as bits
    least: Row  #: the least extent along each axis of what is not placed yet
    low: Row  #: where the unit placed last begins
    high: Row  #: and where it ends with its gap
    along: Row  #: starts to look at in a space, along the length
    across: Row  #: and along the width
    burdens: Burdens
    work: Row  #: places looked at and spaces compared with each other: what fillings cost


@compiled
def workspace_for(n: int) -> Workspace:
    """Return what fillings of n units need."""
    return Workspace(
        np.empty((MOST_SPACES, 6), dtype=np.int64),
        np.zeros(MOST_SPACES, dtype=np.int64),
        np.empty((6 * n, 3), dtype=np.int64),
        np.zeros(n + 1, dtype=np.int64),
        np.zeros(n + 1, dtype=np.int64),
        np.zeros(n, dtype=np.int64),
        np.zeros(3, dtype=np.int64),
        np.zeros(3, dtype=np.int64),
        np.zeros(3, dtype=np.int64),
        np.zeros(_MOST_STARTS, dtype=np.int64),
        np.zeros(_MOST_STARTS, dtype=np.int64),
        burdens_for(n),
        np.zeros(1, dtype=np.int64),
    )


@compiled
def lent_workspace(w: Workspace) -> Workspace:
    """Return the arrays as lent ones; ``w`` must outlive them."""
    return Workspace(
        lent_sixes(w.spaces), lent(w.hits), lent_threes(w.rest), lent(w.done), lent(w.tops), lent(w.failed),
        lent(w.least), lent(w.low), lent(w.high), lent(w.along), lent(w.across), lent_burdens(w.burdens), lent(w.work),
    )  # fmt: skip


@written_in
def _score(
    how: int, x: int, y: int, z: int, dx: int, dy: int, dz: int, slack_x: int, slack_y: int, slack_z: int, flush: int
) -> int:
    """Return one number, smaller is better, for a place in a space; lengths are cut to tenths of a millimetre.

    ``slack``: what the space has left along each axis; ``flush``: bits, the unit touches the space's end across 0, 1.
    """
    if how == 0:
        score = ((z // 100) << 40) + ((y // 100) << 20) + x // 100
    elif how == 1:
        score = ((z // 100) << 40) + ((min(slack_x, slack_y) // 100) << 20) + (slack_x + slack_y) // 100
    elif how == 2:
        score = -(dx * dy // 10000)
        if slack_x == 0:
            score -= 2 * dy * dz // 10000
        elif flush & 1:
            score -= dy * dz // 10000
        if slack_y == 0:
            score -= 2 * dx * dz // 10000
        elif flush & 2:
            score -= dx * dz // 10000
        if slack_z == 0:
            score -= dx * dy // 10000
    elif how == 3:
        a, b, c = (x + dx) // 100, (y + dy) // 100, (z + dz) // 100
        score = a * a + b * b + c * c
    else:
        score = (((z + dz) // 100) << 40) + (((y + dy) // 100) << 20) + (x + dx) // 100
    return score


@compiled
def _even_with_others(low: int, floor: int, dz: int, done: Row, count: int, at: Grid, size: Grid) -> int:
    """Return the least height on the floor's cushion at which the top is level with a placed unit's, else ``low``."""
    best = floor + 1
    for index in range(count):
        k = done[index]
        z = at[k, 2] + size[k, 2] - dz
        if low <= z < best and at[k, 2] <= floor:
            best = z
    return best if best <= floor else low


@compiled
def _tops(p: Problem, z: int, count: int, at: Grid, size: Grid, w: Workspace) -> tuple[int, int]:
    """Write units with tops at a height to ``w.tops``; return how many, and the area that may carry something."""
    found, area = ZERO, ZERO
    for index in range(count):
        k = w.done[index]
        if at[k, 2] + size[k, 2] + p.gap == z:
            w.tops[found] = k
            found += 1
            if p.limit[k] != 0:
                area += size[k, 0] * size[k, 1]
    return found, area


@compiled
def _edges(
    extent: int, axis: int, low: int, high: int, many: int, starts: Row, limit: Row, tops: Row, count: int,
    at: Grid, size: Grid,
) -> int:  # fmt: skip
    """Add the starts at which a unit begins or ends with a top below it, between low and high; return how many."""
    for index in range(count):
        k = tops[index]
        if limit[k] == 0 or many + 2 > _MOST_STARTS:
            continue
        begin, end = at[k, axis], at[k, axis] + size[k, axis] - extent
        if low < begin <= high:
            starts[many] = begin
            many += 1
        if low < end <= high:
            starts[many] = end
            many += 1
    return many


@compiled
def put_in_best_place(
    p: Problem, i: int, how: int, level: int, which: int, space_count: int, count: int, at: Grid, size: Grid,
    loaded: bool, ways: int, w: Workspace,
) -> bool:  # fmt: skip
    """Place unit i at its best valid place; return whether there is one. ``at`` and ``size`` of i are written.

    ``count`` units are placed; ``ways`` are those it may stand in, as bits, ``loaded`` tells whether loads are limited.
    """
    found = False
    best = 0
    keep_x = keep_y = keep_z = keep_dx = keep_dy = keep_dz = 0
    # Handing the whole problem to a compiled function costs more than the sums in it: plain numbers inside the loops.
    gap, floor, support, side, bottom, top = p.gap, p.floor, p.support, p.side[i], p.bottom[i], p.top[i]
    long, wide, high = p.inner[0], p.inner[1], p.inner[2]
    spaces, done, tops = w.spaces, w.done, w.tops
    looked = 0
    for s in range(space_count):
        x1, y1, z1 = spaces[s, 0], spaces[s, 1], spaces[s, 2]
        x2, y2, z2 = spaces[s, 3], spaces[s, 4], spaces[s, 5]
        tops_count, area = ZERO, ZERO
        rests = z1 > floor and (support > 0 or loaded)
        if rests:
            tops_count, area = _tops(p, z1, count, at, size, w)
            if support > 0 and area == 0:
                continue
        for way in range(p.ways[i]):
            if not ways >> way & 1:
                continue
            dx, dy, dz = p.sizes[i, way, 0], p.sizes[i, way, 1], p.sizes[i, way, 2]
            looked += 1
            if rests and area * 100 < support * dx * dy:
                continue
            z = z1
            if z <= floor:
                # The cushion is level: a unit that needs less below stands lower only where it must.
                z = max(z, floor)
                if level != LEVEL or z + dz + gap > z2 or z + dz + top > high:
                    z = max(z1, bottom)
                    if level == EVEN:
                        z = _even_with_others(z, floor, dz, done, count, at, size)
            if z + dz + gap > z2 or z + dz + top > high:
                continue
            x_low, x_high = max(x1, side), min(x2 - gap, long - side) - dx
            y_low, y_high = max(y1, side), min(y2 - gap, wide - side) - dy
            if x_low > x_high or y_low > y_high:
                continue
            slack_x, slack_y, slack_z = x2 - x1 - dx - gap, y2 - y1 - dy - gap, z2 - z1 - dz - gap
            # No score is better further from the first corner, or with fewer ends touched.
            if found and _score(how, x_low, y_low, z, dx, dy, dz, slack_x, slack_y, slack_z, 3) >= best:
                continue
            x_many, y_many = ONE, ONE
            w.along[0], w.across[0] = x_low, y_low
            if which & BOTH_ENDS:
                if x_high > x_low:
                    w.along[1] = x_high
                    x_many += 1
                if y_high > y_low:
                    w.across[1] = y_high
                    y_many += 1
            if which & TOP_EDGES and rests:
                x_many = _edges(dx, 0, x_low, x_high, x_many, w.along, p.limit, tops, tops_count, at, size)
                y_many = _edges(dy, 1, y_low, y_high, y_many, w.across, p.limit, tops, tops_count, at, size)
            looked += x_many * y_many
            for y_place in range(y_many):
                y = w.across[y_place]
                for x_place in range(x_many):
                    x = w.along[x_place]
                    flush = (1 if x == x1 or x + dx + gap == x2 else 0) | (2 if y == y1 or y + dy + gap == y2 else 0)
                    score = _score(how, x, y, z, dx, dy, dz, slack_x, slack_y, slack_z, flush)
                    if found and score >= best:
                        continue
                    if rests:
                        holders, held = holders_of(gap, p.limit, tops, tops_count, at, size, w.burdens, x, y, z, dx, dy)
                        if held < 0 or held * 100 < support * dx * dy:
                            continue
                        if loaded and not can_carry(p.limit, p.weight[i], holders, held, w.burdens, False):
                            continue
                    if loaded and lies_under(gap, floor, done, count, at, size, x, y, z + dz, dx, dy):
                        # It would come to lie under a unit that is placed already: all loads are handed down again.
                        at[i, 0], at[i, 1], at[i, 2] = x, y, z
                        size[i, 0], size[i, 1], size[i, 2] = dx, dy, dz
                        done[count] = i
                        if not loads_hold(p, done, count + 1, at, size):
                            continue
                    found = True
                    best = score
                    keep_x, keep_y, keep_z, keep_dx, keep_dy, keep_dz = x, y, z, dx, dy, dz
    w.work[0] += looked
    if found:
        at[i, 0], at[i, 1], at[i, 2] = keep_x, keep_y, keep_z
        size[i, 0], size[i, 1], size[i, 2] = keep_dx, keep_dy, keep_dz
    return found
