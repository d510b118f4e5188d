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

from core.money.fees import FeeRule, tax_in
from core.money.months import month_of
from core.units import round_money

__all__ = ["Happened", "OrderFacts", "OrderRecord", "RecordLine", "RecordLineKind", "by_month", "record_of"]

RecordLineKind = Literal[
    "goods", "postage_charged", "tax", "channel_fee", "payment_fee", "goods_cost", "postage", "carrier_charge",
    "materials", "labour", "refund", "replacement", "claim", "expected_loss",
]  # fmt: skip
#: What comes in with the order; margins are shares of it.
_INCOME: frozenset[RecordLineKind] = frozenset({"goods", "postage_charged", "tax"})
_MINUTES = Decimal(60)


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
    packed_on: date  #: what belongs to the order itself is dated so
    goods: Decimal = Decimal(0)  #: as the buyer paid, tax included
    postage_charged: Decimal = Decimal(0)  #: likewise
    goods_cost: Decimal = Decimal(0)  #: what the goods cost to make or buy
    tax_percent: Decimal = Decimal(0)  #: included in goods and postage charged
    channel: FeeRule = FeeRule()  # noqa: RUF009 - a frozen value
    payment: FeeRule = FeeRule()  # noqa: RUF009 - a frozen value
    minutes: Decimal = Decimal(0)  #: timed where it was, else planned
    wage_per_hour: Decimal = Decimal(0)
    expected_loss: Decimal = Decimal(0)  #: of parcels nobody knows yet how they arrived
    happened: tuple[Happened, ...] = ()


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
    tax = tax_in(facts.goods + facts.postage_charged, facts.tax_percent, digits)
    channel, payment = (rule.fee(facts.goods, facts.postage_charged, digits) for rule in (facts.channel, facts.payment))
    own: list[tuple[RecordLineKind, Decimal, str]] = [
        ("goods", facts.goods, "order"),
        ("postage_charged", facts.postage_charged, "order"),
        ("tax", -tax, "settings"),
        ("channel_fee", -channel, "settings"),
        ("payment_fee", -payment, "settings"),
        ("goods_cost", -facts.goods_cost, "products"),
        ("labour", -facts.minutes * facts.wage_per_hour / _MINUTES, "bench"),
        ("expected_loss", -facts.expected_loss, "recipe"),
    ]
    lines = [
        RecordLine(kind=kind, amount=round_money(amount, digits), on=facts.packed_on, source=source)
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
            months[month_of(line.on)] += line.amount
    return dict(sorted(months.items()))
