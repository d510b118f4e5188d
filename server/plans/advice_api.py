"""Advice over HTTP: thin. What it says is applied as a person's decisions, and taken back as such."""

from decimal import Decimal

from pydantic import BaseModel

from core.advising.advice import Advice
from core.advising.changes import Kind
from core.advising.spare import Spare
from core.messages import Text
from server.api.operation import operation
from server.api.views import MemberView
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

    shows_costs = True

    @operation("plan_advice")
    def get(self, order_id: int) -> PlanAdviceOut:
        """What small changes pay, each planned and priced again."""
        found = advice_on(workshop=self.workshop, order_id=order_id)
        return PlanAdviceOut(
            threshold=self.workshop.advice_threshold,
            advice=[_advice(one, found.recurring) for one in found.advice],
            ways=found.ways,
        )


class PlanSpareView(MemberView):
    """GET /api/orders/{id}/plan/spare"""

    @operation("plan_spare")
    def get(self, order_id: int) -> PlanSpareOut:
        """How many more would go for no more postage, or for little."""
        return PlanSpareOut(little=self.workshop.little_more, lines=spare_on(workshop=self.workshop, order_id=order_id))


class DecisionsView(OrderPlanView):
    """POST /api/orders/{id}/plan/decisions"""

    http_method_names = ["post", "options"]

    @operation("set_decisions")
    def post(self, body: DecisionsIn, order_id: int) -> OrderPlanOut:
        """Set everything a person decided for this order at once: to apply advice, or to take it back."""
        plan = services.set_decisions(workshop=self.workshop, order_id=order_id, wanted=decisions_of(body))
        return self._out(plan)
