"""One way to send an order: this container, packed, filled, closed, weighed, quoted and costed.

``build`` either gives a Candidate, every figure of which can show its sum, or a RuledOut that says which limit
and by how much. Pure: prices, stock and settings come in as values.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.errors import LimitName
from core.messages import Message, Text, say
from core.packing.model import Placement
from core.packing.void import VoidShare
from core.parcels.alteration import Alteration
from core.parcels.closing import Closing, closing_of
from core.parcels.outer_size import bulge_allowance, bulged
from core.parcels.packed import (
    Carries,
    InnerPacked,
    Outer,
    Packed,
    Request,
    RuledOut,
    Thermal,
    ThermalWish,
    into,
    ruled_out_by,
)
from core.parcels.protection import Exposure, damage_with, exposures_of
from core.parcels.required import broken_by
from core.parcels.strength import Stacking, stacking
from core.parcels.thermal import thermal_minutes, thermal_uses, with_thermal, without_packs
from core.parcels.uses import left_out, parcel_uses
from core.parcels.weight import ParcelWeight, parcel_weight
from core.recipes.damage import Arrivals, counted_chance
from core.recipes.expand import Piece, Use
from core.supplies.items import Mailer
from core.tariffs.choosing import allowed_only, choose_quote
from core.tariffs.model import Sending, Tariff
from core.tariffs.price_step import StepPosition, step_position
from core.tariffs.quote import Quote, Refusal, quote_all, reasons_of, service_of
from core.tariffs.sides import SideRuler, side_rulers
from core.units import Micrometres, Size, round_money

__all__ = [
    "RULE_LIMITS",
    "Candidate",
    "Costs",
    "PlannedParcel",
    "Strapped",
    "build",
    "costs_of",
    "in_time",
    "with_sides",
]

#: Limits that the goods, the order or the workshop's rules set to a service; the others are the carrier's own.
RULE_LIMITS: tuple[LimitName, ...] = ("days in transit", "arrive by", "choosing")


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
    name: Text
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
    arrivals: Arrivals | None = None  #: the chance was counted from them; None: it is an estimate
    key: str = ""  #: names this way among the others: the container, and the height it is cut to
    change: Alteration | None = None  #: what is done to the container first
    stacking: Stacking | None = None  #: None: nothing is known of the board
    sides: tuple[SideRuler, ...] = ()  #: where the price changes along each side; empty until asked for
    left_out: tuple[str, ...] = ()  #: inserts that need not go in and of which there are too few
    sending: Sending | None = None  #: what the carriers were asked; None: planned before that was kept
    exposures: tuple[Exposure, ...] = ()  #: how goods are less protected than they should be
    #: two cartons on one label: outer size, weight, uses and costs are of both, the packing is the first one's
    strapped: "Strapped | None" = None
    closing: Closing | None = None  #: what holds it shut; None: planned before that was kept
    thermal: Thermal | None = None  #: liner and packs in it

    @property
    def wish(self) -> ThermalWish | None:
        """Return the liner and packs in it as they are asked for."""
        one = self.thermal
        return ThermalWish(liner=one.liner, pack=one.pack, count=one.count) if one is not None else None

    def as_sent(self) -> "Candidate":
        """Return the parcel with the quote it was sent by and no other; refusals by rule stay."""
        ruled = tuple(one for one in self.refusals if one.limit_name in RULE_LIMITS)
        strapped = self.strapped
        if strapped is not None:
            first, second = (replace(one, candidate=one.candidate.as_sent()) for one in strapped.cartons)
            strapped = replace(strapped, cartons=(first, second))
        return replace(self, quotes=(self.quote,), refusals=ruled, sides=(), strapped=strapped)


@dataclass(frozen=True, slots=True, kw_only=True)
class Strapped:
    """Two cartons as one parcel; each one's own packing counts, its quote and costs do not."""

    cartons: "tuple[PlannedParcel, PlannedParcel]"
    words: Text  #: how the two lie: "end to end"
    placements: tuple[Placement, Placement]  #: both cartons in the box that bounds them, nominal outside


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedParcel:
    """One parcel of an order: which goods, and how they are packed and sent."""

    goods: tuple[tuple[str, int], ...]  #: sku, units
    pieces: tuple[Piece, ...]
    candidate: Candidate
    cautions: tuple[Text, ...] = ()  #: what to mind with these goods
    marks: tuple[str, ...] = ()  #: what must stand on it because of what it is: "Heavy"

    @property
    def cartons(self) -> "tuple[PlannedParcel, ...]":
        """Return the cartons of the parcel, each with its own goods and packing: one, or two strapped together."""
        return self.candidate.strapped.cartons if self.candidate.strapped else (self,)


