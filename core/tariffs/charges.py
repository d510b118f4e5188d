"""What a service adds to its base price and takes off it: surcharges, cover, discount, tax, rounding (rules 10.8).

Values only. Lengths um, weights mg, money Decimal.
"""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal

from core.recipes.goods import GoodsWord
from core.units import Micrometres, Milligrams

__all__ = [
    "CoverTier", "Discount", "ExtraCover", "Further", "Surcharge", "SurchargeKind", "TaxRule", "TotalRounding",
]  # fmt: skip

#: So much money; so many percent; so much for each begun weight.
SurchargeKind = Literal["fixed", "percent", "per_weight"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Surcharge:
    """Added to the base price when every condition it names holds; without conditions always."""

    code: str
    name: str
    kind: SurchargeKind
    amount: Decimal  #: money, money for each begun ``each_mg``, or percent
    zones: tuple[str, ...]  #: empty: every zone
    longest_above_um: Micrometres | None
    second_above_um: Micrometres | None = None
    girth_above_um: Micrometres | None = None
    length_plus_girth_above_um: Micrometres | None = None
    thickness_above_um: Micrometres | None = None
    sum_of_sides_above_um: Micrometres | None = None
    volume_above_cm3: int | None = None
    weight_above_mg: Milligrams | None = None  #: gross
    formats: tuple[str, ...] = ()  #: codes; empty: every format
    rigid: bool = False  #: only for what does not bend
    home: bool = False  #: only to houses
    signature: bool = False  #: only when somebody signs
    goods: tuple[GoodsWord, ...] = ()  #: only when one of these is in it
    country: str = ""  #: only to these postcodes of this country: remote places
    prefixes: tuple[str, ...] = ()
    from_on: date | None = None  #: only for parcels sent from this day on: a season
    until_on: date | None = None  #: and until this one, included
    arrives_on_days: tuple[int, ...] = ()  #: only when it arrives on one of these weekdays, Monday 0
    each_mg: Milligrams = 1_000_000  #: of ``per_weight``: the amount is for each begun so much of billable weight
    of: Literal["all", "base"] = "all"  #: of ``percent``: the base price alone, or with the surcharges in money
    least: Decimal | None = None  #: it comes to no less
    most: Decimal | None = None  #: and to no more
    group: str = ""  #: of those of one group that are due, only the highest is charged
    tax_percent: Decimal | None = None  #: None: taxed as the service is


@dataclass(frozen=True, slots=True, kw_only=True)
class CoverTier:
    """Cover up to an amount for one price."""

    up_to: Decimal
    price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class ExtraCover:
    """Cover beyond what is included: in even steps, in tiers, or as a percentage. One of the three."""

    most: Decimal  #: never covered for more than this
    each: Decimal = Decimal(0)  #: one step covers so much more
    price: Decimal = Decimal(0)  #: of one step
    tiers: tuple[CoverTier, ...] = ()  #: rising; the first that is enough
    percent: Decimal | None = None
    of: Literal["value", "excess"] = "value"  #: percent of all that is covered, or of what goes beyond the included
    least: Decimal = Decimal(0)  #: of a percentage
    tax_percent: Decimal | None = None  #: None: taxed as the service is


@dataclass(frozen=True, slots=True, kw_only=True)
class Discount:
    """What the carrier takes off for this account."""

    percent: Decimal
    of: Literal["base", "all"] = "base"  #: the base price, or also the surcharges


@dataclass(frozen=True, slots=True, kw_only=True)
class Further:
    """What the second and each further parcel of an order costs, by the same service on the same day."""

    percent: Decimal = Decimal(100)  #: of its base price
    off: Decimal = Decimal(0)  #: and so much less; never below nothing


@dataclass(frozen=True, slots=True, kw_only=True)
class TaxRule:
    """Another tax for some destinations."""

    percent: Decimal
    countries: tuple[str, ...] = ()
    zones: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class TotalRounding:
    """The whole price is rounded to a multiple of an amount."""

    to: Decimal
    rounding: Literal["up", "nearest", "down"] = "nearest"
