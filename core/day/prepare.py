"""What must be done before the packing: frozen, soaked, cured, printed (day; rules 15.6).

A task must have begun so many hours before the wave it is for; hours are hours that pass, also over a change of the
clocks. Equal tasks that must begin on one day are put together, by the earliest of them. One that was not begun in time
blocks its parcels until so many hours after it is begun.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from typing import Literal

__all__ = ["Lead", "Task", "TaskState", "earlier_by", "ready_at", "tasks_of"]

#: done: begun by somebody; due: to be begun; missed: its moment is over and nobody has begun it.
TaskState = Literal["done", "due", "missed"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Lead:
    """One thing a recipe asks for ahead of one parcel."""

    what: str
    hours_before: Decimal
    minutes: Decimal  #: of hands
    parcel: str
    begins: datetime  #: the packing of its wave; with a time zone
    done_at: datetime | None = None  #: when somebody began it
    goods: tuple[str, ...] = ()  #: names of what it is done to; none: it is done to supplies, or not known
    supply: str = ""  #: code of packs that go into the freezer; empty: nothing of the kind
    count: int = 0  #: so many of them


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """Equal things put together."""

    what: str
    hours_before: Decimal
    due: datetime  #: begun by then, in the time zone of the packing
    minutes: Decimal
    parcels: tuple[str, ...]
    state: TaskState
    ready: datetime  #: when its parcels can be packed: so long after it was begun, or would be if begun now
    goods: tuple[str, ...] = ()  #: names of what it is done to, each once
    supply: str = ""  #: packs that go into the freezer
    count: int = 0  #: so many of them, for all its parcels


def earlier_by(moment: datetime, hours: Decimal) -> datetime:
    """Return the moment so many hours that pass before another, in the same time zone.

    Raises ValueError for a moment without a time zone: nobody could tell how long that is.
    """
    if moment.tzinfo is None:
        raise ValueError("a moment without a time zone")
    passed = moment.astimezone(UTC) - timedelta(seconds=int(hours * 3600))
    return passed.astimezone(moment.tzinfo)


def tasks_of(leads: Sequence[Lead], *, now: datetime) -> tuple[Task, ...]:
    """Return the tasks, earliest first; ``now`` has a time zone."""
    groups: dict[tuple[str, Decimal, str, bool], list[Lead]] = {}
    for lead in leads:
        due = earlier_by(lead.begins, lead.hours_before)
        key = (lead.what.casefold(), lead.hours_before, due.date().isoformat(), lead.done_at is not None)
        groups.setdefault(key, []).append(lead)
    return tuple(sorted((_task(group, now) for group in groups.values()), key=lambda one: (one.due, one.what)))


def _task(leads: list[Lead], now: datetime) -> Task:
    first = leads[0]
    due = min(earlier_by(lead.begins, lead.hours_before) for lead in leads)
    begun = [lead.done_at for lead in leads if lead.done_at is not None]
    state: TaskState = "done" if begun else "missed" if due < now else "due"
    since = max(begun) if begun else max(due, now)
    return Task(
        what=first.what,
        hours_before=first.hours_before,
        due=due,
        minutes=sum((lead.minutes for lead in leads), Decimal(0)),
        parcels=tuple(dict.fromkeys(lead.parcel for lead in leads)),
        state=state,
        ready=earlier_by(since, -first.hours_before).astimezone(due.tzinfo),
        goods=tuple(dict.fromkeys(name for lead in leads for name in lead.goods)),
        supply=first.supply,
        count=sum(lead.count for lead in leads),
    )


def ready_at(asked: Sequence[tuple[Decimal, datetime | None]], *, now: datetime) -> datetime | None:
    """Return when what is asked for ahead of a parcel is ready, None when nothing is.

    ``asked``: hours it takes, and when it was begun; what nobody has begun is begun now at the earliest.
    """
    return max((earlier_by(begun or now, -hours) for hours, begun in asked), default=None)
