"""What turning a policy on would change, and doing it: a new version of each recipe a person agrees to."""

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal

from django.db import transaction
from pydantic import BaseModel

from core.designing.cupboard import Desk, planned_for
from core.designing.policies import Breach, Policy, breaches_of, obeying
from core.messages import Text, say
from core.parcels.plan import PlannedOrder
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Recipe as CoreRecipe
from core.recipes.model import judged_units, size_of
from server.designing.desk import desk_of
from server.formats.recipe import document_of
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product, Recipe, RecipeVersion
from server.recipes.selectors import versions_in_force, with_their_families
from server.recipes.services import add_version
from server.words import words_of
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["PolicyEffect", "effects_of", "obey"]


class BandEffect(BaseModel):
    """One band before and after; differences are after less before, None when one of them cannot be planned."""

    band: Text
    units: int
    cost: Decimal | None
    grams: Decimal | None
    minutes: Decimal | None
    problem: Text = ""


class PolicyEffect(BaseModel):
    """A recipe that breaks the policy, and what keeping to it would mean."""

    recipe_id: int
    recipe: str
    breaches: list[Breach]
    left: list[Text]
    bands: list[BandEffect]


def effects_of(workshop: Workshop, policy: Policy) -> list[PolicyEffect]:
    """Return every recipe that breaks the policy, with the difference in cost, grams and minutes."""
    desk = desk_of(workshop)
    found = []
    for row, version, products in _recipes(workshop):
        recipe = replace(core_recipe(version), tried=True)
        breaches = breaches_of(recipe, products, desk, [policy])
        if not breaches or not products:
            continue
        other, left = obeying(recipe, products, desk, policy)
        found.append(
            PolicyEffect(
                recipe_id=row.pk,
                recipe=row.name,
                breaches=list(breaches),
                left=list(left),
                bands=_differences(recipe, other, products[0], desk),
            )
        )
    return found


@transaction.atomic
def obey(*, by: Member, policy: Policy, recipe_ids: Sequence[int]) -> tuple[list[str], list[Text]]:
    """Make a new version of these recipes that keeps to the policy; return what was made and what stayed."""
    lock_workshop(by.workshop)
    desk = desk_of(by.workshop)
    made: list[str] = []
    stayed: list[Text] = []
    name = words_of(by.workshop.unit_system).of(say(f"policy_{policy}")).lower()
    for row, version, products in _recipes(by.workshop):
        if row.pk not in recipe_ids:
            continue
        recipe = core_recipe(version)
        other, left = obeying(recipe, products, desk, policy)
        stayed += [say("of_recipe", recipe=row.name, text=words) for words in left]
        if other != recipe:
            new = add_version(
                by=by,
                recipe_id=row.pk,
                base_version=version.number,
                document=document_of(other).model_dump(mode="json"),
                reason=f"Policy: {name}",
            )
            made.append(f"{row.name}, version {new.number}")
    return made, stayed


def _recipes(workshop: Workshop) -> list[tuple[Recipe, RecipeVersion, tuple[CoreProduct, ...]]]:
    rows = list(Recipe.objects.of(workshop))
    versions = versions_in_force(workshop, [row.pk for row in rows])
    products = list(Product.objects.of(workshop).filter(recipe__isnull=False))
    goods = core_products(products, with_their_families(workshop, products))
    packed: dict[int, list[CoreProduct]] = {}
    for product in products:
        if product.recipe_id is not None:
            packed.setdefault(product.recipe_id, []).append(goods[product.sku])
    return [(row, versions[row.pk], tuple(packed.get(row.pk, []))) for row in rows if row.pk in versions]


def _differences(before: CoreRecipe, after: CoreRecipe, product: CoreProduct, desk: Desk) -> list[BandEffect]:
    found = []
    for band in before.bands:
        units = judged_units(band.first, band.last)
        name = size_of(band.first, band.last)
        one, other = planned_for(before, product, units, desk), planned_for(after, product, units, desk)
        if not isinstance(one, PlannedOrder) or not isinstance(other, PlannedOrder):
            told = next(plan.missing[0].message for plan in (other, one) if not isinstance(plan, PlannedOrder))
            found.append(BandEffect(band=name, units=units, cost=None, grams=None, minutes=None, problem=told))
            continue
        mine, its = one.chosen, other.chosen
        grams = sum(c.weight.gross_mg for c in its.candidates) - sum(c.weight.gross_mg for c in mine.candidates)
        found.append(
            BandEffect(
                band=name,
                units=units,
                cost=its.costs.total - mine.costs.total,
                grams=(Decimal(grams) / 1000).quantize(Decimal("0.1")),
                minutes=its.minutes - mine.minutes,
            )
        )
    return found
