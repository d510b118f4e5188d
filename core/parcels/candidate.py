"""One way to send an order: this container, packed, filled, closed, weighed, quoted and costed.

``build`` either gives a Candidate, every figure of which can show its sum, or a RuledOut that says which limit
and by how much. Pure: prices, stock and settings come in as values.
"""

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Literal

from core.errors import InvalidPacking
from core.packing.mailer import MailerShort, fit_mailer
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit, Placement, floor_um
from core.packing.reasons import no_packing_reason
from core.packing.search import find_packing
from core.packing.verify import faults_of
from core.packing.void import VoidShare, fill_amount, void_of
from core.parcels.closure import tape_length_um
from core.parcels.outer_size import bulge_allowance, bulged
from core.parcels.strength import Stacking, stacking
from core.parcels.weight import ParcelWeight, parcel_weight
from core.recipes.expand import Expansion, Piece, Shelf, Use
from core.recipes.model import Band, Cushion, InsertAmount, Occasion, holds
from core.supplies.items import Container, Mailer
from core.tariffs.model import Place, Tariff
from core.tariffs.quote import Quote, Refusal, quote_all, tariff_in_force
from core.tariffs.sides import SideRuler, side_rulers
from core.tariffs.steps import StepPosition, step_position
from core.units import Micrometres, Size, format_length, format_weight, round_half_away, round_money

__all__ = [
    "Candidate",
    "Costs",
    "InnerPacked",
    "Outer",
    "Request",
    "RuledOut",
    "build",
    "cut_down",
    "why_not_packed",
    "with_sides",
]

Outer = Container | Mailer


@dataclass(frozen=True, slots=True, kw_only=True)
class Request:
    """What all candidates of one order share."""

    expansion: Expansion
    band: Band  #: speaks for the parcel: the band of the heaviest goods
    shelf: Shelf
    cartons: dict[str, Container]  #: every carton of the cupboard, for inner cartons
    label: str | None  #: insert code of the shipping label, one per parcel
    tariffs: tuple[Tariff, ...]
    destination: Place
    ship_on: date
    wage_per_hour: Decimal
    division_mg: int  #: of the scale
    support_percent: int
    goods_cost: Decimal  #: of the whole order
    damage_probability: Decimal
    money_digits: int
    occasion: Occasion
    thorough: bool = True  #: search long where a quick look finds nothing


