"""Where the price changes as one side of a parcel grows or shrinks, the rest as it is (rules 11.1).

Asked of the quote itself, so every rule of the service counts: rounding, volumetric weight, surcharges, limits. A price
never falls when a side grows, so each edge is found by halving, exact to the micrometre.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.tariffs.model import Sending, Service, Tariff
from core.tariffs.probing import PriceAt, first_alike, last_alike, price_over
from core.units import Micrometres, Milligrams, Size

__all__ = ["SideRuler", "SideStep", "side_rulers"]

Side = Literal["length", "width", "height"]
_SIDES: tuple[Side, Side, Side] = ("length", "width", "height")

#: How far to either side of the parcel's own measure is looked, percent, and how many edges each way.
_REACH_PERCENT = 40
_EDGES = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class SideStep:
    """Up to this measure the parcel costs so much; None: the service refuses it."""

    up_to_um: Micrometres
    price: Decimal | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SideRuler:
    """One side of the parcel among the edges near it, shortest first; the last step ends where looking ended."""

    side: Side
    value_um: Micrometres
    from_um: Micrometres
    steps: tuple[SideStep, ...]


def side_rulers(
    tariff: Tariff, service: Service, *, outer: Size, gross_mg: Milligrams, sending: Sending
) -> tuple[SideRuler, ...]:
    """Return the rulers of length, width and height for one service."""
    values = (outer.length_um, outer.width_um, outer.height_um)
    found = []
    for side, value in zip(_SIDES, values, strict=True):
        price = price_over(tariff, service, side, outer=outer, gross_mg=gross_mg, sending=sending)
        found.append(_ruler(side, value, price))
    return tuple(found)


def _ruler(side: Side, value: int, price: PriceAt) -> SideRuler:
    low, high = max(1, value * (100 - _REACH_PERCENT) // 100), value * (100 + _REACH_PERCENT) // 100
    below: list[SideStep] = []
    at = value
    for _ in range(_EDGES):
        first = first_alike(price, low, at)
        if first == low:
            break
        below.insert(0, SideStep(up_to_um=first - 1, price=price(first - 1)))
        at = first - 1
    from_um = first_alike(price, low, at)
    above: list[SideStep] = []
    at = value
    for _ in range(_EDGES + 1):
        last = last_alike(price, at, high)
        above.append(SideStep(up_to_um=last, price=price(at)))
        if last == high or above[-1].price is None:
            break
        at = last + 1
    return SideRuler(side=side, value_um=value, from_um=from_um, steps=(*below, *above))
