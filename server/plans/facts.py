"""Everything a plan depends on, loaded once for many orders: no query in a loop."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from zoneinfo import ZoneInfo

from django.db.models import Count

from core.care.report import CareContext
from core.care.road import hub_of, place_key
from core.care.weather import Weather
from core.parcels.plan import Facts, Overrides, Settings
from core.recipes import goods
from core.recipes.expand import OrderLine as CoreLine
from core.recipes.expand import merged
from core.recipes.model import Occasion
from core.recipes.model import Recipe as CoreRecipe
from core.recipes.successors import with_instead
from core.tariffs.choosing import Choosing
from core.tariffs.model import Place, Tariff
from core.tariffs.zones import SHIP_DAYS, next_ship_day, plain_postcode
from server.carriers.selectors import core_tariffs
from server.orders.models import Order, OrderLine
from server.plans.models import TrialPick
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product, Recipe, RecipeVersion
from server.recipes.selectors import arrivals_of, tried_versions, versions_in_force, with_their_families
from server.supplies.mapping import core_cupboard
from server.supplies.models import Balance
from server.supplies.selectors import Stock, stock_of
from server.weather.selectors import weather_at
from server.workshops.clock import today
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = ["Loaded", "leaves_on", "load", "place_of", "settings_of", "ship_day", "ship_days"]


def ship_day(workshop: Workshop) -> date:
    """Return the next day the workshop hands parcels over, by its own clock."""
    return next_ship_day(today(workshop), ship_days(workshop))


def ship_days(workshop: Workshop) -> tuple[int, ...]:
    """Return the weekdays on which the workshop hands parcels over, Monday 0."""
    return tuple(workshop.ship_days) or SHIP_DAYS


def leaves_on(day: date, decided: Overrides, workshop: Workshop) -> date:
    """Return the first day of hand-over from ``day`` on that is not before the day a person set."""
    return next_ship_day(max(day, decided.not_before or day), ship_days(workshop))


def settings_of(workshop: Workshop) -> Settings:
    """Return the workshop's choices as the core wants them."""
    return Settings(
        wage_per_hour=workshop.wage_per_hour,
        scale_division_mg=workshop.scale_division_mg,
        support_percent=workshop.support_percent,
        money_digits=workshop.money_digits,
        label=workshop.label_supply or None,
        origin=Place(country=workshop.country, postcode=plain_postcode(workshop.postcode)),
        homes=workshop.to_homes,
        signature_above=workshop.signature_above,
        cover_goods=workshop.cover_goods,
        unprotected_factor=workshop.unprotected_factor,
        slip_one_in=workshop.slip_one_in,
        look_minutes=workshop.look_minutes,
        judgements=judgements_of(workshop),
        choosing=Choosing(
            services=tuple(workshop.services),
            trusted=workshop.trusted_carrier,
            unless_saves=workshop.trusted_unless_saves,
            arrive_within_days=workshop.arrive_within_days,
            delivers_to=tuple(workshop.delivers_to) or ("door",),
        ),
    )


def place_of(order: Order) -> Place:
    """Return where an order goes."""
    return Place(country=order.country, postcode=plain_postcode(order.postcode))


