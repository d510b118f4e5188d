"""Stock that expires: what was received first is used first, and what is past its day counts as none (rules 13.6)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

__all__ = ["Batch", "Dated", "dated"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Batch:
    """What came in at once."""

    quantity: Decimal
    good_until: date | None  #: the last day it may be used; None: it does not expire


@dataclass(frozen=True, slots=True, kw_only=True)
class Dated:
    """How much of what is on hand is past its day, and when the next is."""

    expired: Decimal
    next_day: date | None  #: the last day of what expires next; None: nothing does


def dated(on_hand: Decimal, batches: Iterable[Batch], *, today: date) -> Dated:
    """Return what is expired of a supply. ``batches``: the newest first; what is left is of those that came last."""
    left, expired = max(on_hand, Decimal(0)), Decimal(0)
    days = []
    for batch in batches:
        if left <= 0:
            break
        here = min(left, batch.quantity)
        left -= here
        if batch.good_until is None:
            continue
        if batch.good_until < today:
            expired += here
        else:
            days.append(batch.good_until)
    return Dated(expired=expired, next_day=min(days, default=None))
