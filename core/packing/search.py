"""Finding a valid packing for one container, or proof that there is none (rules 4.1).

The argument, in the order of what it costs:
1. What simple sums and reshaped volumes rule out is proven (``ruled_out``).
2. Equal units go in layers (``equal``); what the area of the floor allows at most is proven.
3. Greedy fillings from several orders and scores over maximal empty spaces (kernel ``filling``): nearly always
   enough where
   there is room.
4. Up to 16 units: every relation of every pair (kernel ``relations``), which packs or proves; and the best order
   disturbed
   again and again (``filled``).
Every step is bounded by counts, never by the clock: equal input gives an equal answer on every machine. A result is a
proposal: callers pass it through ``verify.faults_of``.
"""

from functools import lru_cache

import numpy as np

from core.packing.canonical import canonical_units, code_of, dealt_back
from core.packing.courses import EFFORT_ONE, STEPS, SearchBudget, case_of, effort_for, step_of
from core.packing.equal import in_layers
from core.packing.filled import search_filled
from core.packing.kernel.improving import improve
from core.packing.kernel.places import SCORES
from core.packing.kernel.problem import Grid, Problem, problem_of
from core.packing.kernel.relations import FOUND, MOST_UNITS, NONE, Relations
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit
from core.packing.rows import packing_of, sorted_orders, unplaced
from core.packing.ruled_out import ruled_out

__all__ = ["find_packing", "finish", "forget", "is_roomy", "not_found", "quick"]


#: Room to spare that counts as loose, and as none; percent of the window.
_LOOSE_PERCENT, _NO_SLACK_PERCENT = 12, 2
#: Relations of more loose cut pieces than this hardly ever end; so few goods are soon settled by them.
_MOST_LOOSE_RELATED, _FEW_UNITS = 11, 8
#: Above so many units a filling is dear: fewer scores are tried in the quick round.
_MOST_FOR_ALL_SCORES, _MOST_FOR_ALL_ORDERS = 20, 80


def find_packing(
    box: Box, units: tuple[PackUnit, ...], rules: PackRules, *, thorough: bool = True
) -> Packing | NoPacking:
    """Return all units placed in the container, or why not.

    Not ``thorough``: without the long search, for questions asked many times over; a no is then seldom proven.
    Raises ValueError when there are no units.
    """
    if not units:
        raise ValueError("there is nothing to pack")
    plain = Box(code="", inner_um=box.inner_um, max_load_mg=box.max_load_mg)
    found = _remembered(plain, canonical_units(units), rules, thorough)
    if isinstance(found, Packing):
        return Packing(box=box.code, placements=dealt_back(found.placements, units))
    return NoPacking(
        box=box.code, reason=found.reason, proven=found.proven, unit=code_of(found.unit, units), axis=found.axis,
        short_by=found.short_by,
    )  # fmt: skip


@lru_cache(maxsize=20_000)
def _remembered(box: Box, units: tuple[PackUnit, ...], rules: PackRules, thorough: bool) -> Packing | NoPacking:
    refused = ruled_out(box, units, rules)
    if refused is not None:
        return refused
    found = quick(box, units, rules)
    if found is not None:
        return found
    effort = SearchBudget(left=min(effort_for(units, rules).left, EFFORT_ONE))
    for step in range(STEPS if thorough else 0):
        answer = finish(box, units, rules, step, effort)
        if answer is not None:
            return answer
    return not_found(box, units)


def forget() -> None:
    """Forget remembered answers (bench: measures without them)."""
    _remembered.cache_clear()


