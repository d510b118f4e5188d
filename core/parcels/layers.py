"""The parcel in packing order: what goes in first, second, last (parcels; drawn by the layer view and section).

A reading of a Candidate, nothing new is decided here. Each layer carries the codes of the supplies it is made of, and
what is told first lies below what is told later (``core.parcels.told``).
"""

from dataclasses import dataclass, field, replace
from typing import Literal

from core.messages import Message, Text, say
from core.packing.model import Placement
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.measured import amount_of
from core.parcels.required import band_of_parcel
from core.recipes.expand import FillFace, FillPart, Piece, Use
from core.recipes.model import Band, InsertPlace
from core.units import Micrometres

__all__ = ["LayerKind", "PackLayer", "layers_of", "pack_layers"]

LayerKind = Literal[
    "cut", "divider", "cushion", "units", "inner_fill", "inner", "insert", "fill", "close", "strap", "liner", "packs"
]


@dataclass(frozen=True, slots=True, kw_only=True)
class PackLayer:
    """One thing the hands put in, from the bottom up."""

    kind: LayerKind
    title: Text
    detail: Text
    from_um: Micrometres  #: height over the container's floor where it begins
    to_um: Micrometres
    placements: tuple[int, ...]  #: indexes into the candidate's placements (or the inner carton's)
    carton: int = 0  #: which of the parcel's cartons; 1 for the second of two that are strapped
    supplies: tuple[str, ...] = ()  #: codes of what it is made of
    part: FillPart | None = None  #: of a fill: how much of what is fetched


def pack_layers(parcel: PlannedParcel, names: dict[str, str]) -> tuple[PackLayer, ...]:
    """Return the layers of a parcel, carton after carton; two of them are strapped together at the end."""
    strapped = parcel.candidate.strapped
    found = [
        replace(
            layer,
            carton=number,
            detail=say("in_carton", container=carton.candidate.container, detail=layer.detail)
            if strapped
            else layer.detail,
        )
        for number, carton in enumerate(parcel.cartons)
        for layer in layers_of(carton.candidate, carton.pieces, band_of_parcel(carton.pieces), names)
    ]
    if strapped is not None:
        band = next(use for use in parcel.candidate.uses if use.role == "strap")
        top = parcel.candidate.inner.height_um
        found.append(
            PackLayer(
                kind="strap",
                title=say("strap_title", lying=strapped.words),
                detail=_so_long(band, names),
                from_um=top,
                to_um=top,
                placements=(),
                supplies=(band.supply,),
            )
        )
    return tuple(found)


def layers_of(
    candidate: Candidate, pieces: tuple[Piece, ...], band: Band, names: dict[str, str]
) -> tuple[PackLayer, ...]:
    """Return the layers of a parcel; ``names`` gives supply names by code."""
    inside_um = candidate.inner.height_um
    work = _Work(candidate=candidate, pieces=pieces, names=names)
    found: list[PackLayer] = []
    if candidate.change is not None:
        joints = tuple(use.supply for use in candidate.uses if use.role == "joint")
        found.append(_layer("cut", candidate.change.title, candidate.change.detail, 0, 0, supplies=joints))
    found += work.liner(inside_um)
    found += work.fill("below", band.fill_below or band.fill, 0, candidate.floor_um, band)
    found += work.inserts("bottom", candidate.floor_um)
    found += _unit_layers(work)
    found += work.inserts("between", candidate.top_um)
    found += work.packs("sides", candidate.floor_um, candidate.top_um)
    found += work.fill("round", band.fill, candidate.floor_um, candidate.top_um, band)
    found += work.packs("top", candidate.top_um, inside_um)
    found += work.fill("above", band.fill_above or band.fill, candidate.top_um, inside_um, band)
    found += work.packs("lid", inside_um, inside_um)
    found += work.inserts("top", inside_um)
    found += work.closing(inside_um)
    found += work.inserts("outside", inside_um)
    return tuple(found)


_FILL_KIND: dict[FillFace, LayerKind] = {"below": "cushion", "round": "fill", "above": "fill"}


