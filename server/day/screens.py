"""The day as the screen reads it. Moments are seconds from the midnight of the workshop's own day (day)."""

from collections.abc import Collection
from datetime import date, datetime
from decimal import Decimal
from typing import Any, Literal

from pydantic import BaseModel

from core.day.hand_overs import HandOverKind
from core.day.model import Outcome
from core.day.prepare import TaskState
from core.day.schedule import LateWhy
from core.day.today import Post, WayKind
from core.messages import Text
from server.bench.models import Parcel
from server.care.screens import care_counts
from server.day.closing import air_of
from server.day.models import SendOff
from server.day.selectors import ClosedParcel, DayRead, Line, closed_parcels, read_day
from server.day.times import Times
from server.orders.models import Order
from server.orders.screens import orders_out
from server.plans.mapping import texts_from_json
from server.recipes.models import Product
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["DayOut", "HandOverRef", "TaskOut", "day_out", "ref_of", "tasks_out"]

#: So many orders that are set aside are told with the day; all are in the list of holds.
_ASIDE_SHOWN = 6


class HandOverRef(BaseModel):
    """A hand-over, by name and moment."""

    key: str
    name: str
    kind: HandOverKind
    day: date
    at_s: int


class PersonOut(BaseModel):
    """Who packs when today."""

    who: str
    spans: list[tuple[int, int]]


class PostOut(BaseModel):
    """A hand-over of the day and how it stands."""

    key: str
    name: str
    kind: HandOverKind
    assumed: bool  #: nobody entered it: taken from the carrier's cut-off
    day: date  #: a later one where parcels are packed ahead for it: their closure needs the time
    at_s: int
    due_s: int  #: packed by then
    begin_by_s: int | None
    waiting: int  #: parcels to pack
    late: int
    ready: int  #: closed, not handed over
    left: int  #: handed over
    most_parcels: int | None
    done: bool  #: the hand-over was recorded


class DayParcelOut(BaseModel):
    """One parcel of the day."""

    key: str
    order_id: int
    parcel_id: int | None
    number: str
    buyer: str
    part: int
    parts: int
    state: Literal["planned", "bench", "closed", "left"]
    seconds: int
    post: str | None  #: key of its hand-over
    table: int | None
    start_s: int | None
    end_s: int | None
    in_row: bool
    late: LateWhy | None
    ready_s: int
    service_name: str
    container: Text
    chosen: bool  #: a person put it to this hand-over


class LaterOut(BaseModel):
    """Parcels of another day."""

    day: date
    parcels: int
    minutes: int


class WayOutOut(BaseModel):
    """What would bring all in time."""

    kind: WayKind
    at_s: int
    until_s: int
    cost: Decimal


class AsideOut(BaseModel):
    """An order that may not be packed yet."""

    order_id: int
    number: str
    buyer: str
    reason: Text
    held_by: str


class TaskOut(BaseModel):
    """Something to be begun before the packing."""

    what: str
    state: TaskState
    due: datetime
    due_s: int
    ready_s: int
    minutes: Decimal
    order_ids: list[int]
    numbers: list[str]
    goods: list[str]  #: names of what it is done to; none: it is done to supplies
    supply: str  #: packs that go into the freezer; empty: none
    count: int


class ThingOut(BaseModel):
    """Something to carry up."""

    place: str
    code: str
    name: str
    count: int


class DampOut(BaseModel):
    """A closure that the workshop's air makes weak, and how many parcels to pack it shuts."""

    name: str
    above_percent: int
    parcels: int


class NextWaveOut(BaseModel):
    """The next wave."""

    post: str
    parcels: list[str]
    order_ids: list[int]
    goods: list[ThingOut]
    containers: list[ThingOut]


