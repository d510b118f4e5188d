"""Writing what is agreed about money: fees, settings, policies, and closing a month."""

from datetime import date
from decimal import Decimal
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from core.money.months import month_of
from server.api.problems import Refused
from server.formats.charges_request import PolicyDoc
from server.money.models import ChargePolicy, ClosedMonth, FeeRow, KeptLine, MoneySettings
from server.money.reading import first_month, first_open_day, month_orders, records_of
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "add_fee", "close_month", "delete_fee", "delete_policy", "make_ours", "open_month", "save_policy", "save_settings",
    "settings_of",
]  # fmt: skip


def settings_of(workshop: Workshop) -> MoneySettings:
    """Return what the workshop settled about money; not saved where it never did."""
    return MoneySettings.objects.of(workshop).first() or MoneySettings(workshop=workshop)


@transaction.atomic
def save_settings(*, by: Member, values: dict[str, Any]) -> MoneySettings:
    """Write the settings."""
    lock_workshop(by.workshop)
    row = settings_of(by.workshop)
    for name, value in values.items():
        setattr(row, name, value)
    row.save()
    return row


@transaction.atomic
def add_fee(*, by: Member, values: dict[str, Any]) -> FeeRow:
    """Say what a channel or payment takes from a day on. The same day said again is put right.

    Raises Refused when orders of that day belong to a closed month.
    """
    lock_workshop(by.workshop)
    rows = FeeRow.objects.of(by.workshop)
    _open_for(by.workshop, values["from_day"])
    row, _ = rows.update_or_create(
        kind=values["kind"],
        channel=values["channel"],
        from_day=values["from_day"],
        defaults={
            "workshop": by.workshop,
            "percent": values["percent"],
            "fixed": values["fixed"],
            "of_postage": values["of_postage"],
        },
    )
    return row


@transaction.atomic
def delete_fee(*, by: Member, fee_id: int) -> FeeRow:
    """Take a fee away. Raises Refused: 404, month_closed."""
    lock_workshop(by.workshop)
    row = FeeRow.objects.of(by.workshop).filter(pk=fee_id).first()
    if row is None:
        raise Refused("There is no such fee in your workshop.", code="not_found", status=404)
    _open_for(by.workshop, row.from_day)
    gone = FeeRow(pk=row.pk, workshop=row.workshop, kind=row.kind, channel=row.channel, percent=row.percent,
                  fixed=row.fixed, of_postage=row.of_postage, from_day=row.from_day)  # fmt: skip
    row.delete()
    return gone


def _open_for(workshop: Workshop, day: date) -> None:
    closed = ClosedMonth.objects.of(workshop).filter(month__gte=month_of(day)).order_by("-month").first()
    if closed is not None:
        raise Refused(
            f"{closed.month} is closed, so that fees from {day} would change it. Choose a day from "
            f"{first_open_day(workshop)} on, or open the month again.",
            code="month_closed",
            status=409,
            field="from_day",
        )


@transaction.atomic
def close_month(*, by: Member, month: str) -> ClosedMonth:
    """Keep a month's lines as they are. Closed again, nothing happens.

    Raises Refused: month_not_over; later_open when a month before it with orders is open.
    """
    workshop = by.workshop
    lock_workshop(workshop)
    rows = ClosedMonth.objects.of(workshop)
    found = rows.filter(month=month).first()
    if found is not None:
        return found
    if month >= month_of(today(workshop)):
        raise Refused(f"{month} is not over. A month is closed once its last day is over.", code="month_not_over")
    last = rows.order_by("-month").first()
    if last is not None and month < last.month:
        raise Refused(f"{last.month} is closed already; months are closed in their order.", code="later_closed")
    due = month_of(first_open_day(workshop)) if last is not None else first_month(workshop)
    if month != due:
        raise Refused(f"Close {due} first: months are closed in their order.", code="earlier_open")
    found_records = records_of(workshop, month_orders(workshop, month))
    mine = [(one, line) for one in found_records for line in one.record.lines if month_of(line.on) == month]
    row = rows.create(
        workshop=workshop,
        month=month,
        left=sum((line.amount for _, line in mine), Decimal(0)),
        orders=sum(one.packed_on is not None and month_of(one.packed_on) == month for one in found_records),
        closed_at=timezone.now(),
        closed_by=by.name,
    )
    KeptLine.objects.of(workshop).bulk_create(
        KeptLine(
            workshop=workshop, closed=row, order=one.order, kind=line.kind, amount=line.amount, on=line.on,
            source=line.source, reference=line.reference[:80],
        )
        for one, line in mine
    )  # fmt: skip
    return row