@dataclass(frozen=True, slots=True, kw_only=True)
class _Work:
    """One carton being told, layer by layer."""

    candidate: Candidate
    pieces: tuple[Piece, ...]
    names: dict[str, str]
    by_role: dict[str, list[Use]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for use in self.candidate.uses:
            self.by_role.setdefault(use.role, []).append(use)

    def name(self, code: str) -> str:
        """Return what a supply is called."""
        return self.names.get(code, code)

    def fill(
        self, face: FillFace, code: str | None, from_um: Micrometres, to_um: Micrometres, band: Band
    ) -> list[PackLayer]:
        """Return the layer of fill on one face, none when the face takes none."""
        use = next((use for use in self.by_role.get("fill", []) if use.supply == code), None)
        part = next((part for part in use.parts if part.face == face), None) if use else None
        if use is None or part is None:
            return []
        title = say(f"layer_{face}", fill=self.name(use.supply), depth_um=to_um - from_um)
        detail = say(f"layer_{face}_detail", amount=amount_of(part.unit, part.count), proud_percent=band.proud_percent)
        return [_layer(_FILL_KIND[face], title, detail, from_um, to_um, supplies=(use.supply,), part=part)]

    def liner(self, inside_um: Micrometres) -> list[PackLayer]:
        """Return the liner, before anything else goes in."""
        return [
            _layer(
                "liner",
                say("layer_liner", liner=self.name(use.supply)),
                say("layer_liner_detail"),
                0,
                inside_um,
                supplies=(use.supply,),
            )
            for use in self.by_role.get("liner", [])
        ]

    def packs(self, place: Literal["top", "sides", "lid"], from_um: Micrometres, to_um: Micrometres) -> list[PackLayer]:
        """Return the packs that lie at one place; none where there are none."""
        thermal = self.candidate.thermal
        count = getattr(thermal.places, place) if thermal is not None else 0
        if thermal is None or not count:
            return []
        title = say(f"layer_packs_{place}", count=count, pack=self.name(thermal.pack))
        detail = say(f"layer_packs_{place}_detail")
        return [_layer("packs", title, detail, from_um, to_um, supplies=(thermal.pack,))]

    def inserts(self, place: InsertPlace, at_um: Micrometres) -> list[PackLayer]:
        """Return the inserts that go in at one place."""
        return [
            _layer("insert", self.name(use.supply), _count(int(use.quantity)), at_um, at_um, supplies=(use.supply,))
            for use in self.by_role.get("insert", [])
            if use.place == place
        ]

    def closing(self, at_um: Micrometres) -> list[PackLayer]:
        """Return how it is closed: each strip of tape, or its own seal."""
        tapes = self.by_role.get("tape", [])
        if not tapes:
            return [_layer("close", say(f"close_{self._shut()}"), say(f"close_{self._shut()}_detail"), at_um, at_um)]
        return [
            _layer(
                "close",
                say("close_with", tape=self.name(tape.supply)),
                _so_long(tape, self.names),
                at_um,
                at_um,
                supplies=(tape.supply,),
            )
            for tape in tapes
        ]

    def _shut(self) -> str:
        """Return how the container shuts by itself; what was planned before that was kept, by its kind."""
        closing, kind = self.candidate.closing, self.candidate.kind
        if closing is None or not closing.held_by:
            return kind
        # A mailer's flap is glued, whatever it shows of tampering; a carton's plain flap is tucked in.
        return kind if (kind, closing.held_by[0]) == ("mailer", "flap") else closing.held_by[0]


def _layer(
    kind: LayerKind,
    title: Text,
    detail: Text,
    from_um: int,
    to_um: int,
    at: tuple[int, ...] = (),
    *,
    supplies: tuple[str, ...] = (),
    part: FillPart | None = None,
) -> PackLayer:
    return PackLayer(
        kind=kind,
        title=title,
        detail=detail,
        from_um=from_um,
        to_um=to_um,
        placements=at,
        supplies=supplies,
        part=part,
    )


def _so_long(use: Use, names: dict[str, str]) -> Message:
    return say("so_much_tape", how=use.detail, length_m=use.quantity)


def _count(number: int) -> Message:
    return say("one_of_them") if number == 1 else say("so_many_of_them", count=number)


def _lying(placements: list[Placement], pieces: tuple[Piece, ...]) -> tuple[Message, ...]:
    """Say which goods of a layer do not stand as they are sold: the hands would set them upright."""
    heights = {piece.code: piece.size.height_um for piece in pieces}
    names = {piece.code: piece.called for piece in pieces}
    counts: dict[str, int] = {}
    for placed in placements:
        if placed.size_um[2] != heights.get(placed.unit, placed.size_um[2]):
            counts[placed.unit] = counts.get(placed.unit, 0) + 1
    return tuple(say("lying", count=count, name=names[code]) for code, count in counts.items())


def _stands(candidate: Candidate, level: Micrometres) -> Message:
    return say("lying_flat") if candidate.kind == "mailer" else say("above_bottom", level_um=level)


def _unit_layers(work: _Work) -> list[PackLayer]:
    candidate = work.candidate
    nested = candidate.nested
    placements = nested.placements if nested else candidate.placements
    lift = candidate.floor_um if nested else 0
    names = {piece.code: piece.called for piece in work.pieces}
    divider = next(iter(work.by_role.get("divider", [])), None)
    levels: dict[int, list[int]] = {}
    for index, placement in enumerate(placements):
        levels.setdefault(placement.at_um[2], []).append(index)
    found = []
    for level in sorted(levels):
        counts: dict[str, int] = {}
        for index in levels[level]:
            counts[placements[index].unit] = counts.get(placements[index].unit, 0) + 1
        top = max(placements[index].top_um for index in levels[level])
        where = say("in_inner", inner=nested.name) if nested else _stands(candidate, level)
        lying = _lying([placements[index] for index in levels[level]], work.pieces)
        if divider and level != min(levels):
            at_um = lift + level
            detail = say("one_between_layers")
            found.append(_layer("divider", work.name(divider.supply), detail, at_um, at_um, supplies=(divider.supply,)))
        title = say(
            "goods", goods=tuple(say("so_many", count=n, name=names.get(sku, sku)) for sku, n in counts.items())
        )
        detail = say("where_lying", where=where, lying=lying) if lying else where
        found.append(_layer("units", title, detail, lift + level, lift + top, tuple(levels[level])))
    if nested:
        for use in work.by_role.get("inner fill", []):
            found.append(
                _layer(
                    "inner_fill",
                    say("fill_in_inner", fill=work.name(use.supply), inner=nested.name),
                    say("until_nothing_shifts", amount=use.detail),
                    candidate.floor_um,
                    candidate.top_um,
                    supplies=(use.supply,),
                )
            )
        title = say("inner_into_outer", inner=nested.name)
        found.append(
            _layer("inner", title, say("closed_in_the_middle"), candidate.floor_um, candidate.top_um, supplies=())
        )
    return found
