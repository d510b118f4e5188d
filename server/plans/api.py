"""Plans over HTTP: thin."""

from dataclasses import asdict
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Literal, cast

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.care.thermal import MOST_PACKS
from core.messages import Text
from core.parcels.divide import MOST_PARCELS
from core.parcels.facts import CareChoice, Overrides
from core.parcels.packed import ThermalWish
from core.parcels.room import Room
from server.api.bodies import Body
from server.api.downloads import paper
from server.api.operation import PROBLEMS, operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.formats.pack_card import pack_card_pdf
from server.orders.screens import OrderOut, order_out
from server.plans import services, waves
from server.plans.models import Plan
from server.plans.screens import BlockedView, PlanView, card_sheets, plan_view
from server.plans.writing import overrides_of

__all__ = [
    "ChooseView",
    "DecisionsIn",
    "OrderPlanOut",
    "OrderPlanView",
    "OverridesView",
    "PackCardView",
    "RoomView",
    "StopWaveView",
    "WaveView",
    "decisions_of",
]


class ShareLine(Body):
    """So many units of one product in a parcel."""

    sku: Annotated[str, Field(max_length=40)]
    units: Annotated[int, Field(ge=1, le=100_000)]


class CareChoiceIn(Body):
    """What goes in against heat and cold, and what the buyer agreed to."""

    liner: Annotated[str, Field(max_length=30)] = ""
    pack: Annotated[str, Field(max_length=30)] = ""
    count: Annotated[int, Field(ge=0, le=MOST_PACKS)] = 0
    agreed_low_c: Decimal | None = None
    agreed_high_c: Decimal | None = None
    agreed_words: Annotated[str, Field(max_length=500)] = ""
    agreed_on: date | None = None

    @classmethod
    def of(cls, choice: CareChoice) -> "CareChoiceIn":
        """Return the core's value as it is sent in."""
        return cls(**{**asdict(choice.wish), **{k: v for k, v in asdict(choice).items() if k != "wish"}})

    def core(self) -> CareChoice:
        """Return the core's value."""
        wish = ThermalWish(liner=self.liner, pack=self.pack if self.count else "", count=self.count if self.pack else 0)
        return CareChoice(
            wish=wish,
            agreed_low_c=self.agreed_low_c,
            agreed_high_c=self.agreed_high_c,
            agreed_words=self.agreed_words,
            agreed_on=self.agreed_on,
        )


class OverridesOut(BaseModel):
    """What a person decided for this order."""

    container: str | None
    forbidden: tuple[str, ...]
    may_lie_down: tuple[str, ...]
    note: str
    parcels: int | None
    shares: list[list[ShareLine]]
    service: str | None
    not_before: date | None
    arrive_by: date | None
    omitted: tuple[str, ...]
    substitutes: tuple[tuple[str, str], ...]
    care: "CareChoiceIn | None" = None


class OrderPlanOut(BaseModel):
    """An order with its plan."""

    order: OrderOut
    ship_on: date
    planned_at: datetime
    overrides: OverridesOut
    care: Literal["", "safe", "danger", "agreed"]  #: what the weather of its way does; empty: no goods have a limit
    plan: Annotated[PlanView | BlockedView, Field(discriminator="status")]


def _overrides_out(overrides: Overrides) -> OverridesOut:
    shares = [[ShareLine(sku=sku, units=units) for sku, units in share] for share in overrides.shares]
    care = CareChoiceIn.of(overrides.care) if overrides.care is not None else None
    return OverridesOut(**{**asdict(overrides), "shares": shares, "care": care})


class ChooseIn(Body):
    """A container chosen by a person; null takes the choice back."""

    container: Annotated[str, Field(max_length=200)] | None


class OverridesIn(Body):
    """What a person decides for this order besides the container; the whole of it each time."""

    forbidden: Annotated[list[Annotated[str, Field(max_length=30)]], Field(max_length=200)]
    may_lie_down: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=200)]
    note: Annotated[str, Field(max_length=300)]
    not_before: date | None = None
    arrive_by: date | None = None
    parcels: Annotated[int, Field(ge=1, le=MOST_PARCELS)] | None = None
    shares: Annotated[
        list[Annotated[list[ShareLine], Field(min_length=1, max_length=200)]], Field(max_length=MOST_PARCELS)
    ] = []


_Code = Annotated[str, Field(max_length=30)]


class DecisionsIn(Body):
    """Everything a person decides for this order, whole: what is left out is decided no longer."""

    container: Annotated[str, Field(max_length=200)] | None = None
    forbidden: Annotated[list[_Code], Field(max_length=200)] = []
    may_lie_down: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=200)] = []
    note: Annotated[str, Field(max_length=300)] = ""
    parcels: Annotated[int, Field(ge=1, le=MOST_PARCELS)] | None = None
    shares: Annotated[
        list[Annotated[list[ShareLine], Field(min_length=1, max_length=200)]], Field(max_length=MOST_PARCELS)
    ] = []
    service: _Code | None = None
    not_before: date | None = None
    arrive_by: date | None = None
    omitted: Annotated[list[_Code], Field(max_length=100)] = []
    substitutes: Annotated[list[tuple[_Code, _Code]], Field(max_length=100)] = []
    care: CareChoiceIn | None = None

    @classmethod
    def of(cls, overrides: Overrides) -> "DecisionsIn":
        """Return the core's overrides as they are sent in."""
        return cls.model_validate(_overrides_out(overrides).model_dump())


