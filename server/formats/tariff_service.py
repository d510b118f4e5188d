"""A service in a tariff file: its surcharges, cover, markings and what it refuses (docs/formats/tariff.md)."""

from datetime import time
from decimal import Decimal
from typing import Annotated, ClassVar, Literal

from pydantic import Field, field_serializer, model_validator

from core.recipes.goods import GoodsWord
from core.tariffs.charges import Discount, Further, TaxRule, TotalRounding
from core.tariffs.model import DeliversTo, Marking, Service
from server.formats.base import Code, FileModel, Money, Text, WeightMg
from server.formats.tariff_charges import ExtraCoverDoc, SurchargeDoc
from server.formats.tariff_prices import (
    Country,
    FormatDoc,
    Limit,
    LimitsDoc,
    UpTo,
    VolumetricDoc,
    Zone,
    ZoneRuleDoc,
    ZoneTableDoc,
    twice,
)
from server.words.faults import SeveralFaults

__all__ = ["ServiceDoc"]


def _twice_days(name: str, days: list[int]) -> list[str]:
    return [f"{name}: {_WEEKDAYS[day]} ({day}) appears twice" for day in sorted(set(days)) if days.count(day) > 1]


_WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def _mixed_groups(surcharges: list[SurchargeDoc]) -> list[str]:
    """Money and percent cannot be told which is the higher before the sum they are of is known."""
    kinds: dict[str, set[bool]] = {}
    for one in surcharges:
        if one.group:
            kinds.setdefault(one.group, set()).add(one.kind == "percent")
    return [
        f"surcharge group {group} mixes percentages with amounts; only the highest of one kind can be told"
        for group, found in kinds.items()
        if len(found) > 1
    ]


class MarkingDoc(FileModel):
    """What must stand on the parcel."""

    text: Text
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    weight_above_mg: UpTo | None = None
    longest_above_um: Limit | None = None


class DiscountDoc(FileModel):
    """What the carrier takes off for this account."""

    percent: Annotated[Money, Field(gt=0, le=100)]
    of: Literal["base", "all"] = "base"


class FurtherDoc(FileModel):
    """The base price of the second and each further parcel of an order, by the same service on the same day."""

    percent: Annotated[Money, Field(le=100)] = Decimal(100)
    off: Money = Decimal(0)

    @model_validator(mode="after")
    def _less(self) -> "FurtherDoc":
        if self.percent == 100 and not self.off:
            raise ValueError("a further parcel costs as much as the first; leave it out, or give percent or off")
        return self


class TaxDoc(FileModel):
    """Another tax for some destinations; the first rule that names the destination counts."""

    percent: Annotated[Money, Field(le=100)]
    countries: Annotated[list[Country], Field(max_length=300)] = []
    zones: Annotated[list[Zone], Field(max_length=200)] = []

    @model_validator(mode="after")
    def _of_some(self) -> "TaxDoc":
        if not self.countries and not self.zones:
            raise ValueError("name countries or zones; the tax of all others is tax_percent")
        return self


class RoundTotalDoc(FileModel):
    """The whole price is rounded to a multiple of an amount."""

    to: Annotated[Money, Field(gt=0)]
    rounding: Literal["up", "nearest", "down"] = "nearest"


_Weekday = Annotated[int, Field(ge=0, le=6, strict=True)]


class ServiceDoc(FileModel):
    """One service."""

    new_in_2: ClassVar[frozenset[str]] = frozenset(
        {
            "zone_rules",
            "default_zone",
            "least_billable_mg",
            "discount",
            "further",
            "taxes",
            "round_total",
            "delivers_to",
            "delivery_days",
        }
    )

    code: Code
    name: Text
    limits: LimitsDoc
    zone_rules: Annotated[list[ZoneRuleDoc], Field(max_length=500)] = []
    default_zone: Zone | None = None
    volumetric: VolumetricDoc | Annotated[list[VolumetricDoc], Field(max_length=20)] | None = None
    least_billable_mg: WeightMg = 0
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
    days_moved: Annotated[list[_Weekday], Field(min_length=1, max_length=7)]
    cut_off: time
    tape_over_label: Literal["over", "edges", "never"] = "never"
    markings: Annotated[list[MarkingDoc], Field(max_length=20)] = []
    takes_dry_ice: bool = False
    claim_days: Annotated[int, Field(ge=0, le=400, strict=True)] | None = None
    discount: DiscountDoc | None = None
    further: FurtherDoc | None = None
    taxes: Annotated[list[TaxDoc], Field(max_length=50)] = []
    round_total: RoundTotalDoc | None = None
    delivers_to: DeliversTo = "door"
    delivery_days: Annotated[list[_Weekday], Field(max_length=7)] = []

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
        wrong += _twice_days("days_moved", self.days_moved) + _twice_days("delivery_days", self.delivery_days)
        if self.default_zone is not None and not self.zone_rules:
            wrong.append("default_zone is for places none of this service's own zone_rules names; there are none")
        if self.extra_cover is not None and self.extra_cover.most < self.cover_included:
            wrong.append(
                f"extra_cover: the most, {self.extra_cover.most:f}, is below what is included, {self.cover_included:f}"
            )
        wrong += _mixed_groups(self.surcharges)
        known = {one.code for one in self.formats}
        wrong += [
            f"volumetric names format {code}, which this service does not have"
            for one in self.volumetric_rules
            for code in one.formats
            if code not in known
        ]
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
    def volumetric_rules(self) -> list[VolumetricDoc]:
        """Return how size becomes weight, one rule or several."""
        if self.volumetric is None:
            return []
        return self.volumetric if isinstance(self.volumetric, list) else [self.volumetric]

    @property
    def priced_zones(self) -> set[str]:
        """Return the zones the service has prices for."""
        return {table.zone for tables in (self.zones, *(one.zones for one in self.formats)) for table in tables}

    @property
    def named_zones(self) -> list[tuple[str, str]]:
        """Return every zone the service names, and where."""
        found = [("prices", zone) for zone in sorted(self.priced_zones)]
        found += [(f"surcharge {one.code}", zone) for one in self.surcharges for zone in one.zones]
        found += [(f"tax {one.percent:f} %", zone) for one in self.taxes for zone in one.zones]
        return found + [("volumetric weight", zone) for one in self.volumetric_rules for zone in one.zones]

    def core(self) -> Service:
        """Return the core's service."""
        return Service(
            code=self.code,
            name=self.name,
            limits=self.limits.core(),
            volumetric=tuple(one.core() for one in self.volumetric_rules),
            zones=tuple(table.core() for table in self.zones),
            formats=tuple(one.core() for one in self.formats),
            surcharges=tuple(one.core() for one in self.surcharges),
            cover_included=self.cover_included,
            extra_cover=self.extra_cover.core() if self.extra_cover else None,
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
            takes_dry_ice=self.takes_dry_ice,
            zone_rules=tuple(rule for doc in self.zone_rules for rule in doc.core()),
            default_zone=self.default_zone or "",
            least_billable_mg=self.least_billable_mg,
            discount=Discount(**self.discount.model_dump()) if self.discount else None,
            further=Further(**self.further.model_dump()) if self.further else None,
            taxes=tuple(
                TaxRule(percent=one.percent, countries=tuple(one.countries), zones=tuple(one.zones))
                for one in self.taxes
            ),
            round_total=TotalRounding(**self.round_total.model_dump()) if self.round_total else None,
            delivers_to=self.delivers_to,
            delivery_days=tuple(sorted(self.delivery_days)),
        )
