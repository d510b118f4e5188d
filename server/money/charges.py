"""What buyers pay for postage: policies over our own orders, the shop's table, orders charged otherwise (money)."""

from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from pydantic import BaseModel

from core.money.policies import Charge, ChargeLine, Flat, Policy, SentOrder, charge_of
from core.money.runs import (
    PolicyRun,
    Share,
    break_even_fee,
    filled_up,
    run_policy,
    share_just_below,
    threshold_costing,
)
from core.money.table import shop_table
from core.units import round_money
from server.bench.models import Parcel
from server.formats.charges_request import PolicyDoc
from server.money.models import ChargePolicy, MoneySettings
from server.money.reading import Recorded, Zoning, records_of, zoning_of
from server.money.services import settings_of
from server.orders.models import Order
from server.plans.models import PlanPart
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = [
    "ChargeRow", "ChargesOut", "ComparedOut", "PolicyRunOut", "ShopRow", "charges_out", "compared", "policy_of",
    "runs_out", "sent_orders", "shop_rows",
]  # fmt: skip

#: So many orders are looked at, the newest.
MOST_ORDERS = 3_000
_SHOWN_VALUES = 60
_ZERO = Decimal(0)


class ChargePoint(BaseModel):
    """One order that was sent: what the buyer was charged and what the carrier took."""

    order_id: int
    number: str
    value: Decimal
    weight_mg: int
    zone: str
    units: int
    charged: Decimal
    paid: Decimal


class GroupLeft(BaseModel):
    """Orders with something in common under a policy."""

    key: str
    orders: int
    charged: Decimal
    paid: Decimal
    left: Decimal


class WorstOrder(BaseModel):
    """An order that loses much under a policy."""

    order_id: int
    number: str
    charged: Decimal
    paid: Decimal
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
    break_even_fee: Decimal | None
    just_below: float | None  #: share of buyers whose goods are worth little less than the threshold
    demand: DemandOut | None
    refused: list[str]  #: orders it has no charge for


class FeePoint(BaseModel):
    """What a flat fee leaves."""

    fee: Decimal
    left: Decimal


class ThresholdPoint(BaseModel):
    """What it costs to send for nothing from a sum."""

    threshold: Decimal
    given_up: Decimal
    left: Decimal
    just_below: float


class ShopRow(BaseModel):
    """A row of the shop's table."""

    zone: str
    units_from: int
    units_to: int | None
    charge: Decimal
    orders: int
    mean_paid: Decimal
    most_paid: Decimal


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
    fees: list[FeePoint]
    thresholds: list[ThresholdPoint]  #: of the break-even fee, free from
    table: list[ShopRow]


class ChargeRow(BaseModel):
    """An order beside what our policy says."""

    order_id: int
    number: str
    buyer: str
    placed_on: date
    charged: Decimal
    policy: Decimal | None  #: None: it has no charge for such an order
    paid: Decimal  #: postage, or what it is planned to be
    planned: bool


class ComparedOut(BaseModel):
    """New orders beside our policy."""

    name: str  #: empty: none is ours yet
    since: date | None
    looked_at: int
    rows: list[ChargeRow]  #: those that were charged otherwise


def policy_of(document: PolicyDoc, name: str, digits: int) -> Policy:
    """Return a kept document as the core has it."""
    return document.model_copy(update={"name": name}).core(digits)


