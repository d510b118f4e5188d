"""What each band of a recipe comes to: one parcel of the band's size, to the nearest and the farthest zone.

The cupboard's stock is left out on purpose: a recipe is judged by what it asks for, not by today's shelf.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import TypeGuard

from pydantic import BaseModel

from core.designing.cupboard import Desk
from core.designing.policies import breaches_of
from core.designing.trials import drop_height_um
from core.messages import Text, say
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer, pack_layers
from core.parcels.plan import Blocked, Overrides, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Band, Recipe, judged_units
from core.tariffs.model import Place, Sending
from core.tariffs.quote import least_price
from core.units import Size
from server.designing.desk import desk_of, one_place_a_zone
from server.formats.recipe import RecipeFile
from server.plans.screens import PieceView, drawing_of
from server.recipes.mapping import core_products
from server.recipes.models import Product
from server.recipes.selectors import with_their_families
from server.workshops.models import Workshop

__all__ = ["BandFigures", "band_figures", "shown_goods"]


class BandFigures(BaseModel):
    """One band worked out for ``units`` of ``sku``."""

    first: int
    last: int
    units: int
    sku: str | None
    problem: Text | None
    container: str | None = None
    outer: Size | None = None
    gross_mg: int | None = None
    materials: Decimal | None = None
    minutes: Decimal | None = None
    postage_nearest: Decimal | None = None
    postage_farthest: Decimal | None = None
    each_all_in: Decimal | None = None
    service: str | None = None  #: to the nearest zone
    drop_um: int | None = None  #: from how high a test drops it
    free_l: Decimal | None = None  #: void of the container, before it is filled
    warnings: tuple[Text, ...] = ()
    marked: tuple[Text, ...] = ()  #: policies it does not keep to
    candidate: Candidate | None = None
    layers: tuple[PackLayer, ...] = ()
    pieces: tuple[PieceView, ...] = ()


def band_figures(workshop: Workshop, file: RecipeFile, products: Sequence[Product]) -> list[BandFigures]:
    """Return the figures of every band, or why one has none."""
    recipe = replace(file.core(number=0), tried=True)
    known = core_products(products, with_their_families(workshop, list(products)))
    goods = shown_goods(workshop, recipe, known)
    if isinstance(goods, str):
        return [
            BandFigures(first=b.first, last=b.last, units=judged_units(b.first, b.last), sku=None, problem=goods)
            for b in recipe.bands
        ]
    desk = desk_of(workshop)
    places = one_place_a_zone(desk.facts.tariffs)
    # A policy looks at everything the recipe packs, not only at what the band is shown with.
    packed = (*(one for one, _ in goods), *known.values())
    found = []
    for band in recipe.bands:
        units = sum(m.quantity for m in recipe.mix) if recipe.mix else judged_units(band.first, band.last)
        lines = tuple(
            OrderLine(sku=one.sku, quantity=quantity or units, product=one, recipe=recipe) for one, quantity in goods
        )
        planned = _planned(lines, desk, places)
        if isinstance(planned, _Planned):
            # The next band is tried first where this one goes cheapest.
            places = [planned.nearest, *(place for place in places if place != planned.nearest)]
            shown = _figures(band, units, goods[0][0].sku, planned, dict(desk.names))
        else:
            words = _problem(planned, band, units)
            shown = BandFigures(first=band.first, last=band.last, units=units, sku=goods[0][0].sku, problem=words)
        broken = breaches_of(replace(recipe, bands=(band,)), packed, desk, workshop.policies)
        marked = tuple(
            say("breaks_policy", policy=say(f"policy_{breach.policy}"), how=breach.words) for breach in broken
        )
        found.append(shown.model_copy(update={"marked": marked}))
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class _Planned:
    """A band's parcel planned to the zone where it goes cheapest."""

    plan: PlannedOrder
    nearest: Place
    farthest_postage: Decimal


