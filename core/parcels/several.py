"""An order in several parcels: divided as far as it must be, or as a person wants, each part planned on its own (parcels).

Each parcel is packed as an order of its own size: its recipe's band is that of the parcel. What goes in once an order
goes into the first. Two cartons may also be strapped and go as one parcel, unless their goods may not share one.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal, NamedTuple

from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.divide import Share, Shareout, cheaper_shares, divided, kinds_of
from core.parcels.facts import Aim, Facts, Shares
from core.parcels.packed import NOTHING_MORE, ONCE_A_PARCEL, ONCE_AN_ORDER, Outer, Request
from core.parcels.single import Tried, choose, in_recipe, try_all
from core.parcels.strap import strap
from core.parcels.way import Way
from core.recipes.expand import Missing, OrderLine, Piece, expand, merged
from core.recipes.model import band_for
from core.supplies.items import Container
from core.tariffs.model import Sending
from core.tariffs.quote import least_price
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
    divisions, reason = _looked_for(out, whole, own, key, overrides.parcels)
    may_strap = not any(m.code == "must_be_apart" for m in whole.expansion.missing)
    found = {
        way.key: way
        for shares in divisions
        for way in _assembled(
            [out.lines(share) for share in shares], facts, aim, key, strapped=may_strap and len(shares) == 2
        )
        if overrides.parcels in (None, len(way.parcels))
    }
    return Divided(ways=tuple(found.values()), reason=reason)


def _looked_for(
    out: Shareout, whole: Tried, own: Way | None, key: str | None, wanted: int | None
) -> tuple[list[list[Share]], Reason]:
    """Return the divisions to look at. A chosen way is looked for among all that may have been offered."""
    cheaper = cheaper_shares(out, out.whole, own.costs.total) if own is not None and wanted is None else None
    reason: Reason
    if wanted is not None and wanted > 1:
        found, reason = [divided(out, wanted)], "asked"
    elif key is not None:
        found, reason = [cheaper, divided(out, key.count("+") + 1 if "+" in key else 2), divided(out, None)], "asked"
    elif own is not None:
        found, reason = [cheaper], "cheaper"
    elif _may_divide(whole):
        # One parcel asked for and no carton takes it all: two strapped together may.
        found, reason = [divided(out, 2 if wanted == 1 else None)], _needed(whole)
    else:
        found, reason = [], ""
    return [shares for shares in found if shares is not None], reason


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
        best = choose(try_all(part, facts, aim, forced=None, carries=ONCE_A_PARCEL, thorough=False, shown=False), None)
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
    # Without packaging, goods and rigidity: no surcharge that may not be due.
    barely = Sending(destination=aim.destination, ship_on=aim.ship_on, origin=facts.settings.origin, rigid=False)
    postage = least_price(facts.tariffs, outer=largest, gross_mg=net_mg, sending=barely)
    if postage is None:
        return None
    return postage + (minutes + per_parcel) * facts.settings.wage_per_hour / 60


def _close_floor(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Decimal | None:
    """As ``_floor``, with the wraps, in the container that comes cheapest of those large and strong enough, unfilled."""
    expansion = expand(lines, facts.shelf)
    if expansion.missing:
        return None
    pieces, uses = expansion.pieces, expansion.uses
    volume = sum(piece.size.volume_um3 * piece.quantity for piece in pieces)
    content_mg = sum(piece.weight_mg * piece.quantity for piece in pieces)
    carried = []
    enough = [o for o in facts.containers if o.max_load_mg >= content_mg and _most_room_um3(o) >= volume]
    for outer, size in _worth_asking(enough, pieces, facts):
        postage = least_price(
            facts.tariffs,
            outer=size,
            gross_mg=content_mg + outer.tare_mg,
            sending=Sending(
                destination=aim.destination,
                ship_on=aim.ship_on,
                origin=facts.settings.origin,
                packaging=(outer.code,),
                rigid=False,
            ),
        )
        if postage is not None:
            carried.append(postage + _least_cost(outer))
    if not carried:
        return None
    minutes = sum((piece.band.minutes.per_unit * piece.units for piece in pieces), Decimal(0))
    minutes += max(piece.band.minutes.per_parcel for piece in pieces)
    wraps = sum((use.cost for use in uses), Decimal(0))
    return min(carried) + wraps + minutes * facts.settings.wage_per_hour / 60


def _worth_asking(enough: list[Outer], pieces: tuple[Piece, ...], facts: Facts) -> list[tuple[Outer, Size]]:
    """Leave out containers that are larger, heavier and dearer than another: what carries them carries that for less.

    A carrier's own is always asked and beats none: it goes with some services only, some at a price of its own.
    """
    own = {item.code for tariff in facts.tariffs for item in tariff.packaging}
    sized = [(outer, _least_outside(outer, pieces)) for outer in enough]
    marks = [
        _Marks(size.sorted_um, outer.tare_mg, _least_cost(outer)) for outer, size in sized if outer.code not in own
    ]

    def beaten(outer: Outer, size: Size) -> bool:
        mine = _Marks(size.sorted_um, outer.tare_mg, _least_cost(outer))
        return any(other != mine and other.within(mine) for other in marks)

    return [(outer, size) for outer, size in sized if outer.code in own or not beaten(outer, size)]


class _Marks(NamedTuple):
    """What a container's postage and cost depend on, for equal contents."""

    sides_um: tuple[int, int, int]
    tare_mg: int
    cost: Decimal

    def within(self, other: "_Marks") -> bool:
        smaller = all(a <= b for a, b in zip(self.sides_um, other.sides_um, strict=True))
        return smaller and self.tare_mg <= other.tare_mg and self.cost <= other.cost


