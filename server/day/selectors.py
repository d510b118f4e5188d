"""Reading a day: every parcel that is planned or at the bench, what is due when, and the order of packing (day).

A fixed number of queries, however many parcels; no plan is opened.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from django.db.models import Q

from core.day.hand_overs import HandOver, leaves_with
from core.day.model import seconds_of
from core.day.prepare import Lead, Task, ready_at, tasks_of
from core.day.schedule import LateWhy, why_late
from core.day.today import DayParcel, DayPlan, WayOut, jobs_of, plan_day, waves_of_day, ways_of_day
from core.day.waves import Wave
from server.bench.models import Parcel
from server.care.models import FrozenLot
from server.carriers.models import Label
from server.day.models import ChosenHandOver, Prepared
from server.day.times import Clock, Times, clock_of, times_of
from server.orders.models import Order
from server.plans.models import PlanPart
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = ["ClosedParcel", "DayRead", "Line", "closed_parcels", "key_of", "read_day"]

#: A parcel that was begun and is nearly done still takes a moment.
_LEAST_S = 30
#: Planned for a later day, and held by nothing else.
_WAITS_FOR_ITS_DAY = Q(
    Q(plan__order__state=Order.State.HELD, plan__order__hold_code="", plan__status="planned")
    & ~Q(plan__care_state="danger")
)


def key_of(order_id: int, part: int) -> str:
    """Return what names one parcel of an order in the day."""
    return f"{order_id}-{part}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One parcel that is not closed yet."""

    row: PlanPart
    order: Order
    parcel: Parcel | None  #: None: not at the bench yet
    parts: int
    chosen: str  #: key of the hand-over a person put its order to
    ready_s: int  #: from when it can be packed, 0: at once
    begun: "_Begun"  #: what was begun ahead of the day's parcels

    @property
    def key(self) -> str:
        """Return what names it."""
        return key_of(self.order.pk, self.row.part)

    @property
    def seconds(self) -> int:
        """Return how long it still takes; of one at the bench by the steps that are left."""
        whole = seconds_of(self.row.minutes)
        if self.parcel is None or self.parcel.steps_in_all == 0:
            return whole
        left = max(0, self.parcel.steps_in_all - self.parcel.step)
        return max(_LEAST_S, whole * left // self.parcel.steps_in_all)


@dataclass(frozen=True, slots=True, kw_only=True)
class ClosedParcel:
    """A parcel that is closed: it waits to be handed over, or has left today."""

    parcel: Parcel
    carrier: str
    service: str
    label_state: str  #: of its last label
    weight_mg: int

    def goes_with(self, read: "DayRead", done: Collection[str]) -> HandOver | None:
        """Return the hand-over it leaves with: the next of its carrier at which its closure holds fully."""
        holds_from = self.parcel.holds_from
        return leaves_with(
            self.carrier,
            read.times.hand_overs,
            done=done,
            now_s=read.clock.now_s,
            holds_s=read.clock.seconds(holds_from) if holds_from is not None else None,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class DayRead:
    """A day, read and worked out."""

    clock: Clock
    times: Times
    lines: Mapping[str, Line]
    parcels: tuple[DayParcel, ...]
    plan: DayPlan
    tasks: tuple[Task, ...]
    ways: tuple[WayOut, ...]
    waves: tuple[Wave, ...]
    saving_percent: int  #: what the second and later of alike parcels take less

    def why_late(self) -> dict[str, LateWhy]:
        """Return why each parcel that is left out is late."""
        plan = self.plan
        return {
            job.code: why_late(job, plan.tables, plan.schedule.outcome, self.clock.now_s)
            for job in jobs_of(self.parcels, plan.due, self.clock.today, plan.ahead)
            if job.code in plan.schedule.late
        }


def read_day(workshop: Workshop, day: date | None = None) -> DayRead:
    """Return the workshop's day as it stands now; ``day``: a later one, looked at from its midnight."""
    clock = clock_of(workshop, day)
    times = times_of(workshop, clock)
    lines = _lines(workshop, clock)
    if clock.today > clock.real.date():
        # What leaves before that day is gone by then.
        before = {code for code, one in read_day(workshop).plan.due.items() if one.day < clock.today}
        lines = {key: line for key, line in lines.items() if key not in before}
    parcels = tuple(_day_parcel(line) for line in lines.values())
    judged = judgements_of(workshop)
    plan = plan_day(
        parcels,
        times.hand_overs,
        times.hours,
        today=clock.today,
        now_s=clock.now_s,
        closed=times.closed,
        saving_percent=judged.like_saving_percent,
    )
    return DayRead(
        clock=clock,
        times=times,
        lines=lines,
        parcels=parcels,
        plan=plan,
        tasks=_tasks(lines, plan, times, clock),
        ways=ways_of_day(
            plan,
            parcels,
            today=clock.today,
            now_s=clock.now_s,
            wage_per_hour=workshop.wage_per_hour,
            saving_percent=judged.like_saving_percent,
        ),
        waves=waves_of_day(plan, _things(lines), most=judged.wave_parcels),
        saving_percent=judged.like_saving_percent,
    )


def _lines(workshop: Workshop, clock: Clock) -> dict[str, Line]:
    """Return the parcels to pack, in the order they have a right to a full hand-over: the oldest order first."""
    rows = (
        PlanPart.objects.of(workshop)
        .filter(Q(plan__order__state__in=(Order.State.PLANNED, Order.State.BENCH)) | _WAITS_FOR_ITS_DAY)
        .select_related("plan__order")
        .defer("plan__overrides", "plan__missing", "plan__care", "plan__order__came_as")
        .order_by("plan__order__placed_on", "plan__order_id", "part")
    )
    found = list(rows)
    orders = {row.plan.order_id for row in found}
    parcels = {
        (one.order_id, one.part): one
        for one in Parcel.objects.of(workshop)
        .filter(order_id__in=orders)
        .exclude(state=Parcel.State.UNDONE)
        .defer("weight_check")
    }
    chosen = dict(ChosenHandOver.objects.of(workshop).filter(order_id__in=orders).values_list("order_id", "key"))
    prepared = _begun(workshop, found, parcels)
    parts: dict[int, int] = {}
    for row in found:
        parts[row.plan.order_id] = parts.get(row.plan.order_id, 0) + 1
    lines = [
        Line(
            row=row,
            order=row.plan.order,
            parcel=parcels.get((row.plan.order_id, row.part)),
            parts=parts[row.plan.order_id],
            chosen=chosen.get(row.plan.order_id, ""),
            ready_s=_ready_s(row, prepared, clock),
            begun=prepared,
        )
        for row in found
    ]
    return {line.key: line for line in lines if line.parcel is None or line.parcel.state == Parcel.State.PACKING}


#: When something was begun, by order, part of it (0: for the whole order) and what.
_Begun = Mapping[tuple[int, int, str], datetime]


def _begun(
    workshop: Workshop, rows: list[PlanPart], parcels: Mapping[tuple[int, int], Parcel]
) -> dict[tuple[int, int, str], datetime]:
    """Return what was begun ahead of these parcels: by a tick, or by packs that are in the freezer.

    Packs are kept for the oldest orders first; a parcel has all it asks for or none.
    """
    ticked = Prepared.objects.of(workshop).filter(order_id__in={row.plan.order_id for row in rows})
    found = {(order, 0, what): at for order, what, at in ticked.values_list("order_id", "what", "done_at")}
    if not any("supply" in one for row in rows for one in row.ahead):
        return found
    lots: dict[str, list[tuple[datetime, int]]] = {}
    in_it = FrozenLot.objects.of(workshop).filter(left__gt=0).order_by("since", "id")
    for code, since, left in in_it.values_list("supply__code", "since", "left"):
        lots.setdefault(code, []).append((since, left))
    for row in rows:
        parcel = parcels.get((row.plan.order_id, row.part))
        if parcel is not None and parcel.state != Parcel.State.PACKING:
            continue
        for one in row.ahead:
            frozen = _from_freezer(lots.get(one["supply"], []), int(one["count"])) if "supply" in one else None
            if frozen is not None:
                found[row.plan.order_id, row.part, one["what"]] = frozen
    return found


def _from_freezer(lots: list[tuple[datetime, int]], count: int) -> datetime | None:
    """Take packs out of the lots, the oldest first; return when the last of them went in, None when they do not do."""
    if sum(left for _, left in lots) < count:
        return None
    last: datetime | None = None
    while count > 0:
        since, left = lots.pop(0)
        last, used = since, min(left, count)
        count -= used
        if left > used:
            lots.insert(0, (since, left - used))
    return last


def _done_at(begun: _Begun, row: PlanPart, one: Mapping[str, Any]) -> datetime | None:
    part = row.part if "supply" in one else 0
    return begun.get((row.plan.order_id, part, one["what"]))


def _ready_s(row: PlanPart, prepared: _Begun, clock: Clock) -> int:
    """Return from when a parcel can be packed, for what its recipes ask for ahead; 0: at once."""
    asked = [(Decimal(one["hours"]), _done_at(prepared, row, one)) for one in row.ahead]
    moment = ready_at(asked, now=clock.real)
    return 0 if moment is None else clock.seconds(moment)


def _day_parcel(line: Line) -> DayParcel:
    return DayParcel(
        code=line.key,
        seconds=line.seconds,
        alike=line.row.alike,
        carrier=line.row.carrier,
        cut_off=line.row.cut_off,
        ship_on=line.row.plan.ship_on,
        ready_s=0 if line.parcel is not None else line.ready_s,
        hand_over=line.chosen,
        begun=line.parcel is not None,
        settle_s=line.row.settle_minutes * 60,
    )


def _tasks(lines: Mapping[str, Line], plan: DayPlan, times: Times, clock: Clock) -> tuple[Task, ...]:
    """Return what is to be prepared for parcels that are not at the bench yet."""
    waiting = {key: line for key, line in lines.items() if line.row.ahead and line.parcel is None}
    if not waiting:
        return ()
    starts = {slot.code: slot.start_s for slot in plan.schedule.slots}
    leads = []
    asked: set[tuple[int, str]] = set()
    for key, line in waiting.items():
        due = plan.due.get(key)
        day = due.day if due is not None else line.row.plan.ship_on
        begins = clock.moment(starts.get(key, times.opening_s(day, clock.today)))
        leads += [
            Lead(
                what=one["what"],
                hours_before=Decimal(one["hours"]),
                # It is done once an order, however many parcels that has.
                minutes=Decimal(0) if (line.order.pk, one["what"]) in asked else Decimal(one["minutes"]),
                parcel=key,
                begins=begins,
                done_at=_done_at(line.begun, line.row, one),
                goods=tuple(one.get("goods", ())),
                supply=one.get("supply", ""),
                count=int(one.get("count", 0)),
            )
            for one in line.row.ahead
        ]
        asked.update((line.order.pk, one["what"]) for one in line.row.ahead)
    return tasks_of(leads, now=clock.real)


def _things(lines: Mapping[str, Line]) -> dict[str, frozenset[str]]:
    """Return what the parcels need that may be gathered for: nobody has begun them, and they wait for no day."""
    return {
        key: frozenset((*line.row.goods, *line.row.supplies))
        for key, line in lines.items()
        if line.order.state == Order.State.PLANNED
    }


def closed_parcels(workshop: Workshop, clock: Clock) -> list[ClosedParcel]:
    """Return the parcels that wait to be handed over and those that left today, the first closed first."""
    midnight = clock.moment(0)
    rows = list(
        Parcel.objects.of(workshop)
        .filter(Q(handed_over_at=None) | Q(handed_over_at__gte=midnight), state=Parcel.State.CLOSED)
        .select_related("order", "sent")
        .defer("weight_check", "order__came_as")
        .order_by("closed_at", "id")[:1000]
    )
    labels: dict[int, Label] = {}
    for label in Label.objects.of(workshop).filter(parcel__in=rows).order_by("id"):
        if label.parcel_id is not None:
            labels[label.parcel_id] = label
    return [
        ClosedParcel(
            parcel=row,
            carrier=labels[row.pk].carrier if row.pk in labels else "",
            service=labels[row.pk].service_name if row.pk in labels else "",
            label_state=labels[row.pk].state if row.pk in labels else "",
            weight_mg=row.measured_mg or 0,
        )
        for row in rows
    ]
