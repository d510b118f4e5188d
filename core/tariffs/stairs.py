"""Price stairs: what each service asks as one measure grows, and where another becomes the cheapest (rules, 11).

Asked of the quote itself, edge by edge, each found by halving: exact to the milligram or micrometre. Pure.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.errors import OutsideTariff
from core.tariffs.model import Packaging, Sending, Service, Tariff
from core.tariffs.quote import quote_service
from core.units import Milligrams, Size

__all__ = ["Over", "Run", "Stair", "cheapest_runs", "fits_inside", "price_over", "stairs_of"]

Over = Literal["weight", "length", "width", "height"]

#: More edges than this nobody could read; the stairs end there.
_MOST_EDGES = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Stair:
    """Up to this measure the service asks so much; None: it does not take it."""

    up_to: int
    price: Decimal | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """From this measure on, until the next run, one of the services is the cheapest."""

    above: int
    key: str  #: empty: nobody takes it
    cheaper_by: Decimal | None  #: than the one before, where the run begins; None: that one does not take it


def price_over(
    tariff: Tariff, service: Service, over: Over, *, outer: Size, gross_mg: Milligrams, sending: Sending
) -> Callable[[int], Decimal | None]:
    """Return the price as a function of one measure, the rest as it is."""

    def price(value: int) -> Decimal | None:
        size = outer if over == "weight" else replace(outer, **{f"{over}_um": value})
        weight = value if over == "weight" else gross_mg
        try:
            return quote_service(tariff, service, outer=size, gross_mg=weight, sending=sending).price
        except OutsideTariff:
            return None

    return price


def stairs_of(price: Callable[[int], Decimal | None], low: int, high: int) -> tuple[Stair, ...]:
    """Return the stairs from ``low`` to ``high``; prices that fall as the measure grows may hide an edge."""
    found: list[Stair] = []
    at = low
    while at <= high and len(found) < _MOST_EDGES:
        wanted = price(at)
        first, last = at, high
        while first < last:
            middle = (first + last + 1) // 2
            if price(middle) == wanted:
                first = middle
            else:
                last = middle - 1
        found.append(Stair(up_to=first, price=wanted))
        at = first + 1
    return tuple(found)


def cheapest_runs(stairs: Mapping[str, tuple[Stair, ...]], low: int, high: int) -> tuple[Run, ...]:
    """Return which of the services is cheapest where; of two alike the one that was stays."""
    edges = sorted({low - 1, *(one.up_to for steps in stairs.values() for one in steps if one.up_to < high)})
    found: list[Run] = []
    for above in edges:
        prices = {key: price for key, steps in stairs.items() if (price := _at(steps, above + 1)) is not None}
        now = found[-1].key if found else ""
        best = min(prices, key=lambda key: (prices[key], key != now, key), default="")
        if not found or best != now:
            gap = prices[now] - prices[best] if now in prices and best in prices else None
            found.append(Run(above=above, key=best, cheaper_by=gap))
    return tuple(found)


def _at(steps: tuple[Stair, ...], value: int) -> Decimal | None:
    return next((one.price for one in steps if value <= one.up_to), None)


def fits_inside(outer: Size, item: Packaging) -> bool:
    """Return whether a box of this size goes into a carrier's package, turned as it likes."""
    return all(side <= room for side, room in zip(outer.sorted_um, item.inner.sorted_um, strict=True))
