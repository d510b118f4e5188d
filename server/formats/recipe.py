"""The recipe file: one packaging recipe with its order-size bands (docs/formats/recipe.md)."""

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.errors import BadRecipe
from core.recipes.model import (
    Band,
    Closure,
    Cushion,
    InnerCarton,
    InsertAmount,
    Minutes,
    Recipe,
    TapePattern,
    WrapLayer,
    check_bands,
)
from core.supplies.items import ClosureGrade
from server.formats.base import Code, FileModel, LengthUm, Quantity, Text

__all__ = ["BandDoc", "RecipeFile", "supplies_named"]

Line = Annotated[str, Field(min_length=1, max_length=160)]
_Gap = Annotated[LengthUm, Field(le=200_000)]


class LayerDoc(FileModel):
    """One layer of wrap."""

    wrap: Code
    turns: Annotated[Quantity, Field(gt=0, le=20)]
    ends_top: Annotated[int, Field(ge=0, le=20, strict=True)]
    ends_bottom: Annotated[int, Field(ge=0, le=20, strict=True)]
    compression: Annotated[Quantity, Field(gt=0, le=1)] = Decimal("0.9")
    overlap_um: LengthUm = 50_000


class CushionDoc(FileModel):
    """Least distances to the faces."""

    bottom_um: _Gap
    side_um: _Gap
    top_um: _Gap


class InnerDoc(FileModel):
    """An inner carton."""

    container: Code
    clearance_um: _Gap = 25_000


class ClosureDoc(FileModel):
    """Closing the outer."""

    tape: Code
    pattern: TapePattern
    both_faces: bool = True
    overhang_um: _Gap = 65_000
    required_grade: ClosureGrade = "none"


class InsertDoc(FileModel):
    """An insert with its amount rule."""

    insert: Code
    amount: Annotated[int, Field(ge=1, le=500, strict=True)]
    per: Literal["unit", "parcel"]
    place: Literal["bottom", "between", "top", "outside"] = "top"
    required: bool = False


class MinutesDoc(FileModel):
    """Minutes of hands."""

    per_unit: Annotated[Quantity, Field(ge=0, le=600)]
    per_parcel: Annotated[Quantity, Field(ge=0, le=600)]


class BandDoc(FileModel):
    """One order-size band; its fields stand in ``docs/formats/recipe.md``."""

    first: Annotated[int, Field(ge=1, le=10_000, strict=True)]
    last: Annotated[int, Field(ge=1, le=10_000, strict=True)]
    layers: Annotated[list[LayerDoc], Field(max_length=12)]
    unit_box: Code | None = None
    inner: InnerDoc | None = None
    outers: Annotated[list[Code], Field(max_length=20)]
    any_outer: bool = False
    gap_um: _Gap
    cushion: CushionDoc
    fill: Code | None
    proud_percent: Annotated[int, Field(ge=0, le=50, strict=True)] = 5
    closure: ClosureDoc | None
    inserts: Annotated[list[InsertDoc], Field(max_length=20)]
    marks: Annotated[list[Line], Field(max_length=8)]
    minutes: MinutesDoc

    def core(self) -> Band:
        """Return the core's band."""
        return Band(
            first=self.first,
            last=self.last,
            layers=tuple(WrapLayer(**layer.model_dump()) for layer in self.layers),
            unit_box=self.unit_box,
            inner=InnerCarton(**self.inner.model_dump()) if self.inner else None,
            outers=tuple(self.outers),
            any_outer=self.any_outer,
            gap_um=self.gap_um,
            cushion=Cushion(**self.cushion.model_dump()),
            fill=self.fill,
            proud_percent=self.proud_percent,
            closure=Closure(**self.closure.model_dump()) if self.closure else None,
            inserts=tuple(InsertAmount(**insert.model_dump()) for insert in self.inserts),
            marks=tuple(self.marks),
            minutes=Minutes(**self.minutes.model_dump()),
        )


class RecipeFile(FileModel):
    """The whole file."""

    format: Literal["calm-cupboard/recipe"]
    version: Literal[1]
    code: Code
    name: Text
    goods_checks: Annotated[list[Line], Field(max_length=12)]
    wrap_note: Annotated[str, Field(max_length=200)] = ""
    proving_checks: Annotated[list[Line], Field(max_length=12)]
    cautions: Annotated[list[Line], Field(max_length=12)] = []
    bands: Annotated[list[BandDoc], Field(min_length=1, max_length=12)]

    @model_validator(mode="after")
    def _bands_follow(self) -> "RecipeFile":
        try:
            check_bands(self.core(number=0))
        except BadRecipe as error:
            raise ValueError(" ".join(error.faults)) from None
        return self

    def core(self, *, number: int) -> Recipe:
        """Return the core's recipe; ``number`` is its version in the workshop."""
        return Recipe(
            code=self.code,
            name=self.name,
            version=number,
            goods_checks=tuple(self.goods_checks),
            wrap_note=self.wrap_note,
            proving_checks=tuple(self.proving_checks),
            cautions=tuple(self.cautions),
            bands=tuple(band.core() for band in self.bands),
        )


def supplies_named(recipe: RecipeFile) -> dict[str, tuple[str, set[str]]]:
    """Return each supply code the recipe names with its path and the kinds it may be of."""
    found: dict[str, tuple[str, set[str]]] = {}
    for at, band in enumerate(recipe.bands):
        path = f"bands[{at}]"
        for i, layer in enumerate(band.layers):
            found[f"{path}.layers[{i}].wrap"] = (layer.wrap, {"wrap"})
        for i, outer in enumerate(band.outers):
            found[f"{path}.outers[{i}]"] = (outer, {"carton", "mailer"})
        for i, insert in enumerate(band.inserts):
            found[f"{path}.inserts[{i}].insert"] = (insert.insert, {"insert"})
        if band.unit_box:
            found[f"{path}.unit_box"] = (band.unit_box, {"unit_box"})
        if band.inner:
            found[f"{path}.inner.container"] = (band.inner.container, {"carton"})
        if band.fill:
            found[f"{path}.fill"] = (band.fill, {"fill"})
        if band.closure:
            found[f"{path}.closure.tape"] = (band.closure.tape, {"tape"})
    return found
