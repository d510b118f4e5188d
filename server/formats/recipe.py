"""The recipe file: one packaging recipe with its order-size bands (docs/formats/recipe.md)."""

from dataclasses import asdict
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from core.care.thermal import MOST_PACKS
from core.errors import BadRecipe
from core.judgements import ORDINARY
from core.recipes.model import (
    TAPE_OVERHANG_UM,
    Ahead,
    Band,
    BandThermal,
    Closure,
    Cushion,
    InnerCarton,
    InsertAmount,
    Minutes,
    MixItem,
    Recipe,
    Sample,
    School,
    TapePattern,
    When,
    WrapLayer,
    check_bands,
)
from core.supplies.items import ClosureGrade
from server.formats.base import Code, FileModel, LengthUm, Money, Quantity, Text
from server.words import METRIC

__all__ = ["BandDoc", "RecipeFile", "RecipesFile", "document_of", "supplies_named"]

Line = Annotated[str, Field(min_length=1, max_length=160)]
_Gap = Annotated[LengthUm, Field(le=200_000)]


class LayerDoc(FileModel):
    """One layer of wrap."""

    wrap: Code
    turns: Annotated[Quantity, Field(gt=0, le=20)]
    ends_top: Annotated[int, Field(ge=0, le=20, strict=True)]
    ends_bottom: Annotated[int, Field(ge=0, le=20, strict=True)]
    compression: Annotated[Quantity, Field(gt=0, le=1)] = ORDINARY.compression
    overlap_um: LengthUm = ORDINARY.sheet_overlap_um
    per_units: Annotated[int, Field(ge=1, le=24, strict=True)] = 1


class CushionDoc(FileModel):
    """Least distances to the faces."""

    bottom_um: _Gap
    side_um: _Gap
    top_um: _Gap


class InnerDoc(FileModel):
    """An inner carton."""

    container: Code
    clearance_um: _Gap = ORDINARY.floating_um


class ClosureDoc(FileModel):
    """Closing the outer."""

    tape: Code
    pattern: TapePattern
    both_faces: bool = True
    overhang_um: _Gap = TAPE_OVERHANG_UM
    required_grade: ClosureGrade = "none"


_Day = Annotated[str, Field(pattern=r"^(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$")]


class WhenDoc(FileModel):
    """When an insert goes in; everything that is set must hold."""

    first_order: bool | None = None
    gift: bool | None = None
    least_value: Money | None = None
    with_goods: Code | None = None
    without_goods: Code | None = None
    countries: Annotated[list[Annotated[str, Field(pattern=r"^[A-Z]{3}$")]], Field(max_length=60)] = []
    season: Annotated[list[_Day], Field(min_length=2, max_length=2)] | None = None

    def core(self) -> When:
        """Return the core's value."""
        season = (self.season[0], self.season[1]) if self.season else None
        own = self.model_dump(exclude={"countries", "season"})
        return When(**own, countries=tuple(self.countries), season=season)


class SampleDoc(FileModel):
    """A sample insert and the product it is a sample of."""

    insert: Code
    sku: Code


class InsertDoc(FileModel):
    """An insert with its amount rule."""

    insert: Code
    amount: Annotated[int, Field(ge=1, le=500, strict=True)]
    per: Literal["unit", "group", "layer", "parcel", "order", "product"]
    group_of: Annotated[int, Field(ge=1, le=500, strict=True)] = 1
    place: Literal["bottom", "between", "top", "outside"] = "top"
    required: bool = False
    when: WhenDoc | None = None
    samples: Annotated[list[SampleDoc], Field(max_length=40)] = []

    def core(self) -> InsertAmount:
        """Return the core's value."""
        return InsertAmount(
            **self.model_dump(exclude={"when", "samples"}),
            when=self.when.core() if self.when else None,
            samples=tuple(Sample(insert=one.insert, sku=one.sku) for one in self.samples),
        )


class MinutesDoc(FileModel):
    """Minutes of hands."""

    per_unit: Annotated[Quantity, Field(ge=0, le=600)]
    per_parcel: Annotated[Quantity, Field(ge=0, le=600)]
    per_order: Annotated[Quantity, Field(ge=0, le=600)] = Decimal(0)


class AheadDoc(FileModel):
    """Something to do before the packing."""

    what: Line
    hours_before: Annotated[Quantity, Field(gt=0, le=2_000)]
    minutes: Annotated[Quantity, Field(ge=0, le=600)] = Decimal(0)


class MixDoc(FileModel):
    """So many of one product in a named mix."""

    sku: Code
    quantity: Annotated[int, Field(ge=1, le=500, strict=True)]


