"""Writing what is agreed about money: fees, settings, and closing a month."""

from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.db import transaction
from django.utils import timezone

from core.money.months import first_day_of, month_of
from server.api.problems import Refused
from server.money.models import ClosedMonth, FeeRow, KeptLine, MoneySettings
from server.money.months import month_due, orders_with_lines
from server.money.reading import records_of
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["add_fee", "close_month", "delete_fee", "open_month", "save_settings", "settings_of"]

_A_DAY = timedelta(days=1)


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
    row.delete()
    row.pk = fee_id
    return row


def _open_for(workshop: Workshop, day: date) -> None:
    closed = ClosedMonth.objects.of(workshop).filter(month__gte=month_of(day)).order_by("-month").first()
    if closed is not None:
        raise Refused(
            f"{closed.month} is closed, so that fees from {day} would change it. Choose a day from "
            f"{first_day_of(month_due(workshop))} on, or open the month again.",
            code="month_closed",
            status=409,
            field="from_day",
        )


@transaction.atomic
def close_month(*, by: Member, month: str) -> ClosedMonth:
    """Keep a month's lines as they are. Closed again, nothing happens.

    Raises Refused: month_not_over; not_due when another is closed next.
    """
    workshop = by.workshop
    lock_workshop(workshop)
    rows = ClosedMonth.objects.of(workshop)
    found = rows.filter(month=month).first()
    if found is not None:
        return found
    if month >= month_of(today(workshop)):
        raise Refused(f"{month} is not over. A month is closed once its last day is over.", code="month_not_over")
    due = month_due(workshop)
    if month != due:
        raise Refused(
            f"Close {due} first: months are closed in their order.",
            code="not_due",
            facts={"due": due},
        )
    records = records_of(workshop, orders_with_lines(workshop, month, month))
    mine = [(one, line) for one in records for line in one.record.lines if month_of(line.on) == month]
    row = rows.create(
        workshop=workshop,
        month=month,
        left=sum((line.amount for _, line in mine), Decimal(0)),
        orders=sum(one.packed_on is not None and month_of(one.packed_on) == month for one in records),
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
    if timezone.now() - row.closed_at > _A_DAY:
        raise Refused(
            f"{month} was closed more than a day ago and stays closed. What is known since comes in the open month.",
            code="too_late",
        )
    row.delete()
    return row
