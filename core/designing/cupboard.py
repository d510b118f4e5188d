"""What a recipe is designed from: the planning facts, what supplies are made of, where a parcel usually goes
(designing).
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from core.parcels.facts import Facts, Overrides
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.recipes.goods import Product
from core.recipes.model import Recipe
from core.tariffs.model import Place

__all__ = ["Desk", "planned_for"]

_PLENTY = Decimal(10**9)
_PLASTIC = frozenset({"plastic", "foam"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Desk:
    """The cupboard and the tariffs seen from the desk: stock does not count, a recipe is judged by what it asks for."""

    facts: Facts
    materials: Mapping[str, str]  #: per supply code: paper, card, plastic, ...
    names: Mapping[str, str]
    usual: Place  #: where a parcel usually goes
    ship_on: date

    def plastic(self, code: str) -> bool:
        """Return whether a supply is made of plastic or foam."""
        return self.materials.get(code, "paper") in _PLASTIC

    def name(self, code: str) -> str:
        """Return what a supply is called."""
        return self.names.get(code, code)

    @property
    def plenty(self) -> Facts:
        """Return the facts with more than enough of everything."""
        return replace(self.facts, free=dict.fromkeys(self.facts.free, _PLENTY))


def planned_for(
    recipe: Recipe,
    product: Product,
    units: int,
    desk: Desk,
    to: Place | None = None,
    thermal: ThermalWish | None = None,
) -> PlannedOrder | Blocked:
    """Return so many of a product packed by a recipe in one parcel, to the usual place or another.

    ``thermal``: what goes in against heat and cold.
    """
    line = OrderLine(sku=product.sku, quantity=units, product=product, recipe=replace(recipe, tried=True))
    return plan_order(
        (line,),
        desk.plenty,
        destination=to or desk.usual,
        ship_on=desk.ship_on,
        overrides=Overrides(parcels=1),
        thermal=thermal,
    )
