"""How far the long search goes: its steps for each kind of case, and the work one request may cost (packing).

Work is counted, never timed, in units of roughly a microsecond: equal input gives an equal answer on every machine. The
figures come from ``./calm bench packing`` (docs/packing.md).
"""

from dataclasses import dataclass, field

from core.packing.kernel.relations import Relations
from core.packing.model import PackRules, PackUnit

__all__ = ["EFFORT_ONE", "STEPS", "Effort", "Step", "course_of", "effort_for"]


@dataclass(slots=True, kw_only=True)
class Effort:
    """What is left of the work one request may cost, in units of roughly a microsecond; shared by its containers.

    And what the searches in its containers have learned, so that a longer step takes up where the last one ended.
    """

    left: int
    #: The searches over relations begun so far, by the inside of the container (um) and the number of units.
    relations: dict[tuple[int, int, int, int], Relations] = field(default_factory=dict)

    def take(self, wanted: int) -> int:
        """Return as much of ``wanted`` as is left, and take it away."""
        given = max(0, min(wanted, self.left))
        self.left -= given
        return given


#: Work for one request: cut pieces that may lie anyhow are worth a long search, goods with cushions and loads a shorter
#: one, since what is left open there is seldom to be had.
_EFFORT_ANYHOW, _EFFORT_GOODS = 450_000, 130_000
#: Equal goods are mostly settled by layers, many by fillings.
_EFFORT_EQUAL, _EFFORT_MANY, _MANY_UNITS = 60_000, 80_000, 16
#: And for one container on its own: a plan asks for each of the cupboard's.
EFFORT_ONE = 25_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step of the long search in one container; what costs least for what it finds comes first."""

    nodes: int  #: more of the relation search
    tries: int  #: disturbed fillings
    kept: int  #: blocks kept a level
    seeds: range  #: of the corner search


#: The long search goes over the open containers in steps, each longer than the last, in as many as effort lasts.
STEPS = 4
_NO_SEEDS = range(0)
#: Cut pieces with little room to spare: relations and corners end early, blocks waste no more than there is.
_TIGHT = (
    Step(nodes=120, tries=0, kept=60, seeds=range(0, 1)),
    Step(nodes=500, tries=80, kept=200, seeds=range(1, 5)),
    Step(nodes=2_500, tries=400, kept=500, seeds=range(5, 6)),
    Step(nodes=8_000, tries=1_000, kept=800, seeds=range(6, 12)),
)
#: Cut pieces with more room: blocks find most, relations end for few pieces only.
_LOOSE = (
    Step(nodes=120, tries=60, kept=60, seeds=_NO_SEEDS),
    Step(nodes=500, tries=300, kept=120, seeds=_NO_SEEDS),
    Step(nodes=2_500, tries=1_000, kept=220, seeds=_NO_SEEDS),
    Step(nodes=8_000, tries=3_000, kept=500, seeds=_NO_SEEDS),
)
#: Goods that rest on each other, with cushions and loads.
_GOODS = (
    Step(nodes=200, tries=150, kept=0, seeds=_NO_SEEDS),
    Step(nodes=1_000, tries=300, kept=0, seeds=_NO_SEEDS),
    Step(nodes=3_000, tries=600, kept=0, seeds=_NO_SEEDS),
    Step(nodes=10_000, tries=2_000, kept=0, seeds=_NO_SEEDS),
)
_GOODS_TIGHT = (
    Step(nodes=200, tries=0, kept=0, seeds=range(0, 1)),
    Step(nodes=1_000, tries=80, kept=0, seeds=range(1, 5)),
    Step(nodes=3_000, tries=400, kept=200, seeds=range(5, 6)),
    Step(nodes=10_000, tries=1_000, kept=0, seeds=_NO_SEEDS),
)


def course_of(*, goods: bool, loose: bool) -> tuple[Step, ...]:
    """Return the steps for goods that need support or for pieces that may lie anyhow, with much room to spare or little."""
    if goods:
        return _GOODS if loose else _GOODS_TIGHT
    return _LOOSE if loose else _TIGHT


def effort_for(units: tuple[PackUnit, ...], rules: PackRules) -> Effort:
    """Return what one request for these units may cost."""
    anyhow = rules.support_percent == 0 and all(len(set(u.up_axes)) == 3 and u.load_on_top_mg is None for u in units)
    if anyhow:
        return Effort(left=_EFFORT_ANYHOW)
    if len(units) == 1:
        return Effort(left=_EFFORT_EQUAL)
    many = sum(unit.quantity for unit in units) > _MANY_UNITS
    return Effort(left=_EFFORT_MANY if many else _EFFORT_GOODS)
