"""What every recipe in a parcel requires, and whether a container keeps to it (parcels; rules 4.2, 5.7 and 7.2).

One parcel has one cushion on each face, the largest any of its goods wants; its closure reaches the highest grade
any of them asks for; an inner carton that one of them wants takes all of them. Advice, other ways and divisions go
through here like the recipe's own choice, so that none of them drops a requirement. Pure.
"""

from dataclasses import replace

from core.messages import Message, say
from core.parcels.packed import Outer, Packed, Request
from core.recipes.expand import Piece
from core.recipes.model import Band, Closure, Cushion, InnerCarton
from core.supplies.items import GRADES, ClosureGrade, Mailer

__all__ = ["band_of_parcel", "broken_by", "cushion_of", "fills_of", "grade_wanted"]


def band_of_parcel(pieces: tuple[Piece, ...]) -> Band:
    """Return how a parcel is packed: the heaviest goods decide, what any other requires is added."""
    band = max(pieces, key=lambda p: (p.weight_mg * p.quantity, p.sku)).band
    return replace(band, cushion=cushion_of(pieces), inner=_inner_of(band, pieces), closure=_closure_of(band, pieces))


def cushion_of(pieces: tuple[Piece, ...]) -> Cushion:
    """Return the parcel's one cushion: on each face the largest any of its goods wants (rules 4.2)."""
    return Cushion(
        bottom_um=max(piece.clearance.bottom_um for piece in pieces),
        side_um=max(piece.clearance.side_um for piece in pieces),
        top_um=max(piece.clearance.top_um for piece in pieces),
    )


def grade_wanted(pieces: tuple[Piece, ...]) -> ClosureGrade:
    """Return the highest closure grade asked for; a sealed box of its own shows tampering for its unit (rules 7.2)."""
    asked: list[ClosureGrade] = [
        piece.band.closure.required_grade
        for piece in pieces
        if piece.band.closure is not None and not (piece.band.unit_box and piece.band.unit_box_sealed)
    ]
    return max(asked, key=lambda grade: GRADES[grade], default="none")


def fills_of(band: Band) -> tuple[str, ...]:
    """Return the fills a band names, each once."""
    return tuple(dict.fromkeys(code for code in (band.fill_below, band.fill, band.fill_above) if code))


def _inner_of(band: Band, pieces: tuple[Piece, ...]) -> InnerCarton | None:
    wanted = [piece.band.inner for piece in pieces if piece.band.inner is not None]
    if not wanted:
        return None
    return replace(band.inner or wanted[0], clearance_um=max(inner.clearance_um for inner in wanted))


def _closure_of(band: Band, pieces: tuple[Piece, ...]) -> Closure | None:
    """The heaviest goods' closure, unless others ask for a higher grade: then theirs, which was chosen for it."""
    own = GRADES[band.closure.required_grade] if band.closure else -1
    others = [piece.band.closure for piece in pieces if piece.band.closure is not None]
    best = max(others, key=lambda closure: GRADES[closure.required_grade], default=None)
    return best if best is not None and GRADES[best.required_grade] > own else band.closure


def broken_by(outer: Outer, packed: Packed, request: Request, given: ClosureGrade) -> tuple[str, Message] | None:
    """Return which requirement of the goods' recipes this container does not keep, as a code and a message.

    None when it keeps all of them. ``given``: what its closure shows of tampering.
    """
    wanted = grade_wanted(request.expansion.pieces)
    if GRADES[given] < GRADES[wanted]:
        how = "mailer_grade_too_low" if isinstance(outer, Mailer) else "closure_grade_too_low"
        tape = request.shelf.tapes[request.band.closure.tape].name if request.band.closure else ""
        return "closure_grade", say(
            how, container=outer.code, wanted=say(f"grade_{wanted}"), given=say(f"grade_{given}"), tape=tape
        )
    if request.band.school == "base_fixed" and isinstance(outer, Mailer):
        return "school", say("base_fixed_in_mailer", container=outer.code)
    return _too_heavy_for_fill(outer, packed, request)


def _too_heavy_for_fill(outer: Outer, packed: Packed, request: Request) -> tuple[str, Message] | None:
    """A fill holds units up to so heavy; goods in an inner carton press on it as one."""
    if packed.void is None:
        return None
    heaviest = max(request.expansion.pieces, key=lambda piece: piece.weight_mg)
    for code in fills_of(request.band):
        fill = request.shelf.fills[code]
        if fill.holds_mg is not None and not fill.holds(heaviest.weight_mg):
            return "fill_too_weak", say(
                "fill_too_weak",
                container=outer.code,
                fill=fill.name,
                holds_mg=fill.holds_mg,
                name=heaviest.called,
                weight_mg=heaviest.weight_mg,
            )
    return None
