"""What a price list changes for our own orders: each parcel of the last weeks quoted without this list and with it.

Both on the day it begins to hold, so that another carrier's list of the same day does not count.
"""

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

from pydantic import BaseModel

from core.parcels.candidate import Candidate
from core.parcels.plan import PlannedOrder
from core.tariffs.choosing import allowed_only, choose_quote
from core.tariffs.model import Sending, Tariff
from core.tariffs.quote import Quote, quote_all
from server.carriers.models import TariffVersion
from server.carriers.selectors import core_tariffs
from server.plans.facts import settings_of, today
from server.plans.mapping import plan_from_json
from server.plans.models import Plan
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
    best: Decimal  #: when the services are chosen anew
    dearer: int
    cheaper: int
    refused: int
    most: list[Affected]


def effect_of(workshop: Workshop, row: TariffVersion) -> ListEffect:
    """Return what the version changes against the lists that would hold without it."""
    tariffs, choosing = core_tariffs(workshop), settings_of(workshop).choosing
    since = today(workshop) - timedelta(weeks=_WEEKS)
    plans = (
        Plan.objects.of(workshop)
        .filter(status="planned", order__placed_on__gte=since)
        .select_related("order")
        .order_by("-order__placed_on", "-order_id")[:_MOST_ORDERS]
    )
    rows: list[Affected] = []
    parcels = 0
    for plan in plans:
        stored = plan_from_json(plan.document)
        if not isinstance(stored, PlannedOrder):
            continue
        now = list(_parcels(stored, row, tariffs))
        parcels += len(now)
        if not now:
            continue
        olds = [before for before, _ in now]
        news = [next((q for q in after if q.service == before.service), None) for before, after in now]
        used = [allowed_only(after, choosing, None)[0] for _, after in now]
        bests = [choose_quote(after, choosing, ship_on=row.valid_from) for after in used]
        before = sum((q.price for q in olds), Decimal(0))
        after = _sum(news)
        best = _sum(bests)
        change = (after if after is not None else best if best is not None else before) - before
        rows.append(
            Affected(
                order_id=plan.order_id,
                number=plan.order.number,
                buyer=plan.order.buyer,
                service=" + ".join(dict.fromkeys(q.service_name for q in olds)),
                before=before,
                after=after,
                best=best,
                best_service=" + ".join(dict.fromkeys(q.service_name for q in bests if q)),
                change=change,
            )
        )
    rows.sort(key=lambda one: (-abs(one.change), one.number))
    return ListEffect(
        orders=len(rows),
        parcels=parcels,
        weeks=_WEEKS,
        before=sum((one.before for one in rows), Decimal(0)),
        after=sum((one.before + one.change for one in rows), Decimal(0)),
        best=sum((one.best if one.best is not None else one.before for one in rows), Decimal(0)),
        dearer=sum(1 for one in rows if one.change > 0),
        cheaper=sum(1 for one in rows if one.change < 0),
        refused=sum(1 for one in rows if one.after is None),
        most=[one for one in rows if one.change][:_SHOWN],
    )


def _parcels(
    plan: PlannedOrder, row: TariffVersion, tariffs: tuple[Tariff, ...]
) -> Iterator[tuple[Quote, tuple[Quote, ...]]]:
    """Return for each parcel its service's quote without the version, and all quotes with it."""
    without = tuple(t for t in tariffs if (t.carrier, t.version) != (row.carrier, row.version))
    for one in plan.chosen.candidates:
        if one.sending is None:
            continue
        then = replace(one.sending, ship_on=row.valid_from)
        old = next((q for q in _quotes(one, without, then) if q.service == one.quote.service), None)
        if old is not None:
            yield old, _quotes(one, tariffs, then)


def _quotes(one: Candidate, tariffs: tuple[Tariff, ...], sending: Sending) -> tuple[Quote, ...]:
    return quote_all(tariffs, outer=one.outer_bulged, gross_mg=one.weight.gross_mg, sending=sending)[0]


def _sum(quotes: list[Quote | None]) -> Decimal | None:
    known = [quote.price for quote in quotes if quote is not None]
    return sum(known, Decimal(0)) if len(known) == len(quotes) else None
