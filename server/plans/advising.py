"""Advice on an open order's plan: what small change pays, which steps are near, how many more would go."""

from pydantic import BaseModel

from core.advising.advice import Advice, advice_for
from core.advising.spare import Spare, spare_in
from core.parcels.candidate import Candidate
from core.parcels.facts import Facts
from core.parcels.plan import PlannedOrder
from core.recipes.expand import OrderLine
from core.tariffs.cheaper import CheaperStep, StepRisk, cheaper_steps, risks_of
from core.tariffs.model import Tariff
from core.tariffs.quote import service_of
from core.units import Size
from server.api.problems import Refused
from server.carriers.selectors import core_tariffs
from server.orders.models import Order
from server.plans.facts import Loaded, leaves_on, load, place_of, ship_day, ship_days
from server.plans.mapping import plan_of
from server.plans.models import Plan, PlannedUse
from server.plans.recurring import Recurring, note_recurring
from server.plans.services import fresh_plan
from server.plans.writing import overrides_of
from server.workshops.models import Workshop

__all__ = ["AdviceView", "WaySteps", "advice_on", "spare_on"]

#: The chosen way and so many others have their steps worked out.
_WAYS = 3


class WaySteps(BaseModel):
    """The next cheaper steps of one way's parcels, and how likely each parcel passes the step it is under."""

    key: str
    parcels: list["ParcelSteps"]


class ParcelSteps(BaseModel):
    """One parcel among the steps of its service."""

    service_name: str
    cheaper: tuple[CheaperStep, ...]
    risks: tuple[StepRisk, ...]


class AdviceView(BaseModel):
    """What pays, best first, and where the ways stand among the steps."""

    advice: tuple[Advice, ...]
    ways: list[WaySteps]
    recurring: dict[str, Recurring]  #: by what recurs: advice that comes again on the recipe's orders


def advice_on(*, workshop: Workshop, order_id: int) -> AdviceView:
    """Return the advice on an order's plan. Raises Refused when it has none."""
    row, plan, loaded = _planned(workshop, order_id)
    facts = _own_stock_free(workshop, row, loaded)
    found = advice_for(
        plan,
        _lines_as_planned(loaded, row.order, plan),
        facts,
        destination=place_of(row.order),
        ship_on=leaves_on(ship_day(workshop), overrides_of(row), workshop),
        overrides=overrides_of(row),
        occasion=loaded.occasion_of(row.order),
        names=loaded.names(),
        ship_days=ship_days(workshop),
        threshold=workshop.advice_threshold,
    )
    tariffs = core_tariffs(workshop)
    return AdviceView(
        recurring=note_recurring(row.order, {piece.recipe for piece in plan.pieces}, found),
        advice=found,
        ways=[
            WaySteps(key=way.key, parcels=[_steps(one, tariffs) for one in way.candidates])
            for way in (plan.chosen, *plan.others)[:_WAYS]
        ],
    )


def spare_on(*, workshop: Workshop, order_id: int) -> tuple[Spare, ...]:
    """Return how many more of each product of the order ship for no more, or little more, postage."""
    row, plan, loaded = _planned(workshop, order_id)
    return spare_in(
        plan,
        _lines_as_planned(loaded, row.order, plan),
        _own_stock_free(workshop, row, loaded),
        destination=place_of(row.order),
        ship_on=row.ship_on,
        occasion=loaded.occasion_of(row.order),
        little=workshop.little_more,
        overrides=overrides_of(row),
    )


def _lines_as_planned(loaded: Loaded, order: Order, plan: PlannedOrder) -> tuple[OrderLine, ...]:
    """Return the order's lines as they take of a supply and its successor the one the plan took."""
    return loaded.lines_taking(loaded.lines_of(order), {use.supply for use in plan.chosen.uses})


def _planned(workshop: Workshop, order_id: int) -> tuple[Plan, PlannedOrder, Loaded]:
    row = fresh_plan(workshop=workshop, order_id=order_id)
    plan = plan_of(row.kept)
    if not isinstance(plan, PlannedOrder):
        raise Refused("This order has no plan yet; see what is missing.", code="blocked")
    return row, plan, load(workshop, [row.order])


def _own_stock_free(workshop: Workshop, row: Plan, loaded: Loaded) -> Facts:
    """Return the facts with what this very order promised counted as free: it may promise it otherwise."""
    free = dict(loaded.facts.free)
    for code, quantity in PlannedUse.objects.of(workshop).filter(plan=row).values_list("supply__code", "quantity"):
        free[code] += quantity
    return loaded.with_free(free)


def _steps(one: Candidate, tariffs: tuple[Tariff, ...]) -> ParcelSteps:
    found = service_of(tariffs, one.quote, one.sending.ship_on) if one.sending else None
    if found is None or one.sending is None:
        return ParcelSteps(service_name=one.quote.service_name, cheaper=(), risks=())
    tariff, service = found
    size, weight = one.outer_bulged, one.weight
    bulge = Size(
        length_um=size.length_um - one.outer.length_um,
        width_um=size.width_um - one.outer.width_um,
        height_um=size.height_um - one.outer.height_um,
    )
    return ParcelSteps(
        service_name=one.quote.service_name,
        cheaper=cheaper_steps(tariff, service, outer=size, gross_mg=weight.gross_mg, sending=one.sending),
        risks=risks_of(
            tariff,
            service,
            outer=size,
            bulge=bulge,
            gross_mg=weight.gross_mg,
            sigma_mg=weight.sigma_mg,
            sending=one.sending,
        ),
    )
