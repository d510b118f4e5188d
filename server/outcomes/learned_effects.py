"""What a learned value would change in plans, for each order size of the recipes it concerns (outcomes; rules 17.5)."""

from dataclasses import dataclass, replace
from decimal import Decimal

from core.designing.cupboard import Desk
from core.messages import Text
from core.outcomes.change import plan_of
from core.parcels.plan import PlannedOrder
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Recipe as CoreRecipe
from core.recipes.model import judged_units, size_of
from core.supplies.items import Fill
from server.designing.desk import desk_of
from server.outcomes.learned import Offer, version_of
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import current_version, versions_in_force, with_their_families
from server.workshops.models import Workshop

__all__ = ["Effect", "effects_of"]

#: Of recipes a fill is in, so many are worked out before and after.
_SHOWN = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What a value changes in plans: one order size of one recipe, after less before."""

    recipe: str
    band: Text
    units: int
    cost: Decimal
    grams: Decimal
    service_was: str
    service: str


def effects_of(workshop: Workshop, offer: Offer) -> list[Effect]:
    """Return what taking an offer changes in plans, for each order size of the recipes it concerns."""
    desk = desk_of(workshop)
    if offer.kind in ("bulge", "fill"):
        return _fill_effects(workshop, offer, desk)
    if offer.kind == "weight":
        return _weight_effects(workshop, offer, desk)
    return _minutes_effects(workshop, offer, desk)


def _minutes_effects(workshop: Workshop, offer: Offer, desk: Desk) -> list[Effect]:
    version = version_of(workshop, offer)
    row = Product.objects.of(workshop).filter(recipe_id=version.recipe_id, retired_at=None).first()
    if row is None:
        return []
    product = core_products([row], with_their_families(workshop, [row]))[row.sku]
    before = replace(core_recipe(version), tried=True)
    return _differences(offer.name, (before, offer.changed(before)), (product, product), (desk, desk))


def _weight_effects(workshop: Workshop, offer: Offer, desk: Desk) -> list[Effect]:
    row = Product.objects.of(workshop).select_related("recipe").filter(sku=offer.subject).first()
    version = current_version(workshop, row.recipe_id) if row is not None and row.recipe_id is not None else None
    if row is None or version is None:
        return []
    product = core_products([row], with_their_families(workshop, [row]))[row.sku]
    weight_mg, spread_mg = map(int, offer.after)
    other = replace(product, weight_mg=weight_mg, weight_spread_mg=spread_mg)
    recipe = replace(core_recipe(version), tried=True)
    return _differences(version.recipe.name, (recipe, recipe), (product, other), (desk, desk))


def _fill_effects(workshop: Workshop, offer: Offer, desk: Desk) -> list[Effect]:
    fill = desk.facts.shelf.fills[offer.subject]
    (value,) = offer.after
    other: Fill = (
        replace(fill, bulge_um=int(value)) if offer.kind == "bulge" else replace(fill, packing_factor=Decimal(value))
    )
    shelf = replace(desk.facts.shelf, fills={**desk.facts.shelf.fills, offer.subject: other})
    changed = replace(desk, facts=replace(desk.facts, shelf=shelf))
    products = Product.objects.of(workshop).filter(recipe__isnull=False, retired_at=None).order_by("recipe_id", "id")
    first: dict[int, Product] = {}
    for row in products:
        first.setdefault(row.recipe_id or 0, row)
    goods = core_products(first.values(), with_their_families(workshop, list(first.values())))
    found: list[Effect] = []
    shown = 0
    for pk, version in versions_in_force(workshop, first).items():
        recipe = replace(core_recipe(version), tried=True)
        if not any(offer.subject in (band.fill, band.fill_below, band.fill_above) for band in recipe.bands):
            continue
        product = goods[first[pk].sku]
        if product.size is None or product.weight_mg is None:
            continue
        found += _differences(recipe.name, (recipe, recipe), (product, product), (desk, changed))
        shown += 1
        if shown == _SHOWN:
            break
    return found


def _differences(
    name: str,
    recipes: tuple[CoreRecipe, CoreRecipe],
    products: tuple[CoreProduct, CoreProduct],
    desks: tuple[Desk, Desk],
) -> list[Effect]:
    found = []
    for band, other in zip(recipes[0].bands, recipes[1].bands, strict=True):
        now = plan_of(recipes[0], band, products[0], desks[0])
        then = plan_of(recipes[1], other, products[1], desks[1])
        if isinstance(now, PlannedOrder) and isinstance(then, PlannedOrder):
            one, two = now.chosen.only, then.chosen.only
            grams = Decimal(two.weight.gross_mg - one.weight.gross_mg) / 1000
            found.append(
                Effect(
                    recipe=name,
                    band=size_of(band.first, band.last),
                    units=judged_units(band.first, band.last),
                    cost=two.costs.total - one.costs.total,
                    grams=grams.quantize(Decimal("0.1")),
                    service_was=one.quote.service_name,
                    service=two.quote.service_name,
                )
            )
    return found
