"""Walks a schedule with hands and a clock: an independent checker (day; used by tests and the door for scripts).

It knows nothing of how the schedule was found.
"""

from collections.abc import Sequence

from core.day.model import Job, Schedule, Table
from core.messages import Message, say

__all__ = ["faults_of_schedule"]


def faults_of_schedule(
    schedule: Schedule, jobs: Sequence[Job], tables: Sequence[Table], *, saving_percent: int
) -> tuple[Message, ...]:
    """Return what hands could not do as it stands, empty when all of it can be done."""
    by_code = {job.code: job for job in jobs}
    told = [slot.code for slot in schedule.slots] + list(schedule.late)
    found: list[Message] = []
    if sorted(told) != sorted(by_code):
        found.append(say("day_not_each_once", told=tuple(sorted(told)), wanted=tuple(sorted(by_code))))
    if (schedule.outcome == "all") != (not schedule.late):
        found.append(say("day_outcome_wrong", outcome=schedule.outcome, late=schedule.late))
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
                found.append(say("day_wrong_length", parcel=slot.code))
            if clock is not None and slot.start_s < clock:
                found.append(say("day_two_at_once", parcel=slot.code))
            if slot.start_s < job.ready_s:
                found.append(say("day_not_ready", parcel=slot.code))
            if slot.end_s > job.due_s:
                found.append(say("day_ends_late", parcel=slot.code))
            if not any(span.from_s <= slot.start_s and slot.end_s <= span.to_s for span in table.spans):
                found.append(say("day_nobody_there", parcel=slot.code))
            clock, hands = slot.end_s, job.alike
    if any(not 0 <= slot.table < len(tables) for slot in schedule.slots):
        found.append(say("day_no_such_table"))
    return tuple(found)
