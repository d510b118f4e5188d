"""Writing down how parcels arrived: a person's answer, nobody's for two weeks, the carrier's word (outcomes)."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from core.outcomes.carriers import whole_from
from core.outcomes.model import DAMAGE, HURT, Harm, Outcome
from server.api.problems import Fault, Refused
from server.bench.labels import track_label
from server.carriers.models import Label
from server.outcomes.claims import settle_claim
from server.outcomes.counting import recount
from server.outcomes.models import Arrival, ArrivalGoods, ArrivalHarm
from server.outcomes.trials import look_at
from server.standins.carrier import CarrierRefused, NoAnswer
from server.workshops.clock import today
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop, lock_workshop

__all__ = [
    "Asked",
    "Told",
    "answer",
    "answer_differs",
    "ask_carriers",
    "assume_whole",
    "buyer_told",
    "found_arrival",
    "write_answer",
]

#: In one asking of the carriers; the rest is asked the next time.
_ASKED_AT_ONCE = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What somebody says of a parcel."""

    outcome: Outcome
    harms: tuple[Harm, ...] = ()
    note: str = ""
    message: str = ""
    gave_back: str = ""
    gave_amount: Decimal = Decimal(0)
    delivered_on: date | None = None  #: None: as the carrier said


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What asking the carriers came to."""

    asked: int
    delivered: int
    problem: str = ""


def found_arrival(workshop: Workshop, arrival_id: int) -> Arrival:
    """Return an arrival. Raises Refused (404)."""
    row = Arrival.objects.of(workshop).select_related("parcel__order").filter(pk=arrival_id).first()
    if row is None:
        raise Refused("There is no such parcel on its way from your workshop.", code="not_found", status=404)
    return row


@transaction.atomic
def answer(*, workshop: Workshop, arrival_id: int, told: Told, revision: int, by: str, source: str) -> Arrival:
    """Write down how a parcel arrived; "unknown" takes an answer back. Said twice, it stands once.

    Raises Refused: 404; 409 changed when somebody else answered meanwhile; not_valid with every error.
    """
    lock_workshop(workshop)
    row = Arrival.objects.of(workshop).select_for_update().filter(pk=arrival_id).first()
    if row is None:
        raise Refused("There is no such parcel on its way from your workshop.", code="not_found", status=404)
    if row.revision != revision:
        if _says(row) == told:
            return row
        raise Refused(
            f"{row.answered_by or 'Somebody'} wrote down how this parcel arrived while you did. Look at it, then "
            "answer again if it is otherwise.",
            code="changed",
            facts={"revision": row.revision, "by": row.answered_by},
        )
    recount(workshop, write_answer(workshop, row, told, by=by, source=source))
    look_at(workshop)
    return row


@transaction.atomic
def buyer_told(*, workshop: Workshop, arrival_id: int, told: Told) -> Arrival:
    """Keep what a buyer said on the page of the slip. What the workshop wrote itself stays; the words are kept beside.

    Said twice, the first stands.
    """
    lock_workshop(workshop)
    row = Arrival.objects.of(workshop).select_for_update().get(pk=arrival_id)
    if row.source == Arrival.Source.BUYER:
        return row
    if row.source not in (Arrival.Source.NONE, Arrival.Source.ASSUMED):
        if told.message and told.message not in row.message:
            row.message = f"{row.message}\n{told.message}".strip()[:4_000]
            row.revision += 1
            row.save(update_fields=["message", "revision"])
        return row
    recount(workshop, write_answer(workshop, row, told, by="the buyer", source=Arrival.Source.BUYER))
    look_at(workshop)
    return row


def write_answer(workshop: Workshop, row: Arrival, told: Told, *, by: str, source: str) -> set[int]:
    """Write an answer to a locked row and settle its claim.

    Returns the recipe versions whose arrivals are to be counted again: once for all answers that come together, since
    each counting may have every open order of a recipe planned again. Raises Refused (not_valid).
    """
    goods = list(ArrivalGoods.objects.of(workshop).filter(arrival=row))
    _check(told, goods, row, today(workshop))
    known = told.outcome != "unknown"
    row.outcome, row.source = told.outcome, source if known else Arrival.Source.NONE
    row.note, row.message = told.note, told.message
    row.gave_back, row.gave_amount = told.gave_back, told.gave_amount
    row.delivered_on = told.delivered_on or row.delivered_on
    if row.delivered_on is None and told.outcome not in ("unknown", "lost"):
        row.delivered_on = today(workshop)  # it is there: somebody has it in hands
    if row.delivered_on is not None:
        row.whole_by = whole_from(row.delivered_on, judgements_of(workshop).whole_after_days)
    row.answered_at, row.answered_by = (timezone.now(), by) if known else (None, "")
    row.revision += 1
    row.save()
    ArrivalHarm.objects.of(workshop).filter(arrival=row).delete()
    ArrivalHarm.objects.of(workshop).bulk_create(
        ArrivalHarm(
            workshop=workshop, arrival=row, kind=one.kind, place=one.place or "", spot=one.spot, sku=one.sku,
            units=one.units,
        )
        for one in told.harms
    )  # fmt: skip
    _mark_hurt(workshop, goods, told)
    settle_claim(workshop, row)
    return {one.version_id for one in goods if one.version_id is not None}


def answer_differs(row: Arrival, told: Told) -> bool:
    """Return whether an answer says otherwise than what is kept; what it does not say of days does not count."""
    return replace(_says(row), message="", delivered_on=None) != replace(told, message="", delivered_on=None)


def _says(row: Arrival) -> Told:
    return Told(
        outcome=row.outcome,  # type: ignore[arg-type]
        harms=tuple(
            Harm(kind=one.kind, place=one.place or None, spot=one.spot, sku=one.sku, units=one.units)  # type: ignore[arg-type]
            for one in row.harms.all()
        ),
        note=row.note, message=row.message, gave_back=row.gave_back, gave_amount=row.gave_amount,
    )  # fmt: skip


def _mark_hurt(workshop: Workshop, goods: Iterable[ArrivalGoods], told: Told) -> None:
    """Goods that were broken or spoiled: those named, or all when nobody said which."""
    damaged = told.outcome in DAMAGE
    named = {one.sku for one in told.harms if one.kind != "marked" and one.sku}
    for one in goods:
        one.hurt = damaged and (not named or one.sku in named)
    ArrivalGoods.objects.of(workshop).bulk_update(goods, ["hurt"])


def _check(told: Told, goods: list[ArrivalGoods], row: Arrival, day: date) -> None:
    units = {one.sku: one.units for one in goods}
    faults = []
    if told.harms and told.outcome not in HURT:
        faults.append(Fault(path="harms", message=f"a parcel that is {told.outcome} has nothing hurt; choose broken"))
    for at, one in enumerate(told.harms):
        if one.sku and one.sku not in units:
            faults.append(Fault(path=f"harms[{at}].sku", message=f"there is no {one.sku} in this parcel"))
        most = units.get(one.sku, sum(units.values()))
        if one.units > most:
            faults.append(Fault(path=f"harms[{at}].units", message=f"{one.units} of {most} in the parcel"))
        if one.kind == "spoiled" and one.place is not None:
            faults.append(Fault(path=f"harms[{at}].place", message="what is spoiled has no place"))
    if told.gave_amount and told.gave_back not in (Arrival.GaveBack.REFUND, Arrival.GaveBack.PART):
        faults.append(Fault(path="gave_amount", message="money goes back with a refund or a part refund only"))
    if told.delivered_on is not None and not row.sent_on <= told.delivered_on <= day:
        faults.append(
            Fault(
                path="delivered_on",
                message=f"it left on {row.sent_on} and today is {day}; given: {told.delivered_on}",
            )
        )
    if faults:
        raise Refused(
            f"{faults[0].path}: {faults[0].message}.", code="not_valid", status=422, field=faults[0].path, faults=faults
        )


@transaction.atomic
def assume_whole(workshop: Workshop) -> int:
    """Count parcels whole that nobody complained of until their day; return how many."""
    lock_workshop(workshop)
    rows = Arrival.objects.of(workshop).filter(outcome="unknown", whole_by__lte=today(workshop))
    ids = list(rows.values_list("pk", flat=True))
    if not ids:
        return 0
    Arrival.objects.of(workshop).filter(pk__in=ids).update(
        outcome="whole", source=Arrival.Source.ASSUMED, answered_at=timezone.now()
    )
    goods = ArrivalGoods.objects.of(workshop).filter(arrival__in=ids).exclude(version=None)
    recount(workshop, set(goods.order_by().values_list("version_id", flat=True).distinct()))
    look_at(workshop)
    return len(ids)


def ask_carriers(workshop: Workshop, most: int = _ASKED_AT_ONCE) -> Asked:
    """Ask the carriers about parcels on the way, longest unasked first; what they tell is kept one by one.

    A carrier that does not answer ends the asking: the rest is asked the next time.
    """
    rows = _to_ask(workshop)[:most]
    asked = delivered = 0
    for label in rows:
        try:
            told = track_label(workshop, label)
        except CarrierRefused as error:
            return Asked(asked=asked, delivered=delivered, problem=f"The carrier refused: {error}")
        except NoAnswer as error:
            return Asked(asked=asked, delivered=delivered, problem=f"{error} What it told before is kept.")
        asked += 1
        delivered += _heard(workshop, told)
    return Asked(asked=asked, delivered=delivered)


def _to_ask(workshop: Workshop) -> "QuerySet[Label]":
    return (
        Label.objects.of(workshop)
        .filter(
            state=Label.State.BOUGHT,
            parcel__arrival__isnull=False,
            parcel__arrival__delivered_on=None,
            parcel__arrival__sent_on__gte=today(workshop) - timedelta(days=_GIVEN_UP_DAYS),
        )
        .order_by("told_at", "id")
    )


#: Nobody asks a carrier of a parcel that left longer ago.
_GIVEN_UP_DAYS = 120


@transaction.atomic
def _heard(workshop: Workshop, label: Label) -> bool:
    """Write down that a parcel came, when the carrier says so; return whether it did."""
    days = [date.fromisoformat(event["on"]) for event in label.events if event.get("kind") == "delivered"]
    if not days:
        return False
    row = Arrival.objects.of(workshop).select_for_update().filter(parcel=label.parcel).first()
    if row is None or row.delivered_on is not None:
        return False
    row.delivered_on = max(days[0], row.sent_on)
    row.whole_by = whole_from(row.delivered_on, judgements_of(workshop).whole_after_days)
    row.save(update_fields=["delivered_on", "whole_by"])
    return True
