"""Requests that mean the same, written the same (packing).

Codes, names and the order of lines change nothing about a packing: units are put in one order by what they are, equal
lines are joined, and the answer is dealt back to the codes. So an order that comes again is remembered under any names.
"""

from dataclasses import replace
from itertools import groupby

from core.packing.model import PackUnit, Placement

__all__ = ["canonical_units", "code_of", "dealt_back"]

_What = tuple[int, tuple[int, int, int], int, tuple[int, ...], tuple[int, int, int], int]


def _what(unit: PackUnit) -> _What:
    """Return what a unit is, large before small: equal for units that no rule can tell apart."""
    keep, limit = unit.clearance, unit.load_on_top_mg
    size = unit.size_um
    return (
        -size[0] * size[1] * size[2],
        size,
        -unit.weight_mg,
        tuple(sorted(set(unit.up_axes))),
        (keep.bottom_um, keep.side_um, keep.top_um),
        -1 if limit is None else limit,
    )


def canonical_units(units: tuple[PackUnit, ...]) -> tuple[PackUnit, ...]:
    """Return the units large before small, equal lines joined, under codes that only count."""
    found: list[PackUnit] = []
    for what, group in groupby(sorted(units, key=_what), key=_what):
        lines = list(group)
        quantity = sum(line.quantity for line in lines)
        code = f"{len(found):04}"
        found.append(replace(lines[0], code=code, name=code, quantity=quantity, up_axes=what[3]))
    return tuple(found)


def dealt_back(placements: tuple[Placement, ...], units: tuple[PackUnit, ...]) -> tuple[Placement, ...]:
    """Return the placements under the codes of the units they were asked for, in packing order."""
    waiting: dict[str, list[str]] = {}
    for number, (_, group) in enumerate(groupby(sorted(units, key=_what), key=_what)):
        lines = sorted(group, key=lambda unit: unit.code)
        waiting[f"{number:04}"] = [line.code for line in lines for _ in range(line.quantity)]
    ordered = sorted(placements, key=lambda p: (p.at_um[2], p.at_um[1], p.at_um[0]))
    return tuple(replace(placed, unit=waiting[placed.unit].pop(0)) for placed in ordered)


def code_of(canonical: str, units: tuple[PackUnit, ...]) -> str:
    """Return the first code that stands behind a canonical one, or "" for none."""
    for number, (_, group) in enumerate(groupby(sorted(units, key=_what), key=_what)):
        if f"{number:04}" == canonical:
            return min(unit.code for unit in group)
    return ""
