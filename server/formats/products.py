"""The products file: what is sold, its size, weight and nature (docs/formats/products.md)."""

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from core.recipes.goods import Fragility, Orientation
from server.formats.base import Code, FileModel, Money, Text, WeightMg
from server.formats.supplies import SizeUm

__all__ = ["ProductItem", "ProductsFile"]


class ProductItem(FileModel):
    """One product. Size and weight may be missing: its orders are held until they are known."""

    sku: Code
    name: Text
    recipe: Code | None = None
    shelf: Annotated[str, Field(max_length=8)] = ""
    size: SizeUm | None = None
    weight_mg: Annotated[WeightMg, Field(gt=0)] | None = None
    weight_spread_mg: WeightMg = 0
    goods_cost: Money = Decimal(0)
    orientation: Orientation = "upright"
    fragility: Fragility = "sturdy"
    load_on_top_mg: WeightMg | None = None
    food: bool = False
    scented: bool = False
    frozen: bool = False
    live: bool = False


class ProductsFile(FileModel):
    """The whole file."""

    format: Literal["calm-cupboard/products"]
    version: Literal[1]
    products: list[ProductItem]
