"""Two outer cartons strapped into one parcel: one label, one postage, the size of their bounding box (rules 3.3)."""

from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import product

from core.messages import Message, say
from core.packing.model import Placement, Triple
from core.parcels.candidate import Candidate, PlannedParcel, Strapped, costs_of, in_time
from core.parcels.closing import both_closings
from core.parcels.packed import Request
from core.parcels.weight import parcel_weight
from core.recipes.expand import Use
from core.tariffs.choosing import allowed_only, choose_quote
from core.tariffs.price_step import step_position
from core.tariffs.quote import Quote, Refusal, quote_all
from core.units import Size, round_half_away

__all__ = ["BANDS", "BAND_OVERLAP_UM", "Lying", "lyings", "strap"]

#: Bands of tape round both cartons, how far each laps over itself, and the minutes it takes: judgements.
BANDS = 2
BAND_OVERLAP_UM = 100_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Lying:
    """How two upright cartons lie together: where the second is, how it is turned, and the box that bounds both, um."""

    words: Message
    second_at_um: Triple
    second_um: Triple
    box: Size


def lyings(one: Size, other: Size) -> tuple[Lying, ...]:
    """Return how two upright cartons may lie together; the first at the corner, as it is."""
    found = []
    for turned, axis in product((False, True), range(3)):
        length, width = (other.width_um, other.length_um) if turned else (other.length_um, other.width_um)
        a, b = (one.length_um, one.width_um, one.height_um), (length, width, other.height_um)
        sides = [a[n] + b[n] if n == axis else max(a[n], b[n]) for n in range(3)]
        found.append(
            Lying(
                words=say(("end_to_end", "side_by_side", "one_on_the_other")[axis]),
                second_at_um=(a[0] if axis == 0 else 0, a[1] if axis == 1 else 0, a[2] if axis == 2 else 0),
                second_um=b,
                box=Size(length_um=sides[0], width_um=sides[1], height_um=sides[2]),
            )
        )
    return tuple(found)


def strap(first: PlannedParcel, second: PlannedParcel, request: Request) -> PlannedParcel | None:
    """Return the two as one parcel, lying as the cheapest service asks least; None when no service or no tape does it.

    ``request`` is the first parcel's, its goods at risk those of both. The second carton carries no label of its own.
    """
    if first.candidate.kind != "carton" or second.candidate.kind != "carton" or request.band.closure is None:
        return None
    tape = request.shelf.tapes[request.band.closure.tape]
    own, other = first.candidate, second.candidate
    pieces = (*first.pieces, *second.pieces)
    best: tuple[Candidate, tuple[Decimal, int]] | None = None
    sending = replace(request.sending, packaging=(own.container, other.container), rigid=True)
    measured = lyings(own.outer_bulged, other.outer_bulged)
    for bulged, plain in zip(measured, lyings(own.outer, other.outer), strict=True):
        outer = plain.box
        metres = Decimal(_band_um(outer)) * BANDS / 1_000_000
        band = Use(
            supply=tape.code,
            quantity=metres,
            weight_mg=round_half_away(metres * tape.mg_per_m),
            cost=metres * tape.unit_cost,
            role="strap",
            detail=say("bands_round_both", bands=BANDS, lying=plain.words),
        )
        uses = (*own.uses, *other.uses, band)
        weight = parcel_weight(pieces, uses, division_mg=request.division_mg)
        quotes, refusals = quote_all(
            request.tariffs,
            outer=bulged.box,
            gross_mg=weight.gross_mg,
            sending=sending,
        )
        quotes, late = in_time(quotes, request)
        quotes, out = allowed_only(quotes, request.choosing, request.service)
        refusals = (*refusals, *late, *out)
        if choose_quote(quotes, request.choosing, ship_on=sending.ship_on, forced=request.service) is None:
            continue
        worse = max(own, other, key=lambda one: one.damage_probability)
        one = replace(
            own,
            key=f"{own.key}&{other.key}",
            name=say("two_strapped", one=own.name, other=other.name),
            in_recipe=own.in_recipe and other.in_recipe,
            outer=outer,
            outer_bulged=bulged.box,
            uses=uses,
            weight=weight,
            minutes=own.minutes + other.minutes + request.strap_minutes,
            stacking=None,
            sides=(),
            strapped=Strapped(
                cartons=(first, second),
                words=plain.words,
                placements=(
                    _placed(own, (0, 0, 0), _sides(own.outer)),
                    _placed(other, plain.second_at_um, plain.second_um),
                ),
            ),
            damage_probability=worse.damage_probability,
            arrivals=worse.arrivals,
            sending=sending,
            closing=both_closings(own.closing, other.closing),
        )
        one = _priced(one, quotes, refusals, request)
        rank = (one.costs.total, outer.volume_um3)
        if best is None or rank < best[1]:
            best = (one, rank)
    if best is None:
        return None
    return PlannedParcel(
        goods=_together(first.goods, second.goods),
        pieces=pieces,
        candidate=best[0],
        cautions=tuple(dict.fromkeys((*first.cautions, *second.cautions))),
    )


def _placed(candidate: Candidate, at_um: Triple, size_um: Triple) -> Placement:
    return Placement(unit=candidate.container, at_um=at_um, size_um=size_um)


def _sides(size: Size) -> Triple:
    return size.length_um, size.width_um, size.height_um


def _priced(one: Candidate, quotes: tuple[Quote, ...], refusals: tuple[Refusal, ...], request: Request) -> Candidate:
    quote = choose_quote(quotes, request.choosing, ship_on=request.sending.ship_on, forced=request.service) or quotes[0]
    return replace(
        one,
        quote=quote,
        quotes=quotes,
        refusals=refusals,
        step=step_position(quote, sigma_mg=one.weight.sigma_mg),
        costs=costs_of(one.uses, one.minutes, quote, request, one.damage_probability),
    )


def _band_um(box: Size) -> int:
    _, second, shortest = box.sorted_um
    return 2 * (second + shortest) + BAND_OVERLAP_UM


def _together(one: tuple[tuple[str, int], ...], other: tuple[tuple[str, int], ...]) -> tuple[tuple[str, int], ...]:
    units: dict[str, int] = {}
    for sku, count in (*one, *other):
        units[sku] = units.get(sku, 0) + count
    return tuple(units.items())
