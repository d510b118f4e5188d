"""Asking the quote for a price again and again, and finding where it changes by halving (decision 11). Pure.

Shared by the rulers of a plan (``sides``), the next cheaper step (``cheaper``) and the price steps (``stairs``).
"""

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal
from functools import cache
from typing import Literal

from core.errors import OutsideTariff
from core.tariffs.model import Sending, Service, Tariff
from core.tariffs.quote import quote_service
from core.units import Milligrams, Size

__all__ = ["Over", "PriceAt", "first_alike", "last_alike", "price_of", "price_over"]

Over = Literal["weight", "length", "width", "height"]
#: The price at a value of one measure, None: refused.
PriceAt = Callable[[int], Decimal | None]


def price_of(tariff: Tariff, service: Service, sending: Sending) -> Callable[[Size, Milligrams], Decimal | None]:
    """Return the service's price as a function of size and weight, None where it refuses; asked once for each."""

    @cache
    def price(outer: Size, gross_mg: Milligrams) -> Decimal | None:
        try:
            return quote_service(tariff, service, outer=outer, gross_mg=gross_mg, sending=sending).price
        except OutsideTariff:
            return None

    return price


def price_over(
    tariff: Tariff, service: Service, over: Over, *, outer: Size, gross_mg: Milligrams, sending: Sending
) -> PriceAt:
    """Return the price as a function of one measure, the rest as it is."""
    price = price_of(tariff, service, sending)
    if over == "weight":
        return lambda mg: price(outer, mg)
    return lambda um: price(replace(outer, **{f"{over}_um": um}), gross_mg)


def first_alike(price: PriceAt, low: int, at: int) -> int:
    """Return the least value from ``low`` on with the price of ``at``; between them it changes one way only."""
    wanted = price(at)
    while low < at:
        middle = (low + at) // 2
        if price(middle) == wanted:
            at = middle
        else:
            low = middle + 1
    return at


def last_alike(price: PriceAt, at: int, high: int) -> int:
    """Return the largest value up to ``high`` with the price of ``at``; between them it changes one way only."""
    wanted = price(at)
    while at < high:
        middle = (at + high + 1) // 2
        if price(middle) == wanted:
            at = middle
        else:
            high = middle - 1
    return at
