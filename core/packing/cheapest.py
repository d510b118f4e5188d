"""The cheapest single container that holds a list of units (packing; the door for scripts, later the choice of parcels).

Containers are tried from the cheapest up, smaller inside first when costs tie; the first that takes the units is the
answer. It is proven when every cheaper container is ruled out for certain, not merely not found.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.errors import InvalidPacking
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit
from core.packing.reasons import no_packing_reason
from core.packing.search import find_packing
from core.packing.verify import faults_of

__all__ = ["Cheapest", "Considered", "Offered", "cheapest_container"]


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
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Cheapest:
    """The answer: a packing or None, and whether nothing cheaper can exist."""

    packing: Packing | None
    proven: bool
    considered: tuple[Considered, ...]


def cheapest_container(offered: tuple[Offered, ...], units: tuple[PackUnit, ...], rules: PackRules) -> Cheapest:
    """Return the cheapest container that holds all units, checked independently.

    Raises InvalidPacking when the checker finds a fault in what the search returned: a defect, never an answer.
    """
    order = sorted(offered, key=lambda o: (o.cost, _volume(o.box), o.box.code))
    outcome: dict[str, Considered] = {}
    chosen: tuple[Offered, Packing] | None = None
    proven = True
    for one in order:
        code = one.box.code
        if chosen is not None:
            gap = one.cost - chosen[0].cost
            words = (
                f"costs {gap:f} more than {chosen[0].box.code}"
                if gap
                else f"costs the same as {chosen[0].box.code} and is larger"
            )
            outcome[code] = Considered(container=code, outcome="dearer", reason=words)
            continue
        found = find_packing(one.box, units, rules)
        if isinstance(found, NoPacking):
            proven = proven and found.proven
            outcome[code] = Considered(
                container=code, outcome="no", reason=no_packing_reason(found, one.box.max_load_mg, units)
            )
            continue
        faults = faults_of(found, one.box, units, rules)
        if faults:
            raise InvalidPacking(code, faults)
        chosen = (one, found)
        outcome[code] = Considered(container=code, outcome="chosen", reason="the cheapest that holds all units")
    return Cheapest(
        packing=chosen[1] if chosen else None, proven=proven, considered=tuple(outcome[o.box.code] for o in offered)
    )


def _volume(box: Box) -> int:
    return box.inner_um[0] * box.inner_um[1] * box.inner_um[2]
