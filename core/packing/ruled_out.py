"""What needs no search: weight, a single unit too long, volume, layers, and volumes of reshaped sizes (packing).

Every answer here is proven: no arrangement could change it. The floor of a unit is its own bottom clearance, since a
unit may stand lower than the deepest cushion where it needs less.
"""

from dataclasses import replace
from functools import lru_cache

import numpy as np

from core.packing.equal import most_in_layers
from core.packing.kernel.bounds import ruled_out_by_volumes
from core.packing.kernel.problem import Row, problem_of
from core.packing.model import Axis, Box, NoPacking, NoReason, PackRules, PackUnit, Triple, orientations

__all__ = ["ruled_out"]

_AXES: tuple[Axis, Axis, Axis] = ("length", "width", "height")


def ruled_out(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> NoPacking | None:
    """Return why the units certainly cannot be in the container, or None when only a search can tell."""
    weight = sum(unit.weight_mg * unit.quantity for unit in units)
    if weight > box.max_load_mg:
        return _no(box, "too_heavy", "", "", weight - box.max_load_mg)
    for unit in units:
        shortages = [_shortage(box, unit, placed) for placed in orientations(unit)]
        best = min(shortages, key=lambda s: sum(max(0, v) for v in s))
        axis = max(range(3), key=lambda a: best[a])
        if best[axis] > 0:
            return _no(box, "unit_too_big", unit.code, _AXES[axis], best[axis])
    if len(units) == 1 and len(units[0].up_axes) == 1 and rules.support_percent > 0:
        most = most_in_layers(box, units[0], rules)
        if units[0].quantity > most:
            return _no(box, "too_many", units[0].code, "", units[0].quantity - most)
    inside = box.inner_um[0] * box.inner_um[1] * box.inner_um[2]
    asked = sum(unit.size_um[0] * unit.size_um[1] * unit.size_um[2] * unit.quantity for unit in units)
    if asked > inside:
        return _no(box, "volume", "", "", asked - inside)
    if _reshaped(box, units, rules):
        return _no(box, "no_arrangement", "", "", 0)
    return None


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


def _shortage(box: Box, unit: PackUnit, placed: Triple) -> Triple:
    keep = unit.clearance
    return (
        placed[0] + 2 * keep.side_um - box.inner_um[0],
        placed[1] + 2 * keep.side_um - box.inner_um[1],
        placed[2] + keep.bottom_um + keep.top_um - box.inner_um[2],
    )
