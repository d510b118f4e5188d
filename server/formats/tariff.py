"""The tariff file: one carrier's zones, services and prices from a date (docs/formats/tariff.md).

What is wrong with a file is an error and nothing is imported; what is odd but may be meant is told (``tariff_notes``).
"""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.tariffs.model import FlatPrice, FlatRate, Packaging, Tariff, ZoneRule
from core.tariffs.zones import overlaps, plain_postcode
from core.units import Size
from server.formats.base import Code, Day, FileModel, Money, Text
from server.formats.tariff_prices import Country, Limit, UpTo, Zone, twice
from server.formats.tariff_service import ServiceDoc
from server.words.faults import SeveralFaults

__all__ = ["TariffFile"]

_Prefix = Annotated[str, Field(max_length=10)]
_Sides = Annotated[list[Limit], Field(min_length=3, max_length=3)]
#: No more overlaps of zones than this are told at once.
_MOST_OVERLAPS = 50


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


class FlatPriceDoc(FileModel):
    """One price for some zones, or (no zones) for all the others."""

    zones: Annotated[list[Zone], Field(max_length=200)] = []
    price: Money


class FlatRateDoc(FileModel):
    """A price that does not ask for weight up to a limit."""

    max_mg: UpTo
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
    default_zone: Zone | None = None
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
            wrong += twice(zones, f"flat price of {item.code} for zone")
            if item.flat_rate and sum(not price.zones for price in item.flat_rate.prices) > 1:
                wrong.append(
                    f"packaging {item.code} has two flat prices without zones; only one can hold for the others"
                )
        wrong += twice([service.code for service in self.services], "service")
        wrong += twice([item.code for item in self.packaging], "packaging")
        rules = [rule for doc in self.zone_rules for rule in doc.core()]
        wrong += [
            f"overlap: {one.country} {shared or 'the whole country'} is in zone {one.zone} and in zone {other.zone}"
            for one, other, shared in overlaps(rules)[:_MOST_OVERLAPS]
        ]
        if wrong:
            raise SeveralFaults(wrong)
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
