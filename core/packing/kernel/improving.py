"""Filling again and again, each time from the best order so far a little disturbed (packing kernel).

Random numbers come from a counter, so equal input gives equal output.
"""

import numpy as np

from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.compiled import ONE, ZERO, compiled
from core.packing.kernel.desk import MOST_UNITS
from core.packing.kernel.filling import ANY_WAY, fill, volume
from core.packing.kernel.lending import lent, lent_threes
from core.packing.kernel.places import (
    BOTH_ENDS,
    EVEN,
    FIRST_CORNER,
    LEVEL,
    SCORES,
    TOP_EDGES,
    Workspace,
    lent_workspace,
    workspace_for,
)
from core.packing.kernel.problem import Grid, Problem, Row, lent_problem

__all__ = ["improve"]

#: Scores tried at first with units as low as each may stand.
_LOW_SCORES = 2
#: After so many tries without success the search begins again from a sorted order.
_PATIENCE = 60


@compiled
def improve(
    p: Problem, orders: Grid, scores: int, tries: int, most_work: int, turn: int, at: Grid, size: Grid
) -> tuple[int, int]:
    """Fill from every order with the first ``scores`` scores, then disturb the best order ``tries`` times, while work
    lasts.

    Each ``turn`` disturbs it in other ways. Return how much was left out at least, in thousandths of all units'
    volume, and the work done. Nought left out means all units are placed in ``at`` and ``size``; else they hold the
    best filling after tries, with the
    size nought for what it leaves out.
    """
    w = workspace_for(orders.shape[1])
    goods = lent_problem(p)
    left = _improve(goods, orders, scores, tries, most_work, turn, at, size, lent_workspace(w))
    whole = ZERO
    for i in range(orders.shape[1]):
        whole += volume(goods, i)
    # ``w`` is used once more here, so that what it lent stays until then.
    return -(-1000 * left // whole), w.work[0]


@compiled
def _improve(
    p: Problem, orders: Grid, scores: int, tries: int, most_work: int, turn: int, at: Grid, size: Grid, w: Workspace
) -> int:
    """Return the least volume left out."""
    n = orders.shape[1]
    placed, every = np.zeros(n, dtype=np.int64), np.full(n, ANY_WAY, dtype=np.int64)
    here, here_placed, here_allowed = orders[0].copy(), placed.copy(), every.copy()
    order, allowed = here.copy(), every.copy()
    here_left, here_how, here_level = -ONE, ZERO, ZERO
    levels = 1
    for i in range(n):
        if p.bottom[i] < p.floor:
            levels = EVEN + 1
    for level in range(min(levels, EVEN)):
        for how in range(scores if level == LEVEL else min(scores, _LOW_SCORES)):
            for row in range(orders.shape[0]):
                left = _fill(p, orders[row], how, level, FIRST_CORNER, at, size, placed, every, -ONE, w)
                if left == 0:
                    return 0
                if here_left < 0 or left < here_left:
                    here_left, here_how, here_level = left, how, level
                    here[:] = orders[row]
                    here_placed[:] = placed
    seed = shuffled(FIRST_SEED + turn)
    if tries == 0:
        return here_left
    if n > MOST_UNITS and p.support > 0:
        here_left = _stand_kinds(p, here, here_how, here_level, here_left, at, size, placed, here_allowed, w)
        if here_left == 0:
            return 0
    # The best order again, for where it puts the units.
    least_left = _fill(p, here, here_how, here_level, FIRST_CORNER, at, size, here_placed, here_allowed, -ONE, w)
    placed[:] = here_placed
    best_at, best_size = at.copy(), _sizes_of(size, placed)
    idle = 0
    for _ in range(tries):
        if w.work[0] > most_work:
            break
        order[:] = here
        allowed[:] = here_allowed
        seed = shuffled(seed)
        how = here_how if seed % 2 else (seed >> 8) % SCORES
        which = (BOTH_ENDS if (seed >> 20) % 3 == 0 else 0) | (TOP_EDGES if p.support > 0 and (seed >> 50) % 8 else 0)
        level = here_level if (seed >> 24) % 3 else (seed >> 28) % levels
        seed = _disturb(p, order, allowed, here_placed, seed)
        left = _fill(p, order, how, level, which, at, size, placed, allowed, here_left, w)
        if left == 0:
            return 0
        if left < least_left:
            least_left = left
            best_at[:], best_size[:] = at, _sizes_of(size, placed)
        idle = 0 if left < here_left else idle + 1
        if left <= here_left:
            here_left, here_how, here_level = left, how, level
            here[:] = order
            here_allowed[:] = allowed
            here_placed[:] = placed
        elif idle > _PATIENCE:
            idle = 0
            seed = shuffled(seed)
            here[:] = orders[seed % orders.shape[0]]
            here_allowed[:] = ANY_WAY
            here_how, here_level = (seed >> 10) % SCORES, (seed >> 14) % levels
            here_left = _fill(p, here, here_how, here_level, FIRST_CORNER, at, size, here_placed, here_allowed, -ONE, w)
            if here_left == 0:
                return 0
    at[:], size[:] = best_at, best_size
    return least_left


@compiled
def _stand_kinds(
    p: Problem, order: Row, how: int, level: int, left: int, at: Grid, size: Grid, placed: Row, allowed: Row,
    w: Workspace,
) -> int:  # fmt: skip
    """Let one kind after the other stand one way, where less is left out so; write that to ``allowed`` and return the
    least left out.

    Many equal units make layers when they stand alike, which units turned one at a time hardly ever come to.
    """
    n = len(order)
    trial = allowed.copy()
    first = 0
    while first < n:
        last = first + 1
        while last < n and p.kind[last] == p.kind[first]:
            last += 1
        for way in range(p.ways[first] if p.ways[first] > 1 and last - first > 1 else 0):
            trial[:] = allowed
            trial[first:last] = 1 << way
            found = _fill(p, order, how, level, FIRST_CORNER, at, size, placed, trial, -ONE, w)
            if found < left:
                left = found
                allowed[:] = trial
            if left == 0:
                return 0
        first = last
    return left


@compiled
def _fill(
    p: Problem, order: Row, how: int, level: int, which: int, at: Grid, size: Grid, placed: Row, allowed: Row,
    most_left: int, w: Workspace,
) -> int:  # fmt: skip
    """Fill with all arrays but the order lent."""
    return fill(
        p, order, how, level, which, lent_threes(at), lent_threes(size), lent(placed), lent(allowed), most_left, w
    )


@compiled
def _sizes_of(size: Grid, placed: Row) -> Grid:
    """Return a copy of the sizes, nought for what is not placed."""
    found = size.copy()
    for i in range(len(placed)):
        if not placed[i]:
            found[i] = 0
    return found


@compiled
def _disturb(p: Problem, order: Row, allowed: Row, placed: Row, seed: int) -> int:
    """Change one to three things in the order or in how units may stand; return the next number of the generator."""
    n = len(order)
    seed = shuffled(seed)
    for _ in range(1 + seed % 3):
        seed = shuffled(seed)
        a = (seed >> 4) % n
        if p.support > 0 and (seed >> 40) % 4 == 0:
            # Let a unit stand one way where it can, or any way again; often its equals after it, too: a layer.
            unit = order[a]
            way = ANY_WAY if allowed[unit] != ANY_WAY else 1 << ((seed >> 44) % p.ways[unit])
            last = unit + 1
            if (seed >> 48) % 4:
                while last < n and p.kind[last] == p.kind[unit]:
                    last += 1
            for one in range(unit, last):
                allowed[one] = way
        elif (seed >> 30) % 2:
            # Bring a unit that was left out forward.
            for step in range(n):
                if not placed[order[(a + step) % n]]:
                    a = (a + step) % n
                    break
            b = (seed >> 36) % (a + 1)
            unit = order[a]
            for place in range(a, b, -1):
                order[place] = order[place - 1]
            order[b] = unit
        else:
            b = (seed >> 36) % n
            order[a], order[b] = order[b], order[a]
    return seed
