"""A tariff: one carrier's prices from one date (tariffs; used by quotes and steps; rules 10.1).

Values only; ``formats`` on the server reads them from the open file. Lengths um, weights mg, money Decimal.
"""

from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from typing import Literal

from core.recipes.goods import GoodsWord
from core.tariffs.charges import Discount, ExtraCover, Further, Surcharge, TaxRule, TotalRounding
from core.units import Micrometres, Milligrams, Size, ceil_div

__all__ = [
    "DeliversTo",
    "FlatPrice",
    "FlatRate",
    "Format",
    "Increment",
    "LabelTape",
    "Limits",
    "Marking",
    "Packaging",
    "Place",
    "Sending",
    "Service",
    "Tariff",
    "VolumetricRule",
    "WeightStep",
    "ZoneRule",
    "ZoneTable",
]

LabelTape = Literal["over", "edges", "never"]
Rounding = Literal["up", "nearest"]
#: Where a service hands the parcel over: at the door, or where the buyer fetches it.
DeliversTo = Literal["door", "locker", "shop"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where a parcel leaves from or goes to."""

    country: str  #: two or three letters, upper case
    postcode: str  #: upper case, spaces taken out


@dataclass(frozen=True, slots=True, kw_only=True)
class Sending:
    """All a carrier asks of a parcel besides its size and weight."""

    destination: Place
    ship_on: date
    origin: Place | None = None  #: None: not told; rules that ask for an origin do not match
    packaging: tuple[str, ...] = ()  #: codes of the outer containers: some belong to a carrier
    rigid: bool = True  #: it does not bend: a carton, or a mailer with a box in it
    home: bool = False  #: it goes to a house, not to a business
    signature: bool = False  #: somebody signs for it
    cover: Decimal = Decimal(0)  #: what it shall be covered for; 0: what the service includes
    goods: frozenset[GoodsWord] = frozenset()  #: what is in it, in the words carriers use
    #: Carrier and service of the order's first parcel, when this is a further one; "*": as if it were one, everywhere.
    further_of: tuple[str, str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneRule:
    """Postcodes of one country that belong to one zone; an empty prefix means the whole country.

    Either ``prefix``, or ``first`` to ``last``: codes whose beginning lies between the two, both included.
    """

    zone: str
    country: str
    prefix: str
    first: str = ""
    last: str = ""  #: as long as ``first``
    origin_country: str = ""  #: only for parcels that leave from here; empty: from anywhere
    origin_prefix: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """What a service takes. None: no such limit."""

    longest_um: Micrometres | None = None
    second_um: Micrometres | None = None
    girth_um: Micrometres | None = None
    length_plus_girth_um: Micrometres | None = None
    thickness_um: Micrometres | None = None
    sum_of_sides_um: Micrometres | None = None
    longest_min_um: Micrometres | None = None  #: least sizes: smaller ones are lost in the machines
    second_min_um: Micrometres | None = None
    thickness_min_um: Micrometres | None = None
    volume_cm3: int | None = None
    min_mg: Milligrams | None = None
    max_mg: Milligrams | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class VolumetricRule:
    """How size becomes weight: L x W x H / divisor on rounded sizes."""

    divisor_cm3_per_kg: int
    round_up_um: Micrometres  #: each side is rounded to a multiple of this
    above_cm3: int  #: applied when the rounded volume is above this; 0: always
    rounding: Rounding = "up"
    zones: tuple[str, ...] = ()  #: empty: in every zone
    formats: tuple[str, ...] = ()  #: codes; empty: for every format


@dataclass(frozen=True, slots=True, kw_only=True)
class WeightStep:
    """The price up to and including a billable weight."""

    up_to_mg: Milligrams
    price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Increment:
    """A base price up to a weight and so much for each begun increment above it."""

    first_mg: Milligrams
    base: Decimal
    each_mg: Milligrams
    each: Decimal
    max_mg: Milligrams

    @property
    def count(self) -> int:
        """Return how many steps there are above the first."""
        return max(0, ceil_div(self.max_mg - self.first_mg, self.each_mg))

    def step(self, number: int) -> WeightStep:
        """Return one step; 0 is the first weight at the base price.

        >>> rule = Increment(first_mg=1000, base=Decimal(4), each_mg=500, each=Decimal(1), max_mg=1800)
        >>> [(step.up_to_mg, str(step.price)) for step in map(rule.step, range(rule.count + 1))]
        [(1000, '4'), (1500, '5'), (1800, '6')]
        """
        up_to = min(self.first_mg + number * self.each_mg, self.max_mg)
        return WeightStep(up_to_mg=up_to if number else self.first_mg, price=self.base + number * self.each)

    def number_for(self, weight_mg: Milligrams) -> int:
        """Return which step a weight falls under."""
        return max(0, ceil_div(weight_mg - self.first_mg, self.each_mg))


#: Of increments so many steps to either side of a parcel's own are shown.
_STEPS_SHOWN = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneTable:
    """Prices and days for one zone of one service."""

    zone: str
    steps: tuple[WeightStep, ...]  #: ascending; empty with an increment: those are computed
    transit_days: int
    increment: Increment | None = None

    @property
    def top_mg(self) -> Milligrams:
        """Return the heaviest weight that has a price."""
        return self.increment.max_mg if self.increment else self.steps[-1].up_to_mg

    @property
    def least(self) -> Decimal:
        """Return the lowest price; an increment takes nothing off."""
        return self.increment.base if self.increment else min(step.price for step in self.steps)

    def step_for(self, weight_mg: Milligrams) -> WeightStep | None:
        """Return the step a billable weight falls under, None above the last."""
        if weight_mg > self.top_mg:
            return None
        if self.increment:
            return self.increment.step(self.increment.number_for(weight_mg))
        return next(step for step in self.steps if weight_mg <= step.up_to_mg)

    def steps_near(self, weight_mg: Milligrams) -> tuple[WeightStep, ...]:
        """Return the steps; of many increments those near a weight."""
        if self.increment is None:
            return self.steps
        at = min(self.increment.number_for(weight_mg), self.increment.count)
        first = max(0, at - _STEPS_SHOWN)
        last = min(self.increment.count, at + _STEPS_SHOWN)
        return tuple(self.increment.step(number) for number in range(first, last + 1))


@dataclass(frozen=True, slots=True, kw_only=True)
class Format:
    """A class of sizes with prices of its own: a letter, a large letter, a packet (rules 10.4)."""

    code: str
    name: str
    limits: Limits
    zones: tuple[ZoneTable, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Marking:
    """What the carrier demands on the parcel, and when; all conditions named must hold."""

    text: str
    goods: tuple[GoodsWord, ...] = ()
    weight_above_mg: Milligrams | None = None
    longest_above_um: Micrometres | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Service:
    """One way a carrier takes a parcel."""

    code: str
    name: str
    limits: Limits
    volumetric: tuple[VolumetricRule, ...]  #: the first that is for the zone and the format counts
    zones: tuple[ZoneTable, ...]  #: prices when the service knows no formats
    surcharges: tuple[Surcharge, ...]
    cover_included: Decimal
    tax_percent: Decimal
    days_moved: tuple[int, ...]  #: weekdays it travels, Monday 0
    cut_off: time
    tape_over_label: LabelTape
    formats: tuple[Format, ...] = ()  #: smallest first; the first that takes the parcel holds
    weight_round_mg: Milligrams = 1  #: billable weight is rounded to a multiple of this
    weight_rounding: Rounding = "up"
    extra_cover: ExtraCover | None = None
    cover_excludes: tuple[GoodsWord, ...] = ()
    refuses: tuple[GoodsWord, ...] = ()
    markings: tuple[Marking, ...] = ()
    claim_days: int | None = None  #: a claim must be made within so many days of arrival
    zone_rules: tuple[ZoneRule, ...] = ()  #: of this service alone; empty: those of the list
    default_zone: str = ""  #: with zone rules of its own: for places none of them names
    least_billable_mg: Milligrams = 0  #: no parcel counts as less
    discount: Discount | None = None
    further: Further | None = None  #: None: every parcel of an order costs the same
    taxes: tuple[TaxRule, ...] = ()  #: the first that names the destination, else ``tax_percent``
    round_total: TotalRounding | None = None
    takes_dry_ice: bool = False  #: it must be told apart: gas needs a vent, carriers ask for more (rules 15.4)
    delivers_to: DeliversTo = "door"
    delivery_days: tuple[int, ...] = ()  #: weekdays it is handed over on, Monday 0; empty: those it moves on

    @property
    def all_formats(self) -> tuple[Format, ...]:
        """Return the formats; a service without has one that takes whatever the service takes."""
        return self.formats or (Format(code="", name="", limits=Limits(), zones=self.zones),)


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatPrice:
    """One price whatever it weighs, for some zones or (empty) all others."""

    zones: tuple[str, ...]
    price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatRate:
    """The price of a carrier's own package: it does not ask for weight up to its limit."""

    max_mg: Milligrams
    prices: tuple[FlatPrice, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Packaging:
    """A carrier's own carton or envelope: valid with the services named and no others (rules 10.7)."""

    code: str  #: the supply of that code is this
    name: str
    services: tuple[str, ...]
    inner: Size
    flat_rate: FlatRate | None = None


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
    default_zone: str = ""  #: for places no rule names; empty: they are not served
    packaging: tuple[Packaging, ...] = ()
    holidays: tuple[date, ...] = ()  #: days on which nothing of this carrier moves
