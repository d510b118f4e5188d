"""What the screens are shown of heat and cold: one order's way and ways out, and all orders it concerns (care)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import partial
from typing import Literal

from django.db.models import Count, Q, QuerySet
from pydantic import BaseModel

from core.care.planning import Proposal, ProposalKind, proposals_for
from core.care.report import CareReport, ParcelCare, Verdict
from core.care.words import margin_words, proposal_words, why_waits, wish_words
from core.messages import Text
from core.parcels.facts import CareChoice, Overrides
from core.parcels.plan import PlannedOrder
from core.parcels.remembered import Remembered
from core.tariffs.zones import next_ship_day
from server.care.models import Consent
from server.orders.models import Order
from server.plans.api import DecisionsIn
from server.plans.facts import load, ship_days
from server.plans.mapping import care_from_json, plan_of
from server.plans.models import Plan
from server.plans.services import fresh_plan, open_orders
from server.plans.writing import as_lines, overrides_of
from server.recipes.models import Product
from server.supplies.models import Supply
from server.weather.selectors import heard, is_silent
from server.words import words_of
from server.workshops.models import Workshop

__all__ = [
    "CareCounts",
    "CareLineOut",
    "CareOut",
    "ConsentOut",
    "ForecastOut",
    "care_counts",
    "care_lines",
    "care_orders",
    "care_out",
    "consent_out",
    "forecast_out",
]


class FeltHourOut(BaseModel):
    """One hour of the way; degrees Celsius."""

    begins: datetime
    kind: Literal["van", "night", "depot", "waiting", "doorstep"]
    place: str
    outside_c: float
    inside_c: float
    forecast: bool


class ParcelCareOut(BaseModel):
    """One parcel on its way."""

    part: int
    verdict: Verdict
    low_limit_c: float | None
    high_limit_c: float | None
    low_c: float
    high_c: float
    coldest_c: float
    warmest_c: float
    margins: list[Text]
    hours: list[FeltHourOut]
    usual_hours: int
    days: int
    days_limit: int | None
    holds: Text  #: liner and packs in it; empty: none
    melted_percent: int
    goods: list[str]
    loss: Decimal


class CareProposalOut(BaseModel):
    """A way out; ``decisions`` takes it."""

    kind: ProposalKind
    words: Text
    all_in: Decimal
    extra: Decimal
    loss: Decimal
    waits_days: int
    ship_on: date | None
    arrives_on: date | None
    container: str
    low_c: float
    high_c: float
    decisions: DecisionsIn | None  #: None: the buyer is asked first


class ConsentOut(BaseModel):
    """What the buyer was asked, and said."""

    text: str
    asked_at: datetime
    asked_by: str
    low_c: Decimal | None
    high_c: Decimal | None
    answer: Literal["", "wait", "insulated", "as_it_is"]
    words: str
    answered_on: date | None
    noted_by: str


class ForecastOut(BaseModel):
    """Whether anything is foretold."""

    silent: bool
    heard_at: datetime | None
    trouble: str


class GoodDayOut(BaseModel):
    """A later day on which the order can be sent, with what it costs then; ``decisions`` takes it."""

    ship_on: date
    arrives_on: date
    service_name: str
    total: Decimal
    decisions: DecisionsIn


class CareOut(BaseModel):
    """One order and the weather; no parcels: none of its goods has a limit, or it cannot be planned."""

    order_id: int
    number: str
    buyer: str
    open: bool
    verdict: Verdict | None
    unsure: bool
    why: Text
    parcels: list[ParcelCareOut]
    proposals: list[CareProposalOut]
    undo: DecisionsIn  #: what is decided now: sent again it takes back what was done since
    consent: ConsentOut | None
    question: str  #: to the buyer, to be changed and sent
    good_days: list[
        GoodDayOut
    ]  #: where it cannot be sent on the next ship day because it would be too long on the road
    forecast: ForecastOut


class CareLineOut(BaseModel):
    """One order that the weather concerns."""

    order_id: int
    number: str
    buyer: str
    verdict: Verdict
    ship_on: date
    why: Text
    proposed: Text  #: empty: nothing
    decisions: DecisionsIn | None
    undo: DecisionsIn


def forecast_out(workshop: Workshop) -> ForecastOut:
    """Return whether anything is foretold."""
    row = heard(workshop)
    return ForecastOut(
        silent=is_silent(workshop),
        heard_at=row.heard_at if row is not None else None,
        trouble=row.trouble if row is not None else "",
    )


def consent_out(row: Consent) -> ConsentOut:
    """Return what a buyer was asked and said."""
    return ConsentOut.model_validate({name: getattr(row, name) for name in ConsentOut.model_fields})


def taken(decided: Overrides, one: Proposal) -> DecisionsIn | None:
    """Return the decisions that take a proposal; None where a person has to ask somebody first."""
    kept = decided.care or CareChoice()
    if one.kind == "packs":
        return DecisionsIn.of(replace(decided, container=one.forced or None, care=replace(kept, wish=one.wish)))
    if one.kind == "service":
        return DecisionsIn.of(replace(decided, service=one.service))
    if one.kind == "day":
        return DecisionsIn.of(replace(decided, not_before=one.ship_on))
    return None


def care_out(workshop: Workshop, order_id: int) -> CareOut:
    """Return one order and the weather, with its ways out planned in full. Raises Refused (404)."""
    plan = fresh_plan(workshop=workshop, order_id=order_id)
    order = plan.order
    kept = care_from_json(plan.care)
    decided = overrides_of(plan)
    is_open = order.state in Order.OPEN
    products, supplies = _names(workshop, [kept.report] if kept else [], kept.proposals if kept else ())
    proposals: tuple[Proposal, ...] = kept.proposals if kept is not None else ()
    if kept is not None and is_open and kept.report.verdict == "danger":
        proposals = _in_full(workshop, plan, kept.report, decided)
    consent = Consent.objects.of(workshop).filter(order=order).first()
    worst = kept.report if kept is not None else None
    return CareOut(
        order_id=order.pk,
        number=order.number,
        buyer=order.buyer,
        open=is_open,
        verdict=worst.verdict if worst else None,
        unsure=worst.unsure if worst else False,
        why=why_waits(worst, products) if worst is not None and worst.verdict != "safe" else "",
        parcels=[_parcel_out(one, products, supplies) for one in worst.parcels] if worst else [],
        proposals=[_proposal_out(one, supplies, decided) for one in proposals],
        undo=DecisionsIn.of(decided),
        consent=consent_out(consent) if consent is not None else None,
        question=_question(workshop, order, worst, proposals, products, supplies) if worst else "",
        good_days=_good_days(workshop, plan, decided) if is_open and plan.status == "blocked" else [],
        forecast=forecast_out(workshop),
    )


#: So many ship days are tried, and so many good ones told.
_DAYS_TRIED, _DAYS_TOLD = 8, 3


def _good_days(workshop: Workshop, plan: Plan, decided: Overrides) -> list[GoodDayOut]:
    """Return the next days on which the order can be sent, where the goods' own limit of days is in the way."""
    loaded = load(workshop, [plan.order])
    lines = loaded.lines_of(plan.order)
    if all(line.product is None or line.product.days_limit is None for line in lines):
        return []
    plan_from = partial(as_lines, loaded, Remembered(), plan.order, lines, dict(loaded.facts.free))
    day, found = plan.ship_on, list[GoodDayOut]()
    for _ in range(_DAYS_TRIED):
        day = next_ship_day(day + timedelta(days=1), ship_days(workshop))
        made = plan_from(decided, day, None)
        if isinstance(made, PlannedOrder):
            quotes = [one.quote for one in made.chosen.candidates]
            found.append(
                GoodDayOut(
                    ship_on=day,
                    arrives_on=max(quote.arrives_on for quote in quotes),
                    service_name=", ".join(dict.fromkeys(quote.service_name for quote in quotes)),
                    total=made.chosen.costs.total,
                    decisions=DecisionsIn.of(replace(decided, not_before=day)),
                )
            )
        if len(found) == _DAYS_TOLD:
            break
    return found


