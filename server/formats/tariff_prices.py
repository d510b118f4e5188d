"""The prices in a tariff file: limits, volumetric weight, steps and zone tables (docs/formats/tariff.md)."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from core.tariffs.model import (
    Format,
    Increment,
    Limits,
    VolumetricRule,
    WeightStep,
    ZoneRule,
    ZoneTable,
)
from core.tariffs.zones import plain_postcode
from server.formats.base import Code, FileModel, LengthUm, Money, Text, WeightMg
from server.words.faults import SeveralFaults

__all__ = [
    "Count", "Country", "FormatDoc", "Limit", "LimitsDoc", "UpTo", "VolumetricDoc", "Zone", "ZoneRuleDoc",
    "ZoneTableDoc", "twice",
]  # fmt: skip

Zone = Annotated[str, Field(min_length=1, max_length=12)]
UpTo = Annotated[WeightMg, Field(gt=0)]
Limit = Annotated[LengthUm, Field(gt=0)]
Count = Annotated[int, Field(gt=0, le=10**9, strict=True)]
Country = Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
_Days = Annotated[int, Field(ge=0, le=60, strict=True)]

_Prefix = Annotated[str, Field(max_length=10)]

#: More steps than this no list writes out; evenly rising ones are a base with increments.
_MOST_STEPS = 500


def twice(codes: list[str], what: str) -> list[str]:
    """Return an error for every code that appears more than once."""
    return [f"{what} {code} appears more than once" for code in dict.fromkeys(codes) if codes.count(code) > 1]


class ZoneRuleDoc(FileModel):
    """Postcodes of one country that make up one zone, by beginnings or ranges; ``[""]`` is the whole country."""

    zone: Zone
    country: Country
    prefixes: Annotated[list[_Prefix], Field(max_length=2000)] = []
    ranges: Annotated[
        list[Annotated[list[Annotated[str, Field(min_length=1, max_length=10)]], Field(min_length=2, max_length=2)]],
        Field(max_length=2000),
    ] = []
    origin_country: Country | None = None
    origin_prefixes: Annotated[list[_Prefix], Field(min_length=1, max_length=200)] = [""]

    @model_validator(mode="after")
    def _said(self) -> "ZoneRuleDoc":
        if not self.prefixes and not self.ranges:
            raise ValueError('name prefixes or ranges of postcodes; [""] is the whole country')
        if self.origin_country is None and self.origin_prefixes != [""]:
            raise ValueError("origin_prefixes need the origin_country they are of")
        for first, last in self.ranges:
            one, other = plain_postcode(first), plain_postcode(last)
            if len(one) != len(other):
                raise ValueError(f"range {first} to {last}: both ends must be equally long")
            if one > other:
                raise ValueError(f"range {first} to {last} runs backwards")
        return self

    def core(self) -> list[ZoneRule]:
        """Return the core's rules, one a prefix or range and origin."""
        return [
            ZoneRule(
                zone=self.zone,
                country=self.country,
                prefix=plain_postcode(prefix),
                first=plain_postcode(first),
                last=plain_postcode(last),
                origin_country=self.origin_country or "",
                origin_prefix=plain_postcode(origin),
            )
            for prefix, first, last in [*((p, "", "") for p in self.prefixes), *(("", f, la) for f, la in self.ranges)]
            for origin in (self.origin_prefixes if self.origin_country else [""])
        ]


class LimitsDoc(FileModel):
    """What the service takes."""

    new_in_2: ClassVar[frozenset[str]] = frozenset(
        {"sum_of_sides_um", "longest_min_um", "second_min_um", "thickness_min_um"}
    )
    longest_um: Limit | None = None
    second_um: Limit | None = None
    girth_um: Limit | None = None
    length_plus_girth_um: Limit | None = None
    thickness_um: Limit | None = None
    sum_of_sides_um: Limit | None = None
    longest_min_um: Limit | None = None
    second_min_um: Limit | None = None
    thickness_min_um: Limit | None = None
    volume_cm3: Count | None = None
    min_mg: UpTo | None = None
    max_mg: UpTo | None = None

    @model_validator(mode="after")
    def _ends_meet(self) -> "LimitsDoc":
        wrong = []
        if self.min_mg is not None and self.max_mg is not None and self.min_mg > self.max_mg:
            wrong.append(f"the least weight {self.min_mg} mg is above the most, {self.max_mg} mg")
        for name in ("longest", "second", "thickness"):
            least, most = getattr(self, f"{name}_min_um"), getattr(self, f"{name}_um")
            if least is not None and most is not None and least > most:
                wrong.append(f"the least {name} {least} um is above the most, {most} um")
        if wrong:
            raise SeveralFaults(wrong)
        return self

    def core(self) -> Limits:
        """Return the core's limits."""
        return Limits(**self.model_dump())


