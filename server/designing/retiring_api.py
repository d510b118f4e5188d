"""Retiring a supply over HTTP: thin."""

from decimal import Decimal

from pydantic import BaseModel

from server.api.bodies import Body
from server.api.operation import operation
from server.api.views import MemberView
from server.designing.retiring import retire_supply, uses_of_supply

__all__ = ["RetireView", "SupplyUsesView"]

_SHOWN = 20


class Named(BaseModel):
    """Something by its name."""

    id: int
    name: str


class SupplyUsesOut(BaseModel):
    """Who would miss a supply, and what could take its place."""

    recipes: list[Named]
    recipe_count: int
    orders: list[Named]
    order_count: int
    on_hand: Decimal
    label: bool
    replacements: list[Named]


class RetireIn(Body):
    """What takes its place in the recipes; None: nothing has to."""

    replace_by: int | None = None


class RetiredOut(BaseModel):
    """What was retired."""

    id: int
    name: str


class SupplyUsesView(MemberView):
    """GET /api/supplies/{id}/uses"""

    @operation("supply_uses")
    def get(self, supply_id: int) -> SupplyUsesOut:
        """Who uses a supply now."""
        found = uses_of_supply(self.workshop, supply_id)
        return SupplyUsesOut(
            recipes=[Named(id=one.pk, name=one.name) for one in found.recipes[:_SHOWN]],
            recipe_count=len(found.recipes),
            orders=[Named(id=one.pk, name=f"{one.number}, {one.buyer}") for one in found.orders[:_SHOWN]],
            order_count=len(found.orders),
            on_hand=found.on_hand,
            label=found.label,
            replacements=[Named(id=one.pk, name=f"{one.code} {one.name}") for one in found.replacements],
        )


class RetireView(MemberView):
    """POST /api/supplies/{id}/retire"""

    owner_only = frozenset({"POST"})

    @operation("retire_supply")
    def post(self, body: RetireIn, supply_id: int) -> RetiredOut:
        """Take a supply out of use; in recipes another takes its place."""
        row = retire_supply(by=self.member, supply_id=supply_id, replace_by=body.replace_by)
        return RetiredOut(id=row.pk, name=row.name)
