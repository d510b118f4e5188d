"""Orders that are set aside over HTTP: thin."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.day import holds
from server.day.holds import HoldOut, held_orders, holds_out
from server.orders.intake import RiskAction, risk_action

__all__ = ["HoldNoteView", "HoldsView", "RiskActionsView"]


class HoldNoteIn(Body):
    """An answer, and when to look again."""

    answer: Annotated[str, Field(max_length=500)] = ""
    look_again: date | None = None


class HoldNoteOut(BaseModel):
    """As it is kept."""

    order_id: int
    answer: str
    look_again: date | None
    by: str


class HoldsView(MemberView):
    """GET /api/holds"""

    @operation("holds")
    def get(self) -> Page[HoldOut]:
        """Orders that are set aside: why, and what to do next; those to be looked at first."""
        return self.paged(held_orders(self.workshop), lambda page: holds_out(self.workshop, page))


class HoldNoteView(MemberView):
    """PUT /api/holds/{id}"""

    @operation("write_hold_note")
    def put(self, body: HoldNoteIn, order_id: int) -> HoldNoteOut:
        """Write down an answer and when to look again."""
        note = holds.write_note(by=self.member, order_id=order_id, answer=body.answer, look_again=body.look_again)
        return HoldNoteOut(order_id=order_id, answer=note.answer, look_again=note.look_again, by=note.by)


class RiskActionsDoc(Body):
    """What is done with an order whose payment its channel marks as a risk."""

    low: RiskAction
    medium: RiskAction
    high: RiskAction


class RiskActionsView(MemberView):
    """GET and PUT /api/holds/risks"""

    owner_only = frozenset({"PUT"})

    @operation("risk_actions")
    def get(self) -> RiskActionsDoc:
        """What is done, by level."""
        return RiskActionsDoc(
            low=risk_action(self.workshop, "low"),
            medium=risk_action(self.workshop, "medium"),
            high=risk_action(self.workshop, "high"),
        )

    @operation("set_risk_actions")
    def put(self, body: RiskActionsDoc) -> RiskActionsDoc:
        """Say what is done; it holds for orders that come in from now on."""
        holds.set_risk_actions(by=self.member, actions=body.model_dump())
        return body
