"""What-ifs: a change tried on the orders of a period by the worker, with its way told, cancelled, kept (money)."""

import time
from collections.abc import Callable, Sequence
from datetime import date, datetime, timedelta
from decimal import ROUND_CEILING, Decimal
from typing import Any, Literal

from django.db import transaction
from django.db.models import Q, QuerySet
from django.http import Http404
from django.utils import timezone
from procrastinate.contrib.django import app
from pydantic import BaseModel, TypeAdapter

from core.messages import Text
from core.money.changes import Change, ChargedBy, NewContainer, WithoutContainer, World, applied
from core.money.what_if import (
    Comparison,
    Figures,
    NotSent,
    PeriodOrder,
    Sums,
    Tip,
    TriedOrder,
    compared,
    tipping,
)
from core.units import round_money
from server.api.problems import Refused
from server.buying.reading import settings_of as buying_settings
from server.money.changes import ASKED, WhatIfAsked, core_changes, described
from server.money.models import WhatIf
from server.money.reading import zoning_of
from server.money.side_by_side import tried_side_by_side
from server.orders.models import Order
from server.plans.facts import Loaded, load, place_of, ship_day, ship_days
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "WHAT_IF_TASK", "WhatIfBrief", "WhatIfOut", "begin", "brief_out", "cancel", "forget", "found_what_if", "keep",
    "listed", "run", "take_up_silent", "what_if_out",
]  # fmt: skip

WHAT_IF_TASK = "what_if"
#: The newest orders of the period, at most.
MOST_ORDERS = 3_000
#: A run tells how far it is every so often.
_TELL_SECONDS = 0.5
#: One that gave no sign of life for so long has no worker any more.
SILENT = timedelta(minutes=2)
#: Runs nobody kept: so many of the newest stay.
_UNKEPT = 20
_PLENTY = Decimal(1_000_000)
_ZERO = Decimal(0)


class TriedSums(BaseModel):
    """What the orders sent both before and after come to."""

    materials: Decimal
    labour: Decimal
    postage: Decimal
    expected_loss: Decimal
    total: Decimal
    charged: Decimal
    minutes: Decimal
    days: int


class TriedRow(BaseModel):
    """An order before and after."""

    order_id: int
    number: str
    buyer: str
    goods: str
    before: Decimal
    after: Decimal
    change: Decimal  #: of cost, less what the buyer is charged more
    was: str  #: containers and services
    then: str
    most: str  #: the line that changed most: materials, labour, postage, expected_loss, charged
    most_change: Decimal


class UnsentRow(BaseModel):
    """An order that could not be sent, or could only then."""

    order_id: int
    number: str
    buyer: str
    goods: str
    cost: Decimal  #: the way it can be sent
    reasons: list[Text]


class TipOut(BaseModel):
    """Where the balance tips."""

    kind: Literal["wage_even", "packed_otherwise", "orders_a_month", "flat_fee"]
    at: Decimal
    now: Decimal | None
    keeping: Decimal | None = None  #: orders_a_month: what keeping a kind costs a month
    saves: Decimal | None = None  #: orders_a_month: what each saves


class WhatIfResult(BaseModel):
    """What came out."""

    orders: int
    both: int
    changed: int
    neither: int
    change: Decimal
    before: TriedSums
    after: TriedSums
    by_day: bool  #: days count from the day it was ordered
    spread: list[Decimal]  #: what each changed order costs more, the least first
    most_changed: list[TriedRow]
    refused: list[UnsentRow]
    refused_count: int
    gained: list[UnsentRow]
    gained_count: int
    tip: TipOut | None
    seconds: float


class ChangeSaid(BaseModel):
    """A change as it was asked for, with the names of what it is about."""

    kind: str
    name: str
    number: Decimal | None
    to: str


class WhatIfBrief(BaseModel):
    """One what-if in the list."""

    id: int
    state: str
    name: str
    changes: list[ChangeSaid]
    weeks: int
    done: int
    of: int
    problem: str
    by: str
    at: datetime
    change: Decimal | None
    refused_count: int | None


class WhatIfOut(WhatIfBrief):
    """One what-if."""

    since: date
    until: date
    result: WhatIfResult | None


_RESULT: TypeAdapter[WhatIfResult] = TypeAdapter(WhatIfResult)


def brief_out(row: WhatIf) -> WhatIfBrief:
    """Return a what-if as the list reads it."""
    return WhatIfBrief(**_brief(row))


