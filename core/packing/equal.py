"""Equal units in layers: grids, two grids side by side, or a ring of four grids round a fifth (packing; rules 4.1).

For each way a unit may stand, the floor is filled and the layer repeated upwards, so every unit stands fully on the one
below. The area of the floor over the area of a base, times the layers, bounds units that have one axis up: they can
stand in layers only.
"""

from core.packing.model import Box, PackRules, PackUnit, Placement, Triple, orientations

__all__ = ["in_layers", "most_in_layers"]

_Spot = tuple[int, int, int, int]  #: x, y, dx, dy on the floor within the clearances


def _by_height(box: Box, unit: PackUnit, height_um: int, rules: PackRules) -> int:
    """Return how many layers of units of this height go between floor and lid."""
    keep = unit.clearance
    return max(0, (box.inner_um[2] - keep.bottom_um - keep.top_um + rules.gap_um) // (height_um + rules.gap_um))


def _layers_of(box: Box, unit: PackUnit, height_um: int, rules: PackRules) -> int:
    """Return how many layers of equal units the container takes, by height and by load."""
    return min(unit.most_high, _by_height(box, unit, height_um, rules))


def most_in_layers(box: Box, unit: PackUnit, rules: PackRules) -> int:
    """Return a bound on equal units with one axis up: floor area over base area, times the layers by height.

    Each rests on the floor or exactly on a top below, so all stand in layers; inflated by the gap, the bases of a
    layer may not overlap in the inflated window.
    """
    dx, dy, dz = orientations(unit)[0]
    keep, gap = unit.clearance, rules.gap_um
    wide, deep = box.inner_um[0] - 2 * keep.side_um + gap, box.inner_um[1] - 2 * keep.side_um + gap
    layers = _by_height(box, unit, dz, rules)
    floor = max(0, wide) * max(0, deep) // ((dx + gap) * (dy + gap))
    if unit.load_on_top_mg is None or rules.support_percent == 0:
        return floor * layers
    if unit.load_on_top_mg == 0:
        return floor * min(layers, 1)
    # All that stands above the lowest layer hands its weight down to it in full.
    return min(floor * layers, floor + floor * unit.load_on_top_mg // max(1, unit.weight_mg))


def in_layers(box: Box, unit: PackUnit, rules: PackRules) -> list[Placement]:
    """Return as many units as layers place, up to its quantity; the fewest layers win, one stands close."""
    keep, gap = unit.clearance, rules.gap_um
    wide, deep = box.inner_um[0] - 2 * keep.side_um, box.inner_um[1] - 2 * keep.side_um
    best, best_layers = list[Placement](), 0
    for placed in orientations(unit):
        high = _layers_of(box, unit, placed[2], rules)
        if high < 1:
            continue
        spots = _floor_spots(wide, deep, placed, gap)
        wanted = -(-unit.quantity // high)
        if len(spots) < wanted:
            spots = max(spots, _five_blocks(wide, deep, placed, gap, wanted), key=len)
        if not spots:
            continue
        count = min(unit.quantity, len(spots) * high)
        layers = -(-count // len(spots))
        if count > len(best) or (count == len(best) and layers < best_layers):
            best_layers = layers
            if layers == 1:
                spots = _close_together(wide, deep, placed, gap, count) or spots
            best = _standing(unit, spots, placed[2], gap, count)
    return best


def _standing(unit: PackUnit, spots: list[_Spot], height_um: int, gap: int, count: int) -> list[Placement]:
    """Return so many units on these spots of the floor, and on each other when there are more."""
    side, floor = unit.clearance.side_um, unit.clearance.bottom_um
    found = []
    for number in range(count):
        x, y, dx, dy = spots[number % len(spots)]
        z = floor + number // len(spots) * (height_um + gap)
        found.append(Placement(unit=unit.code, at_um=(side + x, side + y, z), size_um=(dx, dy, height_um)))
    return found


def _close_together(wide: int, deep: int, placed: Triple, gap: int, count: int) -> list[_Spot]:
    """Return the grid of at least so many spots that is shortest round; [] when none takes them.

    Nine stand three by three where four by three would go: hands set them so, and the void round them is even. Of two
    alike the one with fewer empty spots, then the one that lies as the container does.
    """
    found = []
    for dx, dy in dict.fromkeys(((placed[0], placed[1]), (placed[1], placed[0]))):
        for rows in range(1, min(count, (deep + gap) // (dy + gap)) + 1):
            columns = -(-count // rows)
            if columns <= (wide + gap) // (dx + gap):
                long, broad = columns * (dx + gap), rows * (dy + gap)
                across = (long < broad) == (wide > deep)
                found.append((long + broad, rows * columns, across, dx, dy, rows, columns))
    if not found:
        return []
    *_, dx, dy, rows, columns = min(found)
    return _grid(0, 0, columns * (dx + gap) - gap, rows * (dy + gap) - gap, dx, dy, gap)


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
