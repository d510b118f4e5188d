"""The best buying plan under a budget, exactly: a small mixed-integer model (buying; rules 14.6).

Plans are compared by when each line runs out, the earliest first. That is solved level by level: as few lines as can be
run out by the first day any does, then by the next, each answer held for those that follow; at last the least money.
Money is whole minor units, days are places among the days looked at. HiGHS runs on one thread: the answer is the same
each time.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

import numpy as np

from core.buying.mip import Floats, Rows, minimise

__all__ = ["MOST_LINES", "MOST_SUPPLIERS", "Option", "Problem", "Solved", "run_outs", "solve"]

#: Up to so many the plan is exact; beyond, the time is limited and the plan is the best that was found.
MOST_LINES, MOST_SUPPLIERS = 40, 6
_SECONDS_EACH = 5.0
#: Days whose lines are decided by one solution.
_AT_ONCE = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One amount of one line."""

    line: int
    supplier: int
    quantity: Decimal
    cents: int  #: goods, in minor units
    runs_out: int
    chosen: bool = False  #: what the line takes when there is money enough


@dataclass(frozen=True, slots=True, kw_only=True)
class Problem:
    """Lines with the amounts each may take, and what the suppliers ask for bringing them."""

    options: tuple[Option, ...]
    without: tuple[int, ...]  #: when each line runs out when it is not bought
    alone: tuple[bool, ...]  #: whether a line is worth an order by itself
    delivery: tuple[int, ...]  #: by supplier, minor units
    free_from: tuple[int | None, ...]

    def cost(self, chosen: Sequence[int | None]) -> int:
        """Return what a plan costs with its deliveries, minor units."""
        goods = [0] * len(self.delivery)
        for at in chosen:
            if at is not None:
                goods[self.options[at].supplier] += self.options[at].cents
        asked = {self.options[at].supplier for at in chosen if at is not None}
        return sum(goods) + sum(self.delivery[one] for one in asked if not self._free(one, goods[one]))

    def allowed(self, chosen: Sequence[int | None]) -> bool:
        """Return whether every supplier is asked for something that is worth an order."""
        asked = {self.options[at].supplier for at in chosen if at is not None}
        worth = {self.options[at].supplier for at in chosen if at is not None and self.alone[self.options[at].line]}
        return asked <= worth

    def _free(self, supplier: int, goods: int) -> bool:
        limit = self.free_from[supplier]
        return limit is not None and goods >= limit


@dataclass(frozen=True, slots=True, kw_only=True)
class Solved:
    """The plan found: an option of each line, None: not bought."""

    chosen: tuple[int | None, ...]
    proven: bool  #: no plan within the budget is better


def run_outs(problem: Problem, chosen: Sequence[int | None]) -> tuple[int, ...]:
    """Return when the lines run out with a plan, the earliest first."""
    return tuple(
        sorted(
            problem.without[number] if at is None else problem.options[at].runs_out for number, at in enumerate(chosen)
        )
    )


def solve(problem: Problem, budget: int, known: Sequence[int | None]) -> Solved:
    """Return the best plan within the budget, minor units. ``known``: a plan that is within it, to begin with.

    Of more lines or suppliers than the model is for, the better of that plan and one that raises what is gone first.
    """
    if not problem.options:
        return Solved(chosen=tuple(known), proven=True)
    if len(problem.without) > MOST_LINES or len(problem.delivery) > MOST_SUPPLIERS:
        raised = _raised(problem, budget)
        best = max((tuple(known), raised), key=lambda plan: (run_outs(problem, plan), -problem.cost(plan)))
        return Solved(chosen=best, proven=False)
    return _exact(problem, budget, tuple(known))


def _raised(problem: Problem, budget: int) -> tuple[int | None, ...]:
    """Return a plan made by giving the line that runs out first its next larger amount, while that fits the budget."""
    larger: dict[int, list[int]] = {}
    for at, one in sorted(enumerate(problem.options), key=lambda pair: (pair[1].runs_out, pair[1].cents)):
        larger.setdefault(one.line, []).append(at)
    chosen: list[int | None] = [None] * len(problem.without)
    stuck: set[int] = set()
    while len(stuck) < len(chosen):
        line = min(
            (number for number in range(len(chosen)) if number not in stuck),
            key=lambda number: (_runs_out(problem, chosen, number), number),
        )
        now = _runs_out(problem, chosen, line)
        for at in larger.get(line, ()):
            tried = [*chosen]
            tried[line] = at
            if problem.options[at].runs_out > now and problem.cost(tried) <= budget and problem.allowed(tried):
                chosen = tried
                break
        else:
            stuck.add(line)
    return tuple(chosen)


def _runs_out(problem: Problem, chosen: Sequence[int | None], line: int) -> int:
    at = chosen[line]
    return problem.without[line] if at is None else problem.options[at].runs_out


