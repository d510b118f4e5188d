"""The independent checker: every error of a placement, found without the search (rules 4.1).

Written apart from ``search`` on purpose: it shares only the value types. A result that has an error never
leaves the core.
"""

from collections import Counter
from fractions import Fraction

from core.packing.model import Box, Packing, PackRules, PackUnit, Placement

__all__ = ["faults_of"]


def faults_of(packing: Packing, box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> tuple[str, ...]:
    """Return every error of the packing in words; empty when it is valid."""
    kinds = {unit.code: unit for unit in units}
    faults = _count_faults(packing, kinds)
    known = [p for p in packing.placements if p.unit in kinds]
    floor = max((unit.clearance.bottom_um for unit in units), default=0)
    weight = sum(kinds[p.unit].weight_mg for p in known)
    if weight > box.max_load_mg:
        faults.append(f"weighs {weight} mg, {box.code} takes {box.max_load_mg} mg")
    for number, placed in enumerate(known):
        faults.extend(_own_faults(number, placed, kinds[placed.unit], box))
        for other in range(number):
            if not _apart(placed, known[other], rules.gap_um):
                faults.append(f"#{number} and #{other} are closer than {rules.gap_um} um")
    faults.extend(_rest_faults(known, kinds, floor, rules))
    return tuple(faults)


def _count_faults(packing: Packing, kinds: dict[str, PackUnit]) -> list[str]:
    placed = Counter(p.unit for p in packing.placements)
    wanted = {code: unit.quantity for code, unit in kinds.items()}
    return [
        f"{code}: {placed[code]} placed, {wanted.get(code, 0)} wanted"
        for code in sorted(set(placed) | set(wanted))
        if placed[code] != wanted.get(code, 0)
    ]


def _own_faults(number: int, placed: Placement, unit: PackUnit, box: Box) -> list[str]:
    faults = []
    (x, y, z), (dx, dy, dz) = placed.at_um, placed.size_um
    stands = any(
        dz == unit.size_um[up] and sorted((dx, dy)) == sorted(unit.size_um[a] for a in range(3) if a != up)
        for up in unit.up_axes
    )
    if not stands:
        faults.append(f"#{number} {unit.code} stands in a way that is not allowed")
    keep = unit.clearance
    if min(x, y) < keep.side_um or x + dx > box.inner_um[0] - keep.side_um or y + dy > box.inner_um[1] - keep.side_um:
        faults.append(f"#{number} {unit.code} is nearer to a wall than {keep.side_um} um")
    if z < keep.bottom_um:
        faults.append(f"#{number} {unit.code} is nearer to the floor than {keep.bottom_um} um")
    if z + dz > box.inner_um[2] - keep.top_um:
        faults.append(f"#{number} {unit.code} is nearer to the lid than {keep.top_um} um")
    return faults


def _apart(one: Placement, other: Placement, gap_um: int) -> bool:
    return any(
        one.at_um[axis] + one.size_um[axis] + gap_um <= other.at_um[axis]
        or other.at_um[axis] + other.size_um[axis] + gap_um <= one.at_um[axis]
        for axis in range(3)
    )


def _shared_area(one: Placement, other: Placement) -> int:
    sides = [
        min(one.at_um[a] + one.size_um[a], other.at_um[a] + other.size_um[a]) - max(one.at_um[a], other.at_um[a])
        for a in (0, 1)
    ]
    return sides[0] * sides[1] if min(sides) > 0 else 0


def _rest_faults(placed: list[Placement], kinds: dict[str, PackUnit], floor: int, rules: PackRules) -> list[str]:
    """Support and load: a unit hands down its weight and all it carries, split by contact area."""
    faults = []
    carried = [Fraction(0)] * len(placed)
    for index in sorted(range(len(placed)), key=lambda i: -placed[i].at_um[2]):
        unit = placed[index]
        if unit.at_um[2] <= floor:
            continue
        below = [
            (j, area)
            for j, other in enumerate(placed)
            if j != index and other.top_um + rules.gap_um == unit.at_um[2] and (area := _shared_area(unit, other))
        ]
        held = sum(area for _, area in below)
        if held * 100 < rules.support_percent * unit.size_um[0] * unit.size_um[1]:
            faults.append(f"#{index} {unit.unit} is held on less than {rules.support_percent} % of its base")
        handed = kinds[unit.unit].weight_mg + carried[index]
        for j, area in below:
            carried[j] += handed * area / held
    for index, unit in enumerate(placed):
        limit = kinds[unit.unit].load_on_top_mg
        touched = any(
            other.at_um[2] > floor and unit.top_um + rules.gap_um == other.at_um[2] and _shared_area(other, unit)
            for j, other in enumerate(placed)
            if j != index
        )
        if limit is not None and (carried[index] > limit or (limit == 0 and touched)):
            faults.append(f"#{index} {unit.unit} carries {float(carried[index]):.0f} mg, its limit is {limit} mg")
    return faults
