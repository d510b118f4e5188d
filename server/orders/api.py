"""Orders over HTTP: thin."""

from typing import Annotated

from django.http import Http404
from drf_spectacular.utils import OpenApiParameter
from pydantic import Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.orders import services
from server.orders.models import Order
from server.orders.screens import OrderOut, order_out, orders_out
from server.orders.searching import named_like, with_goods

__all__ = ["CancelView", "HoldView", "OrderView", "OrdersView"]

_STATES = [*(state.value for state in Order.State), "open"]


class HoldIn(Body):
    """Why an order is set aside."""

    reason: Annotated[str, Field(min_length=3, max_length=300)]


class OrdersView(MemberView):
    """GET /api/orders"""

    @operation(
        "orders",
        parameters=[
            OpenApiParameter(
                "state",
                str,
                enum=_STATES,
                description="Only orders in this state; open: all but packed, cancelled and joined",
            ),
            OpenApiParameter("find", str, description="Order number, buyer or sku begins with or holds this"),
        ],
    )
    def get(self) -> Page[OrderOut]:
        """Orders, oldest first; the packed ones newest first."""
        rows = (
            Order.objects.of(self.workshop)
            .select_related("plan", "joined_into")
            .defer("plan__care")
            .prefetch_related("parcels", "joined", "joined_into__parcels")
        )
        state, find = self.request.query_params.get("state"), self.sought
        if state is not None and state not in _STATES:
            raise Refused(
                f"state is one of {', '.join(_STATES)}; given: {state[:20]}.",
                code="not_valid",
                status=400,
                field="state",
            )
        if state == "open":
            rows = rows.exclude(state__in=Order.ENDED)
        elif state:
            rows = rows.filter(state=state)
        if find:
            # Each by its own index; put together with or, every order would be read.
            named = named_like(self.workshop, find).order_by().values_list("pk")
            goods = with_goods(self.workshop, find).order_by().values_list("order_id")
            rows = rows.filter(pk__in=named.union(goods))
        rows = rows.order_by("-packed_at", "-id") if state == Order.State.PACKED else rows.order_by("placed_on", "id")
        return self.paged(rows, lambda page: orders_out(self.workshop, page))


class OrderView(MemberView):
    """GET /api/orders/{id}"""

    @operation("order")
    def get(self, order_id: int) -> OrderOut:
        """One order."""
        row = Order.objects.of(self.workshop).filter(pk=order_id).first()
        if row is None:
            raise Http404
        return order_out(self.workshop, row)


class HoldView(MemberView):
    """POST /api/orders/{id}/hold"""

    @operation("hold_order")
    def post(self, body: HoldIn, order_id: int) -> OrderOut:
        """Set an order aside."""
        return order_out(self.workshop, services.hold(by=self.member, order_id=order_id, reason=body.reason))


class CancelView(MemberView):
    """POST /api/orders/{id}/cancel"""

    @operation("cancel_order")
    def post(self, body: HoldIn, order_id: int) -> OrderOut:
        """The buyer does not want it any more."""
        return order_out(self.workshop, services.cancel(by=self.member, order_id=order_id, reason=body.reason))
