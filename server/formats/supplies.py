"""The supplies file: what is in the cupboard (docs/formats/supplies.md), to and from the core's values."""

from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, model_validator

from core.judgements import ORDINARY, Judgements
from core.supplies.items import (
    OWN_GRADES,
    Board,
    BoardStrength,
    Bond,
    ClosureGrade,
    Container,
    CutDown,
    Fill,
    FillMeasure,
    FillUnit,
    Insert,
    Liner,
    Mailer,
    OwnClosure,
    PackKind,
    Tape,
    Telescope,
    ThermalPack,
    ToolCaution,
    UnitBox,
    Wrap,
    outer_of,
    spread_percent_of,
)
from core.units import Size
from server.formats.base import Code, FileModel, LengthUm, Money, Quantity, Text, WeightMg

__all__ = [
    "STOCK_UNITS",
    "CartonFacts",
    "Facts",
    "OffcutRule",
    "StockUnit",
    "SuppliesFile",
    "SupplyItem",
    "facts_of",
    "item_of",
]

StockUnit = Literal["pieces", "m2", "l", "m"]
#: The stock unit of each kind of supply.
STOCK_UNITS: dict[str, StockUnit] = {
    "carton": "pieces",
    "mailer": "pieces",
    "unit_box": "pieces",
    "insert": "pieces",
    "wrap": "m2",
    "fill": "l",
    "tape": "m",
}


class SizeUm(FileModel):
    """Length, width, height in um."""

    length_um: Annotated[LengthUm, Field(gt=0)]
    width_um: Annotated[LengthUm, Field(gt=0)]
    height_um: Annotated[LengthUm, Field(gt=0)]

    def core(self) -> Size:
        """Return the core's size."""
        return Size(length_um=self.length_um, width_um=self.width_um, height_um=self.height_um)


#: What becomes of the strip beside a sheet that is cut from a roll: put back when it is as wide as the narrowest cut of
#: any recipe that uses the roll, thrown away, always put back, or put back from a width on.
OffcutRule = Literal["narrowest", "thrown_away", "kept", "kept_from"]
Material = Literal["paper", "card", "plant", "textile", "wood", "glass", "metal", "plastic", "foam"]


class OfMaterial(FileModel):
    """What every supply is made of, for the workshop's policies; None: paper or board."""

    material: Material | None = None


class OfBond(FileModel):
    """What a glue asks for: time until it holds fully, and the humidity above which it is weak."""

    full_strength_minutes: Annotated[int, Field(ge=0, le=20_160, strict=True)] = 0
    weak_above_percent: Annotated[int, Field(ge=1, le=99, strict=True)] | None = None

    def bond(self) -> Bond:
        """Return the core's value."""
        return Bond(full_strength_minutes=self.full_strength_minutes, weak_above_percent=self.weak_above_percent)


class CutFacts(FileModel):
    """How a carton may be cut lower: at score lines, or at any whole millimetre when none are named."""

    heights_um: Annotated[list[Annotated[LengthUm, Field(gt=0)]], Field(max_length=20)] = []
    lowest_um: Annotated[LengthUm, Field(gt=0)]
    minutes: Annotated[Quantity, Field(ge=0, le=60)]

    def core(self) -> CutDown:
        """Return the core's value."""
        return CutDown(heights_um=tuple(sorted(self.heights_um)), lowest_um=self.lowest_um, minutes=self.minutes)


class TelescopeFacts(FileModel):
    """Two of this carton slide over each other."""

    overlap_um: Annotated[LengthUm, Field(gt=0)] = 100_000
    minutes: Annotated[Quantity, Field(ge=0, le=60)]


class StrengthFacts(FileModel):
    """What the carton's maker says of the board."""

    ect_n_per_m: Annotated[int, Field(ge=500, le=50_000, strict=True)]
    caliper_um: Annotated[LengthUm, Field(gt=0, le=30_000)]