def _in_full(workshop: Workshop, plan: Plan, report: CareReport, decided: Overrides) -> tuple[Proposal, ...]:
    """Plan the ways out again, more of them than the list keeps; what is promised to this order counts as free."""
    stored = plan_of(plan.kept)
    if not isinstance(stored, PlannedOrder):
        return ()
    loaded = load(workshop, [plan.order])
    free = dict(loaded.facts.free)
    for use in plan.uses.select_related("supply"):
        free[use.supply.code] = free.get(use.supply.code, Decimal(0)) + use.quantity
    lines = loaded.lines_of(plan.order)
    plan_from = partial(as_lines, loaded, Remembered(), plan.order, lines, free)
    context = loaded.care_context(plan.order, lines, free)
    return proposals_for(plan_from, decided, stored, report, context, 3)


def _names(
    workshop: Workshop, reports: Sequence[CareReport], proposals: Sequence[Proposal]
) -> tuple[Mapping[str, str], Mapping[str, str]]:
    """Return names of products by sku, and of every liner and pack by code."""
    skus = {sku for report in reports for parcel in report.parcels for sku in parcel.skus}
    products = dict(Product.objects.of(workshop).filter(sku__in=skus).values_list("sku", "name"))
    rows = Supply.objects.of(workshop).filter(kind="insert")
    supplies = {code: name for code, name, facts in rows.values_list("code", "name", "facts") if _is_thermal(facts)}
    return products, supplies


