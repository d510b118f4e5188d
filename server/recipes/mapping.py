"""Rows of products and recipe versions to the core's values."""

from typing import cast

from core.recipes import goods
from core.recipes.model import Recipe as CoreRecipe
from core.units import Size
from server.formats.recipe import RecipeFile
from server.recipes.models import Product, RecipeVersion

__all__ = ["core_product", "core_recipe"]


def core_product(row: Product) -> goods.Product:
    """Return the core's product; its size only when all three sides are known."""
    size = None
    if row.length_um and row.width_um and row.height_um:
        size = Size(length_um=row.length_um, width_um=row.width_um, height_um=row.height_um)
    return goods.Product(
        sku=row.sku,
        name=row.name,
        size=size,
        weight_mg=row.weight_mg,
        weight_spread_mg=row.weight_spread_mg,
        goods_cost=row.goods_cost,
        orientation=cast(goods.Orientation, row.orientation),
        fragility=cast(goods.Fragility, row.fragility),
        load_on_top_mg=row.load_on_top_mg,
        food=row.food,
        scented=row.scented,
        frozen=row.frozen,
        live=row.live,
    )


def core_recipe(row: RecipeVersion) -> CoreRecipe:
    """Return the core's recipe of a stored version."""
    return RecipeFile.model_validate(row.document).core(number=row.number)
