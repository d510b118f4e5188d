"""The tariff file: one carrier's zones, services and prices from a date (docs/formats/tariff.md).

What is wrong with a file is a fault and nothing is taken in; what is odd but may be meant is told (``tariff_notes``).
"""

from datetime import time
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, field_serializer, model_validator

from core.recipes.goods import GoodsWord
from core.tariffs.model import (
    ExtraCover,
    FlatPrice,
    FlatRate,
    Format,
    Increment,
    Limits,
    Marking,
    Packaging,
    Service,
    Surcharge,
    Tariff,
    VolumetricRule,
    WeightStep,
    ZoneRule,
    ZoneTable,
)
from core.tariffs.zones import plain_postcode
from core.units import Size
from server.formats.base import Code, Day, FileModel, LengthUm, Money, Text, WeightMg

__all__ = ["TariffFile"]

_Zone = Annotated[str, Field(min_length=1, max_length=12)]
_UpTo = Annotated[WeightMg, Field(gt=0)]
_Limit = Annotated[LengthUm, Field(gt=0)]
_Count = Annotated[int, Field(gt=0, le=10**9, strict=True)]
_Country = Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
_Prefix = Annotated[str, Field(max_length=10)]
_Days = Annotated[int, Field(ge=0, le=60, strict=True)]
_Sides = Annotated[list[_Limit], Field(min_length=3, max_length=3)]

#: More steps than this no base and increment may come to.
_MOST_STEPS = 500


class ZoneRuleDoc(FileModel):
    """Postcodes of one country that make up one zone, by beginnings or ranges; ``[""]`` is the whole country."""

    zone: _Zone
    country: _Country
    prefixes: Annotated[list[_Prefix], Field(max_length=2000)] = []
    ranges: Annotated[
        list[Annotated[list[Annotated[str, Field(min_length=1, max_length=10)]], Field(min_length=2, max_length=2)]],
        Field(max_length=2000),
    ] = []
    origin_country: _Country | None = None
    origin_prefixes: Annotated[list[_Prefix], Field(min_length=1, max_length=200)] = [""]

    @model_validator(mode="after")
    def _said(self) -> "ZoneRuleDoc":
        if not self.prefixes and not self.ranges:
            raise ValueError('name prefixes or ranges of postcodes; [""] is the whole country')
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

    longest_um: _Limit | None = None
    second_um: _Limit | None = None
    girth_um: _Limit | None = None
    length_plus_girth_um: _Limit | None = None
    thickness_um: _Limit | None = None
    volume_cm3: _Count | None = None
    min_mg: _UpTo | None = None
    max_mg: _UpTo | None = None

    @model_validator(mode="after")
    def _ends_meet(self) -> "LimitsDoc":
        if self.min_mg is not None and self.max_mg is not None and self.min_mg > self.max_mg:
            raise ValueError(f"the least weight {self.min_mg} mg is above the most, {self.max_mg} mg")
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
    zones: Annotated[list[_Zone], Field(max_length=200)] = []

    def core(self) -> VolumetricRule:
        """Return the core's rule."""
        return VolumetricRule(**{**self.model_dump(), "zones": tuple(self.zones)})


class StepDoc(FileModel):
    """A price up to a weight. ``above_mg``, when given, must be where the step before ends."""

    above_mg: WeightMg | None = None
    up_to_mg: _UpTo
    price: Money


class IncrementDoc(FileModel):
    """A base price up to a weight and so much for each begun increment above it."""

    first_mg: _UpTo
    base: Money
    each_mg: _UpTo
    each: Money
    max_mg: _UpTo

    @model_validator(mode="after")
    def _few_steps(self) -> "IncrementDoc":
        if self.max_mg < self.first_mg:
            raise ValueError(f"the most, {self.max_mg} mg, is below the first weight, {self.first_mg} mg")
        if (self.max_mg - self.first_mg) // self.each_mg > _MOST_STEPS:
            raise ValueError(f"increments of {self.each_mg} mg come to more than {_MOST_STEPS} steps; make them larger")
        return self


