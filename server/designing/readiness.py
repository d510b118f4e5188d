"""Readiness of products, in a fixed number of queries for a page of them."""

from collections.abc import Sequence

from core.designing.readiness import SizeReadiness, readiness_of
from core.recipes.model import Recipe as CoreRecipe
from server.designing.desk import desk_of, reorder_marks
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import arrivals_of, tried_versions, versions_in_force, with_their_families
from server.supplies.selectors import stock_of
from server.workshops.models import Workshop

__all__ = ["of_products"]


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
    return [
        (row, readiness_of(goods[row.sku], recipes.get(row.recipe_id or 0), desk, workshop.policies, marks))
        for row in rows
    ]
