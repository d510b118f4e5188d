"""The sums behind a candidate's figures, so that each can be opened on screen (parcels).

Every line repeats a number the plan used; nothing is computed again except to show a factor.
"""

from decimal import Decimal

from core.messages import Message, say
from core.packing.void import VoidShare
from core.parcels.candidate import Candidate, Strapped
from core.recipes.expand import Piece, Use
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
        what=say("figure_wrapped_length", name=piece.called),
        rule=say("rule_wrapped_length"),
        lines=(
            line(say("line_bare_length"), piece.bare.length_um, "um"),
            line(say("line_grows_by"), piece.size.length_um - piece.bare.length_um, "um"),
        ),
        result=Amount(value=Decimal(piece.size.length_um), unit="um"),
    )


def _gross(candidate: Candidate, pieces: tuple[Piece, ...]) -> Working:
    goods = [
        line(say("so_many", count=piece.units, name=piece.name), piece.net_mg * piece.units, "mg") for piece in pieces
    ]
    used = [line(_used_as(use), use.weight_mg, "mg") for use in candidate.uses]
    return Working(
        what=say("figure_gross"),
        rule=say("rule_gross"),
        lines=(*goods, *used),
        result=Amount(value=Decimal(candidate.weight.gross_mg), unit="mg"),
    )


def _used_as(use: Use) -> Message:
    return say("used_as", supply=use.supply, role=say(f"role_{use.role.replace(' ', '_')}"))


def _sigma(candidate: Candidate) -> Working:
    weight = candidate.weight
    return Working(
        what=say("figure_uncertainty"),
        rule=say("rule_uncertainty"),
        lines=(
            line(say("line_scale"), weight.sigma_scale_mg, "mg"),
            line(say("line_fill"), weight.sigma_fill_mg, "mg"),
            line(say("line_units"), weight.sigma_units_mg, "mg"),
        ),
        result=Amount(value=Decimal(weight.sigma_mg), unit="mg"),
    )


def _voids(candidate: Candidate) -> tuple[Working, ...]:
    nested = candidate.nested
    outer = (_void(say("figure_void"), candidate.inner, candidate.void),) if candidate.void else ()
    if nested is None or nested.void is None:
        return outer
    return (*outer, _void(say("figure_inner_void", inner=nested.code), nested.inner, nested.void))


def _void(what: Message, inside: Size, void: VoidShare) -> Working:
    return Working(
        what=what,
        rule=say("rule_void"),
        lines=(
            line(say("line_inside"), Decimal(inside.volume_um3) / 10**15, "l"),
            line(say("line_below"), void.below_l, "l"),
            line(say("line_round"), void.round_l, "l"),
            line(say("line_above"), void.above_l, "l"),
            line(say("line_overfill"), void.proud_l, "l"),
            *((line(say("line_free_air"), void.free_l, "l"),) if void.free_l else ()),
        ),
        result=Amount(value=void.filled_l, unit="l"),
    )


def _outside(candidate: Candidate) -> tuple[Working, ...]:
    if candidate.strapped is not None:
        return _outside_of_two(candidate, candidate.strapped)
    inner, outer, bulged = (size.sides_um for size in (candidate.inner, candidate.outer, candidate.outer_bulged))
    return tuple(
        Working(
            what=say(f"figure_outside_{side}"),
            rule=say("rule_outside"),
            lines=(
                line(say("line_inside"), inner[at], "um"),
                line(say("line_walls"), outer[at] - inner[at], "um"),
                line(say("line_bulge"), bulged[at] - outer[at], "um"),
            ),
            result=Amount(value=Decimal(bulged[at]), unit="um"),
        )
        for at, side in enumerate(_SIDES)
    )


_SIDES = ("length", "width", "height")


def _outside_of_two(candidate: Candidate, strapped: Strapped) -> tuple[Working, ...]:
    """The box that bounds two cartons (rules 3.3)."""
    each = tuple(
        line(say(f"carton_{side}", container=carton.candidate.container), um, "um")
        for carton in strapped.cartons
        for side, um in zip(_SIDES, carton.candidate.outer_bulged.sides_um, strict=True)
    )
    return tuple(
        Working(
            what=say(f"figure_outside_{side}"),
            rule=say("rule_strapped", lying=strapped.words),
            lines=each,
            result=Amount(value=Decimal(um), unit="um"),
        )
        for side, um in zip(_SIDES, candidate.outer_bulged.sides_um, strict=True)
    )


def _materials(candidate: Candidate) -> Working:
    lines: list[WorkingLine] = [
        line(say("used_for", supply=use.supply, how=use.detail), use.cost, "money") for use in candidate.uses
    ]
    return Working(
        what=say("figure_materials"),
        rule=say("rule_materials"),
        lines=tuple(lines),
        result=Amount(value=candidate.costs.materials, unit="money"),
    )


def _labour(candidate: Candidate, wage_per_hour: Decimal) -> Working:
    return Working(
        what=say("figure_labour"),
        rule=say("rule_labour"),
        lines=(
            line(say("line_minutes"), candidate.minutes, "minutes"),
            line(say("line_wage"), wage_per_hour, "money"),
        ),
        result=Amount(value=candidate.costs.labour, unit="money"),
    )


def _loss(candidate: Candidate, goods_cost: Decimal) -> Working:
    return Working(
        what=say("figure_loss"),
        rule=_rule_of_loss(candidate),
        lines=(
            line(say("line_damage"), candidate.damage_probability * 100, "percent"),
            line(say("line_goods"), goods_cost, "money"),
            line(say("line_postage"), candidate.costs.postage, "money"),
            line(say("line_materials"), candidate.costs.materials, "money"),
        ),
        result=Amount(value=candidate.costs.expected_loss, unit="money"),
    )


def _rule_of_loss(candidate: Candidate) -> Message:
    """Say where the chance comes from: an estimate, or parcels that arrived."""
    exposed = "_exposed" if candidate.exposures else ""
    arrivals = candidate.arrivals
    if arrivals is None:
        return say(f"rule_loss{exposed}")
    return say(f"rule_loss_counted{exposed}", damaged=arrivals.damaged, known=arrivals.known)


def _stacking(candidate: Candidate) -> tuple[Working, ...]:
    stack = candidate.stacking
    if stack is None:
        return ()
    return (
        Working(
            what=say("figure_stacking"),
            rule=say("rule_stacking"),
            lines=(
                line(say("line_compression"), stack.compression_n, "N"),
                line(say("line_allowed"), stack.allowed_n, "N"),
                line(say("line_on_top"), stack.above, "pieces"),
            ),
            result=Amount(value=Decimal(stack.load_n), unit="N"),
        ),
    )
