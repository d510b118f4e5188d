"""Filling, and fitting what is left out into the best filling (packing).

A filling that leaves a unit or two out is often near a packing. Most units keep their place among each other; what is left
out and a few more, one chosen at random and those nearest to it, are free to go anywhere (kernel ``neighbours``; Shaw 1998).
Then another filling is sought.
"""

import numpy as np

from core.packing.courses import WORK_PER_EFFORT, SearchBudget, case_of, node_cost
from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.ground import Ground, ground_of
from core.packing.kernel.improving import improve
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.relations import FOUND, MOST_UNITS, Relations

__all__ = ["search_refitted"]

_ANY_NUMBER = 10**9
#: What one filling, disturbed again and again, may cost, that of more goods than relations are searched of twice as much; and how
#: often what it leaves out is fitted in.
_FILLING, _FILLING_MANY, _REFITS = 12_000, 24_000, 6
#: So many units are free, those left out among them; so many nodes are spent on fitting them in.
_FEWEST_FREE, _MOST_FREE, _NODES = 3, 6, 150
#: What one attempt costs beside its nodes.
_MAKING = 150


def search_refitted(
    problem: Problem, orders: Grid, worth: int, step: int, effort: SearchBudget, at: Grid, size: Grid
) -> bool:
    """Fill and refit with about so much work while effort lasts; return whether ``at`` and ``size`` hold a packing.

    Each step tries other fillings. Where fillings stay far off no more is done.
    """
    case, ground = case_of(problem), ground_of(problem)
    end = max(0, effort.left - worth)
    turn = shuffled(FIRST_SEED + step)
    filling = _FILLING_MANY if len(problem.kind) > MOST_UNITS else _FILLING
    while effort.left > end and not effort.is_hopeless(case):
        turn = shuffled(turn)
        most_work = min(filling, effort.left - end) * WORK_PER_EFFORT
        left, work = improve(problem, orders, 1, _ANY_NUMBER, most_work, turn % 1_000_000, at, size)
        effort.take(work // WORK_PER_EFFORT)
        effort.filled(case, left)
        if left == 0 or _refitted(problem, ground, turn, end, effort, at, size):
            return True
    return False


def _refitted(
    problem: Problem, ground: Ground, seed: int, end: int, effort: SearchBudget, at: Grid, size: Grid
) -> bool:
    """Fit what the filling in ``at`` and ``size`` leaves out into it; return whether they hold a packing now."""
    count = len(problem.kind)
    if count > MOST_UNITS:
        return False
    filled_at, filled_size = at.copy(), size.copy()
    for _ in range(_REFITS):
        if effort.left <= end:
            return False
        seed = shuffled(seed)
        relations = Relations(problem, (filled_at, filled_size, _kept(filled_at, filled_size, seed)), ground)
        effort.take(_MAKING)
        if effort.search(relations, count, _NODES * node_cost(count), at, size) == FOUND:
            return True
    return False


def _kept(at: Grid, size: Grid, seed: int) -> Row:
    """Return which units keep their place: all that were filled in but one chosen at random and the nearest to it."""
    kept = (size[:, 0] > 0).astype(np.int64)
    free = _FEWEST_FREE + seed % (_MOST_FREE - _FEWEST_FREE + 1) - (len(kept) - int(kept.sum()))
    there = np.flatnonzero(kept)
    if free > 0 and len(there):
        middles = 2 * at[there] + size[there]
        one = middles[(shuffled(seed) >> 8) % len(there)]
        nearest = np.argsort(np.abs(middles - one).sum(axis=1), kind="stable")
        kept[there[nearest[:free]]] = 0
    return kept