def what_if_out(row: WhatIf) -> WhatIfOut:
    """Return a what-if as its screen reads it."""
    result = _RESULT.validate_python(row.result) if row.result else None
    until = date.fromisoformat(row.asked["until"])
    since = until - timedelta(weeks=row.asked["weeks"])
    return WhatIfOut(**_brief(row), since=since, until=until, result=result)


def _brief(row: WhatIf) -> dict[str, Any]:
    result = row.result
    return {
        "id": row.pk, "state": row.state, "name": row.name, "changes": row.asked["said"], "weeks": row.asked["weeks"],
        "done": row.done, "of": row.of, "problem": row.problem, "by": row.by, "at": row.at,
        "change": Decimal(result["change"]) if result else None,
        "refused_count": result["refused_count"] if result else None,
    }  # fmt: skip


def listed(workshop: Workshop) -> "QuerySet[WhatIf]":
    """Return the kept ones and the newest others."""
    rows = WhatIf.objects.of(workshop)
    newest = list(rows.filter(name="").values_list("pk", flat=True)[:_UNKEPT])
    return rows.filter(Q(pk__in=newest) | ~Q(name="")).order_by("-id")


def found_what_if(workshop: Workshop, what_if_id: int) -> WhatIf:
    """Return a what-if. Raises Http404."""
    row = WhatIf.objects.of(workshop).filter(pk=what_if_id).first()
    if row is None:
        raise Http404
    return row


@transaction.atomic
def begin(*, by: Member, asked: WhatIfAsked) -> WhatIf:
    """Have a change tried by the worker. Raises Refused: not_valid, under_way while another is."""
    workshop = by.workshop
    lock_workshop(workshop)
    said = [ChangeSaid(**one).model_dump(mode="json") for one in described(asked, workshop)]
    rows = WhatIf.objects.of(workshop)
    if rows.filter(state__in=WhatIf.UNDER_WAY).exists():
        raise Refused("Another change is being tried. Wait for it, or cancel it.", code="under_way")
    old = list(rows.filter(name="").values_list("pk", flat=True)[_UNKEPT - 1 :])
    rows.filter(pk__in=old).delete()
    now = timezone.now()
    row = rows.create(
        workshop=workshop,
        asked={**asked.model_dump(mode="json"), "said": said, "until": today(workshop).isoformat()},
        by=by.name,
        at=now,
        told_at=now,
    )
    _ask(workshop, row)
    return row


def _ask(workshop: Workshop, row: WhatIf) -> None:
    app.configure_task(WHAT_IF_TASK, queue="plans", lock=f"what-if-{workshop.pk}").defer(
        workshop_id=workshop.pk, what_if_id=row.pk
    )


@transaction.atomic
def cancel(*, by: Member, what_if_id: int) -> WhatIf:
    """Try it no further. Raises Http404."""
    row = WhatIf.objects.of(by.workshop).select_for_update().filter(pk=what_if_id).first()
    if row is None:
        raise Http404
    if row.state in WhatIf.UNDER_WAY:
        row.state, row.ended_at = WhatIf.State.CANCELLED, timezone.now()
        row.save(update_fields=["state", "ended_at"])
    return row


@transaction.atomic
def keep(*, by: Member, what_if_id: int, name: str) -> WhatIf:
    """Keep what came out under a name; empty: keep it no longer. Raises Http404, Refused (not_done)."""
    row = WhatIf.objects.of(by.workshop).select_for_update().filter(pk=what_if_id).first()
    if row is None:
        raise Http404
    if row.state != WhatIf.State.DONE:
        raise Refused("Only what was tried to its end can be kept. Run it again.", code="not_done")
    row.name = name
    row.save(update_fields=["name"])
    return row


@transaction.atomic
def forget(*, by: Member, what_if_id: int) -> WhatIf:
    """Delete a what-if. Raises Http404, Refused (under_way)."""
    row = WhatIf.objects.of(by.workshop).select_for_update().filter(pk=what_if_id).first()
    if row is None:
        raise Http404
    if row.state in WhatIf.UNDER_WAY:
        raise Refused("It is being tried. Cancel it first.", code="under_way")
    row.delete()
    row.pk = what_if_id
    return row


