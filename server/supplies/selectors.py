"""Reading the cupboard: on hand, promised, free and average cost of every supply, in one query that does not grow with
the ledger.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django.db.models import DecimalField, F, OuterRef, Q, QuerySet, Subquery, Sum, Value
from django.db.models.functions import Coalesce

from core.supplies.expiry import Batch, Dated, dated
from server.supplies.models import Entry, Supply
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["Stock", "as_stocks", "dated_of", "slots_of", "stock_of", "supplies_with_stock"]

_ZERO = Value(Decimal(0), output_field=DecimalField())


@dataclass(frozen=True, slots=True, kw_only=True)
class Stock:
    """How one supply stands."""

    supply: Supply
    on_hand: Decimal
    reserved: Decimal
    average_cost: Decimal
    expired: Decimal = Decimal(0)  #: of what is on hand: it counts as none

    @property
    def free(self) -> Decimal:
        """On hand less what open orders need, and less what is past its day."""
        return self.on_hand - self.reserved - self.expired


def supplies_with_stock(workshop: Workshop, *, without_order: int | None = None) -> QuerySet[Supply]:
    """Return the workshop's supplies with ``on_hand``, ``reserved`` and ``average_cost`` annotated.

    ``without_order`` leaves one order's own promise out, for planning it again.
    """
    # What plans promise points at its supply; this room reads it from its own side, and knows no plans.
    own = Supply.objects.of(workshop).filter(pk=OuterRef("pk"))
    counted = Q() if without_order is None else ~Q(promised__plan__order_id=without_order)
    reserved = own.order_by().values("pk").annotate(total=Sum("promised__quantity", filter=counted)).values("total")
    return (
        Supply.objects.of(workshop)
        .annotate(
            on_hand=Coalesce(F("balance__on_hand"), _ZERO),
            reserved=Coalesce(Subquery(reserved), _ZERO),
            average_cost=Coalesce(F("balance__average_cost"), _ZERO),
        )
        .annotate(free=F("on_hand") - F("reserved"))
    )


def slots_of(workshop: Workshop) -> QuerySet[Supply]:
    """Return the supplies that have a slot: a retired one and a reclaimed carton that went out have none any more."""
    one_off_and_gone = Q(facts__one_off=True) & Q(on_hand__lte=0)
    return supplies_with_stock(workshop).filter(~one_off_and_gone, retired_at=None)


def stock_of(workshop: Workshop, *, without_order: int | None = None) -> list[Stock]:
    """Return how every supply stands."""
    return as_stocks(workshop, supplies_with_stock(workshop, without_order=without_order))


def as_stocks(workshop: Workshop, rows: Iterable[Any]) -> list[Stock]:
    """Return annotated rows as values."""
    found = list(rows)
    expiring = dated_of(workshop, found)
    return [
        Stock(
            supply=row,
            on_hand=row.on_hand,
            reserved=row.reserved,
            average_cost=row.average_cost,
            expired=expiring[row.pk].expired if row.pk in expiring else Decimal(0),
        )
        for row in found
    ]


def dated_of(workshop: Workshop, rows: Iterable[Any]) -> dict[int, Dated]:
    """Return what of supplies is expired or will be, by id; only of those that were ever received with a day.

    ``rows`` have ``on_hand`` annotated. Of each the newest that came in are read, as many as may still be there.
    """
    on_hand = {row.pk: row.on_hand for row in rows}
    ids = set(Entry.objects.of(workshop).filter(good_until__isnull=False).values_list("supply_id", flat=True))
    ids &= on_hand.keys()
    if not ids:
        return {}
    came = Entry.objects.of(workshop).filter(supply_id__in=ids, quantity__gt=0).exclude(kind="corrected")
    batches: dict[int, list[Batch]] = {}
    for supply_id, quantity, day in came.order_by("-id").values_list("supply_id", "quantity", "good_until"):
        batches.setdefault(supply_id, []).append(Batch(quantity=quantity, good_until=day))
    day = today(workshop)
    return {pk: dated(on_hand[pk], batches.get(pk, ()), today=day) for pk in ids}
