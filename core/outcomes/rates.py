"""How often goods arrive damaged: counted, with the interval that holds the true rate, and the rate to plan with
(outcomes; rules 17.2).

The interval is Wilson's: it stays between 0 and 1 and is honest with few parcels, where "0 of 3" is no promise. The
rate to plan with is ``core.recipes.damage``: plans need it, and they stand before arrivals.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from core.outcomes.model import Arrived, Group, keys_of
from core.recipes.damage import planning_rate

__all__ = ["Z_95", "Counted", "planning_rate", "rates_by", "wilson"]

#: 97.5 % of a normal distribution lie below: two sides of 95 %.
Z_95 = Decimal("1.959964")
_PLACES = Decimal("0.000001")


def wilson(hits: int, known: int) -> tuple[Decimal, Decimal]:
    """Return the interval that holds the true share 95 times in 100, as shares rounded to a millionth.

    >>> [f"{100 * end:.1f}" for end in wilson(2, 40)], [f"{100 * end:.1f}" for end in wilson(0, 30)]
    (['1.4', '16.5'], ['0.0', '11.4'])

    Nothing known: 0 to 1. Raises ValueError when there are more hits than are known, or less than none.
    """
    if not 0 <= hits <= known:
        raise ValueError(f"{hits} of {known}")
    if known == 0:
        return Decimal(0), Decimal(1)
    n, share, z2 = Decimal(known), Decimal(hits) / known, Z_95 * Z_95
    middle = (share + z2 / (2 * n)) / (1 + z2 / n)
    half = Z_95 / (1 + z2 / n) * (share * (1 - share) / n + z2 / (4 * n * n)).sqrt()
    low = Decimal(0) if hits == 0 else max(Decimal(0), middle - half)
    high = Decimal(1) if hits == known else min(Decimal(1), middle + half)
    return low.quantize(_PLACES), high.quantize(_PLACES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Counted:
    """So many of so many arrived damaged."""

    damaged: int
    known: int
    assumed: int = 0  #: of the known: nobody wrote, so they count as whole

    @property
    def share(self) -> Decimal | None:
        """Return the share, None with nothing known."""
        return (Decimal(self.damaged) / self.known).quantize(_PLACES) if self.known else None

    @property
    def interval(self) -> tuple[Decimal, Decimal]:
        """Return the interval of the true share."""
        return wilson(self.damaged, self.known)


def rates_by(parcels: Iterable[Arrived], group: Group) -> dict[str, Counted]:
    """Return the count of each key of a group, keys in order; parcels of which nothing is known count nowhere."""
    found: dict[str, list[int]] = {}
    for parcel in parcels:
        if not parcel.known:
            continue
        for key, damaged in keys_of(parcel, group):
            row = found.setdefault(key, [0, 0, 0])
            row[0] += damaged
            row[1] += 1
            row[2] += parcel.assumed
    return {
        key: Counted(damaged=row[0], known=row[1], assumed=row[2])
        for key, row in sorted(found.items(), key=lambda pair: pair[0])
    }
