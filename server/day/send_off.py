"""Send-off: parcels scanned out one by one, the hand-over recorded, and taken back within the hour (day).

A scan says at once what is wrong with a parcel and counts it only when nothing is. What was counted and not handed over
stays counted: a reload or another tablet goes on from there.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from core.day.hand_overs import HandOver, next_taking
from server.api.problems import Refused
from server.bench.models import Parcel
from server.bench.services import hand_over as parcels_left
from server.carriers.models import Label
from server.day.models import ChosenHandOver, SendOff, SentParcel
from server.day.times import Clock, Times, clock_of, times_of
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "UNDO_WITHIN",
    "Scan",
    "Verdict",
    "counted_for",
    "hand_over",
    "known_hand_over",
    "scan",
    "undo_hand_over",
    "undo_scan",
]

#: counted: it goes; counted_soft: it goes, though its closure is not at full strength; again: it was counted before.
#: Everything else is not counted.
Verdict = Literal[
    "counted", "counted_soft", "again", "unknown", "handed_over", "not_closed", "no_label", "label_given_back",
    "wrong_carrier", "not_today", "full",
]  # fmt: skip
#: A hand-over can be taken back for so long: then the parcels are on their way.
UNDO_WITHIN = timedelta(hours=1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Scan:
    """What scanning a parcel came to."""

    verdict: Verdict
    parcel: Parcel | None = None
    carrier: str = ""  #: of its label
    goes_with: HandOver | None = None  #: the one it belongs to, when it is not this


def known_hand_over(times: Times, key: str) -> HandOver:
    """Return the hand-over of a key. Raises Refused (404)."""
    found = times.by_key(key)
    if found is None:
        raise Refused(
            "There is no such hand-over any more: its day is over or its times were changed. Choose one of today's.",
            code="not_found",
            status=404,
        )
    return found


@transaction.atomic
def scan(*, by: Member, key: str, code: str) -> Scan:
    """Count a parcel out for a hand-over, by its tracking number or its order's number (with ``/2`` for its second)."""
    lock_workshop(by.workshop)
    clock = clock_of(by.workshop)
    times = times_of(by.workshop, clock)
    hand_over = known_hand_over(times, key)
    _refuse_done(by.workshop, key)
    parcel, given_back = _parcel_of(by.workshop, code)
    if parcel is None:
        return Scan(verdict="unknown")
    label = Label.objects.of(by.workshop).filter(parcel=parcel).order_by("-id").first()
    bought = label is not None and label.state == Label.State.BOUGHT
    carrier = label.carrier if label is not None else ""
    if given_back or (label is not None and not bought and label.state in _GIVEN_BACK):
        return Scan(verdict="label_given_back", parcel=parcel, carrier=carrier)
    if not bought:
        return Scan(verdict="no_label", parcel=parcel)
    if parcel.state != Parcel.State.CLOSED:
        return Scan(verdict="not_closed", parcel=parcel, carrier=carrier)
    if parcel.handed_over_at is not None:
        return Scan(verdict="handed_over", parcel=parcel, carrier=carrier)
    counted = SentParcel.objects.of(by.workshop).filter(parcel=parcel).first()
    if counted is not None and counted.key == key:
        return Scan(verdict="again", parcel=parcel, carrier=carrier)
    if not hand_over.takes(carrier):
        own = next_taking(carrier, times.hand_overs, after_s=clock.now_s - 1)
        return Scan(verdict="wrong_carrier", parcel=parcel, carrier=carrier, goes_with=own)
    chosen = ChosenHandOver.objects.of(by.workshop).filter(order_id=parcel.order_id).first()
    later = times.by_key(chosen.key) if chosen is not None else None
    if later is not None and later.day > hand_over.day:
        return Scan(verdict="not_today", parcel=parcel, carrier=carrier, goes_with=later)
    if hand_over.most_parcels is not None:
        there = SentParcel.objects.of(by.workshop).filter(key=key, parcel__state=Parcel.State.CLOSED).count()
        if there >= hand_over.most_parcels:
            return Scan(verdict="full", parcel=parcel, carrier=carrier)
    SentParcel.objects.of(by.workshop).update_or_create(
        parcel=parcel,
        defaults={"workshop": by.workshop, "key": key, "send_off": None, "at": timezone.now(), "by": by.name},
    )
    soft = parcel.holds_from is not None and parcel.holds_from > clock.now
    return Scan(verdict="counted_soft" if soft else "counted", parcel=parcel, carrier=carrier)


_GIVEN_BACK = (Label.State.VOIDING, Label.State.VOID, Label.State.SURPLUS)


