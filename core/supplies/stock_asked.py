"""What a plan asks of the shelf: so it can be told for which other shelves its answer would be the same (supplies).

A plan looks at the shelf to see whether there is enough of something. What it asked, and what it was told, is
noted; the plan holds for every shelf that would have told it the same (``core.parcels.remembered``).
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from decimal import Decimal

__all__ = ["Asked", "Watched", "covers", "without"]

_NONE = Decimal(0)


@dataclass(slots=True)
class Asked:
    """What was asked, by supply code."""

    enough: dict[str, Decimal] = field(default_factory=dict)  #: the most that was asked for and was there
    short: dict[str, Decimal] = field(default_factory=dict)  #: the least that was asked for and was not there
    exact: dict[str, Decimal] = field(default_factory=dict)  #: what was there, where the number itself was asked for

    def answered_alike(self, free: Mapping[str, Decimal]) -> bool:
        """Return whether a shelf answers all that was asked in the same way."""
        return (
            all(free.get(code, _NONE) >= quantity for code, quantity in self.enough.items())
            and all(free.get(code, _NONE) < quantity for code, quantity in self.short.items())
            and all(free.get(code, _NONE) == quantity for code, quantity in self.exact.items())
        )


class Watched(Mapping[str, Decimal]):
    """A shelf that notes what it is asked. ``taken`` is what other parcels of the order have taken from it."""

    def __init__(self, free: Mapping[str, Decimal], asked: Asked, taken: Mapping[str, Decimal] | None = None) -> None:
        """Watch a shelf; several may note in the same place."""
        self._free, self.asked, self._taken = free, asked, taken or {}

    def __getitem__(self, code: str) -> Decimal:
        """Return what is free: the number itself counts from now on."""
        self.asked.exact[code] = self._free.get(code, _NONE)
        if code not in self._free and code not in self._taken:
            raise KeyError(code)
        return self._free.get(code, _NONE) - self._taken.get(code, _NONE)

    def __iter__(self) -> Iterator[str]:
        """Go through all supplies."""
        return iter({**self._free, **self._taken})

    def __len__(self) -> int:
        """Return how many supplies there are."""
        return len({**self._free, **self._taken})

    def covers(self, code: str, quantity: Decimal) -> bool:
        """Return whether so much is free, and note it."""
        wanted = quantity + self._taken.get(code, _NONE)
        there = self._free.get(code, _NONE) >= wanted
        if there:
            self.asked.enough[code] = max(wanted, self.asked.enough.get(code, wanted))
        else:
            self.asked.short[code] = min(wanted, self.asked.short.get(code, wanted))
        return there

    def less(self, taken: Mapping[str, Decimal]) -> "Watched":
        """Return the shelf with so much less on it, noting in the same place."""
        codes = {**self._taken, **taken}
        both = {code: self._taken.get(code, _NONE) + taken.get(code, _NONE) for code in codes}
        return Watched(self._free, self.asked, both)


def covers(free: Mapping[str, Decimal], code: str, quantity: Decimal) -> bool:
    """Return whether so much of a supply is free."""
    if isinstance(free, Watched):
        return free.covers(code, quantity)
    return free.get(code, _NONE) >= quantity


def without(free: Mapping[str, Decimal], uses: Iterable[tuple[str, Decimal]]) -> Mapping[str, Decimal]:
    """Return the shelf without what is used."""
    taken: dict[str, Decimal] = {}
    for code, quantity in uses:
        taken[code] = taken.get(code, _NONE) + quantity
    if isinstance(free, Watched):
        return free.less(taken)
    return {**free, **{code: free.get(code, _NONE) - quantity for code, quantity in taken.items()}}
