"""What the Money room shows: a month, an order's record, the months beside each other."""

from collections import defaultdict
from dataclasses import replace
from datetime import date, datetime
from decimal import Decimal

from pydantic import BaseModel

from core.money.groups import LeftGroup, SizeGroup, left_by, left_by_goods, left_by_size
from core.money.months import month_beside, month_of
from core.money.record import RecordLine, RecordLineKind, by_month
from server.money.models import ClosedMonth
from server.money.months import first_month, month_due, orders_packed, orders_with_lines
from server.money.reading import Recorded, SoldGoods, UsedMaterial, records_of
from server.orders.models import Order
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["MoneyMonth", "MoneyOrder", "MonthsOut", "found_order", "month_out", "months_out", "order_out"]

_SHOWN_MONTHS = 6
#: Open months are worked out in a list back to about so many orders; one is always.
_READ_ORDERS = 500
_ZERO = Decimal(0)


class MoneyOrder(BaseModel):
    """An order's record."""

    order_id: int
    number: str
    buyer: str
    channel: str
    placed_on: date
    packed_on: date | None
    service: str
    zone: str
    goods: tuple[SoldGoods, ...]
    lines: tuple[RecordLine, ...]
    income: Decimal
    left: Decimal
    margin: float | None  #: left, of goods and postage without tax
    minutes: Decimal
    timed: bool
    wage_per_hour: Decimal
    materials: list[UsedMaterial]


class OrderDot(BaseModel):
    """An order packed in the month, and what it left so far."""

    order_id: int
    number: str
    units: int
    left: Decimal
    charged_later: bool


class KindSum(BaseModel):
    """The month's lines of a kind."""

    kind: RecordLineKind
    amount: Decimal


class MoneyMonth(BaseModel):
    """A month: every line that came in it."""

    month: str
    before: str | None  #: the month before, when something was packed by then
    after: str | None
    over: bool  #: its last day is over
    closed_at: datetime | None
    closed_by: str
    may_close: bool
    left: Decimal  #: all lines of the month
    from_before: Decimal  #: of them, lines of orders packed in other months
    in_other_months: Decimal  #: lines of this month's orders; the orders' sums hold them, the month's does not
    postage_charged: Decimal
    postage_paid: Decimal
    orders: int  #: packed in it
    lost: int  #: of them, orders that left less than nothing
    lost_sum: Decimal
    kinds: list[KindSum]
    dots: list[OrderDot]
    sizes: tuple[SizeGroup, ...]
    channels: tuple[LeftGroup, ...]
    products: tuple[LeftGroup, ...]
    zones: tuple[LeftGroup, ...]


class MonthSum(BaseModel):
    """A month in a row of months."""

    month: str
    left: Decimal | None  #: None: open still, and too long ago to be worked out in a list; its own page does
    orders: int
    closed: bool


class MonthsOut(BaseModel):
    """The last months, the newest first."""

    months: list[MonthSum]


def order_out(one: Recorded) -> MoneyOrder:
    """Return an order's record as the screen reads it."""
    record, order = one.record, one.order
    return MoneyOrder(
        order_id=order.pk,
        number=order.number,
        buyer=order.buyer,
        channel=order.channel,
        placed_on=order.placed_on,
        packed_on=one.packed_on,
        service=one.service,
        zone=one.zone,
        goods=one.goods,
        lines=record.lines,
        income=record.income,
        left=record.left,
        margin=float(record.margin) if record.margin is not None else None,
        minutes=round(one.minutes, 1),
        timed=one.timed,
        wage_per_hour=one.wage_per_hour,
        materials=[replace(used, cost=round(used.cost, 4)) for used in one.materials if used.quantity],
    )


def month_out(workshop: Workshop, month: str) -> MoneyMonth:
    """Return a month."""
    found = records_of(workshop, orders_with_lines(workshop, month, month))
    lines = [(one, line) for one in found for line in one.record.lines if month_of(line.on) == month]
    packed = [one for one in found if _packed_in(one, month)]
    closed = ClosedMonth.objects.of(workshop).filter(month=month).first()
    now = month_of(today(workshop))
    lost = [one.record.left for one in packed if one.record.left < 0]
    kinds: dict[RecordLineKind, Decimal] = defaultdict(Decimal)
    for _, line in lines:
        kinds[line.kind] += line.amount
    digits = workshop.money_digits
    return MoneyMonth(
        month=month,
        before=month_beside(month, -1) if month > first_month(workshop) else None,
        after=month_beside(month, 1) if month < now else None,
        over=month < now,
        closed_at=closed.closed_at if closed else None,
        closed_by=closed.closed_by if closed else "",
        may_close=month < now and month == month_due(workshop),
        left=sum(kinds.values(), _ZERO),
        from_before=sum((line.amount for one, line in lines if not _packed_in(one, month)), _ZERO),
        in_other_months=sum(
            (line.amount for one in packed for line in one.record.lines if month_of(line.on) != month), _ZERO
        ),
        postage_charged=kinds["postage_charged"],
        postage_paid=-(kinds["postage"] + kinds["carrier_charge"]),
        orders=len(packed),
        lost=len(lost),
        lost_sum=sum(lost, _ZERO),
        kinds=[KindSum(kind=kind, amount=amount) for kind, amount in kinds.items() if amount],
        dots=[
            OrderDot(
                order_id=one.order.pk, number=one.order.number, units=one.units, left=one.record.left,
                charged_later=bool(one.record.sum_of("carrier_charge")),
            )
            for one in packed
        ],
        sizes=left_by_size([(one.units, one.record.left) for one in packed], digits),
        channels=left_by(packed, lambda one: one.order.channel, _left),
        products=left_by_goods(
            [([(goods.name, goods.paid) for goods in one.goods], one.record.left) for one in packed], digits
        ),
        zones=left_by(packed, lambda one: one.zone, _left),
    )  # fmt: skip


def months_out(workshop: Workshop) -> MonthsOut:
    """Return the last months, newest first; open ones are worked out together, as far back as is quickly read."""
    closed = {row.month: row for row in ClosedMonth.objects.of(workshop).order_by("-month")[:_SHOWN_MONTHS]}
    now, first = month_of(today(workshop)), first_month(workshop)
    shown = [month for step in range(_SHOWN_MONTHS) if (month := month_beside(now, -step)) >= first]
    waiting = [month for month in shown if month not in closed]
    packed = orders_packed(workshop, waiting[-1], waiting[0]) if waiting else {}
    near: list[str] = []
    for month in waiting:
        if near and sum(packed.get(one, 0) for one in (*near, month)) > _READ_ORDERS:
            break
        near.append(month)
    records = records_of(workshop, orders_with_lines(workshop, near[-1], near[0])) if near else []
    left = by_month(one.record for one in records)
    return MonthsOut(
        months=[
            MonthSum(month=month, left=closed[month].left, orders=closed[month].orders, closed=True)
            if month in closed
            else MonthSum(
                month=month, left=left.get(month, _ZERO) if month in near else None, orders=packed.get(month, 0),
                closed=False,
            )
            for month in shown
        ]
    )  # fmt: skip


def found_order(workshop: Workshop, order_id: int) -> Recorded | None:
    """Return an order's record; None when there is no such order."""
    order = Order.objects.of(workshop).filter(pk=order_id).first()
    return records_of(workshop, [order])[0] if order is not None else None


def _packed_in(one: Recorded, month: str) -> bool:
    return one.packed_on is not None and month_of(one.packed_on) == month


def _left(one: Recorded) -> Decimal:
    return one.record.left
