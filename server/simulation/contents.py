"""What each distinct order of the year can be packed as: by the program's plan, and in every container by hand.

A player without the program sees only whether it fits. Planned once a content, destination and price list, side by side
by two processes.
"""

import multiprocessing
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal

from core.parcels.candidate import Candidate
from core.parcels.facts import Aim, Overrides
from core.parcels.plan import PlannedOrder, plan_order
from core.parcels.single import try_all
from core.recipes.damage import Arrivals
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from core.tariffs.model import Place
from server.simulation.shop import YEAR_BEGINS, Shop

__all__ = ["Content", "Packed", "plan_contents"]

#: All parcels are planned for a Tuesday, so that no weekend is in their days.
_TUESDAY = timedelta(days=1)
#: Days from the hand-over within which it must be there: urgent, ordinary, abroad. The program keeps to it; a person
#: who always sends by one service has chosen one that mostly does.
_URGENT_DAYS, _ORDINARY_DAYS, _ABROAD_DAYS = 2, 5, 14
#: What the program offers instead of the recipe's own choice is taken from so much on.
_OFFER_TAKEN = Decimal("0.20")


@dataclass(frozen=True, slots=True, kw_only=True)
class Content:
    """Orders that are packed and priced alike."""

    goods: tuple[tuple[str, int], ...]
    place: Place
    urgent: bool
    later: bool  #: by the price lists of the second half
    quarter: int  #: the arrivals the program knew by then


@dataclass(frozen=True, slots=True, kw_only=True)
class Packed:
    """One way to send a content; several parcels are one, with their sums."""

    container: str
    containers: tuple[str, ...]
    in_recipe: bool
    inner_mm3: float
    materials: float
    minutes: float
    uses: tuple[tuple[str, float], ...]
    gross_mg: int
    void: float  #: share of the container that is not goods, 0 to 1
    exposed: bool
    postage: float
    service: str
    carrier: str
    days: int
    services: tuple[tuple[str, str, float, int], ...]  #: every service that takes it: code, carrier, price, days


_shop: list[Shop] = []


def _begin(shop: Shop) -> None:
    _shop.append(shop)


def plan_contents(
    shop: Shop, contents: Iterable[Content], arrivals: dict[str, Arrivals], processes: int
) -> dict[Content, tuple[Packed | None, tuple[Packed, ...]]]:
    """Return for each content the program's way (None: it cannot be sent) and every container it goes into."""
    wanted = sorted(set(contents), key=lambda one: (one.goods, one.place.postcode, one.urgent, one.later, one.quarter))
    if processes < 2 or len(wanted) < 40:
        _shop[:] = [shop]
        return {one: _planned(one, arrivals) for one in wanted}
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(processes, mp_context=context, initializer=_begin, initargs=(shop,)) as pool:
        found = pool.map(_planned, wanted, [arrivals] * len(wanted), chunksize=16)
        return dict(zip(wanted, found, strict=True))


def _planned(one: Content, arrivals: dict[str, Arrivals]) -> tuple[Packed | None, tuple[Packed, ...]]:
    shop = _shop[-1]
    recipes = {sku: shop.recipes[sku] for sku, _ in one.goods}
    lines = tuple(
        OrderLine(sku=sku, quantity=units, product=shop.products[sku], recipe=recipes[sku]) for sku, units in one.goods
    )
    learned = tuple(
        replace(line, recipe=replace(line.recipe, arrivals=arrivals.get(line.recipe.code))) if line.recipe else line
        for line in lines
    )
    ship_on = (shop.changes_on if one.later else YEAR_BEGINS) + _TUESDAY
    origin = shop.facts.settings.origin
    abroad = origin is not None and one.place.country != origin.country
    days = _ABROAD_DAYS if abroad else _URGENT_DAYS if one.urgent else _ORDINARY_DAYS
    by = Overrides(arrive_by=ship_on + timedelta(days=days))
    plan = plan_order(learned, shop.facts, destination=one.place, ship_on=ship_on, overrides=by)
    if not isinstance(plan, PlannedOrder):  # no service is so fast: the cheapest way there is
        plan = plan_order(learned, shop.facts, destination=one.place, ship_on=ship_on)
    aim = Aim(destination=one.place, ship_on=ship_on, overrides=Overrides(), occasion=Occasion())
    tried = try_all(lines, shop.facts, aim, forced=None, thorough=False)
    by_hand = tuple(_packed((found,), ship_on) for found in tried.found if found.change is None)
    mine = None
    if isinstance(plan, PlannedOrder):
        best = min((plan.chosen, *plan.others), key=lambda way: way.costs.total)
        taken = best if plan.chosen.costs.total - best.costs.total >= _OFFER_TAKEN else plan.chosen
        mine = _packed(taken.candidates, ship_on)
    if not by_hand and mine is not None:
        by_hand = (mine,)  # an order that goes into no single carton: anybody sends it as several
    return mine, by_hand


def _packed(candidates: tuple[Candidate, ...], ship_on: date) -> Packed:
    first = candidates[0]
    uses: dict[str, Decimal] = {}
    for one in candidates:
        for use in one.uses:
            uses[use.supply] = uses.get(use.supply, Decimal(0)) + use.quantity
    inner = sum(one.inner.volume_um3 for one in candidates)
    void = sum(float(one.void.void_l) for one in candidates if one.void is not None) * 1e15
    services = tuple(
        (quote.service, quote.carrier, float(quote.price), max((quote.arrives_on - ship_on).days, 1))
        for quote in (first.quotes if len(candidates) == 1 else (first.quote,))
    )
    return Packed(
        container=first.container,
        containers=tuple(one.container for one in candidates),
        in_recipe=first.in_recipe,
        inner_mm3=inner / 1e9,
        materials=float(sum(one.costs.materials for one in candidates)),
        minutes=float(sum(one.minutes for one in candidates)),
        uses=tuple(sorted((code, float(quantity)) for code, quantity in uses.items())),
        gross_mg=sum(one.weight.gross_mg for one in candidates),
        void=void / inner if inner else 0.0,
        exposed=any(one.exposures for one in candidates),
        postage=float(sum(one.costs.postage for one in candidates)),
        service=first.quote.service,
        carrier=first.quote.carrier,
        days=max((max(one.quote.arrives_on for one in candidates) - ship_on).days, 1),
        services=services,
    )
