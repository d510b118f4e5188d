"""The goods a recipe packs: size, weight, how they may stand, what they may not travel with."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.judgements import ORDINARY, Judgements
from core.messages import Message, say
from core.units import Milligrams, Size

__all__ = [
    "UP_AXES",
    "Fragility",
    "GoodsWord",
    "Holds",
    "Orientation",
    "Product",
    "cautions_of",
    "goods_words",
    "with_family",
]

Fragility = Literal["sturdy", "delicate", "fragile"]
Orientation = Literal["any", "upright", "on_edge", "flat"]
#: What carriers ask of goods: some they refuse, some cost more, some they cover for nothing.
GoodsWord = Literal[
    "food", "perishable", "live", "frozen", "melts", "glass", "fragile", "restricted",
    "batteries", "liquids", "aerosols", "alcohol", "plants", "dry_ice",
]  # fmt: skip
#: Those a product simply holds; the others follow from what else is known of it.
Holds = Literal["batteries", "liquids", "aerosols", "alcohol", "plants"]

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
    glass: bool = False
    meltable: bool = False
    restricted: bool = False  #: the carrier's and the local dangerous-goods rules decide
    delicate_place: str = ""  #: what the hands must mind: handle, rim, soft top
    lowest_c: int | None = None  #: coldest it may get, degrees Celsius
    highest_c: int | None = None
    longest_days: int | None = None  #: in transit, weekends counted
    keeps_days: int | None = None  #: good for so many days from shipping
    not_with: tuple[str, ...] = ()  #: skus it may not share a parcel with
    holds: tuple[Holds, ...] = ()  #: what carriers ask about and nothing else here tells
    family: str = ""  #: variants of one thing share a family
    assumed: tuple[str, ...] = ()  #: "size", "weight": taken from the largest known variant of the family

    def limits_c(self, judged: Judgements = ORDINARY) -> tuple[int | None, int | None]:
        """Return the coldest and the warmest it may get, degrees Celsius; None: no such limit (rules 15.2).

        What melts or is frozen and says no more is taken to have the workshop's ordinary limit.
        """
        high = self.highest_c
        if high is None and self.frozen:
            high = judged.frozen_highest_c
        elif high is None and self.meltable:
            high = judged.melts_highest_c
        return self.lowest_c, high

    @property
    def days_limit(self) -> int | None:
        """Return how many days it may be longest in transit, None for any (rules 15.1)."""
        known = [days for days in (self.longest_days, self.keeps_days) if days is not None]
        return min(known, default=None)


def with_family(product: Product, family: Sequence[Product]) -> Product:
    """Return a variant with the largest known size and weight of its family where it has none of its own.

    The largest is the safe one (the job: with variants, the largest weight); what was assumed is told.
    """
    assumed = []
    sizes = [one.size for one in family if one.size is not None]
    if product.size is None and sizes:
        product = replace(product, size=max(sizes, key=lambda size: size.volume_um3))
        assumed.append("size")
    weights = [one.weight_mg for one in family if one.weight_mg is not None]
    if product.weight_mg is None and weights:
        product = replace(product, weight_mg=max(weights))
        assumed.append("weight")
    return replace(product, assumed=tuple(assumed)) if assumed else product


def goods_words(product: Product) -> frozenset[GoodsWord]:
    """Return what a carrier's rules may ask of these goods; what keeps only so many days is perishable."""
    holds: dict[GoodsWord, bool] = {
        "food": product.food,
        "perishable": product.keeps_days is not None or product.frozen or product.live,
        "live": product.live,
        "frozen": product.frozen,
        "melts": product.meltable,
        "glass": product.glass,
        "fragile": product.fragility == "fragile",
        "restricted": product.restricted,
    }
    return frozenset(word for word, true in holds.items() if true) | frozenset(product.holds)


def cautions_of(product: Product) -> tuple[Message, ...]:
    """Return what to mind with these goods, shown where the hands are (the job: cautions)."""
    told = []
    if product.delicate_place:
        told.append(say("mind_place", name=product.name, place=product.delicate_place))
    if product.restricted:
        told.append(say("mind_restricted", name=product.name))
    if product.holds:
        told.append(say("mind_holds", name=product.name, what=tuple(say(f"goods_{word}") for word in product.holds)))
    if product.live:
        told.append(say("mind_live", name=product.name))
    low, high = product.lowest_c, product.highest_c
    if low is not None and high is not None:
        told.append(say("mind_between", name=product.name, low_c=low, high_c=high))
    elif low is not None:
        told.append(say("mind_cold", name=product.name, low_c=low))
    elif high is not None:
        told.append(say("mind_heat", name=product.name, high_c=high))
    elif product.meltable:
        told.append(say("mind_melts", name=product.name))
    return tuple(told)