class CartonFacts(OfMaterial, OfBond):
    """A carton; ``outer`` only when it was measured; the bond is that of its own strip."""

    kind: Literal["carton"]
    inner: SizeUm
    outer: SizeUm | None = None
    tare_mg: WeightMg
    max_load_mg: Annotated[WeightMg, Field(gt=0)]
    board: Board
    cut: CutFacts | None = None
    strength: StrengthFacts | None = None
    telescope: TelescopeFacts | None = None
    one_off: bool = False
    closes: OwnClosure | None = None
    old_marks: bool = False

    @model_validator(mode="after")
    def _overlap_is_shorter(self) -> "CartonFacts":
        if self.telescope and self.telescope.overlap_um >= self.inner.length_um:
            raise ValueError(f"telescope: the overlap must be under the carton's own {self.inner.length_um} um")
        return self

    @model_validator(mode="after")
    def _cut_is_lower(self) -> "CartonFacts":
        if self.cut and any(h >= self.inner.height_um for h in (self.cut.lowest_um, *self.cut.heights_um)):
            raise ValueError(f"cut: every height must be under the carton's own {self.inner.height_um} um")
        return self

    @model_validator(mode="after")
    def _outside_holds_inside(self) -> "CartonFacts":
        if self.outer is not None:
            pairs = zip(self.outer.model_dump().values(), self.inner.model_dump().values(), strict=True)
            if any(out < inside for out, inside in pairs):
                raise ValueError("the outside is smaller than the inside")
        return self


class MailerFacts(OfMaterial, OfBond):
    """A soft envelope; the bond is that of its own strip."""

    kind: Literal["mailer"]
    flat_length_um: Annotated[LengthUm, Field(gt=0)]
    flat_width_um: Annotated[LengthUm, Field(gt=0)]
    seal_um: LengthUm
    wall_um: LengthUm
    tare_mg: WeightMg
    max_load_mg: Annotated[WeightMg, Field(gt=0)]
    halves: bool = False
    closes: OwnClosure = "flap"
    old_marks: bool = False

    @model_validator(mode="before")
    @classmethod
    def _grade_of_old(cls, given: Any) -> Any:
        """Files of before named the grade of its seal alone: take the closure that has it."""
        if not isinstance(given, dict) or "grade" not in given:
            return given
        rest = {key: value for key, value in given.items() if key != "grade"}
        kinds = [kind for kind, grade in OWN_GRADES.items() if grade == given["grade"]]
        if not kinds:
            raise ValueError(f"grade: one of none, resistant, evident; given: {str(given['grade'])[:30]}")
        return {"closes": kinds[0], **rest}


class UnitBoxFacts(OfMaterial):
    """A rigid box or tin for one unit."""

    kind: Literal["unit_box"]
    inner: SizeUm
    outer: SizeUm
    tare_mg: WeightMg


class WrapFacts(OfMaterial):
    """A wrap, from a roll or in sheets."""

    kind: Literal["wrap"]
    thickness_um: Annotated[LengthUm, Field(gt=0)]
    mg_per_m2: WeightMg
    food_contact: bool
    roll_width_um: LengthUm | None = None
    sheet_um: Annotated[list[Annotated[LengthUm, Field(gt=0)]], Field(min_length=2, max_length=2)] | None = None
    offcut: OffcutRule = "narrowest"
    offcut_from_um: Annotated[LengthUm, Field(gt=0)] | None = None
    caution: ToolCaution | None = None

    @model_validator(mode="after")
    def _offcut_width(self) -> "WrapFacts":
        if (self.offcut == "kept_from") != (self.offcut_from_um is not None):
            raise ValueError("offcut_from_um goes with the offcut rule kept_from, and only with it")
        if self.sheet_um is not None and self.roll_width_um:
            raise ValueError("a wrap is on a roll or in pre-cut sheets, not both: give roll_width_um or sheet_um")
        return self


class MeasureFacts(FileModel):
    """What hands take at a time; ``loose_l``: litres of loose stock in one of them, not for grams."""

    unit: FillUnit
    loose_l: Annotated[Quantity, Field(gt=0, le=1000)] = Decimal(1)

    def core(self) -> FillMeasure:
        """Return the core's value."""
        return FillMeasure(unit=self.unit, loose_l=self.loose_l)


class FillFacts(OfMaterial):
    """Loose fill."""

    kind: Literal["fill"]
    packing_factor: Annotated[Quantity, Field(gt=0, le=5)]
    packed_mg_per_l: WeightMg
    bulge_um: Annotated[LengthUm, Field(le=25_000)]
    measure: MeasureFacts = MeasureFacts(unit="litre")
    holds_mg: Annotated[WeightMg, Field(gt=0)] | None = None
    sinks: bool = False
    bursts: bool = False


