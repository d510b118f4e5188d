"""An order's goods in one container: straight in, through an inner carton, or flat in a mailer (parcels).

The geometry of one way to send it, before it is filled, weighed and priced; every packing passes the checker here.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Literal

from core.errors import InvalidPacking
from core.judgements import ORDINARY
from core.messages import Message, Text, say
from core.packing.centred import centred
from core.packing.mailer import MailerShort, fit_mailer
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit, Placement, floor_um
from core.packing.reasons import no_packing_reason
from core.packing.search import find_packing
from core.packing.verify import faults_of
from core.packing.void import VoidShare, void_of
from core.recipes.damage import Arrivals
from core.recipes.expand import Expansion, Piece, Shelf, Use
from core.recipes.model import Band, Cushion, Occasion
from core.supplies.items import Container, Mailer, PackKind
from core.tariffs.choosing import CHEAPEST, Choosing
from core.tariffs.model import Sending, Tariff
from core.units import Micrometres, Size

__all__ = [
    "NOTHING_MORE",
    "ONCE_AN_ORDER",
    "ONCE_A_PARCEL",
    "Carries",
    "InnerPacked",
    "Outer",
    "Packed",
    "Request",
    "RuledOut",
    "Thermal",
    "ThermalPlaces",
    "ThermalWish",
    "into",
    "ruled_out_by",
]

Outer = Container | Mailer

#: Amounts that are not for the goods of one carton: which of them it carries. The first parcel of an order carries all,
#: the others those of a parcel, the second carton of a strapped pair none.
Carries = frozenset[Literal["order", "parcel"]]
ONCE_AN_ORDER: Carries = frozenset({"order", "parcel"})
ONCE_A_PARCEL: Carries = frozenset({"parcel"})
NOTHING_MORE: Carries = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class ThermalWish:
    """A liner and packs that are to go in; codes of inserts, empty for none."""

    liner: str = ""
    pack: str = ""
    count: int = 0

    @property
    def any(self) -> bool:
        """Return whether anything goes in."""
        return bool(self.liner or (self.pack and self.count))


@dataclass(frozen=True, slots=True, kw_only=True)
class ThermalPlaces:
    """How many packs lie where, and what room they take."""

    top: int = 0
    sides: int = 0  #: standing along the two long sides
    lid: int = 0  #: fixed under the lid
    top_um: Micrometres = 0  #: taken off the height, air included
    side_um: Micrometres = 0  #: taken off each side


@dataclass(frozen=True, slots=True, kw_only=True)
class Thermal:
    """The liner and the packs of one parcel."""

    liner: str
    liner_um: Micrometres
    pack: str
    kind: PackKind | None
    count: int
    places: ThermalPlaces
    activate_minutes: int = 0  #: of heat packs: opened so long before


@dataclass(frozen=True, slots=True, kw_only=True)
class Request:
    """What all candidates of one order share."""

    expansion: Expansion
    band: Band  #: speaks for the parcel: that of the heaviest goods, with what the others require
    shelf: Shelf
    cartons: dict[str, Container]  #: every carton of the cupboard, for inner cartons
    label: str | None  #: insert code of the shipping label, one per parcel
    tariffs: tuple[Tariff, ...]
    sending: Sending  #: the container is added to it
    wage_per_hour: Decimal
    division_mg: int  #: of the scale
    support_percent: int
    goods_cost: Decimal  #: of the whole order
    damage_prior: Decimal  #: of the goods likeliest to be damaged, before arrivals are counted
    arrivals: Arrivals | None  #: of parcels with these goods packed alike; None: none is known
    money_digits: int
    occasion: Occasion
    free: Mapping[str, Decimal]  #: per supply, for the choice of a sample
    thorough: bool = True  #: search long where a quick look finds nothing
    days_limit: int | None = None  #: longest the goods may be in transit
    carries: Carries = ONCE_AN_ORDER  #: amounts for the whole that go into this carton
    choosing: Choosing = CHEAPEST
    service: str | None = None  #: the one a person wants
    arrive_by: date | None = None  #: the last day it may arrive, as a person wants
    unprotected_factor: Decimal = Decimal(3)  #: how much likelier damage is where goods are exposed
    strap_minutes: Decimal = ORDINARY.strap_minutes  #: for two cartons strapped together (rules 3.3)
    thermal: ThermalWish | None = None  #: a liner and packs that go in


@dataclass(frozen=True, slots=True, kw_only=True)
class InnerPacked:
    """An inner carton with the units in it; placements are inside the inner carton."""

    code: str
    name: str
    inner: Size
    outer: Size
    placements: tuple[Placement, ...]
    void: VoidShare | None = None  #: inside the inner carton; None: planned before that was filled


@dataclass(frozen=True, slots=True, kw_only=True)
class RuledOut:
    """Why a container is not used."""

    container: str
    name: Text
    code: str
    reason: Text
    proven: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Packed:
    """Where everything is, and what that leaves."""

    placements: tuple[Placement, ...]
    inner: Size
    nominal: Size
    floor_um: Micrometres
    top_um: Micrometres
    void: VoidShare | None
    nested: InnerPacked | None
    extra: tuple[Use, ...]
    needs_um: Micrometres = 0  #: least inside height that keeps every clearance
    needs_along_um: Micrometres = 0  #: and least inside length


def into(outer: Outer, request: Request) -> Packed | RuledOut:
    """Return the goods of the request in the container, or why they do not go in: geometry and load only."""
    return _in_mailer(outer, request) if isinstance(outer, Mailer) else _in_carton(outer, request)


def ruled_out_by(outer: Outer, code: str, reason: Message, *, proven: bool = True) -> RuledOut:
    """Return a refusal of this container."""
    return RuledOut(container=outer.code, name=outer.name, code=code, reason=reason, proven=proven)


def _units(pieces: tuple[Piece, ...], clearance: Cushion) -> tuple[PackUnit, ...]:
    return tuple(
        PackUnit(
            code=piece.code,
            name=piece.called,
            quantity=piece.quantity,
            size_um=(piece.size.length_um, piece.size.width_um, piece.size.height_um),
            weight_mg=piece.weight_mg,
            up_axes=piece.up_axes,
            clearance=clearance,
            load_on_top_mg=piece.load_on_top_mg,
        )
        for piece in pieces
    )


def _checked(box: Box, units: tuple[PackUnit, ...], rules: PackRules, *, thorough: bool) -> Packing | NoPacking:
    found = find_packing(box, units, rules, thorough=thorough)
    if isinstance(found, Packing):
        found = centred(box, found, units)
        faults = faults_of(found, box, units, rules)
        if faults:
            raise InvalidPacking(box.code, faults)
    return found


def _box(carton: Container) -> Box:
    inside = (carton.inner.length_um, carton.inner.width_um, carton.inner.height_um)
    return Box(code=carton.code, inner_um=inside, max_load_mg=carton.max_load_mg)


def _in_carton(carton: Container, request: Request) -> Packed | RuledOut:
    rules = PackRules(
        gap_um=max(piece.gap_um for piece in request.expansion.pieces), support_percent=request.support_percent
    )
    # One parcel has one cushion per face and all goods keep it (rules 4.2).
    units, nested, extra = _units(request.expansion.pieces, request.band.cushion), None, tuple[Use, ...]()
    if request.band.inner is not None:
        inside = _into_inner(request, rules)
        if isinstance(inside, RuledOut):
            return replace(inside, container=carton.code, name=carton.name)
        nested, inner_unit, inner_use = inside
        units, extra = (inner_unit,), (inner_use,)
    found = _checked(_box(carton), units, rules, thorough=request.thorough)
    if isinstance(found, NoPacking):
        reason = no_packing_reason(found, carton.code, carton.max_load_mg, units)
        return ruled_out_by(carton, found.reason, reason, proven=found.proven)
    floor = floor_um(units)
    void = void_of(
        _box(carton).inner_um,
        found,
        floor_um=floor,
        proud_percent=request.band.proud_percent,
        base_fixed=request.band.school == "base_fixed",
    )
    return Packed(
        placements=found.placements,
        inner=carton.inner,
        nominal=carton.outer,
        floor_um=floor,
        top_um=found.top_um,
        void=void,
        nested=nested,
        extra=extra,
        needs_um=_needs_um(found, units),
        needs_along_um=_needs_along_um(found, units),
    )


def _needs_um(packing: Packing, units: tuple[PackUnit, ...]) -> Micrometres:
    keep = {unit.code: unit.clearance.top_um for unit in units}
    return max(placed.top_um + keep[placed.unit] for placed in packing.placements)


def _needs_along_um(packing: Packing, units: tuple[PackUnit, ...]) -> Micrometres:
    keep = {unit.code: unit.clearance.side_um for unit in units}
    near = min(placed.at_um[0] - keep[placed.unit] for placed in packing.placements)
    return max(placed.at_um[0] + placed.size_um[0] + keep[placed.unit] for placed in packing.placements) - near


def _into_inner(request: Request, rules: PackRules) -> tuple[InnerPacked, PackUnit, Use] | RuledOut:
    """Pack all units into the inner carton; it then floats in the outer with its clearance (rules 3.2)."""
    spec = request.band.inner
    carton = request.cartons.get(spec.container) if spec else None
    if spec is None or carton is None:
        name = spec.container if spec else ""
        return RuledOut(
            container=name,
            name=name,
            code="no_inner",
            reason=say("no_inner", inner=name),
            proven=True,
        )
    units = _units(request.expansion.pieces, Cushion(bottom_um=0, side_um=0, top_um=0))
    found = _checked(_box(carton), units, rules, thorough=request.thorough)
    if isinstance(found, NoPacking):
        reason = no_packing_reason(found, carton.code, carton.max_load_mg, units)
        return ruled_out_by(carton, found.reason, say("as_inner", reason=reason), proven=found.proven)
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
        detail=say("floats", clearance_um=spec.clearance_um),
    )
    # Filled level: what stands proud would push its flaps into the cushion above.
    base_fixed = request.band.school == "base_fixed"
    packed = InnerPacked(
        code=carton.code,
        name=carton.name,
        inner=carton.inner,
        outer=carton.outer,
        placements=found.placements,
        void=void_of(_box(carton).inner_um, found, floor_um=0, proud_percent=0, base_fixed=base_fixed),
    )
    return packed, unit, use


def _in_mailer(mailer: Mailer, request: Request) -> Packed | RuledOut:
    """Equal goods lie flat in the mailer; a recipe with an inner carton puts that in (a box in a mailer, rules 3.1)."""
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
        return ruled_out_by(mailer, "mixed", say("mailer_mixed", container=mailer.code))
    else:
        unit = _units(pieces, request.band.cushion)[0]
    fit = fit_mailer(mailer, unit, gap)
    if isinstance(fit, MailerShort):
        reason = say("mailer_too_small", container=mailer.code, short_um=fit.short_by_um)
        return ruled_out_by(mailer, "unit_too_big", reason)
    return Packed(
        placements=fit.placements,
        inner=fit.block,
        nominal=fit.outer,
        floor_um=0,
        top_um=fit.block.height_um,
        void=None,
        nested=nested,
        extra=extra,
    )
