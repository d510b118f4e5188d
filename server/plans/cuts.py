"""Keeping with each roll how narrow the narrowest piece is that is cut from it: by it offcuts are put back or thrown
away.
"""

from core.recipes.cuts import narrowest_cuts
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import versions_in_force, with_their_families
from server.supplies.mapping import core_cupboard
from server.supplies.models import Supply
from server.supplies.selectors import stock_of
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = ["refresh_narrowest_cuts"]


def refresh_narrowest_cuts(workshop: Workshop) -> None:
    """Work out the narrowest cut of every roll from all recipes and products, and write what changed."""
    rows = list(Product.objects.of(workshop).exclude(recipe=None))
    versions = versions_in_force(workshop, {row.recipe_id for row in rows if row.recipe_id is not None})
    recipes = {pk: core_recipe(version) for pk, version in versions.items()}
    goods = core_products(rows, with_their_families(workshop, rows))
    packed = [(goods[row.sku], recipes[row.recipe_id]) for row in rows if row.recipe_id in recipes]
    shelf, _, _ = core_cupboard(stock_of(workshop), judgements_of(workshop))
    narrowest = narrowest_cuts(packed, shelf.wraps)
    changed = []
    for supply in Supply.objects.of(workshop).filter(kind="wrap"):
        if supply.narrowest_cut_um != narrowest.get(supply.code):
            supply.narrowest_cut_um = narrowest.get(supply.code)
            changed.append(supply)
    Supply.objects.of(workshop).bulk_update(changed, ["narrowest_cut_um"])
