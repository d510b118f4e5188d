"""Orders typed in and changed by a person, with what comes of it, over HTTP: thin."""

from dataclasses import asdict
from datetime import date
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from core.messages import Text
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.orders import by_hand
from server.orders.models import Order
from server.orders.screens import OrderOut, order_out
from server.plans.services import plan_stale
from server.plans.sketching import Sketch, sketch
from server.plans.writing import settle_states

__all__ = ["AddOrderView", "BuyersView", "ChangeOrderView", "SketchView"]

_Amount = Annotated[Decimal, Field(ge=0, max_digits=9, decimal_places=2)]


class TypedLineIn(Body):
    """So many of one product."""

    sku: Annotated[str, Field(min_length=1, max_length=40)]
    quantity: Annotated[int, Field(ge=1, le=10_000)]
    unit_price: _Amount


class TypedOrderIn(Body):
    """An order as it is typed."""

    number: Annotated[str, Field(max_length=40)] = ""
    placed_on: date | None = None
    buyer: Annotated[str, Field(min_length=1, max_length=80)]
    address: Annotated[list[Annotated[str, Field(min_length=1, max_length=120)]], Field(min_length=1, max_length=4)]
    postcode: Annotated[str, Field(min_length=1, max_length=12)]
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    note: Annotated[str, Field(max_length=500)] = ""
    paid: bool = True
    gift: bool = False
    postage_charged: _Amount = Decimal(0)
    lines: Annotated[list[TypedLineIn], Field(min_length=1, max_length=200)]

    def value(self) -> by_hand.TypedOrder:
        """Return the order as the services want it. Raises Refused when a product stands on two lines."""
        skus = [line.sku for line in self.lines]
        for at, sku in enumerate(skus):
            if sku in skus[:at]:
                raise Refused(
                    f"{sku} is on two lines. Put its units on one.", code="twice", status=422, field=f"lines.{at}.sku"
                )
        return by_hand.TypedOrder(
            **self.model_dump(exclude={"lines", "address"}),
            address=tuple(self.address),
            lines=tuple(by_hand.TypedLine(**line.model_dump()) for line in self.lines),
        )


class AddOrderIn(Body):
    """A new order."""

    order: TypedOrderIn
    request_key: UUID


class ChangeOrderIn(Body):
    """An order as it shall be, and the revision that was seen."""

    order: TypedOrderIn
    revision: Annotated[int, Field(ge=0)]


class SketchIn(Body):
    """An order that is being typed; ``order_id`` when it is one that is there."""

    order: TypedOrderIn
    order_id: int | None = None


class SketchOut(BaseModel):
    """What comes of an order: how it would be packed and sent, and what it costs; or what is missing."""

    planned: bool
    containers: list[Text]
    gross_mg: int
    service: str
    arrives_on: date | None
    postage: Decimal
    total: Decimal
    missing: list[Text]
    zone_known: bool  #: some price list has a zone for the place

    @classmethod
    def of(cls, found: Sketch) -> "SketchOut":
        """Return what is shown of a sketch."""
        return cls(**asdict(found) | {"containers": list(found.containers), "missing": list(found.missing)})


class ChangeOut(BaseModel):
    """What a change does: the plan as it is, and as it would be."""

    before: SketchOut | None
    after: SketchOut


class BuyerOut(BaseModel):
    """Somebody who ordered before."""

    buyer: str
    address: list[str]
    postcode: str
    country: str
    orders: int


class BuyersOut(BaseModel):
    """Those whose name holds what was typed."""

    buyers: list[BuyerOut]


class AddOrderView(MemberView):
    """POST /api/orders/by-hand"""

    @operation("add_order", status=201)
    def post(self, body: AddOrderIn) -> OrderOut:
        """Take in an order that was typed, and plan it."""
        order = by_hand.add_order(by=self.member, typed=body.order.value(), request_key=body.request_key)
        plan_stale(workshop=self.workshop, orders=[order.pk])
        return order_out(self.workshop, order)


class ChangeOrderView(MemberView):
    """POST /api/orders/{id}/change"""

    @operation("change_order")
    def post(self, body: ChangeOrderIn, order_id: int) -> OrderOut:
        """Change an open order and plan it again."""
        order = by_hand.change_order(
            by=self.member, order_id=order_id, typed=body.order.value(), revision=body.revision
        )
        settle_states(self.workshop, [order])
        plan_stale(workshop=self.workshop, orders=[order.pk])
        return order_out(self.workshop, order)


class SketchView(MemberView):
    """POST /api/orders/by-hand/sketch"""

    @operation("sketch_order")
    def post(self, body: SketchIn) -> ChangeOut:
        """What would come of the order; nothing is saved."""
        old = None
        if body.order_id is not None:
            old = Order.objects.of(self.workshop).filter(pk=body.order_id).first()
            if old is None:
                raise Refused("There is no such order in your workshop.", code="not_found", status=404)
        found = sketch(self.workshop, body.order.value(), old)
        return ChangeOut(before=SketchOut.of(found.before) if found.before else None, after=SketchOut.of(found.after))


class BuyersView(MemberView):
    """GET /api/buyers"""

    @operation("buyers", parameters=[OpenApiParameter("find", str, description="Part of the name")])
    def get(self) -> BuyersOut:
        """Who ordered before, the last ones first."""
        found = by_hand.buyers(self.workshop, self.sought) if self.sought else []
        return BuyersOut(buyers=[BuyerOut(**asdict(one) | {"address": list(one.address)}) for one in found])
