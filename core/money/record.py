"""What an order came to: every line of money with its day and source, and what is left (money; rules 19.1).

Lines that come in are positive, lines that go out negative; each is rounded to the currency's smallest part where it is
made, so that the lines sum to what is left, exactly. What belongs to the order itself (goods, fees, work) is dated the
day it was packed, so that income and cost of it meet in one month; the rest the day it came in. Pure.
"""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal

from core.units import round_money

__all__ = ["FeeRule", "Happened", "OrderFacts", "OrderRecord", "RecordLine", "RecordLineKind", "by_month", "record_of"]

RecordLineKind = Literal[
    "goods", "postage_charged", "tax", "channel_fee", "payment_fee", "goods_cost", "postage", "carrier_charge",
    "materials", "labour", "refund", "replacement", "claim", "expected_loss",
]  # fmt: skip
#: What comes in with the order; margins are shares of it.
_INCOME: frozenset[RecordLineKind] = frozenset({"goods", "postage_charged", "tax"})
_HUNDRED = Decimal(100)
_MINUTES = Decimal(60)


@dataclass(frozen=True, slots=True, kw_only=True)
class FeeRule:
    """What a channel or a payment takes of an order."""

    percent: Decimal = Decimal(0)
    fixed: Decimal = Decimal(0)
    of_postage: bool = True  #: the percentage is of goods and the postage charged; else of goods alone

    def fee(self, goods: Decimal, postage_charged: Decimal, digits: int) -> Decimal:
        """Return the fee; nothing of an order that took nothing."""
        base = goods + (postage_charged if self.of_postage else Decimal(0))
        return round_money(base * self.percent / _HUNDRED + self.fixed, digits) if base > 0 else Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Happened:
    """An amount, above 0, that came in or went out on a day, and where it is written down."""

    kind: Literal["postage", "carrier_charge", "materials", "refund", "replacement", "claim"]
    amount: Decimal
    on: date
    source: str
    reference: str = ""  #: what names it there: a tracking number, a service


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderFacts:
    """What is known of an order's money."""

    key: str
    placed_on: date
    goods: Decimal  #: as the buyer paid, tax included
    postage_charged: Decimal  #: likewise
    goods_cost: Decimal = Decimal(0)  #: what the goods cost to make or buy
    tax_percent: Decimal = Decimal(0)  #: included in goods and postage charged
    channel: FeeRule = FeeRule()
    payment: FeeRule = FeeRule()
    packed_on: date | None = None
    minutes: Decimal = Decimal(0)  #: timed where it was, else planned
    wage_per_hour: Decimal = Decimal(0)
    happened: tuple[Happened, ...] = ()
    loss_rate: Decimal = Decimal(0)  #: chance of damage, 0 to 1, while nobody knows how it arrived
    loss: Decimal = Decimal(0)  #: what damage would cost
    arrived: bool = False  #: known: only what really was lost counts


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordLine:
    """One line of an order's money."""

    kind: RecordLineKind
    amount: Decimal  #: positive comes in, negative goes out
    on: date
    source: str
    reference: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderRecord:
    """What an order came to."""

    key: str
    lines: tuple[RecordLine, ...]

    def sum_of(self, *kinds: RecordLineKind) -> Decimal:
        """Return the sum of the lines of these kinds."""
        return sum((line.amount for line in self.lines if line.kind in kinds), Decimal(0))

    @property
    def income(self) -> Decimal:
        """Return goods and postage charged, without tax."""
        return self.sum_of(*_INCOME)

    @property
    def left(self) -> Decimal:
        """Return what is left after everything."""
        return sum((line.amount for line in self.lines), Decimal(0))

    @property
    def margin(self) -> Decimal | None:
        """Return what is left as a share of the income; None: nothing came in."""
        return self.left / self.income if self.income > 0 else None


def record_of(facts: OrderFacts, digits: int = 2) -> OrderRecord:
    """Return the order's record. Lines of nothing are left out."""
    gross = facts.goods + facts.postage_charged
    tax = round_money(gross * facts.tax_percent / (_HUNDRED + facts.tax_percent), digits)
    packed = facts.packed_on or facts.placed_on
    labour = round_money(facts.minutes * facts.wage_per_hour / _MINUTES, digits)
    expected = Decimal(0) if facts.arrived else round_money(facts.loss_rate * facts.loss, digits)
    fees = [rule.fee(facts.goods, facts.postage_charged, digits) for rule in (facts.channel, facts.payment)]
    own: list[tuple[RecordLineKind, Decimal, str]] = [
        ("goods", facts.goods, "order"),
        ("postage_charged", facts.postage_charged, "order"),
        ("tax", -tax, "settings"),
        ("channel_fee", -fees[0], "settings"),
        ("payment_fee", -fees[1], "settings"),
        ("goods_cost", -facts.goods_cost, "products"),
        ("labour", -labour, "bench"),
        ("expected_loss", -expected, "recipe"),
    ]
    lines = [
        RecordLine(kind=kind, amount=round_money(amount, digits), on=packed, source=source)
        for kind, amount, source in own
    ]
    for one in facts.happened:
        amount = round_money(one.amount if one.kind == "claim" else -one.amount, digits)
        lines.append(RecordLine(kind=one.kind, amount=amount, on=one.on, source=one.source, reference=one.reference))
    return OrderRecord(key=facts.key, lines=tuple(line for line in lines if line.amount != 0))


def by_month(records: Iterable[OrderRecord]) -> dict[str, Decimal]:
    """Return what is left by month, "2026-11", of the days lines came in: later charges change no earlier month."""
    months: dict[str, Decimal] = defaultdict(Decimal)
    for record in records:
        for line in record.lines:
            months[f"{line.on:%Y-%m}"] += line.amount
    return dict(sorted(months.items()))