class VolumetricDoc(FileModel):
    """Volumetric weight."""

    divisor_cm3_per_kg: Annotated[int, Field(gt=0, le=100_000, strict=True)]
    round_up_um: Annotated[LengthUm, Field(gt=0)] = 10_000
    rounding: Literal["up", "nearest"] = "up"
    above_cm3: Annotated[int, Field(ge=0, le=10**9, strict=True)] = 0
    zones: Annotated[list[Zone], Field(max_length=200)] = []
    formats: Annotated[list[Code], Field(max_length=20)] = []

    new_in_2: ClassVar[frozenset[str]] = frozenset({"formats"})

    def core(self) -> VolumetricRule:
        """Return the core's rule."""
        return VolumetricRule(**{**self.model_dump(), "zones": tuple(self.zones), "formats": tuple(self.formats)})


class StepDoc(FileModel):
    """A price up to a weight. ``above_mg``, when given, must be where the step before ends."""

    above_mg: WeightMg | None = None
    up_to_mg: UpTo
    price: Money


class IncrementDoc(FileModel):
    """A base price up to a weight and so much for each begun increment above it."""

    first_mg: UpTo
    base: Money
    each_mg: UpTo
    each: Money
    max_mg: UpTo

    @model_validator(mode="after")
    def _ends_rise(self) -> "IncrementDoc":
        if self.max_mg < self.first_mg:
            raise ValueError(f"the most, {self.max_mg} mg, is below the first weight, {self.first_mg} mg")
        return self


class ZoneTableDoc(FileModel):
    """Prices and days of one zone: steps, or a base and increments."""

    zone: Zone
    transit_days: _Days
    steps: Annotated[list[StepDoc], Field(max_length=_MOST_STEPS)] = []
    increment: IncrementDoc | None = None

    @model_validator(mode="after")
    def _steps_rise(self) -> "ZoneTableDoc":
        if bool(self.steps) == (self.increment is not None):
            raise ValueError("give steps, or a base with increments, and not both")
        wrong = []
        end = 0
        for at, step in enumerate(self.steps):
            if at and step.up_to_mg <= end:
                wrong.append(f"step {step.up_to_mg} mg does not come after {end} mg; put them in rising order")
            if step.above_mg is not None and step.above_mg != end:
                kind = "gap" if step.above_mg > end else "overlap"
                wrong.append(
                    f"{kind}: the step to {step.up_to_mg} mg begins above {step.above_mg} mg, the one "
                    f"before ends at {end} mg"
                )
            end = step.up_to_mg
        if wrong:
            raise SeveralFaults(wrong)
        return self

    def core(self) -> ZoneTable:
        """Return the core's table."""
        increment = Increment(**self.increment.model_dump()) if self.increment else None
        steps = tuple(WeightStep(up_to_mg=s.up_to_mg, price=s.price) for s in self.steps)
        return ZoneTable(
            zone=self.zone,
            transit_days=self.transit_days,
            steps=steps,
            increment=increment,
        )


class FormatDoc(FileModel):
    """A class of sizes with its own prices."""

    code: Code
    name: Text
    limits: LimitsDoc
    zones: Annotated[list[ZoneTableDoc], Field(min_length=1, max_length=200)]

    def core(self) -> Format:
        """Return the core's format."""
        return Format(
            code=self.code, name=self.name, limits=self.limits.core(), zones=tuple(t.core() for t in self.zones)
        )
