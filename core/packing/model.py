"""What is packed into what, and what comes out (packing; used by parcels).

Axes: 0 along the container's inner length, 1 along its width, 2 upwards. All lengths um, weights mg.
"""

from dataclasses import dataclass
from typing import Literal

from core.recipes.model import Cushion
from core.units import Micrometres, Milligrams

__all__ = [
    "Axis", "Box", "NoPacking", "NoReason", "PackRules", "PackUnit", "Packing", "Placement", "Triple", "floor_um",
    "orientations",
]  # fmt: skip

Triple = tuple[int, int, int]
Axis = Literal["length", "width", "height", ""]
NoReason = Literal["too_heavy", "unit_too_big", "volume", "too_many", "no_arrangement", "not_found"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """The inside of a container."""

    code: str
    inner_um: Triple
    max_load_mg: Milligrams


@dataclass(frozen=True, slots=True, kw_only=True)
class PackUnit:
    """Equal units to place."""

    code: str
    name: str
    quantity: int
    size_um: Triple
    weight_mg: Milligrams
    up_axes: tuple[int, ...]  #: which own axes may stand vertical
    clearance: Cushion
    load_on_top_mg: Milligrams | None

    @property
    def most_high(self) -> int:
        """How many of them may stand on each other: the lowest carries all above it."""
        if self.load_on_top_mg is None:
            return self.quantity
        return min(self.quantity, 1 + self.load_on_top_mg // max(1, self.weight_mg))


@dataclass(frozen=True, slots=True, kw_only=True)
class PackRules:
    """Rules that hold between units."""

    gap_um: Micrometres = 0  #: any two units are this far apart along at least one axis
    support_percent: int = 75  #: least share of a base over the floor or tops (rules 4.3)


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement:
    """One placed unit."""

    unit: str
    at_um: Triple
    size_um: Triple

    @property
    def top_um(self) -> Micrometres:
        """Height of its top over the container's floor."""
        return self.at_um[2] + self.size_um[2]


@dataclass(frozen=True, slots=True, kw_only=True)
class Packing:
    """All units placed, in packing order: low before high, back before front."""

    box: str
    placements: tuple[Placement, ...]

    @property
    def top_um(self) -> Micrometres:
        """Height of the highest top over the floor."""
        return max(p.top_um for p in self.placements)


@dataclass(frozen=True, slots=True, kw_only=True)
class NoPacking:
    """Why the units are not in this container; ``proven`` when no other arrangement could change it."""

    box: str
    reason: NoReason
    proven: bool
    unit: str  #: the unit it fails on, or ""
    axis: Axis
    short_by: int  #: um for unit_too_big, mg for too_heavy, um3 for volume, units left over for too_many and not_found


def orientations(unit: PackUnit) -> tuple[Triple, ...]:
    """Return the distinct placed sizes a unit may take: an allowed axis up, either way round."""
    found: list[Triple] = []
    for up in unit.up_axes:
        one, other = (unit.size_um[axis] for axis in range(3) if axis != up)
        for placed in ((one, other, unit.size_um[up]), (other, one, unit.size_um[up])):
            if placed not in found:
                found.append(placed)
    return tuple(found)


def floor_um(units: tuple[PackUnit, ...]) -> Micrometres:
    """Return the level of the floor: the cushion below is level, as deep as the deepest asked for."""
    return max(unit.clearance.bottom_um for unit in units)