class TapeFacts(OfMaterial, OfBond):
    """Tape, strip or glue line."""

    kind: Literal["tape"]
    mg_per_m: WeightMg
    grade: ClosureGrade
    caution: ToolCaution | None = None


class LinerFacts(FileModel):
    """An insert that lines a carton: what lets how much heat through, by its material or measured with melting ice."""

    conductivity_mw_per_mk: Annotated[int, Field(ge=10, le=500, strict=True)] = 36
    tested_hours: Annotated[Quantity, Field(gt=0, le=500)] | None = None
    tested_room_c: Annotated[Quantity, Field(gt=0, le=45)] = Decimal(20)
    tested_inner: SizeUm | None = None
    fits: Annotated[list[Code], Field(max_length=20)] = []
    minutes: Annotated[Quantity, Field(ge=0, le=60)] = Decimal(1)

    @model_validator(mode="after")
    def _test_is_whole(self) -> "LinerFacts":
        if (self.tested_hours is None) != (self.tested_inner is None):
            raise ValueError(
                "the ice test is hours and inside together: give tested_hours and tested_inner, or neither"
            )
        return self

    def core(self) -> Liner:
        """Return the core's value."""
        return Liner(
            conductivity_mw_per_mk=self.conductivity_mw_per_mk,
            tested_hours=self.tested_hours,
            tested_room_c=self.tested_room_c,
            tested_inner=self.tested_inner.core() if self.tested_inner else None,
            fits=tuple(self.fits),
            minutes=self.minutes,
        )


class ThermalPackFacts(FileModel):
    """An insert that keeps goods cold or warm."""

    kind: PackKind
    length_um: Annotated[LengthUm, Field(gt=0)]
    width_um: Annotated[LengthUm, Field(gt=0)]
    melts_c: Annotated[Decimal, Field(ge=-80, le=60, decimal_places=1)] = Decimal(0)
    latent_j_per_g: Annotated[int, Field(ge=1, le=1_000, strict=True)] = 334
    start_c: Annotated[Decimal, Field(ge=-80, le=60, decimal_places=1)] = Decimal(-18)
    padded: bool = False
    freeze_hours: Annotated[Quantity, Field(ge=0, le=200)] = Decimal(12)
    soak_minutes: Annotated[int, Field(ge=0, le=1_440, strict=True)] = 0
    power_mw: Annotated[int, Field(ge=0, le=100_000, strict=True)] = 0
    rated_hours: Annotated[Quantity, Field(ge=0, le=500)] = Decimal(0)
    activate_minutes: Annotated[int, Field(ge=0, le=240, strict=True)] = 20
    air_um: Annotated[LengthUm, Field(le=100_000)] = 10_000
    minutes: Annotated[Quantity, Field(ge=0, le=60)] = Decimal("0.2")

    @model_validator(mode="after")
    def _heat_has_power(self) -> "ThermalPackFacts":
        if self.kind == "heat" and not (self.power_mw and self.rated_hours):
            raise ValueError("a heat pack needs its power and the hours it is rated for: power_mw and rated_hours")
        return self


class InsertFacts(OfMaterial):
    """A card, slip, label or sample; a liner; a pack that keeps goods cold or warm."""

    kind: Literal["insert"]
    weight_mg: WeightMg
    thickness_um: LengthUm = 0
    caution: ToolCaution | None = None
    liner: LinerFacts | None = None
    pack: ThermalPackFacts | None = None

    @model_validator(mode="after")
    def _one_thing(self) -> "InsertFacts":
        if self.liner is not None and self.pack is not None:
            raise ValueError("it is a liner or a pack, not both")
        if (self.liner is not None or self.pack is not None) and not self.thickness_um:
            raise ValueError("thickness_um: a liner or a pack takes room; measure how thick it is")
        return self


Facts = Annotated[
    CartonFacts | MailerFacts | UnitBoxFacts | WrapFacts | FillFacts | TapeFacts | InsertFacts,
    Field(discriminator="kind"),
]
_FACTS: TypeAdapter[Facts] = TypeAdapter(Facts)


class SupplyItem(FileModel):
    """One supply with its place and, for the first importing, what is on the shelf."""

    code: Code
    name: Text
    shelf: Annotated[str, Field(pattern=r"^[A-Z]$")]
    slot: Annotated[int, Field(ge=1, le=99, strict=True)]
    reorder_at: Annotated[Quantity, Field(ge=0)] | None = None
    on_hand: Annotated[Quantity, Field(ge=0)] = Decimal(0)
    unit_cost: Money
    facts: Facts
    #: Facts that are estimates until somebody measures: "tare_mg", "max_load_mg", "unit_cost".
    estimated: Annotated[list[Annotated[str, Field(max_length=30)]], Field(max_length=10)] = []


