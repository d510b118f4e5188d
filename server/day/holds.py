"""Orders that are set aside, as a list to work through: why, what to do next, what was answered, when to look (day)."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any, Literal

from django.db import transaction
from django.db.models import F, QuerySet
from django.utils import timezone
from pydantic import BaseModel

from core.messages import Text
from server.api.problems import Refused
from server.day.models import HoldNote
from server.orders.changes import HOLD
from server.orders.intake import RiskAction
from server.orders.models import Order
from server.orders.screens import orders_out
from server.supplies.arriving import OnTheWay, codes_in, on_the_way
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["HoldKind", "HoldOut", "held_orders", "holds_out", "kind_of", "set_risk_actions", "write_note"]

#: Why an order is set aside; each has its next step.
HoldKind = Literal[
    "unpaid", "risk", "refused", "question", "change", "stock", "recipe", "measure", "product", "service", "until",
    "by_hand", "plan", "weather",
]  # fmt: skip
_BY_HOLD: dict[str, HoldKind] = {
    "not_paid": "unpaid",
    "risk": "risk",
    "refused": "refused",
    "note": "question",
    HOLD: "change",
    "by_hand": "by_hand",
}
#: What a plan lacks, by the code of its message.
_BY_MISSING: dict[str, HoldKind] = {
    "unknown_product": "product",
    "no_size": "measure",
    "no_weight": "measure",
    "no_recipe": "recipe",
    "no_band": "recipe",
    "trial_needed": "recipe",
    "unknown_supply": "recipe",
    "too_little": "stock",
    "none_no_stock": "stock",
    "none_no_service": "service",
}


class HoldArrivalOut(BaseModel):
    """What the order waits for is on its way."""

    code: str
    name: str
    day: date
    quantity: Decimal


class HoldOut(BaseModel):
    """One order that is set aside."""

    order_id: int
    number: str
    channel: str
    buyer: str
    placed_on: date
    kind: HoldKind
    reason: Text
    note: str  #: the buyer's own words
    paid: bool
    answer: str
    answered_by: str
    look_again: date | None
    arriving: list[HoldArrivalOut]  #: of what it lacks; it is planned again when that is received
    revision: int


def held_orders(workshop: Workshop) -> "QuerySet[Order]":
    """Return the orders that are set aside: those to be looked at first, then the oldest."""
    return (
        Order.objects.of(workshop)
        .filter(state=Order.State.HELD)
        .select_related("plan", "joined_into", "hold_note")
        .defer("plan__care")
        .prefetch_related("parcels", "joined", "joined_into__parcels")
        .order_by(F("hold_note__look_again").asc(nulls_first=True), "placed_on", "id")
    )


def kind_of(order: Order) -> HoldKind:
    """Return why an order is set aside: a person's or the intake's hold first, then what its plan lacks."""
    if order.hold_code:
        return _BY_HOLD.get(order.hold_code, "by_hand")
    plan = getattr(order, "plan", None)
    if plan is not None and plan.care_state == "danger":
        return "weather"
    if plan is not None and plan.status == "planned":
        return "until"
    codes = [code for message in (plan.missing if plan is not None else ()) for code in _codes(message)]
    return next((_BY_MISSING[code] for code in codes if code in _BY_MISSING), "plan")


def _codes(message: Any) -> list[str]:
    """Return the codes of a message as it is written down, and of those it is made of, outer ones first."""
    if isinstance(message, dict):
        inner = [code for value in message.values() for code in _codes(value)]
        return [str(message["code"]), *inner] if "code" in message else inner
    return [code for one in message for code in _codes(one)] if isinstance(message, list) else []


def holds_out(workshop: Workshop, page: list[Any]) -> list[HoldOut]:
    """Return orders of ``held_orders`` for the screen."""
    found = []
    coming = on_the_way(workshop)
    for order, out in zip(page, orders_out(workshop, page), strict=True):
        note: HoldNote | None = getattr(order, "hold_note", None)
        found.append(
            HoldOut(
                order_id=order.pk,
                number=order.number,
                channel=order.channel,
                buyer=order.buyer,
                placed_on=order.placed_on,
                kind=kind_of(order),
                reason=out.reason,
                note=order.note,
                paid=order.paid,
                answer=note.answer if note else "",
                answered_by=note.by if note else "",
                look_again=note.look_again if note else None,
                arriving=_arriving(order, coming),
                revision=order.revision,
            )
        )
    return found


def _arriving(order: Order, coming: Mapping[str, OnTheWay]) -> list[HoldArrivalOut]:
    plan = getattr(order, "plan", None)
    if order.hold_code or plan is None or plan.status == "planned":
        return []
    return [
        HoldArrivalOut(code=code, name=coming[code].name, day=coming[code].day, quantity=coming[code].quantity)
        for code in codes_in(plan.missing, coming)
    ]


@transaction.atomic
def write_note(*, by: Member, order_id: int, answer: str, look_again: date | None) -> HoldNote:
    """Write down an answer and when to look again; it stays with the order when that is released.

    Raises Refused (404).
    """
    lock_workshop(by.workshop)
    order = Order.objects.of(by.workshop).filter(pk=order_id).first()
    if order is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    note, _ = HoldNote.objects.of(by.workshop).update_or_create(
        order=order,
        defaults={
            "workshop": by.workshop,
            "answer": answer.strip(),
            "look_again": look_again,
            "by": by.name,
            "at": timezone.now(),
        },
    )
    return note


@transaction.atomic
def set_risk_actions(*, by: Member, actions: dict[str, RiskAction]) -> None:
    """Say what is done with orders whose payment is at risk; it holds for orders that come in from now on."""
    lock_workshop(by.workshop)
    Workshop.objects.filter(pk=by.workshop.pk).update(risk_actions=actions)
    by.workshop.risk_actions = actions
