"""Which price step each band of a recipe sits just above, over past orders; and what 1, 2, 3 ... of a product come to.

As at the rest of the desk today's stock does not count: a recipe is judged by what it asks for.
"""

from collections import Counter
from dataclasses import dataclass, replace
from datetime import timedelta

from core.advising.missed_steps import BandStep, PastOrder, band_steps
from core.advising.spare import UnitCost, unit_costs
from core.designing.cupboard import Desk
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.expand import OrderLine as CoreLine
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Recipe as CoreRecipe
from core.tariffs.model import Place
from core.tariffs.quote import tariffs_in_force
from core.tariffs.zones import plain_postcode, zones_of
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.orders.models import OrderLine
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product, Recipe
from server.recipes.selectors import versions_in_force, with_their_families
from server.workshops.clock import today
from server.workshops.models import Workshop
from server.workshops.remembered import Remembered

__all__ = ["MOST_UNITS", "WEEKS", "RecipeSteps", "costs_per_unit", "recipe_steps"]

#: Orders of so many weeks count, and so many different ones are planned at the most, the most frequent first.
WEEKS, _MOST_KINDS = 12, 40
#: The chart of cost per unit goes so far.
MOST_UNITS = 24

_Lines = tuple[tuple[str, int], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeSteps:
    """What was looked at and what was found."""

    orders: int
    weeks: int
    steps: tuple[BandStep, ...]


#: Of so many recipes, by the orders and all their plans rest on.
_STEPS: Remembered[RecipeSteps] = Remembered(most=64)
_COSTS: Remembered[tuple[UnitCost, ...]] = Remembered(most=64)


def recipe_steps(workshop: Workshop, recipe_id: int) -> RecipeSteps:
    """Return the step each band just misses, over the orders of the last weeks that held nothing but its goods.

    Raises Refused (404) when there is no such recipe.
    """
    row = Recipe.objects.of(workshop).filter(pk=recipe_id).first()
    version = versions_in_force(workshop, [recipe_id]).get(recipe_id)
    if row is None or version is None:
        raise Refused("There is no such recipe in your workshop.", code="not_found", status=404)
    recipe = replace(core_recipe(version), tried=True)
    products = list(Product.objects.of(workshop).filter(recipe=row))
    goods = core_products(products, with_their_families(workshop, products))
    desk = desk_of(workshop)
    counted = _past(workshop, set(goods))
    orders = _kinds(counted, desk)
    rests_on = (row.name, orders, sorted(goods.items()), recipe, desk.plenty, desk.ship_on)
    return _STEPS.of(rests_on, lambda: _steps(row.name, orders, goods, recipe, desk))


def _steps(
    name: str,
    orders: list[tuple[tuple[_Lines, Place], int]],
    goods: dict[str, CoreProduct],
    recipe: CoreRecipe,
    desk: Desk,
) -> RecipeSteps:
    past = [
        PastOrder(units=sum(quantity for _, quantity in lines), times=times, candidate=plan.chosen.only)
        for (lines, place), times in orders
        if (plan := _planned(lines, place, goods, recipe, desk)) is not None
    ]
    steps = band_steps(name, recipe.bands, past, desk.facts.tariffs)
    return RecipeSteps(orders=sum(one.times for one in past), weeks=WEEKS, steps=steps)


def _past(workshop: Workshop, skus: set[str]) -> list[tuple[_Lines, Place]]:
    """Return goods and destination of every recent order that holds only these goods."""
    since = today(workshop) - timedelta(weeks=WEEKS)
    rows = (
        OrderLine.objects.of(workshop)
        .filter(order__placed_on__gte=since, order__lines__sku__in=skus)
        .distinct()
        .values_list("order_id", "sku", "quantity", "order__country", "order__postcode")
        .order_by("order_id", "sku")
    )
    orders: dict[int, tuple[dict[str, int], Place]] = {}
    for order_id, sku, quantity, country, postcode in rows:
        place = Place(country=country, postcode=plain_postcode(postcode))
        lines = orders.setdefault(order_id, ({}, place))[0]
        lines[sku] = lines.get(sku, 0) + quantity
    return [(tuple(sorted(lines.items())), place) for lines, place in orders.values() if set(lines) <= skus]


def _kinds(orders: list[tuple[_Lines, Place]], desk: Desk) -> list[tuple[tuple[_Lines, Place], int]]:
    """Return the different orders and how often each came; places in the same zones of all carriers are one."""
    in_force = tariffs_in_force(desk.facts.tariffs, desk.ship_on)
    origin = desk.facts.settings.origin
    first: dict[tuple[tuple[str | None, ...], ...], Place] = {}
    counts: Counter[tuple[_Lines, Place]] = Counter()
    for lines, place in orders:
        zones = tuple(zones_of(tariff, place, origin) for tariff in in_force)
        counts[(lines, first.setdefault(zones, place))] += 1
    return sorted(counts.items(), key=lambda pair: (-pair[1], pair[0][0], pair[0][1].postcode))[:_MOST_KINDS]


def _planned(
    lines: _Lines, place: Place, goods: dict[str, CoreProduct], recipe: CoreRecipe, desk: Desk
) -> PlannedOrder | None:
    """Return the order in one parcel as it would be packed now; one that is divided has no step of its own."""
    wanted = tuple(CoreLine(sku=sku, quantity=n, product=goods[sku], recipe=recipe) for sku, n in lines)
    plan = plan_order(wanted, desk.plenty, destination=place, ship_on=desk.ship_on)
    if isinstance(plan, PlannedOrder) and len(plan.chosen.parcels) == 1 and plan.chosen.only.strapped is None:
        return plan
    return None


def costs_per_unit(workshop: Workshop, product_id: int, place: Place, most: int) -> tuple[UnitCost, ...]:
    """Return what 1, 2, 3 ... of a product come to, all in, sent to a place.

    Raises Refused: not_found (404), no_recipe.
    """
    row = Product.objects.of(workshop).select_related("recipe").filter(pk=product_id).first()
    if row is None:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    versions = versions_in_force(workshop, [row.recipe_id]) if row.recipe_id is not None else {}
    if not versions:
        raise Refused(f"{row.name} has no recipe yet; it cannot be planned.", code="no_recipe")
    recipe = replace(core_recipe(next(iter(versions.values()))), tried=True)
    product = core_products([row], with_their_families(workshop, [row]))[row.sku]
    desk = desk_of(workshop)
    line = CoreLine(sku=row.sku, quantity=1, product=product, recipe=recipe)
    plenty, ship_on = desk.plenty, desk.ship_on
    return _COSTS.of(
        (line, plenty, place, ship_on, most),
        lambda: unit_costs(line, plenty, destination=place, ship_on=ship_on, most=most),
    )
