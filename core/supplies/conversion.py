"""Supplies made out of others: paired entries that carry the cost over (supplies; rules 13.5).

A mailer cut in two, a roll cut to lengths, blank sheets printed into labels, a card punched and strung from two parts.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_DOWN, Decimal

__all__ = ["Converted", "Input", "convert", "good_pieces"]

_COST_PLACES = Decimal("0.000001")


@dataclass(frozen=True, slots=True, kw_only=True)
class Input:
    """What goes out: a quantity, and what one stock unit of it costs on average."""

    code: str
    quantity: Decimal
    average_cost: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Converted:
    """What comes in for it."""

    quantity: Decimal
    unit_cost: Decimal  #: six places
    value: Decimal  #: of what went out


def good_pieces(*, made: Decimal, waste_percent: Decimal, whole: bool) -> Decimal:
    """Return what is good of what was made; of pieces the whole ones.

    Raises ValueError where nothing is left.
    """
    good = made * (1 - waste_percent / 100)
    good = good.to_integral_value(ROUND_DOWN) if whole else good
    if good <= 0:
        raise ValueError(f"nothing is left of {made} with {waste_percent} % waste")
    return good


def convert(inputs: Sequence[Input], *, made: Decimal, waste_percent: Decimal, whole: bool) -> Converted:
    """Return what comes in: n pieces with w % waste cost c / (n (1 - w)) each, all inputs together.

    Raises ValueError where nothing is left.

    >>> roll = Input(code="R", quantity=Decimal(1), average_cost=Decimal("18.00"))
    >>> convert([roll], made=Decimal(100), waste_percent=Decimal(10), whole=True).unit_cost
    Decimal('0.200000')
    """
    value = sum((one.quantity * one.average_cost for one in inputs), Decimal(0))
    good = good_pieces(made=made, waste_percent=waste_percent, whole=whole)
    return Converted(quantity=good, unit_cost=(value / good).quantize(_COST_PLACES), value=value)
