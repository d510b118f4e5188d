"""Walks a schedule with hands and a clock: an independent checker (day; used by tests and the door for scripts).

It knows nothing of how the schedule was found.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from core.day.model import Job, Schedule, Table

__all__ = ["ScheduleFault", "faults_of_schedule"]

FaultCode = Literal[
    "not_each_once", "outcome_wrong", "wrong_length", "two_at_once", "not_ready", "ends_late", "nobody_there",
    "no_such_table",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class ScheduleFault:
    """What hands could not do, and with which parcel."""

    code: FaultCode
    parcel: str = ""


def faults_of_schedule(
    schedule: Schedule, jobs: Sequence[Job], tables: Sequence[Table], *, saving_percent: int
) -> tuple[ScheduleFault, ...]:
    """Return what hands could not do as it stands, empty when all of it can be done."""
    by_code = {job.code: job for job in jobs}
    told = [slot.code for slot in schedule.slots] + list(schedule.late)
    found: list[ScheduleFault] = []
    if sorted(told) != sorted(by_code):
        found.append(ScheduleFault("not_each_once"))
    if (schedule.outcome == "all") != (not schedule.late):
        found.append(ScheduleFault("outcome_wrong"))
    for number, table in enumerate(tables):
        clock, hands = None, None
        for slot in schedule.of_table(number):
            job = by_code.get(slot.code)
            if job is None:
                continue
            alike = hands is not None and job.alike != "" and hands == job.alike
            # 15 % less, and a begun second counts whole.
            least = -(-job.seconds * (100 - saving_percent) // 100) if alike else job.seconds
            if slot.end_s - slot.start_s != least or slot.in_row != alike:
                found.append(ScheduleFault("wrong_length", slot.code))
            if clock is not None and slot.start_s < clock:
                found.append(ScheduleFault("two_at_once", slot.code))
            if slot.start_s < job.ready_s:
                found.append(ScheduleFault("not_ready", slot.code))
            if slot.end_s > job.due_s:
                found.append(ScheduleFault("ends_late", slot.code))
            if not any(span.from_s <= slot.start_s and slot.end_s <= span.to_s for span in table.spans):
                found.append(ScheduleFault("nobody_there", slot.code))
            clock, hands = slot.end_s, job.alike
    if any(not 0 <= slot.table < len(tables) for slot in schedule.slots):
        found.append(ScheduleFault("no_such_table"))
    return tuple(found)
