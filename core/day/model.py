"""What a day is made of: people at the table, parcels to pack, and the order they are packed in (day; rules 20.3).

Moments of a day are whole seconds from its midnight, so that every sum is exact: 6.8 minutes are 408 s. Pure.
"""

from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal
from typing import Literal

__all__ = [
    "LIKE_SAVING_PERCENT",
    "Job",
    "Outcome",
    "Schedule",
    "Slot",
    "Span",
    "Table",
    "saved_seconds",
    "seconds_of",
]

#: The second and later of alike parcels in a row take so much less (rules 20.2; a judgement).
LIKE_SAVING_PERCENT = 15

#: all: every parcel in time; cannot: proven that not all can; not_found: no way found, none ruled out.
Outcome = Literal["all", "cannot", "not_found"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A time without a break."""

    from_s: int
    to_s: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Table:
    """One person packing: when, in order, without overlap."""

    who: str
    spans: tuple[Span, ...]

    @property
    def seconds(self) -> int:
        """Return how long the person packs in all."""
        return sum(span.to_s - span.from_s for span in self.spans)

    def within(self, from_s: int, to_s: int) -> "Table":
        """Return the person's time from a moment to another."""
        cut = (Span(from_s=max(s.from_s, from_s), to_s=min(s.to_s, to_s)) for s in self.spans)
        return Table(who=self.who, spans=tuple(span for span in cut if span.to_s > span.from_s))

    def without(self, from_s: int, to_s: int) -> "Table":
        """Return the person's time less the time away."""
        pieces = (*self.within(-_FAR_S, from_s).spans, *self.within(to_s, _FAR_S).spans)
        return Table(who=self.who, spans=tuple(sorted(pieces, key=lambda span: span.from_s)))


_FAR_S = 1 << 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """One parcel to pack. It is not left in the middle."""

    code: str
    seconds: int  #: when the one packed before it is another
    alike: str  #: recipe, band and container; empty: like no other
    due_s: int  #: packed by then; ending at the time is in time
    ready_s: int = 0  #: not before: what is prepared for it is ready then
    weight: int = 1  #: how much it counts that this one is in time


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """When one parcel is packed, and at which table."""

    code: str
    table: int
    start_s: int
    end_s: int
    in_row: bool  #: it follows one that is alike, and takes less


@dataclass(frozen=True, slots=True, kw_only=True)
class Schedule:
    """The order of packing: in time, table by table; and what is not in it."""

    outcome: Outcome
    slots: tuple[Slot, ...]
    late: tuple[str, ...]  #: codes of what cannot make it, in the order given
    exact: bool  #: every order was looked through, so no other leaves fewer behind

    @property
    def ends_s(self) -> int | None:
        """Return when the last parcel is packed, None when none is."""
        return max((slot.end_s for slot in self.slots), default=None)

    def of_table(self, table: int) -> tuple[Slot, ...]:
        """Return what is packed at one table, in order."""
        return tuple(sorted((s for s in self.slots if s.table == table), key=lambda slot: slot.start_s))


def seconds_of(minutes: Decimal) -> int:
    """Return minutes as whole seconds, rounded up: a sum never promises more than there is.

    >>> seconds_of(Decimal("6.8"))
    408
    """
    return int((minutes * 60).to_integral_value(ROUND_CEILING))


def saved_seconds(seconds: int, saving_percent: int) -> int:
    """Return what a parcel takes after one that is alike, rounded up (rules 20.2).

    >>> [saved_seconds(480, 15), 480 + 2 * saved_seconds(480, 15)]  # 6.8, and 8 + 6.8 + 6.8 = 21.6 minutes
    [408, 1296]
    """
    return -(-seconds * (100 - saving_percent) // 100)
