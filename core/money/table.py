"""A shop's table of charges: by zone and number of units, from what sending took (money; rules 18.3).

A charge is the mean of what was paid, at least the dearest less ``most_lost``, never less than for fewer units, then
rounded up to how the shop's prices end. Neighbours that are charged alike are one row; the last row is open above.
Pure.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal

from core.money.policies import SentOrder, ended

__all__ = ["TableRow", "shop_table"]


@dataclass(frozen=True, slots=True, kw_only=True)
class TableRow:
    """What so many units to a zone are charged."""

    zone: str
    units_from: int
    units_to: int | None  #: None: and more
    charge: Decimal
    count: int  #: of the orders it rests on
    mean_paid: Decimal  #: up to the currency's smallest part
    most_paid: Decimal


def shop_table(
    orders: Sequence[SentOrder], *, most_lost: Decimal, endings: Sequence[Decimal] = (), digits: int = 2
) -> tuple[TableRow, ...]:
    """Return the table. Numbers of units nobody ordered are charged as the next larger that somebody did.

    Pick-ups are left out.
    """
    zones: dict[str, dict[int, list[Decimal]]] = defaultdict(lambda: defaultdict(list))
    for order in orders:
        if not order.picked_up:
            zones[order.zone][order.units].append(order.paid)
    rows: list[TableRow] = []
    for zone, sizes in sorted(zones.items()):
        rows += _of_zone(zone, sizes, most_lost, endings, digits)
    return tuple(rows)


def _of_zone(
    zone: str, sizes: dict[int, list[Decimal]], most_lost: Decimal, endings: Sequence[Decimal], digits: int
) -> list[TableRow]:
    runs: list[tuple[Decimal, int, list[Decimal]]] = []  #: charge, the largest number of units, what was paid
    for units, paid in sorted(sizes.items()):
        mean = _up(sum(paid, Decimal(0)) / len(paid), digits)
        wanted = ended(max(mean, max(paid) - most_lost, Decimal(0)), endings, digits)
        charge = max(wanted, runs[-1][0]) if runs else wanted
        if runs and runs[-1][0] == charge:
            runs[-1] = (charge, units, [*runs[-1][2], *paid])
        else:
            runs.append((charge, units, list(paid)))
    found = []
    begins = 1
    for at, (charge, units, paid) in enumerate(runs):
        found.append(
            TableRow(
                zone=zone, units_from=begins, units_to=units if at + 1 < len(runs) else None, charge=charge,
                count=len(paid), mean_paid=_up(sum(paid, Decimal(0)) / len(paid), digits), most_paid=max(paid),
            )
        )  # fmt: skip
        begins = units + 1
    return found


def _up(amount: Decimal, digits: int) -> Decimal:
    return amount.quantize(Decimal(1).scaleb(-digits), rounding=ROUND_CEILING)
