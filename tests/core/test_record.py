"""An order's record: every line worked by hand, and laws."""

import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from core.money.fees import DatedFee, FeeRule, fee_on
from core.money.record import Happened, OrderFacts, by_month, record_of

D = Decimal
DAY = date(2026, 10, 29)
FACTS = OrderFacts(
    key="1160",
    goods=D("48.00"),
    postage_charged=D("5.50"),
    tax_percent=D(7),
    channel=FeeRule(percent=D("6.5"), fixed=D("0.20")),
    payment=FeeRule(percent=D("1.4"), fixed=D("0.25")),
    packed_on=date(2026, 10, 30),
    minutes=D("9.5"),
    wage_per_hour=D(18),
    happened=(
        Happened(kind="postage", amount=D("6.10"), on=date(2026, 10, 30), source="label LK1"),
        Happened(kind="materials", amount=D("2.214"), on=date(2026, 10, 30), source="ledger"),
    ),
    expected_loss=D("1.22"),
)


class Lines(unittest.TestCase):
    def test_each_line_by_hand(self) -> None:
        record = record_of(FACTS)
        self.assertEqual(
            [(line.kind, line.amount) for line in record.lines],
            [
                ("goods", D("48.00")),
                ("postage_charged", D("5.50")),
                ("tax", D("-3.50")),  # 53.50 x 7 / 107
                ("channel_fee", D("-3.68")),  # 53.50 x 6.5 % + 0.20 = 3.6775
                ("payment_fee", D("-1.00")),  # 53.50 x 1.4 % + 0.25 = 0.999
                ("labour", D("-2.85")),
                ("expected_loss", D("-1.22")),
                ("postage", D("-6.10")),
                ("materials", D("-2.21")),
            ],
        )
        self.assertEqual((record.income, record.left), (D("50.00"), D("32.94")))
        assert record.margin is not None
        self.assertEqual(round(record.margin, 4), D("0.6588"))

    def test_once_it_arrived_only_what_was_lost_counts(self) -> None:
        came = replace(
            FACTS,
            expected_loss=D(0),
            happened=(
                *FACTS.happened,
                Happened(kind="refund", amount=D("24.00"), on=date(2026, 11, 6), source="arrival"),
                Happened(kind="claim", amount=D("20.00"), on=date(2026, 12, 2), source="claim LK1"),
            ),
        )
        record = record_of(came)
        self.assertEqual((record.sum_of("expected_loss"), record.sum_of("refund", "claim")), (0, D("-4.00")))
        self.assertEqual(record.left, D("30.16"))

    def test_a_later_charge_changes_no_earlier_month(self) -> None:
        late = Happened(kind="carrier_charge", amount=D("1.90"), on=date(2026, 11, 20), source="label LK1")
        before = by_month([record_of(FACTS)])
        after = by_month([record_of(replace(FACTS, happened=(*FACTS.happened, late)))])
        self.assertEqual(before, {"2026-10": D("32.94")})
        self.assertEqual(after, {"2026-10": D("32.94"), "2026-11": D("-1.90")})

    def test_a_gift_of_nothing_costs_no_fee_and_has_no_margin(self) -> None:
        record = record_of(replace(FACTS, goods=D(0), postage_charged=D(0)))
        self.assertEqual(record.sum_of("channel_fee", "payment_fee", "tax"), 0)
        self.assertIsNone(record.margin)

    def test_what_the_goods_cost_is_a_line_of_its_own(self) -> None:
        record = record_of(replace(FACTS, goods_cost=D("16.80")))
        self.assertEqual((record.sum_of("goods_cost"), record.left), (D("-16.80"), D("16.14")))

    def test_a_fee_of_goods_alone(self) -> None:
        self.assertEqual(FeeRule(percent=D(10), of_postage=False).fee(D(40), D(6), 2), D("4.00"))


amounts = st.decimals(min_value=0, max_value=2_000, places=2)
percents = st.decimals(min_value=0, max_value=30, places=2)
facts = st.builds(
    OrderFacts, key=st.just("1"), packed_on=st.dates(date(2026, 1, 1), date(2026, 12, 31)), goods=amounts,
    postage_charged=amounts, tax_percent=percents, channel=st.builds(FeeRule, percent=percents, fixed=amounts),
    minutes=amounts, wage_per_hour=amounts, expected_loss=amounts,
    happened=st.lists(
        st.builds(
            Happened, kind=st.sampled_from(["postage", "materials", "refund", "claim"]),
            amount=st.decimals(min_value=0, max_value=90, places=4), on=st.dates(date(2026, 1, 1), date(2027, 3, 1)),
            source=st.just("x"),
        ),
        max_size=6,
    ).map(tuple),
)  # fmt: skip


class InForce(unittest.TestCase):
    def test_the_channels_newest_rule_else_that_of_every_channel(self) -> None:
        def fee(percent: int, channel: str, month: int) -> DatedFee:
            rule = FeeRule(percent=D(percent))
            return DatedFee(kind="channel", channel=channel, from_day=date(2026, month, 1), rule=rule)

        fees = [fee(6, "own shop", 1), fee(8, "own shop", 9), fee(3, "", 6), fee(4, "", 8)]
        asked = {
            ("own shop", date(2026, 8, 31)): 6,  # its own, though that of every channel is newer
            ("own shop", date(2026, 9, 1)): 8,
            ("stall", date(2026, 7, 1)): 3,
            ("stall", date(2026, 12, 1)): 4,
            ("stall", date(2026, 1, 1)): 0,
        }
        for (channel, day), percent in asked.items():
            self.assertEqual(fee_on(fees, "channel", channel, day).percent, percent, (channel, day))
        self.assertEqual(fee_on(fees, "payment", "own shop", DAY), FeeRule())


class Laws(unittest.TestCase):
    @given(facts)
    def test_lines_are_whole_cents_and_months_sum_to_what_is_left(self, known: OrderFacts) -> None:
        record = record_of(known)
        for line in record.lines:
            self.assertEqual(line.amount, line.amount.quantize(D("0.01")))
            self.assertNotEqual(line.amount, 0)
        self.assertEqual(sum(by_month([record]).values(), D(0)), record.left)

    @given(facts, amounts)
    def test_a_cost_more_leaves_just_that_less(self, known: OrderFacts, cost: Decimal) -> None:
        more = Happened(kind="postage", amount=cost, on=DAY, source="label")
        self.assertEqual(record_of(replace(known, happened=(*known.happened, more))).left, record_of(known).left - cost)
