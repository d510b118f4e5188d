"""Working days of the workshop: the days its stock is used on, and by which suppliers' lead times count (buying)."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

__all__ = ["WorkDays"]

#: So many days in a row without one are no calendar any more.
_FAR = 3_000


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkDays:
    """A calendar: weekdays, and days that are closed all the same."""

    weekdays: tuple[int, ...]  #: Monday 0; at least one
    closed: frozenset[date] = frozenset()

    def __post_init__(self) -> None:
        if not self.weekdays:
            raise ValueError("a calendar has at least one working day a week")

    @property
    def a_week(self) -> int:
        """Return how many there are in an ordinary week."""
        return len(self.weekdays)

    @property
    def a_year(self) -> Decimal:
        """Return how many there are in a year of 365 days."""
        return Decimal(365 * self.a_week) / 7

    def works_on(self, day: date) -> bool:
        """Return whether a day is a working day."""
        return day.weekday() in self.weekdays and day not in self.closed

    def from_day(self, day: date) -> Iterator[date]:
        """Go through the working days from a day on, itself included when it is one. Raises ValueError when there is
        none within more than a year."""
        gap = 0
        while gap < _FAR:
            if self.works_on(day):
                gap = 0
                yield day
            gap += 1
            day += timedelta(days=1)
        raise ValueError(f"no working day within {_FAR} days before {day}")

    def days(self, first: date, count: int) -> tuple[date, ...]:
        """Return so many working days from a day on."""
        through = self.from_day(first)
        return tuple(next(through) for _ in range(count))

    def add(self, day: date, count: int) -> date:
        """Return the working day so many after (or, negative, before) a day; 0: the day itself.

        >>> from datetime import date
        >>> WorkDays(weekdays=(0, 1, 2, 3, 4)).add(date(2026, 11, 27), 1)  # after a Friday
        datetime.date(2026, 11, 30)
        """
        step = timedelta(days=1 if count >= 0 else -1)
        gap = 0
        while count:
            day += step
            gap += 1
            if self.works_on(day):
                count -= 1 if count > 0 else -1
                gap = 0
            elif gap > _FAR:
                raise ValueError(f"no working day within {_FAR} days of {day}")
        return day

    def between(self, first: date, last: date) -> int:
        """Return how many working days come after ``first`` until ``last``; negative when ``last`` is before."""
        if last < first:
            return -self.between(last, first)
        days = (last - first).days
        return sum(1 for ahead in range(1, days + 1) if self.works_on(first + timedelta(days=ahead)))
