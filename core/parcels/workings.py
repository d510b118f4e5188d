"""The sums behind a candidate's figures, so that each can be opened on screen (parcels).

Every line repeats a number the plan used; nothing is computed anew except to show a factor.
"""

from decimal import Decimal

from core.packing.void import VoidShare
from core.parcels.candidate import Candidate, Strapped
from core.recipes.expand import Piece
from core.units import Size
from core.working import Amount, Working, WorkingLine, line

__all__ = ["workings_of"]


def workings_of(
    candidate: Candidate, pieces: tuple[Piece, ...], *, wage_per_hour: Decimal, goods_cost: Decimal
) -> tuple[Working, ...]:
    """Return the workings of weight, uncertainty, outer size, void and each cost line."""
    return (
        *(_wrapped(piece) for piece in pieces),
        _gross(candidate, pieces),
        _sigma(candidate),
        *_voids(candidate),
        *_outside(candidate),
        _materials(candidate),
        _labour(candidate, wage_per_hour),
        _loss(candidate, goods_cost),
        *_stacking(candidate),
    )


def _wrapped(piece: Piece) -> Working:
    return Working(
        what=f"{piece.called}, wrapped length",
        rule="Sides grow by 2 x turns x thickness x compression (rules, 2); a box of its own replaces that.",
        lines=(
            line("bare length", piece.bare.length_um, "um"),
            line("grows by", piece.size.length_um - piece.bare.length_um, "um"),
        ),
        result=Amount(value=Decimal(piece.size.length_um), unit="um"),
    )


def _gross(candidate: Candidate, pieces: tuple[Piece, ...]) -> Working:
    goods = [line(f"{piece.units} x {piece.name}", piece.net_mg * piece.units, "mg") for piece in pieces]
    used = [line(f"{use.supply}, {use.role}", use.weight_mg, "mg") for use in candidate.uses]
    return Working(
        what="Gross weight",
        rule="Net weight of the goods plus tare: every container, wrap, fill, tape, insert and label (rules, 8).",
        lines=(*goods, *used),
        result=Amount(value=Decimal(candidate.weight.gross_mg), unit="mg"),
    )


def _sigma(candidate: Candidate) -> Working:
    weight = candidate.weight
    return Working(
        what="Weight uncertainty",
        rule="Added in squares: scale division / sqrt 12, fill 20 %, each unit's own spread (rules, 8).",
        lines=(
            line("scale", weight.sigma_scale_mg, "mg"),
            line("fill", weight.sigma_fill_mg, "mg"),
            line("units", weight.sigma_units_mg, "mg"),
        ),
        result=Amount(value=Decimal(weight.sigma_mg), unit="mg"),
    )


def _voids(candidate: Candidate) -> tuple[Working, ...]:
    nested = candidate.nested
    return (
        *((_void("Void to fill", candidate.inner, candidate.void),) if candidate.void else ()),
        *((_void(f"Void in {nested.code} to fill", nested.inner, nested.void),) if nested and nested.void else ()),
    )


def _void(what: str, inside: Size, void: VoidShare) -> Working:
    return Working(
        what=what,
        rule="Inside of the container less the wrapped goods; the top of the outer a little proud (rules, 6).",
        lines=(
            line("inside", Decimal(inside.volume_um3) / 10**15, "l"),
            line("below the goods", void.below_l, "l"),
            line("round and between", void.round_l, "l"),
            line("above", void.above_l, "l"),
            line("proud", void.proud_l, "l"),
            *((line("air left free", void.free_l, "l"),) if void.free_l else ()),
        ),
        result=Amount(value=void.filled_l, unit="l"),
    )


def _outside(candidate: Candidate) -> tuple[Working, ...]:
    if candidate.strapped is not None:
        return _outside_of_two(candidate, candidate.strapped)
    sides: tuple[tuple[str, int, int, int], ...] = (
        ("Length outside", candidate.inner.length_um, candidate.outer.length_um, candidate.outer_bulged.length_um),
        ("Width outside", candidate.inner.width_um, candidate.outer.width_um, candidate.outer_bulged.width_um),
        ("Height outside", candidate.inner.height_um, candidate.outer.height_um, candidate.outer_bulged.height_um),
    )
    return tuple(
        Working(
            what=what,
            rule="Inside plus both walls, plus what the fill pushes out: carriers measure the bulge (rules, 9).",
            lines=(
                line("inside", inner, "um"),
                line("walls", outer - inner, "um"),
                line("bulge", bulged - outer, "um"),
            ),
            result=Amount(value=Decimal(bulged), unit="um"),
        )
        for what, inner, outer, bulged in sides
    )


def _outside_of_two(candidate: Candidate, strapped: Strapped) -> tuple[Working, ...]:
    """The box that bounds two cartons (rules, 3)."""
    box = candidate.outer_bulged
    sides = (("Length outside", box.length_um), ("Width outside", box.width_um), ("Height outside", box.height_um))
    each = tuple(
        line(f"{carton.candidate.container}, {what}", side, "um")
        for carton in strapped.cartons
        for what, side in (
            ("length", carton.candidate.outer_bulged.length_um),
            ("width", carton.candidate.outer_bulged.width_um),
            ("height", carton.candidate.outer_bulged.height_um),
        )
    )
    return tuple(
        Working(
            what=what,
            rule=f"Two cartons strapped {strapped.words}: the box that bounds both (rules, 3).",
            lines=each,
            result=Amount(value=Decimal(side), unit="um"),
        )
        for what, side in sides
    )


def _materials(candidate: Candidate) -> Working:
    lines: list[WorkingLine] = [line(f"{use.supply}, {use.detail}", use.cost, "money") for use in candidate.uses]
    return Working(
        what="Materials",
        rule="Each supply used, at its average cost; rounded once at the end (rules, 1 and 13).",
        lines=tuple(lines),
        result=Amount(value=candidate.costs.materials, unit="money"),
    )


def _labour(candidate: Candidate, wage_per_hour: Decimal) -> Working:
    return Working(
        what="Labour",
        rule="Minutes per unit and per parcel, from the recipe, at the workshop's wage.",
        lines=(line("minutes", candidate.minutes, "minutes"), line("wage an hour", wage_per_hour, "money")),
        result=Amount(value=candidate.costs.labour, unit="money"),
    )


def _loss(candidate: Candidate, goods_cost: Decimal) -> Working:
    return Working(
        what="Expected loss",
        rule="Chance of damage x (goods at cost + postage + materials); a guess until 30 arrivals (rules, 5).",
        lines=(
            line("chance of damage", candidate.damage_probability * 100, "percent"),
            line("goods at cost", goods_cost, "money"),
            line("postage", candidate.costs.postage, "money"),
            line("materials", candidate.costs.materials, "money"),
        ),
        result=Amount(value=candidate.costs.expected_loss, unit="money"),
    )


def _stacking(candidate: Candidate) -> tuple[Working, ...]:
    stack = candidate.stacking
    if stack is None:
        return ()
    return (
        Working(
            what="Stacking",
            rule="5.874 x edge crush x root of (perimeter x caliper), McKee 1963; a fifth of it against like parcels to 1.5 m.",
            lines=(
                line("box compression", stack.compression_n, "N"),
                line("allowed, a fifth", stack.allowed_n, "N"),
                line("parcels on top", stack.above, "pieces"),
            ),
            result=Amount(value=Decimal(stack.load_n), unit="N"),
        ),
    )
