"""What the Money room shows: a month, an order's record, the months beside each other."""

import statistics
from collections import defaultdict
from collections.abc import Callable, Sequence
from datetime import date, datetime
from decimal import Decimal

from pydantic import BaseModel

from core.money.months import month_of
from core.money.record import RecordLine, RecordLineKind
from core.units import round_money
from server.money.models import ClosedMonth
from server.money.reading import Recorded, first_month, first_open_day, month_orders, records_of
from server.orders.models import Order
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["MoneyMonth", "MoneyOrder", "MonthsOut", "month_out", "months_out", "order_out"]

#: Orders by their number of units, from and to: neighbours with few orders are one group.
_SIZES = ((1, 1), (2, 2), (3, 3), (4, 6), (7, 12), (13, None))
_SHOWN_MONTHS = 6
_ZERO = Decimal(0)


class MoneyLine(BaseModel):
    """One line of money."""

    kind: RecordLineKind
    amount: Decimal
    on: date
    source: str
    reference: str


class UsedMaterial(BaseModel):
    """What an order drew of a supply."""

    code: str
    name: str
    quantity: Decimal
    cost: Decimal


class SoldGoods(BaseModel):
    """Goods of an order."""

    name: str
    units: int
    paid: Decimal


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
    goods: list[SoldGoods]
    lines: list[MoneyLine]
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


class SizeOut(BaseModel):
    """Orders of a number of units."""

    units_from: int
    units_to: int | None
    orders: int
    left: Decimal
    median: Decimal


class MoneyGroup(BaseModel):
    """Orders with something in common, and what they left."""

    key: str
    orders: int
    left: Decimal


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
    postage_charged: Decimal
    postage_paid: Decimal
    orders: int  #: packed in it
    lost: int  #: of them, orders that left less than nothing
    lost_sum: Decimal
    kinds: list[KindSum]
    dots: list[OrderDot]
    sizes: list[SizeOut]
    channels: list[MoneyGroup]
    products: list[MoneyGroup]
    zones: list[MoneyGroup]


class MonthSum(BaseModel):
    """A month in a row of months."""

    month: str
    left: Decimal
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
        goods=[SoldGoods(name=name, units=units, paid=paid) for name, units, paid in one.goods],
        lines=[line_out(line) for line in record.lines],
        income=record.income,
        left=record.left,
        margin=float(record.margin) if record.margin is not None else None,
        minutes=round(one.minutes, 1),
        timed=one.timed,
        wage_per_hour=one.wage_per_hour,
        materials=[
            UsedMaterial(code=code, name=name, quantity=quantity, cost=round(cost, 4))
            for code, name, quantity, cost in one.materials
            if quantity
        ],
    )


def line_out(line: RecordLine) -> MoneyLine:
    """Return a line as the screen reads it."""
    return MoneyLine(kind=line.kind, amount=line.amount, on=line.on, source=line.source, reference=line.reference)


def month_out(workshop: Workshop, month: str) -> MoneyMonth:
    """Return a month."""
    found = records_of(workshop, month_orders(workshop, month))
    lines = [(one, line) for one in found for line in one.record.lines if month_of(line.on) == month]
    packed = [one for one in found if _packed_in(one, month)]
    closed = ClosedMonth.objects.of(workshop).filter(month=month).first()
    now, first = month_of(today(workshop)), first_month(workshop)
    any_closed = ClosedMonth.objects.of(workshop).exists()
    due = month_of(first_open_day(workshop)) if any_closed else first
    lost = [one.record.left for one in packed if one.record.left < 0]
    kinds: dict[RecordLineKind, Decimal] = defaultdict(Decimal)
    for _, line in lines:
        kinds[line.kind] += line.amount
    digits = workshop.money_digits
    return MoneyMonth(
        month=month,
        before=_beside(month, -1) if month > first else None,
        after=_beside(month, 1) if month < now else None,
        over=month < now,
        closed_at=closed.closed_at if closed else None,
        closed_by=closed.closed_by if closed else "",
        may_close=closed is None and month < now and month == due,
        left=sum(kinds.values(), _ZERO),
        from_before=sum((line.amount for one, line in lines if not _packed_in(one, month)), _ZERO),
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
        sizes=_sizes(packed, digits),
        channels=_groups(packed, lambda one: one.order.channel),
        products=_products(packed, digits),
        zones=_groups(packed, lambda one: one.zone or "-"),
    )  # fmt: skip


def months_out(workshop: Workshop) -> MonthsOut:
    """Return the last months, newest first; open ones are worked out."""
    closed = {row.month: row for row in ClosedMonth.objects.of(workshop).order_by("-month")[:_SHOWN_MONTHS]}
    first, month = first_month(workshop), month_of(today(workshop))
    found: list[MonthSum] = []
    while month >= first and len(found) < _SHOWN_MONTHS:
        row = closed.get(month)
        if row is not None:
            found.append(MonthSum(month=month, left=row.left, orders=row.orders, closed=True))
        else:
            records = records_of(workshop, month_orders(workshop, month))
            left = sum(
                (line.amount for one in records for line in one.record.lines if month_of(line.on) == month), _ZERO
            )
            packed = sum(_packed_in(one, month) for one in records)
            found.append(MonthSum(month=month, left=left, orders=packed, closed=False))
        month = _beside(month, -1)
    return MonthsOut(months=found)


def found_order(workshop: Workshop, order_id: int) -> Recorded | None:
    """Return an order's record; None when there is no such order."""
    order = Order.objects.of(workshop).filter(pk=order_id).first()
    return records_of(workshop, [order])[0] if order is not None else None


def _packed_in(one: Recorded, month: str) -> bool:
    return one.packed_on is not None and month_of(one.packed_on) == month


def _beside(month: str, step: int) -> str:
    year, number = map(int, month.split("-"))
    at = year * 12 + number - 1 + step
    return f"{at // 12}-{at % 12 + 1:02}"


def _sizes(packed: Sequence[Recorded], digits: int) -> list[SizeOut]:
    found = []
    for low, high in _SIZES:
        left = [one.record.left for one in packed if low <= one.units and (high is None or one.units <= high)]
        if left:
            median = round_money(Decimal(statistics.median(left)), digits)
            found.append(SizeOut(units_from=low, units_to=high, orders=len(left), left=sum(left, _ZERO), median=median))
    return found


def _groups(packed: Sequence[Recorded], key: Callable[[Recorded], str]) -> list[MoneyGroup]:
    found: dict[str, list[Decimal]] = defaultdict(list)
    for one in packed:
        found[key(one)].append(one.record.left)
    rows = [MoneyGroup(key=name, orders=len(left), left=sum(left, _ZERO)) for name, left in found.items()]
    return sorted(rows, key=lambda row: (-row.left, row.key))


def _products(packed: Sequence[Recorded], digits: int) -> list[MoneyGroup]:
    """What an order left is shared out to its goods by what was paid for them (a judgement)."""
    orders: dict[str, int] = defaultdict(int)
    left: dict[str, Decimal] = defaultdict(Decimal)
    for one in packed:
        whole = sum((paid for _, _, paid in one.goods), _ZERO)
        for name, _, paid in one.goods:
            orders[name] += 1
            left[name] += one.record.left * paid / whole if whole else one.record.left / len(one.goods)
    rows = [MoneyGroup(key=name, orders=orders[name], left=round_money(left[name], digits)) for name in orders]
    return sorted(rows, key=lambda row: (-row.left, row.key))
