"""What one parcel uses besides the wraps: container, fill, tape, inserts, dividers, label (parcels).

Amount rules and conditions of inserts are those of rules 12.1; each use carries its weight and its cost.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.messages import say
from core.packing.void import VoidShare, fill_amount
from core.parcels.alteration import Alteration
from core.parcels.closing import is_taped
from core.parcels.closure import tape_length_um
from core.parcels.measured import amount_of, heap_of
from core.parcels.packed import Outer, Packed, Request
from core.recipes.expand import FillFace, Piece, Use
from core.recipes.model import Closure, InsertAmount, InsertPlace, SampleChoice, holds, sample_for
from core.supplies.items import Mailer
from core.supplies.stock_asked import covers
from core.units import Size, round_half_away

__all__ = ["left_out", "parcel_uses"]


def parcel_uses(outer: Outer, packed: Packed, request: Request, change: Alteration | None) -> tuple[Use, ...]:
    """Return everything the parcel takes from the shelf except what is round the goods."""
    uses = [
        Use(
            supply=outer.code,
            quantity=outer.pieces,
            weight_mg=outer.tare_mg,
            cost=outer.unit_cost,
            role="outer",
            detail=change.words if change else say("use_outer"),
        )
    ]
    band = request.band
    if packed.void is not None:
        uses.extend(_fill_uses(packed.void, request, "fill"))
    if packed.nested is not None and packed.nested.void is not None:
        uses.extend(_fill_uses(packed.nested.void, request, "inner fill"))
    if is_taped(outer, packed, request):
        uses.append(_tape_use(packed.nominal, request))
    if band.closure and outer.pieces != 1:
        uses.append(_seam_use(outer, packed.nominal, band.closure, request))
    uses.extend(_insert_uses(request, _levels(packed)))
    uses.extend(_divider_uses(request, _levels(packed)))
    if request.label is not None and "parcel" in request.carries:
        label = request.shelf.inserts[request.label]
        uses.append(
            Use(
                supply=label.code,
                quantity=Decimal(1),
                weight_mg=label.weight_mg,
                cost=label.unit_cost,
                role="label",
                detail=say("use_label"),
            )
        )
    return tuple(uses)


def _fill_uses(void: VoidShare, request: Request, role: Literal["fill", "inner fill"]) -> list[Use]:
    """Fill by face (rules 6.4): below, round, on top; a face may have a fill of its own.

    An inner carton is filled as the outer is (rules 3.1: each level by the same rules).
    """
    band = request.band
    faces: tuple[tuple[str | None, Decimal, FillFace], ...] = (
        (band.fill_below or band.fill, void.below_l, "below"),
        (band.fill, void.round_l, "round"),
        (band.fill_above or band.fill, void.above_l + void.proud_l, "above"),
    )
    found = []
    for code in dict.fromkeys(code for code, litres, _ in faces if code and litres > 0):
        mine = [(face, litres) for own, litres, face in faces if own == code and litres > 0]
        fill = request.shelf.fills[code]
        amount = fill_amount(sum((litres for _, litres in mine), Decimal(0)), fill)
        heap = heap_of(mine, amount.loose_l, amount.weight_mg, fill)
        found.append(
            Use(
                supply=code,
                quantity=amount.loose_l,
                weight_mg=amount.weight_mg,
                cost=amount.loose_l * fill.unit_cost,
                role=role,
                detail=say(
                    "fill_parts",
                    parts=tuple(say(f"part_{one.face}", amount=amount_of(one.unit, one.count)) for one in heap.parts),
                ),
                parts=heap.parts,
                spread_mg=heap.spread_mg,
            )
        )
    return found


def _tape_use(nominal: Size, request: Request) -> Use:
    closure = request.band.closure
    if closure is None:  # pragma: no cover - callers ask only when there is one
        raise ValueError("no closure")
    tape = request.shelf.tapes[closure.tape]
    metres = Decimal(tape_length_um(nominal, closure)) / 1_000_000
    return Use(
        supply=tape.code,
        quantity=metres,
        weight_mg=round_half_away(metres * tape.mg_per_m),
        cost=metres * tape.unit_cost,
        role="tape",
        detail=say("tape_both" if closure.both_faces else "tape_top", pattern=say(f"pattern_{closure.pattern}")),
    )


def _seam_use(outer: Outer, nominal: Size, closure: Closure, request: Request) -> Use:
    """Tape where a container was made of two, round the joint before it is packed; or of half of one: the cut is what
    it closes.
    """
    tape = request.shelf.tapes[closure.tape]
    if isinstance(outer, Mailer):
        length_um = outer.flat_width_um + 2 * closure.overhang_um
    else:
        length_um = 2 * (nominal.width_um + nominal.height_um) + closure.overhang_um
    halved = isinstance(outer, Mailer)
    metres = Decimal(length_um) / 1_000_000
    return Use(
        supply=tape.code,
        quantity=metres,
        weight_mg=round_half_away(metres * tape.mg_per_m),
        cost=metres * tape.unit_cost,
        role="tape" if halved else "joint",
        detail=say("along_the_cut" if halved else "round_the_joint"),
    )


def _levels(packed: Packed) -> int:
    """Return how many layers the units lie in."""
    placements = packed.nested.placements if packed.nested else packed.placements
    return len({placed.at_um[2] for placed in placements})


def _divider_uses(request: Request, levels: int) -> list[Use]:
    """One divider between each two layers; the gap between units is its room (rules 3.5)."""
    code = request.band.divider
    if code is None or levels < 2:
        return []
    return [_piece_use(request, code, levels - 1, "divider", None)]


def left_out(packed: Packed, request: Request) -> tuple[str, ...]:
    """Return the inserts that stay out of the parcel because there are too few of them: they need not go in."""
    return tuple(code for code, one in _inserts(request, _levels(packed)).items() if not one.goes_in)


@dataclass(slots=True, kw_only=True)
class _Insert:
    """How many of one insert a parcel wants, and whether they go in."""

    count: int = 0
    place: InsertPlace = "top"
    goes_in: bool = False


def _insert_uses(request: Request, levels: int) -> list[Use]:
    return [
        _piece_use(request, code, one.count, "insert", one.place)
        for code, one in _inserts(request, levels).items()
        if one.goes_in
    ]


def _inserts(request: Request, levels: int) -> dict[str, _Insert]:
    """Amount rules of every recipe in the parcel; what two recipes name per parcel goes in once, the larger amount.

    What may be left out is, when there is not enough of it: a missing card holds up no parcel.
    """
    found: dict[str, _Insert] = {}
    shared: dict[str, int] = {}
    needed: set[str] = set()
    choice = SampleChoice(ordered=request.occasion.skus, free=request.free, last_sent=request.occasion.last_sent)
    for piece in request.expansion.pieces:
        for rule in piece.band.inserts:
            elsewhere = rule.per in ("order", "parcel") and rule.per not in request.carries
            if elsewhere or not holds(rule.when, request.occasion):
                continue
            insert = sample_for(rule, choice)
            if insert is None:
                continue
            count = rule.amount * _times(rule, piece, levels)
            if rule.required:
                needed.add(insert)
            if rule.per in ("parcel", "order", "layer"):
                # Asked for once a parcel by every recipe: the larger amount serves them all.
                before = shared.get(insert, 0)
                shared[insert] = max(before, count)
                count = shared[insert] - before
            one = found.setdefault(insert, _Insert())
            one.count += count
            one.place = rule.place
    for code, one in found.items():
        one.goes_in = code in needed or covers(request.free, code, Decimal(one.count))
    return {code: one for code, one in found.items() if one.count}


def _times(rule: InsertAmount, piece: Piece, levels: int) -> int:
    """Return how often an amount counts for one piece of goods (rules 12.1)."""
    match rule.per:
        case "unit":
            return piece.units
        case "group":
            return -(-piece.units // rule.group_of)
        case "product":
            return 1 if piece.part == 0 else 0
        case "layer":
            return levels
        case _:
            return 1


def _piece_use(
    request: Request, code: str, count: int, role: Literal["insert", "divider"], place: InsertPlace | None
) -> Use:
    insert = request.shelf.inserts[code]
    return Use(
        supply=code,
        quantity=Decimal(count),
        weight_mg=insert.weight_mg * count,
        cost=insert.unit_cost * count,
        role=role,
        detail=say("between_layers") if place is None else say(f"place_{place}"),
        place=place,
    )