class ThermalDoc(FileModel):
    """What keeps goods of a band cold or warm: a liner, kinds of pack in the order they are tried."""

    liner: Code | None = None
    packs: Annotated[list[Code], Field(max_length=6)] = []
    when: Literal["always", "needed"] = "needed"
    least: Annotated[int, Field(ge=0, le=MOST_PACKS, strict=True)] = 0

    @field_validator("liner", mode="before")
    @classmethod
    def _none(cls, given: object) -> object:
        return None if given == "" else given

    @model_validator(mode="after")
    def _something(self) -> "ThermalDoc":
        if not self.liner and not self.packs:
            raise ValueError("name a liner or a pack, or leave thermal out")
        return self

    def core(self) -> BandThermal:
        """Return the core's value."""
        return BandThermal(liner=self.liner or "", packs=tuple(self.packs), when=self.when, least=self.least)


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
    proud_percent: Annotated[int, Field(ge=0, le=50, strict=True)] = ORDINARY.proud_percent
    closure: ClosureDoc | None
    inserts: Annotated[list[InsertDoc], Field(max_length=20)]
    marks: Annotated[list[Line], Field(max_length=8)]
    minutes: MinutesDoc
    school: School = "fill_tight"
    divider: Code | None = None
    fill_below: Code | None = None
    fill_above: Code | None = None
    unit_box_sealed: bool = False
    steps: Annotated[list[Line], Field(max_length=8)] = []
    thermal: ThermalDoc | None = None

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
            inserts=tuple(insert.core() for insert in self.inserts),
            marks=tuple(self.marks),
            minutes=Minutes(**self.minutes.model_dump()),
            school=self.school,
            divider=self.divider,
            fill_below=self.fill_below,
            fill_above=self.fill_above,
            unit_box_sealed=self.unit_box_sealed,
            steps=tuple(self.steps),
            thermal=self.thermal.core() if self.thermal else None,
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
    closed_checks: Annotated[list[Line], Field(max_length=12)] = []
    mailer_checks: Annotated[list[Line], Field(max_length=12)] = []
    cautions: Annotated[list[Line], Field(max_length=12)] = []
    bands: Annotated[list[BandDoc], Field(min_length=1, max_length=24)]
    buyer_note: Annotated[str, Field(max_length=200)] = ""
    ahead: Annotated[list[AheadDoc], Field(max_length=8)] = []
    trial_needed: bool = False
    mix: Annotated[list[MixDoc], Field(max_length=12)] = []

    @model_validator(mode="after")
    def _mix_once(self) -> "RecipeFile":
        skus = [item.sku for item in self.mix]
        if len(set(skus)) != len(skus):
            raise ValueError("mix: a product appears twice; give it one line with the sum")
        return self

    @model_validator(mode="after")
    def _bands_follow(self) -> "RecipeFile":
        try:
            check_bands(self.core(number=0))
        except BadRecipe as error:
            raise ValueError(METRIC.of(error.faults)) from None
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
            closed_checks=tuple(self.closed_checks),
            mailer_checks=tuple(self.mailer_checks),
            cautions=tuple(self.cautions),
            bands=tuple(band.core() for band in self.bands),
            buyer_note=self.buyer_note,
            ahead=tuple(Ahead(**one.model_dump()) for one in self.ahead),
            trial_needed=self.trial_needed,
            mix=tuple(MixItem(**one.model_dump()) for one in self.mix),
        )


class RecipesFile(FileModel):
    """Many recipes in one file."""

    format: Literal["calm-cupboard/recipes"]
    version: Literal[1]
    recipes: Annotated[list[RecipeFile], Field(max_length=2_000)]

    @model_validator(mode="after")
    def _codes_once(self) -> "RecipesFile":
        codes = [one.code for one in self.recipes]
        twice = sorted({code for code in codes if codes.count(code) > 1})
        if twice:
            raise ValueError(f"these codes appear more than once: {', '.join(twice)}")
        return self


def document_of(recipe: Recipe) -> RecipeFile:
    """Return the file of a core recipe: its fields bear the same names."""
    values = asdict(recipe)
    for of_a_version in ("version", "tried", "arrivals"):
        del values[of_a_version]
    return RecipeFile.model_validate(_plain({"format": "calm-cupboard/recipe", "version": 1, **values}))


def _plain(value: object) -> object:
    """Return lists for tuples all the way down: a file has no others."""
    if isinstance(value, dict):
        return {key: _plain(one) for key, one in value.items()}
    return [_plain(one) for one in value] if isinstance(value, list | tuple) else value


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
        if band.divider:
            found[f"{path}.divider"] = (band.divider, {"insert"})
        if band.unit_box:
            found[f"{path}.unit_box"] = (band.unit_box, {"unit_box"})
        if band.inner:
            found[f"{path}.inner.container"] = (band.inner.container, {"carton"})
        for field in ("fill", "fill_below", "fill_above"):
            code = getattr(band, field)
            if code:
                found[f"{path}.{field}"] = (code, {"fill"})
        if band.thermal:
            if band.thermal.liner:
                found[f"{path}.thermal.liner"] = (band.thermal.liner, {"insert"})
            for i, pack in enumerate(band.thermal.packs):
                found[f"{path}.thermal.packs[{i}]"] = (pack, {"insert"})
        if band.closure:
            found[f"{path}.closure.tape"] = (band.closure.tape, {"tape"})
    return found
