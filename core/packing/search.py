"""Finding a valid packing for one container, or proof that there is none (rules, 4).

The argument, in the order of what it costs:
1. What simple sums and reshaped volumes rule out is proven (``ruled_out``).
2. Equal units go in layers (``equal``); what the area of the floor allows at most is proven.
3. Greedy fillings from several orders and scores (kernel ``filling``): nearly always enough where there is room.
4. Few units: every relation of every pair (kernel ``relations``), which packs or proves. Tight ones: corners filled
   without waste (``corners``), blocks joined to blocks (``blocks``). The best order disturbed again and again, and what it
   leaves out fitted in (``refitting``). Equal units joined into clusters, and all of this among fewer (``clustering``).
Every step is bounded by counts, never by the clock: equal input gives an equal answer on every machine. A result is a
proposal: callers pass it through ``verify.faults_of``.
"""

from dataclasses import replace
from functools import lru_cache

import numpy as np

from core.packing.canonical import canonical_units, code_of, dealt_back
from core.packing.clustering import search_clustered
from core.packing.courses import EFFORT_ONE, STEPS, SearchBudget, case_of, effort_for, step_of
from core.packing.equal import in_layers, layers_by_height
from core.packing.kernel.blocks import build_blocks
from core.packing.kernel.corners import fill_corners
from core.packing.kernel.improving import improve
from core.packing.kernel.places import SCORES
from core.packing.kernel.problem import Grid, Problem, problem_of
from core.packing.kernel.relations import MOST_UNITS, Relations
from core.packing.kernel.side_by_side import FOUND, NONE, UNKNOWN, SideBySide
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit, orientations
from core.packing.refitting import search_refitted
from core.packing.rows import packing_of, rests, sorted_orders, unplaced
from core.packing.ruled_out import ruled_out

__all__ = ["find_packing", "finish", "forget", "is_roomy", "not_found", "quick"]


#: Room to spare that counts as loose, and as none; percent of the window.
_LOOSE_PERCENT, _NO_SLACK_PERCENT = 12, 2
#: Relations of more loose cut pieces than this hardly ever end; so few goods are soon settled by them.
_MOST_LOOSE_RELATED, _FEW_UNITS = 11, 8
#: What the parts of the search cost, in effort.
_CORNER_NODES, _CORNER_NODE_COST = 1_000, 2
_MOST_JOINS, _JOINS_PER_EFFORT = 3_000_000, 3
_MOST_BLOCK_UNITS = 20
#: Above so many units a filling is dear: fewer scores are tried in the quick round.
_MOST_FOR_ALL_SCORES, _MOST_FOR_ALL_ORDERS = 20, 80
#: The corner search keeps a ground plan for every unit placed: too much memory for more.
_MOST_FOR_CORNERS = 64


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
    layer = _one_layer(box, units, rules)
    if layer is not None and _lay_out(layer, now.related, effort, *unplaced(layer)) == NONE:
        return _none(box)
    if goods and count <= MOST_UNITS and _all_on_floor(problem, effort):
        answer = _lay_out(problem, now.related, effort, at, size)
        if answer != UNKNOWN:
            return packing_of(box, units, problem, at, size) if answer == FOUND else _none(box)
    # Many goods are filled first, few are related first; cut pieces are joined before they are filled.
    filled_first = goods and count > _FEW_UNITS
    if filled_first and search_refitted(problem, sorted_orders(units), now.filled, step, effort, at, size):
        return packing_of(box, units, problem, at, size)
    # Many pieces with room to spare: relations are too many to end, and fillings find what there is.
    if count <= MOST_UNITS and (goods or not loose or count <= _MOST_LOOSE_RELATED):
        answer = _relate(problem, now.related, effort, at, size)
        if answer == NONE:
            return _none(box)
        if answer == FOUND:
            return packing_of(box, units, problem, at, size)
    if not effort.is_hopeless(case_of(problem)):
        found = search_clustered(box, units, rules, now.clustered, step, effort)
        if found is not None:
            return found
    packed = (
        _blocks(problem, now.kept, effort, at, size)
        or _tight(problem, now.seeds, effort, at, size)
        or (not filled_first and search_refitted(problem, sorted_orders(units), now.filled, step, effort, at, size))
    )
    return packing_of(box, units, problem, at, size) if packed else None


