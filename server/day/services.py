"""The day's writes: hours, hand-overs and closures; what was prepared; beginning a wave; what is missing (day)."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, time
from uuid import uuid4

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from server.api.problems import Fault, Refused
from server.bench.models import Parcel
from server.bench.services import begin
from server.care.models import FrozenLot
from server.care.services import freeze, unfreeze
from server.carriers.models import TariffVersion
from server.day.models import Closure, HandOverTime, PackingHours, Prepared
from server.day.selectors import read_day
from server.orders.models import Order
from server.orders.services import hold
from server.plans.models import Plan, PlanPart
from server.supplies.models import Supply
from server.workshops.models import Member, lock_workshop

__all__ = ["HandOverIn", "HoursIn", "begin_wave", "mark_prepared", "missing", "set_times"]


@dataclass(frozen=True, slots=True, kw_only=True)
class HoursIn:
    """When one person packs."""

    who: str
    days: tuple[int, ...]
    begins: time
    ends: time


@dataclass(frozen=True, slots=True, kw_only=True)
class HandOverIn:
    """One hand-over; ``id`` None: a new one."""

    id: int | None
    name: str
    kind: str
    carriers: tuple[str, ...]
    days: tuple[int, ...]
    at: time
    way_minutes: int
    most_parcels: int | None
    who: str


@transaction.atomic
def set_times(
    *,
    by: Member,
    hours: Sequence[HoursIn],
    hand_overs: Sequence[HandOverIn],
    closures: Sequence[tuple[date, str]],
) -> None:
    """Write all of the workshop's times down, in place of what they were; a hand-over keeps its number.

    Raises Refused with every error.
    """
    lock_workshop(by.workshop)
    faults = [*_hours_faults(hours), *_hand_over_faults(by, hours, hand_overs), *_closure_faults(closures)]
    if faults:
        raise Refused(
            f"{faults[0].message}" + (f" And {len(faults) - 1} more." if len(faults) > 1 else ""),
            code="not_valid",
            status=422,
            field=faults[0].path,
            faults=faults,
        )
    PackingHours.objects.of(by.workshop).delete()
    PackingHours.objects.of(by.workshop).bulk_create(
        PackingHours(workshop=by.workshop, who=one.who.strip(), days=list(one.days), begins=one.begins, ends=one.ends)
        for one in hours
    )
    known = {row.pk: row for row in HandOverTime.objects.of(by.workshop)}
    kept = {one.id for one in hand_overs if one.id is not None}
    HandOverTime.objects.of(by.workshop).filter(pk__in=set(known) - kept).delete()
    for one in hand_overs:
        row = known.get(one.id or 0) or HandOverTime(workshop=by.workshop)
        row.name, row.kind, row.carriers, row.days = one.name.strip(), one.kind, list(one.carriers), list(one.days)
        row.at, row.most_parcels, row.who = one.at, one.most_parcels, one.who.strip()
        row.way_minutes = one.way_minutes if one.kind == HandOverTime.Kind.TRIP else 0
        row.save()
    Closure.objects.of(by.workshop).delete()
    Closure.objects.of(by.workshop).bulk_create(
        Closure(workshop=by.workshop, day=day, reason=reason.strip()) for day, reason in closures
    )


def _hours_faults(hours: Sequence[HoursIn]) -> list[Fault]:
    found = []
    for at, one in enumerate(hours):
        if one.ends <= one.begins:
            found.append(
                Fault(
                    path=f"hours[{at}].ends",
                    message=f"{one.who} would end at {one.ends:%H:%M}, which is not after {one.begins:%H:%M}.",
                )
            )
        for other in hours[:at]:
            same = other.who.strip().casefold() == one.who.strip().casefold() and set(other.days) & set(one.days)
            if same and one.begins < other.ends and other.begins < one.ends:
                found.append(
                    Fault(
                        path=f"hours[{at}].begins",
                        message=f"{one.who} packs from {other.begins:%H:%M} to {other.ends:%H:%M} that day already.",
                    )
                )
    return found


def _hand_over_faults(by: Member, hours: Sequence[HoursIn], hand_overs: Sequence[HandOverIn]) -> list[Fault]:
    carriers = set(TariffVersion.objects.of(by.workshop).order_by().values_list("carrier", flat=True).distinct())
    mine = set(HandOverTime.objects.of(by.workshop).values_list("pk", flat=True))
    people = {one.who.strip() for one in hours}
    found = []
    names: set[str] = set()
    for at, one in enumerate(hand_overs):
        where = f"hand_overs[{at}]"
        if one.id is not None and one.id not in mine:
            found.append(Fault(path=f"{where}.id", message="There is no such hand-over any more. Load the page again."))
        if one.name.strip().casefold() in names:
            found.append(
                Fault(
                    path=f"{where}.name", message=f"Two hand-overs are called {one.name.strip()}; name one otherwise."
                )
            )
        names.add(one.name.strip().casefold())
        unknown = sorted(set(one.carriers) - carriers)
        if unknown:
            known = ", ".join(sorted(carriers)) or "none yet"
            found.append(
                Fault(path=f"{where}.carriers", message=f"No price list of {', '.join(unknown)}; there are: {known}.")
            )
        if one.who.strip() and people and one.who.strip() not in people:
            found.append(
                Fault(
                    path=f"{where}.who",
                    message=f"{one.who.strip()} has no hours; those who have: {', '.join(sorted(people))}.",
                )
            )
        if one.kind == HandOverTime.Kind.TRIP and one.at.hour * 60 + one.at.minute < one.way_minutes:
            found.append(Fault(path=f"{where}.way_minutes", message="The way would begin the day before."))
    return found


def _closure_faults(closures: Sequence[tuple[date, str]]) -> list[Fault]:
    days = [day for day, _ in closures]
    return [
        Fault(path=f"closures[{at}].day", message=f"{day.isoformat()} is named twice.")
        for at, day in enumerate(days)
        if day in days[:at]
    ]


@transaction.atomic
def mark_prepared(*, by: Member, order_ids: Collection[int], what: str, done: bool) -> int:
    """Write that something was begun for these orders, or that it was not after all. Asked again, the first time holds.

    Raises Refused when no plan of theirs asks for it.
    """
    rows = Order.objects.of(by.workshop).filter(pk__in=order_ids, state__in=(*Order.OPEN, Order.State.BENCH))
    asked = [
        order
        for order in rows.prefetch_related("plan__parts")
        if any(one["what"] == what for part in _parts(order) for one in part.ahead)
    ]
    if len(asked) < len(set(order_ids)):
        raise Refused(f"Not all of these orders ask for this ahead: {what[:80]}.", code="unknown", field="order_ids")
    packs = {
        one["supply"]
        for order in asked
        for part in _parts(order)
        for one in part.ahead
        if one["what"] == what and "supply" in one
    }
    if packs:
        return _in_the_freezer(by, packs.pop(), what, order_ids, done=done)
    if not done:
        Prepared.objects.of(by.workshop).filter(order__in=asked, what=what).delete()
        return len(asked)
    Prepared.objects.of(by.workshop).bulk_create(
        (
            Prepared(workshop=by.workshop, order=order, what=what, done_at=timezone.now(), done_by=by.name)
            for order in asked
        ),
        ignore_conflicts=True,
    )
    return len(asked)


def _in_the_freezer(by: Member, code: str, what: str, order_ids: Collection[int], *, done: bool) -> int:
    """Write that as many packs as these orders still lack went into the freezer, or that the last ones did not."""
    supply = Supply.objects.of(by.workshop).get(code=code)
    lots = FrozenLot.objects.of(by.workshop).filter(supply=supply)
    if not done:
        last = lots.filter(left=F("quantity")).order_by("-since", "-id").first()
        if last is None:
            raise Refused(
                f"{supply.name}: none was put into the freezer that is still whole there. Change it under Prepare.",
                code="not_frozen",
            )
        unfreeze(by=by, lot_id=last.pk)
        return len(order_ids)
    read = read_day(by.workshop)
    lacking = sum(
        task.count
        for task in read.tasks
        if task.what == what
        and task.state != "done"
        and {read.lines[key].order.pk for key in task.parcels} & set(order_ids)
    )
    if lacking:  # sent twice, nothing is lacking the second time
        freeze(by=by, supply_id=supply.pk, quantity=lacking, request_key=uuid4())
    return len(order_ids)


def _parts(order: Order) -> Iterable[PlanPart]:
    plan: Plan | None = getattr(order, "plan", None)
    return PlanPart.objects.of(order.workshop_id).none() if plan is None else plan.parts.all()


def begin_wave(*, by: Member, order_ids: Sequence[int]) -> tuple[list[Parcel], list[tuple[int, Refused]]]:
    """Bring the orders of a wave to the bench, one after the other; returns the first parcel of each to pack, and the
    orders that cannot be begun with the reason.

    Each is a transaction of its own: one that cannot be begun keeps none of the others from it. Raises Refused when
    none can.
    """
    found: list[Parcel] = []
    refused: list[tuple[int, Refused]] = []
    for order_id in order_ids:
        try:
            found.append(begin(by=by, order_id=order_id))
        except Refused as reason:
            refused.append((order_id, reason))
    if refused and not found:
        raise refused[0][1]
    return found, refused


def missing(*, by: Member, order_id: int, what: str) -> Order:
    """Hold one order because something of it is not on its shelf: the rest of the wave goes on."""
    return hold(by=by, order_id=order_id, reason=f"{what} was not there when it was gathered.")
