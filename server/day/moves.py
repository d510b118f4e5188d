"""Moving an order to another hand-over or day: what each would cost and do, quoted again; and doing it (day)."""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from core.day.hand_overs import HandOver, due_at
from core.day.today import moved
from core.parcels.candidate import RULE_LIMITS, PlannedParcel
from core.parcels.plan import PlannedOrder
from core.tariffs.model import Tariff
from core.tariffs.quote import Quote, quote_all
from server.api.problems import Refused
from server.carriers.selectors import core_tariffs
from server.day.models import ChosenHandOver
from server.day.selectors import DayRead, key_of, read_day
from server.day.times import clock_of
from server.orders.models import Order
from server.plans.mapping import plan_of
from server.plans.models import Plan
from server.plans.services import fresh_plan, set_decisions
from server.plans.writing import overrides_of
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["MoveOffer", "move", "moves_of", "named"]

#: Hand-overs are offered so many days ahead.
_OFFERED_DAYS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveOffer:
    """One hand-over an order could go with, by one service."""

    hand_over: HandOver
    carrier: str
    carrier_name: str
    service: str
    service_name: str
    more: Decimal  #: postage of all its parcels beside what is planned; less is negative
    arrives_on: date
    days_later: int  #: it arrives so much later than planned; earlier is negative
    makes_it: bool  #: it can be packed in time
    late: tuple[str, ...]  #: numbers of orders that would not make it then
    now: bool  #: as it is planned now


def moves_of(workshop: Workshop, order_id: int) -> tuple[MoveOffer, ...]:
    """Return where an open order could go instead, each quoted for its day; the planned one is among them.

    For each hand-over of the next days: by the planned service where its carrier is taken, and by the cheapest other.
    Raises Refused (404, not_open, blocked).
    """
    plan = fresh_plan(workshop=workshop, order_id=order_id)
    waits_for_its_day = plan.order.state == Order.State.HELD and not plan.order.hold_code
    if plan.order.state != Order.State.PLANNED and not waits_for_its_day:
        raise Refused(f"Order {plan.order.number} is not waiting to be packed: it cannot be moved.", code="not_open")
    stored = plan_of(plan.kept)
    if not isinstance(stored, PlannedOrder):
        raise Refused("This order has no plan yet; see what is missing.", code="blocked")
    day = read_day(workshop)
    return tuple(_offers(day, plan.order, stored, core_tariffs(workshop)))


def _offers(day: DayRead, order: Order, planned: PlannedOrder, tariffs: tuple[Tariff, ...]) -> list[MoveOffer]:
    parcels = planned.chosen.parcels
    now_price = sum((one.candidate.quote.price for one in parcels), Decimal(0))
    now_arrives = max(one.candidate.quote.arrives_on for one in parcels)
    now_service = parcels[0].candidate.quote.service
    now_due = day.plan.due.get(key_of(order.pk, 1))
    last = day.clock.today + timedelta(days=_OFFERED_DAYS)
    quoted: dict[date, dict[str, tuple[Quote, Decimal]]] = {}
    found: list[MoveOffer] = []
    for hand_over in day.times.hand_overs:
        if hand_over.day > last or hand_over.due_s < day.clock.now_s:
            continue
        if hand_over.day not in quoted:
            quoted[hand_over.day] = _quotes(parcels, tariffs, hand_over.day)
        mine = [(quote, price) for quote, price in quoted[hand_over.day].values() if _counts(day, quote, hand_over)]
        same = next((one for one in mine if one[0].service == now_service), None)
        others = sorted((one for one in mine if one is not same), key=lambda one: (one[1], one[0].arrives_on))
        for quote, price in [one for one in (same, *others[:1]) if one is not None]:
            effect = moved(
                day.plan,
                day.parcels,
                key_of(order.pk, 1),
                hand_over,
                today=day.clock.today,
                saving_percent=day.saving_percent,
            )
            found.append(
                MoveOffer(
                    hand_over=hand_over,
                    carrier=quote.carrier,
                    carrier_name=quote.carrier_name,
                    service=quote.service,
                    service_name=quote.service_name,
                    more=price - now_price,
                    arrives_on=quote.arrives_on,
                    days_later=(quote.arrives_on - now_arrives).days,
                    makes_it=effect.makes_it,
                    late=tuple(dict.fromkeys(day.lines[code].order.number for code in effect.late)),
                    now=now_due is not None and hand_over.key == now_due.key and quote.service == now_service,
                )
            )
    return found


def _counts(day: DayRead, quote: Quote, hand_over: HandOver) -> bool:
    """Return whether what is handed over then counts as of that day for the service."""
    wanted = due_at(quote.carrier, quote.cut_off, hand_over.day, [hand_over], today=day.clock.today, now_s=0)
    return wanted is not None and hand_over.takes(quote.carrier)


def _quotes(
    parcels: tuple[PlannedParcel, ...], tariffs: tuple[Tariff, ...], ship_on: date
) -> dict[str, tuple[Quote, Decimal]]:
    """Return each service that takes all parcels on a day: the first parcel's quote, and what all cost."""
    found: dict[str, tuple[Quote, Decimal]] = {}
    for number, parcel in enumerate(parcels):
        candidate = parcel.candidate
        if candidate.sending is None:
            return {}
        quotes, _ = quote_all(
            tariffs,
            outer=candidate.outer_bulged,
            gross_mg=candidate.weight.gross_mg,
            sending=replace(candidate.sending, ship_on=ship_on),
        )
        ruled = {one.service for one in candidate.refusals if one.limit_name in RULE_LIMITS}
        mine = {quote.service: quote for quote in quotes if quote.service not in ruled}
        if number == 0:
            found = {service: (quote, quote.price) for service, quote in mine.items()}
        else:
            found = {
                service: (first, price + mine[service].price)
                for service, (first, price) in found.items()
                if service in mine
            }
    return found


def move(*, by: Member, order_id: int, hand_over: str, service: str) -> Plan:
    """Put an order to a hand-over by a service: planned again for its day, and held to it.

    Raises Refused when it is not among what is offered now, or the plan cannot be made so.
    """
    offers = moves_of(by.workshop, order_id)
    wanted = next((one for one in offers if one.hand_over.key == hand_over and one.service == service), None)
    if wanted is None:
        raise Refused(
            "This order cannot go with that hand-over any more. Look at what is offered now.", code="not_offered"
        )
    plan = Plan.objects.of(by.workshop).select_related("order").get(order_id=order_id)
    before = overrides_of(plan)
    today = clock_of(by.workshop).today
    decided = replace(
        before,
        not_before=wanted.hand_over.day if wanted.hand_over.day > today else None,
        service=wanted.service if wanted.service != _planned_service(plan) else before.service,
    )
    if decided != before:
        plan = set_decisions(workshop=by.workshop, order_id=order_id, wanted=decided)
    _choose(by, order_id, wanted.hand_over.key)
    return plan


def _planned_service(plan: Plan) -> str:
    part = plan.parts.order_by("part").first()
    return part.service if part is not None else ""


@transaction.atomic
def _choose(by: Member, order_id: int, key: str) -> None:
    lock_workshop(by.workshop)
    ChosenHandOver.objects.of(by.workshop).update_or_create(
        order_id=order_id,
        defaults={"workshop": by.workshop, "key": key, "by": by.name, "at": timezone.now()},
    )


def named(workshop: Workshop, order_id: int) -> tuple[str, str]:
    """Return an order's number and buyer. Raises Refused (404)."""
    row = Order.objects.of(workshop).filter(pk=order_id).values_list("number", "buyer").first()
    if row is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    return row