class ZoneTableDoc(FileModel):
    """Prices and days of one zone: steps, or a base and increments."""

    zone: _Zone
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
                    f"{kind}: the step to {step.up_to_mg} mg begins above {step.above_mg} mg, the one before ends at {end} mg"
                )
            end = step.up_to_mg
        if wrong:
            raise ValueError("; ".join(wrong))
        return self

    def core(self) -> ZoneTable:
        """Return the core's table."""
        increment = Increment(**self.increment.model_dump()) if self.increment else None
        steps = tuple(WeightStep(up_to_mg=s.up_to_mg, price=s.price) for s in self.steps)
        return ZoneTable(
            zone=self.zone,
            transit_days=self.transit_days,
            steps=increment.steps() if increment else steps,
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


class SurchargeDoc(FileModel):
    """A surcharge; every condition that is given must hold."""

    code: Code
    name: Text
    kind: Literal["fixed", "percent"]
    amount: Money
    zones: Annotated[list[_Zone], Field(max_length=200)] = []
    longest_above_um: _Limit | None = None
    second_above_um: _Limit | None = None
    girth_above_um: _Limit | None = None
    length_plus_girth_above_um: _Limit | None = None
    thickness_above_um: _Limit | None = None
    volume_above_cm3: _Count | None = None
    weight_above_mg: _UpTo | None = None
    formats: Annotated[list[Code], Field(max_length=20)] = []
    rigid: bool = False
    home: bool = False
    signature: bool = False
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    country: _Country | None = None
    prefixes: Annotated[list[Annotated[str, Field(min_length=1, max_length=10)]], Field(max_length=2000)] = []

    @model_validator(mode="after")
    def _country_named(self) -> "SurchargeDoc":
        if self.prefixes and self.country is None:
            raise ValueError("prefixes need the country they are of")
        return self

    def core(self) -> Surcharge:
        """Return the core's surcharge."""
        lists = {
            "zones": tuple(self.zones),
            "formats": tuple(self.formats),
            "goods": tuple(self.goods),
            "country": self.country or "",
            "prefixes": tuple(plain_postcode(p) for p in self.prefixes),
        }
        return Surcharge(**{**self.model_dump(), **lists})


class ExtraCoverDoc(FileModel):
    """Cover bought in steps."""

    each: Annotated[Money, Field(gt=0)]
    price: Money
    most: Money


class MarkingDoc(FileModel):
    """What must stand on the parcel."""

    text: Text
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    weight_above_mg: _UpTo | None = None
    longest_above_um: _Limit | None = None


class ServiceDoc(FileModel):
    """One service."""

    code: Code
    name: Text
    limits: LimitsDoc
    volumetric: VolumetricDoc | None = None
    weight_round_mg: _UpTo = 1
    weight_rounding: Literal["up", "nearest"] = "up"
    zones: Annotated[list[ZoneTableDoc], Field(max_length=200)] = []
    formats: Annotated[list[FormatDoc], Field(max_length=20)] = []
    surcharges: Annotated[list[SurchargeDoc], Field(max_length=100)] = []
    cover_included: Money = Decimal(0)
    extra_cover: ExtraCoverDoc | None = None
    cover_excludes: Annotated[list[GoodsWord], Field(max_length=20)] = []
    refuses: Annotated[list[GoodsWord], Field(max_length=20)] = []
    tax_percent: Annotated[Money, Field(le=100)] = Decimal(0)
    days_moved: Annotated[list[Annotated[int, Field(ge=0, le=6, strict=True)]], Field(min_length=1, max_length=7)]
    cut_off: time
    tape_over_label: Literal["over", "edges", "never"] = "never"
    markings: Annotated[list[MarkingDoc], Field(max_length=20)] = []
    claim_days: Annotated[int, Field(ge=0, le=400, strict=True)] | None = None

    @field_serializer("cut_off")
    def _short_time(self, at: time) -> str:
        return at.isoformat("minutes" if not at.second and not at.microsecond else "auto")

    @model_validator(mode="after")
    def _prices_somewhere(self) -> "ServiceDoc":
        if bool(self.zones) == bool(self.formats):
            raise ValueError("give zones with prices, or formats that have them, and not both")
        wrong = _twice([one.code for one in self.formats], "format")
        for name, tables in [("", self.zones), *((f" of format {one.code}", one.zones) for one in self.formats)]:
            wrong += _twice([table.zone for table in tables], f"prices{name} for zone")
        wrong += _twice([one.code for one in self.surcharges], "surcharge")
        known = {one.code for one in self.formats}
        wrong += [
            f"surcharge {one.code} names format {code}, which this service does not have"
            for one in self.surcharges
            for code in one.formats
            if code not in known
        ]
        if wrong:
            raise ValueError("; ".join(wrong))
        return self

    @property
    def priced_zones(self) -> set[str]:
        """Return the zones the service has prices for."""
        return {table.zone for tables in (self.zones, *(one.zones for one in self.formats)) for table in tables}

    @property
    def named_zones(self) -> list[tuple[str, str]]:
        """Return every zone the service names, and where."""
        found = [("prices", zone) for zone in sorted(self.priced_zones)]
        found += [(f"surcharge {one.code}", zone) for one in self.surcharges for zone in one.zones]
        return found + [("volumetric weight", zone) for zone in (self.volumetric.zones if self.volumetric else [])]

    def core(self) -> Service:
        """Return the core's service."""
        return Service(
            code=self.code,
            name=self.name,
            limits=self.limits.core(),
            volumetric=self.volumetric.core() if self.volumetric else None,
            zones=tuple(table.core() for table in self.zones),
            formats=tuple(one.core() for one in self.formats),
            surcharges=tuple(one.core() for one in self.surcharges),
            cover_included=self.cover_included,
            extra_cover=ExtraCover(**self.extra_cover.model_dump()) if self.extra_cover else None,
            cover_excludes=tuple(self.cover_excludes),
            refuses=tuple(self.refuses),
            tax_percent=self.tax_percent,
            days_moved=tuple(sorted(set(self.days_moved))),
            cut_off=self.cut_off,
            tape_over_label=self.tape_over_label,
            weight_round_mg=self.weight_round_mg,
            weight_rounding=self.weight_rounding,
            markings=tuple(Marking(**{**one.model_dump(), "goods": tuple(one.goods)}) for one in self.markings),
            claim_days=self.claim_days,
        )


class FlatPriceDoc(FileModel):
    """One price for some zones, or (no zones) for all the others."""

    zones: Annotated[list[_Zone], Field(max_length=200)] = []
    price: Money


class FlatRateDoc(FileModel):
    """A price that does not ask for weight up to a limit."""

    max_mg: _UpTo
    prices: Annotated[list[FlatPriceDoc], Field(min_length=1, max_length=200)]


class PackagingDoc(FileModel):
    """The carrier's own carton or envelope. The supply of the same code in the cupboard is this."""

    code: Code
    name: Text
    services: Annotated[list[Code], Field(min_length=1, max_length=100)]
    inner_um: _Sides
    flat_rate: FlatRateDoc | None = None

    def core(self) -> Packaging:
        """Return the core's packaging."""
        flat = self.flat_rate
        length, width, height = self.inner_um
        return Packaging(
            code=self.code,
            name=self.name,
            services=tuple(self.services),
            inner=Size(length_um=length, width_um=width, height_um=height),
            flat_rate=FlatRate(
                max_mg=flat.max_mg,
                prices=tuple(FlatPrice(zones=tuple(p.zones), price=p.price) for p in flat.prices),
            )
            if flat
            else None,
        )


class TariffFile(FileModel):
    """The whole file."""

    format: Literal["calm-cupboard/tariff"]
    version: Literal[1]
    carrier: Code
    carrier_name: Text
    tariff_version: Code
    valid_from: Day
    currency: Annotated[str, Field(min_length=1, max_length=8)]
    source: Annotated[str, Field(max_length=200)] = ""
    zone_rules: Annotated[list[ZoneRuleDoc], Field(min_length=1, max_length=500)]
    default_zone: _Zone | None = None
    services: Annotated[list[ServiceDoc], Field(min_length=1, max_length=100)]
    packaging: Annotated[list[PackagingDoc], Field(max_length=100)] = []

    @model_validator(mode="after")
    def _parts_meet(self) -> "TariffFile":
        known = {rule.zone for rule in self.zone_rules} | ({self.default_zone} if self.default_zone else set())
        wrong = [
            f"service {service.code}, {where}: zone {zone} is not defined, no zone rule leads to it"
            for service in self.services
            for where, zone in service.named_zones
            if zone not in known
        ]
        codes = {service.code for service in self.services}
        for item in self.packaging:
            wrong += [
                f"packaging {item.code} is for service {code}, which is not here"
                for code in item.services
                if code not in codes
            ]
            zones = [zone for price in (item.flat_rate.prices if item.flat_rate else []) for zone in price.zones]
            wrong += [f"packaging {item.code}: zone {zone} is not defined" for zone in zones if zone not in known]
            wrong += _twice(zones, f"flat price of {item.code} for zone")
        wrong += _twice([service.code for service in self.services], "service")
        wrong += _twice([item.code for item in self.packaging], "packaging")
        wrong += _overlaps([rule for doc in self.zone_rules for rule in doc.core()])
        if wrong:
            raise ValueError("; ".join(wrong))
        return self

    def core(self) -> Tariff:
        """Return the core's tariff."""
        return Tariff(
            carrier=self.carrier,
            carrier_name=self.carrier_name,
            version=self.tariff_version,
            valid_from=self.valid_from,
            currency=self.currency,
            zone_rules=tuple(rule for doc in self.zone_rules for rule in doc.core()),
            default_zone=self.default_zone or "",
            services=tuple(service.core() for service in self.services),
            packaging=tuple(item.core() for item in self.packaging),
        )


def _twice(codes: list[str], what: str) -> list[str]:
    return [f"{what} {code} stands more than once" for code in dict.fromkeys(codes) if codes.count(code) > 1]


def _overlaps(rules: list[ZoneRule]) -> list[str]:
    """Two rules that say equally much of one postcode and lead to different zones: nobody could say which holds."""
    found = []
    seen: dict[tuple[str, str, str, int], list[ZoneRule]] = {}
    for rule in rules:
        length = len(rule.first or rule.prefix)
        alike = seen.setdefault((rule.country, rule.origin_country, rule.origin_prefix, length), [])
        first, last = _ends(rule)
        for other in alike:
            begin, end = _ends(other)
            if other.zone != rule.zone and first <= end and begin <= last:
                shared = max(first, begin) or "the whole country"
                found.append(f"overlap: {rule.country} {shared} is in zone {other.zone} and in zone {rule.zone}")
        alike.append(rule)
    return found[:50]


def _ends(rule: ZoneRule) -> tuple[str, str]:
    return (rule.first, rule.last) if rule.first else (rule.prefix, rule.prefix)
