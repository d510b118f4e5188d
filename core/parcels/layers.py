"""The parcel in packing order: what goes in first, second, last (parcels; drawn by the layer view and section).

A reading of a Candidate, nothing new is decided here.
"""

from dataclasses import dataclass, replace
from typing import Literal

from core.packing.model import Placement
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.single import speaking_band
from core.recipes.expand import Piece, Use
from core.recipes.model import Band
from core.units import Micrometres, format_length

__all__ = ["LayerKind", "PackLayer", "layers_of", "pack_layers"]

LayerKind = Literal["cut", "divider", "cushion", "units", "inner_fill", "inner", "insert", "fill", "close", "strap"]


#: How what no tape closes is closed.
_UNTAPED = {
    "mailer": ("Peel and press the flap shut", "along the whole strip"),
    "carton": ("Close it by its own seal", "its recipe names no tape"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class PackLayer:
    """One thing the hands put in, from the bottom up."""

    kind: LayerKind
    title: str
    detail: str
    from_um: Micrometres  #: height over the container's floor where it begins
    to_um: Micrometres
    placements: tuple[int, ...]  #: indexes into the candidate's placements (or the inner carton's)
    carton: int = 0  #: which of the parcel's cartons; 1 for the second of two that are strapped


def pack_layers(parcel: PlannedParcel, names: dict[str, str]) -> tuple[PackLayer, ...]:
    """Return the layers of a parcel, carton after carton; two of them are strapped together at the end."""
    strapped = parcel.candidate.strapped
    found = [
        replace(
            layer, carton=number, detail=f"{carton.candidate.container}: {layer.detail}" if strapped else layer.detail
        )
        for number, carton in enumerate(parcel.cartons)
        for layer in layers_of(carton.candidate, carton.pieces, speaking_band(carton.pieces), names)
    ]
    if strapped is not None:
        band = next(use for use in parcel.candidate.uses if use.role == "strap")
        title = f"Strap both cartons together, {strapped.words}"
        detail = f"{names.get(band.supply, band.supply)}, {band.detail}, {band.quantity:.2f} m"
        top = parcel.candidate.inner.height_um
        found.append(_layer("strap", title, detail, top, top))
    return tuple(found)


def layers_of(
    candidate: Candidate, pieces: tuple[Piece, ...], band: Band, names: dict[str, str]
) -> tuple[PackLayer, ...]:
    """Return the layers of a parcel; ``names`` gives supply names by code."""
    inside_um = candidate.inner.height_um
    by_role: dict[str, list[Use]] = {}
    for use in candidate.uses:
        by_role.setdefault(use.role, []).append(use)
    used = {use.supply for use in by_role.get("fill", [])}
    below, round_it, above = (
        names.get(code, code) if code in used else ""
        for code in (band.fill_below or band.fill, band.fill, band.fill_above or band.fill)
    )
    found: list[PackLayer] = []
    void = candidate.void
    if candidate.change is not None:
        found.append(_layer("cut", candidate.change.title, candidate.change.detail, 0, 0))
    if below and void and candidate.floor_um:
        detail = f"{void.below_l:.1f} l, level, all the way into the corners"
        title = f"{below}, {format_length(candidate.floor_um)} deep"
        found.append(_layer("cushion", title, detail, 0, candidate.floor_um))
    found += _inserts("bottom", by_role, names, candidate.floor_um)
    found += _unit_layers(candidate, pieces, names)
    found += _inserts("between", by_role, names, candidate.top_um)
    if round_it and void and void.round_l > 0:
        found.append(
            _layer(
                "fill",
                f"{round_it} round the sides",
                f"{void.round_l:.1f} l, until nothing shifts",
                candidate.floor_um,
                candidate.top_um,
            )
        )
    if above and void and void.above_l > 0:
        litres = void.above_l + void.proud_l
        detail = f"{litres:.1f} l, {band.proud_percent} % proud, so the flaps push back"
        found.append(_layer("fill", f"{above} on top", detail, candidate.top_um, inside_um))
    found += _inserts("top", by_role, names, inside_um)
    for tape in by_role.get("tape", []):
        found.append(
            _layer(
                "close",
                f"Close with {names.get(tape.supply, tape.supply)}",
                f"{tape.detail}, {tape.quantity:.2f} m",
                inside_um,
                inside_um,
            )
        )
    if "tape" not in by_role:
        title, detail = _UNTAPED[candidate.kind]
        found.append(_layer("close", title, detail, inside_um, inside_um))
    found += _inserts("outside", by_role, names, inside_um)
    return tuple(found)


def _layer(kind: LayerKind, title: str, detail: str, from_um: int, to_um: int, at: tuple[int, ...] = ()) -> PackLayer:
    return PackLayer(kind=kind, title=title, detail=detail, from_um=from_um, to_um=to_um, placements=at)


def _inserts(place: str, by_role: dict[str, list[Use]], names: dict[str, str], at_um: int) -> list[PackLayer]:
    return [
        _layer("insert", names.get(use.supply, use.supply), _count(int(use.quantity)), at_um, at_um)
        for use in by_role.get("insert", [])
        if use.detail == place
    ]


def _lying(placements: list[Placement], pieces: tuple[Piece, ...]) -> str:
    """Say which goods of a layer do not stand as they are sold: the hands would set them upright."""
    heights = {piece.code: piece.size.height_um for piece in pieces}
    names = {piece.code: piece.called for piece in pieces}
    counts: dict[str, int] = {}
    for placed in placements:
        if placed.size_um[2] != heights.get(placed.unit, placed.size_um[2]):
            counts[placed.unit] = counts.get(placed.unit, 0) + 1
    told = [f"{count} {names[code]} on {'its' if count == 1 else 'their'} side" for code, count in counts.items()]
    return f"; lay {', '.join(told)}" if told else ""


def _stands(candidate: Candidate, level: Micrometres) -> str:
    return "lying flat" if candidate.kind == "mailer" else f"{format_length(level)} over the floor"


def _count(number: int) -> str:
    return "one" if number == 1 else f"{number} of them"


def _unit_layers(candidate: Candidate, pieces: tuple[Piece, ...], supplies: dict[str, str]) -> list[PackLayer]:
    nested = candidate.nested
    placements = nested.placements if nested else candidate.placements
    lift = candidate.floor_um if nested else 0
    names = {piece.code: piece.called for piece in pieces}
    divider = next((use for use in candidate.uses if use.role == "divider"), None)
    levels: dict[int, list[int]] = {}
    for index, placement in enumerate(placements):
        levels.setdefault(placement.at_um[2], []).append(index)
    found = []
    for level in sorted(levels):
        counts: dict[str, int] = {}
        for index in levels[level]:
            counts[placements[index].unit] = counts.get(placements[index].unit, 0) + 1
        top = max(placements[index].top_um for index in levels[level])
        where = f"in {nested.name}" if nested else _stands(candidate, level)
        where += _lying([placements[index] for index in levels[level]], pieces)
        if divider and level != min(levels):
            title = supplies.get(divider.supply, divider.supply)
            found.append(_layer("divider", title, "one, between the layers", lift + level, lift + level))
        title = ", ".join(f"{count} {names.get(sku, sku)}" for sku, count in counts.items())
        found.append(_layer("units", title, where, lift + level, lift + top, tuple(levels[level])))
    if nested:
        for use in candidate.uses:
            if use.role == "inner fill":
                title = f"{supplies.get(use.supply, use.supply)} in {nested.name}"
                detail = f"{use.detail}, until nothing shifts"
                found.append(_layer("inner_fill", title, detail, candidate.floor_um, candidate.top_um))
        title = f"{nested.name} into the outer"
        found.append(_layer("inner", title, "closed, in the middle", candidate.floor_um, candidate.top_um))
    return found
