"""Whether closed parcels drew from the shelf just what their plans say: reads the plans, so it takes a while."""

from collections.abc import Iterator
from datetime import timedelta
from decimal import Decimal

from django.db.models import Sum
from django.utils import timezone

from server.bench.models import Parcel
from server.bench.services import expected_uses
from server.supplies.models import Entry
from server.workshops.models import Workshop

__all__ = ["wrong_uses"]

_AT_ONCE = 200


def wrong_uses(workshop: Workshop, *, days: int | None) -> Iterator[str]:
    """Yield the closed parcels of so many days (None: all) whose ledger entries are not what their plan uses."""
    rows = Parcel.objects.of(workshop).filter(state=Parcel.State.CLOSED).select_related("kept", "order", "ready")
    if days is not None:
        rows = rows.filter(closed_at__gte=timezone.now() - timedelta(days=days))
    page: list[Parcel] = []
    for parcel in rows.order_by("id").iterator(chunk_size=_AT_ONCE):
        page.append(parcel)
        if len(page) == _AT_ONCE:
            yield from _wrong(workshop, page)
            page = []
    yield from _wrong(workshop, page)


def _wrong(workshop: Workshop, parcels: list[Parcel]) -> Iterator[str]:
    drawn: dict[int, dict[str, Decimal]] = {}
    entries = Entry.objects.of(workshop).filter(parcel__in=parcels, kind__in=("used", "corrected")).order_by()
    for parcel_id, code, total in entries.values_list("parcel_id", "supply__code").annotate(total=Sum("quantity")):
        drawn.setdefault(parcel_id, {})[code] = -total
    for parcel in parcels:
        expected, actual = expected_uses(parcel), drawn.get(parcel.pk, {})
        for code in sorted(expected.keys() | actual.keys()):
            if expected.get(code, 0) != actual.get(code, 0):
                yield (
                    f"{workshop.code}: order {parcel.order.number} drew {actual.get(code, 0)} of {code}; "
                    f"its plan uses {expected.get(code, 0)}"
                )
