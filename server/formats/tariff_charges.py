"""Surcharges and cover in a tariff file (docs/formats/tariff.md)."""

from decimal import Decimal
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from core.recipes.goods import GoodsWord
from core.tariffs.charges import CoverTier, ExtraCover, Surcharge
from core.tariffs.zones import plain_postcode
from server.formats.base import Code, Day, FileModel, Money, Text
from server.formats.tariff_prices import Count, Country, Limit, UpTo, Zone
from server.words.faults import SeveralFaults

__all__ = ["ExtraCoverDoc", "SurchargeDoc"]

_Percent = Annotated[Money, Field(le=100)]


class SurchargeDoc(FileModel):
    """A surcharge; every condition that is given must hold."""

    new_in_2: ClassVar[frozenset[str]] = frozenset(
        {
            "sum_of_sides_above_um",
            "from_on",
            "until_on",
            "arrives_on_days",
            "each_mg",
            "of",
            "least",
            "most",
            "group",
            "tax_percent",
        }
    )

    code: Code
    name: Text
    kind: Literal["fixed", "percent", "per_weight"]
    amount: Money
    zones: Annotated[list[Zone], Field(max_length=200)] = []
    longest_above_um: Limit | None = None
    second_above_um: Limit | None = None
    girth_above_um: Limit | None = None
    length_plus_girth_above_um: Limit | None = None
    thickness_above_um: Limit | None = None
    sum_of_sides_above_um: Limit | None = None
    volume_above_cm3: Count | None = None
    weight_above_mg: UpTo | None = None
    formats: Annotated[list[Code], Field(max_length=20)] = []
    rigid: bool = False
    home: bool = False
    signature: bool = False
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    country: Country | None = None
    prefixes: Annotated[list[Annotated[str, Field(min_length=1, max_length=10)]], Field(max_length=2000)] = []
    from_on: Day | None = None
    until_on: Day | None = None
    arrives_on_days: Annotated[list[Annotated[int, Field(ge=0, le=6, strict=True)]], Field(max_length=7)] = []
    each_mg: UpTo = 1_000_000
    of: Literal["all", "base"] = "all"
    least: Money | None = None
    most: Money | None = None
    group: Annotated[str, Field(max_length=30)] = ""
    tax_percent: _Percent | None = None

    @model_validator(mode="after")
    def _makes_sense(self) -> "SurchargeDoc":
        wrong = []
        if self.prefixes and self.country is None:
            wrong.append("prefixes need the country they are of")
        if self.from_on and self.until_on and self.from_on > self.until_on:
            wrong.append(f"it begins on {self.from_on} and ends before, on {self.until_on}")
        if self.least is not None and self.most is not None and self.least > self.most:
            wrong.append(f"the least, {self.least:f}, is above the most, {self.most:f}")
        if self.each_mg != 1_000_000 and self.kind != "per_weight":
            wrong.append("each_mg is for a surcharge of kind per_weight")
        if self.of == "base" and self.kind != "percent":
            wrong.append("of is for a surcharge of kind percent")
        if wrong:
            raise SeveralFaults(wrong)
        return self

    def core(self) -> Surcharge:
        """Return the core's surcharge."""
        lists = {
            "zones": tuple(self.zones),
            "formats": tuple(self.formats),
            "goods": tuple(self.goods),
            "country": self.country or "",
            "prefixes": tuple(plain_postcode(p) for p in self.prefixes),
            "arrives_on_days": tuple(self.arrives_on_days),
        }
        return Surcharge(**{**self.model_dump(), **lists})


class CoverTierDoc(FileModel):
    """Cover up to an amount for one price."""

    up_to: Annotated[Money, Field(gt=0)]
    price: Money


class ExtraCoverDoc(FileModel):
    """Cover beyond what is included: in even steps, in tiers, or as a percentage."""

    new_in_2: ClassVar[frozenset[str]] = frozenset({"tiers", "percent", "of", "least", "tax_percent"})

    most: Money
    each: Annotated[Money, Field(gt=0)] | None = None
    price: Money | None = None
    tiers: Annotated[list[CoverTierDoc], Field(max_length=100)] = []
    percent: Annotated[Money, Field(gt=0, le=100)] | None = None
    of: Literal["value", "excess"] = "value"
    least: Money = Decimal(0)
    tax_percent: _Percent | None = None

    @model_validator(mode="after")
    def _one_way(self) -> "ExtraCoverDoc":
        wrong = []
        ways = [self.each is not None or self.price is not None, bool(self.tiers), self.percent is not None]
        if sum(ways) != 1:
            wrong.append("give each and price for even steps, or tiers, or percent: one of the three")
        elif ways[0] and (self.each is None or self.price is None):
            wrong.append("even steps need both each and price")
        for before, after in zip(self.tiers, self.tiers[1:], strict=False):
            if after.up_to <= before.up_to:
                wrong.append(f"tier {after.up_to:f} does not come after {before.up_to:f}; put them in rising order")
        if self.percent is None and (self.least or self.of == "excess"):
            wrong.append("least and of are for cover as a percentage")
        if wrong:
            raise SeveralFaults(wrong)
        return self

    def core(self) -> ExtraCover:
        """Return the core's cover."""
        return ExtraCover(
            most=self.most,
            each=self.each or Decimal(0),
            price=self.price or Decimal(0),
            tiers=tuple(CoverTier(up_to=one.up_to, price=one.price) for one in self.tiers),
            percent=self.percent,
            of=self.of,
            least=self.least,
            tax_percent=self.tax_percent,
        )
