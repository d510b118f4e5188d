"""What is left per unit of a product at order sizes 1, 2, 3 ..., sold as the workshop sells (money)."""

from decimal import Decimal
from typing import Literal

from pydantic import BaseModel

from core.money.per_unit import Selling, left_per_unit
from core.money.policies import Charge, SentOrder, charge_of
from core.units import round_money
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.designing.missed_steps import costs_per_unit
from server.formats.charges_request import PolicyDoc
from server.money.charges import ours_on, policy_of
from server.money.models import ChargePolicy, FeeRow
from server.money.reading import fee_rule, zoning_of
from server.orders.models import Order, OrderLine
from server.recipes.models import Product
from server.recipes.selectors import versions_in_force
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["UnitLeftOut", "UnitsLeftOut", "units_left"]

_NEWEST = 200


class UnitLeftOut(BaseModel):
    """So many units ordered at once."""

    units: int
    cost: Decimal
    marginal_cost: Decimal | None
    charged: Decimal
    left: Decimal
    left_each: Decimal
    turns_at: Decimal
    bundle_least: Decimal | None
    bundle: Decimal | None
    containers: str
    services: str


class UnitsLeftOut(BaseModel):
    """What is left of a product."""

    product_id: int
    name: str
    price: Decimal | None  #: None: it was not sold yet, and none was asked for
    price_from: Literal["asked", "sold", "nowhere"]  #: sold: in the newest order
    goods_cost: Decimal
    charged_by: str  #: name of our policy; empty: what buyers paid on average
    rows: list[UnitLeftOut]
    problem: Literal["", "no_price", "no_recipe", "cannot_be_planned"]  #: why there are no rows


def units_left(workshop: Workshop, product_id: int, price: Decimal | None, most: int) -> UnitsLeftOut:
    """Return what is left per unit; no rows, and why, where nothing can be said. Raises Refused (404)."""
    row = Product.objects.of(workshop).filter(pk=product_id).first()
    if row is None:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    sold = OrderLine.objects.of(workshop).filter(product=row).order_by("-id").first()
    taken = price if price is not None else (sold.unit_price if sold is not None else None)
    if taken is None or not versions_in_force(workshop, [row.recipe_id] if row.recipe_id else []):
        return UnitsLeftOut(
            product_id=row.pk, name=row.name, price=taken, price_from="sold" if sold else "nowhere",
            goods_cost=row.goods_cost, charged_by="", rows=[], problem="no_price" if taken is None else "no_recipe",
        )  # fmt: skip
    place = desk_of(workshop).usual
    costs = costs_per_unit(workshop, product_id, place, most)
    policy, mean = _policy(workshop)
    digits = workshop.money_digits
    zone = zoning_of(workshop).zone(Order(workshop=workshop, country=place.country, postcode=place.postcode))
    found: list[tuple[int, Decimal, Decimal]] = []
    for one in costs:
        if one.total is None:
            continue
        charged = mean
        if policy is not None:
            sent = SentOrder(
                key="", value=taken * one.units, weight_mg=one.gross_mg, zone=zone, units=one.units, paid=one.postage
            )
            charge = charge_of(policy_of(PolicyDoc.model_validate(policy.document), policy.name, digits), sent)
            charged = charge.amount if isinstance(charge, Charge) else Decimal(0)
        found.append((one.units, one.total, charged))
    channel = sold.order.channel if sold is not None else ""
    fees = list(FeeRow.objects.of(workshop).order_by("-from_day"))
    day = today(workshop)
    selling = Selling(
        price=taken,
        goods_cost=row.goods_cost,
        channel=fee_rule(fees, "channel", channel, day),
        payment=fee_rule(fees, "payment", channel, day),
        tax_percent=fee_rule(fees, "tax", channel, day).percent,
        digits=digits,
    )
    by_units = {one.units: one for one in costs}
    return UnitsLeftOut(
        product_id=row.pk,
        name=row.name,
        price=taken,
        price_from="asked" if price is not None else "sold",
        goods_cost=row.goods_cost,
        charged_by=policy.name if policy is not None else "",
        rows=[
            UnitLeftOut(
                units=one.units, cost=one.cost, marginal_cost=one.marginal_cost, charged=one.charged, left=one.left,
                left_each=one.left_each, turns_at=one.turns_at, bundle_least=one.bundle_least, bundle=one.bundle,
                containers=by_units[one.units].containers, services=by_units[one.units].services,
            )
            for one in left_per_unit(selling, found)
        ],
        problem="" if found else "cannot_be_planned",
    )  # fmt: skip


def _policy(workshop: Workshop) -> tuple[ChargePolicy | None, Decimal]:
    """Return our policy, or what buyers of the newest orders paid on average."""
    policy = ours_on(list(ChargePolicy.objects.of(workshop)), today(workshop))
    newest = Order.objects.of(workshop).exclude(state=Order.State.CANCELLED).order_by("-placed_on", "-id")
    paid = list(newest.values_list("postage_charged", flat=True)[:_NEWEST])
    mean = round_money(sum(paid, Decimal(0)) / len(paid), workshop.money_digits) if paid else Decimal(0)
    return policy, mean
