"""Advice over HTTP: thin. What it says is applied as a person's decisions, and taken back as such."""

from decimal import Decimal

from drf_spectacular.utils import extend_schema
from pydantic import BaseModel
from rest_framework.request import Request
from rest_framework.response import Response

from core.advising.advice import Advice
from core.advising.changes import Kind
from core.advising.spare import Spare
from core.messages import Text
from server.api.views import PROBLEMS, MemberView, reply
from server.plans import services
from server.plans.advising import WaySteps, advice_on, spare_on
from server.plans.api import DecisionsIn, OrderPlanOut, OrderPlanView, decisions_of
from server.plans.recurring import Recurring

__all__ = ["AdviceOut", "DecisionsView", "PlanAdviceView", "PlanSpareView"]


class AdviceOut(BaseModel):
    """One change that pays; ``decisions`` applies it. Differences are after less before."""

    kind: Kind
    sentence: Text
    saves: Decimal
    postage: Decimal
    materials: Decimal
    minutes: Decimal
    expected_loss: Decimal
    days: int
    gross_mg: int
    risk: Decimal
    services: tuple[str, ...]
    decisions: DecisionsIn
    at_recipe: Recurring | None  #: it comes again on order after order: told at the recipe


class PlanAdviceOut(BaseModel):
    """What pays, best first, and where the ways stand among the steps."""

    threshold: Decimal
    advice: list[AdviceOut]
    ways: list[WaySteps]


class PlanSpareOut(BaseModel):
    """How many more of each product ship for no more postage, or for little."""

    little: Decimal
    lines: tuple[Spare, ...]


def _advice(one: Advice, recurring: dict[str, Recurring]) -> AdviceOut:
    values = {name: getattr(one, name) for name in AdviceOut.model_fields if name not in ("decisions", "at_recipe")}
    at_recipe = recurring.get(one.recurs) if one.recurs else None
    return AdviceOut(**values, decisions=DecisionsIn.of(one.overrides), at_recipe=at_recipe)


class PlanAdviceView(MemberView):
    """GET /api/orders/{id}/plan/advice"""

    @extend_schema(operation_id="plan_advice", responses={200: PlanAdviceOut, **PROBLEMS})
    def get(self, request: Request, order_id: int) -> Response:
        """What small changes pay, each planned and priced again."""
        found = advice_on(workshop=self.workshop, order_id=order_id)
        return reply(
            PlanAdviceOut(
                threshold=self.workshop.advice_threshold,
                advice=[_advice(one, found.recurring) for one in found.advice],
                ways=found.ways,
            )
        )


class PlanSpareView(MemberView):
    """GET /api/orders/{id}/plan/spare"""

    @extend_schema(operation_id="plan_spare", responses={200: PlanSpareOut, **PROBLEMS})
    def get(self, request: Request, order_id: int) -> Response:
        """How many more would go for no more postage, or for little."""
        return reply(
            PlanSpareOut(little=self.workshop.little_more, lines=spare_on(workshop=self.workshop, order_id=order_id))
        )


class DecisionsView(OrderPlanView):
    """POST /api/orders/{id}/plan/decisions"""

    http_method_names = ["post", "options"]

    @extend_schema(operation_id="set_decisions", request=DecisionsIn, responses={200: OrderPlanOut, **PROBLEMS})
    def post(self, request: Request, order_id: int) -> Response:
        """Set everything a person decided for this order at once: to apply advice, or to take it back."""
        body = DecisionsIn.model_validate(request.data)
        plan = services.set_decisions(workshop=self.workshop, order_id=order_id, wanted=decisions_of(body))
        return reply(self._out(plan))