def decisions_of(body: DecisionsIn) -> Overrides:
    """Return what was sent in as the core wants it."""
    return Overrides(
        container=body.container or None,
        forbidden=tuple(body.forbidden),
        may_lie_down=tuple(body.may_lie_down),
        note=body.note,
        parcels=None if body.shares else body.parcels,
        shares=tuple(tuple((line.sku, line.units) for line in share) for share in body.shares),
        service=body.service or None,
        not_before=body.not_before,
        arrive_by=body.arrive_by,
        omitted=tuple(body.omitted),
        substitutes=tuple(body.substitutes),
        care=body.care.core() if body.care is not None else None,
    )


class OrderPlanView(MemberView):
    """GET /api/orders/{id}/plan"""

    @operation("order_plan")
    def get(self, order_id: int) -> OrderPlanOut:
        """The order's plan, planned again first when something it depends on has changed."""
        return self._out(services.fresh_plan(workshop=self.workshop, order_id=order_id))

    def _out(self, plan: Plan) -> OrderPlanOut:
        return OrderPlanOut(
            order=order_out(self.workshop, plan.order),
            ship_on=plan.ship_on,
            planned_at=plan.at,
            overrides=_overrides_out(overrides_of(plan)),
            care=cast(Literal["", "safe", "danger", "agreed"], plan.care_state),
            plan=plan_view(self.workshop, plan),
        )


class OverridesView(OrderPlanView):
    """POST /api/orders/{id}/plan/overrides"""

    http_method_names = ["post", "options"]

    @operation("set_overrides")
    def post(self, body: OverridesIn, order_id: int) -> OrderPlanOut:
        """Rule containers out, let goods lie down, set days, leave a note; what leaves no way is refused."""
        wanted = Overrides(
            forbidden=tuple(body.forbidden),
            may_lie_down=tuple(body.may_lie_down),
            note=body.note,
            not_before=body.not_before,
            arrive_by=body.arrive_by,
            parcels=None if body.shares else body.parcels,
            shares=tuple(tuple((line.sku, line.units) for line in share) for share in body.shares),
        )
        plan = services.set_overrides(workshop=self.workshop, order_id=order_id, wanted=wanted)
        return self._out(plan)


class RoomLine(BaseModel):
    """How many more of one product fit."""

    sku: str
    name: str
    more: int
    limit: Text


class ParcelRoom(BaseModel):
    """Room to spare in one parcel's container."""

    container: Text
    lines: list[RoomLine]


class RoomOut(BaseModel):
    """Room to spare, parcel by parcel."""

    parcels: list[ParcelRoom]


def _lines(rooms: tuple[Room, ...]) -> list[RoomLine]:
    return [RoomLine(sku=r.sku, name=r.name, more=r.more, limit=r.limit) for r in rooms]


class RoomView(MemberView):
    """GET /api/orders/{id}/plan/room"""

    @operation("plan_room")
    def get(self, order_id: int) -> RoomOut:
        """How many more of each product would go into the chosen container."""
        found = services.room_in(workshop=self.workshop, order_id=order_id)
        return RoomOut(parcels=[ParcelRoom(container=name, lines=_lines(rooms)) for name, rooms in found])


class PackCardView(MemberView):
    """GET /api/orders/{id}/plan/card.pdf"""

    @extend_schema(operation_id="pack_card", responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, order_id: int) -> HttpResponse:
        """The plan on paper: the same layers, drawings and amounts."""
        plan = services.fresh_plan(workshop=self.workshop, order_id=order_id)
        view = plan_view(self.workshop, plan)
        if isinstance(view, BlockedView):
            raise Refused("This order has no plan to print; see what is missing.", code="blocked")
        content = pack_card_pdf(card_sheets(self.workshop, plan, view))
        return paper(content, f"pack-card-{plan.order.pk}.pdf")


class WaveOut(BaseModel):
    """Planning in the background: how far it is."""

    running: bool
    done: int
    total: int
    stopping: bool
    failed: int  #: orders left out because of an error
    waiting: bool  #: the worker gives no sign of life: it goes on when one is there
    due: int  #: orders that wait for a plan


class WaveView(MemberView):
    """GET and POST /api/plans/wave"""

    @operation("wave")
    def get(self) -> WaveOut:
        """How far the wave under way is."""
        return self._out()

    @operation("plan_all_again")
    def post(self) -> WaveOut:
        """Plan every open order again, in the background."""
        waves.plan_all_again(workshop=self.workshop)
        return self._out()

    def _out(self) -> WaveOut:
        wave = waves.wave_of(self.workshop)
        due = services.due_orders(self.workshop).count()
        if wave is None:
            return WaveOut(running=False, done=0, total=0, stopping=False, failed=0, waiting=False, due=due)
        return WaveOut(
            running=True,
            done=wave.done,
            total=wave.total,
            stopping=wave.stop_asked,
            failed=wave.failed,
            waiting=wave.told_at < timezone.now() - waves.SILENT,
            due=due,
        )


class StopWaveView(WaveView):
    """POST /api/plans/wave/stop"""

    http_method_names = ["post", "options"]

    @operation("stop_wave")
    def post(self) -> WaveOut:
        """Stop the wave after the orders it is at; what is planned stays planned."""
        waves.stop_wave(workshop=self.workshop)
        return self._out()


class ChooseView(OrderPlanView):
    """POST /api/orders/{id}/plan/container"""

    http_method_names = ["post", "options"]

    @operation("choose_container")
    def post(self, body: ChooseIn, order_id: int) -> OrderPlanOut:
        """Choose another container, or take the choice back."""
        plan = services.choose_container(workshop=self.workshop, order_id=order_id, container=body.container or "")
        return self._out(plan)