class DayOut(BaseModel):
    """The whole day."""

    day: date
    is_today: bool  #: else a later day that is looked at ahead
    now_s: int
    outcome: Outcome
    exact: bool
    begin_by_s: int | None
    seconds: int  #: of packing that is left today
    ends_s: int | None
    people: list[PersonOut]
    hours_assumed: bool
    closed: bool  #: the workshop is closed today
    posts: list[PostOut]
    parcels: list[DayParcelOut]
    later: list[LaterOut]
    nowhere: list[str]  #: numbers of orders no hand-over takes
    ways: list[WayOutOut]
    aside: list[AsideOut]
    aside_count: int
    tasks: list[TaskOut]
    weather: int  #: open orders that wait for other weather, or go with the buyer's consent
    humidity_percent: int
    damp: list[DampOut]  #: closures that hold less in the air as it is
    forecast_silent: bool  #: nothing was heard for a day, though some goods have a limit
    wave: NextWaveOut | None
    waves: int


def ref_of(times: Times, hand_over: Any) -> HandOverRef:
    """Return a hand-over by name."""
    return HandOverRef(
        key=hand_over.key,
        name=times.name_of(hand_over),
        kind=hand_over.kind,
        day=hand_over.day,
        at_s=hand_over.at_s,
    )


def day_out(workshop: Workshop, day: date | None = None) -> DayOut:
    """Return a day as it stands now. Without ``day`` it is today, or the next with parcels when today is done."""
    read = read_day(workshop, day)
    if day is None and not _has_work(workshop, read):
        later = min((one.day for one in read.plan.due.values()), default=None)
        if later is not None:
            read = read_day(workshop, later)
    closed = closed_parcels(workshop, read.clock)
    done = frozenset(
        SendOff.objects.of(workshop).filter(day=read.clock.today, undone_at=None).values_list("key", flat=True)
    )
    goes = {one.parcel.pk: one.goes_with(read, done) for one in closed}
    aside = _aside(workshop)
    plan = read.plan
    care = care_counts(workshop)
    air = air_of(workshop)
    return DayOut(
        day=read.clock.today,
        is_today=read.clock.today == read.clock.real.date(),
        now_s=read.clock.now_s,
        outcome=plan.schedule.outcome,
        exact=plan.schedule.exact,
        begin_by_s=plan.latest_start_s,
        seconds=sum(post.seconds for post in plan.posts),
        ends_s=plan.schedule.ends_s,
        people=_people(read),
        hours_assumed=read.times.hours_assumed,
        closed=read.clock.today in read.times.closed,
        posts=_posts(read, closed, goes, done),
        parcels=[*_open_parcels(read), *(_closed_parcel(read, one, goes[one.parcel.pk]) for one in closed)],
        later=_later(read),
        nowhere=list(dict.fromkeys(read.lines[code].order.number for code in plan.nowhere)),
        ways=[WayOutOut(kind=way.kind, at_s=way.at_s, until_s=way.until_s, cost=way.cost) for way in read.ways],
        aside=aside[0],
        aside_count=aside[1],
        tasks=tasks_out(read),
        weather=care.concerned,
        humidity_percent=air.humidity_percent,
        damp=_damp(workshop, read, air.humidity_percent),
        forecast_silent=care.silent,
        wave=_wave(workshop, read),
        waves=len(read.waves),
    )


def _has_work(workshop: Workshop, read: DayRead) -> bool:
    """Return whether anything is still to be packed or handed over today."""
    if any(post.parcels for post in read.plan.posts):
        return True
    open_posts = any(post.hand_over.at_s >= read.clock.now_s for post in read.plan.posts)
    return open_posts and Parcel.objects.of(workshop).filter(state=Parcel.State.CLOSED, handed_over_at=None).exists()


def _people(read: DayRead) -> list[PersonOut]:
    """Return who packs today, from the day's beginning; in the order of the schedule's tables."""
    return [PersonOut(who=one.who, spans=[(s.from_s, s.to_s) for s in one.spans]) for one in read.plan.tables]