def _most_room_um3(outer: Outer) -> int:
    """The inside a container can have at the most: two slid together, hardly over each other; a mailer, any."""
    if not isinstance(outer, Container):
        return 2**63
    return outer.inner.volume_um3 * (2 if outer.telescope else 1)


def _least_cost(outer: Outer) -> Decimal:
    return outer.unit_cost if isinstance(outer, Container) or not outer.halves else outer.unit_cost / 2


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
    parcels: list[PlannedParcel] = []
    requests: list[Request] = []
    found_there = [facts]
    for number, lines in enumerate(shares):
        forced = keys[number] if keys else None
        carries = ONCE_AN_ORDER if number == 0 else ONCE_A_PARCEL
        there = found_there[-1]
        tried = try_all(lines, there, aim, forced=forced, carries=carries)
        one = choose(tried, forced, there.free)
        if one is None or tried.request is None:
            return ()
        goods = tuple((line.sku, line.quantity) for line in merged(lines))
        parcels.append(PlannedParcel(goods=goods, pieces=tried.expansion.pieces, candidate=one))
        requests.append(tried.request)
        found_there.append(_without(there, one))
    ways = [Way(parcels=tuple(parcels))]
    if strapped and len(parcels) == 2:
        # The second carton again, without what is already in the first: they are one parcel now.
        tried = try_all(shares[1], found_there[1], aim, forced=parcels[1].candidate.key, carries=NOTHING_MORE)
        bare = choose(tried, parcels[1].candidate.key)
        both = replace(
            requests[0],
            goods_cost=sum((r.goods_cost for r in requests), Decimal(0)),
            sending=replace(
                requests[0].sending,
                cover=sum((r.sending.cover for r in requests), Decimal(0)),
                goods=frozenset().union(*(r.sending.goods for r in requests)),
            ),
        )
        together = strap(parcels[0], replace(parcels[1], candidate=bare), both) if bare is not None else None
        ways += [Way(parcels=(together,))] if together is not None else []
    return tuple(ways)


def _without(facts: Facts, taken: Candidate) -> Facts:
    """Return the facts with what a parcel takes gone from the shelf."""
    free = dict(facts.free)
    for use in taken.uses:
        free[use.supply] = free.get(use.supply, Decimal(0)) - use.quantity
    return replace(facts, free=free)


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
