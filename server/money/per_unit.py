"""What is left per unit of a product at order sizes 1, 2, 3 ..., sold as the workshop sells (money)."""

from collections.abc import Callable
from decimal import Decimal
from typing import Literal

from pydantic import BaseModel

from core.advising.spare import UnitCost
from core.money.fees import fee_on
from core.money.per_unit import Selling, UnitLeft, left_per_unit
from core.money.policies import Charge, SentOrder, charge_of
from core.units import round_money
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.designing.missed_steps import costs_per_unit
from server.money.models import ChargePolicy
from server.money.policies import core_policy, ours_on
from server.money.reading import fees_of
from server.money.zoning import zoning_of
from server.orders.models import Order, OrderLine
from server.recipes.models import Product
from server.recipes.selectors import versions_in_force
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["UnitsLeftOut", "units_left"]

#: What buyers pay on average is that of so many of the newest orders.
_NEWEST = 200


class UnitsLeftOut(BaseModel):
    """What is left of a product."""

    product_id: int
    name: str
    price: Decimal | None  #: None: it was not sold yet, and none was asked for
    price_from: Literal["asked", "sold", "nowhere"]  #: sold: in the newest order
    goods_cost: Decimal
    charged_by: str  #: name of our policy; empty: what buyers paid on average
    rows: tuple[UnitLeft, ...]  #: sizes that can be planned, and that our policy has a charge for
    problem: Literal["", "no_price", "no_recipe", "cannot_be_planned"]  #: why there are no rows


def units_left(workshop: Workshop, product_id: int, price: Decimal | None, most: int) -> UnitsLeftOut:
    """Return what is left per unit; no rows, and why, where nothing can be said. Raises Refused (404)."""
    row = Product.objects.of(workshop).filter(pk=product_id).first()
    if row is None:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    sold = OrderLine.objects.of(workshop).filter(product=row).select_related("order").order_by("-id").first()
    taken = price if price is not None else sold.unit_price if sold is not None else None
    found = UnitsLeftOut(
        product_id=row.pk,
        name=row.name,
        price=taken,
        price_from="asked" if price is not None else "sold" if sold is not None else "nowhere",
        goods_cost=row.goods_cost,
        charged_by="",
        rows=(),
        problem="",
    )
    if taken is None:
        return found.model_copy(update={"problem": "no_price"})
    if not versions_in_force(workshop, [row.recipe_id] if row.recipe_id else []):
        return found.model_copy(update={"problem": "no_recipe"})
    place = desk_of(workshop).usual
    policy = ours_on(list(ChargePolicy.objects.of(workshop).select_related("workshop")), today(workshop))
    charge = _by_policy(policy, taken, zoning_of(workshop).zone(place)) if policy else _on_average(workshop)
    costs = [
        (one.units, one.total, charged)
        for one in costs_per_unit(workshop, product_id, place, most)
        if one.total is not None and (charged := charge(one)) is not None
    ]
    fees, channel, day = fees_of(workshop), sold.order.channel if sold is not None else "", today(workshop)
    selling = Selling(
        price=taken,
        goods_cost=row.goods_cost,
        channel=fee_on(fees, "channel", channel, day),
        payment=fee_on(fees, "payment", channel, day),
        tax_percent=fee_on(fees, "tax", channel, day).percent,
        digits=workshop.money_digits,
    )
    return found.model_copy(
        update={
            "charged_by": policy.name if policy is not None else "",
            "rows": left_per_unit(selling, costs),
            "problem": "" if costs else "cannot_be_planned",
        }
    )


def _by_policy(row: ChargePolicy, price: Decimal, zone: str) -> Callable[[UnitCost], Decimal | None]:
    policy = core_policy(row)

    def charge(one: UnitCost) -> Decimal | None:
        sent = SentOrder(
            key="", value=price * one.units, weight_mg=one.gross_mg, zone=zone, units=one.units, paid=one.postage
        )
        found = charge_of(policy, sent)
        return found.amount if isinstance(found, Charge) else None

    return charge


def _on_average(workshop: Workshop) -> Callable[[UnitCost], Decimal | None]:
    """What buyers of the newest orders paid on average, whatever they ordered."""
    newest = Order.objects.of(workshop).exclude(state=Order.State.CANCELLED).order_by("-placed_on", "-id")
    paid = list(newest.values_list("postage_charged", flat=True)[:_NEWEST])
    mean = round_money(sum(paid, Decimal(0)) / len(paid), workshop.money_digits) if paid else Decimal(0)
    return lambda one: mean
