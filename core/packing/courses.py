"""How far the long search goes: its steps for each kind of case, and the work one request may cost (packing).

Work is counted, never timed, in units of roughly a microsecond: equal input gives an equal answer on every machine. The
figures come from ``./calm bench packing`` (docs/packing.md).
"""

from dataclasses import dataclass, field
from decimal import Decimal

from core.packing.kernel.problem import Grid, Problem
from core.packing.kernel.relations import Relations
from core.packing.kernel.side_by_side import SideBySide
from core.packing.model import PackRules, PackUnit

__all__ = [
    "EFFORT_ONE", "STEPS", "WORK_PER_EFFORT", "Case", "Effort", "GoingOn", "Step", "Stretch", "case_of", "effort_for", "node_cost", "step_of",
]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class GoingOn:
    """When and how far the search goes on in a container."""

    left_out: int  #: a packing is likely where the best filling leaves out no more than this, in thousandths
    work: int  #: what may be spent in addition, over all containers
    work_in_one: int  #: a container in which so much was spent in all is left at that


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """What may be spent in addition on containers where a packing is likely; little for little that could be saved."""

    for_little: GoingOn
    for_much: GoingOn
    much_percent: int  #: what counts as much, of what the container costs

    def at_stake(self, stake: Decimal) -> GoingOn:
        """Return what holds where this share of what a container costs could be saved."""
        return self.for_much if 100 * stake >= self.much_percent else self.for_little


