"""What is planned at once when orders come in, are released, changed or joined, over HTTP: thin."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from core.messages import Text
from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.orders import changes, joining, services
from server.orders.documents import Part, differences
from server.orders.intake import import_opened
from server.orders.intake_api import FileIn, opened
from server.orders.models import Order, OrderChange
from server.orders.screens import OrderOut, order_out, orders_out
from server.plans.by_hand_api import SketchOut
from server.plans.effects import Effect, effect_of_change, effect_of_joining
from server.plans.services import plan_later, plan_stale
from server.plans.writing import settle_states
from server.workshops.models import Workshop

__all__ = [
    "AcceptView", "ApplyChangeView", "ChangeEffectView", "ChangesView", "IgnoreChangeView", "JoinEffectView",
    "JoinsView", "PartView", "ReleaseView", "plan_new",
]  # fmt: skip


class AcceptOut(BaseModel):
    """What importing the file did."""

    new_orders: int
    known_orders: int
    changed_orders: int
    cancelled_orders: int
    left_out_lines: int
    kept_channel: str  #: its columns are kept under this name


class DifferenceOut(BaseModel):
    """One thing that is otherwise."""

    part: Part
    of: str
    before: str
    after: str


class OrderChangeOut(BaseModel):
    """An order that came again otherwise, or cancelled."""

    id: int
    kind: Literal["changed", "cancelled"]
    order: OrderOut
    came_at: datetime
    differences: list[DifferenceOut]
    may_apply: bool  #: not at the bench, not packed, not packed with another


class ShiftOut(BaseModel):
    """How much of a supply is promised, before and after."""

    code: str
    name: str
    unit: Literal["pieces", "m2", "l", "m"]
    before: Decimal
    after: Decimal


class OrderEffectOut(BaseModel):
    """What would come of it: the plan now and then, what is promised, a label that would be of no use."""

    before: SketchOut | None
    after: SketchOut | None
    shifts: list[ShiftOut]
    label: str

    @classmethod
    def of(cls, effect: Effect) -> "OrderEffectOut":
        """Return what is shown of an effect."""
        return cls(
            before=SketchOut.of(effect.before) if effect.before else None,
            after=SketchOut.of(effect.after) if effect.after else None,
            shifts=[ShiftOut(**asdict(one)) for one in effect.shifts],
            label=effect.label,
        )


class JoinOut(BaseModel):
    """Orders of one buyer to one place."""

    buyer: str
    place: list[Text]
    orders: list[OrderOut]


class JoinsOut(BaseModel):
    """What could leave as one parcel."""

    offers: list[JoinOut]


class JoinIn(Body):
    """Orders to be packed as one."""

    order_ids: Annotated[list[int], Field(min_length=2, max_length=20)]


#: So many new orders are planned while the person waits; more are planned in the background.
_PLANNED_AT_ONCE = 8


def plan_new(workshop: Workshop, new: Sequence[int]) -> None:
    """Plan new orders: a few at once, many in the background."""
    if len(new) <= _PLANNED_AT_ONCE:
        plan_stale(workshop=workshop, orders=new)
    else:
        plan_later(workshop)


class AcceptView(MemberView):
    """POST /api/orders/intake/accept"""

    @operation("accept_orders")
    def post(self, body: FileIn) -> AcceptOut:
        """Import the valid orders of a file and plan them; keep how its columns are read, under the channel's name."""
        file = opened(self, body)
        if file.questions:
            asked = file.questions[0]
            what = {"missing": f"which column is {asked.field}", "word": f"what {asked.sample!r} means"}.get(
                asked.about, f"how {asked.sample!r} is read"
            )
            raise Refused(
                f"{len(file.questions)} things about this file are not certain; first: {what}. Answer them, then "
                "import.",
                code="not_matched",
                status=422,
                field="matching",
                facts={"questions": [f"{one.about}:{one.field}" for one in file.questions]},
            )
        if body.matching is not None and not body.channel.strip():
            raise Refused(
                "Give the channel a name: its orders are listed under it.",
                code="no_channel",
                status=422,
                field="channel",
            )
        intake, taken = import_opened(workshop=self.workshop, file=file, names=body.goods)
        plan_new(self.workshop, taken.new)
        used = sum(len(order.rows) for order in intake.orders)
        return AcceptOut(
            new_orders=len(taken.new),
            known_orders=taken.known,
            changed_orders=taken.changed,
            cancelled_orders=taken.cancelled,
            left_out_lines=len(file.read.raw) - used,
            kept_channel=file.channel if file.matching is not None else "",
        )


class ReleaseView(MemberView):
    """POST /api/orders/{id}/release"""

    @operation("release_order")
    def post(self, order_id: int) -> OrderOut:
        """Lift a hold."""
        order = services.release(by=self.member, order_id=order_id)
        settle_states(self.workshop, [order])
        plan_stale(workshop=self.workshop, orders=[order.pk])
        return order_out(self.workshop, order)


