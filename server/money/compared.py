"""New orders beside our policy: those whose buyers were charged otherwise (money)."""

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

from pydantic import BaseModel

from core.money.policies import Charge, SentOrder, charge_of
from server.money.charges import as_sent
from server.money.models import ChargePolicy
from server.money.policies import core_policy, ours_on
from server.money.reading import records_of
from server.money.zoning import zoning_of
from server.orders.models import Order
from server.plans.models import PlanPart
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["ComparedOut", "compared"]

#: So many of the newest orders are looked at.
_NEWEST = 300


class ChargeRow(BaseModel):
    """An order beside what our policy says."""

    order_id: int
    number: str
    buyer: str
    placed_on: date
    charged: Decimal
    policy: Decimal | None  #: None: it has no charge for such an order
    paid: Decimal  #: postage, or what it is planned to be
    planned: bool


class ComparedOut(BaseModel):
    """New orders beside our policy."""

    name: str  #: empty: none is ours yet
    since: date | None
    looked_at: int
    rows: list[ChargeRow]  #: those that were charged otherwise


def compared(workshop: Workshop) -> ComparedOut:
    """Return the newest orders, placed since a policy is ours, that were charged otherwise than it says."""
    rows = list(ChargePolicy.objects.of(workshop).exclude(ours_from=None).select_related("workshop"))
    now = ours_on(rows, today(workshop))
    if now is None:
        return ComparedOut(name="", since=None, looked_at=0, rows=[])
    policies = {row.pk: core_policy(row) for row in rows}
    begins = min(row.ours_from for row in rows if row.ours_from is not None)
    placed = Order.objects.of(workshop).filter(placed_on__gte=begins, joined_into=None)
    orders = list(placed.exclude(state=Order.State.CANCELLED).order_by("-placed_on", "-id")[:_NEWEST])
    packed = [order for order in orders if order.state == Order.State.PACKED]
    sent = {one.order.pk: as_sent(one) for one in records_of(workshop, packed)}
    planned = _planned(workshop, [order for order in orders if order.pk not in sent])
    found, looked_at = [], 0
    for order in orders:
        policy, one = ours_on(rows, order.placed_on), sent.get(order.pk) or planned.get(order.pk)
        if policy is None or one is None or one.picked_up:
            continue
        looked_at += 1
        charge = charge_of(policies[policy.pk], one)
        amount = charge.amount if isinstance(charge, Charge) else None
        if amount != order.postage_charged:
            found.append(
                ChargeRow(
                    order_id=order.pk, number=order.number, buyer=order.buyer, placed_on=order.placed_on,
                    charged=order.postage_charged, policy=amount, paid=one.paid, planned=order.pk in planned,
                )
            )  # fmt: skip
    return ComparedOut(name=now.name, since=begins, looked_at=looked_at, rows=found)


def _planned(workshop: Workshop, orders: Sequence[Order]) -> dict[int, SentOrder]:
    """Return orders that are planned as if they had been sent so."""
    zoning = zoning_of(workshop)
    by_id = {order.pk: order for order in orders}
    parts: dict[int, list[PlanPart]] = {}
    for part in PlanPart.objects.of(workshop).filter(plan__order_id__in=by_id).select_related("plan"):
        parts.setdefault(part.plan.order_id, []).append(part)
    return {
        order_id: SentOrder(
            key=str(order_id),
            value=by_id[order_id].goods_value,
            weight_mg=max(sum(part.gross_mg for part in mine), 1),
            zone=zoning.zone_of_order(by_id[order_id]),
            units=max(sum(sum(part.goods.values()) for part in mine), 1),
            paid=sum((part.price for part in mine), Decimal(0)),
        )
        for order_id, mine in parts.items()
    }