def _is_thermal(facts: Mapping[str, object]) -> bool:
    return bool(facts.get("liner") or facts.get("pack"))


def _parcel_out(one: ParcelCare, products: Mapping[str, str], supplies: Mapping[str, str]) -> ParcelCareOut:
    plain = {
        name: getattr(one, name)
        for name in ParcelCareOut.model_fields
        if name not in ("margins", "hours", "holds", "melted_percent", "goods")
    }
    return ParcelCareOut(
        **plain,
        margins=list(margin_words(one)),
        hours=[
            FeltHourOut.model_validate({name: getattr(hour, name) for name in FeltHourOut.model_fields})
            for hour in one.hours
        ],
        holds=wish_words(one.wish, supplies) if one.wish.any else "",
        melted_percent=round(one.melted * 100),
        goods=[products.get(sku, sku) for sku in one.skus],
    )


def _proposal_out(one: Proposal, supplies: Mapping[str, str], decided: Overrides) -> CareProposalOut:
    plain = {name: getattr(one, name) for name in CareProposalOut.model_fields if name not in ("words", "decisions")}
    return CareProposalOut(**plain, words=proposal_words(one, supplies), decisions=taken(decided, one))


def _question(
    workshop: Workshop,
    order: Order,
    report: CareReport,
    proposals: Sequence[Proposal],
    products: Mapping[str, str],
    supplies: Mapping[str, str],
) -> str:
    """Return a message to the buyer, to be changed and sent: the risk, and what they can choose."""
    if report.verdict == "safe":
        return ""
    say = words_of(workshop.unit_system)
    wait = next((one for one in proposals if one.kind == "day"), None)
    packs = next((one for one in proposals if one.kind == "packs"), None)
    choices = []
    if wait is not None and wait.ship_on is not None:
        choices.append(f"wait: we send it on {wait.ship_on:%-d %B}")
    if packs is not None:
        choices.append(
            f"insulated: with {say.of(wish_words(packs.wish, supplies))}, "
            f"for {packs.extra:.2f} {workshop.currency} more"
        )
    choices.append("as it is: we send it now and you take the risk")
    listed = "\n".join(f"{number}. {text}" for number, text in enumerate(choices, start=1))
    return (
        f"Dear {order.buyer},\n\nyour order {order.number} is ready to go, but the weather is not: "
        f"{say.of(why_waits(report, products))}\n\nPlease choose:\n{listed}\n\n"
        f"Until we hear from you we keep it here, safe.\n\n{workshop.name}"
    )


def care_orders(workshop: Workshop) -> "QuerySet[Plan]":
    """Return the plans the weather concerns: in danger first, then agreed ones and those with packs, by ship day."""
    return (
        Plan.objects.of(workshop)
        .filter(order__in=open_orders(workshop), status="planned", care_state__in=("danger", "agreed"))
        .select_related("order")
        .defer("order__came_as")
        .order_by("-care_state", "ship_on", "order_id")
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class CareCounts:
    """How many open orders the weather concerns."""

    concerned: int  #: in danger, or sent with the buyer's consent
    silent: bool  #: some have a limit, and nothing was foretold for a day


def care_counts(workshop: Workshop) -> CareCounts:
    """Return how many open orders the weather concerns, in two queries at most."""
    concerned = Q(status="planned", care_state__in=("danger", "agreed"))
    found = (
        Plan.objects.of(workshop)
        .filter(order__state__in=Order.OPEN)
        .exclude(care_state="")
        .aggregate(limited=Count("pk"), concerned=Count("pk", filter=concerned))
    )
    return CareCounts(concerned=found["concerned"], silent=found["limited"] > 0 and is_silent(workshop))


def care_lines(workshop: Workshop, page: Sequence[Plan]) -> list[CareLineOut]:
    """Return plans of ``care_orders`` for the screen."""
    kept = [(plan, care_from_json(plan.care)) for plan in page]
    reports = [one.report for _, one in kept if one is not None]
    products, supplies = _names(workshop, reports, ())
    found = []
    for plan, one in kept:
        if one is None:
            continue
        decided = overrides_of(plan)
        best = one.proposals[0] if one.proposals else None
        found.append(
            CareLineOut(
                order_id=plan.order_id,
                number=plan.order.number,
                buyer=plan.order.buyer,
                verdict=one.report.verdict,
                ship_on=plan.ship_on,
                why=why_waits(one.report, products),
                proposed=proposal_words(best, supplies) if best is not None else "",
                decisions=taken(decided, best) if best is not None else None,
                undo=DecisionsIn.of(decided),
            )
        )
    return found
