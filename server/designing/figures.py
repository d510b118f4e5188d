"""What each band of a recipe comes to: one parcel of the band's size, to the nearest and the farthest zone.

The cupboard's stock is left out on purpose: a recipe is judged by what it asks for, not by today's shelf.
"""

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal

from pydantic import BaseModel

from core.designing.cupboard import Desk
from core.designing.policies import POLICY_WORDS, breaches_of
from core.designing.trials import drop_height_um
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer, pack_layers
from core.parcels.plan import Blocked, Overrides, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Band, Recipe
from core.tariffs.model import Place
from core.tariffs.quote import quote_all
from core.units import Size
from server.designing.desk import desk_of, one_place_a_zone
from server.formats.recipe import RecipeFile
from server.plans.screens import PieceView, drawing_of
from server.recipes.mapping import core_products
from server.recipes.models import Product
from server.recipes.selectors import with_their_families
from server.supplies.selectors import stock_of
from server.workshops.models import Workshop

__all__ = ["BandFigures", "band_figures", "shown_goods"]

#: A band may be wide; the parcel shown is its largest, up to this many units.
_MOST_UNITS = 24


class BandFigures(BaseModel):
    """One band worked out for ``units`` of ``sku``."""

    first: int
    last: int
    units: int
    sku: str | None
    problem: str | None
    container: str | None = None
    outer: Size | None = None
    gross_mg: int | None = None
    materials: Decimal | None = None
    minutes: Decimal | None = None
    postage_nearest: Decimal | None = None
    postage_farthest: Decimal | None = None
    each_all_in: Decimal | None = None
    service: str | None = None  #: to the nearest zone
    drop_um: int | None = None  #: from how high a trial drops it
    free_l: Decimal | None = None  #: void of the container, before it is filled
    warnings: tuple[str, ...] = ()
    marked: tuple[str, ...] = ()  #: policies it does not keep to
    candidate: Candidate | None = None
    layers: tuple[PackLayer, ...] = ()
    pieces: tuple[PieceView, ...] = ()


def band_figures(workshop: Workshop, file: RecipeFile, products: Sequence[Product]) -> list[BandFigures]:
    """Return the figures of every band, or in words why one has none."""
    recipe = replace(file.core(number=0), tried=True)
    goods = shown_goods(workshop, recipe, products)
    if isinstance(goods, str):
        return [
            BandFigures(first=b.first, last=b.last, units=_units(b.first, b.last), sku=None, problem=goods)
            for b in recipe.bands
        ]
    stocks = stock_of(workshop)
    desk = desk_of(workshop, stocks)
    places = one_place_a_zone(desk.facts.tariffs)
    found = []
    nearest: Place | None = None
    # A policy looks at everything the recipe packs, not only at what the band is shown with.
    packed = (
        *(one for one, _ in goods),
        *core_products(products, with_their_families(workshop, list(products))).values(),
    )
    for band in recipe.bands:
        units = sum(m.quantity for m in recipe.mix) if recipe.mix else _units(band.first, band.last)
        lines = tuple(
            OrderLine(sku=one.sku, quantity=quantity or units, product=one, recipe=recipe) for one, quantity in goods
        )
        plans, postages, nearest = _planned(
            lines, desk, [nearest, *(p for p in places if p != nearest)] if nearest else places
        )
        shown = _figures(band, units, goods[0][0].sku, plans, postages, dict(desk.names))
        broken = breaches_of(replace(recipe, bands=(band,)), packed, desk, workshop.policies)
        marked = tuple(f"{POLICY_WORDS[breach.policy]}: {breach.words}" for breach in broken)
        found.append(shown.model_copy(update={"marked": marked}))
    return found


