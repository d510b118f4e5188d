"""Which months there are, which is closed next, and which orders have lines in some (money)."""

from collections import Counter
from collections.abc import Callable
from datetime import date, datetime, time
from zoneinfo import ZoneInfo

from django.db.models import Max, Q, Sum

from core.money.months import first_day_of, month_beside, month_of
from server.bench.models import Parcel
from server.carriers.models import Label
from server.money.models import ClosedMonth, KeptLine
from server.money.reading import PAID_LABELS
from server.orders.models import Order
from server.outcomes.models import Arrival, Claim
from server.supplies.models import Entry
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["first_month", "month_due", "orders_packed", "orders_with_lines"]


def first_month(workshop: Workshop) -> str:
    """Return the month the first parcel was packed in; this month where none was."""
    rows = Parcel.objects.of(workshop).filter(state=Parcel.State.CLOSED).order_by("closed_at")
    first = rows.values_list("closed_at", flat=True).first()
    return month_of(first.astimezone(ZoneInfo(workshop.time_zone)).date() if first is not None else today(workshop))


def month_due(workshop: Workshop) -> str:
    """Return the month that is closed next, over or not: that after the last closed one, else the first of all."""
    last = _last_closed(workshop)
    return month_beside(last.month, 1) if last is not None else first_month(workshop)


def orders_packed(workshop: Workshop, first: str, last: str) -> dict[str, int]:
    """Return how many orders were packed in each of these months: an order counts where its last parcel was closed."""
    zone = ZoneInfo(workshop.time_zone)
    begins = datetime.combine(first_day_of(first), time(0), tzinfo=zone)
    rows = Parcel.objects.of(workshop).filter(state=Parcel.State.CLOSED, order__state=Order.State.PACKED)
    ended = rows.filter(closed_at__gte=begins).order_by().values("order_id").annotate(at=Max("closed_at"))
    counted = Counter(month_of(at.astimezone(zone).date()) for at in ended.values_list("at", flat=True))
    return {month: count for month, count in counted.items() if month <= last}


def orders_with_lines(workshop: Workshop, first: str, last: str) -> list[Order]:
    """Return every order that has a line in these months: packed in them, or with something that came in later."""
    begins, beyond = first_day_of(first), first_day_of(month_beside(last, 1))
    at = _between(workshop, begins, beyond)
    ids: set[int | None] = set()
    packed = Parcel.objects.of(workshop).filter(state=Parcel.State.CLOSED, **at("closed_at"))
    ids |= set(packed.order_by().values_list("order_id", flat=True))
    labels = Label.objects.of(workshop).filter(state__in=PAID_LABELS, parcel__isnull=False).order_by()
    charged = Q(charged_more__gt=0, **at("charged_at"))
    ids |= set(labels.filter(Q(**at("bought_at")) | charged).values_list("parcel__order_id", flat=True))
    entries = Entry.objects.of(workshop).filter(parcel__isnull=False, **at("at")).order_by()
    ids |= set(entries.values_list("parcel__order_id", flat=True).distinct())
    answered = Arrival.objects.of(workshop).filter(**at("answered_at")).order_by()
    ids |= set(answered.values_list("parcel__order_id", flat=True))
    claims = Claim.objects.of(workshop).filter(settled_on__gte=begins, settled_on__lt=beyond, paid__isnull=False)
    ids |= set(claims.order_by().values_list("arrival__parcel__order_id", flat=True))
    kept = KeptLine.objects.of(workshop).filter(closed__month__gte=first, closed__month__lte=last).order_by()
    ids |= set(kept.values_list("order_id", flat=True).distinct())
    if first <= month_due(workshop) <= last:  # what puts closed months right is a line of the first open one
        ids |= _corrected(workshop)
    return list(
        Order.objects.of(workshop).filter(pk__in=[one for one in ids if one is not None]).order_by("placed_on", "id")
    )


def _last_closed(workshop: Workshop) -> ClosedMonth | None:
    return ClosedMonth.objects.of(workshop).order_by("-month").first()


def _between(workshop: Workshop, begins: date, beyond: date) -> Callable[[str], dict[str, datetime]]:
    """Return conditions on a column of moments: from one day to before another, on the workshop's clock."""
    zone = ZoneInfo(workshop.time_zone)
    low, high = (datetime.combine(day, time(0), tzinfo=zone) for day in (begins, beyond))
    return lambda column: {f"{column}__gte": low, f"{column}__lt": high}


def _corrected(workshop: Workshop) -> set[int | None]:
    """Return orders of closed months of which something else is known since: it arrived, or a label was given back."""
    last = _last_closed(workshop)
    if last is None:
        return set()
    kept = KeptLine.objects.of(workshop).order_by().values("order_id")
    expected = kept.filter(kind="expected_loss").annotate(total=Sum("amount")).exclude(total=0)
    came = Arrival.objects.of(workshop).exclude(outcome="unknown").order_by()
    known = came.filter(parcel__order_id__in=expected.values("order_id"))
    unanswered = Arrival.objects.of(workshop).filter(outcome="unknown", revision__gt=0, parcel__order_id__in=kept)
    given_back = Label.objects.of(workshop).filter(
        state=Label.State.VOID, void_at__gte=last.closed_at, parcel__order_id__in=kept
    )
    return {
        order_id
        for rows in (known, unanswered.order_by(), given_back.order_by())
        for order_id in rows.values_list("parcel__order_id", flat=True)
    }