class ChangesView(MemberView):
    """GET /api/orders/changes"""

    @operation("order_changes")
    def get(self) -> Page[OrderChangeOut]:
        """Orders whose channel sent them again otherwise, or cancelled, and that nobody has looked at."""
        rows = OrderChange.objects.of(self.workshop).filter(state=OrderChange.State.OPEN).order_by("came_at", "id")
        return self.paged(rows, lambda page: _changes_out(self.workshop, page))


def _changes_out(workshop: Workshop, page: list[OrderChange]) -> list[OrderChangeOut]:
    wanted = Order.objects.of(workshop).filter(pk__in=[one.order_id for one in page])
    rows = list(
        wanted.select_related("plan", "joined_into").prefetch_related(
            "parcels", "joined", "joined_into__parcels", "lines"
        )
    )
    shown = {row.pk: out for row, out in zip(rows, orders_out(workshop, rows), strict=True)}
    by_id = {row.pk: row for row in rows}
    return [
        OrderChangeOut(
            id=one.pk,
            kind="cancelled" if one.kind == "cancelled" else "changed",
            order=shown[one.order_id],
            came_at=one.came_at,
            differences=[
                DifferenceOut(**asdict(each))
                for each in differences(changes.before_change(by_id[one.order_id]), one.document)
            ]
            if one.kind == "changed"
            else [],
            may_apply=shown[one.order_id].state not in ("bench", "packed", "joined") and not shown[one.order_id].joined,
        )
        for one in page
    ]


class ChangeEffectView(MemberView):
    """GET /api/orders/changes/{id}/effect"""

    @operation("order_change_effect")
    def get(self, change_id: int) -> OrderEffectOut:
        """What applying a change would do to plan, reservation and label."""
        change = OrderChange.objects.of(self.workshop).filter(pk=change_id).select_related("order").first()
        if change is None:
            raise Refused("There is no such change in your workshop.", code="not_found", status=404)
        return OrderEffectOut.of(effect_of_change(self.workshop, change))


class ApplyChangeView(MemberView):
    """POST /api/orders/changes/{id}/apply"""

    @operation("apply_order_change")
    def post(self, change_id: int) -> OrderOut:
        """Make the order as its channel says, and plan it again."""
        order = changes.apply_change(by=self.member, change_id=change_id)
        return _planned_again(self.workshop, [order])[0]


class IgnoreChangeView(MemberView):
    """POST /api/orders/changes/{id}/ignore"""

    @operation("ignore_order_change")
    def post(self, change_id: int) -> OrderOut:
        """Keep the order as it is here."""
        order = changes.ignore_change(by=self.member, change_id=change_id)
        return _planned_again(self.workshop, [order])[0]


class JoinsView(MemberView):
    """GET, POST /api/orders/joins"""

    @operation("join_offers")
    def get(self) -> JoinsOut:
        """Open orders of one buyer to one place."""
        offers = joining.join_offers(self.workshop)
        wanted = Order.objects.of(self.workshop).filter(pk__in=[one.pk for offer in offers for one in offer.orders])
        rows = wanted.select_related("plan", "joined_into").prefetch_related(
            "parcels", "joined", "joined_into__parcels"
        )
        shown = {out.id: out for out in orders_out(self.workshop, list(rows))}
        return JoinsOut(
            offers=[
                JoinOut(
                    buyer=offer.orders[0].buyer,
                    place=[*offer.orders[0].address, f"{offer.orders[0].postcode} {offer.orders[0].country}"],
                    orders=[shown[one.pk] for one in offer.orders],
                )
                for offer in offers
            ]
        )

    @operation("join_orders")
    def post(self, body: JoinIn) -> OrderOut:
        """Pack these orders as one parcel."""
        lead = joining.join(by=self.member, order_ids=body.order_ids)
        return _planned_again(self.workshop, [lead])[0]


class JoinEffectView(MemberView):
    """POST /api/orders/joins/effect"""

    @operation("join_effect")
    def post(self, body: JoinIn) -> OrderEffectOut:
        """What packing these orders as one would do; nothing is saved."""
        rows = list(
            Order.objects.of(self.workshop)
            .filter(pk__in=body.order_ids)
            .order_by("placed_on", "id")
            .prefetch_related("lines")
        )
        if len(rows) < len(set(body.order_ids)):
            raise Refused("There is no such order in your workshop.", code="not_found", status=404)
        return OrderEffectOut.of(effect_of_joining(self.workshop, rows))


class PartView(MemberView):
    """POST /api/orders/{id}/part"""

    @operation("part_orders")
    def post(self, order_id: int) -> OrderOut:
        """Pack joined orders apart again."""
        return _planned_again(self.workshop, joining.part(by=self.member, order_id=order_id))[0]


def _planned_again(workshop: Workshop, orders: Sequence[Order]) -> list[OrderOut]:
    settle_states(workshop, orders)
    plan_stale(workshop=workshop, orders=[one.pk for one in orders])
    return [order_out(workshop, one) for one in orders]
