"""What a plan depends on besides the goods: the cupboard, the tariffs, the workshop's choices, a person's (parcels)."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from core.judgements import ORDINARY, Judgements
from core.parcels.packed import Outer, ThermalWish
from core.recipes.expand import Shelf
from core.recipes.model import Occasion
from core.tariffs.choosing import CHEAPEST, Choosing
from core.tariffs.model import Place, Tariff

__all__ = ["Aim", "CareChoice", "Facts", "Overrides", "Settings", "Shares"]

#: Goods of each parcel of a divided order: sku and units, one tuple a parcel.
Shares = tuple[tuple[tuple[str, int], ...], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Settings:
    """The workshop's choices a plan depends on."""

    wage_per_hour: Decimal
    scale_division_mg: int
    support_percent: int
    money_digits: int
    label: str | None
    origin: Place | None = None  #: where parcels leave from
    homes: bool = False  #: parcels go to houses
    signature_above: Decimal | None = None  #: somebody signs for goods worth more; None: never
    cover_goods: bool = False  #: cover is bought for what the goods are worth
    choosing: Choosing = CHEAPEST
    unprotected_factor: Decimal = Decimal(3)  #: how much likelier damage is where goods are exposed
    slip_one_in: int = 200  #: one parcel in so many has a slip (rules 8.3)
    look_minutes: Decimal = Decimal("0.5")  #: what a look into a packed parcel takes (rules 8.3)
    judgements: Judgements = ORDINARY

    @property
    def look_cost(self) -> Decimal:
        """Return what a look into a packed parcel costs."""
        return self.wage_per_hour * self.look_minutes / 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """The cupboard and the tariffs as they stand."""

    shelf: Shelf
    containers: tuple[Outer, ...]
    free: Mapping[str, Decimal]  #: per supply: on the shelf and not promised to other orders
    tariffs: tuple[Tariff, ...]
    settings: Settings


@dataclass(frozen=True, slots=True, kw_only=True)
class CareChoice:
    """What a person decided about heat and cold for one order (rules 15.5)."""

    wish: ThermalWish = ThermalWish()  # noqa: RUF009 - a frozen value; goes in, whatever the weather
    #: The buyer agreed to goods as warm or cold as this, degrees Celsius: nothing more is asked below or above it.
    agreed_low_c: Decimal | None = None
    agreed_high_c: Decimal | None = None
    agreed_words: str = ""  #: the buyer's own
    agreed_on: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Overrides:
    """What a person decided for one order; every part is checked like the recipe's own choices."""

    container: str | None = None  #: a way's key
    forbidden: tuple[str, ...] = ()  #: container codes not to be used
    may_lie_down: tuple[str, ...] = ()  #: skus that may lie on any side this once
    note: str = ""  #: for whoever packs it
    parcels: int | None = None  #: so many parcels, neither more nor fewer
    shares: Shares = ()  #: which goods go into which parcel; empty: the program divides them
    service: str | None = None  #: code of the carrier's service
    not_before: date | None = None  #: it leaves on this day or later, and is held until then
    arrive_by: date | None = None  #: it must arrive on this day at the latest
    omitted: tuple[str, ...] = ()  #: inserts left out, none of them required
    #: Fills or samples taken instead of those the recipe names: (its, this).
    substitutes: tuple[tuple[str, str], ...] = ()
    care: CareChoice | None = None  #: about heat and cold; None: as the recipe says

    @property
    def any(self) -> bool:
        """Return whether a person decided anything that changes the plan."""
        packing = self.container or self.forbidden or self.may_lie_down or self.parcels or self.shares
        sending = self.service or self.not_before or self.arrive_by
        return bool(packing or sending or self.omitted or self.substitutes or self.care)


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """Where an order goes and when, and what is decided and known of it."""

    destination: Place
    ship_on: date
    overrides: Overrides
    occasion: Occasion
    goods_cost: Decimal = Decimal(
        0
    )  #: at cost, of the whole order: by it the order's value is shared out to its parcels
    thermal: ThermalWish | None = None  #: goes in with goods that have a limit of heat or cold
    further_of: tuple[str, str] | None = None  #: carrier and service of the order's first parcel; None: this is it