def _parcel_of(workshop: Workshop, code: str) -> tuple[Parcel | None, bool]:
    """Return the parcel a code is on, and whether the code is that of a label that was given back."""
    text = code.strip().split(" ")[0] if code.count(" ") == 2 else "".join(code.split())
    rows = Parcel.objects.of(workshop).exclude(state=Parcel.State.UNDONE).select_related("order")
    rows = rows.select_for_update(of=("self",))
    parcel = rows.filter(tracking__iexact=text).exclude(tracking="").first() if text else None
    if parcel is not None:
        return parcel, False
    label = Label.objects.of(workshop).filter(tracking__iexact=text).exclude(tracking="").order_by("-id").first()
    if label is not None and label.parcel_id is not None:
        found = rows.filter(pk=label.parcel_id).first()
        return found, label.state != Label.State.BOUGHT
    number, _, part = text.partition("/")
    mine = list(rows.filter(order__number__iexact=number).order_by("-begun_at", "part")[:20])
    if part.isdecimal():
        mine = [one for one in mine if one.part == int(part)]
    if not mine:
        return None, False
    # An order's number alone names its only parcel, or the first that is not counted yet.
    waiting = [one for one in mine if one.handed_over_at is None]
    counted = set(SentParcel.objects.of(workshop).filter(parcel__in=waiting).values_list("parcel_id", flat=True))
    return next((one for one in waiting if one.pk not in counted), mine[0]), False


def _refuse_done(workshop: Workshop, key: str) -> None:
    done = SendOff.objects.of(workshop).filter(key=key, undone_at=None).first()
    if done is not None:
        raise Refused(
            f"{done.by} recorded this hand-over already. Undo it within the hour, or scan for the next one.",
            code="already_handed_over",
        )


@transaction.atomic
def undo_scan(*, by: Member, parcel_id: int) -> None:
    """Take a parcel off the count. Raises Refused when it was not counted, or has been handed over."""
    lock_workshop(by.workshop)
    row = SentParcel.objects.of(by.workshop).filter(parcel_id=parcel_id).first()
    if row is None:
        raise Refused("This parcel is not counted.", code="not_counted")
    if row.send_off_id is not None:
        raise Refused("This parcel was handed over. Undo the hand-over first.", code="handed_over")
    row.delete()


@transaction.atomic
def hand_over(*, by: Member, key: str, taken_by: str, request_key: UUID) -> SendOff:
    """Record that what was counted for a hand-over has left. Asked again with the same key, returns the same.

    Raises Refused when nothing was counted, or somebody recorded it already.
    """
    lock_workshop(by.workshop)
    before = SendOff.objects.of(by.workshop).filter(request_key=request_key).first()
    if before is not None:
        return before
    clock = clock_of(by.workshop)
    times = times_of(by.workshop, clock)
    found = known_hand_over(times, key)
    _refuse_done(by.workshop, key)
    rows = SentParcel.objects.of(by.workshop).filter(
        key=key, send_off=None, parcel__state=Parcel.State.CLOSED, parcel__handed_over_at=None
    )
    ids = list(rows.values_list("parcel_id", flat=True))
    if not ids:
        raise Refused("No parcel was scanned for this hand-over yet.", code="nothing_counted")
    record = SendOff.objects.of(by.workshop).create(
        workshop=by.workshop,
        key=key,
        name=times.name_of(found),
        day=found.day,
        planned_at=clock.moment(found.at_s),
        at=clock.now,
        by=by.name,
        taken_by=taken_by.strip(),
        request_key=request_key,
    )
    rows.update(send_off=record)
    parcels_left(workshop=by.workshop, parcel_ids=ids, at=clock.now)
    return record


@transaction.atomic
def undo_hand_over(*, by: Member, send_off_id: int) -> SendOff:
    """Take a hand-over back within the hour: its parcels are counted, and not handed over.

    Raises Refused (404, too_late); asked again it does nothing more.
    """
    lock_workshop(by.workshop)
    record = SendOff.objects.of(by.workshop).filter(pk=send_off_id).first()
    if record is None:
        raise Refused("There is no such hand-over in your workshop.", code="not_found", status=404)
    if record.undone_at is not None:
        return record
    now: datetime = timezone.now()
    if now - record.at > UNDO_WITHIN:
        raise Refused(
            f"{record.name} was recorded more than an hour ago. What did not leave is given out again at its order.",
            code="too_late",
        )
    rows = SentParcel.objects.of(by.workshop).filter(send_off=record)
    parcels_left(workshop=by.workshop, parcel_ids=list(rows.values_list("parcel_id", flat=True)), at=None)
    rows.update(send_off=None)
    record.undone_at, record.undone_by = now, by.name
    record.save(update_fields=["undone_at", "undone_by"])
    return record


def counted_for(workshop: Workshop, clock: Clock) -> list[SentParcel]:
    """Return what is counted and not handed over, and what was handed over today."""
    return list(
        SentParcel.objects.of(workshop)
        .filter(
            Q(send_off=None, parcel__handed_over_at=None) | Q(send_off__at__gte=clock.moment(0)),
            parcel__state=Parcel.State.CLOSED,
        )
        .select_related("parcel__order", "send_off")
        .defer("parcel__weight_check", "parcel__order__came_as")[:1000]
    )
