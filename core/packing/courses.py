"""How far the long search goes: its steps for each kind of case, and the work one request may cost (packing).

Work is counted, never timed, in units of roughly a microsecond: equal input gives an equal answer on every machine. The
figures come from ``./calm bench packing`` (docs/packing.md).
"""

from dataclasses import dataclass, field
from decimal import Decimal

from core.packing.kernel.problem import Grid, Problem
from core.packing.kernel.relations import MOST_UNITS, Relations
from core.packing.model import PackRules, PackUnit

__all__ = [
    "EFFORT_ONE",
    "STEPS",
    "WORK_PER_EFFORT",
    "Case",
    "LongerSearch",
    "SearchBudget",
    "Step",
    "case_of",
    "effort_for",
    "node_cost",
    "step_of",
]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step of the long search in one container: the work its parts may take at most."""

    related: int  #: the search over relations
    filled: int  #: disturbed fillings


@dataclass(frozen=True, slots=True, kw_only=True)
class LongerSearch:
    """When the search goes on after its steps in containers where a packing is likely, and how far."""

    near: int  #: a container is near where the best filling leaves out no more than this, in thousandths
    enough: int  #: it goes on where the promise (``is_worth``) comes to this
    enough_for_much: int  #: or to this where much could be saved, or nothing takes the goods yet
    much_percent: int  #: what counts as much, of what the cheapest of them costs
    work: int  #: what may be spent then, over all containers

    def is_worth(self, left_out: list[int], chances: int, stake: Decimal) -> bool:
        """Return whether to go on where fillings leave out so much and this share of a container's cost could be saved.

        The promise: the squares of how much nearer than ``near`` each container is, added up, times ``chances``,
        which are the kinds of goods times the containers left open.
        """
        wanted = self.enough_for_much if 100 * stake >= self.much_percent else self.enough
        return chances * sum((self.near - out) ** 2 for out in left_out if out <= self.near) >= wanted


#: Work of fillings in one unit of effort.
WORK_PER_EFFORT = 24
#: A node costs so much, and one more for so many pairs of units it looks at.
_NODE_COST, _PAIRS_PER_EFFORT = 10, 12


def node_cost(units: int) -> int:
    """Return what a node of the relation search costs with so many units, in effort."""
    return _NODE_COST + units * units // (2 * _PAIRS_PER_EFFORT)


#: The inside of a container (um) and the number of units: what a search in it is known by during one request.
Case = tuple[tuple[int, int, int], int]


def case_of(problem: Problem) -> Case:
    """Return what a search with these arrays is known by."""
    length, width, height = problem.inner.tolist()
    return (length, width, height), len(problem.kind)


@dataclass(slots=True, kw_only=True)
class SearchBudget:
    """What is left of the work one request may cost, in units of roughly a microsecond; shared by its containers.

    And what the searches in its containers have learned, so that a longer step takes up where the last one ended.
    """

    left: int
    stretch: LongerSearch | None = None  #: what may be spent in addition; None: nothing
    #: The searches over relations begun so far.
    relations: dict[Case, Relations] = field(default_factory=dict)
    #: How much of the goods the best filling so far has left out, in thousandths of their volume.
    left_out: dict[Case, int] = field(default_factory=dict)

    def take(self, wanted: int) -> int:
        """Return as much of ``wanted`` as is left, and deduct it."""
        given = max(0, min(wanted, self.left))
        self.left -= given
        return given

    def search(self, relations: Relations, units: int, worth: int, at: Grid, size: Grid) -> int:
        """Search relations of so many units with so much work as is left; return what ``Relations.search`` answers."""
        cost = node_cost(units)
        nodes = min(worth, self.left) // cost
        answer, used = relations.search(nodes, at, size)
        self.take(min(nodes, used) * cost)
        return answer

    def go_on(self, cases: list[Case], chances: int, stake: Decimal) -> bool:
        """Grant what may be spent in addition, where a packing is likely in these and would save this share of what
        one costs.

        Containers never filled count for nothing: ask for those that are near. ``chances``: see
        ``LongerSearch.is_worth``.
        """
        left_out = [self.left_out[case] for case in cases]
        if self.stretch is None or not self.stretch.is_worth(left_out, chances, stake):
            return False
        self.left += self.stretch.work
        return True

    def filled(self, case: Case, left_out: int) -> None:
        """Note how many thousandths a filling left out."""
        self.left_out[case] = min(left_out, self.left_out.get(case, left_out))

    def is_near(self, case: Case) -> bool:
        """Return whether fillings came near enough for going on."""
        return self.stretch is not None and case in self.left_out and self.left_out[case] <= self.stretch.near

    def is_hopeless(self, case: Case) -> bool:
        """Return whether fillings stayed so far off that no more are worth their work."""
        return case in self.left_out and self.left_out[case] > _HOPELESS


#: Work for one request: cut pieces that may lie anyhow are worth a long search, goods with cushions and loads a shorter
#: one, since what is left open there is seldom to be had.
_EFFORT_ANYHOW, _EFFORT_GOODS = 380_000, 120_000
#: Equal goods are mostly settled by layers, many by fillings.
_EFFORT_EQUAL, _EFFORT_MANY = 60_000, 130_000
#: Hardly a packing was ever found where the best filling left out more than this, in thousandths.
_HOPELESS = 150
#: Of 314 in 2 560 orders of goods that were not settled by then, something cheaper was there for 93. Of the 106 that
#: promise most it was there for 72; to tell by the squares alone takes 139 orders for as many (decision 14).
_STRETCH_GOODS = LongerSearch(near=140, enough=24_500, enough_for_much=8_000, much_percent=100, work=500_000)
#: Of 300 orders of many goods 15 leave out so little; a quarter of them pack in the end, of the others one in fifty.
_STRETCH_MANY = LongerSearch(near=22, enough=0, enough_for_much=0, much_percent=100, work=300_000)
_STRETCH_ANYHOW = LongerSearch(near=60, enough=0, enough_for_much=0, much_percent=100, work=100_000)
#: And for one container on its own: a plan asks for each of the cupboard's.
EFFORT_ONE = 15_000


#: The long search goes over the open containers in steps, each longer than the last, in as many as effort lasts.
STEPS = 4
#: After these one step over and over, where it is worth going on: the last of each kind of case, this one's of pieces.
_GOING_ON = Step(related=20_000, filled=20_000)
#: Cut pieces with little room to spare: relations end early.
_TIGHT = (
    Step(related=3_400, filled=0),
    Step(related=14_000, filled=2_500),
    Step(related=70_000, filled=12_000),
    Step(related=220_000, filled=30_000),
    _GOING_ON,
)
#: Cut pieces with more room: relations end for few pieces only.
_LOOSE = (
    Step(related=3_400, filled=2_000),
    Step(related=14_000, filled=9_000),
    Step(related=70_000, filled=30_000),
    Step(related=220_000, filled=90_000),
    _GOING_ON,
)


def _shared(related: int) -> tuple[Step, ...]:
    """Return the steps for goods and those after them: relations get so many percent, fillings the rest."""
    return tuple(Step(related=size * related // 100, filled=size * (100 - related) // 100) for size in _SIZES)


#: Goods that rest on each other, with cushions and loads: what the steps cost.
_SIZES = (16_000, 40_000, 90_000, 180_000, 50_000)
#: Up to so many goods, and what relations get. Of few goods they find most and prove; of more, fillings find most.
_GOODS = ((10, _shared(75)), (12, _shared(62)), (MOST_UNITS, _shared(29)))
_GOODS_TIGHT = (
    Step(related=8_000, filled=4_000),
    Step(related=20_000, filled=16_000),
    Step(related=45_000, filled=45_000),
    Step(related=90_000, filled=90_000),
)
#: More goods than relations are searched of: fillings find what there is.
_MANY = tuple(Step(related=0, filled=filled) for filled in (28_000, 56_000, 87_000, 126_000, 54_000))


def step_of(step: int, *, goods: bool, units: int, loose: bool) -> Step:
    """Return a step for so many goods, or for pieces that may lie anyhow, with room to spare or little."""
    if not goods:
        steps: tuple[Step, ...] = _LOOSE if loose else _TIGHT
    elif units > MOST_UNITS:
        steps = _MANY
    elif loose or step >= STEPS:
        steps = next(shared for most, shared in _GOODS if units <= most)
    else:
        steps = _GOODS_TIGHT
    return steps[min(step, STEPS)]


def effort_for(units: tuple[PackUnit, ...], rules: PackRules) -> SearchBudget:
    """Return what one request for these units may cost."""
    anyhow = rules.support_percent == 0 and all(len(set(u.up_axes)) == 3 and u.load_on_top_mg is None for u in units)
    if anyhow:
        return SearchBudget(left=_EFFORT_ANYHOW, stretch=_STRETCH_ANYHOW)
    if len(units) == 1:
        return SearchBudget(left=_EFFORT_EQUAL)
    count = sum(unit.quantity for unit in units)
    if count > MOST_UNITS:
        return SearchBudget(left=_EFFORT_MANY, stretch=_STRETCH_MANY)
    return SearchBudget(left=_EFFORT_GOODS, stretch=_STRETCH_GOODS)
