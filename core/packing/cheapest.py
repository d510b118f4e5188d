"""The cheapest single container that holds a list of units (packing; a script interface, and the choice of parcels).

Containers are taken from the cheapest up, smaller inside first when costs tie. First what is certain is ruled out;
then quick fillings climb until one container packs: that is the ceiling. Only the cheaper ones left open get the long
search, which packs or proves. What cannot be in a container cannot be in one that is smaller along every axis. The
answer is proven when every cheaper container is ruled out for certain, not merely not found.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from core.errors import InvalidPacking
from core.messages import Message, say
from core.packing.canonical import canonical_units, code_of, dealt_back
from core.packing.courses import STEPS, Case, SearchBudget, effort_for
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit
from core.packing.reasons import no_packing_reason
from core.packing.ruled_out import ruled_out
from core.packing.search import finish, is_roomy, not_found, quick
from core.packing.verify import faults_of

__all__ = ["Cheapest", "Considered", "Offered", "cheapest_container", "forget_requests"]

#: How often the search goes on in the containers where a packing is likely; effort ends it long before.
_MOST_ROUNDS = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Offered:
    """A container with what one of it costs."""

    box: Box
    cost: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Considered:
    """What became of one container, in the order they were given."""

    container: str
    outcome: Literal["chosen", "dearer", "no"]
    reason: Message


@dataclass(frozen=True, slots=True, kw_only=True)
class Cheapest:
    """The answer: a packing or None, and whether nothing cheaper can exist."""

    packing: Packing | None
    proven: bool
    considered: tuple[Considered, ...]


def cheapest_container(offered: tuple[Offered, ...], units: tuple[PackUnit, ...], rules: PackRules) -> Cheapest:
    """Return the cheapest container that holds all units, checked independently.

    Raises InvalidPacking when the checker finds an error in what the search returned: a defect, never an answer.
    """
    order = sorted(offered, key=lambda o: (o.cost, _volume(o.box), o.box.code))
    boxes = tuple(replace(one.box, code="") for one in order)
    packing, rejections = _remembered(boxes, tuple(one.cost for one in order), canonical_units(units), rules)
    if packing is None:
        return Cheapest(
            packing=None,
            proven=all(no.proven for no in rejections),
            considered=_rejections(offered, order, rejections, units),
        )
    chosen = order[len(rejections)]
    answer = Packing(box=chosen.box.code, placements=dealt_back(packing.placements, units))
    faults = faults_of(answer, chosen.box, units, rules)
    if faults:
        raise InvalidPacking(chosen.box.code, faults)
    told = {one.container: one for one in _rejections(offered, order, rejections, units)}
    told[chosen.box.code] = Considered(container=chosen.box.code, outcome="chosen", reason=say("cheapest_of_all"))
    for one in order[len(rejections) + 1 :]:
        told[one.box.code] = _dearer(one, chosen)
    return Cheapest(
        packing=answer, proven=all(no.proven for no in rejections), considered=tuple(told[o.box.code] for o in offered)
    )


def forget_requests() -> None:
    """Forget remembered answers (bench: measures without them)."""
    _remembered.cache_clear()


@lru_cache(maxsize=4_000)
def _remembered(
    boxes: tuple[Box, ...], costs: tuple[Decimal, ...], units: tuple[PackUnit, ...], rules: PackRules
) -> tuple[Packing | None, tuple[NoPacking, ...]]:
    """Return the packing in the first container that takes it, and why not for those before it."""
    rejections: list[NoPacking | None] = []
    packing: Packing | None = None
    for box in boxes:
        rejections.append(ruled_out(box, units, rules))
        if rejections[-1] is None and (packing := quick(box, units, rules)) is not None:
            rejections.pop()
            break
    search = _Search(boxes=boxes, costs=costs, units=units, rules=rules, rejections=rejections, packing=packing)
    search.go()
    return search.packing, tuple(
        not_found(box, units) if no is None else no for box, no in zip(boxes, search.rejections, strict=False)
    )


@dataclass(slots=True, kw_only=True)
class _Search:
    """The long search in the containers cheaper than the one that packs; ``rejections`` are those before it."""

    boxes: tuple[Box, ...]
    costs: tuple[Decimal, ...]
    units: tuple[PackUnit, ...]
    rules: PackRules
    rejections: list[NoPacking | None]
    packing: Packing | None

    def go(self) -> None:
        """Search all that are open in steps, then go on where a packing is likely: with what is left, and with more."""
        effort = effort_for(self.units, self.rules)
        for step in range(STEPS):
            for place in _in_turn(self._open(), self.boxes, self.units, self.rules):
                self._look(place, step, effort)
        # The steps leave some of the effort where fillings are hopeless.
        self._go_on(effort)
        near = self._near(effort)
        chances = len(self.units) * len(self._open())
        if near and effort.go_on([self._case(place) for place in near], chances, self._stake(near[0])):
            self._go_on(effort)

    def _go_on(self, effort: SearchBudget) -> None:
        for step in range(STEPS, STEPS + _MOST_ROUNDS):
            if effort.left <= 0:
                return
            near = sorted(self._near(effort), key=lambda place: effort.left_out[self._case(place)])
            for place in near or self._open():
                self._look(place, step, effort)

    def _open(self) -> list[int]:
        return [place for place, no in enumerate(self.rejections) if no is None]

    def _near(self, effort: SearchBudget) -> list[int]:
        return [place for place in self._open() if effort.is_near(self._case(place))]

    def _case(self, place: int) -> Case:
        return self.boxes[place].inner_um, sum(unit.quantity for unit in self.units)

    def _stake(self, place: int) -> Decimal:
        """Return how much a packing here would save, as a share of what this container costs."""
        if self.packing is None or self.costs[place] <= 0:
            return Decimal(1)
        return (self.costs[len(self.rejections)] - self.costs[place]) / self.costs[place]

    def _look(self, place: int, step: int, effort: SearchBudget) -> None:
        """Take one step in a container. Once one packs, only what is cheaper than this is still of interest."""
        if place >= len(self.rejections):
            return
        box = self.boxes[place]
        if any(
            no and no.reason == "no_arrangement" and _within(box, self.boxes[k]) for k, no in enumerate(self.rejections)
        ):
            self.rejections[place] = NoPacking(
                box="", reason="no_arrangement", proven=True, unit="", axis="", short_by=0
            )
            return
        found = finish(box, self.units, self.rules, step, effort)
        if isinstance(found, Packing):
            self.packing, self.rejections = found, self.rejections[:place]
        else:
            self.rejections[place] = found


def _in_turn(places: list[int], boxes: tuple[Box, ...], units: tuple[PackUnit, ...], rules: PackRules) -> list[int]:
    """Return the places in the order they are searched: tight ones from the cheapest, then roomy ones from the dearest.

    A tight container is settled soon. Among roomy ones a packing is found sooner where there is more room, what is
    ruled out there rules out more, and cheaper ones then get what work is left.
    """
    roomy = {place for place in places if is_roomy(boxes[place], units, rules)}
    return [*(p for p in places if p not in roomy), *sorted(roomy, reverse=True)]


def _within(small: Box, large: Box) -> bool:
    """Return whether one inside is no larger than another along every axis, turned about the vertical or not."""
    (a, b, c), (d, e, f) = small.inner_um, large.inner_um
    return c <= f and ((a <= d and b <= e) or (a <= e and b <= d))


def _rejections(
    offered: tuple[Offered, ...], order: list[Offered], rejections: tuple[NoPacking, ...], units: tuple[PackUnit, ...]
) -> tuple[Considered, ...]:
    told = {}
    for one, no in zip(order, rejections, strict=False):
        named = replace(no, box=one.box.code, unit=code_of(no.unit, units))
        words = no_packing_reason(named, one.box.code, one.box.max_load_mg, units)
        told[one.box.code] = Considered(container=one.box.code, outcome="no", reason=words)
    return tuple(told[one.box.code] for one in offered if one.box.code in told)


def _dearer(one: Offered, chosen: Offered) -> Considered:
    gap = one.cost - chosen.cost
    words = (
        say("dearer_container", gap_money=gap, chosen=chosen.box.code)
        if gap
        else say("larger_container", chosen=chosen.box.code)
    )
    return Considered(container=one.box.code, outcome="dearer", reason=words)


def _volume(box: Box) -> int:
    return box.inner_um[0] * box.inner_um[1] * box.inner_um[2]