def take_up_silent() -> int:
    """End runs whose worker is gone and that no job works on; returns how many. For the worker, once a minute."""
    silent = timezone.now() - SILENT
    return sum(
        WhatIf.objects.of(workshop)
        .filter(state=WhatIf.State.RUNNING, told_at__lt=silent)
        .update(
            state=WhatIf.State.FAILED, ended_at=timezone.now(),
            problem="It broke off: its worker stopped. Nothing was changed. Run it again.",
        )
        for workshop in Workshop.objects.order_by("pk")
    )  # fmt: skip


def run(workshop: Workshop, what_if_id: int) -> bool:
    """Try a change. Returns whether it was done; not when it was cancelled. For the worker."""
    rows = WhatIf.objects.of(workshop).filter(pk=what_if_id)
    alive = rows.filter(state__in=WhatIf.UNDER_WAY)
    if not alive.update(state=WhatIf.State.RUNNING, done=0, told_at=timezone.now()):
        return False
    row = rows.get()
    begun = time.perf_counter()
    asked = ASKED.validate_python({"changes": row.asked["changes"], "weeks": row.asked["weeks"]})
    found, orders, world = _period(workshop, asked.weeks, date.fromisoformat(row.asked["until"]))
    rows.update(of=len(orders))
    changes = core_changes(asked, workshop, world.facts)
    worlds = applied(world, changes)
    told = time.perf_counter()

    def still(done: int) -> bool:
        nonlocal told
        if time.perf_counter() - told < _TELL_SECONDS and done < len(orders):
            return True
        told = time.perf_counter()
        return bool(alive.update(done=done, told_at=timezone.now()))

    done = tried_side_by_side(orders, *worlds, changes, still)
    if done is None:
        return False
    result = compared(done)
    tip = _tip(workshop, result, worlds, changes, asked.weeks, lambda: still(len(done)))
    document = _result(workshop, result, found, tip, by_day=worlds[1].by_weekday, seconds=time.perf_counter() - begun)
    return bool(
        alive.update(
            state=WhatIf.State.DONE, result=document.model_dump(mode="json"), done=len(done), ended_at=timezone.now()
        )
    )


def _period(workshop: Workshop, weeks: int, until: date) -> tuple[dict[str, Order], list[PeriodOrder], World]:
    """Return the orders placed in the weeks, and the world as it is now, with plenty of everything on the shelf."""
    since = until - timedelta(weeks=weeks)
    rows = Order.objects.of(workshop).filter(placed_on__gt=since, placed_on__lte=until, joined_into=None)
    found = list(rows.exclude(state=Order.State.CANCELLED).order_by("-placed_on", "-id")[:MOST_ORDERS])
    loaded = load(workshop, found)
    loaded.picked.clear()  # a trial picks versions for orders to come
    zoning = zoning_of(workshop)
    orders = [_order(order, loaded, zoning.zone(order)) for order in found]
    facts = loaded.with_free(dict.fromkeys(loaded.facts.free, _PLENTY))
    world = World(facts=facts, ship_on=ship_day(workshop), send_days=ship_days(workshop))
    known = [one for one in orders if one is not None]
    return {str(order.pk): order for order in found}, known, world


def _order(order: Order, loaded: Loaded, zone: str) -> PeriodOrder | None:
    lines = loaded.lines_of(order)
    if not lines or any(line.product is None or line.recipe is None for line in lines):
        return None
    return PeriodOrder(
        key=str(order.pk),
        lines=lines,
        destination=place_of(order),
        occasion=loaded.occasion_of(order),
        placed_on=order.placed_on,
        charged=order.postage_charged,
        value=order.goods_value,
        zone=zone,
        units=sum(line.quantity for line in lines),
    )


def _tip(
    workshop: Workshop,
    found: Comparison,
    worlds: tuple[World, World],
    changes: Sequence[Change],
    weeks: int,
    still: Callable[[], bool],
) -> TipOut | None:
    if len(changes) == 1 and isinstance(changes[0], WithoutContainer | NewContainer):
        return _orders_a_month(workshop, found, changes[0], weeks)
    if len(changes) == 1 and isinstance(changes[0], ChargedBy):
        return _flat_fee(workshop, found)
    tip: Tip | None = tipping(found, worlds, changes, still)
    return TipOut(kind=tip.kind, at=tip.at, now=tip.now) if tip is not None else None


