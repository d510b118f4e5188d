"""A tariff: one carrier's prices from one date (tariffs; used by quotes and steps).

Values only; ``formats`` on the server reads them from the open file. Lengths um, weights mg, money Decimal.
"""

from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from typing import Literal

from core.units import Micrometres, Milligrams

__all__ = ["Limits", "Place", "Service", "Surcharge", "Tariff", "VolumetricRule", "WeightStep", "ZoneRule", "ZoneTable"]

LabelTape = Literal["over", "edges", "never"]
SurchargeKind = Literal["fixed", "percent"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where a parcel leaves from or goes to."""

    country: str  #: two or three letters, upper case
    postcode: str  #: upper case, spaces taken out


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneRule:
    """Postcodes of one country that belong to one zone; an empty prefix means the whole country."""

    zone: str
    country: str
    prefix: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """What a service takes. None: no such limit."""

    longest_um: Micrometres | None = None
    second_um: Micrometres | None = None
    girth_um: Micrometres | None = None
    length_plus_girth_um: Micrometres | None = None
    thickness_um: Micrometres | None = None
    volume_cm3: int | None = None
    min_mg: Milligrams | None = None
    max_mg: Milligrams | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class VolumetricRule:
    """How size becomes weight: L x W x H / divisor on sizes rounded up."""

    divisor_cm3_per_kg: int
    round_up_um: Micrometres  #: each side is rounded up to a multiple of this
    above_cm3: int  #: applied when the rounded volume is above this; 0: always


@dataclass(frozen=True, slots=True, kw_only=True)
class WeightStep:
    """The price up to and including a billable weight."""

    up_to_mg: Milligrams
    price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneTable:
    """Prices and days for one zone of one service."""

    zone: str
    steps: tuple[WeightStep, ...]  #: ascending
    transit_days: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Surcharge:
    """Added to the base price: always, in some zones, or above a longest side."""

    code: str
    name: str
    kind: SurchargeKind
    amount: Decimal  #: money, or percent of base + fixed surcharges
    zones: tuple[str, ...]  #: empty: every zone
    longest_above_um: Micrometres | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Service:
    """One way a carrier takes a parcel."""

    code: str
    name: str
    limits: Limits
    volumetric: VolumetricRule | None
    zones: tuple[ZoneTable, ...]
    surcharges: tuple[Surcharge, ...]
    cover_included: Decimal
    tax_percent: Decimal
    days_moved: tuple[int, ...]  #: weekdays it travels, Monday 0
    cut_off: time
    tape_over_label: LabelTape


@dataclass(frozen=True, slots=True, kw_only=True)
class Tariff:
    """One carrier's services from a date on."""

    carrier: str
    carrier_name: str
    version: str
    valid_from: date
    currency: str
    zone_rules: tuple[ZoneRule, ...]
    services: tuple[Service, ...]