def _planned(lines: tuple[OrderLine, ...], desk: Desk, places: list[Place]) -> _Planned | list[PlannedOrder | Blocked]:
    """Plan a band's parcel once and quote it everywhere; plan it again only when another zone turns out to be nearer.

    When no zone takes it as one parcel, what stood against it in each is returned.
    """
    refused = []
    for place in places:
        plan = _to(lines, desk, place)
        if not _in_one(plan):
            refused.append(plan)
            continue
        prices = {one: price for one in places if (price := _postage(plan.chosen.only, one, desk)) is not None}
        near = min(prices, key=lambda one: prices[one], default=place)
        again = plan if near == place else _to(lines, desk, near)
        if _in_one(again):
            plan = again
        return _Planned(
            plan=plan, nearest=near, farthest_postage=max(prices.values(), default=plan.chosen.costs.postage)
        )
    return refused


def _to(lines: tuple[OrderLine, ...], desk: Desk, place: Place) -> PlannedOrder | Blocked:
    # A band is for orders that go in one parcel; one that does not fit is an error of the recipe.
    return plan_order(lines, desk.plenty, destination=place, ship_on=desk.ship_on, overrides=Overrides(parcels=1))


def _in_one(plan: PlannedOrder | Blocked) -> TypeGuard[PlannedOrder]:
    return isinstance(plan, PlannedOrder) and plan.chosen.only.strapped is None


def _postage(one: Candidate, place: Place, desk: Desk) -> Decimal | None:
    """Return the least postage of a parcel to a place, None when no service goes there."""
    return least_price(
        desk.facts.tariffs,
        outer=one.outer_bulged,
        gross_mg=one.weight.gross_mg,
        sending=replace(one.sending, destination=place)
        if one.sending
        else Sending(destination=place, ship_on=desk.ship_on),
    )


def shown_goods(
    workshop: Workshop, recipe: Recipe, known: Mapping[str, CoreProduct]
) -> list[tuple[CoreProduct, int]] | str:
    """Return the goods a band is shown with and how many of each (0: as many as the band says), or what is missing.

    ``known``: the products the recipe packs, by sku; those of a named mix are looked up.
    """
    if recipe.mix:
        skus = [item.sku for item in recipe.mix]
        mixed = list(Product.objects.of(workshop).filter(sku__in=skus))
        of_mix = core_products(mixed, with_their_families(workshop, mixed))
        lacking = [sku for sku in skus if sku not in of_mix or not of_mix[sku].size or not of_mix[sku].weight_mg]
        if lacking:
            return f"{', '.join(lacking)} in the mix has no size or no weight, or is no product of yours."
        return [(of_mix[item.sku], item.quantity) for item in recipe.mix]
    # The largest variant is the safe one to show.
    good = [one for one in known.values() if one.size is not None and one.weight_mg is not None and not one.assumed]
    if not good:
        return "No product with size and weight is packed by this recipe yet."
    return [(max(good, key=lambda one: (one.size.volume_um3 if one.size else 0, one.weight_mg or 0, one.sku)), 0)]


def _problem(plans: list[PlannedOrder | Blocked], band: Band, units: int) -> Text:
    if not plans:
        return say("no_list_yet")
    if isinstance(plans[0], Blocked):
        return plans[0].missing[0].message
    named = tuple(out.reason for out in plans[0].ruled_out if out.container in band.outers)[:1]
    return say("why", sentences=(say("none_for_units", units=units), *named))


def _figures(band: Band, units: int, sku: str, planned: _Planned, names: dict[str, str]) -> BandFigures:
    plan = planned.plan
    chosen = plan.chosen.only
    return BandFigures(
        first=band.first,
        last=band.last,
        units=units,
        sku=sku,
        problem=None,
        container=chosen.container,
        outer=chosen.outer_bulged,
        gross_mg=chosen.weight.gross_mg,
        materials=chosen.costs.materials,
        minutes=chosen.minutes,
        postage_nearest=plan.chosen.costs.postage,
        postage_farthest=planned.farthest_postage,
        each_all_in=(chosen.costs.total / units).quantize(Decimal("0.01")),
        service=chosen.quote.service_name,
        drop_um=drop_height_um(chosen.weight.gross_mg),
        free_l=chosen.void.void_l + chosen.void.free_l if chosen.void else None,
        warnings=plan.warnings,
        candidate=chosen,
        layers=pack_layers(plan.chosen.parcels[0], names),
        pieces=tuple(drawing_of(piece) for piece in plan.pieces),
    )