def _flat_fee(workshop: Workshop, found: Comparison) -> TipOut | None:
    """Return the one fee for all that covers the postage of the orders that are sent."""
    if not found.both:
        return None
    cent = Decimal(1).scaleb(-workshop.money_digits)
    even = (found.before.postage / found.both).quantize(cent, rounding=ROUND_CEILING)
    charged = round_money(found.before.charged / found.both, workshop.money_digits)
    return TipOut(kind="flat_fee", at=even, now=charged)


def _orders_a_month(
    workshop: Workshop, found: Comparison, change: WithoutContainer | NewContainer, weeks: int
) -> TipOut | None:
    """Return from how many orders a month a kind of carton pays for its keeping: each saves so much against without."""
    code = change.code if isinstance(change, WithoutContainer) else change.container.code
    sign = 1 if isinstance(change, WithoutContainer) else -1
    using = [
        one
        for one in found.orders
        for side in (one.before if sign == 1 else one.after,)
        if isinstance(side, Figures) and code in side.containers and not isinstance(one.after, NotSent)
    ]
    saved = sum((sign * one.change for one in using), _ZERO)
    if not using or saved <= 0:
        return None
    each = saved / len(using)
    keeping = Decimal(buying_settings(workshop).keeping_a_kind) / 12
    a_month = Decimal(len(using)) / Decimal(weeks) * Decimal(52) / 12
    at = (keeping / each).to_integral_value(rounding=ROUND_CEILING)
    return TipOut(
        kind="orders_a_month", at=at, now=round(a_month, 1), keeping=round_money(keeping, workshop.money_digits),
        saves=round_money(each, workshop.money_digits),
    )  # fmt: skip


def _result(
    workshop: Workshop, found: Comparison, orders: dict[str, Order], tip: TipOut | None, *, by_day: bool, seconds: float
) -> WhatIfResult:
    return WhatIfResult(
        orders=len(found.orders),
        both=found.both,
        changed=found.changed,
        neither=found.neither,
        change=found.change,
        before=_sums(found.before),
        after=_sums(found.after),
        by_day=by_day,
        spread=sorted(one.change for one in found.orders if one.change),
        most_changed=[_row(one, orders[one.order.key]) for one in found.most_changed],
        refused=[_unsent(one, orders[one.order.key]) for one in found.refused[:50]],
        refused_count=len(found.refused),
        gained=[_unsent(one, orders[one.order.key]) for one in found.gained[:50]],
        gained_count=len(found.gained),
        tip=tip,
        seconds=round(seconds, 2),
    )


def _sums(one: Sums) -> TriedSums:
    return TriedSums(
        materials=one.materials, labour=one.labour, postage=one.postage, expected_loss=one.expected_loss,
        total=one.total, charged=one.charged, minutes=one.minutes, days=one.days,
    )  # fmt: skip


def _goods(one: PeriodOrder) -> str:
    return ", ".join(f"{line.quantity} {line.product.name if line.product else line.sku}" for line in one.lines)


def _way(one: Figures) -> str:
    return f"{' + '.join(one.containers)}, {' + '.join(one.services)}"


def _row(one: TriedOrder, order: Order) -> TriedRow:
    before, after = one.before, one.after
    if isinstance(before, NotSent) or isinstance(after, NotSent):  # pragma: no cover - only those sent both ways
        raise TypeError(order.number)
    lines = {
        "materials": after.materials - before.materials,
        "labour": after.labour - before.labour,
        "postage": after.postage - before.postage,
        "expected_loss": after.expected_loss - before.expected_loss,
        "charged": before.charged - after.charged,
    }
    most = max(lines, key=lambda name: (abs(lines[name]), name))
    return TriedRow(
        order_id=order.pk, number=order.number, buyer=order.buyer, goods=_goods(one.order), before=before.total,
        after=after.total, change=one.change, was=_way(before), then=_way(after), most=most, most_change=lines[most],
    )  # fmt: skip


def _unsent(one: TriedOrder, order: Order) -> UnsentRow:
    sent = one.before if isinstance(one.before, Figures) else one.after
    unsent = one.after if isinstance(one.after, NotSent) else one.before
    return UnsentRow(
        order_id=order.pk, number=order.number, buyer=order.buyer, goods=_goods(one.order),
        cost=sent.total if isinstance(sent, Figures) else _ZERO,
        reasons=list(unsent.reasons) if isinstance(unsent, NotSent) else [],
    )  # fmt: skip