def sent_orders(workshop: Workshop, weeks: int) -> list[Recorded]:
    """Return the orders packed in the last weeks, newest first, at most three thousand."""
    since = today(workshop) - timedelta(weeks=weeks)
    packed = Parcel.objects.of(workshop).filter(closed_at__date__gte=since, state=Parcel.State.CLOSED)
    rows = Order.objects.of(workshop).filter(state=Order.State.PACKED, pk__in=packed.values("order_id"))
    return records_of(workshop, list(rows.order_by("-placed_on", "-id")[:MOST_ORDERS]))


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
    """Orders of a period, and how their runs are written."""

    def __init__(self, workshop: Workshop, weeks: int) -> None:
        self.workshop, self.weeks = workshop, weeks
        self.digits = workshop.money_digits
        self.records = sent_orders(workshop, weeks)
        self.by_key = {str(one.order.pk): one for one in self.records}
        self.orders = [as_sent(one) for one in self.records]
        self.settings = settings_of(workshop)
        self.day = today(workshop)

    def group(self, one: Share) -> GroupLeft:
        """Return a group as the screen reads it."""
        return GroupLeft(
            key=one.key.lstrip("0") or one.key, orders=one.count, charged=one.charged, paid=one.paid, left=one.left
        )

    def run(
        self, run: PolicyRun, *, document: dict[str, Any], row: ChargePolicy | None = None, ours: bool = False
    ) -> PolicyRunOut:
        """Return what a policy comes to."""
        policy = run.policy
        low, middle, high = (round_money(run.quantile(share), self.digits) for share in (0.05, 0.5, 0.95))
        settings, free_from = self.settings, policy.free_from
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
                WorstOrder(
                    order_id=int(one.order.key), number=self.by_key[one.order.key].order.number,
                    charged=one.charge.amount, paid=one.order.paid, left=one.left,
                )
                for one in run.worst
            ],
            by_zone=[self.group(one) for one in run.by(lambda order: order.zone)],
            by_units=[self.group(one) for one in run.by(lambda order: f"{order.units:06}")],
            break_even_fee=break_even_fee(self.orders, free_from=free_from, digits=self.digits),
            just_below=(
                share_just_below(self.orders, free_from, Decimal(settings.demand_within))
                if free_from is not None
                else None
            ),
            demand=self.demand(policy),
            refused=[self.by_key[one.key].order.number for one in run.refused],
        )  # fmt: skip

    def demand(self, policy: Policy) -> DemandOut | None:
        """Return what the workshop's own assumption comes to; None where it makes none."""
        percent, within = self.settings.demand_percent, Decimal(self.settings.demand_within)
        if percent is None:
            return None
        found = filled_up(policy, self.orders, within=within, percent=percent)
        if found is None:
            return None
        return DemandOut(
            percent=percent, within=within, orders=found.orders, more_goods=found.more_goods, given_up=found.given_up
        )

    def as_charged(self) -> PolicyRunOut:
        """Return what buyers really paid, as if it were a policy."""
        charged = {str(one.order.pk): one.record.sum_of("postage_charged") for one in self.records}
        sent = [one for one in self.orders if not one.picked_up]
        kept = run_policy(_as_charged(), sent)
        run = PolicyRun(
            policy=kept.policy,
            orders=tuple(type(one)(order=one.order, charge=_charge(charged[one.order.key])) for one in kept.orders),
            refused=(),
        )
        return self.run(run, document={})

    def kept(self) -> list[PolicyRunOut]:
        """Return the runs of the policies that are kept."""
        rows = list(ChargePolicy.objects.of(self.workshop))
        in_force = ours_on(rows, self.day)
        return [
            self.run(
                run_policy(policy_of(PolicyDoc.model_validate(row.document), row.name, self.digits), self.orders),
                document=row.document,
                row=row,
                ours=row == in_force,
            )
            for row in rows
        ]

    def fees(self, even: Decimal | None) -> list[FeePoint]:
        """Return what flat fees leave: a straight line, by its two ends."""
        sent = [one for one in self.orders if not one.picked_up]
        if even is None or not sent:
            return []
        paid = sum((one.paid for one in sent), _ZERO)
        return [
            FeePoint(fee=fee, left=fee * len(sent) - paid)
            for fee in (round_money(even / 2, self.digits), round_money(even * Decimal("1.5"), self.digits))
        ]

    def thresholds(self, fee: Decimal | None) -> list[ThresholdPoint]:
        """Return what it costs to charge nothing from a sum on, the others paying the fee that breaks even."""
        if fee is None:
            return []
        sent = [one for one in self.orders if not one.picked_up]
        values = sorted({one.value for one in sent})
        step = max(1, len(values) // _SHOWN_VALUES)
        base = fee * len(sent) - sum((one.paid for one in sent), _ZERO)
        within = Decimal(self.settings.demand_within)
        found = []
        for value in values[::step]:
            given_up = fee * sum(one.value >= value for one in sent)
            found.append(
                ThresholdPoint(
                    threshold=value, given_up=given_up, left=base - given_up,
                    just_below=share_just_below(sent, value, within),
                )
            )  # fmt: skip
        return found


def _as_charged() -> Policy:
    return Policy(code="as-charged", name="", base=Flat(amount=_ZERO))


def _charge(amount: Decimal) -> Charge:
    return Charge(lines=(ChargeLine(kind="flat", amount=amount),))


def ours_on(rows: Sequence[ChargePolicy], day: date) -> ChargePolicy | None:
    """Return the policy that is the workshop's own on a day: the one whose day came last."""
    begun = [row for row in rows if row.ours_from is not None and row.ours_from <= day]
    return max(begun, key=lambda row: row.ours_from or date.min, default=None)


def charges_out(workshop: Workshop, weeks: int) -> ChargesOut:
    """Return what buyers of the last weeks paid, and what they would have by each policy kept."""
    period = _Period(workshop, weeks)
    even = break_even_fee(period.orders, digits=workshop.money_digits)
    return ChargesOut(
        weeks=weeks,
        orders=sum(not one.picked_up for one in period.orders),
        picked_up=sum(one.picked_up for one in period.orders),
        zones_of=zoning_of(workshop).carrier,
        as_charged=period.as_charged(),
        points=[
            ChargePoint(
                order_id=one.order.pk, number=one.order.number, value=sent.value, weight_mg=sent.weight_mg,
                zone=sent.zone, units=sent.units, charged=one.record.sum_of("postage_charged"), paid=sent.paid,
            )
            for one, sent in zip(period.records, period.orders, strict=True)
            if not sent.picked_up
        ],
        break_even_fee=even,
        runs=period.kept(),
        fees=period.fees(even),
        thresholds=period.thresholds(even),
        table=shop_rows(period.orders, period.settings, workshop.money_digits),
    )  # fmt: skip


def runs_out(workshop: Workshop, weeks: int, documents: Sequence[PolicyDoc]) -> list[PolicyRunOut]:
    """Return what policies that are not kept come to over the last weeks."""
    period = _Period(workshop, weeks)
    return [
        period.run(run_policy(one.core(workshop.money_digits), period.orders), document=one.model_dump(mode="json"))
        for one in documents
    ]


def threshold_for(workshop: Workshop, weeks: int, document: PolicyDoc, most: Decimal) -> Decimal | None:
    """Return the least sum from which postage may be free when that may cost so much over the last weeks."""
    return threshold_costing(document.core(workshop.money_digits), _Period(workshop, weeks).orders, most)


def shop_rows(orders: Sequence[SentOrder], settings: MoneySettings, digits: int) -> list[ShopRow]:
    """Return the shop's table as the settings want it rounded."""
    endings = [Decimal(one) for one in settings.endings]
    rows = shop_table(orders, most_lost=Decimal(settings.most_lost), endings=endings, digits=digits)
    return [
        ShopRow(
            zone=row.zone, units_from=row.units_from, units_to=row.units_to, charge=row.charge, orders=row.count,
            mean_paid=row.mean_paid, most_paid=row.most_paid,
        )
        for row in rows
    ]  # fmt: skip


def compared(workshop: Workshop) -> ComparedOut:
    """Return the newest orders, placed since a policy is ours, that were charged otherwise than it says."""
    rows = [row for row in ChargePolicy.objects.of(workshop) if row.ours_from is not None]
    now = ours_on(rows, today(workshop))
    if now is None or now.ours_from is None:
        return ComparedOut(name="", since=None, looked_at=0, rows=[])
    begins = min(row.ours_from for row in rows if row.ours_from is not None)
    orders = list(
        Order.objects.of(workshop)
        .filter(placed_on__gte=begins, joined_into=None)
        .exclude(state=Order.State.CANCELLED)
        .order_by("-placed_on", "-id")[:300]
    )
    zoning = zoning_of(workshop)
    sent = {one.order.pk: one for one in records_of(workshop, [o for o in orders if o.state == Order.State.PACKED])}
    planned = _planned(workshop, [order for order in orders if order.pk not in sent], zoning)
    found = []
    looked_at = 0
    for order in orders:
        policy = ours_on(rows, order.placed_on)
        one = as_sent(sent[order.pk]) if order.pk in sent else planned.get(order.pk)
        if policy is None or one is None or one.picked_up:
            continue
        looked_at += 1
        document = PolicyDoc.model_validate(policy.document)
        charge = charge_of(policy_of(document, policy.name, workshop.money_digits), one)
        amount = charge.amount if isinstance(charge, Charge) else None
        if amount != order.postage_charged:
            found.append(
                ChargeRow(
                    order_id=order.pk, number=order.number, buyer=order.buyer, placed_on=order.placed_on,
                    charged=order.postage_charged, policy=amount, paid=one.paid, planned=order.pk not in sent,
                )
            )  # fmt: skip
    return ComparedOut(name=now.name, since=begins, looked_at=looked_at, rows=found)


def _planned(workshop: Workshop, orders: Sequence[Order], zoning: Zoning) -> dict[int, SentOrder]:
    """Return orders that are planned as if they had been sent so."""
    by_id = {order.pk: order for order in orders}
    parts: dict[int, list[PlanPart]] = {}
    rows = PlanPart.objects.of(workshop).filter(plan__order_id__in=by_id).select_related("plan")
    for part in rows:
        parts.setdefault(part.plan.order_id, []).append(part)
    return {
        order_id: SentOrder(
            key=str(order_id),
            value=by_id[order_id].goods_value,
            weight_mg=max(sum(part.gross_mg for part in mine), 1),
            zone=zoning.zone(by_id[order_id]),
            units=max(sum(sum(part.goods.values()) for part in mine), 1),
            paid=sum((part.price for part in mine), _ZERO),
        )
        for order_id, mine in parts.items()
    }
