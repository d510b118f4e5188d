"""A service in a tariff file: its surcharges, cover, markings and what it refuses (docs/formats/tariff.md)."""

from datetime import time
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, field_serializer, model_validator

from core.recipes.goods import GoodsWord
from core.tariffs.model import ExtraCover, Marking, Service, Surcharge
from core.tariffs.zones import plain_postcode
from server.formats.base import Code, FileModel, Money, Text
from server.formats.tariff_prices import (
    Count,
    Country,
    FormatDoc,
    Limit,
    LimitsDoc,
    UpTo,
    VolumetricDoc,
    Zone,
    ZoneTableDoc,
    twice,
)
from server.words.faults import SeveralFaults

__all__ = ["ServiceDoc"]


class SurchargeDoc(FileModel):
    """A surcharge; every condition that is given must hold."""

    code: Code
    name: Text
    kind: Literal["fixed", "percent"]
    amount: Money
    zones: Annotated[list[Zone], Field(max_length=200)] = []
    longest_above_um: Limit | None = None
    second_above_um: Limit | None = None
    girth_above_um: Limit | None = None
    length_plus_girth_above_um: Limit | None = None
    thickness_above_um: Limit | None = None
    volume_above_cm3: Count | None = None
    weight_above_mg: UpTo | None = None
    formats: Annotated[list[Code], Field(max_length=20)] = []
    rigid: bool = False
    home: bool = False
    signature: bool = False
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    country: Country | None = None
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


def _twice_days(days: list[int]) -> list[str]:
    return [f"days_moved: {_WEEKDAYS[day]} ({day}) appears twice" for day in sorted(set(days)) if days.count(day) > 1]


_WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


class MarkingDoc(FileModel):
    """What must stand on the parcel."""

    text: Text
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    weight_above_mg: UpTo | None = None
    longest_above_um: Limit | None = None


class ServiceDoc(FileModel):
    """One service."""

    code: Code
    name: Text
    limits: LimitsDoc
    volumetric: VolumetricDoc | None = None
    weight_round_mg: UpTo = 1
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
        wrong = twice([one.code for one in self.formats], "format")
        for name, tables in [("", self.zones), *((f" of format {one.code}", one.zones) for one in self.formats)]:
            wrong += twice([table.zone for table in tables], f"prices{name} for zone")
        wrong += twice([one.code for one in self.surcharges], "surcharge")
        wrong += _twice_days(self.days_moved)
        if self.extra_cover is not None and self.extra_cover.most < self.cover_included:
            wrong.append(
                f"extra_cover: the most, {self.extra_cover.most:f}, is below what is included, {self.cover_included:f}"
            )
        known = {one.code for one in self.formats}
        wrong += [
            f"surcharge {one.code} names format {code}, which this service does not have"
            for one in self.surcharges
            for code in one.formats
            if code not in known
        ]
        if wrong:
            raise SeveralFaults(wrong)
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
