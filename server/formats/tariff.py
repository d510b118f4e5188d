"""The tariff file: one carrier's zones, services and prices from a date (docs/formats/tariff.md).

What is wrong with a file is an error and nothing is imported; what is odd but may be meant is told (``tariff_notes``).
"""

from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field, model_validator

from core.recipes.goods import Holds
from core.tariffs.model import FlatPrice, FlatRate, Packaging, Tariff
from core.tariffs.zones import overlaps
from core.units import Size
from server.formats.base import Code, Day, FileModel, Money, Text
from server.formats.tariff_prices import Limit, UpTo, Zone, ZoneRuleDoc, twice
from server.formats.tariff_service import ServiceDoc
from server.words.faults import SeveralFaults

__all__ = ["TariffFile"]

_Sides = Annotated[list[Limit], Field(min_length=3, max_length=3)]
#: No more overlaps of zones than this are told at once.
_MOST_OVERLAPS = 50


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
    version: Literal[1, 2]
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
    holidays: Annotated[list[Day], Field(max_length=200)] = []

    new_in_2: ClassVar[frozenset[str]] = frozenset({"holidays"})

    @model_validator(mode="after")
    def _of_its_version(self) -> "TariffFile":
        later = newer_fields(self) if self.version == 1 else []
        if later:
            raise ValueError(f"version 1 has no {', '.join(sorted(later)[:40])}; write version 2")
        return self

    @model_validator(mode="after")
    def _parts_meet(self) -> "TariffFile":
        known = _zones(self.zone_rules, self.default_zone)
        wrong = [
            f"service {service.code}, {where}: zone {zone} is not defined, no zone rule leads to it"
            for service in self.services
            for where, zone in service.named_zones
            if zone not in (_zones(service.zone_rules, service.default_zone) if service.zone_rules else known)
        ]
        codes = {service.code for service in self.services}
        for item in self.packaging:
            wrong += [
                f"packaging {item.code} is for service {code}, which is not here"
                for code in item.services
                if code not in codes
            ]
            zones = [zone for price in (item.flat_rate.prices if item.flat_rate else []) for zone in price.zones]
            there = known.union(*(_zones(s.zone_rules, s.default_zone) for s in self.services))
            wrong += [f"packaging {item.code}: zone {zone} is not defined" for zone in zones if zone not in there]
            wrong += twice(zones, f"flat price of {item.code} for zone")
            if item.flat_rate and sum(not price.zones for price in item.flat_rate.prices) > 1:
                wrong.append(
                    f"packaging {item.code} has two flat prices without zones; only one can hold for the others"
                )
        wrong += twice([service.code for service in self.services], "service")
        wrong += twice([item.code for item in self.packaging], "packaging")
        for of, docs in [("", self.zone_rules), *((f"service {s.code}, ", s.zone_rules) for s in self.services)]:
            rules = [rule for doc in docs for rule in doc.core()]
            wrong += [
                f"{of}overlap: {one.country} {shared or 'the whole country'} is in zone {one.zone} and in zone "
                f"{other.zone}"
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
            holidays=tuple(sorted(set(self.holidays))),
        )


def _zones(rules: list[ZoneRuleDoc], default: str | None) -> set[str]:
    return {rule.zone for rule in rules} | ({default} if default else set())


def newer_fields(part: FileModel) -> list[str]:
    """Return the fields and kinds of a part that version 1 did not have, each once."""
    new: frozenset[str] = getattr(part, "new_in_2", frozenset())
    # What is written out and says nothing new is as good as left out.
    defaults = {name: field.get_default(call_default_factory=True) for name, field in type(part).model_fields.items()}
    found = [name for name in part.model_fields_set & new if getattr(part, name) != defaults[name]]
    if getattr(part, "kind", None) == "per_weight":
        found.append("kind per_weight")
    found += [f"goods {word}" for name in _OF_GOODS for word in getattr(part, name, []) if word in get_args(Holds)]
    for name in sorted(part.model_fields_set):
        value = getattr(part, name)
        if name == "volumetric" and isinstance(value, list):
            found.append("several volumetric rules")
        for inner in value if isinstance(value, list) else [value]:
            if isinstance(inner, FileModel):
                found += newer_fields(inner)
    return list(dict.fromkeys(found))


_OF_GOODS = ("goods", "refuses", "cover_excludes")
