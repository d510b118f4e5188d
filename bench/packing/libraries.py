"""General-purpose packing libraries driven fairly over the same orders (bench only; the app never imports them).

Cartons are tried from the cheapest up; an answer counts when every unit is packed and the independent checker finds no
fault in it. Cushions are taken off the carton, the gap is added to the units; the library knows no supports and loads.
"""

import time
from dataclasses import dataclass
from typing import Any

from bench.packing.families import Order
from core.packing.model import Box, Packing, Placement
from core.packing.verify import faults_of

__all__ = ["Driven", "drive", "library"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Driven:
    """What a library answered: the container of its first valid answer, how many invalid came before, seconds."""

    container: str | None
    invalid: int
    seconds: float


def library() -> Any | None:
    """Return the library, or None when the bench group is not installed (pip install --group bench)."""
    try:
        import py3dbp  # noqa: PLC0415 - optional, for this comparison only
    except ImportError:
        return None
    return py3dbp


def drive(py3dbp: Any, order: Order) -> Driven:
    """Return the library's cheapest valid container for an order."""
    invalid, begun = 0, time.perf_counter()
    for offered in sorted(order.offered, key=lambda o: (o.cost, o.box.code)):
        packing = _pack(py3dbp, offered.box, order)
        if packing is None:
            continue
        if faults_of(packing, offered.box, order.units, order.rules):
            invalid += 1
            continue
        return Driven(container=offered.box.code, invalid=invalid, seconds=time.perf_counter() - begun)
    return Driven(container=None, invalid=invalid, seconds=time.perf_counter() - begun)


def _pack(py3dbp: Any, box: Box, order: Order) -> Packing | None:
    keep = [unit.clearance for unit in order.units]
    side, bottom = max(k.side_um for k in keep), max(k.bottom_um for k in keep)
    top, gap = max(k.top_um for k in keep), order.rules.gap_um
    inner = [box.inner_um[0] - 2 * side + gap, box.inner_um[1] - 2 * side + gap, box.inner_um[2] - bottom - top + gap]
    if min(inner) <= 0:
        return None
    packer = py3dbp.Packer()
    packer.add_bin(py3dbp.Bin(box.code, *inner, box.max_load_mg))
    for unit in order.units:
        for _ in range(unit.quantity):
            packer.add_item(py3dbp.Item(unit.code, *(v + gap for v in unit.size_um), unit.weight_mg))
    packer.pack(bigger_first=True, number_of_decimals=0)
    packed = packer.bins[0].items
    if len(packed) < sum(unit.quantity for unit in order.units):
        return None
    return Packing(
        box=box.code,
        placements=tuple(
            Placement(
                unit=item.name,
                at_um=(int(item.position[0]) + side, int(item.position[1]) + side, int(item.position[2]) + bottom),
                size_um=tuple(int(v) - gap for v in item.get_dimension()),  # type: ignore[arg-type]
            )
            for item in packed
        ),
    )