@dataclass(slots=True)
class Loaded:
    """The workshop as it stands, for planning orders one after another."""

    workshop: Workshop
    facts: Facts
    stocks: list[Stock]
    products: dict[str, tuple[goods.Product, str | None]]  #: sku -> product, recipe code
    contents: dict[str, tuple[tuple[str, int], ...]]  #: sku of a set -> what is in it
    recipes: dict[str, CoreRecipe]
    mixes: dict[frozenset[tuple[str, int]], CoreRecipe]  #: an order that is exactly this is packed by this recipe
    lines: dict[int, list[OrderLine]]
    last_sent: dict[str, date]  #: per insert, when one last went out
    again: set[tuple[str, str]]  #: buyer and postcode of everybody who has ordered more than once
    weather: Weather  #: of the places on the way, where any of the goods has a limit
    successors: dict[str, str]  #: what takes a supply's place once it is used up, by its code
    picked: dict[int, CoreRecipe]  #: by order: the recipe version a trial picked for it

    def recipes_of(self, order: Order) -> dict[str, CoreRecipe]:
        """Return the recipes an order is packed by, by code."""
        picked = self.picked.get(order.pk)
        return self.recipes if picked is None else {**self.recipes, picked.code: picked}

    def occasion_of(self, order: Order) -> Occasion:
        """Return what the conditions of inserts look at; goods, country and day are the plan's own."""
        return Occasion(
            first_order=(order.buyer, order.postcode) not in self.again,
            gift=order.gift,
            value=order.goods_value,
            last_sent=self.last_sent,
        )

    def lines_to_try(self, order: Order, free: Mapping[str, Decimal]) -> tuple[tuple[CoreLine, ...], ...]:
        """Return an order's lines as they take what is to be used up first, while there is any, then as they take what
        follows it; once where nothing follows anything.
        """
        lines = self.lines_of(order)
        if not self.successors:
            return (lines,)
        left = {old for old in self.successors if free.get(old, Decimal(0)) > 0}
        first, then = self.lines_taking(lines, left), self.lines_taking(lines, frozenset())
        return (first,) if first == then else (first, then)

    def lines_taking(self, lines: tuple[CoreLine, ...], old: Collection[str]) -> tuple[CoreLine, ...]:
        """Return lines that take these supplies, and the successors of all others."""
        instead = {new: one if one in old else new for one, new in self.successors.items()}
        instead |= {one: new for one, new in self.successors.items() if one not in old}
        return with_instead(lines, {code: other for code, other in instead.items() if code != other})

    def lines_of(self, order: Order) -> tuple[CoreLine, ...]:
        """Return an order's lines as the core wants them."""
        found = []
        recipes = self.recipes_of(order)
        for row in self.lines.get(order.pk, []):
            inside = self.contents.get(row.sku)
            if inside:
                found += [self._line(recipes, sku, row.quantity * each, row.sku, each) for sku, each in inside]
            else:
                found.append(self._line(recipes, row.sku, row.quantity))
        mix = self.mixes.get(frozenset((line.sku, line.quantity) for line in merged(tuple(found))))
        if mix is not None:
            found = [replace(line, recipe=mix) for line in found]
        # Loose lines of the same goods are one; what is in a set stays with its set.
        loose = merged(tuple(line for line in found if not line.bundle))
        return (*loose, *(line for line in found if line.bundle))

    def _line(
        self, recipes: Mapping[str, CoreRecipe], sku: str, quantity: int, bundle: str = "", each: int = 0
    ) -> CoreLine:
        product, recipe_code = self.products.get(sku, (None, None))
        recipe = recipes.get(recipe_code or "")
        return CoreLine(sku=sku, quantity=quantity, product=product, recipe=recipe, bundle=bundle, per_bundle=each)

    def care_context(self, order: Order, lines: tuple[CoreLine, ...], free: Mapping[str, Decimal]) -> CareContext:
        """Return what heat and cold are looked at with, for one order."""
        settings = self.facts.settings
        return CareContext(
            weather=self.weather,
            zone=ZoneInfo(self.workshop.time_zone),
            origin=settings.origin or place_of(order),
            destination=place_of(order),
            tariffs=self.facts.tariffs,
            shelf=self.facts.shelf,
            judged=settings.judgements,
            products={line.sku: line.product for line in lines if line.product is not None},
            free=free,
            wage_per_hour=settings.wage_per_hour,
            money_digits=settings.money_digits,
            ship_days=ship_days(self.workshop),
            today=today(self.workshop),
        )

    def names(self) -> dict[str, str]:
        """Return supply names by code."""
        return {stock.supply.code: stock.supply.name for stock in self.stocks}

    def tares_mg(self) -> dict[str, int]:
        """Return the tare of every container, by code."""
        return {container.code: container.tare_mg for container in self.facts.containers}

    def with_free(self, free: dict[str, Decimal]) -> Facts:
        """Return the facts with other free quantities."""
        old = self.facts
        return Facts(shelf=old.shelf, containers=old.containers, free=free, tariffs=old.tariffs, settings=old.settings)


