"""What buyers pay for postage: policies over our own orders, and the shop's table (money)."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from decimal import Decimal
from typing import Any, Literal
from zoneinfo import ZoneInfo

from pydantic import BaseModel

from core.money.policies import Policy, SentOrder
from core.money.runs import (
    PolicyRun,
    Share,
    ThresholdPoint,
    break_even_fee,
    filled_up,
    run_as_charged,
    run_policy,
    share_just_below,
    threshold_costing,
    threshold_curve,
)
from core.money.table import TableRow, shop_table
from core.units import round_money
from server.bench.models import Parcel
from server.formats.charges_request import PolicyDoc
from server.money.models import ChargePolicy
from server.money.policies import core_policy, ours_on
from server.money.reading import Recorded, records_of
from server.money.services import settings_of
from server.money.zoning import zoning_of
from server.orders.models import Order
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = [
    "ChargesOut", "PolicyRunOut", "TableBy", "as_sent", "charges_out", "runs_out", "table_rows", "threshold_for",
]  # fmt: skip

#: So many orders are looked at, the newest.
_MOST_ORDERS = 3_000
_SHOWN_VALUES = 60
#: What orders of several products stand under, by product.
_SEVERAL = "several products"
TableBy = Literal["zone", "product"]


class ChargePoint(BaseModel):
    """One order that was sent: what the buyer was charged and what the carrier took."""

    order_id: int
    number: str
    charged: Decimal
    paid: Decimal


class GroupLeft(BaseModel):
    """Orders with something in common under a policy."""

    key: str
    orders: int
    charged: Decimal
    paid: Decimal
    left: Decimal


class WorstOrder(ChargePoint):
    """An order that loses much under a policy."""

    left: Decimal


class DemandOut(BaseModel):
    """A guess shown beside: what follows when some of those just below the threshold fill it up."""

    percent: int
    within: Decimal
    orders: int
    more_goods: Decimal
    given_up: Decimal


class PolicyRunOut(BaseModel):
    """A policy over the period's orders."""

    policy_id: int | None  #: None: it is not kept
    name: str
    document: dict[str, Any]  #: server.formats.charges_request.PolicyDoc
    ours_from: date | None
    ours: bool  #: buyers are charged by it today
    charged: Decimal
    paid: Decimal
    left: Decimal
    median: Decimal
    low: Decimal  #: what 5 % of the orders leave less than
    high: Decimal
    short: int  #: orders that cost more to post than their buyer pays
    worst: list[WorstOrder]
    by_zone: list[GroupLeft]
    by_units: list[GroupLeft]
    by_product: list[GroupLeft]
    break_even_fee: Decimal | None
    just_below: float | None  #: share of buyers whose goods are worth little less than the threshold
    demand: DemandOut | None
    refused: list[str]  #: orders it has no charge for


class FeePoint(BaseModel):
    """What a flat fee leaves."""

    fee: Decimal
    left: Decimal


class ChargesOut(BaseModel):
    """What buyers pay, and what they could."""

    weeks: int
    orders: int
    picked_up: int
    zones_of: str  #: name of the carrier whose zones they are
    as_charged: PolicyRunOut  #: what buyers really paid
    points: list[ChargePoint]
    break_even_fee: Decimal | None
    runs: list[PolicyRunOut]  #: of the policies that are kept
    fees: list[FeePoint]  #: a straight line, by its two ends
    thresholds: tuple[ThresholdPoint, ...]  #: of the break-even fee, free from
    table: tuple[TableRow, ...]  #: by zone and units
    product_table: tuple[TableRow, ...]  #: by product and units; a row's zone is the product


def as_sent(one: Recorded) -> SentOrder:
    """Return an order as policies see it. One that no carrier took was fetched."""
    return SentOrder(
        key=str(one.order.pk),
        value=one.record.sum_of("goods"),
        weight_mg=max(one.weight_mg, 1),
        zone=one.zone,
        units=max(one.units, 1),
        paid=one.postage_paid,
        picked_up=not one.service,
    )


