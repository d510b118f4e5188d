"""What a change of an order, or joining orders, does to plan, reservation and label; nothing saved (plans)."""

from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.tariffs.quote import tariffs_in_force
from core.tariffs.reach import PlaceCheck, check_place
from server.carriers.models import Label
from server.carriers.selectors import core_tariffs
from server.formats.supplies import STOCK_UNITS
from server.orders.documents import lines_of
from server.orders.joining import joined_lines
from server.orders.models import Order, OrderChange, OrderLine
from server.plans.facts import place_of, settings_of
from server.plans.mapping import plan_of
from server.plans.models import Plan, PlannedUse
from server.plans.sketching import Sketch, sketch_of
from server.plans.writing import draft
from server.recipes.models import Product
from server.supplies.models import Supply
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["Effect", "Shift", "effect_of_change", "effect_of_joining", "place_check"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Shift:
    """How much of a supply is promised, before and after; stock units."""

    code: str
    name: str
    unit: Literal["pieces", "m2", "l", "m"]
    before: Decimal
    after: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What would come of it."""

    before: Sketch | None
    after: Sketch | None  #: None: nothing is sent any more
    shifts: tuple[Shift, ...]
    label: str  #: service and tracking number of a label that is bought; empty: none


def place_check(workshop: Workshop, order: Order) -> PlaceCheck:
    """Return what the price lists of today say of an order's place."""
    tariffs = tariffs_in_force(core_tariffs(workshop), today(workshop))
    return check_place(tariffs, place_of(order), settings_of(workshop).origin)


def effect_of_change(workshop: Workshop, change: OrderChange) -> Effect:
    """Return what applying a change would do."""
    order = change.order
    before, promised = _now(workshop, [order])
    if change.kind == "cancelled":
        return Effect(before=before, after=None, shifts=_shifts(workshop, promised, {}), label=_label(workshop, order))
    document = change.document
    wanted = lines_of(document)
    products = {one.sku: one for one in Product.objects.of(workshop).filter(sku__in=[sku for sku, *_ in wanted])}
    lines = [
        OrderLine(workshop=workshop, order=order, position=at, sku=sku, product=products.get(sku), quantity=quantity,
                  unit_price=price)
        for at, (sku, quantity, price, _) in enumerate(wanted, start=1)
    ]  # fmt: skip
    changed = copy(order)
    changed.postcode, changed.country, changed.gift = document["postcode"], document["country"], document["gift"]
    changed.goods_value = sum((price * quantity for _, quantity, price, _ in wanted), Decimal(0))
    return _planned(workshop, changed, lines, before, promised, _label(workshop, order))


def effect_of_joining(workshop: Workshop, orders: Sequence[Order]) -> Effect:
    """Return what packing these orders as one would do; ``before`` is what they cost apart, together."""
    before, promised = _now(workshop, orders)
    lead = copy(orders[0])
    lead.goods_value = sum((one.goods_value for one in orders), Decimal(0))
    return _planned(workshop, lead, joined_lines(orders), before, promised, "")


def _planned(
    workshop: Workshop,
    order: Order,
    lines: Sequence[OrderLine],
    before: Sketch | None,
    promised: Mapping[str, Decimal],
    label: str,
) -> Effect:
    drafted = draft(workshop, [order], typed={order.pk: lines}).orders[0]
    reached = place_check(workshop, order).reached
    return Effect(
        before=before,
        after=sketch_of(drafted.result, zone_known=reached),
        shifts=_shifts(workshop, promised, drafted.needed),
        label=label,
    )


def _now(workshop: Workshop, orders: Sequence[Order]) -> tuple[Sketch | None, dict[str, Decimal]]:
    """Return how the orders are planned now, added up, and what that promises."""
    plans = list(Plan.objects.of(workshop).filter(order__in=orders).select_related("kept").order_by("order_id"))
    uses = PlannedUse.objects.of(workshop).filter(plan__in=plans).select_related("supply")
    promised: dict[str, Decimal] = {}
    for use in uses:
        promised[use.supply.code] = promised.get(use.supply.code, Decimal(0)) + use.quantity
    sketches = [sketch_of(plan_of(plan.kept), zone_known=True) for plan in plans]
    if not sketches or len(sketches) < len(orders):
        return None, promised
    return sum(sketches[1:], sketches[0]), promised


def _shifts(workshop: Workshop, before: Mapping[str, Decimal], after: Mapping[str, Decimal]) -> tuple[Shift, ...]:
    codes = [code for code in dict.fromkeys([*before, *after]) if before.get(code, 0) != after.get(code, 0)]
    rows = {row.code: row for row in Supply.objects.of(workshop).filter(code__in=codes)}
    return tuple(
        Shift(
            code=code,
            name=rows[code].name,
            unit=STOCK_UNITS[rows[code].kind],
            before=before.get(code, Decimal(0)),
            after=after.get(code, Decimal(0)),
        )
        for code in codes
        if code in rows
    )


def _label(workshop: Workshop, order: Order) -> str:
    label = Label.objects.of(workshop).filter(parcel__order=order, state=Label.State.BOUGHT).order_by("-id").first()
    return f"{label.service_name}, {label.tracking}" if label is not None else ""