def _posts(read: DayRead, closed: list[ClosedParcel], goes: dict[int, Any], done: frozenset[str]) -> list[PostOut]:
    sent: dict[str, int] = {}
    ready: dict[str, int] = {}
    for one in closed:
        with_post = goes[one.parcel.pk]
        if one.parcel.handed_over_at is not None:
            key = one.parcel.sent.key if hasattr(one.parcel, "sent") else ""
            sent[key] = sent.get(key, 0) + 1
        elif with_post is not None:
            ready[with_post.key] = ready.get(with_post.key, 0) + 1
    return [
        PostOut(
            key=post.hand_over.key,
            name=read.times.name_of(post.hand_over),
            kind=post.hand_over.kind,
            assumed=post.hand_over.code in read.times.assumed,
            day=post.hand_over.day,
            at_s=post.hand_over.at_s,
            due_s=post.hand_over.due_s,
            begin_by_s=post.latest_start_s,
            waiting=len(post.parcels),
            late=len(post.late),
            ready=ready.get(post.hand_over.key, 0),
            left=sent.get(post.hand_over.key, 0),
            most_parcels=post.hand_over.most_parcels,
            done=post.hand_over.key in done,
        )
        for post in read.plan.posts
        if _is_shown(post, read.clock.now_s, (*sent, *ready))
    ]


def _is_shown(post: Post, now_s: int, used: Collection[str]) -> bool:
    """A hand-over that is over and had nothing is of no interest any more."""
    return post.hand_over.at_s >= now_s or bool(post.parcels) or post.hand_over.key in used


def _open_parcels(read: DayRead) -> list[DayParcelOut]:
    """Return what is to be packed today, in the order of packing; what is late last."""
    slots = {slot.code: slot for slot in read.plan.schedule.slots}
    order = [*slots, *read.plan.schedule.late]
    late = read.why_late()
    return [_open_parcel(read, read.lines[code], slots.get(code), late.get(code)) for code in order]


def _open_parcel(read: DayRead, line: Line, slot: Any, late: LateWhy | None) -> DayParcelOut:
    due = read.plan.due[line.key]
    return DayParcelOut(
        key=line.key,
        order_id=line.order.pk,
        parcel_id=line.parcel.pk if line.parcel else None,
        number=line.order.number,
        buyer=line.order.buyer,
        part=line.row.part,
        parts=line.parts,
        state="bench" if line.parcel else "planned",
        seconds=slot.end_s - slot.start_s if slot else line.seconds,
        post=due.key,
        table=slot.table if slot else None,
        start_s=slot.start_s if slot else None,
        end_s=slot.end_s if slot else None,
        in_row=slot.in_row if slot else False,
        late=late,
        ready_s=line.ready_s,
        service_name=line.row.service_name,
        container=texts_from_json([line.row.container])[0],
        chosen=bool(line.chosen) and line.chosen == due.key,
    )


def _closed_parcel(read: DayRead, one: ClosedParcel, post: Any) -> DayParcelOut:
    parcel = one.parcel
    left = parcel.handed_over_at is not None
    sent = getattr(parcel, "sent", None)
    return DayParcelOut(
        key=f"{parcel.order_id}-{parcel.part}",
        order_id=parcel.order_id,
        parcel_id=parcel.pk,
        number=parcel.order.number,
        buyer=parcel.order.buyer,
        part=parcel.part,
        parts=parcel.parts,
        state="left" if left else "closed",
        seconds=0,
        post=(sent.key if sent is not None else None) if left else (post.key if post is not None else None),
        table=None,
        start_s=None,
        end_s=read.clock.seconds(parcel.closed_at) if parcel.closed_at else None,
        in_row=False,
        late=None,
        ready_s=0,
        service_name=one.service,
        container=texts_from_json([parcel.container])[0],
        chosen=False,
    )