def _relate(problem: Problem, worth: int, effort: SearchBudget, at: Grid, size: Grid) -> int:
    case = case_of(problem)
    if case not in effort.relations:
        effort.relations[case] = Relations(problem)
    return effort.search(effort.relations[case], len(problem.kind), worth, at, size)


def _all_on_floor(problem: Problem, effort: SearchBudget) -> bool:
    """Return whether all units certainly are on the floor: then they lie side by side."""
    case = case_of(problem)
    if case not in effort.relations:
        effort.relations[case] = Relations(problem)
        if effort.relations[case].all_on_floor():
            effort.layouts[case] = SideBySide(problem)
    return case in effort.layouts


def _lay_out(problem: Problem, worth: int, effort: SearchBudget, at: Grid, size: Grid) -> int:
    # One layer of equal units may be as large as another container for all of them.
    case = case_of(problem)
    if case not in effort.layouts:
        effort.layouts[case] = SideBySide(problem)
    return effort.lay_out(effort.layouts[case], worth, at, size)


def _none(box: Box) -> NoPacking:
    return NoPacking(box=box.code, reason="no_arrangement", proven=True, unit="", axis="", short_by=0)


def _one_layer(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> Problem | None:
    """Return the fullest layer of equal units with one axis up as a problem of its own, when it is a smaller one.

    They can stand in layers only: if so many as the fullest layer must hold cannot lie side by side, nothing can.
    """
    unit = units[0]
    if len(units) > 1 or len(unit.up_axes) > 1 or rules.support_percent == 0:
        return None
    height = orientations(unit)[0][2]
    most = -(-unit.quantity // max(1, layers_by_height(box, unit, height, rules)))
    if not 1 < most <= MOST_UNITS or most == unit.quantity:
        return None
    low = Box(
        code="", max_load_mg=box.max_load_mg,
        inner_um=(*box.inner_um[:2], height + unit.clearance.bottom_um + unit.clearance.top_um),
    )  # fmt: skip
    return problem_of(low, (replace(unit, quantity=most),), rules)


def is_roomy(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> bool:
    """Return whether the units leave more of the container free than a perfect fit does."""
    return _slack_percent(problem_of(box, units, rules)) > _NO_SLACK_PERCENT


def not_found(box: Box, units: tuple[PackUnit, ...]) -> NoPacking:
    """Return the no of a search that came to its end without proof."""
    left = sum(unit.quantity for unit in units)
    return NoPacking(box=box.code, reason="not_found", proven=False, unit="", axis="", short_by=left)


def _tight(problem: Problem, seeds: range, effort: SearchBudget, at: Grid, size: Grid) -> bool:
    """Fill corners; along any axis when nothing has to rest on anything."""
    if len(problem.kind) > _MOST_FOR_CORNERS:
        return False
    free = _weightless(problem)
    for seed in seeds:
        for up in (2, 0, 1) if free else (2,):
            nodes = min(_CORNER_NODES, effort.left // _CORNER_NODE_COST)
            filled, used = fill_corners(problem, up, seed * 7919, nodes, at, size)
            effort.take(used * _CORNER_NODE_COST)
            if filled and rests(problem, at, size):
                return True
    return False


def _blocks(problem: Problem, kept: int, effort: SearchBudget, at: Grid, size: Grid) -> bool:
    if kept == 0 or len(problem.kind) > _MOST_BLOCK_UNITS:
        return False
    joins = min(_MOST_JOINS, effort.left * _JOINS_PER_EFFORT)
    joined, used = build_blocks(problem, _weightless(problem), kept, joins, at, size)
    effort.take(used // _JOINS_PER_EFFORT)
    return joined and rests(problem, at, size)


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
