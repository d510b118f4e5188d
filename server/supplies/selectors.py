"""Reading the cupboard: on hand, promised, free and average cost of every supply, in one query that does not grow with
the ledger.
"""

from dataclasses import dataclass
from decimal import Decimal

from django.db.models import DecimalField, F, OuterRef, Q, QuerySet, Subquery, Sum, Value
from django.db.models.functions import Coalesce

from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["Stock", "as_stock", "slots_of", "stock_of", "supplies_with_stock"]

_ZERO = Value(Decimal(0), output_field=DecimalField())


@dataclass(frozen=True, slots=True, kw_only=True)
class Stock:
    """How one supply stands."""

    supply: Supply
    on_hand: Decimal
    reserved: Decimal
    average_cost: Decimal

    @property
    def free(self) -> Decimal:
        """On hand less what open orders need."""
        return self.on_hand - self.reserved


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
    return [as_stock(row) for row in supplies_with_stock(workshop, without_order=without_order)]


def as_stock(row: Supply) -> Stock:
    """Return an annotated row as a value."""
    return Stock(supply=row, on_hand=row.on_hand, reserved=row.reserved, average_cost=row.average_cost)  # type: ignore[attr-defined]