def load(
    workshop: Workshop, orders: Iterable[Order], *, typed: Mapping[int, Sequence[OrderLine]] | None = None
) -> Loaded:
    """Return everything needed to plan these orders, in a fixed number of queries.

    ``typed``: lines that are not saved, by their order's key, in place of those that are.
    """
    wanted = list(orders)
    lines: dict[int, list[OrderLine]] = {}
    for row in OrderLine.objects.of(workshop).filter(order_id__in=[o.pk for o in wanted]):
        lines.setdefault(row.order_id, []).append(row)
    lines.update({key: list(rows) for key, rows in (typed or {}).items()})
    skus = {row.sku for rows in lines.values() for row in rows}
    ordered = list(Product.objects.of(workshop).filter(sku__in=skus).order_by("sku"))
    inside = {item["sku"] for p in ordered for item in p.contents} - skus
    products = ordered + (list(Product.objects.of(workshop).filter(sku__in=inside).order_by("sku")) if inside else [])
    mixed = list(Recipe.objects.of(workshop).filter(for_mix=True).values_list("pk", flat=True))
    versions = versions_in_force(workshop, [*(p.recipe_id for p in products if p.recipe_id), *mixed])
    picks = _picks(workshop, wanted)
    planned_by = [*versions.values(), *picks.values()]
    tried = tried_versions(workshop, (row.pk for row in planned_by))
    arrived = arrivals_of(workshop, planned_by)

    def recipe_of(row: RecipeVersion) -> CoreRecipe:
        return core_recipe(row, tried=row.pk in tried, arrivals=arrived.get(row.pk))

    by_id = {pk: recipe_of(row) for pk, row in versions.items()}
    goods_of = core_products(products, with_their_families(workshop, products))
    stocks = stock_of(workshop)
    tariffs = core_tariffs(workshop)
    judged = judgements_of(workshop)
    has_limits = any(one.limits_c(judged) != (None, None) for one in goods_of.values())
    shelf, containers, free = core_cupboard(stocks, judged)
    return Loaded(
        workshop=workshop,
        facts=Facts(
            shelf=shelf,
            containers=containers,
            free=free,
            tariffs=tariffs,
            settings=settings_of(workshop),
        ),
        weather=_weather(workshop, wanted, tariffs) if has_limits else Weather(),
        stocks=stocks,
        products={p.sku: (goods_of[p.sku], _recipe_code(p, by_id)) for p in products},
        contents={p.sku: tuple((c["sku"], c["quantity"]) for c in p.contents) for p in products if p.contents},
        recipes={recipe.code: recipe for recipe in by_id.values()},
        mixes={frozenset((m.sku, m.quantity) for m in by_id[pk].mix): by_id[pk] for pk in mixed if pk in by_id},
        lines=lines,
        last_sent=_last_sent(workshop),
        again=_again(workshop, wanted),
        successors=_successors(stocks),
        picked={order_id: recipe_of(row) for order_id, row in picks.items()},
    )


def _picks(workshop: Workshop, orders: list[Order]) -> dict[int, RecipeVersion]:
    """Return the versions trials picked, by order."""
    rows = TrialPick.objects.of(workshop).filter(order_id__in=[order.pk for order in orders])
    return {row.order_id: row.version for row in rows.select_related("version")}


def _weather(workshop: Workshop, orders: list[Order], tariffs: tuple[Tariff, ...]) -> Weather:
    places = {place_key(workshop.country, plain_postcode(workshop.postcode))}
    places |= {hub_of(tariff.carrier) for tariff in tariffs}
    places |= {place_key(place.country, place.postcode) for place in map(place_of, orders)}
    return weather_at(workshop, places, today(workshop))


def _successors(stocks: Sequence[Stock]) -> dict[str, str]:
    codes = {stock.supply.pk: stock.supply.code for stock in stocks if stock.supply.retired_at is None}
    return {
        stock.supply.code: codes[stock.supply.successor_id]
        for stock in stocks
        if stock.supply.successor_id is not None and stock.supply.successor_id in codes
    }


def _last_sent(workshop: Workshop) -> dict[str, date]:
    """Return when each insert last left in a parcel, for samples that take turns."""
    rows = Balance.objects.of(workshop).filter(supply__kind="insert").exclude(last_used_at=None)
    return {code: last.date() for code, last in rows.values_list("supply__code", "last_used_at") if last}


def _again(workshop: Workshop, orders: list[Order]) -> set[tuple[str, str]]:
    """Return who of these buyers has more than one order here."""
    rows = (
        Order.objects.of(workshop)
        .filter(buyer__in={order.buyer for order in orders}, joined_into=None)
        .values_list("buyer", "postcode")
        .annotate(orders=Count("id"))
        .filter(orders__gt=1)
        .order_by()
    )
    return {(buyer, postcode) for buyer, postcode, _ in rows}


def _recipe_code(product: Product, known: dict[int, CoreRecipe]) -> str | None:
    """The code of a product's recipe, when that recipe has a current version."""
    return known[product.recipe_id].code if product.recipe_id is not None and product.recipe_id in known else None