@lru_cache(maxsize=64)
def _exact(problem: Problem, budget: int, known: tuple[int | None, ...]) -> Solved:
    """The model's answer; the same list is looked at again and again while a person works on it."""
    model = _Model(problem, budget)
    best, proven = known, True
    levels = sorted({*problem.without, *(one.runs_out for one in problem.options)})
    waiting = [better for level in levels if (better := model.outlasting(level))]
    while waiting:
        if _reach(best, waiting[0]) == len({problem.options[at].line for at in waiting[0]}):
            # Every line that can outlast the day does already.
            full = waiting.pop(0)
            model.hold(full, _reach(best, full))
            continue
        several, waiting = waiting[:_AT_ONCE], waiting[_AT_ONCE:]
        found, sure = model.most(several)
        proven = proven and sure
        if found is not None and [_reach(found, one) for one in several] > [_reach(best, one) for one in several]:
            best = found
        for one in several:
            model.hold(one, _reach(best, one))
    found, sure = model.cheapest()
    if found is not None and problem.cost(found) < problem.cost(best):
        best = found
    return Solved(chosen=best, proven=proven and sure)


def _reach(chosen: Sequence[int | None], options: frozenset[int]) -> int:
    """Return how many of the options a plan takes."""
    return sum(1 for at in chosen if at is not None and at in options)


class _Model:
    """The rules of a plan as rows over 0-1 columns: options, suppliers asked, deliveries that are free."""

    def __init__(self, problem: Problem, budget: int) -> None:
        self.problem = problem
        count, suppliers = len(problem.options), len(problem.delivery)
        self._asked, self._free = count, count + suppliers
        self._columns = count + 2 * suppliers
        self._rows: list[tuple[float, float, list[int], list[float]]] = []
        self._cost = np.zeros(self._columns)
        self._cost[:count] = [one.cents for one in problem.options]
        self._cost[self._asked : self._free] = problem.delivery
        self._cost[self._free :] = [-one for one in problem.delivery]
        spent = [at for at in range(self._columns) if self._cost[at]]
        self._row(-np.inf, budget, spent, [float(self._cost[at]) for at in spent])
        self._choose_one()
        self._ask()

    def _row(self, low: float, high: float, columns: list[int], values: list[float]) -> None:
        self._rows.append((low, high, columns, values))

    def _choose_one(self) -> None:
        by_line: dict[int, list[int]] = {}
        for at, one in enumerate(self.problem.options):
            by_line.setdefault(one.line, []).append(at)
        for mine in by_line.values():
            self._row(-np.inf, 1, mine, [1.0] * len(mine))

    def _ask(self) -> None:
        """A line is bought of a supplier that is asked; who is asked sells something that is worth an order."""
        problem = self.problem
        for supplier, limit in enumerate(problem.free_from):
            asked, free = self._asked + supplier, self._free + supplier
            mine = [at for at, one in enumerate(problem.options) if one.supplier == supplier]
            for line in sorted({problem.options[at].line for at in mine}):
                its = [at for at in mine if problem.options[at].line == line]
                self._row(-np.inf, 0, [*its, asked], [*([1.0] * len(its)), -1.0])
            worth = [at for at in mine if problem.alone[problem.options[at].line]]
            self._row(0, np.inf, [*worth, asked], [*([1.0] * len(worth)), -1.0])
            if limit is None:
                self._row(0, 0, [free], [1.0])
                continue
            self._row(-np.inf, 0, [free, asked], [1.0, -1.0])
            goods = [float(problem.options[at].cents) for at in mine]
            self._row(0, np.inf, [*mine, free], [*goods, -float(limit)])

    def outlasting(self, level: int) -> frozenset[int]:
        """Return the options that keep a line beyond a day by which it would run out."""
        return frozenset(
            at
            for at, one in enumerate(self.problem.options)
            if one.runs_out > level and self.problem.without[one.line] <= level
        )

    def hold(self, options: frozenset[int], least: int) -> None:
        """From now on at least so many of the options are taken."""
        mine = sorted(options)
        self._row(least, np.inf, mine, [1.0] * len(mine))

    def most(self, several: Sequence[frozenset[int]]) -> tuple[tuple[int | None, ...] | None, bool]:
        """Return a plan that takes as many options of the first as can be, then of the next; whether it is proven.

        No plan takes more of one than there are lines, so weights keep the order.
        """
        base, aim = len(self.problem.without) + 1, np.zeros(self._columns)
        for place, options in enumerate(several):
            aim[sorted(options)] -= float(base ** (len(several) - 1 - place))
        return self._run(aim)

    def cheapest(self) -> tuple[tuple[int | None, ...] | None, bool]:
        """Return the cheapest plan that keeps all that is held, and whether that is proven."""
        return self._run(self._cost)

    def _run(self, aim: Floats) -> tuple[tuple[int | None, ...] | None, bool]:
        rows = Rows(
            start=np.cumsum([0, *(len(row[2]) for row in self._rows)]),
            index=np.array([at for row in self._rows for at in row[2]]),
            value=np.array([value for row in self._rows for value in row[3]]),
            low=np.array([row[0] for row in self._rows]),
            high=np.array([row[1] for row in self._rows]),
        )
        answer = minimise(aim, rows, seconds=_SECONDS_EACH)
        if answer.values is None:
            return None, answer.proven
        chosen: list[int | None] = [None] * len(self.problem.without)
        for at, one in enumerate(self.problem.options):
            if answer.values[at] > 0.5:
                chosen[one.line] = at
        return tuple(chosen), answer.proven
