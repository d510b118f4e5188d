"""The best order of a filling disturbed again and again (packing; random restarts of a constructive heuristic).

Each attempt begins from the orders by weight, base, volume and longest side, and changes the best of them a little at a
time (kernel ``improving``). Where fillings stay far off, no more is done.
"""

from core.packing.courses import WORK_PER_EFFORT, SearchBudget, case_of
from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.improving import improve
from core.packing.kernel.problem import Grid, Problem
from core.packing.kernel.relations import MOST_UNITS

__all__ = ["search_filled"]

_ANY_NUMBER = 10**9
#: What one attempt may cost, and one of more goods than relations are searched of.
_ATTEMPT, _ATTEMPT_MANY = 12_000, 24_000
#: What it costs to begin one: without it, attempts that end at once would never use effort up.
_BEGINNING = 90


def search_filled(
    problem: Problem, orders: Grid, worth: int, step: int, effort: SearchBudget, at: Grid, size: Grid
) -> bool:
    """Fill with about so much work while effort lasts; return whether ``at`` and ``size`` hold a packing.

    Each step tries other fillings.
    """
    case = case_of(problem)
    end = max(0, effort.left - worth)
    turn = shuffled(FIRST_SEED + step)
    attempt = _ATTEMPT_MANY if len(problem.kind) > MOST_UNITS else _ATTEMPT
    while effort.left > end and not effort.is_hopeless(case):
        turn = shuffled(turn)
        most_work = min(attempt, effort.left - end) * WORK_PER_EFFORT
        left, work = improve(problem, orders, 1, _ANY_NUMBER, most_work, turn % 1_000_000, at, size)
        effort.take(_BEGINNING + work // WORK_PER_EFFORT)
        effort.filled(case, left)
        if left == 0:
            return True
    return False