def build(outer: Outer, request: Request, *, in_recipe: bool, change: Alteration | None = None) -> Candidate | RuledOut:
    """Return the order packed in this container and costed, or why it cannot be.

    With ``change`` the container is one that was made out of another: its labour counts.
    """
    thermal: Thermal | None = None
    if request.thermal is None:
        packed = into(outer, request)
    else:
        made = _with_packs(outer, request)
        if isinstance(made, RuledOut):
            return made
        outer, request, thermal, packed = made
    if isinstance(packed, RuledOut):
        return packed
    if thermal is not None:
        packed = without_packs(packed, thermal, request.shelf.inserts.get(thermal.pack))
    closing = closing_of(outer, packed, request)
    broken = broken_by(outer, packed, request, closing.grade)
    if broken is not None:
        return ruled_out_by(outer, *broken)
    uses = (*request.expansion.uses, *packed.extra, *parcel_uses(outer, packed, request, change))
    if thermal is not None:
        uses = (*uses, *thermal_uses(thermal, request.shelf))
    weight = parcel_weight(request.expansion.pieces, uses, division_mg=request.division_mg)
    too_heavy = _overloaded(outer, packed, uses, weight, request)
    if too_heavy is not None:
        return ruled_out_by(outer, "too_heavy", too_heavy)
    fills = [request.shelf.fills[use.supply] for use in uses if use.role == "fill"]
    measured = bulged(packed.nominal, bulge_allowance(max(fills, key=lambda fill: fill.bulge_um, default=None)))
    sending = replace(
        request.sending, packaging=(outer.code,), rigid=not isinstance(outer, Mailer) or packed.nested is not None
    )
    quotes, refusals = quote_all(
        request.tariffs,
        outer=measured,
        gross_mg=weight.gross_mg,
        sending=sending,
    )
    quotes, late = in_time(quotes, request)
    quotes, unused = allowed_only(quotes, request.choosing, request.service)
    refusals = (*refusals, *late, *unused)
    quote = choose_quote(quotes, request.choosing, ship_on=sending.ship_on, forced=request.service)
    if quote is None:
        if request.service is not None:
            refusals = tuple(one for one in refusals if one.service == request.service) or refusals
        told = reasons_of(refusals)
        words = say("no_service", refusals=told) if told else say("no_current_list")
        return RuledOut(container=outer.code, name=outer.name, code="no_service", reason=words, proven=True)
    minutes = _minutes(request.expansion.pieces, request.carries) + (change.minutes if change else 0)
    if thermal is not None:
        minutes += thermal_minutes(thermal, request.shelf)
    exposures = exposures_of(outer, packed, request, in_recipe=in_recipe)
    # What arrived was exposed already: only the prior is raised.
    prior = damage_with(request.damage_prior, exposures, request.unprotected_factor)
    damage = counted_chance(prior, request.arrivals)
    costs = costs_of(uses, minutes, quote, request, damage)
    return Candidate(
        container=outer.code,
        key=f"{outer.code}/{change.key}" if change else outer.code,
        name=say("changed_name", name=outer.name, change=change.words) if change else outer.name,
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
        quote=quote,
        quotes=quotes,
        refusals=refusals,
        step=step_position(quote, sigma_mg=weight.sigma_mg),
        costs=costs,
        damage_probability=damage,
        arrivals=request.arrivals,
        exposures=exposures,
        change=change,
        stacking=_stacking(outer, packed.nominal, weight.gross_mg),
        left_out=left_out(packed, request),
        sending=sending,
        closing=closing,
        thermal=thermal,
    )


def _with_packs(outer: Outer, request: Request) -> tuple[Outer, Request, Thermal, Packed] | RuledOut:
    """Pack the goods beside a liner and packs: packs on top where there is the height for them, else at the sides."""
    on_top = _with_packs_at(outer, request, sides_first=False)
    if not isinstance(on_top, RuledOut):
        return on_top
    at_sides = _with_packs_at(outer, request, sides_first=True)
    return on_top if isinstance(at_sides, RuledOut) else at_sides


def _with_packs_at(
    outer: Outer, request: Request, *, sides_first: bool
) -> tuple[Outer, Request, Thermal, Packed] | RuledOut:
    made = with_thermal(outer, request, sides_first=sides_first)
    if isinstance(made, Message):
        return ruled_out_by(outer, "thermal", made)
    inside, wanted, thermal = made
    packed = into(inside, wanted)
    return packed if isinstance(packed, RuledOut) else (inside, wanted, thermal, packed)


