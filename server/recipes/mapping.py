"""Rows of products and recipe versions to the core's values."""

import json
from collections.abc import Iterable
from dataclasses import replace
from functools import lru_cache
from typing import cast

from core.recipes import goods
from core.recipes.damage import Arrivals
from core.recipes.model import Recipe as CoreRecipe
from core.units import Size
from server.formats.products import ProductItem
from server.formats.recipe import RecipeFile
from server.recipes.models import Product, RecipeVersion

__all__ = ["core_product", "core_products", "core_recipe", "product_item"]


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
        glass=row.glass,
        meltable=row.meltable,
        restricted=row.restricted,
        delicate_place=row.delicate_place,
        lowest_c=row.lowest_c,
        highest_c=row.highest_c,
        longest_days=row.longest_days,
        keeps_days=row.keeps_days,
        holds=tuple(row.holds),
        not_with=tuple(row.not_with),
        family=row.family,
    )


def core_products(rows: Iterable[Product], family_rows: Iterable[Product]) -> dict[str, goods.Product]:
    """Return the core's products by sku; what a variant lacks is taken from the largest known of its family."""
    families: dict[str, list[goods.Product]] = {}
    for row in family_rows:
        families.setdefault(row.family, []).append(core_product(row))
    return {
        row.sku: goods.with_family(core_product(row), families.get(row.family, []) if row.family else [])
        for row in rows
    }


def product_item(row: Product) -> ProductItem:
    """Return a product as the open file holds it."""
    plain = set(ProductItem.model_fields) - {"recipe", "size", "contents"}
    whole = row.length_um and row.width_um and row.height_um
    return ProductItem.model_validate(
        {
            **{name: getattr(row, name) for name in plain},
            "recipe": row.recipe.code if row.recipe else None,
            "size": {"length_um": row.length_um, "width_um": row.width_um, "height_um": row.height_um}
            if whole
            else None,
            "contents": row.contents,
        }
    )


def core_recipe(row: RecipeVersion, *, tried: bool = False, arrivals: Arrivals | None = None) -> CoreRecipe:
    """Return the core's recipe of a stored version.

    ``tried``: a test of it was passed; ``arrivals``: how parcels packed like it arrived.
    """
    recipe = _read(json.dumps(row.document), row.number)
    return replace(recipe, tried=tried, arrivals=arrivals) if tried or arrivals else recipe


@lru_cache(maxsize=256)
def _read(document: str, number: int) -> CoreRecipe:
    """A version is read once, not for every plan: it is frozen and never edited."""
    return RecipeFile.model_validate_json(document).core(number=number)