@dataclass(frozen=True, slots=True, kw_only=True)
class InnerPacked:
    """An inner carton with the units in it; placements are inside the inner carton."""

    code: str
    name: str
    inner: Size
    outer: Size
    placements: tuple[Placement, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Costs:
    """Expected cost of sending it this way; each line rounded to the minor unit."""

    materials: Decimal
    labour: Decimal
    postage: Decimal
    expected_loss: Decimal
    total: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A parcel worked out in full."""

    container: str
    name: str
    kind: Literal["carton", "mailer"]
    in_recipe: bool
    inner: Size
    wall_um: Micrometres  #: one wall, for drawing
    outer: Size  #: nominal
    outer_bulged: Size  #: what the carrier measures
    floor_um: Micrometres
    top_um: Micrometres
    placements: tuple[Placement, ...]
    nested: InnerPacked | None
    void: VoidShare | None
    uses: tuple[Use, ...]
    minutes: Decimal
    weight: ParcelWeight
    quote: Quote
    quotes: tuple[Quote, ...]
    refusals: tuple[Refusal, ...]
    step: StepPosition
    costs: Costs
    damage_probability: Decimal
    key: str = ""  #: names this way among the others: the container, and the height it is cut to
    cut_to_um: Micrometres | None = None  #: inside height the carton is cut down to
    stacking: Stacking | None = None  #: None: nothing is known of the board
    sides: tuple[SideRuler, ...] = ()  #: where the price changes along each side; empty until asked for


@dataclass(frozen=True, slots=True, kw_only=True)
class RuledOut:
    """Why a container is not used."""

    container: str
    name: str
    code: str
    reason: str
    proven: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class _Packed:
    placements: tuple[Placement, ...]
    inner: Size
    nominal: Size
    floor_um: Micrometres
    top_um: Micrometres
    void: VoidShare | None
    nested: InnerPacked | None
    extra: tuple[Use, ...]
    needs_um: Micrometres = 0  #: least inside height that keeps every clearance


def cut_down(outer: Outer, whole: Candidate, request: Request) -> Container | None:
    """Return the carton cut to the lowest height that still takes these goods, or None when it cannot be lower.

    Score lines give their own heights; a carton without them is cut at the whole millimetre above what is needed. The
    walls are folded down outside the goods' room and stay on the parcel: the tare is the same, nothing is added inside.
    """
    if isinstance(outer, Mailer) or outer.cut is None:
        return None
    packed = _in_carton(outer, request)
    if isinstance(packed, RuledOut):
        return None
    least = max(packed.needs_um, outer.cut.lowest_um)
    height = next((h for h in outer.cut.heights_um if h >= least), None)
    if not outer.cut.heights_um:
        height = -(-least // 1_000) * 1_000
    if height is None or height >= outer.inner.height_um:
        return None
    lower = outer.inner.height_um - height
    return replace(
        outer,
        inner=replace(outer.inner, height_um=height),
        outer=replace(outer.outer, height_um=outer.outer.height_um - lower),
    )


def build(
    outer: Outer, request: Request, *, in_recipe: bool, cut_to_um: Micrometres | None = None
) -> Candidate | RuledOut:
    """Return the order packed in this container and costed, or why it cannot be.

    With ``cut_to_um`` the container is one that ``cut_down`` returned: its labour counts.
    """
    packed = _in_mailer(outer, request) if isinstance(outer, Mailer) else _in_carton(outer, request)
    if isinstance(packed, RuledOut):
        return packed
    uses = (*request.expansion.uses, *packed.extra, *_parcel_uses(outer, packed, request, cut_to_um))
    weight = parcel_weight(request.expansion.pieces, uses, division_mg=request.division_mg)
    if weight.gross_mg - outer.tare_mg > outer.max_load_mg:
        load = weight.gross_mg - outer.tare_mg
        text = f"takes {format_weight(outer.max_load_mg)}; this parcel holds {format_weight(load)}."
        return _out(outer, "too_heavy", text)
    fill = request.shelf.fills.get(request.band.fill or "") if packed.void else None
    measured = bulged(packed.nominal, bulge_allowance(fill))
    quotes, refusals = quote_all(
        request.tariffs,
        outer=measured,
        gross_mg=weight.gross_mg,
        destination=request.destination,
        ship_on=request.ship_on,
    )
    if not quotes:
        told = " ".join(dict.fromkeys(refusal.message for refusal in refusals))
        words = told or "There is no tariff in force on the ship date; take one in."
        return RuledOut(container=outer.code, name=outer.name, code="no_service", reason=words, proven=True)
    minutes = _minutes(request.expansion.pieces)
    if cut_to_um is not None and isinstance(outer, Container) and outer.cut is not None:
        minutes += outer.cut.minutes
    costs = _costs(uses, minutes, quotes[0], request)
    return Candidate(
        container=outer.code,
        key=outer.code if cut_to_um is None else f"{outer.code}/{cut_to_um // 1_000}",
        name=outer.name if cut_to_um is None else f"{outer.name}, cut to {format_length(cut_to_um)}",
        kind=outer.kind,
        in_recipe=in_recipe,
        inner=packed.inner,
        wall_um=outer.wall_um
        if isinstance(outer, Mailer)
        else max(1_000, (outer.outer.length_um - outer.inner.length_um) // 2),
        outer=packed.nominal,
        outer_bulged=measured,
        floor_um=packed.floor_um,
        top_um=packed.top_um,
        placements=packed.placements,
        nested=packed.nested,
        void=packed.void,
        uses=uses,
        minutes=minutes,
        weight=weight,
        quote=quotes[0],
        quotes=quotes,
        refusals=refusals,
        step=step_position(quotes[0], sigma_mg=weight.sigma_mg),
        costs=costs,
        damage_probability=request.damage_probability,
        cut_to_um=cut_to_um,
        stacking=_stacking(outer, packed.nominal, weight.gross_mg),
    )


def with_sides(candidate: Candidate, request: Request) -> Candidate:
    """Return the candidate with its side rulers worked out: done for the ways that are kept, not for every one."""
    tariff = tariff_in_force(request.tariffs, candidate.quote.carrier, request.ship_on)
    service = next((s for s in tariff.services if s.code == candidate.quote.service), None) if tariff else None
    if tariff is None or service is None:
        return candidate
    sides = side_rulers(
        tariff,
        service,
        outer=candidate.outer_bulged,
        gross_mg=candidate.weight.gross_mg,
        destination=request.destination,
        ship_on=request.ship_on,
    )
    return replace(candidate, sides=sides)


def why_not_packed(outer: Outer, request: Request) -> str | None:
    """Return why the goods do not go into this container, or None when they do: geometry and load only."""
    packed = _in_mailer(outer, request) if isinstance(outer, Mailer) else _in_carton(outer, request)
    return packed.reason if isinstance(packed, RuledOut) else None


def _stacking(outer: Outer, nominal: Size, gross_mg: int) -> Stacking | None:
    if isinstance(outer, Mailer) or outer.strength is None:
        return None
    return stacking(outer.strength, nominal, gross_mg)


def _out(outer: Outer, code: str, reason: str, *, proven: bool = True) -> RuledOut:
    return RuledOut(container=outer.code, name=outer.name, code=code, reason=f"{outer.code} {reason}", proven=proven)


# --- geometry --------------------------------------------------------------------------------------------


def _units(pieces: tuple[Piece, ...], clearance: Cushion | None = None) -> tuple[PackUnit, ...]:
    return tuple(
        PackUnit(
            code=piece.code,
            name=piece.called,
            quantity=piece.quantity,
            size_um=(piece.size.length_um, piece.size.width_um, piece.size.height_um),
            weight_mg=piece.weight_mg,
            up_axes=piece.up_axes,
            clearance=clearance or piece.clearance,
            load_on_top_mg=piece.load_on_top_mg,
        )
        for piece in pieces
    )


def _checked(box: Box, units: tuple[PackUnit, ...], rules: PackRules, *, thorough: bool) -> Packing | NoPacking:
    found = find_packing(box, units, rules, thorough=thorough)
    if isinstance(found, Packing):
        faults = faults_of(found, box, units, rules)
        if faults:
            raise InvalidPacking(box.code, faults)
    return found


def _box(carton: Container) -> Box:
    inside = (carton.inner.length_um, carton.inner.width_um, carton.inner.height_um)
    return Box(code=carton.code, inner_um=inside, max_load_mg=carton.max_load_mg)


def _in_carton(carton: Container, request: Request) -> _Packed | RuledOut:
    rules = PackRules(
        gap_um=max(piece.gap_um for piece in request.expansion.pieces), support_percent=request.support_percent
    )
    units, nested, extra = _units(request.expansion.pieces), None, tuple[Use, ...]()
    if request.band.inner is not None:
        inside = _into_inner(request, rules)
        if isinstance(inside, RuledOut):
            return replace(inside, container=carton.code, name=carton.name)
        nested, inner_unit, inner_use = inside
        units, extra = (inner_unit,), (inner_use,)
    found = _checked(_box(carton), units, rules, thorough=request.thorough)
    if isinstance(found, NoPacking):
        return _out(carton, found.reason, no_packing_reason(found, carton.max_load_mg, units), proven=found.proven)
    floor = floor_um(units)
    void = void_of(
        _box(carton).inner_um,
        found,
        floor_um=floor,
        proud_percent=request.band.proud_percent,
        base_fixed=request.band.school == "base_fixed",
    )
    return _Packed(
        placements=found.placements,
        inner=carton.inner,
        nominal=carton.outer,
        floor_um=floor,
        top_um=found.top_um,
        void=void,
        nested=nested,
        extra=extra,
        needs_um=_needs_um(found, units),
    )


def _needs_um(packing: Packing, units: tuple[PackUnit, ...]) -> Micrometres:
    keep = {unit.code: unit.clearance.top_um for unit in units}
    return max(placed.top_um + keep[placed.unit] for placed in packing.placements)


def _into_inner(request: Request, rules: PackRules) -> tuple[InnerPacked, PackUnit, Use] | RuledOut:
    """Pack all units into the inner carton; it then floats in the outer with its clearance (rules, 3)."""
    spec = request.band.inner
    carton = request.cartons.get(spec.container) if spec else None
    if spec is None or carton is None:
        name = spec.container if spec else ""
        return RuledOut(
            container=name,
            name=name,
            code="no_inner",
            reason=f"Inner carton {name} is not in the cupboard.",
            proven=True,
        )
    units = _units(request.expansion.pieces, Cushion(bottom_um=0, side_um=0, top_um=0))
    found = _checked(_box(carton), units, rules, thorough=request.thorough)
    if isinstance(found, NoPacking):
        reason = no_packing_reason(found, carton.max_load_mg, units)
        return _out(carton, found.reason, f"as inner carton: {reason}", proven=found.proven)
    goods_mg = sum(unit.weight_mg * unit.quantity for unit in units)
    side = max(spec.clearance_um, request.band.cushion.side_um)
    unit = PackUnit(
        code=carton.code,
        name=carton.name,
        quantity=1,
        size_um=(carton.outer.length_um, carton.outer.width_um, carton.outer.height_um),
        weight_mg=goods_mg + carton.tare_mg,
        up_axes=(2,),
        clearance=Cushion(
            bottom_um=max(spec.clearance_um, request.band.cushion.bottom_um),
            side_um=side,
            top_um=max(spec.clearance_um, request.band.cushion.top_um),
        ),
        load_on_top_mg=0,
    )
    use = Use(
        supply=carton.code,
        quantity=Decimal(1),
        weight_mg=carton.tare_mg,
        cost=carton.unit_cost,
        role="inner",
        detail=f"floats with {format_length(spec.clearance_um)} all round",
    )
    packed = InnerPacked(
        code=carton.code, name=carton.name, inner=carton.inner, outer=carton.outer, placements=found.placements
    )
    return packed, unit, use


def _in_mailer(mailer: Mailer, request: Request) -> _Packed | RuledOut:
    """Equal goods lie flat in the mailer; a recipe with an inner carton puts that in (a box in a mailer, rules, 3)."""
    pieces = request.expansion.pieces
    gap = max(piece.gap_um for piece in pieces)
    nested, extra = None, tuple[Use, ...]()
    if request.band.inner is not None:
        inside = _into_inner(request, PackRules(gap_um=gap, support_percent=request.support_percent))
        if isinstance(inside, RuledOut):
            return replace(inside, container=mailer.code, name=mailer.name)
        nested, unit, inner_use = inside
        extra = (inner_use,)
    elif len(pieces) != 1:
        return _out(mailer, "mixed", "takes one kind of goods loose; this order has several and no inner carton.")
    else:
        unit = _units(pieces)[0]
    fit = fit_mailer(mailer, unit, gap)
    if isinstance(fit, MailerShort):
        return _out(
            mailer, "unit_too_big", f"is {format_length(fit.short_by_um)} too small laid flat round the contents."
        )
    return _Packed(
        placements=fit.placements,
        inner=fit.block,
        nominal=fit.outer,
        floor_um=0,
        top_um=fit.block.height_um,
        void=None,
        nested=nested,
        extra=extra,
    )


# --- what the parcel uses --------------------------------------------------------------------------------


def _parcel_uses(outer: Outer, packed: _Packed, request: Request, cut_to_um: int | None) -> tuple[Use, ...]:
    uses = [
        Use(
            supply=outer.code,
            quantity=Decimal(1),
            weight_mg=outer.tare_mg,
            cost=outer.unit_cost,
            role="outer",
            detail="the parcel" if cut_to_um is None else f"cut down to {format_length(cut_to_um)} inside",
        )
    ]
    band = request.band
    if packed.void is not None and band.fill:
        fill = request.shelf.fills[band.fill]
        amount = fill_amount(packed.void.filled_l, fill)
        uses.append(
            Use(
                supply=fill.code,
                quantity=amount.loose_l,
                weight_mg=amount.weight_mg,
                cost=amount.loose_l * fill.unit_cost,
                role="fill",
                detail=f"{packed.void.below_l:.1f} l below, {packed.void.round_l:.1f} round, {packed.void.above_l + packed.void.proud_l:.1f} on top",
            )
        )
    if packed.void is not None and band.closure:
        uses.append(_tape_use(packed.nominal, request))
    uses.extend(_insert_uses(request, _levels(packed)))
    uses.extend(_divider_uses(request, _levels(packed)))
    if request.label is not None:
        label = request.shelf.inserts[request.label]
        uses.append(
            Use(
                supply=label.code,
                quantity=Decimal(1),
                weight_mg=label.weight_mg,
                cost=label.unit_cost,
                role="label",
                detail="the shipping label",
            )
        )
    return tuple(uses)


def _tape_use(nominal: Size, request: Request) -> Use:
    closure = request.band.closure
    if closure is None:  # pragma: no cover - callers ask only when there is one
        raise ValueError("no closure")
    tape = request.shelf.tapes[closure.tape]
    metres = Decimal(tape_length_um(nominal, closure)) / 1_000_000
    pattern = {"centre": "centre strip", "h": "H", "cross": "cross"}[closure.pattern]
    return Use(
        supply=tape.code,
        quantity=metres,
        weight_mg=round_half_away(metres * tape.mg_per_m),
        cost=metres * tape.unit_cost,
        role="tape",
        detail=f"{pattern}, {'top and bottom' if closure.both_faces else 'top'}",
    )


def _levels(packed: _Packed) -> int:
    """Return how many layers the units lie in."""
    placements = packed.nested.placements if packed.nested else packed.placements
    return len({placed.at_um[2] for placed in placements})


def _divider_uses(request: Request, levels: int) -> list[Use]:
    """One divider between each two layers; the gap between units is its room (rules, 3)."""
    code = request.band.divider
    if code is None or levels < 2:
        return []
    return [_piece_use(request, code, levels - 1, "divider", "between the layers")]


def _insert_uses(request: Request, levels: int) -> list[Use]:
    """Amount rules of every recipe in the parcel; what two recipes name per parcel goes in once, the larger amount."""
    amounts: dict[str, tuple[int, str]] = {}
    shared: dict[str, int] = {}
    for piece in request.expansion.pieces:
        for rule in piece.band.inserts:
            if not holds(rule.when, request.occasion):
                continue
            count = rule.amount * _times(rule, piece, levels)
            had = amounts.get(rule.insert, (0, rule.place))[0]
            if rule.per in ("parcel", "order", "layer"):
                # Asked for once a parcel by every recipe: the larger amount serves them all.
                before = shared.get(rule.insert, 0)
                shared[rule.insert] = max(before, count)
                count = shared[rule.insert] - before
            amounts[rule.insert] = (had + count, rule.place)
    return [_piece_use(request, code, count, "insert", place) for code, (count, place) in amounts.items() if count]


def _times(rule: InsertAmount, piece: Piece, levels: int) -> int:
    """Return how often an amount counts for one piece of goods (rules, 12)."""
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


def _piece_use(request: Request, code: str, count: int, role: str, detail: str) -> Use:
    insert = request.shelf.inserts[code]
    return Use(
        supply=code,
        quantity=Decimal(count),
        weight_mg=insert.weight_mg * count,
        cost=insert.unit_cost * count,
        role=role,
        detail=detail,
    )


# --- money -----------------------------------------------------------------------------------------------


def _minutes(pieces: tuple[Piece, ...]) -> Decimal:
    """Minutes of hands: each unit's own, and the slowest recipe's minutes for the parcel."""
    units = sum((piece.band.minutes.per_unit * piece.units for piece in pieces), Decimal(0))
    return units + max(piece.band.minutes.per_parcel for piece in pieces)


def _costs(uses: tuple[Use, ...], minutes: Decimal, quote: Quote, request: Request) -> Costs:
    """Expected cost (rules, 5): materials + labour + postage + damage x (goods + postage + materials)."""
    digits = request.money_digits
    materials = round_money(sum((use.cost for use in uses), Decimal(0)), digits)
    labour = round_money(minutes * request.wage_per_hour / 60, digits)
    at_risk = request.goods_cost + quote.price + materials
    loss = round_money(request.damage_probability * at_risk, digits)
    return Costs(
        materials=materials,
        labour=labour,
        postage=quote.price,
        expected_loss=loss,
        total=materials + labour + quote.price + loss,
    )
