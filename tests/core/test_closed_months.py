"""Closed months stand; what is known otherwise since comes in the first open one."""

import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from core.money.closed import CORRECTION, with_closed
from core.money.fees import FeeRule
from core.money.months import first_day_of, month_beside, month_of
from core.money.record import Happened, OrderFacts, by_month, record_of

D = Decimal
OPEN = date(2026, 11, 1)
FACTS = OrderFacts(
    key="1098", goods=D("7.20"), postage_charged=D("3.45"), goods_cost=D("2.10"),
    channel=FeeRule(percent=D(6), fixed=D("0.20")), packed_on=date(2026, 10, 14), minutes=D("4.5"),
    wage_per_hour=D(15), expected_loss=D("0.50"),
    happened=(Happened(kind="postage", amount=D("6.10"), on=date(2026, 10, 14), source="label"),),
)  # fmt: skip
KEPT = record_of(FACTS).lines
CLOSED = {"2026-10"}


class Closed(unittest.TestCase):
    def test_with_nothing_new_it_is_what_was_kept(self) -> None:
        self.assertEqual(with_closed(record_of(FACTS), KEPT, CLOSED, OPEN).lines, KEPT)

    def test_it_arrived_so_the_expected_loss_comes_back_in_the_open_month(self) -> None:
        record = with_closed(record_of(replace(FACTS, expected_loss=D(0))), KEPT, CLOSED, OPEN)
        (line,) = [one for one in record.lines if one.source == CORRECTION]
        self.assertEqual((line.kind, line.amount, line.on), ("expected_loss", D("0.50"), OPEN))
        self.assertEqual(record.left, record_of(replace(FACTS, expected_loss=D(0))).left)

    def test_another_fee_or_wage_changes_nothing_that_was_closed(self) -> None:
        dearer = replace(FACTS, channel=FeeRule(percent=D(12)), wage_per_hour=D(30), goods_cost=D("2.60"))
        self.assertEqual(with_closed(record_of(dearer), KEPT, CLOSED, OPEN).lines, KEPT)

    def test_packed_again_after_the_month_was_closed_its_goods_count_once(self) -> None:
        again = record_of(replace(FACTS, packed_on=date(2026, 11, 3)))
        record = with_closed(again, KEPT, CLOSED, OPEN)
        self.assertEqual(record.sum_of("goods"), D("7.20"))
        self.assertEqual(record.left, record_of(FACTS).left)

    def test_an_order_the_closed_month_never_had_comes_in_the_open_one(self) -> None:
        record = with_closed(record_of(FACTS), (), CLOSED, OPEN)
        self.assertEqual(by_month([record]), {"2026-11": record_of(FACTS).left})


amounts = st.decimals(min_value=0, max_value=90, places=2)
days = st.dates(date(2026, 9, 1), date(2026, 12, 31))
happened = st.lists(
    st.builds(Happened, kind=st.sampled_from(["postage", "carrier_charge", "refund", "claim"]), amount=amounts, on=days,
              source=st.just("x")),
    max_size=5,
).map(tuple)  # fmt: skip


class Months(unittest.TestCase):
    @given(st.dates(date(2000, 1, 1), date(2099, 1, 1)), st.integers(-40, 40))
    def test_there_and_back_is_the_same_month(self, day: date, step: int) -> None:
        month = month_of(day)
        self.assertEqual(month_beside(month_beside(month, step), -step), month)
        self.assertEqual(month_of(first_day_of(month)), month)
        self.assertEqual(month_beside(month, step) > month, step > 0)


class Laws(unittest.TestCase):
    @given(happened, happened, st.sampled_from([D(0), D("0.50")]))
    def test_closed_months_stand_and_the_sum_is_what_happened(
        self, before: tuple[Happened, ...], since: tuple[Happened, ...], expected_loss: Decimal
    ) -> None:
        first = record_of(replace(FACTS, happened=before))
        kept = tuple(line for line in first.lines if month_of(line.on) in CLOSED)
        now = record_of(replace(FACTS, happened=(*before, *since), expected_loss=expected_loss))
        record = with_closed(now, kept, CLOSED, OPEN)
        self.assertEqual(record.left, now.left)
        months = by_month([record])
        self.assertEqual(months.get("2026-10", 0), sum((line.amount for line in kept), D(0)))
