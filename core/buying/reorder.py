"""When to order a supply again: safety stock, reorder point, the day to order by (buying; rules 14.3)."""

from dataclasses import dataclass
from datetime import date
from decimal import ROUND_CEILING, Decimal

from core.buying.workdays import WorkDays

__all__ = ["Reorder", "reorder", "reorder_point", "safety_stock"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Reorder:
    """What it takes to be served in time, in stock units and working days."""

    safety: Decimal
    point: Decimal
    safety_days: int
    order_by: date | None  #: None: it does not run out within the days looked at


def safety_stock(*, z: Decimal, sd: Decimal, lead_days: int) -> Decimal:
    """Return the stock that keeps a bad week away: z x sd x the root of the lead time.

    >>> safety_stock(z=Decimal("1.645"), sd=Decimal("3.1"), lead_days=7).quantize(Decimal("0.1"))
    Decimal('13.5')
    """
    return z * sd * Decimal(lead_days).sqrt()


def reorder_point(*, mean: Decimal, lead_days: int, safety: Decimal) -> Decimal:
    """Return the stock at which to order: what the lead time uses, and the safety stock."""
    return mean * lead_days + safety


def reorder(
    runs_out: date | None, *, mean: Decimal, sd: Decimal, lead_days: int, z: Decimal, calendar: WorkDays
) -> Reorder:
    """Return when to order. ``mean`` and ``sd``: of a working day; the lead time is in working days."""
    safety = safety_stock(z=z, sd=sd, lead_days=lead_days)
    days = int((safety / mean).to_integral_value(ROUND_CEILING)) if mean > 0 else 0
    return Reorder(
        safety=safety,
        point=reorder_point(mean=mean, lead_days=lead_days, safety=safety),
        safety_days=days,
        order_by=calendar.add(runs_out, -(lead_days + days)) if runs_out is not None else None,
    )
