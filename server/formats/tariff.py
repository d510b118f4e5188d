"""The tariff file: one carrier's zones, services and prices from a date (docs/formats/tariff.md)."""

from datetime import date, time
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.tariffs.model import Limits, Service, Surcharge, Tariff, VolumetricRule, WeightStep, ZoneRule, ZoneTable
from core.tariffs.zones import plain_postcode
from server.formats.base import Code, FileModel, LengthUm, Money, Text, WeightMg

__all__ = ["TariffFile"]

_Zone = Annotated[str, Field(min_length=1, max_length=12)]
_UpTo = Annotated[WeightMg, Field(gt=0)]
_Limit = Annotated[LengthUm, Field(gt=0)]


class ZoneRuleDoc(FileModel):
    """Postcode prefixes of one country that make up one zone; ``[""]`` is the whole country."""

    zone: _Zone
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    prefixes: Annotated[list[Annotated[str, Field(max_length=10)]], Field(min_length=1, max_length=2000)]


class LimitsDoc(FileModel):
    """What the service takes."""

    longest_um: _Limit | None = None
    second_um: _Limit | None = None
    girth_um: _Limit | None = None
    length_plus_girth_um: _Limit | None = None
    thickness_um: _Limit | None = None
    volume_cm3: Annotated[int, Field(gt=0, strict=True)] | None = None
    min_mg: _UpTo | None = None
    max_mg: _UpTo | None = None


class VolumetricDoc(FileModel):
    """Volumetric weight."""

    divisor_cm3_per_kg: Annotated[int, Field(gt=0, le=100_000, strict=True)]
    round_up_um: Annotated[LengthUm, Field(gt=0)] = 10_000
    above_cm3: Annotated[int, Field(ge=0, strict=True)] = 0


class StepDoc(FileModel):
    """A price up to a weight."""

    up_to_mg: _UpTo
    price: Money


class ZoneTableDoc(FileModel):
    """Prices and days of one zone."""

    zone: _Zone
    transit_days: Annotated[int, Field(ge=0, le=60, strict=True)]
    steps: Annotated[list[StepDoc], Field(min_length=1, max_length=500)]

    @model_validator(mode="after")
    def _steps_rise(self) -> "ZoneTableDoc":
        for before, after in zip(self.steps, self.steps[1:], strict=False):
            if after.up_to_mg <= before.up_to_mg:
                raise ValueError(
                    f"step {after.up_to_mg} mg does not come after {before.up_to_mg} mg; put them in rising order"
                )
            if after.price < before.price:
                raise ValueError(
                    f"the price falls from {before.price} to {after.price} at {after.up_to_mg} mg; a heavier parcel cannot cost less"
                )
        return self


class SurchargeDoc(FileModel):
    """A surcharge."""

    code: Code
    name: Text
    kind: Literal["fixed", "percent"]
    amount: Money
    zones: list[_Zone] = []
    longest_above_um: _Limit | None = None


class ServiceDoc(FileModel):
    """One service."""

    code: Code
    name: Text
    limits: LimitsDoc
    volumetric: VolumetricDoc | None = None
    zones: Annotated[list[ZoneTableDoc], Field(min_length=1, max_length=200)]
    surcharges: list[SurchargeDoc] = []
    cover_included: Money = Decimal(0)
    tax_percent: Annotated[Money, Field(le=100)] = Decimal(0)
    days_moved: Annotated[list[Annotated[int, Field(ge=0, le=6, strict=True)]], Field(min_length=1, max_length=7)]
    cut_off: time
    tape_over_label: Literal["over", "edges", "never"] = "never"

    def core(self) -> Service:
        """Return the core's service."""
        return Service(
            code=self.code,
            name=self.name,
            limits=Limits(**self.limits.model_dump()),
            volumetric=VolumetricRule(**self.volumetric.model_dump()) if self.volumetric else None,
            zones=tuple(
                ZoneTable(
                    zone=table.zone,
                    transit_days=table.transit_days,
                    steps=tuple(WeightStep(up_to_mg=s.up_to_mg, price=s.price) for s in table.steps),
                )
                for table in self.zones
            ),
            surcharges=tuple(Surcharge(**{**s.model_dump(), "zones": tuple(s.zones)}) for s in self.surcharges),
            cover_included=self.cover_included,
            tax_percent=self.tax_percent,
            days_moved=tuple(sorted(set(self.days_moved))),
            cut_off=self.cut_off,
            tape_over_label=self.tape_over_label,
        )


class TariffFile(FileModel):
    """The whole file."""

    format: Literal["calm-cupboard/tariff"]
    version: Literal[1]
    carrier: Code
    carrier_name: Text
    tariff_version: Code
    valid_from: date
    currency: Annotated[str, Field(min_length=1, max_length=8)]
    source: Annotated[str, Field(max_length=200)] = ""
    zone_rules: Annotated[list[ZoneRuleDoc], Field(min_length=1, max_length=500)]
    services: Annotated[list[ServiceDoc], Field(min_length=1, max_length=100)]

    @model_validator(mode="after")
    def _zones_meet(self) -> "TariffFile":
        known = {rule.zone for rule in self.zone_rules}
        faults = [
            f"service {service.code} prices zone {table.zone}, which no zone rule leads to"
            for service in self.services
            for table in service.zones
            if table.zone not in known
        ]
        if faults:
            raise ValueError("; ".join(faults))
        return self

    def core(self) -> Tariff:
        """Return the core's tariff."""
        return Tariff(
            carrier=self.carrier,
            carrier_name=self.carrier_name,
            version=self.tariff_version,
            valid_from=self.valid_from,
            currency=self.currency,
            zone_rules=tuple(
                ZoneRule(zone=rule.zone, country=rule.country, prefix=plain_postcode(prefix))
                for rule in self.zone_rules
                for prefix in rule.prefixes
            ),
            services=tuple(service.core() for service in self.services),
        )
