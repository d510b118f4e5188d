"""The stock ledger: on hand is the sum of entries, value is by moving average (rules 13.1).

An entry is never changed; a mistake is another entry. A count is a dated statement: its entry carries the
difference it found. Pure sums over entries given in the order they were made.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

__all__ = ["EntryKind", "LedgerEntry", "StockValue", "count_difference", "value_by_moving_average"]

EntryKind = Literal["received", "reclaimed", "used", "counted", "spoiled", "converted", "corrected"]

_COST_PLACES = Decimal("0.000001")


@dataclass(frozen=True, slots=True, kw_only=True)
class LedgerEntry:
    """One movement: positive in, negative out, in the supply's stock unit."""

    kind: EntryKind
    quantity: Decimal
    unit_cost: Decimal | None  #: per stock unit, only for entries that bring stock in at a cost


@dataclass(frozen=True, slots=True, kw_only=True)
class StockValue:
    """What is on the shelf and what one stock unit of it cost on average."""

    on_hand: Decimal
    average_cost: Decimal  #: six places


def value_by_moving_average(entries: Iterable[LedgerEntry], *, opening_cost: Decimal = Decimal(0)) -> StockValue:
    """Return quantity on hand and moving average cost after all entries, in order.

    Stock that comes in at a cost moves the average; what goes out leaves it as it is. When the shelf was
    empty or below nought, the incoming cost is the average. Source: rules 13.2.
    """
    on_hand, average = Decimal(0), opening_cost
    for entry in entries:
        if entry.quantity > 0 and entry.unit_cost is not None:
            held = max(on_hand, Decimal(0))
            total = held * average + entry.quantity * entry.unit_cost
            average = (total / (held + entry.quantity)).quantize(_COST_PLACES)
        on_hand += entry.quantity
    return StockValue(on_hand=on_hand, average_cost=average)


def count_difference(*, on_hand: Decimal, counted: Decimal) -> Decimal:
    """Return the quantity of the entry that makes the ledger agree with a count (may be negative)."""
    return counted - on_hand