class _Period:
    """Orders packed in the last weeks, and how runs over them are written."""

    def __init__(self, workshop: Workshop, weeks: int) -> None:
        self.workshop, self.weeks = workshop, weeks
        self.digits = workshop.money_digits
        begins = datetime.combine(
            today(workshop) - timedelta(weeks=weeks), time(0), tzinfo=ZoneInfo(workshop.time_zone)
        )
        packed = Parcel.objects.of(workshop).filter(closed_at__gte=begins, state=Parcel.State.CLOSED)
        rows = Order.objects.of(workshop).filter(state=Order.State.PACKED, pk__in=packed.values("order_id"))
        records = records_of(workshop, list(rows.order_by("-placed_on", "-id")[:_MOST_ORDERS]))
        self.records = {str(one.order.pk): one for one in records}
        self.orders = [as_sent(one) for one in records]
        self.settings = settings_of(workshop)

    def product(self, order: SentOrder) -> str:
        """Return the product of an order that is of one alone."""
        names = {goods.name for goods in self.records[order.key].goods}
        return names.pop() if len(names) == 1 else _SEVERAL

    def point(self, order: SentOrder, charged: Decimal) -> ChargePoint:
        """Return an order as the screen reads it."""
        row = self.records[order.key].order
        return ChargePoint(order_id=row.pk, number=row.number, charged=charged, paid=order.paid)

    def run(
        self, run: PolicyRun, *, document: dict[str, Any], row: ChargePolicy | None = None, ours: bool = False
    ) -> PolicyRunOut:
        """Return what a policy comes to."""
        policy, within = run.policy, Decimal(self.settings.demand_within)
        low, middle, high = (round_money(run.quantile(share), self.digits) for share in (0.05, 0.5, 0.95))
        free_from = policy.free_from
        return PolicyRunOut(
            policy_id=row.pk if row else None,
            name=policy.name,
            document=document,
            ours_from=row.ours_from if row else None,
            ours=ours,
            charged=run.charged,
            paid=run.paid,
            left=run.left,
            median=middle,
            low=low,
            high=high,
            short=sum(one.left < 0 for one in run.orders),
            worst=[
                WorstOrder(**self.point(one.order, one.charge.amount).model_dump(), left=one.left) for one in run.worst
            ],
            by_zone=_groups(run.by(lambda order: order.zone)),
            by_units=_groups(run.by(lambda order: f"{order.units:06}")),
            by_product=_groups(run.by(self.product)),
            break_even_fee=break_even_fee(self.orders, free_from=free_from, digits=self.digits),
            just_below=share_just_below(self.orders, free_from, within) if free_from is not None else None,
            demand=self.demand(policy, within),
            refused=[self.records[one.key].order.number for one in run.refused],
        )

    def demand(self, policy: Policy, within: Decimal) -> DemandOut | None:
        """Return what the workshop's own assumption comes to; None where it makes none."""
        percent = self.settings.demand_percent
        found = filled_up(policy, self.orders, within=within, percent=percent) if percent is not None else None
        if percent is None or found is None:
            return None
        return DemandOut(
            percent=percent, within=within, orders=found.orders, more_goods=found.more_goods, given_up=found.given_up
        )

    def kept(self) -> list[PolicyRunOut]:
        """Return the runs of the policies that are kept."""
        rows = list(ChargePolicy.objects.of(self.workshop).select_related("workshop"))
        in_force = ours_on(rows, today(self.workshop))
        return [
            self.run(run_policy(core_policy(row), self.orders), document=row.document, row=row, ours=row == in_force)
            for row in rows
        ]

    def fees(self, even: Decimal | None, sent: Sequence[SentOrder]) -> list[FeePoint]:
        """Return what half and one and a half times the fee that breaks even leave."""
        if even is None:
            return []
        paid = sum((one.paid for one in sent), Decimal(0))
        ends = (round_money(even * share, self.digits) for share in (Decimal("0.5"), Decimal("1.5")))
        return [FeePoint(fee=fee, left=fee * len(sent) - paid) for fee in ends]

    def table(self, by: TableBy) -> tuple[TableRow, ...]:
        """Return the shop's table as the settings want it rounded."""
        settings = self.settings
        orders = self.orders if by == "zone" else [replace(one, zone=self.product(one)) for one in self.orders]
        return shop_table(
            [one for one in orders if one.zone != _SEVERAL],
            most_lost=Decimal(settings.most_lost),
            endings=[Decimal(one) for one in settings.endings],
            digits=self.digits,
        )


def _groups(shares: Sequence[Share]) -> list[GroupLeft]:
    return [
        GroupLeft(
            key=one.key.lstrip("0") or one.key, orders=one.count, charged=one.charged, paid=one.paid, left=one.left
        )
        for one in shares
    ]


def charges_out(workshop: Workshop, weeks: int) -> ChargesOut:
    """Return what buyers of the last weeks paid, and what they would have by each policy kept."""
    period = _Period(workshop, weeks)
    sent = [one for one in period.orders if not one.picked_up]
    charged = {key: one.record.sum_of("postage_charged") for key, one in period.records.items()}
    even = break_even_fee(sent, digits=period.digits)
    within = Decimal(period.settings.demand_within)
    return ChargesOut(
        weeks=weeks,
        orders=len(sent),
        picked_up=len(period.orders) - len(sent),
        zones_of=zoning_of(workshop).carrier,
        as_charged=period.run(run_as_charged(sent, charged), document={}),
        points=[period.point(one, charged[one.key]) for one in sent],
        break_even_fee=even,
        runs=period.kept(),
        fees=period.fees(even, sent),
        thresholds=threshold_curve(sent, even, within=within, most=_SHOWN_VALUES) if even is not None else (),
        table=period.table("zone"),
        product_table=period.table("product"),
    )


def runs_out(workshop: Workshop, weeks: int, documents: Sequence[PolicyDoc]) -> list[PolicyRunOut]:
    """Return what policies that are not kept come to over the last weeks."""
    period = _Period(workshop, weeks)
    return [
        period.run(run_policy(one.core(period.digits), period.orders), document=one.model_dump(mode="json"))
        for one in documents
    ]


def table_rows(workshop: Workshop, weeks: int, by: TableBy) -> tuple[TableRow, ...]:
    """Return the shop's table of the last weeks."""
    return _Period(workshop, weeks).table(by)


def threshold_for(workshop: Workshop, weeks: int, document: PolicyDoc, most: Decimal) -> Decimal | None:
    """Return the least sum from which postage may be free when that may cost so much over the last weeks."""
    return threshold_costing(document.core(workshop.money_digits), _Period(workshop, weeks).orders, most)
