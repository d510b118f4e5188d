"""The products file: what is sold, its size, weight and nature (docs/formats/products.md)."""

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.recipes.goods import Fragility, Holds, Orientation
from server.formats.base import Code, FileModel, Money, Text, WeightMg
from server.formats.supplies import SizeUm

__all__ = ["ProductItem", "ProductsFile"]


Degrees = Annotated[int, Field(ge=-80, le=120, strict=True)]
Days = Annotated[int, Field(ge=1, le=3_650, strict=True)]


class ContentItem(FileModel):
    """So many of another product in a set."""

    sku: Code
    quantity: Annotated[int, Field(ge=1, le=500, strict=True)]


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
    glass: bool = False
    meltable: bool = False
    restricted: bool = False
    delicate_place: Annotated[str, Field(max_length=60)] = ""
    lowest_c: Degrees | None = None
    highest_c: Degrees | None = None
    longest_days: Days | None = None
    keeps_days: Days | None = None
    holds: Annotated[list[Holds], Field(max_length=5)] = []
    not_with: Annotated[list[Code], Field(max_length=40)] = []
    family: Annotated[str, Field(max_length=40)] = ""
    contents: Annotated[list[ContentItem], Field(max_length=30)] = []

    @model_validator(mode="after")
    def _makes_sense(self) -> "ProductItem":
        if self.lowest_c is not None and self.highest_c is not None and self.lowest_c > self.highest_c:
            raise ValueError(f"lowest_c {self.lowest_c} is above highest_c {self.highest_c}")
        if len(set(self.holds)) != len(self.holds):
            raise ValueError("holds: a word appears twice")
        skus = [item.sku for item in self.contents]
        if self.sku in skus:
            raise ValueError("contents: a set cannot hold itself")
        if len(set(skus)) != len(skus):
            raise ValueError("contents: a product appears twice; give it one line with the sum")
        return self


class ProductsFile(FileModel):
    """The whole file; as CSV it is read and written by ``products_csv``."""

    format: Literal["calm-cupboard/products"]
    version: Literal[1]
    products: list[ProductItem]
