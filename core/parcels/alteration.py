"""Containers that change: a carton cut lower, two slid into one another, a mailer cut in two (parcels; rules 3.4 and
5.1).

Each gives another container and what the hands do for it; packing, filling and pricing it are those of any other.
"""

from dataclasses import dataclass, replace
from decimal import Decimal

from core.messages import Text, say
from core.parcels.packed import Outer, Request, RuledOut, into
from core.supplies.items import Container, Mailer
from core.units import Micrometres, Size

__all__ = ["HALVING_MINUTES", "Alteration", "as_changed", "cut_down", "halved", "telescoped"]

#: Cutting a mailer across, with knife and ruler: a judgement.
HALVING_MINUTES = Decimal(1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Alteration:
    """What is done to a container before goods go in."""

    key: str  #: names it after the container's code
    words: Text  #: after its name: "cut to 163 mm"
    title: Text  #: for the hands
    detail: Text
    minutes: Decimal
    cut_to_um: Micrometres | None = None


def cut_down(outer: Outer, request: Request) -> tuple[Container, Alteration] | None:
    """Return the carton cut to the lowest height that still takes these goods, or None when it cannot be lower.

    Score lines give their own heights; a carton without them is cut at the whole millimetre above what is needed. The
    walls are folded down outside the goods' room and stay on the parcel: the tare is the same, nothing is added inside.
    """
    if isinstance(outer, Mailer) or outer.cut is None:
        return None
    packed = into(outer, request)
    if isinstance(packed, RuledOut):
        return None
    least = max(packed.needs_um, outer.cut.lowest_um)
    height = next((h for h in outer.cut.heights_um if h >= least), None)
    if not outer.cut.heights_um:
        height = _whole_mm(least)
    if height is None or height >= outer.inner.height_um:
        return None
    lower = outer.inner.height_um - height
    cut = replace(
        outer,
        closes=None,  # its own tabs or strip are cut away with the walls
        inner=replace(outer.inner, height_um=height),
        outer=replace(outer.outer, height_um=outer.outer.height_um - lower),
    )
    change = Alteration(
        key=f"{height // 1_000}",
        words=say("cut_to", height_um=height),
        title=say("cut_down_title", container=outer.code, height_um=height),
        detail=say("cut_down_detail"),
        minutes=outer.cut.minutes,
        cut_to_um=height,
    )
    return cut, change


def telescoped(outer: Outer, request: Request) -> tuple[Container, Alteration] | None:
    """Return two equal cartons slid into one another as far as the goods let them, or None when that is no help.

    Up to the sum of both lengths less the overlap (rules 3.4). One goes over the other: another pair of walls outside.
    """
    if isinstance(outer, Mailer) or outer.telescope is None:
        return None
    longest = 2 * outer.inner.length_um - outer.telescope.overlap_um
    packed = into(_slid(outer, longest), request) if longest > outer.inner.length_um else None
    if packed is None or isinstance(packed, RuledOut):
        return None
    length = min(longest, max(_whole_mm(packed.needs_along_um), outer.inner.length_um))
    if length < longest and isinstance(into(_slid(outer, length), request), RuledOut):
        length = longest
    change = Alteration(
        key=f"t{length // 1_000}",
        words=say("slid_to", length_um=length),
        title=say("slide_title", container=outer.code, length_um=length),
        detail=say("slide_detail", overlap_um=outer.telescope.overlap_um),
        minutes=outer.telescope.minutes,
    )
    return _slid(outer, length), change


def halved(outer: Outer) -> tuple[Mailer, Alteration] | None:
    """Return one half of a mailer cut across, or None when it is not one that may be cut."""
    if not isinstance(outer, Mailer) or not outer.halves:
        return None
    half = replace(
        outer,
        flat_length_um=outer.flat_length_um // 2,
        tare_mg=outer.tare_mg // 2,
        unit_cost=outer.unit_cost / 2,
        pieces=Decimal("0.5"),
    )
    change = Alteration(
        key="half",
        words=say("one_half"),
        title=say("halve_title", container=outer.code),
        detail=say("halve_detail", at_um=half.flat_length_um),
        minutes=HALVING_MINUTES,
    )
    return half, change


def as_changed(outer: Outer, inner: Size, change: Alteration | None) -> Outer:
    """Return a container of the shelf as a plan changed it; ``inner`` is the inside it had there."""
    if change is None:
        return outer
    if isinstance(outer, Mailer):
        half = halved(outer)
        return half[0] if half is not None else outer
    return replace(outer, inner=inner)


def _slid(carton: Container, length_um: Micrometres) -> Container:
    walls = (carton.outer.width_um - carton.inner.width_um, carton.outer.height_um - carton.inner.height_um)
    return replace(
        carton,
        inner=replace(carton.inner, length_um=length_um),
        outer=replace(
            carton.outer,
            length_um=carton.outer.length_um + length_um - carton.inner.length_um,
            width_um=carton.outer.width_um + walls[0],
            height_um=carton.outer.height_um + walls[1],
        ),
        tare_mg=2 * carton.tare_mg,
        unit_cost=2 * carton.unit_cost,
        pieces=2 * carton.pieces,
        cut=None,
        strength=None,
        closes=None,
    )


def _whole_mm(um: Micrometres) -> Micrometres:
    return -(-um // 1_000) * 1_000
