"""An order in several parcels: divided as far as it must be, or as a person wants, each part planned on its own (parcels).

Each parcel is packed as an order of its own size: its recipe's band is that of the parcel. What goes in once an order
goes into the first. Two cartons may also be strapped and go as one parcel, unless their goods may not share one.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.parcels.candidate import PlannedParcel
from core.parcels.divide import Share, Shareout, cheaper_shares, divided, kinds_of
from core.parcels.facts import Aim, Facts, Shares
from core.parcels.packed import Outer, Request
from core.parcels.single import Tried, choose, in_recipe, try_all
from core.parcels.strap import strap
from core.parcels.way import Way
from core.recipes.expand import Missing, OrderLine, Piece, expand, merged
from core.recipes.model import band_for
from core.supplies.items import Container
from core.tariffs.quote import quote_all
from core.units import Size

__all__ = ["Divided", "Reason", "several_ways"]

#: Why an order is divided: goods that may not share, no container or band for all, it costs less, a person said so.
Reason = Literal["", "apart", "too_much", "cheaper", "asked", "by_hand"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Divided:
    """The ways in several parcels, and why they were looked for."""

    ways: tuple[Way, ...] = ()
    reason: Reason = ""
    fault: Missing | None = None  #: a person's division that no longer holds


def several_ways(
    lines: tuple[OrderLine, ...], facts: Facts, aim: Aim, whole: Tried, own: Way | None, key: str | None
) -> Divided:
    """Return the order in several parcels, when it must be, may cost less, or a person wants it so."""
    overrides = aim.overrides
    out = _shareout(lines, facts, aim)
    if overrides.shares:
        fault = _not_all(lines, overrides.shares)
        shares = [_lines_of(lines, share) for share in overrides.shares]
        ways = () if fault else _assembled(shares, facts, aim, key, strapped=True)
        return Divided(ways=ways, reason="by_hand", fault=fault)
    wanted = overrides.parcels or (key.count("+") + 1 if key and "+" in key else None)
    found, reason = _looked_for(out, whole, own, key, wanted)
    if found is None:
        return Divided(reason=reason)
    may_strap = len(found) == 2 and not any(m.code == "must_be_apart" for m in whole.expansion.missing)
    ways = _assembled([out.lines(share) for share in found], facts, aim, key, strapped=may_strap)
    if overrides.parcels is not None:
        ways = tuple(way for way in ways if len(way.parcels) == overrides.parcels)
    return Divided(ways=ways, reason=reason)


def _looked_for(
    out: Shareout, whole: Tried, own: Way | None, key: str | None, wanted: int | None
) -> tuple[list[Share] | None, Reason]:
    if wanted is not None and wanted > 1:
        return divided(out, wanted), "asked"
    if key is not None and "&" in key:
        return divided(out, 2), "too_much"
    if own is not None:
        return (None, "") if wanted == 1 else (cheaper_shares(out, out.whole, own.costs.total), "cheaper")
    if not _may_divide(whole):
        return None, ""
    # One parcel asked for and no carton takes it all: two strapped together may.
    return divided(out, 2 if wanted == 1 else None), _needed(whole)


def _may_divide(whole: Tried) -> bool:
    """A carton at nought, or one a person ruled out, is no reason to send two parcels: it would do."""
    named = in_recipe(whole.expansion)
    return not any(
        out.code in ("no_stock", "forbidden") and (not named or out.container in named) for out in whole.ruled_out
    )


def _needed(whole: Tried) -> Reason:
    return "apart" if any(m.code == "must_be_apart" for m in whole.expansion.missing) else "too_much"


# --- what a share costs ----------------------------------------------------------------------------------


def _shareout(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Shareout:
    def cost(part: tuple[OrderLine, ...]) -> Decimal | None:
        best = choose(try_all(part, facts, aim, forced=None, first=False, thorough=False), None)
        return best.costs.total if best is not None else None

    def floor(part: tuple[OrderLine, ...]) -> Decimal | None:
        return _floor(part, facts, aim)

    def close_floor(part: tuple[OrderLine, ...]) -> Decimal | None:
        return _close_floor(part, facts, aim)

    return Shareout(kinds_of(lines), cost, floor, close_floor)


def _floor(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Decimal | None:
    """What a parcel of these goods costs at the least: bare goods in no box at all, carried and handled."""
    net_mg, minutes, largest = 0, Decimal(0), Size(length_um=1, width_um=1, height_um=1)
    per_parcel = Decimal(0)
    for line in merged(lines):
        product, recipe = line.product, line.recipe
        if product is None or recipe is None or product.size is None or product.weight_mg is None:
            return None
        net_mg += product.weight_mg * line.quantity
        if product.size.volume_um3 > largest.volume_um3:
            largest = product.size
        band = band_for(recipe, line.quantity)
        if band is not None:
            minutes += band.minutes.per_unit * line.quantity
            per_parcel = max(per_parcel, band.minutes.per_parcel)
    quotes, _ = quote_all(
        facts.tariffs, outer=largest, gross_mg=net_mg, destination=aim.destination, ship_on=aim.ship_on
    )
    if not quotes:
        return None
    return quotes[0].price + (minutes + per_parcel) * facts.settings.wage_per_hour / 60


def _close_floor(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Decimal | None:
    """As ``_floor``, with the wraps, in the container that comes cheapest of those large and strong enough, unfilled."""
    expansion = expand(lines, facts.shelf)
    if expansion.missing:
        return None
    pieces, uses = expansion.pieces, expansion.uses
    volume = sum(piece.size.volume_um3 * piece.quantity for piece in pieces)
    content_mg = sum(piece.weight_mg * piece.quantity for piece in pieces)
    carried = []
    for outer in facts.containers:
        if outer.max_load_mg < content_mg or (isinstance(outer, Container) and outer.inner.volume_um3 < volume):
            continue
        size = _least_outside(outer, pieces)
        quotes, _ = quote_all(
            facts.tariffs,
            outer=size,
            gross_mg=content_mg + outer.tare_mg,
            destination=aim.destination,
            ship_on=aim.ship_on,
        )
        if quotes:
            carried.append(quotes[0].price + outer.unit_cost * min(outer.pieces, Decimal("0.5")))
    if not carried:
        return None
    minutes = sum((piece.band.minutes.per_unit * piece.units for piece in pieces), Decimal(0))
    minutes += max(piece.band.minutes.per_parcel for piece in pieces)
    wraps = sum((use.cost for use in uses), Decimal(0))
    return min(carried) + wraps + minutes * facts.settings.wage_per_hour / 60


def _least_outside(outer: Outer, pieces: tuple[Piece, ...]) -> Size:
    """The outside a container can have at the least with these goods: cut down as low as it goes; a mailer, the goods."""
    if not isinstance(outer, Container):
        return max((piece.size for piece in pieces), key=lambda size: size.volume_um3)
    if outer.cut is None:
        return outer.outer
    lowest = max(outer.cut.lowest_um, min(min(piece.size.sorted_um) for piece in pieces))
    return replace(outer.outer, height_um=outer.outer.height_um - max(0, outer.inner.height_um - lowest))


# --- parcels of a division -------------------------------------------------------------------------------


def _assembled(
    shares: list[tuple[OrderLine, ...]], facts: Facts, aim: Aim, key: str | None, *, strapped: bool
) -> tuple[Way, ...]:
    """Plan every share as a parcel, in turn: what one takes from the shelf the next does not find there."""
    keys = key.split("+") if key and key.count("+") == len(shares) - 1 and len(shares) > 1 else None
    free = dict(facts.free)
    parcels: list[PlannedParcel] = []
    requests: list[Request] = []
    for number, lines in enumerate(shares):
        forced = keys[number] if keys else None
        tried = try_all(lines, facts, aim, forced=forced, first=number == 0)
        one = choose(tried, forced, free)
        if one is None or tried.request is None:
            return ()
        goods = tuple((line.sku, line.quantity) for line in merged(lines))
        parcels.append(PlannedParcel(goods=goods, pieces=tried.expansion.pieces, candidate=one))
        requests.append(tried.request)
        for use in one.uses:
            free[use.supply] = free.get(use.supply, Decimal(0)) - use.quantity
    ways = [Way(parcels=tuple(parcels))]
    if strapped and len(parcels) == 2:
        both = replace(requests[0], goods_cost=sum((r.goods_cost for r in requests), Decimal(0)))
        together = strap(parcels[0], parcels[1], both)
        ways += [Way(parcels=(together,))] if together is not None else []
    return tuple(ways)


def _lines_of(lines: tuple[OrderLine, ...], goods: tuple[tuple[str, int], ...]) -> tuple[OrderLine, ...]:
    by_sku = {line.sku: line for line in merged(lines)}
    return tuple(replace(by_sku[sku], quantity=count) for sku, count in goods if sku in by_sku and count)


def _not_all(lines: tuple[OrderLine, ...], shares: Shares) -> Missing | None:
    """A person's division must hold every unit of the order once; the order may have changed since."""
    units: dict[str, int] = {}
    for share in shares:
        for sku, count in share:
            units[sku] = units.get(sku, 0) + count
    ordered = {line.sku: line.quantity for line in merged(lines)}
    if {sku: n for sku, n in units.items() if n} == ordered and all(any(n for _, n in share) for share in shares):
        return None
    text = "The parcels a person set for this order do not hold exactly its goods. Set them anew, or take that back."
    return Missing(code="shares_do_not_match", subject="", message=text)
