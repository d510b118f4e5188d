"""The search among clusters of equal units: what is far to seek among fifteen units is near among eight (packing).

Each attempt makes the goods a few pieces by chance (``clusters``), fills a few times, and where little is left out searches the
relations of the pieces. A packing of pieces is one of the units when support and loads hold for them; that none is found says
nothing.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from core.packing.clusters import Choice, Pieces, chosen, pieces_of
from core.packing.courses import WORK_PER_EFFORT, SearchBudget, node_cost
from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.improving import improve
from core.packing.kernel.problem import Grid, Problem, problem_of, rows_taken
from core.packing.kernel.relations import FOUND, MOST_UNITS, Relations
from core.packing.model import Box, Packing, PackRules, PackUnit
from core.packing.rows import Measures, measures_of, orders_of, packing_of, rests, rows_of, unplaced

__all__ = ["search_clustered"]

#: The goods become so many pieces.
_FEWEST, _MOST = 7, 10
#: Disturbed fillings and nodes of the relation search in one attempt.
_TRIES, _NODES = 8, 500
#: Relations are worth their work where the fillings leave out no more than this, in thousandths.
_NEAR = 200
#: What it costs to make clusters, and to begin filling with them; after so many in a row that were tried before no new ones are sought.
_MAKING, _FILLING, _MOST_AGAIN = 40, 90, 12


@dataclass(frozen=True, slots=True, kw_only=True)
class _Stock:
    """What pieces there are for goods in a container; and of each kind one row of a problem, and what orders go by."""

    box: Box
    pieces: Pieces
    rows: Problem
    measures: tuple[Measures, ...]


@lru_cache(maxsize=64)
def _stock_of(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> _Stock:
    pieces = pieces_of(box, units, rules.gap_um)
    measures = tuple(measures_of(kind) for kind in pieces.kinds)
    return _Stock(box=box, pieces=pieces, rows=problem_of(box, pieces.kinds, rules), measures=measures)


def search_clustered(
    box: Box, units: tuple[PackUnit, ...], rules: PackRules, worth: int, step: int, effort: SearchBudget
) -> Packing | None:
    """Return a packing found with about so much work while effort lasts. Units are canonical; each step makes others."""
    quantities = [unit.quantity for unit in units]
    count = sum(quantities)
    least = max(_FEWEST, len(units))
    if count <= least or count == len(units):
        return None
    stock = _stock_of(box, units, rules)
    seed = shuffled(FIRST_SEED + step)
    end = max(0, effort.left - worth)
    tried, again = effort.clustered.setdefault((box.inner_um, count), set()), 0
    while effort.left > end and again < _MOST_AGAIN:
        seed = shuffled(seed)
        target = least + (seed >> 8) % (max(0, min(_MOST, count - 1) - least) + 1)
        choice = chosen(stock.pieces, quantities, target, seed)
        effort.take(_MAKING)
        if choice in tried:
            again += 1
            continue
        tried.add(choice)
        again = 0
        found = _packed(stock, choice, seed, effort)
        if found is not None:
            packing = replace(found, placements=stock.pieces.taken_apart(found.placements, rules.gap_um))
            # A cluster has gaps inside and hands down its weight as one: its units may still lack support.
            if rests(problem_of(box, units, rules), *rows_of(packing)):
                return packing
    return None


def _packed(stock: _Stock, choice: Choice, seed: int, effort: SearchBudget) -> Packing | None:
    """Return the pieces chosen, packed."""
    effort.take(_FILLING)
    kinds, many = [place for place, _ in choice], [n for _, n in choice]
    problem = rows_taken(stock.rows, np.repeat(kinds, many), np.repeat(np.arange(len(kinds)), many))
    orders = orders_of([stock.measures[place] for place in kinds], many)
    at, size = unplaced(problem)
    most_work = effort.left * WORK_PER_EFFORT
    left, work = improve(problem, orders, 1, _TRIES, most_work, (seed >> 20) % 1_000_000, at, size)
    effort.take(work // WORK_PER_EFFORT)
    if left and not (left <= _NEAR and _related(problem, effort, at, size)):
        return None
    return packing_of(stock.box, stock.pieces.units_of(choice), problem, at, size)


def _related(problem: Problem, effort: SearchBudget, at: Grid, size: Grid) -> bool:
    """Search the relations of the pieces."""
    count = len(problem.kind)
    if count > MOST_UNITS:
        return False
    return effort.search(Relations(problem), count, _NODES * node_cost(count), at, size) == FOUND
