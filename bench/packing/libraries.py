"""General-purpose packing libraries driven fairly over the same orders (bench only; the app never imports them).

Cartons are tried from the cheapest up, those that are plainly too small passed over. Each is asked in every way a
library has of it: with the largest cushions of the order taken off the carton on every face, then with the least,
since no library
knows a cushion for each unit; the gap is added to the units. An answer counts when every unit is packed and the
independent checker finds no error in it; an invalid one is passed over.
"""

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from bench.packing.families import Order
from core.packing.model import Box, Packing, PackUnit, Placement
from core.packing.verify import faults_of
from core.recipes.model import Cushion

__all__ = ["Driven", "Library", "drive", "libraries"]

_Size = tuple[int, int, int]


@dataclass(frozen=True, slots=True, kw_only=True)
class Library:
    """A library and the ways of asking it: each packs units into an inside, or answers None. Neither knows cushions
    or gaps.
    """

    name: str
    ways: tuple[Callable[[_Size, int, Order], list[Placement] | None], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Driven:
    """What a library answered: the container of its first valid answer, whether the first answer was invalid,
    seconds.
    """

    container: str | None
    first_invalid: bool
    seconds: float


def libraries() -> list[Library]:
    """Return the libraries that are installed (pip install --group bench)."""
    found = []
    try:
        import py3dbp  # noqa: PLC0415 - optional, for this comparison only

        found.append(Library(name="py3dbp", ways=(_asking_py3dbp(py3dbp),)))
    except ImportError:
        pass
    try:
        from packer_adapter import Packer  # noqa: PLC0415

        found.append(
            Library(name="packer3d", ways=(_asking_packer3d(Packer, "full_base"), _asking_packer3d(Packer, "stable")))
        )
    except ImportError:
        pass
    return found


def drive(library: Library, order: Order) -> Driven:
    """Return the library's cheapest valid container for an order."""
    first_invalid: bool | None = None
    begun = time.perf_counter()
    for offered in sorted(order.offered, key=lambda o: (o.cost, o.box.code)):
        for keep in _cushions(order.units):
            for way in library.ways:
                packing = _pack(way, offered.box, order, keep)
                if packing is None:
                    continue
                valid = not faults_of(packing, offered.box, order.units, order.rules)
                first_invalid = not valid if first_invalid is None else first_invalid
                if valid:
                    seconds = time.perf_counter() - begun
                    return Driven(container=offered.box.code, first_invalid=first_invalid, seconds=seconds)
    return Driven(container=None, first_invalid=bool(first_invalid), seconds=time.perf_counter() - begun)


def _cushions(units: tuple[PackUnit, ...]) -> list[Cushion]:
    """Return the largest cushion on each face, and the least where that is another."""
    keep = [unit.clearance for unit in units]
    return list(
        dict.fromkeys(
            Cushion(
                bottom_um=of(k.bottom_um for k in keep),
                side_um=of(k.side_um for k in keep),
                top_um=of(k.top_um for k in keep),
            )
            for of in (max, min)
        )
    )


def _pack(
    way: Callable[[_Size, int, Order], list[Placement] | None], box: Box, order: Order, keep: Cushion
) -> Packing | None:
    gap = order.rules.gap_um
    length, width, height = box.inner_um
    inside = (
        length - 2 * keep.side_um + gap,
        width - 2 * keep.side_um + gap,
        height - keep.bottom_um - keep.top_um + gap,
    )
    asked = sum(unit.quantity * (a + gap) * (b + gap) * (c + gap) for unit in order.units for a, b, c in [unit.size_um])
    if min(inside) <= 0 or asked > inside[0] * inside[1] * inside[2]:
        return None
    found = way(inside, box.max_load_mg, order)
    if found is None or len(found) < sum(unit.quantity for unit in order.units):
        return None
    return Packing(box=box.code, placements=tuple(_moved(placed, keep, gap) for placed in found))


def _moved(placed: Placement, keep: Cushion, gap: int) -> Placement:
    """Return a unit without the gap added to it, where it is in the whole carton."""
    (x, y, z), (dx, dy, dz) = placed.at_um, placed.size_um
    return Placement(
        unit=placed.unit,
        at_um=(x + keep.side_um, y + keep.side_um, z + keep.bottom_um),
        size_um=(dx - gap, dy - gap, dz - gap),
    )


def _asking_py3dbp(py3dbp: Any) -> Callable[[_Size, int, Order], list[Placement] | None]:
    """It knows no support, no loads, and no side that must be up."""

    def ask(inside: _Size, load_mg: int, order: Order) -> list[Placement]:
        packer = py3dbp.Packer()
        packer.add_bin(py3dbp.Bin("carton", *inside, load_mg))
        for unit in order.units:
            for _ in range(unit.quantity):
                packer.add_item(py3dbp.Item(unit.code, *(v + order.rules.gap_um for v in unit.size_um), unit.weight_mg))
        packer.pack(bigger_first=True, number_of_decimals=0)
        return [
            Placement(unit=item.name, at_um=_whole(item.position), size_um=_whole(item.get_dimension()))
            for item in packer.bins[0].items
        ]

    return ask


def _asking_packer3d(packer_of: Any, support: str) -> Callable[[_Size, int, Order], list[Placement] | None]:
    """It knows supports and standing upright, no loads; lengths are in any unit, here millimetres. A process a
    carton.
    """

    def ask(inside: _Size, load_mg: int, order: Order) -> list[Placement] | None:
        packer = packer_of()
        packer.add_box(id="carton", **_sides(inside), max_weight=load_mg)
        for unit in order.units:
            turning = "flat" if unit.up_axes == (2,) else "any"
            size = _sides(tuple(v + order.rules.gap_um for v in unit.size_um))
            packer.add_item(id=unit.code, **size, weight=unit.weight_mg, quantity=unit.quantity, rotation=turning)
        # Where nothing has to rest on much, any touch will do.
        packer.set_options(support_mode=support if order.rules.support_percent else "contact")
        bins = packer.pack()["bins"]
        return [_placed(item) for item in bins[0]["items"]] if len(bins) == 1 else None

    return ask


def _sides(size_um: tuple[int, ...]) -> dict[str, float]:
    return dict(zip(("width", "length", "height"), (v / 1000 for v in size_um), strict=True))


def _placed(item: dict[str, Any]) -> Placement:
    """Read one of its items, which it gives by the middle and a turn; a turn that is not square is no answer."""
    wide, long, high = (round(item[side] * 1000) for side in ("width", "length", "height"))
    if item["angle"] % 180:
        wide, long = long, wide
    at = (round(item["x"] * 1000 - wide / 2), round(item["y"] * 1000 - long / 2), round(item["z"] * 1000))
    return Placement(unit=item["id"], at_um=at, size_um=(wide, long, high))


def _whole(values: Any) -> _Size:
    return (int(values[0]), int(values[1]), int(values[2]))
