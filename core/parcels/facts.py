"""What a plan depends on besides the goods: the cupboard, the tariffs, the workshop's choices, a person's (parcels)."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from core.parcels.packed import Outer
from core.recipes.expand import Shelf
from core.recipes.model import Occasion
from core.tariffs.model import Place, Tariff

__all__ = ["Aim", "Facts", "Overrides", "Settings", "Shares"]

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


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """The cupboard and the tariffs as they stand."""

    shelf: Shelf
    containers: tuple[Outer, ...]
    free: Mapping[str, Decimal]  #: per supply: on the shelf and not promised to other orders
    tariffs: tuple[Tariff, ...]
    settings: Settings


@dataclass(frozen=True, slots=True, kw_only=True)
class Overrides:
    """What a person decided for one order; every part is checked like the recipe's own choices."""

    container: str | None = None  #: a way's key
    forbidden: tuple[str, ...] = ()  #: container codes not to be used
    laid: tuple[str, ...] = ()  #: skus that may lie on any side this once
    note: str = ""  #: for whoever packs it
    parcels: int | None = None  #: so many parcels, neither more nor fewer
    shares: Shares = ()  #: which goods go into which parcel; empty: the program divides them

    @property
    def any(self) -> bool:
        """Return whether a person decided anything that changes the plan."""
        return bool(self.container or self.forbidden or self.laid or self.parcels or self.shares)


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """Where an order goes and when, and what is decided and known of it."""

    destination: Place
    ship_on: date
    overrides: Overrides
    occasion: Occasion
