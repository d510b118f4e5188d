"""What is left per unit, where it turns, "2 for": worked by hand (rules 18.5), and a demand assumption."""

import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from core.money.fees import FeeRule
from core.money.per_unit import Selling, left_per_unit
from core.money.policies import Flat, Policy, SentOrder
from core.money.runs import filled_up

D = Decimal
PLAIN = Selling(price=D("6.80"), goods_cost=D("2.10"))


class LeftPerUnit(unittest.TestCase):
    def test_one_and_two_by_hand(self) -> None:
        one, two = left_per_unit(PLAIN, [(1, D("6.46"), D("5.50")), (2, D("8.72"), D("5.50"))])
        self.assertEqual((one.left, one.left_each), (D("3.74"), D("3.74")))  # 6.80 + 5.50 - 2.10 - 6.46
        self.assertEqual((two.left, two.left_each), (D("6.18"), D("3.09")))  # 13.60 + 5.50 - 4.20 - 8.72
        self.assertEqual((one.marginal_cost, two.marginal_cost), (None, D("4.36")))  # 2.26 more, and the goods
        self.assertEqual((one.turns_at, two.turns_at), (D("3.06"), D("3.71")))
        # The second leaves 2.44; half of it is the buyer's: 13.60 - 1.22, down to a full ten.
        self.assertEqual((two.bundle_least, two.bundle), (D("11.16"), D("12.30")))

    def test_a_unit_more_that_costs_more_than_its_price_has_no_bundle(self) -> None:
        _, two = left_per_unit(PLAIN, [(1, D("6.00"), D(0)), (2, D("13.00"), D(0))])
        self.assertEqual(two.bundle, None)
        assert two.bundle_least is not None
        self.assertGreater(two.bundle_least, D("13.60"))

    def test_fees_and_tax_are_paid_of_it(self) -> None:
        selling = Selling(
            price=D("10.00"), goods_cost=D("2.00"), channel=FeeRule(percent=D(6), fixed=D("0.20")),
            payment=FeeRule(percent=D(2)), tax_percent=D(5),
        )  # fmt: skip
        (one,) = left_per_unit(selling, [(1, D("5.00"), D("5.00"))])
        # 15.00 - 0.71 tax - 1.10 channel - 0.30 payment - 2.00 - 5.00
        self.assertEqual(one.left, D("5.89"))

    @given(st.decimals("0.5", 60, places=2), st.decimals(0, 30, places=2), st.decimals(0, 20, places=2))
    def test_it_turns_at_the_price_from_which_something_is_left(self, price: D, cost: D, goods: D) -> None:
        selling = Selling(price=price, goods_cost=goods, channel=FeeRule(percent=D(6)), tax_percent=D(5))
        (one,) = left_per_unit(selling, [(1, cost, D(4))])
        self.assertGreaterEqual(selling.left(1, one.turns_at, D(4), cost), 0)
        if one.turns_at > 0:
            # Tax and fee are each rounded: within three cents each can take back one.
            self.assertLess(selling.left(1, one.turns_at - D("0.03"), D(4), cost), 0)


class Demand(unittest.TestCase):
    def test_what_an_assumption_comes_to_is_apart_from_what_was_counted(self) -> None:
        def order(key: str, value: str) -> SentOrder:
            return SentOrder(key=key, value=D(value), weight_mg=1, zone="A", units=1, paid=D(4))

        orders = [order("1", "38"), order("2", "44"), order("3", "45"), order("4", "20")]
        policy = Policy(code="f", name="", base=Flat(amount=D("5.90")), free_from=D(45))
        found = filled_up(policy, orders, within=D(10), percent=50)
        assert found is not None
        # 7.00 and 1.00 below: half of 8.00 more goods, half of two charges given up
        self.assertEqual((found.orders, found.more_goods, found.given_up), (2, D("4.00"), D("5.90")))
        self.assertIsNone(filled_up(Policy(code="f", name="", base=Flat(amount=D(5))), orders, within=D(9), percent=9))