def _planned(
    lines: tuple[OrderLine, ...], desk: Desk, places: list[Place]
) -> tuple[list[PlannedOrder | Blocked], list[Decimal], Place | None]:
    """Plan a band's parcel to the nearest zone; return the plan, its postage to every zone, and which is nearest.

    The parcel is planned once and quoted everywhere, and planned anew only when another zone turns out to be nearer.
    When no zone takes it, all the refusals are returned.
    """
    refused: list[PlannedOrder | Blocked] = []
    for place in places:
        # A band is for orders that go in one parcel; one that does not fit is a fault of the recipe.
        plan = plan_order(lines, desk.plenty, destination=place, ship_on=desk.ship_on, overrides=Overrides(parcels=1))
        if not isinstance(plan, PlannedOrder) or plan.chosen.only.strapped is not None:
            refused.append(plan)
            continue
        prices = {one: price for one in places if (price := _postage(plan.chosen.only, one, desk)) is not None}
        near = min(prices, key=lambda one: prices[one], default=place)
        if near != place:
            again = plan_order(
                lines, desk.plenty, destination=near, ship_on=desk.ship_on, overrides=Overrides(parcels=1)
            )
            plan = again if isinstance(again, PlannedOrder) and again.chosen.only.strapped is None else plan
        return [plan], sorted(prices.values()), near
    return refused, [], None


def _postage(one: Candidate, place: Place, desk: Desk) -> Decimal | None:
    """Return the least postage of a parcel to a place, None when no service goes there."""
    quotes, _ = quote_all(
        desk.facts.tariffs,
        outer=one.outer_bulged,
        gross_mg=one.weight.gross_mg,
        destination=place,
        ship_on=desk.ship_on,
    )
    return quotes[0].price if quotes else None


def shown_goods(workshop: Workshop, recipe: Recipe, rows: Sequence[Product]) -> list[tuple[CoreProduct, int]] | str:
    """Return the goods a band is shown with and how many of each (0: as many as the band says), or what is missing."""
    if recipe.mix:
        skus = [item.sku for item in recipe.mix]
        mixed = list(Product.objects.of(workshop).filter(sku__in=skus))
        known = core_products(mixed, with_their_families(workshop, mixed))
        lacking = [sku for sku in skus if sku not in known or not known[sku].size or not known[sku].weight_mg]
        if lacking:
            return f"{', '.join(lacking)} in the mix has no size or no weight, or is no product of yours."
        return [(known[item.sku], item.quantity) for item in recipe.mix]
    known = core_products(rows, with_their_families(workshop, list(rows)))
    # The largest variant is the safe one to show.
    good = [one for one in known.values() if one.size is not None and one.weight_mg is not None and not one.assumed]
    if not good:
        return "No product with size and weight is packed by this recipe yet."
    return [(max(good, key=lambda one: (one.size.volume_um3 if one.size else 0, one.weight_mg or 0, one.sku)), 0)]


def _units(first: int, last: int) -> int:
    return max(first, min(last, _MOST_UNITS))


def _problem(plans: list[PlannedOrder | Blocked], band: Band, units: int) -> str:
    if not plans:
        return "There is no tariff yet; take one in."
    if isinstance(plans[0], Blocked):
        return plans[0].missing[0].message
    named = next((out.reason for out in plans[0].ruled_out if out.container in band.outers), "")
    return f"No container takes this order of {units}. {named}".strip()


def _figures(
    band: Band,
    units: int,
    sku: str,
    plans: list[PlannedOrder | Blocked],
    postages: list[Decimal],
    names: dict[str, str],
) -> BandFigures:
    first, last = band.first, band.last
    good = [plan for plan in plans if isinstance(plan, PlannedOrder) and plan.chosen.only.strapped is None]
    if not good:
        words = _problem(plans, band, units)
        return BandFigures(first=first, last=last, units=units, sku=sku, problem=words)
    near = good[0]
    chosen = near.chosen.only
    return BandFigures(
        first=first,
        last=last,
        units=units,
        sku=sku,
        problem=None,
        container=chosen.container,
        outer=chosen.outer_bulged,
        gross_mg=chosen.weight.gross_mg,
        materials=chosen.costs.materials,
        minutes=chosen.minutes,
        postage_nearest=near.chosen.costs.postage,
        postage_farthest=max(postages, default=near.chosen.costs.postage),
        each_all_in=(chosen.costs.total / units).quantize(Decimal("0.01")),
        service=chosen.quote.service_name,
        drop_um=drop_height_um(chosen.weight.gross_mg),
        free_l=chosen.void.void_l + chosen.void.free_l if chosen.void else None,
        warnings=near.warnings,
        candidate=chosen,
        layers=pack_layers(near.chosen.parcels[0], names),
        pieces=tuple(drawing_of(piece) for piece in near.pieces),
    )