@transaction.atomic
def open_month(*, by: Member, month: str) -> ClosedMonth:
    """Open the month that was closed last, within a day: somebody pressed the wrong key.

    Raises Refused: 404, not_last, too_late.
    """
    lock_workshop(by.workshop)
    rows = ClosedMonth.objects.of(by.workshop)
    row = rows.filter(month=month).first()
    if row is None:
        raise Refused(f"{month} is not closed.", code="not_found", status=404)
    if rows.filter(month__gt=month).exists():
        raise Refused(f"A month after {month} is closed; only the last one may be opened.", code="not_last")
    if (timezone.now() - row.closed_at).total_seconds() > 86_400:
        raise Refused(
            f"{month} was closed more than a day ago and stays closed. What is known since comes in the open month.",
            code="too_late",
        )
    gone = ClosedMonth(month=row.month, left=row.left, orders=row.orders, closed_at=row.closed_at,
                       closed_by=row.closed_by, workshop=row.workshop)  # fmt: skip
    row.delete()
    return gone


@transaction.atomic
def save_policy(*, by: Member, name: str, document: PolicyDoc) -> ChargePolicy:
    """Keep a way to charge postage under a name; the same name again is that policy changed.

    Raises Refused (ours) when it is the workshop's own already: buyers were charged by it.
    """
    lock_workshop(by.workshop)
    rows = ChargePolicy.objects.of(by.workshop)
    before = rows.filter(name=name).first()
    if before is not None and before.ours_from is not None and before.ours_from <= today(by.workshop):
        raise Refused(
            f"{name} is what buyers pay since {before.ours_from}. Keep the change under another name.",
            code="ours",
            field="name",
        )
    row, _ = rows.update_or_create(
        name=name,
        defaults={
            "workshop": by.workshop,
            "document": document.model_dump(mode="json"),
            "made_at": timezone.now(),
            "made_by": by.name,
        },
    )
    return row


@transaction.atomic
def make_ours(*, by: Member, policy_id: int, from_day: date | None) -> ChargePolicy:
    """Make a policy the workshop's own from a day on; None: it is not, any more.

    Raises Refused: 404, past, day_taken.
    """
    lock_workshop(by.workshop)
    row = _policy(by.workshop, policy_id)
    day = today(by.workshop)
    if row.ours_from is not None and row.ours_from < day:
        raise Refused(
            f"{row.name} is what buyers pay since {row.ours_from}. Make another yours from a later day instead.",
            code="ours",
        )
    if from_day is not None and from_day < day:
        raise Refused(f"From today ({day}) on at the earliest; given: {from_day}.", code="past", field="from_day")
    row.ours_from = from_day
    try:
        with transaction.atomic():
            row.save(update_fields=["ours_from"])
    except IntegrityError:
        raise Refused(
            f"Another policy is yours from {from_day} on. Choose another day, or take that one back.",
            code="day_taken",
            field="from_day",
        ) from None
    return row


@transaction.atomic
def delete_policy(*, by: Member, policy_id: int) -> ChargePolicy:
    """Take a policy away. Raises Refused: 404, ours."""
    lock_workshop(by.workshop)
    row = _policy(by.workshop, policy_id)
    if row.ours_from is not None and row.ours_from <= today(by.workshop):
        raise Refused(f"{row.name} is what buyers pay since {row.ours_from}: it stays in the record.", code="ours")
    row.delete()
    row.pk = policy_id
    return row


def _policy(workshop: Workshop, policy_id: int) -> ChargePolicy:
    row = ChargePolicy.objects.of(workshop).filter(pk=policy_id).first()
    if row is None:
        raise Refused("There is no such policy in your workshop.", code="not_found", status=404)
    return row
