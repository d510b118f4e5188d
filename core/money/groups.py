"""Orders' records in groups: by size, by what they have in common, by goods (money; rules 19.4). Pure."""

import statistics
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import TypeVar

from core.units import round_money

__all__ = ["LeftGroup", "SizeGroup", "left_by", "left_by_goods", "left_by_size"]

#: Orders by their number of units, from and to: sizes with few orders are one group (a judgement).
_SIZES = ((1, 1), (2, 2), (3, 3), (4, 6), (7, 12), (13, None))
_NOTHING = Decimal(0)
One = TypeVar("One")


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftGroup:
    """Orders with something in common, and what they left."""

    key: str
    orders: int
    left: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeGroup:
    """Orders of a number of units."""

    units_from: int
    units_to: int | None  #: None: and more
    orders: int
    left: Decimal
    median: Decimal


def left_by_size(orders: Sequence[tuple[int, Decimal]], digits: int = 2) -> tuple[SizeGroup, ...]:
    """Return what orders left by their size; each is its units and what it left. Sizes nobody ordered are left out."""
    found = []
    for low, high in _SIZES:
        left = [amount for units, amount in orders if low <= units and (high is None or units <= high)]
        if left:
            median = round_money(Decimal(statistics.median(left)), digits)
            found.append(
                SizeGroup(units_from=low, units_to=high, orders=len(left), left=sum(left, _NOTHING), median=median)
            )
    return tuple(found)


def left_by(orders: Sequence[One], key: Callable[[One], str], left: Callable[[One], Decimal]) -> tuple[LeftGroup, ...]:
    """Return what orders left by what they have in common, the most first."""
    groups: dict[str, list[Decimal]] = defaultdict(list)
    for one in orders:
        groups[key(one)].append(left(one))
    return _ranked(
        LeftGroup(key=name, orders=len(amounts), left=sum(amounts, _NOTHING)) for name, amounts in groups.items()
    )


def left_by_goods(
    orders: Sequence[tuple[Sequence[tuple[str, Decimal]], Decimal]], digits: int = 2
) -> tuple[LeftGroup, ...]:
    """Return what orders left by goods, each order its goods with what was paid for them, and what it left.

    It is shared out by what was paid for each, evenly where nothing was (a judgement).
    """
    counts: dict[str, int] = defaultdict(int)
    left: dict[str, Decimal] = defaultdict(Decimal)
    for goods, amount in orders:
        whole = sum((paid for _, paid in goods), _NOTHING)
        for name, paid in goods:
            counts[name] += 1
            left[name] += amount * paid / whole if whole else amount / len(goods)
    return _ranked(LeftGroup(key=name, orders=counts[name], left=round_money(left[name], digits)) for name in counts)


def _ranked(groups: Iterable[LeftGroup]) -> tuple[LeftGroup, ...]:
    return tuple(sorted(groups, key=lambda one: (-one.left, one.key)))