def quick(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> Packing | None:
    """Return a packing from layers or greedy fillings, or None when they find none. Units are canonical."""
    if len(units) == 1:
        placements = in_layers(box, units[0], rules)
        if len(placements) == units[0].quantity:
            return Packing(box=box.code, placements=tuple(placements))
    problem = problem_of(box, units, rules)
    at, size = unplaced(problem)
    count = len(problem.kind)
    scores = SCORES if count <= _MOST_FOR_ALL_SCORES else 2 if count <= _MOST_FOR_ALL_ORDERS else 1
    orders = sorted_orders(units) if count <= _MOST_FOR_ALL_ORDERS else sorted_orders(units)[:1]
    left, _ = improve(problem, orders, scores, 0, 0, 0, at, size)
    if left == 0:
        return packing_of(box, units, problem, at, size)
    return None


def finish(
    box: Box, units: tuple[PackUnit, ...], rules: PackRules, step: int, effort: SearchBudget
) -> Packing | NoPacking | None:
    """Take one step of the long search: a packing, a proven no, or None when it cannot tell. Units are canonical.

    Steps from STEPS on are equally long and go on where the last ended.
    """
    problem = problem_of(box, units, rules)
    at, size = unplaced(problem)
    count = len(problem.kind)
    goods = not _weightless(problem)
    loose = _slack_percent(problem) > _LOOSE_PERCENT
    now = step_of(step, goods=goods, units=count, loose=loose)
    # Many goods are filled first, few are related first; cut pieces are related before they are filled.
    filled_first = goods and count > _FEW_UNITS
    if filled_first and search_filled(problem, sorted_orders(units), now.filled, step, effort, at, size):
        return packing_of(box, units, problem, at, size)
    # Many pieces with room to spare: relations are too many to end, and fillings find what there is.
    if count <= MOST_UNITS and (goods or not loose or count <= _MOST_LOOSE_RELATED):
        answer = _relate(problem, now.related, effort, at, size)
        if answer == NONE:
            return NoPacking(box=box.code, reason="no_arrangement", proven=True, unit="", axis="", short_by=0)
        if answer == FOUND:
            return packing_of(box, units, problem, at, size)
    if not filled_first and search_filled(problem, sorted_orders(units), now.filled, step, effort, at, size):
        return packing_of(box, units, problem, at, size)
    return None


def _relate(problem: Problem, worth: int, effort: SearchBudget, at: Grid, size: Grid) -> int:
    case = case_of(problem)
    if case not in effort.relations:
        effort.relations[case] = Relations(problem)
    return effort.search(effort.relations[case], len(problem.kind), worth, at, size)


def is_roomy(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> bool:
    """Return whether the units leave more of the container free than a perfect fit does."""
    return _slack_percent(problem_of(box, units, rules)) > _NO_SLACK_PERCENT


def not_found(box: Box, units: tuple[PackUnit, ...]) -> NoPacking:
    """Return the no of a search that came to its end without proof."""
    left = sum(unit.quantity for unit in units)
    return NoPacking(box=box.code, reason="not_found", proven=False, unit="", axis="", short_by=left)


def _slack_percent(problem: Problem) -> int:
    """Return how much of the widest window the units leave free, percent."""
    gap, side = problem.gap, 2 * int(problem.side.min())
    low = int(problem.bottom.min()) + int(problem.top.min())
    length, width, height = (int(v) + gap for v in problem.inner)
    window = (length - side) * (width - side) * (height - low)
    asked = sum(int(a + gap) * int(b + gap) * int(c + gap) for a, b, c in problem.sizes[:, 0].tolist())
    return 100 - 100 * asked // max(1, window)


def _weightless(problem: Problem) -> bool:
    """Return whether units may lie on any side and need nothing below them."""
    return problem.support == 0 and bool(np.all(problem.limit < 0)) and bool(np.all(problem.ways == _all_ways(problem)))


def _all_ways(problem: Problem) -> Grid:
    """Return how many ways each unit would have if it could lie on any side."""
    ways = np.empty(len(problem.kind), dtype=np.int64)
    for row in range(len(problem.kind)):
        distinct = len(set(problem.sizes[row, 0].tolist()))
        ways[row] = (0, 1, 3, 6)[distinct]
    return ways
