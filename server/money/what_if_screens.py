"""What-ifs as their screen, list and files read them (money)."""

from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

from pydantic import BaseModel, TypeAdapter

from core.messages import Message, Text, say
from core.money.tipping import Tip
from core.money.what_if import Comparison, Figures, NotSent, PeriodOrder, Sums, TriedOrder
from server.money.models import WhatIf
from server.orders.models import Order
from server.plans.mapping import texts_from_json

__all__ = ["WhatIfBrief", "WhatIfOut", "WhatIfResult", "brief_out", "result_of", "what_if_out"]

_SHOWN_UNSENT = 50


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
    reasons: tuple[Text, ...]


class WhatIfResult(BaseModel):
    """What came out."""

    orders: int
    both: int
    changed: int
    neither: int
    change: Decimal
    before: Sums
    after: Sums
    by_day: bool  #: days count from the day it was ordered
    spread: list[Decimal]  #: what each changed order costs more, the least first
    most_changed: list[TriedRow]
    refused: list[UnsentRow]
    refused_count: int
    gained: list[UnsentRow]
    gained_count: int
    tip: Tip | None
    seconds: float

    @property
    def tip_words(self) -> tuple[Message, Message] | None:
        """Return where it tips in words, and a line that says why it matters; None where it does not."""
        tip = self.tip
        if tip is None:
            return None
        if tip.kind == "wage_even":
            return say("tip_wage_even", at_money=tip.at), say("tip_wage_even_why", now_money=tip.now)
        if tip.kind == "flat_fee":
            return say("tip_flat_fee", at_money=tip.at), say("tip_flat_fee_why", now_money=tip.now)
        if tip.kind == "orders_a_month":
            saves, keeping = tip.saves or Decimal(0), tip.keeping or Decimal(0)
            why = say("tip_orders_a_month_why", saves_money=saves, keeping_money=keeping, now_number=tip.now)
            return say("tip_orders_a_month", at=int(tip.at)), why
        if tip.percent:
            return (
                say("tip_minutes_otherwise", at_percent=tip.at),
                say("tip_minutes_otherwise_why", now_percent=tip.now),
            )
        return say("tip_packed_otherwise", at_money=tip.at), say("tip_packed_otherwise_why", now_money=tip.now)


class WhatIfBrief(BaseModel):
    """One what-if in the list."""

    id: int
    state: str
    name: str
    changes: tuple[Text, ...]  #: to stand after "if"
    weeks: int
    done: int
    of: int
    problem: str
    by: str
    at: datetime


class WhatIfOut(WhatIfBrief):
    """One what-if."""

    since: date
    until: date
    result: WhatIfResult | None
    tip: tuple[Text, Text] | None  #: where it tips, and why that matters


_RESULT: TypeAdapter[WhatIfResult] = TypeAdapter(WhatIfResult)


def brief_out(row: WhatIf) -> WhatIfBrief:
    """Return a what-if as the list reads it."""
    return WhatIfBrief(**_brief(row))


def what_if_out(row: WhatIf) -> WhatIfOut:
    """Return a what-if as its screen reads it."""
    until = date.fromisoformat(row.asked["until"])
    result = _RESULT.validate_python(row.result) if row.result else None
    return WhatIfOut(
        **_brief(row),
        since=until - timedelta(weeks=row.asked["weeks"]),
        until=until,
        result=result,
        tip=result.tip_words if result is not None else None,
    )


def _brief(row: WhatIf) -> dict[str, Any]:
    return {
        "id": row.pk,
        "state": row.state,
        "name": row.name,
        "changes": texts_from_json(row.asked["said"]),
        "weeks": row.asked["weeks"],
        "done": row.done,
        "of": row.of,
        "problem": row.problem,
        "by": row.by,
        "at": row.at,
    }


def result_of(
    found: Comparison, orders: dict[str, Order], tip: Tip | None, *, by_day: bool, seconds: float
) -> WhatIfResult:
    """Return what came out, as it is kept."""
    return WhatIfResult(
        orders=len(found.orders),
        both=found.both,
        changed=found.changed,
        neither=found.neither,
        change=found.change,
        before=found.before,
        after=found.after,
        by_day=by_day,
        spread=sorted(one.change for one in found.orders if one.change),
        most_changed=[_row(one, orders[one.order.key]) for one in found.most_changed],
        refused=[_unsent(one, orders[one.order.key]) for one in found.refused[:_SHOWN_UNSENT]],
        refused_count=len(found.refused),
        gained=[_unsent(one, orders[one.order.key]) for one in found.gained[:_SHOWN_UNSENT]],
        gained_count=len(found.gained),
        tip=tip,
        seconds=round(seconds, 2),
    )


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
    sides = (one.before, one.after)
    return UnsentRow(
        order_id=order.pk,
        number=order.number,
        buyer=order.buyer,
        goods=_goods(one.order),
        cost=next(side.total for side in sides if isinstance(side, Figures)),
        reasons=next(side.reasons for side in sides if isinstance(side, NotSent)),
    )
