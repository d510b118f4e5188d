"""What must be prepared, by time, with who did it; the same as a calendar to subscribe to (day)."""

from datetime import date, datetime
from uuid import UUID, uuid4

from django.db import transaction
from pydantic import BaseModel

from core.day.prepare import Task
from server.care.models import FrozenLot
from server.day.models import Prepared
from server.day.screens import TaskOut, tasks_out
from server.day.selectors import read_day
from server.formats.calendar_file import CalendarTask, calendar_file
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["PreparationsOut", "calendar_of", "calendar_workshop", "preparations", "set_calendar"]


class PreparationOut(TaskOut):
    """Something to be begun, and who began it."""

    done_by: str
    done_at: datetime | None


class PreparationsOut(BaseModel):
    """All that is to be prepared for the parcels that wait."""

    day: date  #: seconds are counted from its midnight
    now_s: int
    tasks: list[PreparationOut]
    calendar: str  #: path of the private calendar; empty: there is none


def preparations(workshop: Workshop) -> PreparationsOut:
    """Return what is to be prepared, the earliest first, with who did what is done."""
    read = read_day(workshop)
    rows = tasks_out(read)
    orders = {order for row in rows for order in row.order_ids}
    ticked = {
        (order, what): (by, at)
        for order, what, by, at in Prepared.objects.of(workshop)
        .filter(order_id__in=orders)
        .values_list("order_id", "what", "done_by", "done_at")
    }
    frozen = {
        code: (by, since)
        for code, by, since in FrozenLot.objects.of(workshop)
        .filter(left__gt=0)
        .order_by("since", "id")
        .values_list("supply__code", "by", "since")
    }
    found = []
    for row in rows:
        by, at = "", None
        if row.state == "done":
            by, at = (
                frozen.get(row.supply, ("", None))
                if row.supply
                else ticked.get((row.order_ids[0], row.what), ("", None))
            )
        found.append(PreparationOut(**row.model_dump(), done_by=by, done_at=at))
    key = Workshop.objects.values_list("calendar_key", flat=True).get(pk=workshop.pk)
    return PreparationsOut(day=read.clock.today, now_s=read.clock.now_s, tasks=found, calendar=_path(key))


def _path(key: UUID | None) -> str:
    return f"/api/calendar/{key}.ics" if key is not None else ""


@transaction.atomic
def set_calendar(*, by: Member, on: bool) -> str:
    """Give the calendar a new private address, or none at all; the old one is dead. Returns the path."""
    lock_workshop(by.workshop)
    key = uuid4() if on else None
    Workshop.objects.filter(pk=by.workshop.pk).update(calendar_key=key)
    by.workshop.calendar_key = key
    return _path(key)


def calendar_workshop(key: UUID) -> Workshop | None:
    """Return whose calendar has this address."""
    return Workshop.objects.filter(calendar_key=key).first()


def _named(task: Task) -> str:
    what = f"{task.what} ({task.count})" if task.count else task.what
    return f"{'; '.join(task.goods)}: {what}" if task.goods else what


def calendar_of(workshop: Workshop) -> bytes:
    """Return what is to be prepared as a calendar file (RFC 5545)."""
    read = read_day(workshop)
    tasks = [
        CalendarTask(
            what=_named(task),
            due=task.due,
            minutes=task.minutes,
            orders=tuple(dict.fromkeys(read.lines[key].order.number for key in task.parcels)),
        )
        for task in read.tasks
        if task.state != "done"
    ]
    return calendar_file(tasks, workshop=workshop.name, code=workshop.code, now=read.clock.now)
