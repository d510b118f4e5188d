"""An order in several parcels: divided as far as it must be, or as a person wants, each part planned on its own
(parcels).

Each parcel is packed as an order of its own size: its recipe's band is that of the parcel. What goes in once an order
goes into the first. Two cartons may also be strapped and go as one parcel, unless their goods may not share one.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from decimal import Decimal
from typing import Literal, NamedTuple

from core.messages import say
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.cautions import cautions_for
from core.parcels.cost_floor import closer_cost_floor, cost_floor
from core.parcels.divide import Share, Shareout, cheaper_shares, divided, kinds_of
from core.parcels.exchanged import alike, exchanged
from core.parcels.facts import Aim, Facts, Shares
from core.parcels.packed import NOTHING_MORE, ONCE_A_PARCEL, ONCE_AN_ORDER, Request, RuledOut
from core.parcels.single import Tried, choose, in_recipe, try_all
from core.parcels.strap import strap
from core.parcels.way import Way
from core.recipes.expand import Missing, OrderLine, merged
from core.supplies.stock_asked import without

__all__ = ["Divided", "Reason", "several_ways"]

#: Why an order is divided: goods that may not share, no container or band for all, it costs less, a person said so.
Reason = Literal["", "apart", "too_much", "cheaper", "asked", "by_hand"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Divided:
    """The ways in several parcels, and why they were looked for."""

    ways: tuple[Way, ...] = ()
    others: tuple[Way, ...] = ()  #: with another container for some of the parcels; to be seen, never taken unasked
    offered: tuple[Way, ...] = ()  #: those of them that the recipes allow
    ruled_out: Mapping[str, tuple[RuledOut, ...]] = field(
        default_factory=dict
    )  #: by a way's key: what its parcels do not go in
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
        return _divided([] if fault else [_assembled(shares, facts, aim, key, strapped=True)], "by_hand", fault)
    divisions, reason = _looked_for(out, whole, own, key, overrides.parcels)
    may_strap = not any(m.code == "must_be_apart" for m in whole.expansion.missing)
    assembled = [
        _assembled([out.lines(share) for share in shares], facts, aim, key, strapped=may_strap and len(shares) == 2)
        for shares in divisions
        if overrides.parcels in (None, len(shares), 1)
    ]
    return _divided(assembled, reason, None, overrides.parcels)


class _Assembled(NamedTuple):
    """One division planned: its ways, and those with another container, that may only be seen or may be offered."""

    ways: tuple[Way, ...] = ()
    others: tuple[Way, ...] = ()
    offered: tuple[Way, ...] = ()
    ruled_out: tuple[RuledOut, ...] = ()


def _divided(assembled: list[_Assembled], reason: Reason, fault: Missing | None, parcels: int | None = None) -> Divided:
    """Gather what was found, each way once; ``parcels`` is how many a person wants."""

    def once(found: Iterable[Way]) -> tuple[Way, ...]:
        return tuple({way.key: way for way in found if parcels in (None, len(way.parcels))}.values())

    ways = once(way for one in assembled for way in one.ways)
    taken = {way.key for way in ways}
    others = once(way for one in assembled for way in one.others if way.key not in taken)
    offered = once(way for one in assembled for way in one.offered if way.key not in taken)
    ruled_out = {way.key: one.ruled_out for one in reversed(assembled) for way in one.ways}
    return Divided(ways=ways, others=others, offered=offered, ruled_out=ruled_out, reason=reason, fault=fault)


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
        return cost_floor(part, facts, aim)

    def close_floor(part: tuple[OrderLine, ...]) -> Decimal | None:
        return closer_cost_floor(part, facts, aim)

    return Shareout(kinds_of(lines), cost, floor, close_floor)


# --- parcels of a division -------------------------------------------------------------------------------


def _assembled(
    shares: list[tuple[OrderLine, ...]], facts: Facts, aim: Aim, key: str | None, *, strapped: bool
) -> _Assembled:
    """Plan every share as a parcel, in turn: what one takes from the shelf the next does not find there."""
    keys = key.split("+") if key and key.count("+") == len(shares) - 1 and len(shares) > 1 else None
    parcels: list[PlannedParcel] = []
    requests: list[Request] = []
    tries: list[Tried] = []
    found_there = [facts]
    for number, lines in enumerate(shares):
        forced = keys[number] if keys else None
        carries = ONCE_AN_ORDER if number == 0 else ONCE_A_PARCEL
        there = found_there[-1]
        # A further parcel by the service of the first may cost less.
        with_first = replace(aim, further_of=_service_of(parcels[0])) if parcels else aim
        tried = try_all(lines, there, with_first, forced=forced, carries=carries)
        one = choose(tried, forced, there.free)
        if one is None or tried.request is None:
            return _Assembled()
        tries.append(tried)
        goods = tuple((line.sku, line.quantity) for line in merged(lines))
        parcels.append(
            PlannedParcel(goods=goods, pieces=tried.expansion.pieces, candidate=one, cautions=cautions_for(lines))
        )
        requests.append(tried.request)
        found_there.append(_without(there, one))
    ways = [Way(parcels=tuple(parcels))]
    others = _true_prices(exchanged(ways[0], [tried.found for tried in tries], facts.free))
    offered = _true_prices(exchanged(ways[0], [tried.allowed for tried in tries], facts.free))
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
    return _Assembled(tuple(ways), others, offered, _ruled_out(ways[0], tries))


def _service_of(parcel: PlannedParcel) -> tuple[str, str]:
    quote = parcel.candidate.quote
    return quote.carrier, quote.service


def _true_prices(ways: tuple[Way, ...]) -> tuple[Way, ...]:
    """Leave out ways whose further parcels were priced beside another first parcel's service."""
    return tuple(
        way
        for way in ways
        if all(
            not one.candidate.quote.further or _service_of(one) == _service_of(way.parcels[0])
            for one in way.parcels[1:]
        )
    )


def _ruled_out(way: Way, tries: list[Tried]) -> tuple[RuledOut, ...]:
    """Return what the parcels do not go in, and of which of them it is told."""
    found = []
    for numbers in alike(way):
        told = tuple(str(number + 1) for number in numbers)
        found += [
            replace(out, reason=say("of_parcels", numbers=told, count=len(told), what=out.reason))
            for out in tries[numbers[0]].ruled_out
        ]
    return tuple(found)


def _without(facts: Facts, taken: Candidate) -> Facts:
    """Return the facts with what a parcel takes gone from the shelf."""
    return replace(facts, free=without(facts.free, ((use.supply, use.quantity) for use in taken.uses)))


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
    return Missing(code="shares_do_not_match", subject="", message=say("shares_do_not_match"))
