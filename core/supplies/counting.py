"""Counting what is there: a difference that is large is looked at twice (supplies; rules 13.6)."""

from decimal import Decimal

__all__ = ["asks_second_look"]

#: More than a tenth, or more than so many units.
_SHARE, _UNITS = Decimal("0.1"), Decimal(5)


def asks_second_look(*, ledger: Decimal, counted: Decimal) -> bool:
    """Return whether a count is so far from the ledger that it is counted once more.

    >>> [asks_second_look(ledger=Decimal(40), counted=Decimal(n)) for n in (40, 36, 35, 46)]
    [False, False, True, True]
    """
    difference = abs(counted - ledger)
    return difference > abs(ledger) * _SHARE or difference > _UNITS
