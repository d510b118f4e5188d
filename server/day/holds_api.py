"""Orders that are set aside over HTTP: thin."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field

from server.api.operation import operation
from server.api.views import Body, MemberView, Page
from server.day import holds
from server.day.holds import HoldOut, held_orders, holds_out

__all__ = ["HoldNoteView", "HoldsView"]


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