#: Work of fillings in one unit of effort.
WORK_PER_EFFORT = 24
#: A node costs so much, and one more for so many pairs of units it looks at.
_NODE_COST, _PAIRS_PER_EFFORT = 6, 9
#: So many rectangles tried side by side cost one.
_TRIES_PER_EFFORT = 6


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
class Effort:
    """What is left of the work one request may cost, in units of roughly a microsecond; shared by its containers.

    And what the searches in its containers have learned, so that a longer step takes up where the last one ended.
    """

    left: int
    stretch: Stretch | None = None  #: what may be spent in addition; None: nothing
    stretched: int = 0  #: what was granted of it
    #: The searches over relations begun so far.
    relations: dict[Case, Relations] = field(default_factory=dict)
    #: And those over the floor, where all units certainly are on it.
    layouts: dict[Case, SideBySide] = field(default_factory=dict)
    #: The pieces goods were made by joining equal ones that have been tried.
    clustered: dict[Case, set[tuple[PackUnit, ...]]] = field(default_factory=dict)
    #: How much of the goods the best filling so far has left out, in thousandths of their volume.
    left_out: dict[Case, int] = field(default_factory=dict)
    #: What was spent in each container so far.
    spent: dict[Case, int] = field(default_factory=dict)

    def take(self, wanted: int) -> int:
        """Return as much of ``wanted`` as is left, and take it away."""
        given = max(0, min(wanted, self.left))
        self.left -= given
        return given

    def search(self, relations: Relations, units: int, worth: int, at: Grid, size: Grid) -> int:
        """Search relations of so many units with so much work, as far as it is left; return what ``Relations.search`` answers."""
        cost = node_cost(units)
        nodes = min(worth, self.left) // cost
        answer, used = relations.search(nodes, at, size)
        self.take(min(nodes, used) * cost)
        return answer

    def lay_out(self, layout: SideBySide, worth: int, at: Grid, size: Grid) -> int:
        """Lay units side by side with so much work, as far as it is left; return what ``SideBySide.search`` answers."""
        worth = min(worth, self.left)
        answer, tries = layout.search(worth * _TRIES_PER_EFFORT, at, size)
        self.take(min(worth, tries // _TRIES_PER_EFFORT))
        return answer

    def go_on(self, stake: Decimal) -> None:
        """Grant what may be spent in addition where a packing is likely and would save this share of what it costs itself."""
        if self.stretch is not None:
            wanted = self.stretch.at_stake(stake).work
            self.left += max(0, wanted - self.stretched)
            self.stretched = max(wanted, self.stretched)

    def filled(self, case: Case, left_out: int) -> None:
        """Note how many thousandths a filling left out."""
        self.left_out[case] = min(left_out, self.left_out.get(case, left_out))

    def note_spent(self, case: Case, work: int) -> None:
        """Note what a step in a container has cost."""
        self.spent[case] = self.spent.get(case, 0) + work

    def is_hopeful(self, case: Case, stake: Decimal) -> bool:
        """Return whether fillings came near enough for going on, for what could be saved, and not too much was spent there yet."""
        if self.stretch is None or case not in self.left_out:
            return False
        going_on = self.stretch.at_stake(stake)
        return self.left_out[case] <= going_on.left_out and self.spent.get(case, 0) < going_on.work_in_one

    def is_hopeless(self, case: Case) -> bool:
        """Return whether fillings stayed so far off that no more are worth their work."""
        return case in self.left_out and self.left_out[case] > _HOPELESS


#: Work for one request: cut pieces that may lie anyhow are worth a long search, goods with cushions and loads a shorter
#: one, since what is left open there is seldom to be had; few of them more than many, since relations settle more of those.
_EFFORT_ANYHOW, _EFFORT_FEW_GOODS, _EFFORT_GOODS, _MOST_FEW_GOODS = 380_000, 160_000, 100_000, 12
#: Equal goods are mostly settled by layers, many by fillings.
_EFFORT_EQUAL, _EFFORT_MANY, _MANY_UNITS = 60_000, 80_000, 16
#: Hardly a packing was ever found where the best filling left out more than this, in thousandths.
_HOPELESS = 180
#: Of containers that were open after the first step, nine in twenty took the goods in the end where up to 60 thousandths had been left out, three
#: in ten up to 120, one in six up to 180. Whole pieces come nearer, and each is worth the same.
_STRETCH_GOODS = Stretch(
    for_little=GoingOn(left_out=110, work=150_000, work_in_one=120_000),
    for_much=GoingOn(left_out=130, work=600_000, work_in_one=450_000),
    much_percent=30,
)
_NEAR_PIECES = GoingOn(left_out=60, work=100_000, work_in_one=480_000)
_STRETCH_ANYHOW = Stretch(for_little=_NEAR_PIECES, for_much=_NEAR_PIECES, much_percent=100)
#: And for one container on its own: a plan asks for each of the cupboard's. It buys half as much again as 25 000 did before decision 18.
EFFORT_ONE = 15_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step of the long search in one container: the work its parts may take at most."""

    related: int  #: the search over relations
    filled: int  #: disturbed fillings, and fitting in what they leave out
    kept: int = 0  #: blocks kept a level
    clustered: int = 0  #: clusters of equal units
    seeds: range = range(0)  #: of the corner search


#: The long search goes over the open containers in steps, each longer than the last, in as many as effort lasts.
STEPS = 4
#: Cut pieces with little room to spare: relations and corners end early, blocks waste no more than there is.
_TIGHT = (
    Step(related=3_400, filled=0, kept=60, seeds=range(0, 1)),
    Step(related=14_000, filled=2_500, kept=200, seeds=range(1, 5)),
    Step(related=70_000, filled=12_000, kept=500, seeds=range(5, 6)),
    Step(related=220_000, filled=30_000, kept=800, seeds=range(6, 12)),
)
#: Cut pieces with more room: blocks find most, relations end for few pieces only.
_LOOSE = (
    Step(related=3_400, filled=2_000, kept=60),
    Step(related=14_000, filled=9_000, kept=120),
    Step(related=70_000, filled=30_000, kept=220),
    Step(related=220_000, filled=90_000, kept=500),
)
#: Goods that rest on each other, with cushions and loads.
_GOODS = (
    Step(related=8_000, filled=4_000, clustered=4_000),
    Step(related=20_000, filled=8_000, clustered=12_000),
    Step(related=45_000, filled=15_000, clustered=30_000),
    Step(related=90_000, filled=30_000, clustered=60_000),
)
_GOODS_TIGHT = (
    Step(related=8_000, filled=0, clustered=4_000, seeds=range(0, 1)),
    Step(related=20_000, filled=4_000, clustered=12_000, seeds=range(1, 5)),
    Step(related=45_000, filled=15_000, clustered=30_000, kept=200, seeds=range(5, 6)),
    Step(related=90_000, filled=30_000, clustered=60_000),
)
#: After these, where it is worth going on. Relations of goods that have not ended by then seldom do: with as much work they found
#: half as many packings.
_GOODS_GOING_ON = Step(related=0, filled=20_000, clustered=20_000)
_GOING_ON = Step(related=20_000, filled=20_000)


def step_of(step: int, *, goods: bool, loose: bool) -> Step:
    """Return a step for goods that need support or for pieces that may lie anyhow, with much room to spare or little."""
    if step >= STEPS:
        return _GOODS_GOING_ON if goods else _GOING_ON
    if goods:
        return (_GOODS if loose else _GOODS_TIGHT)[step]
    return (_LOOSE if loose else _TIGHT)[step]


def effort_for(units: tuple[PackUnit, ...], rules: PackRules) -> Effort:
    """Return what one request for these units may cost."""
    anyhow = rules.support_percent == 0 and all(len(set(u.up_axes)) == 3 and u.load_on_top_mg is None for u in units)
    if anyhow:
        return Effort(left=_EFFORT_ANYHOW, stretch=_STRETCH_ANYHOW)
    if len(units) == 1:
        return Effort(left=_EFFORT_EQUAL)
    count = sum(unit.quantity for unit in units)
    if count > _MANY_UNITS:
        return Effort(left=_EFFORT_MANY)
    return Effort(left=_EFFORT_FEW_GOODS if count <= _MOST_FEW_GOODS else _EFFORT_GOODS, stretch=_STRETCH_GOODS)