def _later(read: DayRead) -> list[LaterOut]:
    count: dict[date, list[int]] = {}
    for key, hand_over in read.plan.due.items():
        if hand_over.day != read.clock.today and key not in read.plan.ahead:
            count.setdefault(hand_over.day, []).append(read.lines[key].seconds)
    return [
        LaterOut(day=day, parcels=len(seconds), minutes=-(-sum(seconds) // 60))
        for day, seconds in sorted(count.items())
    ]


def _aside(workshop: Workshop) -> tuple[list[AsideOut], int]:
    """Return the first orders that are set aside, and how many there are."""
    rows = Order.objects.of(workshop).filter(state=Order.State.HELD)
    shown = (
        rows.select_related("plan", "joined_into")
        .defer("came_as", "plan__care")
        .prefetch_related("parcels", "joined", "joined_into__parcels")
        .order_by("placed_on", "id")[:_ASIDE_SHOWN]
    )
    found = orders_out(workshop, list(shown))
    return [
        AsideOut(order_id=one.id, number=one.number, buyer=one.buyer, reason=one.reason, held_by=one.held_by)
        for one in found
    ], rows.count()


def tasks_out(read: DayRead) -> list[TaskOut]:
    """Return what is to be prepared, the earliest first."""
    found = []
    for task in read.tasks:
        orders = [read.lines[key].order for key in task.parcels]
        found.append(
            TaskOut(
                what=task.what,
                state=task.state,
                due=task.due,
                due_s=read.clock.seconds(task.due),
                ready_s=read.clock.seconds(task.ready),
                minutes=task.minutes,
                order_ids=list(dict.fromkeys(order.pk for order in orders)),
                numbers=list(dict.fromkeys(order.number for order in orders)),
                goods=list(task.goods),
                supply=task.supply,
                count=task.count,
            )
        )
    return found


def _damp(workshop: Workshop, read: DayRead, humidity_percent: int) -> list[DampOut]:
    """Return tapes and strips that hold less in air so damp, of the parcels that are still to be packed."""
    used: dict[str, int] = {}
    for line in read.lines.values():
        for code in line.row.supplies:
            used[code] = used.get(code, 0) + 1
    # A tape's own, or the strip of a container that shuts itself.
    rows = Supply.objects.of(workshop).filter(code__in=used, kind__in=("tape", "carton", "mailer")).order_by("code")
    weak = ((row, row.facts.get("weak_above_percent")) for row in rows)
    return [
        DampOut(name=row.name, above_percent=above, parcels=used[row.code])
        for row, above in weak
        if above is not None and above < humidity_percent
    ]


def _wave(workshop: Workshop, read: DayRead) -> NextWaveOut | None:
    if not read.waves:
        return None
    wave = read.waves[0]
    lines = [read.lines[key] for key in wave.parcels]
    goods: dict[str, int] = {}
    for line in lines:
        for sku, count in line.row.goods.items():
            goods[sku] = goods.get(sku, 0) + count
    products = {row.sku: row for row in Product.objects.of(workshop).filter(sku__in=goods).only("sku", "name", "shelf")}
    boxes: dict[str, int] = {}
    codes = {code for line in lines for code in line.row.supplies}
    supplies = {
        row.code: row
        for row in Supply.objects.of(workshop)
        .filter(code__in=codes, kind__in=("carton", "mailer"))
        .only("code", "name", "shelf", "slot")
    }
    for line in lines:
        for code in line.row.supplies:
            if code in supplies:
                boxes[code] = boxes.get(code, 0) + 1
    return NextWaveOut(
        post=wave.hand_over,
        parcels=list(wave.parcels),
        order_ids=list(dict.fromkeys(line.order.pk for line in lines)),
        goods=sorted(
            (
                ThingOut(
                    place=products[sku].shelf if sku in products else "",
                    code=sku,
                    name=products[sku].name if sku in products else sku,
                    count=count,
                )
                for sku, count in goods.items()
            ),
            key=lambda one: (one.place, one.name),
        ),
        containers=sorted(
            (
                ThingOut(place=supplies[code].place, code=code, name=supplies[code].name, count=count)
                for code, count in boxes.items()
            ),
            key=lambda one: (one.place, one.code),
        ),
    )
