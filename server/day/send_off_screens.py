"""Send-off as the screen, the sheet and the tracking files read it (day)."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel

from core.day.hand_overs import HandOver, next_taking
from core.messages import Text
from server.bench.models import Parcel
from server.carriers.models import Label
from server.day.models import SendOff, SentParcel
from server.day.screens import HandOverRef, ref_of
from server.day.selectors import ClosedParcel, DayRead, closed_parcels, read_day
from server.day.send_off import UNDO_WITHIN, counted_for
from server.formats.send_off_sheet import SheetRow
from server.orders.models import Order
from server.plans.mapping import texts_from_json
from server.workshops.models import Workshop

__all__ = ["SendOffOut", "SendOffsOut", "place_of_order", "rows_of_sheet", "send_offs_out"]


class SendParcelOut(BaseModel):
    """A parcel at a hand-over."""

    key: str
    order_id: int
    parcel_id: int | None
    number: str
    buyer: str
    place: str
    part: int
    parts: int
    state: Literal["counted", "ready", "bench", "planned", "left"]
    weight_mg: int
    service_name: str
    tracking: str
    container: Text
    at_s: int | None  #: closed, counted or handed over then
    scan: int  #: counts scans: the highest was the last; 0: not scanned
    seconds: int  #: of packing still to do
    next_name: str  #: the hand-over it goes with when it stays behind; empty: none within the days looked at
    next_days: int  #: so many days later


class SendOffOut(BaseModel):
    """One hand-over: what is ready, what should be, what is counted."""

    hand_over: HandOverRef
    due_s: int
    assumed: bool
    carriers: list[str]
    parcels: list[SendParcelOut]
    counted: int
    weight_mg: int  #: of what is counted


class RecordOut(BaseModel):
    """A hand-over that was recorded today."""

    id: int
    key: str
    name: str
    at: datetime
    at_s: int
    by: str
    taken_by: str
    parcels: int
    weight_mg: int
    undo: bool  #: it can still be taken back
    channels: list[str]  #: whose orders went


class SendOffsOut(BaseModel):
    """All of today's, the next of each carrier after today, and what was recorded today."""

    now_s: int
    send_offs: list[SendOffOut]
    records: list[RecordOut]
    nowhere: list[SendParcelOut]  #: closed parcels no hand-over takes


def place_of_order(order: Order) -> str:
    """Return where an order goes, in short: the last line of its address and its postcode."""
    town = order.address[-1] if order.address else ""
    return f"{town} {order.postcode}".strip()


def send_offs_out(workshop: Workshop) -> SendOffsOut:
    """Return the hand-overs as they stand."""
    read = read_day(workshop)
    closed = closed_parcels(workshop, read.clock)
    counted = counted_for(workshop, read.clock)
    records = list(
        SendOff.objects.of(workshop).filter(at__gte=read.clock.moment(0), undone_at=None).order_by("at")[:100]
    )
    done = frozenset(one.key for one in records)
    of_parcel = {one.parcel_id: one for one in counted if one.send_off_id is None}
    by_key: dict[str, list[SendParcelOut]] = {}
    nowhere: list[SendParcelOut] = []
    for one in closed:
        if one.parcel.handed_over_at is not None:
            continue
        mine = of_parcel.get(one.parcel.pk)
        goes = one.goes_with(read, done)
        key = mine.key if mine is not None and mine.key not in done else goes.key if goes is not None else ""
        row = _closed(read, one, mine, read.times.by_key(key))
        (by_key.setdefault(key, []) if key else nowhere).append(row)
    for code in read.lines:
        due = read.plan.due.get(code)
        if due is not None and (due.day == read.clock.today or code in read.plan.ahead):
            by_key.setdefault(due.key, []).append(_open(read, code))
    shown = [one for one in read.times.hand_overs if _is_shown(one, read, by_key, done)]
    return SendOffsOut(
        now_s=read.clock.now_s,
        send_offs=[_send_off(read, one, by_key.get(one.key, [])) for one in shown],
        records=[_record(read, one, [c for c in counted if c.send_off_id == one.pk]) for one in records],
        nowhere=nowhere,
    )


def _is_shown(one: HandOver, read: DayRead, by_key: dict[str, list[SendParcelOut]], done: frozenset[str]) -> bool:
    if one.key in done:
        return False
    if one.key in by_key:
        return True
    return one.day == read.clock.today and one.at_s >= read.clock.now_s


