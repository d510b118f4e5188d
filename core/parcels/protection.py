"""Goods that travel less protected than their nature or their recipe asks for (parcels; used by readiness, plan,
recipe).

A cushion with nothing in it, a fragile unit bare, a cushion lost in a mailer: each is told, and the chance of damage
rises by the workshop's factor where the parcel is sent all the same. For fragile goods it is an error of the
recipe, for delicate ones a warning. Pure.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.messages import Message, say
from core.packing.void import VoidShare
from core.parcels.packed import Outer, Packed, Request
from core.recipes.expand import Piece
from core.supplies.items import Mailer

__all__ = ["Exposure", "ExposureCode", "damage_with", "exposures_of"]

ExposureCode = Literal["empty_bottom", "empty_sides", "empty_top", "bare_unit", "cushion_lost"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Exposure:
    """One way in which goods are not protected."""

    code: ExposureCode
    message: Message
    fault: bool  #: the goods are fragile: the recipe is not ready; else a warning


def exposures_of(outer: Outer, packed: Packed, request: Request, *, in_recipe: bool) -> tuple[Exposure, ...]:
    """Return how the goods of a packed container are exposed; empty when they are protected as they should be."""
    pieces = request.expansion.pieces
    minded = [piece for piece in pieces if piece.fragility != "sturdy"]
    worst = max(minded, key=lambda piece: piece.fragility == "fragile", default=None)
    found = [_bare(piece) for piece in minded if _is_bare(piece)]
    if isinstance(outer, Mailer):
        cushion = request.band.cushion
        depth_um = max(cushion.bottom_um, cushion.side_um, cushion.top_um)
        # A recipe that names the mailer means its cushion for the cartons it names beside it.
        if depth_um and packed.nested is None and not in_recipe:
            fault = any(piece.fragility == "fragile" for piece in pieces)
            message = say("exposed_cushion_lost", container=outer.code, depth_um=depth_um)
            found.append(Exposure(code="cushion_lost", message=message, fault=fault))
    elif worst is not None and packed.void is not None:
        found += _empty_faces(packed.void, packed.floor_um, request, worst)
    return tuple(dict.fromkeys(found))


def _is_bare(piece: Piece) -> bool:
    return not piece.band.layers and not piece.band.unit_box and not piece.band.divider


def _bare(piece: Piece) -> Exposure:
    fragile = piece.fragility == "fragile"
    message = say("exposed_bare_unit", name=piece.name, fragility=say(f"fragility_{piece.fragility}"))
    return Exposure(code="bare_unit", message=message, fault=fragile)


def _empty_faces(void: VoidShare, floor_um: int, request: Request, piece: Piece) -> list[Exposure]:
    """A cushion is only as good as what fills it; with the base fixed the other faces stay free on purpose."""
    band = request.band
    fixed = band.school == "base_fixed"
    faces: tuple[tuple[ExposureCode, bool, str | None], ...] = (
        ("empty_bottom", void.below_l > 0, band.fill_below or band.fill),
        ("empty_sides", not fixed and void.round_l > 0 and band.cushion.side_um > 0, band.fill),
        ("empty_top", not fixed and void.above_l > 0 and band.cushion.top_um > 0, band.fill_above or band.fill),
    )
    return [
        Exposure(
            code=code,
            message=say(f"exposed_{code}", name=piece.name, depth_um=floor_um),
            fault=piece.fragility == "fragile",
        )
        for code, empty, fill in faces
        if empty and fill is None
    ]


def damage_with(prior: Decimal, exposures: tuple[Exposure, ...], factor: Decimal) -> Decimal:
    """Return the chance of damage: the prior, raised by the workshop's factor where goods are exposed, at most
    certain.
    """
    return min(Decimal(1), prior * factor) if exposures else prior
