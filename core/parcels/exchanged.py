"""An order in several parcels with another container for one of them (parcels; rules 23.4: what the choice was
weighed against).

Parcels of the same goods in the same container change together: nobody packs three alike and the fourth otherwise.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from decimal import Decimal

from core.parcels.candidate import Candidate
from core.parcels.single import rank
from core.parcels.way import Way
from core.recipes.expand import amounts_of
from core.supplies.stock_asked import covers

__all__ = ["alike", "exchanged"]

#: Other containers looked at for each kind of parcel, the cheapest first.
_MOST = 5


def exchanged(way: Way, found: Sequence[Sequence[Candidate]], free: Mapping[str, Decimal]) -> tuple[Way, ...]:
    """Return the way with another container for one kind of its parcels, and with the cheapest for each.

    ``found`` is, parcel by parcel, all that takes its goods; ``free`` what the shelf holds for the whole order: a way
    that needs more containers than that is left out.
    """
    ways, cheapest = [], way
    for numbers in alike(way):
        first = way.parcels[numbers[0]].candidate
        others = sorted((one for one in found[numbers[0]] if one.key != first.key), key=rank)[:_MOST]
        ways += [made for one in others if (made := _with(way, numbers, one.key, found, free))]
        if others and rank(others[0]) < rank(first):
            cheapest = _with(cheapest, numbers, others[0].key, found, free) or cheapest
    if cheapest != way:
        ways.append(cheapest)
    return tuple({one.key: one for one in ways}.values())


def alike(way: Way) -> list[list[int]]:
    """Return the numbers of parcels that hold the same goods in the same container."""
    groups: dict[tuple[tuple[tuple[str, int], ...], str], list[int]] = {}
    for number, parcel in enumerate(way.parcels):
        groups.setdefault((parcel.goods, parcel.candidate.key), []).append(number)
    return list(groups.values())


def _with(
    way: Way, numbers: list[int], key: str, found: Sequence[Sequence[Candidate]], free: Mapping[str, Decimal]
) -> Way | None:
    """Return the way with these parcels in another container; None when one does not go into it or the shelf has too
    few.
    """
    parcels = list(way.parcels)
    for number in numbers:
        # Each with its own: what goes in once an order is in the first parcel only.
        candidate = next((one for one in found[number] if one.key == key), None)
        if candidate is None:
            return None
        parcels[number] = replace(parcels[number], candidate=candidate)
    made = Way(parcels=tuple(parcels))
    return made if _there(made, free) else None


def _there(way: Way, free: Mapping[str, Decimal]) -> bool:
    """Return whether the shelf has the containers of all parcels together."""
    needed = amounts_of(way.uses)
    return all(covers(free, code, needed[code]) for code in way.containers)
