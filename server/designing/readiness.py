"""Readiness of products, in a fixed number of queries for a page of them."""

import pickle
from collections.abc import Sequence
from dataclasses import replace

from core.designing.readiness import SizeReadiness, plans_in_plenty, readiness_of
from core.parcels.plan import Blocked, PlannedOrder
from core.recipes.model import Recipe as CoreRecipe
from server.designing.desk import desk_of, reorder_marks
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import arrivals_of, tried_versions, versions_in_force, with_their_families
from server.supplies.selectors import stock_of
from server.workshops.models import Workshop
from server.workshops.remembered import Remembered

__all__ = ["of_products"]

#: Plans with plenty on the shelf, by all they rest on: of so many products.
_PLANS: Remembered[tuple[PlannedOrder | Blocked, ...]] = Remembered(most=128)


def of_products(workshop: Workshop, rows: Sequence[Product]) -> list[tuple[Product, tuple[SizeReadiness, ...]]]:
    """Return each product with what is missing for each band of its recipe."""
    stocks = stock_of(workshop)
    desk = desk_of(workshop, stocks)
    goods = core_products(rows, with_their_families(workshop, list(rows)))
    versions = versions_in_force(workshop, [row.recipe_id for row in rows if row.recipe_id])
    tried = tried_versions(workshop, [row.pk for row in versions.values()])
    arrived = arrivals_of(workshop, versions.values())
    recipes: dict[int, CoreRecipe] = {
        pk: core_recipe(row, tried=row.pk in tried, arrivals=arrived.get(row.pk)) for pk, row in versions.items()
    }
    marks = reorder_marks(stocks)
    plenty = replace(desk, facts=desk.plenty)
    same_for_all = pickle.dumps(plenty, 5)

    def ready(row: Product) -> tuple[SizeReadiness, ...]:
        product, recipe = goods[row.sku], recipes.get(row.recipe_id or 0)
        plans = (
            _PLANS.of((same_for_all, product, recipe), lambda: plans_in_plenty(product, recipe, plenty))
            if recipe is not None
            else None
        )
        return readiness_of(product, recipe, desk, workshop.policies, marks, plans)

    return [(row, ready(row)) for row in rows]
