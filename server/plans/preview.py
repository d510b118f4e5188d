"""What each band of a recipe comes to: one parcel of the band's size, to the nearest and the farthest zone.

The cupboard's stock is left out on purpose: a recipe is judged by what it asks for, not by today's shelf.
"""

from collections.abc import Sequence
from decimal import Decimal

from pydantic import BaseModel

from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer, pack_layers
from core.parcels.plan import Blocked, Facts, Overrides, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.recipes.model import Band
from core.tariffs.model import Place, Tariff
from core.units import Size
from server.carriers.selectors import core_tariffs
from server.formats.recipe import RecipeFile
from server.plans.facts import settings_of, ship_day
from server.plans.screens import PieceView, drawing_of
from server.recipes.mapping import core_product
from server.recipes.models import Product
from server.supplies.mapping import core_cupboard
from server.supplies.selectors import stock_of
from server.workshops.models import Workshop

__all__ = ["BandFigures", "band_figures"]

#: A band may be wide; the parcel shown is its largest, up to this many units.
_MOST_UNITS = 24
_PLENTY = Decimal(10**9)


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
    candidate: Candidate | None = None
    layers: tuple[PackLayer, ...] = ()
    pieces: tuple[PieceView, ...] = ()


def band_figures(workshop: Workshop, file: RecipeFile, products: Sequence[Product]) -> list[BandFigures]:
    """Return the figures of every band, or in words why one has none."""
    recipe = file.core(number=0)
    row = next((p for p in products if p.length_um and p.weight_mg), None)
    if row is None:
        what = "No product with size and weight is packed by this recipe yet."
        return [
            BandFigures(first=b.first, last=b.last, units=_units(b.first, b.last), sku=None, problem=what)
            for b in recipe.bands
        ]
    stocks = stock_of(workshop)
    names = {stock.supply.code: stock.supply.name for stock in stocks}
    shelf, containers, free = core_cupboard(stocks)
    tariffs = core_tariffs(workshop)
    facts = Facts(
        shelf=shelf,
        containers=containers,
        free=dict.fromkeys(free, _PLENTY),
        tariffs=tariffs,
        settings=settings_of(workshop),
    )
    day = ship_day(workshop)
    places = _one_place_a_zone(tariffs)
    found = []
    for band in recipe.bands:
        units = _units(band.first, band.last)
        line = OrderLine(sku=row.sku, quantity=units, product=core_product(row), recipe=recipe)
        # A band is for orders that go in one parcel; one that does not fit is a fault of the recipe.
        plans = [
            plan_order((line,), facts, destination=place, ship_on=day, overrides=Overrides(parcels=1))
            for place in places
        ]
        found.append(_figures(band, units, row.sku, plans, names))
    return found


def _units(first: int, last: int) -> int:
    return max(first, min(last, _MOST_UNITS))


def _one_place_a_zone(tariffs: tuple[Tariff, ...]) -> list[Place]:
    first: dict[tuple[str, str], Place] = {}
    for tariff in tariffs:
        for rule in tariff.zone_rules:
            first.setdefault((tariff.carrier, rule.zone), Place(country=rule.country, postcode=rule.prefix))
    return list(dict.fromkeys(first.values()))


def _problem(plans: list[PlannedOrder | Blocked], band: Band, units: int) -> str:
    if not plans:
        return "There is no tariff yet; take one in."
    if isinstance(plans[0], Blocked):
        return plans[0].missing[0].message
    named = next((out.reason for out in plans[0].ruled_out if out.container in band.outers), "")
    return f"No container takes this order of {units}. {named}".strip()


def _figures(
    band: Band, units: int, sku: str, plans: list[PlannedOrder | Blocked], names: dict[str, str]
) -> BandFigures:
    first, last = band.first, band.last
    good = [plan for plan in plans if isinstance(plan, PlannedOrder) and plan.chosen.only.strapped is None]
    if not good:
        words = _problem(plans, band, units)
        return BandFigures(first=first, last=last, units=units, sku=sku, problem=words)
    near = min(good, key=lambda plan: plan.chosen.costs.postage)
    far = max(good, key=lambda plan: plan.chosen.costs.postage)
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
        postage_farthest=far.chosen.costs.postage,
        each_all_in=(chosen.costs.total / units).quantize(Decimal("0.01")),
        candidate=chosen,
        layers=pack_layers(near.chosen.parcels[0], names),
        pieces=tuple(drawing_of(piece) for piece in near.pieces),
    )
