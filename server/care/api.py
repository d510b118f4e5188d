"""Heat and cold over HTTP: what an order's way does to it, ways out, the buyer's word, the freezer: thin."""

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.care import services
from server.care.models import FrozenLot
from server.care.screens import CareLineOut, CareOut, ForecastOut, care_lines, care_orders, care_out, forecast_out
from server.plans.api import DecisionsIn, decisions_of
from server.workshops.models import Workshop

__all__ = [
    "CareLinesView",
    "CareView",
    "ConsentAnswerView",
    "ConsentView",
    "ForecastView",
    "FreezerView",
    "FrozenLotView",
]


class ConsentIn(Body):
    """The question as it is sent, and how warm or cold the buyer is told goods get."""

    text: Annotated[str, Field(min_length=1, max_length=2000)]
    low_c: Annotated[Decimal, Field(ge=-90, le=90, decimal_places=1)] | None = None
    high_c: Annotated[Decimal, Field(ge=-90, le=90, decimal_places=1)] | None = None


class AnswerIn(Body):
    """What the buyer said; with a wait or insulation, the decisions that do it."""

    answer: Literal["wait", "insulated", "as_it_is"]
    words: Annotated[str, Field(min_length=1, max_length=500)]
    answered_on: date
    decisions: DecisionsIn | None = None


class LotOut(BaseModel):
    """Packs in the freezer."""

    id: int
    supply_id: int
    name: str
    left: int
    since: datetime
    by: str
    hard_at: datetime  #: frozen through from then on


class FreezableOut(BaseModel):
    """A kind of pack that can be frozen."""

    supply_id: int
    name: str
    hours: Decimal
    litres: Decimal  #: of one


class FreezerOut(BaseModel):
    """What is in the freezer, and how much more goes in."""

    used_l: Decimal
    room_l: Decimal
    lots: list[LotOut]
    packs: list[FreezableOut]


class FreezeIn(Body):
    """Packs put into the freezer now."""

    supply_id: int
    quantity: Annotated[int, Field(ge=1, le=1000)]
    request_key: UUID


class CareView(MemberView):
    """GET /api/orders/{id}/care"""

    @operation("order_care")
    def get(self, order_id: int) -> CareOut:
        """What the weather of its way does to an order, and the ways out."""
        return care_out(self.workshop, order_id)


class CareLinesView(MemberView):
    """GET /api/care"""

    @operation("care_lines")
    def get(self) -> Page[CareLineOut]:
        """Open orders that wait for other weather or go with the buyer's consent."""
        return self.paged(care_orders(self.workshop), lambda page: care_lines(self.workshop, page))


class ForecastView(MemberView):
    """GET and POST /api/care/forecast"""

    @operation("forecast")
    def get(self) -> ForecastOut:
        """When the forecast was last heard."""
        return forecast_out(self.workshop)

    @operation("hear_forecast")
    def post(self) -> ForecastOut:
        """Ask the forecast now; what it concerns is planned again in the background."""
        services.hear_forecast(self.workshop)
        return forecast_out(self.workshop)


class ConsentView(MemberView):
    """POST /api/orders/{id}/consent"""

    @operation("ask_consent")
    def post(self, body: ConsentIn, order_id: int) -> CareOut:
        """Keep the question that goes to the buyer."""
        services.ask_consent(by=self.member, order_id=order_id, text=body.text, low_c=body.low_c, high_c=body.high_c)
        return care_out(self.workshop, order_id)


class ConsentAnswerView(MemberView):
    """POST /api/orders/{id}/consent/answer"""

    @operation("answer_consent")
    def post(self, body: AnswerIn, order_id: int) -> CareOut:
        """Write the buyer's answer down and plan the order as they chose."""
        services.take_answer(
            by=self.member,
            order_id=order_id,
            answer=body.answer,
            words=body.words,
            answered_on=body.answered_on,
            chosen=decisions_of(body.decisions) if body.decisions is not None else None,
        )
        return care_out(self.workshop, order_id)


def _freezer(workshop: Workshop) -> FreezerOut:
    found = services.freezer_of(workshop)
    return FreezerOut(
        used_l=found.used_l,
        room_l=found.room_l,
        lots=[
            LotOut(
                id=row.pk,
                supply_id=row.supply_id,
                name=row.supply.name,
                left=row.left,
                since=row.since,
                by=row.by,
                hard_at=services.hard_at(row),
            )
            for row in FrozenLot.objects.of(workshop).filter(left__gt=0).select_related("supply")[:200]
        ],
        packs=[
            FreezableOut(
                supply_id=row.pk, name=row.name, hours=services.hours_to_freeze(row), litres=services.volume_l(row)
            )
            for row in services.freezable(workshop)
        ],
    )


class FreezerView(MemberView):
    """GET and POST /api/freezer"""

    @operation("freezer")
    def get(self) -> FreezerOut:
        """What is in the freezer."""
        return _freezer(self.workshop)

    @operation("freeze")
    def post(self, body: FreezeIn) -> FreezerOut:
        """Write that packs were put in."""
        services.freeze(by=self.member, supply_id=body.supply_id, quantity=body.quantity, request_key=body.request_key)
        return _freezer(self.workshop)


class FrozenLotView(MemberView):
    """DELETE /api/freezer/{id}"""

    @operation("unfreeze")
    def delete(self, lot_id: int) -> FreezerOut:
        """Take packs out of the freezer's book again."""
        services.unfreeze(by=self.member, lot_id=lot_id)
        return _freezer(self.workshop)
