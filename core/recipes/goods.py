"""The goods a recipe packs: size, weight, how they may stand, what they may not travel with."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.units import Milligrams, Size

__all__ = ["DAMAGE_PRIOR", "UP_AXES", "Fragility", "Orientation", "Product"]

Fragility = Literal["sturdy", "delicate", "fragile"]
Orientation = Literal["any", "upright", "on_edge", "flat"]

#: Prior chance that one parcel arrives damaged, by fragility grade (rules, 5: 0.3 / 1.5 / 4 %; a judgement).
DAMAGE_PRIOR: dict[Fragility, Decimal] = {
    "sturdy": Decimal("0.003"),
    "delicate": Decimal("0.015"),
    "fragile": Decimal("0.04"),
}

#: Which of the product's own axes (0 length, 1 width, 2 height) may stand vertical.
UP_AXES: dict[Orientation, tuple[int, ...]] = {
    "any": (0, 1, 2),
    "upright": (2,),
    "flat": (2,),
    "on_edge": (0, 1),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Product:
    """One thing that is sold. Size and weight may be unknown; then it cannot be planned yet."""

    sku: str
    name: str
    size: Size | None  #: bare, um
    weight_mg: Milligrams | None  #: bare
    weight_spread_mg: Milligrams  #: one standard deviation of a unit's weight
    goods_cost: Decimal  #: what one costs the maker
    orientation: Orientation
    fragility: Fragility
    load_on_top_mg: Milligrams | None  #: None: no limit, 0: nothing may rest on it
    food: bool
    scented: bool
    frozen: bool
    live: bool
