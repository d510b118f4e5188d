"""A worked-out figure that can be opened: its inputs, its rule, its result.

Interface rule: every figure shows its sum. Amounts stay typed by unit so that the front end can show them
in the workshop's system.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.messages import Text

__all__ = ["Amount", "AmountUnit", "Working", "WorkingLine"]

AmountUnit = Literal["um", "mg", "money", "m", "m2", "l", "cm3", "pieces", "minutes", "percent", "number", "N"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Amount:
    """A number with its unit. Lengths in um, weights in mg, money in the workshop's currency."""

    value: Decimal
    unit: AmountUnit


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkingLine:
    """One input or partial sum of a figure."""

    label: Text  #: what it is
    amount: Amount


@dataclass(frozen=True, slots=True, kw_only=True)
class Working:
    """A figure with how it came about."""

    what: Text  #: the figure's name
    rule: Text  #: the rule, with its source
    lines: tuple[WorkingLine, ...]
    result: Amount


def line(label: Text, value: int | Decimal, unit: AmountUnit) -> WorkingLine:
    """Return a working line; integers are widened to Decimal."""
    return WorkingLine(label=label, amount=Amount(value=Decimal(value), unit=unit))
