"""What to prepare, as a calendar file (RFC 5545), written with the ``icalendar`` library. Moments are in UTC, so that a
change of the clocks moves nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from hashlib import sha256

from icalendar import Alarm, Calendar, Event

__all__ = ["CalendarTask", "calendar_file"]

#: A task is shown at least so long.
_LEAST_MINUTES = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class CalendarTask:
    """Something to be begun by a moment."""

    what: str
    due: datetime  #: with a time zone
    minutes: Decimal
    orders: tuple[str, ...]  #: numbers


def calendar_file(tasks: Sequence[CalendarTask], *, workshop: str, code: str, now: datetime) -> bytes:
    """Return the file; each task is an event that ends when it is due, with an alarm ten minutes before it begins.

    A task keeps its identity from file to file, so that a calendar updates it and does not show it twice.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Calm Cupboard//Prepare//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"Prepare, {workshop}")
    for task in tasks:
        due = task.due.astimezone(UTC)
        event = Event()
        named = f"{task.what.casefold()} {due.date().isoformat()} {','.join(sorted(task.orders))}"
        event.add("uid", f"{sha256(f'{code} {named}'.encode()).hexdigest()[:32]}@calm-cupboard")
        event.add("dtstamp", now.astimezone(UTC))
        event.add("dtstart", due - timedelta(minutes=max(_LEAST_MINUTES, int(task.minutes))))
        event.add("dtend", due)
        event.add("summary", task.what)
        orders = ", ".join(task.orders)
        event.add("description", f"For order {orders}." if len(task.orders) == 1 else f"For orders {orders}.")
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", task.what)
        alarm.add("trigger", timedelta(minutes=-10))
        event.add_component(alarm)
        calendar.add_component(event)
    content: bytes = calendar.to_ical()
    return content