class SuppliesFile(FileModel):
    """The whole file."""

    format: Literal["calm-cupboard/supplies"]
    version: Literal[1]
    supplies: list[SupplyItem]

    @model_validator(mode="after")
    def _codes_once(self) -> "SuppliesFile":
        codes = [item.code for item in self.supplies]
        twice = sorted({code for code in codes if codes.count(code) > 1})
        if twice:
            raise ValueError(f"these codes appear more than once: {', '.join(twice)}")
        return self


def facts_of(document: object) -> Facts:
    """Return the typed facts of a stored supply."""
    return _FACTS.validate_python(document)


def item_of(
    code: str,
    name: str,
    facts: Facts,
    unit_cost: Decimal,
    narrowest_cut_um: int | None = None,
    judged: Judgements = ORDINARY,
) -> Container | Mailer | UnitBox | Wrap | Fill | Tape | Insert:
    """Return the core's value of one supply at its present average cost.

    ``narrowest_cut_um``: of a roll, the narrowest cut any recipe makes from it; None: none is known.
    """
    if isinstance(facts, CartonFacts):
        inner = facts.inner.core()
        outer = facts.outer.core() if facts.outer else outer_of(inner, facts.board, judged)
        return Container(
            code=code,
            name=name,
            inner=inner,
            outer=outer,
            tare_mg=facts.tare_mg,
            max_load_mg=facts.max_load_mg,
            unit_cost=unit_cost,
            board=facts.board,
            cut=facts.cut.core() if facts.cut else None,
            strength=BoardStrength(
                **facts.strength.model_dump(), safety_factor=judged.safety_factor, stack_um=judged.stack_um
            )
            if facts.strength
            else None,
            telescope=Telescope(**facts.telescope.model_dump()) if facts.telescope else None,
            closes=facts.closes,
            bond=facts.bond(),
            old_marks=facts.old_marks or facts.one_off,
        )
    own = facts.model_dump(exclude={"kind", "material", "full_strength_minutes", "weak_above_percent"})
    if isinstance(facts, MailerFacts):
        return Mailer(code=code, name=name, unit_cost=unit_cost, bond=facts.bond(), **own)
    if isinstance(facts, UnitBoxFacts):
        return UnitBox(
            code=code,
            name=name,
            unit_cost=unit_cost,
            inner=facts.inner.core(),
            outer=facts.outer.core(),
            tare_mg=facts.tare_mg,
        )
    if isinstance(facts, WrapFacts):
        return _wrap(code, name, facts, unit_cost, narrowest_cut_um, judged)
    if isinstance(facts, FillFacts):
        return Fill(
            code=code,
            name=name,
            unit_cost=unit_cost,
            **{**own, "measure": facts.measure.core(), "spread_percent": spread_percent_of(facts.measure.unit, judged)},
        )
    if isinstance(facts, TapeFacts):
        return Tape(code=code, name=name, unit_cost=unit_cost, bond=facts.bond(), **own)
    more = {
        "liner": facts.liner.core() if facts.liner else None,
        "pack": ThermalPack(**facts.pack.model_dump()) if facts.pack else None,
    }
    return Insert(code=code, name=name, unit_cost=unit_cost, **{**own, **more})


def _wrap(
    code: str, name: str, facts: WrapFacts, unit_cost: Decimal, narrowest_cut_um: int | None, judged: Judgements
) -> Wrap:
    kept_from: dict[OffcutRule, int | None] = {
        "narrowest": narrowest_cut_um,
        "thrown_away": None,
        "kept": 1,
        "kept_from": facts.offcut_from_um,
    }
    return Wrap(
        code=code,
        name=name,
        thickness_um=facts.thickness_um,
        mg_per_m2=facts.mg_per_m2,
        unit_cost=unit_cost,
        food_contact=facts.food_contact,
        roll_width_um=facts.roll_width_um,
        offcut_from_um=kept_from[facts.offcut],
        sheet_um=(facts.sheet_um[0], facts.sheet_um[1]) if facts.sheet_um else None,
        caution=facts.caution,
        fold_um=judged.fold_um,
    )
