"""Price steps: what each service asks as one measure grows, and where another becomes the cheapest (rules 11.1).

Asked of the quote itself, edge by edge, each found by halving: exact to the milligram or micrometre. Pure.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from core.tariffs.model import Packaging
from core.tariffs.probing import PriceAt, last_alike
from core.units import Size

__all__ = ["Run", "Stair", "cheapest_runs", "fits_inside", "stairs_of"]

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


def stairs_of(price: PriceAt, low: int, high: int) -> tuple[Stair, ...]:
    """Return the stairs from ``low`` to ``high``; prices that fall as the measure grows may hide an edge."""
    found: list[Stair] = []
    at = low
    while at <= high and len(found) < _MOST_EDGES:
        last = last_alike(price, at, high)
        found.append(Stair(up_to=last, price=price(at)))
        at = last + 1
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
