"""Finding a valid packing for one container (rules, 4).

The argument. Equal units are laid in layers: for each way a unit may stand, the floor is filled by a grid, or
by two grids side by side with the unit turned in one of them, and the layer repeated upwards, so every unit
stands fully on the one below; where two grids are too few, five (a ring of four round a fifth) are tried.
Equal units with one axis up can only stand in layers, so the floor's area times the layers bounds them: more
than that is a proven no. Mixed units are placed one by one, heavy and large first, each at the lowest,
then backmost, then leftmost corner that earlier units leave, over several orders. What simple sums rule out is
proven; what only the search did not find says so. Work is bounded by counts, never by the clock: equal input
gives an equal answer on every machine.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from core.packing.model import (
    Axis,
    Box,
    NoPacking,
    NoReason,
    Packing,
    PackRules,
    PackUnit,
    Placement,
    Triple,
    floor_um,
    orientations,
)

__all__ = ["find_packing"]

#: Effort for one container before the search gives up, in units of one comparison (most end early): bounds
#: sixty mixed units to a blink, the same on every machine.
_MOST_EFFORT = 600_000
_AXES: tuple[Axis, Axis, Axis] = ("length", "width", "height")


def find_packing(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> Packing | NoPacking:
    """Return all units placed in the container, or why not.

    The result is a proposal: callers pass it through ``verify.faults_of`` before it is shown.
    """
    if not units:
        raise ValueError("there is nothing to pack")
    units = tuple(sorted(units, key=lambda unit: unit.code))  # the order of the lines changes nothing
    refused = _ruled_out(box, units, rules)
    if refused is not None:
        return refused
    best_left, worst_code = sum(unit.quantity for unit in units), ""
    if len(units) == 1:
        placements = _in_layers(box, units[0], rules)
        if len(placements) == units[0].quantity:
            return Packing(box=box.code, placements=tuple(placements))
        best_left, worst_code = units[0].quantity - len(placements), units[0].code
    work = _Work(left=_MOST_EFFORT)
    for key in _ORDERS:
        placements, left_code = _one_by_one(box, units, rules, key, work)
        left = sum(unit.quantity for unit in units) - len(placements)
        if left == 0:
            ordered = sorted(placements, key=lambda p: (p.at_um[2], p.at_um[1], p.at_um[0]))
            return Packing(box=box.code, placements=tuple(ordered))
        if left < best_left:
            best_left, worst_code = left, left_code
    return NoPacking(box=box.code, reason="not_found", proven=False, unit=worst_code, axis="", short_by=best_left)


def _ruled_out(box: Box, units: tuple[PackUnit, ...], rules: PackRules) -> NoPacking | None:
    weight = sum(unit.weight_mg * unit.quantity for unit in units)
    if weight > box.max_load_mg:
        return _no(box, "too_heavy", "", "", weight - box.max_load_mg)
    floor = floor_um(units)
    for unit in units:
        shortages = [_shortage(box, unit, placed, floor) for placed in orientations(unit)]
        best = min(shortages, key=lambda s: sum(max(0, v) for v in s))
        axis = max(range(3), key=lambda a: best[a])
        if best[axis] > 0:
            return _no(box, "unit_too_big", unit.code, _AXES[axis], best[axis])
    if len(units) == 1 and len(units[0].up_axes) == 1:
        most = _most_in_layers(box, units[0], rules)
        if units[0].quantity > most:
            return _no(box, "too_many", units[0].code, "", units[0].quantity - most)
    inside = box.inner_um[0] * box.inner_um[1] * box.inner_um[2]
    asked = sum(unit.size_um[0] * unit.size_um[1] * unit.size_um[2] * unit.quantity for unit in units)
    return _no(box, "volume", "", "", asked - inside) if asked > inside else None


def _no(box: Box, reason: NoReason, unit: str, axis: Axis, short_by: int) -> NoPacking:
    return NoPacking(box=box.code, reason=reason, proven=True, unit=unit, axis=axis, short_by=short_by)


def _most_in_layers(box: Box, unit: PackUnit, rules: PackRules) -> int:
    """Return a bound on equal units with one axis up: floor area over base area, times the layers.

    Each rests on the floor or exactly on a top below, so all stand in layers; inflated by the gap, the bases of a
    layer may not overlap in the inflated window.
    """
    dx, dy, dz = orientations(unit)[0]
    keep, gap = unit.clearance, rules.gap_um
    wide, deep = box.inner_um[0] - 2 * keep.side_um + gap, box.inner_um[1] - 2 * keep.side_um + gap
    layers = (box.inner_um[2] - keep.bottom_um - keep.top_um + gap) // (dz + gap)
    return max(0, wide * deep // ((dx + gap) * (dy + gap)) * layers)


def _shortage(box: Box, unit: PackUnit, placed: Triple, floor: int) -> Triple:
    side = 2 * unit.clearance.side_um
    above = unit.clearance.top_um + floor
    return (
        placed[0] + side - box.inner_um[0],
        placed[1] + side - box.inner_um[1],
        placed[2] + above - box.inner_um[2],
    )


# --- equal units: layers ---------------------------------------------------------------------------------


def _in_layers(box: Box, unit: PackUnit, rules: PackRules) -> list[Placement]:
    """Return as many of the units as layers place, up to its quantity; the fewest layers win."""
    keep, best = unit.clearance, list[Placement]()
    best_layers = 0
    wide, deep = box.inner_um[0] - 2 * keep.side_um, box.inner_um[1] - 2 * keep.side_um
    for placed in orientations(unit):
        high = (box.inner_um[2] - keep.bottom_um - keep.top_um + rules.gap_um) // (placed[2] + rules.gap_um)
        if unit.load_on_top_mg is not None:
            high = min(high, 1 + unit.load_on_top_mg // max(1, unit.weight_mg))
        if high < 1:
            continue
        spots = _floor_spots(wide, deep, placed, rules.gap_um)
        wanted = -(-unit.quantity // high)
        if len(spots) < wanted:
            spots = max(spots, _five_blocks(wide, deep, placed, rules.gap_um, wanted), key=len)
        if not spots:
            continue
        count = min(unit.quantity, len(spots) * high)
        layers = -(-count // len(spots))
        if count > len(best) or (count == len(best) and layers < best_layers):
            best_layers = layers
            best = [
                Placement(
                    unit=unit.code,
                    at_um=(
                        keep.side_um + spots[i % len(spots)][0],
                        keep.side_um + spots[i % len(spots)][1],
                        keep.bottom_um + (i // len(spots)) * (placed[2] + rules.gap_um),
                    ),
                    size_um=(spots[i % len(spots)][2], spots[i % len(spots)][3], placed[2]),
                )
                for i in range(count)
            ]
    return best


_Spot = tuple[int, int, int, int]


def _floor_spots(wide: int, deep: int, placed: Triple, gap: int) -> list[_Spot]:
    """Return x, y, dx, dy of the most units on the floor: one grid, or two split across or along."""
    dx, dy, _ = placed
    best = _grid(0, 0, wide, deep, dx, dy, gap)
    for columns in range((wide + gap) // (dx + gap), -1, -1):
        at = columns * (dx + gap)
        spots = _grid(0, 0, at, deep, dx, dy, gap) + _grid(at, 0, wide - at, deep, dy, dx, gap)
        best = max(best, spots, key=len)
    for rows in range((deep + gap) // (dy + gap), -1, -1):
        at = rows * (dy + gap)
        spots = _grid(0, 0, wide, at, dx, dy, gap) + _grid(0, at, wide, deep - at, dy, dx, gap)
        best = max(best, spots, key=len)
    return best


#: Cuts tried on each axis for five blocks: their product bounds the work.
_MOST_CUTS = 9


def _five_blocks(wide: int, deep: int, placed: Triple, gap: int, wanted: int) -> list[_Spot]:
    """Return spots in five grids, four in a ring round a fifth, as soon as ``wanted`` fit; else the most found."""
    dx, dy, _ = placed
    best: list[_Spot] = []
    if (wide + gap) * (deep + gap) < wanted * (dx + gap) * (dy + gap):
        return best
    across, along = _cuts(wide + gap, dx + gap, dy + gap), _cuts(deep + gap, dx + gap, dy + gap)
    for x1 in across:
        for x2 in across:
            for y1 in along:
                for y2 in along:
                    if x1 > x2 or y2 > y1:
                        continue
                    blocks = (
                        (0, 0, x2, y2, dx, dy),
                        (x2, 0, wide + gap - x2, y1, dy, dx),
                        (x1, y1, wide + gap - x1, deep + gap - y1, dx, dy),
                        (0, y2, x1, deep + gap - y2, dy, dx),
                        (x1, y2, x2 - x1, y1 - y2, dx, dy),
                    )
                    spots = [s for x, y, w, d, a, b in blocks for s in _grid(x, y, w - gap, d - gap, a, b, gap)]
                    if len(spots) > len(best):
                        best = spots
                        if len(best) >= wanted:
                            return best
    return best


def _cuts(length: int, one: int, other: int) -> list[int]:
    """Return the lengths that whole units of both kinds fill, shortest first, at most so many."""
    found = {i * one + j * other for i in range(length // one + 1) for j in range((length - i * one) // other + 1)}
    return sorted(found)[:_MOST_CUTS]


def _grid(x: int, y: int, wide: int, deep: int, dx: int, dy: int, gap: int) -> list[_Spot]:
    columns, rows = max(0, (wide + gap) // (dx + gap)), max(0, (deep + gap) // (dy + gap))
    return [(x + c * (dx + gap), y + r * (dy + gap), dx, dy) for r in range(rows) for c in range(columns)]


# --- mixed units: one by one -----------------------------------------------------------------------------

_Key = Callable[[PackUnit], tuple[int, ...]]


def _base(unit: PackUnit) -> int:
    return max(placed[0] * placed[1] for placed in orientations(unit))


def _volume(unit: PackUnit) -> int:
    return unit.size_um[0] * unit.size_um[1] * unit.size_um[2]


def _unloaded_last(unit: PackUnit) -> int:
    return 1 if unit.load_on_top_mg == 0 else 0


#: Heavy low first; what nothing may rest on goes last in every order (rules, 4).
_ORDERS: tuple[_Key, ...] = (
    lambda u: (_unloaded_last(u), -u.weight_mg, -_volume(u)),
    lambda u: (_unloaded_last(u), -_base(u), -u.weight_mg),
    lambda u: (_unloaded_last(u), -_volume(u), -u.weight_mg),
    lambda u: (_unloaded_last(u), -max(u.size_um), -_volume(u)),
    lambda u: (-_base(u), -_volume(u)),
    lambda u: (-u.size_um[2], -_base(u)),
)


@dataclass(slots=True)
class _Work:
    """What is left of the effort; shared by all orders of one container."""

    left: int


def _one_by_one(
    box: Box, units: tuple[PackUnit, ...], rules: PackRules, key: _Key, work: _Work
) -> tuple[list[Placement], str]:
    floor = floor_um(units)
    kinds = {unit.code: unit for unit in units}
    placed: list[Placement] = []
    left_code = ""
    for unit in sorted(units, key=lambda u: (*key(u), u.code)):
        for _ in range(unit.quantity):
            spot = _first_spot(box, unit, placed, kinds, floor, rules, work)
            if spot is None:
                left_code = left_code or unit.code
                break
            placed.append(spot)
    return placed, left_code


def _first_spot(
    box: Box,
    unit: PackUnit,
    placed: list[Placement],
    kinds: dict[str, PackUnit],
    floor: int,
    rules: PackRules,
    work: _Work,
) -> Placement | None:
    best: tuple[tuple[int, ...], Placement] | None = None
    for size in orientations(unit):
        for at in _corners(box, unit, size, placed, floor, rules):
            if work.left <= 0:
                return None
            score = (at[2], at[1] + size[1], at[0] + size[0], size[2])
            if best is not None and score >= best[0]:
                if at[2] > best[0][0]:
                    break
                continue
            spot = Placement(unit=unit.code, at_um=at, size_um=size)
            work.left -= 4 + len(placed) // 4
            if _fits(spot, placed, kinds, floor, rules):
                best = (score, spot)
    return best[1] if best else None


def _corners(
    box: Box, unit: PackUnit, size: Triple, placed: list[Placement], floor: int, rules: PackRules
) -> Iterator[Triple]:
    """Yield positions from low to high, back to front, left to right."""
    keep, gap = unit.clearance, rules.gap_um
    right, front = box.inner_um[0] - keep.side_um - size[0], box.inner_um[1] - keep.side_um - size[1]
    top = box.inner_um[2] - keep.top_um - size[2]
    xs = sorted({keep.side_um, *(p.at_um[0] + p.size_um[0] + gap for p in placed), *(p.at_um[0] for p in placed)})
    ys = sorted({keep.side_um, *(p.at_um[1] + p.size_um[1] + gap for p in placed), *(p.at_um[1] for p in placed)})
    for z in sorted({floor, *(p.top_um + gap for p in placed)}):
        if z > top:
            return
        for y in ys:
            if keep.side_um <= y <= front:
                for x in xs:
                    if keep.side_um <= x <= right:
                        yield (x, y, z)


def _fits(spot: Placement, placed: list[Placement], kinds: dict[str, PackUnit], floor: int, rules: PackRules) -> bool:
    (x, y, z), (dx, dy, dz), gap = spot.at_um, spot.size_um, rules.gap_um
    below: list[tuple[int, int]] = []
    for index, other in enumerate(placed):
        (ox, oy, oz), (odx, ody, odz) = other.at_um, other.size_um
        flat = x < ox + odx + gap and ox < x + dx + gap and y < oy + ody + gap and oy < y + dy + gap
        if not flat:
            continue
        if z < oz + odz + gap and oz < z + dz + gap:
            return False
        area = (min(x + dx, ox + odx) - max(x, ox)) * (min(y + dy, oy + ody) - max(y, oy))
        if min(x + dx, ox + odx) <= max(x, ox) or min(y + dy, oy + ody) <= max(y, oy):
            continue
        # Placing below something that already stands there would change its loads: not tried here.
        if oz >= z + dz:
            return False
        if oz + odz + gap == z:
            below.append((index, area))
    if z <= floor:
        return True
    held = sum(area for _, area in below)
    if held * 100 < rules.support_percent * dx * dy:
        return False
    return _loads_hold([*placed, spot], kinds, floor, rules)


def _loads_hold(placed: list[Placement], kinds: dict[str, PackUnit], floor: int, rules: PackRules) -> bool:
    carried = [0.0] * len(placed)
    for index in sorted(range(len(placed)), key=lambda i: -placed[i].at_um[2]):
        unit = placed[index]
        if unit.at_um[2] <= floor:
            continue
        below = []
        for j, other in enumerate(placed):
            if other.top_um + rules.gap_um != unit.at_um[2]:
                continue
            wide = min(unit.at_um[0] + unit.size_um[0], other.at_um[0] + other.size_um[0]) - max(
                unit.at_um[0], other.at_um[0]
            )
            deep = min(unit.at_um[1] + unit.size_um[1], other.at_um[1] + other.size_um[1]) - max(
                unit.at_um[1], other.at_um[1]
            )
            if wide > 0 and deep > 0:
                below.append((j, wide * deep))
        held = sum(area for _, area in below)
        for j, area in below:
            carried[j] += (kinds[unit.unit].weight_mg + carried[index]) * area / held
            limit = kinds[placed[j].unit].load_on_top_mg
            # One mg of slack would be a lie; rounding up by a thousandth keeps floats on the safe side.
            if limit is not None and (limit == 0 or carried[j] * 1.000001 > limit):
                return False
    return True
