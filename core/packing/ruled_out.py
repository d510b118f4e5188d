"""What needs no search: weight, a single unit too long, volume, layers, and volumes of reshaped sizes (packing).

Every answer here is proven: no arrangement could change it. The floor of a unit is its own bottom clearance, since a
unit may stand lower than the deepest cushion where it needs less.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from core.packing.equal import most_in_layers
from core.packing.kernel.bounds import ruled_out_by_volumes
from core.packing.kernel.problem import Row, problem_of
from core.packing.model import Axis, Box, NoPacking, NoReason, PackRules, PackUnit, Triple, orientations
from core.units import Milligrams

__all__ = ["ruled_out"]

_AXES: tuple[Axis, Axis, Axis] = ("length", "width", "height")


def ruled_out(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> NoPacking | None:
    """Return why the units certainly cannot be in the container, or None when only a search can tell."""
    asked = _asked(units)
    if asked.weight_mg > box.max_load_mg:
        return _no(box, "too_heavy", "", "", asked.weight_mg - box.max_load_mg)
    for unit, rooms in zip(units, asked.rooms, strict=True):
        if not _has_room(rooms, box.inner_um):
            shortages = [_shortage(room, box.inner_um) for room in rooms]
            best = min(shortages, key=lambda s: sum(max(0, v) for v in s))
            axis = max(range(3), key=lambda a: best[a])
            return _no(box, "unit_too_big", unit.code, _AXES[axis], best[axis])
    if len(units) == 1 and len(units[0].up_axes) == 1 and rules.support_percent > 0:
        most = most_in_layers(box, units[0], rules)
        if units[0].quantity > most:
            return _no(box, "too_many", units[0].code, "", units[0].quantity - most)
    inside = box.inner_um[0] * box.inner_um[1] * box.inner_um[2]
    if asked.volume_um3 > inside:
        return _no(box, "volume", "", "", asked.volume_um3 - inside)
    if _reshaped(box, units, rules):
        return _no(box, "no_arrangement", "", "", 0)
    return None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Asked:
    """What the units ask of any container."""

    weight_mg: Milligrams
    volume_um3: int
    rooms: tuple[tuple[Triple, ...], ...]  #: of each line the inside it asks for, each way it may stand


@lru_cache(maxsize=64)
def _asked(units: tuple[PackUnit, ...]) -> _Asked:
    return _Asked(
        weight_mg=sum(unit.weight_mg * unit.quantity for unit in units),
        volume_um3=sum(unit.size_um[0] * unit.size_um[1] * unit.size_um[2] * unit.quantity for unit in units),
        rooms=tuple(tuple(_room(unit, placed) for placed in orientations(unit)) for unit in units),
    )


def _has_room(rooms: tuple[Triple, ...], inner_um: Triple) -> bool:
    length, width, height = inner_um
    return any(a <= length and b <= width and c <= height for a, b, c in rooms)


def _reshaped(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> bool:
    single, kinds, quantities = _single(units)
    return ruled_out_by_volumes(problem_of(box, single, rules), kinds, quantities)


@lru_cache(maxsize=64)
def _single(units: tuple[PackUnit, ...]) -> tuple[tuple[PackUnit, ...], Row, Row]:
    """Return one unit of each line, their numbers, and how many there are of each."""
    return (
        tuple(replace(unit, quantity=1) for unit in units),
        np.arange(len(units), dtype=np.int64),
        np.array([unit.quantity for unit in units], dtype=np.int64),
    )


def _no(box: Box, reason: NoReason, unit: str, axis: Axis, short_by: int) -> NoPacking:
    return NoPacking(box=box.code, reason=reason, proven=True, unit=unit, axis=axis, short_by=short_by)


def _room(unit: PackUnit, placed: Triple) -> Triple:
    keep = unit.clearance
    return (
        placed[0] + 2 * keep.side_um, placed[1] + 2 * keep.side_um, placed[2] + keep.bottom_um + keep.top_um
    )  # fmt: skip


def _shortage(room: Triple, inner_um: Triple) -> Triple:
    return room[0] - inner_um[0], room[1] - inner_um[1], room[2] - inner_um[2]