def _overloaded(
    outer: Outer, packed: Packed, uses: tuple[Use, ...], weight: ParcelWeight, request: Request
) -> Message | None:
    """Say which carton, the outer or one inside it, holds more than it takes with its fill; None: none does."""
    load_mg = weight.gross_mg - outer.tare_mg
    if load_mg > outer.max_load_mg:
        return say("overloaded", container=outer.code, takes_mg=outer.max_load_mg, holds_mg=load_mg)
    if packed.nested is None:
        return None
    inner = request.cartons[packed.nested.code]
    goods_mg = sum(piece.weight_mg * piece.quantity for piece in request.expansion.pieces)
    inside_mg = goods_mg + sum(use.weight_mg for use in uses if use.role == "inner fill")
    if inside_mg <= inner.max_load_mg:
        return None
    return say(
        "inner_overloaded", container=outer.code, inner=inner.code, takes_mg=inner.max_load_mg, holds_mg=inside_mg
    )


def in_time(quotes: tuple[Quote, ...], request: Request) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Part the quotes by whether the goods may be on the way so long, weekends counted, and come by the day wanted."""
    late = tuple(
        refused for quote in quotes if (refused := _too_long(quote, request) or _too_late(quote, request)) is not None
    )
    refused_services = {(refusal.carrier, refusal.service) for refusal in late}
    return tuple(quote for quote in quotes if (quote.carrier, quote.service) not in refused_services), late


def _too_long(quote: Quote, request: Request) -> Refusal | None:
    """The goods' own limit of days (rules 15.1)."""
    days, limit = (quote.arrives_on - request.sending.ship_on).days, request.days_limit
    if limit is None or days <= limit:
        return None
    return _refused(quote, "days in transit", say("too_long", service=quote.service_name, days=days, limit=limit))


def _too_late(quote: Quote, request: Request) -> Refusal | None:
    """The last day a person allows."""
    if request.arrive_by is None or quote.arrives_on <= request.arrive_by:
        return None
    message = say("too_late", service=quote.service_name, arrives_on=quote.arrives_on, by_on=request.arrive_by)
    return _refused(quote, "arrive by", message)


def _refused(quote: Quote, limit_name: LimitName, message: Message) -> Refusal:
    return Refusal(
        carrier=quote.carrier,
        carrier_name=quote.carrier_name,
        service=quote.service,
        service_name=quote.service_name,
        limit_name=limit_name,
        message=message,
    )


def with_sides(candidate: Candidate, tariffs: tuple[Tariff, ...], sending: Sending) -> Candidate:
    """Return the candidate with its side rulers worked out, some hundred quotes: for the ways a person looks at."""
    found = service_of(tariffs, candidate.quote, sending.ship_on)
    if found is None:
        return candidate
    tariff, service = found
    sides = side_rulers(
        tariff,
        service,
        outer=candidate.outer_bulged,
        gross_mg=candidate.weight.gross_mg,
        sending=sending,
    )
    return replace(candidate, sides=sides)


def _stacking(outer: Outer, nominal: Size, gross_mg: int) -> Stacking | None:
    if isinstance(outer, Mailer) or outer.strength is None:
        return None
    return stacking(outer.strength, nominal, gross_mg)


# --- money -----------------------------------------------------------------------------------------------


def _minutes(pieces: tuple[Piece, ...], carries: Carries) -> Decimal:
    """Minutes of hands: each unit's own, the slowest recipe's for the parcel, and once those for the order."""
    units = sum((piece.band.minutes.per_unit * piece.units for piece in pieces), Decimal(0))
    once = max(piece.band.minutes.per_order for piece in pieces) if "order" in carries else Decimal(0)
    return units + max(piece.band.minutes.per_parcel for piece in pieces) + once


def costs_of(
    uses: tuple[Use, ...], minutes: Decimal, quote: Quote, request: Request, damage_probability: Decimal
) -> Costs:
    """Return the expected cost (rules 5.2): materials + labour + postage + damage x (goods + postage + materials)."""
    digits = request.money_digits
    materials = round_money(sum((use.cost for use in uses), Decimal(0)), digits)
    labour = round_money(minutes * request.wage_per_hour / 60, digits)
    at_risk = request.goods_cost + quote.price + materials
    loss = round_money(damage_probability * at_risk, digits)
    return Costs(
        materials=materials,
        labour=labour,
        postage=quote.price,
        expected_loss=loss,
        total=materials + labour + quote.price + loss,
    )
