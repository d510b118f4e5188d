"""What a price list changes for our own orders: the orders of the last weeks, each with what its postage becomes."""

from datetime import timedelta
from decimal import Decimal

from pydantic import BaseModel

from core.advising.list_change import PostageChange, list_change, postage_change
from core.parcels.plan import PlannedOrder
from server.carriers.models import TariffVersion
from server.carriers.selectors import core_tariffs
from server.plans.facts import settings_of
from server.plans.mapping import plan_of
from server.plans.models import Plan
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["ListEffect", "effect_of"]

#: Orders of so many weeks are looked at, and so many of the newest at the most.
_WEEKS, _MOST_ORDERS = 10, 300
_SHOWN = 10


class Affected(BaseModel):
    """One order and what its postage becomes."""

    order_id: int
    number: str
    buyer: str
    service: str
    before: Decimal
    after: Decimal | None  #: by the same service; None: it does not take the parcel any more
    best: Decimal | None  #: by the service your rules would take then
    best_service: str
    change: Decimal  #: of the same service, or of the best when that one does not take it


class ListEffect(BaseModel):
    """The sum over all orders looked at, and those most affected."""

    orders: int
    parcels: int
    weeks: int
    before: Decimal
    after: Decimal  #: when everything stays with its service
    best: Decimal  #: when the services are chosen again
    dearer: int
    cheaper: int
    refused: int
    most: list[Affected]


def effect_of(workshop: Workshop, row: TariffVersion) -> ListEffect:
    """Return what the version changes against the lists that would hold without it."""
    tariffs, choosing = core_tariffs(workshop), settings_of(workshop).choosing
    without = tuple(t for t in tariffs if (t.carrier, t.version) != (row.carrier, row.version))
    found: list[tuple[Plan, PostageChange]] = []
    for plan in _recent_plans(workshop):
        stored = plan_of(plan.kept)
        if not isinstance(stored, PlannedOrder):
            continue
        change = postage_change(stored, without=without, tariffs=tariffs, choosing=choosing, on=row.valid_from)
        if change is not None:
            found.append((plan, change))
    sums = list_change(change for _, change in found)
    found.sort(key=lambda one: (-abs(one[1].change), one[0].order.number))
    return ListEffect(
        orders=len(found),
        parcels=sum(change.parcels for _, change in found),
        weeks=_WEEKS,
        before=sums.before,
        after=sums.after,
        best=sums.best,
        dearer=sums.dearer,
        cheaper=sums.cheaper,
        refused=sums.refused,
        most=[_affected(plan, change) for plan, change in found if change.change][:_SHOWN],
    )


def _recent_plans(workshop: Workshop) -> list[Plan]:
    since = today(workshop) - timedelta(weeks=_WEEKS)
    rows = Plan.objects.of(workshop).filter(status="planned", order__placed_on__gte=since)
    return list(rows.select_related("order", "kept").order_by("-order__placed_on", "-order_id")[:_MOST_ORDERS])


def _affected(plan: Plan, change: PostageChange) -> Affected:
    return Affected(
        order_id=plan.order_id,
        number=plan.order.number,
        buyer=plan.order.buyer,
        service=" + ".join(change.services),
        before=change.before,
        after=change.after,
        best=change.best,
        best_service=" + ".join(change.best_services),
        change=change.change,
    )