_ORDER = {"planned": 0, "bench": 1, "ready": 2, "counted": 3, "left": 4}


def _send_off(read: DayRead, hand_over: HandOver, parcels: list[SendParcelOut]) -> SendOffOut:
    counted = [one for one in parcels if one.state == "counted"]
    return SendOffOut(
        hand_over=ref_of(read.times, hand_over),
        due_s=hand_over.due_s,
        assumed=hand_over.code in read.times.assumed,
        carriers=list(hand_over.carriers),
        parcels=sorted(parcels, key=lambda one: (-_ORDER[one.state], one.scan, one.at_s or 0, one.number, one.part)),
        counted=len(counted),
        weight_mg=sum(one.weight_mg for one in counted),
    )


def _next(read: DayRead, hand_over: HandOver | None, carrier: str) -> tuple[str, int]:
    """Return what a parcel goes with when it stays behind: the next that its label allows."""
    if hand_over is None:
        return "", 0
    later = next_taking(carrier, read.times.hand_overs, after_s=hand_over.at_s)
    return ("", 0) if later is None else (read.times.name_of(later), (later.day - hand_over.day).days)


def _closed(read: DayRead, one: ClosedParcel, mine: SentParcel | None, post: HandOver | None) -> SendParcelOut:
    parcel = one.parcel
    name, days = _next(read, post, one.carrier)
    at = mine.at if mine is not None else parcel.closed_at
    return SendParcelOut(
        key=f"{parcel.order_id}-{parcel.part}",
        order_id=parcel.order_id,
        parcel_id=parcel.pk,
        number=parcel.order.number,
        buyer=parcel.order.buyer,
        place=place_of_order(parcel.order),
        part=parcel.part,
        parts=parcel.parts,
        state="counted" if mine is not None else "ready",
        weight_mg=one.weight_mg,
        service_name=one.service,
        tracking=parcel.tracking,
        container=texts_from_json([parcel.container])[0],
        at_s=read.clock.seconds(at) if at is not None else None,
        scan=mine.pk if mine is not None else 0,
        seconds=0,
        next_name=name,
        next_days=days,
    )


def _open(read: DayRead, code: str) -> SendParcelOut:
    line = read.lines[code]
    name, days = _next(read, read.plan.due.get(code), line.row.carrier)
    return SendParcelOut(
        key=code,
        order_id=line.order.pk,
        parcel_id=line.parcel.pk if line.parcel else None,
        number=line.order.number,
        buyer=line.order.buyer,
        place=place_of_order(line.order),
        part=line.row.part,
        parts=line.parts,
        state="bench" if line.parcel else "planned",
        weight_mg=line.row.gross_mg,
        service_name=line.row.service_name,
        tracking="",
        container=texts_from_json([line.row.container])[0],
        at_s=None,
        scan=0,
        seconds=line.seconds,
        next_name=name,
        next_days=days,
    )


def _record(read: DayRead, record: SendOff, parcels: list[SentParcel]) -> RecordOut:
    return RecordOut(
        id=record.pk,
        key=record.key,
        name=record.name,
        at=record.at,
        at_s=read.clock.seconds(record.at),
        by=record.by,
        taken_by=record.taken_by,
        parcels=len(parcels),
        weight_mg=sum(one.parcel.measured_mg or 0 for one in parcels),
        undo=read.clock.now - record.at <= UNDO_WITHIN,
        channels=sorted({one.parcel.order.channel for one in parcels}),
    )


def rows_of_sheet(workshop: Workshop, parcels: list[Parcel]) -> list[SheetRow]:
    """Return the sheet's rows; parcels need ``order`` selected."""
    services = dict(
        Label.objects.of(workshop)
        .filter(parcel__in=parcels, state=Label.State.BOUGHT)
        .values_list("parcel_id", "service_name")
    )
    return [
        SheetRow(
            number=one.order.number if one.parts == 1 else f"{one.order.number} ({one.part} of {one.parts})",
            name=one.order.buyer,
            place=place_of_order(one.order),
            weight_mg=one.measured_mg or 0,
            tracking=one.tracking,
            service=services.get(one.pk, ""),
        )
        for one in parcels
    ]
