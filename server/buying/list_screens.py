"""What to buy, as the screen reads it: orders by supplier, what is left out, the month's money (buying)."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal

from pydantic import BaseModel

from core.buying.needs import Line, ListWhy
from core.buying.plan import Outcome, SupplierOrder, buy, without_offer
from server.buying.reading import BuyRead, read_buying, spent_this_month
from server.buying.supply_screens import BuyAmountOut, amount_out
from server.workshops.models import Workshop

__all__ = ["BuyListOut", "buy_list_out"]


class BuyLineOut(BaseModel):
    """One line to buy."""

    supply_id: int
    code: str
    name: str
    place: str
    unit: str
    why: ListWhy
    on_hand: Decimal
    reserved: Decimal
    mark: Decimal | None
    quantity: Decimal
    each: Decimal
    goods_cost: Decimal
    pack: Decimal
    pack_name: str
    runs_out: date | None
    order_by: date | None
    lasts_until: date | None
    cover_days: int | None  #: days of use the stock is good for now
    too_late: bool
    better: BuyAmountOut | None  #: a larger amount that costs less a year, where the budget took a smaller one
    edited: bool


class FreeDeliveryOut(BaseModel):
    """What more would make the delivery free."""

    adds: dict[str, Decimal]  #: by the supply's code
    goods_cost: Decimal
    saves: Decimal


class BuyOrderOut(BaseModel):
    """One order to one supplier."""

    supplier_id: int
    supplier: str
    contact: str
    order_by: date | None
    arrives_on: date
    goods_cost: Decimal
    delivery_cost: Decimal
    total: Decimal
    free_from: Decimal | None
    to_free: FreeDeliveryOut | None
    lines: list[BuyLineOut]


class LeftOutOut(BaseModel):
    """A line the budget has no room for."""

    supply_id: int
    code: str
    name: str
    unit: str
    supplier: str
    quantity: Decimal
    goods_cost: Decimal
    per_week: Decimal
    missed_from: date | None


class MonthBudgetOut(BaseModel):
    """The month's money for supplies."""

    month: date
    total: Decimal
    spent: Decimal
    left: Decimal


class BuyListOut(BaseModel):
    """What to buy now."""

    today: date
    outcome: Outcome
    total: Decimal
    orders: list[BuyOrderOut]
    left_out: list[LeftOutOut]
    budget: MonthBudgetOut | None
    thumb_lines: int
    thumb_total: Decimal
    first_run_out: date | None
    thumb_first_run_out: date | None
    without_offer: list[str]  #: names of supplies that run low and nobody offers


def buy_list_out(workshop: Workshop, *, quantities: Mapping[int, Decimal], without: frozenset[int]) -> BuyListOut:
    """Return what to buy, as a person changed it."""
    read = read_buying(workshop)
    codes = {row.pk: code for code, row in read.rows.items()}
    wanted = {codes[pk]: quantity for pk, quantity in quantities.items() if pk in codes and quantity > 0}
    budget = _budget(workshop, read)
    plan = buy(
        read.supplies,
        read.shop,
        budget=max(Decimal(0), budget.left) if budget is not None else None,
        quantities=wanted,
        without=frozenset(codes[pk] for pk in without if pk in codes),
    )
    return BuyListOut(
        today=read.shop.today,
        outcome=plan.outcome,
        total=plan.total,
        orders=[_order(read, order, wanted) for order in plan.orders],
        left_out=[
            LeftOutOut(
                supply_id=read.rows[left.line.code].pk,
                code=left.line.code,
                name=read.rows[left.line.code].name,
                unit=read.rows[left.line.code].unit,
                supplier=left.line.offer.supplier.name,
                quantity=left.line.chosen.quantity,
                goods_cost=left.line.chosen.goods,
                per_week=(read.one(left.line.code).outlook.mean_now * read.shop.calendar.a_week).quantize(
                    Decimal("0.1")
                ),
                missed_from=left.misses_from,
            )
            for left in plan.left_out
        ],
        budget=budget,
        thumb_lines=len(plan.thumb),
        thumb_total=plan.thumb_total,
        first_run_out=plan.run_outs[0] if plan.run_outs else None,
        thumb_first_run_out=plan.thumb_run_outs[0] if plan.thumb_run_outs else None,
        without_offer=[read.rows[code].name for code in without_offer(read.supplies, read.shop)],
    )


def _budget(workshop: Workshop, read: BuyRead) -> MonthBudgetOut | None:
    total = read.settings.budget
    if total is None:
        return None
    spent = spent_this_month(workshop)
    return MonthBudgetOut(month=read.shop.today.replace(day=1), total=total, spent=spent, left=total - spent)


def _order(read: BuyRead, order: SupplierOrder, wanted: Mapping[str, Decimal]) -> BuyOrderOut:
    supplier = read.suppliers[order.supplier.code]
    return BuyOrderOut(
        supplier_id=supplier.pk,
        supplier=supplier.name,
        contact=supplier.contact,
        order_by=order.order_by,
        arrives_on=order.arrives_on,
        goods_cost=order.goods,
        delivery_cost=order.delivery,
        total=order.total,
        free_from=supplier.free_from,
        to_free=FreeDeliveryOut(
            adds=dict(order.to_free.adds), goods_cost=order.to_free.goods, saves=order.to_free.saves
        )
        if order.to_free
        else None,
        lines=[_line(read, line, edited=line.code in wanted) for line in order.lines],
    )


def _line(read: BuyRead, line: Line, *, edited: bool) -> BuyLineOut:
    row, one = read.rows[line.code], read.one(line.code)
    offers = {each.supplier_id: each for each in row.offers.all()}
    offer = offers[int(line.offer.supplier.code)]
    return BuyLineOut(
        supply_id=row.pk,
        code=row.code,
        name=row.name,
        place=row.place,
        unit=row.unit,
        why=line.why,
        on_hand=one.need.on_hand,
        reserved=row.reserved,  # type: ignore[attr-defined]
        mark=row.reorder_at,
        quantity=line.chosen.quantity,
        each=line.chosen.price,
        goods_cost=line.chosen.goods,
        pack=offer.pack,
        pack_name=offer.pack_name,
        runs_out=line.runs_out,
        order_by=line.reorder.order_by,
        lasts_until=line.lasts_until,
        cover_days=one.outlook.cover_days,
        too_late=line.too_late,
        better=amount_out(one, line, line.better) if line.better is not None else None,
        edited=edited,
    )
