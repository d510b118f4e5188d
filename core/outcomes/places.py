"""Where goods break, and whether one place stands out (outcomes; rules 17.3).

Half of three breakages would point at a cause by chance alone in one world of four, with eleven places to break at. So
a place leads only with three breakages there, more than half of all whose place is known, and so many there by chance
rarer than one in twenty, counted over all places. Worked: 3 of 4 leads (0.031), 3 of 5 does not (0.072), 4 of 7 does.

What was spoiled has no place; it leads by the same rule among all damage, as one cause beside the places.
"""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from math import comb
from typing import Literal

from core.outcomes.model import PLACES, Arrived, Place
from core.outcomes.rates import wilson

__all__ = ["Cause", "PlaceCount", "Where", "chance_of", "leads", "where_of"]

#: What advice goes by: a place, or heat and cold.
Cause = Place | Literal["spoiled"]

_LEAST = 3
_LIMIT = Fraction(1, 20)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceCount:
    """Breakages at one place, with the interval of their share of all whose place is known."""

    place: Place
    count: int
    low: Decimal
    high: Decimal
    spots: tuple[tuple[str, int], ...] = ()  #: which edge or corner, most first


@dataclass(frozen=True, slots=True, kw_only=True)
class Where:
    """Breakages by place."""

    broken: int  #: parcels with something broken
    placed: int  #: places told, each once a parcel
    spoiled: int
    places: tuple[PlaceCount, ...]  #: most first; all eleven
    leading: Cause | None
    by_chance: (
        Decimal | None
    )  #: how often so many at the leading place, or the first, come by chance; None: no breakage


def leads(count: int, of: int, causes: int = len(PLACES)) -> bool:
    """Return whether so many of all breakages stand out at one of ``causes`` places.

    >>> [leads(*one) for one in ((3, 4), (3, 5), (4, 7), (2, 2))]
    [True, False, True, False]
    """
    return count >= _LEAST and 2 * count > of and chance_of(count, of, causes) <= _LIMIT


def chance_of(count: int, of: int, causes: int = len(PLACES)) -> Fraction:
    """Return number of places x the binomial tail of so many at one of them by chance, at most 1."""
    p = Fraction(1, causes)
    tail = sum((comb(of, k) * p**k * (1 - p) ** (of - k) for k in range(count, of + 1)), Fraction(0))
    return min(Fraction(1), causes * tail)


def where_of(parcels: Iterable[Arrived]) -> Where:
    """Return where the goods of these parcels broke. A parcel counts once at each place it broke at."""
    counts: Counter[Place] = Counter()
    spots: dict[Place, Counter[str]] = {}
    broken = spoiled = 0
    for parcel in parcels:
        broken += parcel.outcome == "broken"
        spoiled += parcel.outcome == "spoiled"
        counts.update(parcel.places)
        for place in parcel.places:
            told = {harm.spot for harm in parcel.harms if harm.place == place and harm.spot}
            spots.setdefault(place, Counter()).update(told)
    placed = counts.total()
    order = sorted(PLACES, key=lambda place: (-counts[place], PLACES.index(place)))
    shares = {place: wilson(counts[place], placed) for place in order}
    first = order[0]
    leading: Cause | None = None
    if leads(counts[first], placed):
        leading = first
    elif leads(spoiled, spoiled + broken, len(PLACES) + 1):
        leading = "spoiled"
    chance = chance_of(counts[first], placed) if placed else None
    if leading == "spoiled":
        chance = chance_of(spoiled, spoiled + broken, len(PLACES) + 1)
    return Where(
        broken=broken,
        placed=placed,
        spoiled=spoiled,
        places=tuple(
            PlaceCount(
                place=place,
                count=counts[place],
                low=shares[place][0],
                high=shares[place][1],
                spots=tuple(sorted(spots.get(place, Counter()).items(), key=lambda one: (-one[1], one[0]))),
            )
            for place in order
        ),
        leading=leading,
        by_chance=Decimal(round(float(chance), 6)).quantize(Decimal("0.000001")) if chance is not None else None,
    )
