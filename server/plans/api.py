"""Plans over HTTP: thin."""

from datetime import date, datetime
from typing import Annotated

from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request
from rest_framework.response import Response

from server.api.views import PROBLEMS, Body, MemberView, reply
from server.orders.screens import OrderOut, order_out
from server.plans import services
from server.plans.models import Plan
from server.plans.screens import BlockedView, PlanView, plan_view

__all__ = ["ChooseView", "OrderPlanView"]


class OrderPlanOut(BaseModel):
    """An order with its plan."""

    order: OrderOut
    ship_on: date
    planned_at: datetime
    plan: Annotated[PlanView | BlockedView, Field(discriminator="status")]


class ChooseIn(Body):
    """A container chosen by a person; null takes the choice back."""

    container: Annotated[str, Field(max_length=30)] | None


class OrderPlanView(MemberView):
    """GET /api/orders/{id}/plan"""

    @extend_schema(operation_id="order_plan", responses={200: OrderPlanOut, **PROBLEMS})
    def get(self, request: Request, order_id: int) -> Response:
        """The order's plan, planned again first when something it depends on has changed."""
        return reply(self._out(services.fresh_plan(workshop=self.workshop, order_id=order_id)))

    def _out(self, plan: Plan) -> OrderPlanOut:
        return OrderPlanOut(
            order=order_out(self.workshop, plan.order),
            ship_on=plan.ship_on,
            planned_at=plan.at,
            plan=plan_view(self.workshop, plan),
        )


class ChooseView(OrderPlanView):
    """POST /api/orders/{id}/plan/container"""

    http_method_names = ["post", "options"]

    @extend_schema(operation_id="choose_container", request=ChooseIn, responses={200: OrderPlanOut, **PROBLEMS})
    def post(self, request: Request, order_id: int) -> Response:
        """Choose another container, or take the choice back."""
        body = ChooseIn.model_validate(request.data)
        plan = services.choose_container(workshop=self.workshop, order_id=order_id, container=body.container or "")
        return reply(self._out(plan))
