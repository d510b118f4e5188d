"""The independent checker of what the hands are told: layer by layer, from the bottom up (parcels; rules 4.6).

What is told first lies below what is told later, nothing lies in a cushion, every unit is told once, and the parts of
each fill add up to what is fetched. Written apart from ``layers`` on purpose; a plan with an error is never shown.
"""

from decimal import Decimal
from itertools import pairwise

from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer
from core.parcels.required import cushion_of
from core.recipes.expand import Piece

__all__ = ["faults_of_telling"]

_RISING = ("cushion", "units", "divider")


def faults_of_telling(
    candidate: Candidate, pieces: tuple[Piece, ...], layers: tuple[PackLayer, ...]
) -> tuple[str, ...]:
    """Return every error in how one carton is told; empty when hands can do it as it stands."""
    return (
        *_out_of_order(layers),
        *_in_a_cushion(candidate, pieces),
        *_told_once(candidate, layers),
        *_parts_differ(candidate, layers),
    )


def _out_of_order(layers: tuple[PackLayer, ...]) -> list[str]:
    rising = [layer for layer in layers if layer.kind in _RISING]
    return [
        f"{later.kind} at {later.from_um} um is told after {first.kind} at {first.from_um} um"
        for first, later in pairwise(rising)
        if later.from_um < first.from_um or (first.kind == "cushion" and later.from_um < first.to_um)
    ]


def _in_a_cushion(candidate: Candidate, pieces: tuple[Piece, ...]) -> list[str]:
    """Every placed thing keeps the largest cushion that any of the goods wants on each face."""
    if candidate.kind == "mailer":
        return []
    keep, inner = cushion_of(pieces), candidate.inner
    faults = []
    for placed in candidate.placements:
        (x, y, z), (dx, dy, _) = placed.at_um, placed.size_um
        nearest = min(x, y, inner.length_um - x - dx, inner.width_um - y - dy)
        if z < keep.bottom_um or placed.top_um > inner.height_um - keep.top_um or nearest < keep.side_um:
            faults.append(f"{placed.unit} at {placed.at_um} um lies in a cushion")
    return faults


def _told_once(candidate: Candidate, layers: tuple[PackLayer, ...]) -> list[str]:
    placements = candidate.nested.placements if candidate.nested else candidate.placements
    told = sorted(index for layer in layers if layer.kind == "units" for index in layer.placements)
    return [] if told == list(range(len(placements))) else [f"units told: {told}, placed: {len(placements)}"]


def _parts_differ(candidate: Candidate, layers: tuple[PackLayer, ...]) -> list[str]:
    faults = []
    for use in candidate.uses:
        if use.role != "fill":
            continue
        told = [layer.part for layer in layers if use.supply in layer.supplies and layer.part is not None]
        fetched, put = sum((p.count for p in use.parts), Decimal(0)), sum((p.count for p in told), Decimal(0))
        if fetched != put:
            faults.append(f"{use.supply}: {fetched} fetched, {put} told")
    return faults
