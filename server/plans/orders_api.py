"""What is planned at once when orders come in or are released, over HTTP: thin."""

from pydantic import BaseModel

from server.api.operation import operation
from server.api.views import MemberView
from server.formats.orders import read_orders
from server.orders import services
from server.orders.api import FileIn
from server.orders.screens import OrderOut, order_out
from server.plans.services import plan_later, plan_stale
from server.plans.writing import settle_states
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["AcceptView", "ReleaseView"]


class AcceptOut(BaseModel):
    """What importing the file did."""

    new_orders: int
    known_orders: int
    left_out_lines: int


#: So many new orders are planned while the person waits; more are planned in the background.
_PLANNED_AT_ONCE = 8


def _plan_new(workshop: Workshop, new: list[int]) -> None:
    if len(new) <= _PLANNED_AT_ONCE:
        plan_stale(workshop=workshop, orders=new)
    else:
        plan_later(workshop)


class AcceptView(MemberView):
    """POST /api/orders/intake/accept"""

    @operation("accept_orders")
    def post(self, body: FileIn) -> AcceptOut:
        """Import the valid orders of a file and plan them."""
        read = read_orders(body.bytes_of(), today=today(self.workshop))
        intake = services.group(self.workshop, read)
        new, known = services.accept(workshop=self.workshop, intake=intake)
        _plan_new(self.workshop, new)
        taken = sum(len(order.rows) for order in intake.orders if order.fault is None)
        return AcceptOut(new_orders=len(new), known_orders=known, left_out_lines=len(read.raw) - taken)


class ReleaseView(MemberView):
    """POST /api/orders/{id}/release"""

    @operation("release_order")
    def post(self, order_id: int) -> OrderOut:
        """Lift a hold."""
        order = services.release(by=self.member, order_id=order_id)
        settle_states(self.workshop, [order])
        plan_stale(workshop=self.workshop, orders=[order.pk])
        return order_out(self.workshop, order)
