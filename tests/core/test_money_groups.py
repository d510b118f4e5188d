"""Orders in groups, curves over their values, and the hands' seconds: sums stay sums (rules 18.2, 18.4, 19.4, 20.8)."""

import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from core.bench.timing import hands_seconds, usual_seconds
from core.money.groups import left_by, left_by_goods, left_by_size
from core.money.policies import SentOrder
from core.money.runs import run_as_charged, threshold_curve

D = Decimal
amounts = st.decimals(min_value=-90, max_value=90, places=2)


def sent(key: str, value: str, paid: str = "4.00", *, picked_up: bool = False) -> SentOrder:
    return SentOrder(key=key, value=D(value), weight_mg=1, zone="A", units=1, paid=D(paid), picked_up=picked_up)


class Groups(unittest.TestCase):
    def test_sizes_by_hand(self) -> None:
        found = left_by_size([(1, D(2)), (1, D(5)), (1, D(3)), (5, D(-4)), (20, D(9))])
        self.assertEqual(
            [(one.units_from, one.units_to, one.orders, one.left, one.median) for one in found],
            [(1, 1, 3, D(10), D("3.00")), (4, 6, 1, D(-4), D("-4.00")), (13, None, 1, D(9), D("9.00"))],
        )

    def test_what_an_order_left_is_shared_out_by_what_was_paid(self) -> None:
        found = left_by_goods([([("jar", D(30)), ("soap", D(10))], D(8)), ([("soap", D(4))], D(-1))])
        self.assertEqual(
            [(one.key, one.orders, one.left) for one in found], [("jar", 1, D("6.00")), ("soap", 2, D("1.00"))]
        )

    def test_a_present_of_several_things_is_shared_evenly(self) -> None:
        found = left_by_goods([([("card", D(0)), ("tin", D(0))], D(-3))])
        self.assertEqual({one.key: one.left for one in found}, {"card": D("-1.50"), "tin": D("-1.50")})

    @given(st.lists(st.tuples(st.integers(1, 40), amounts), max_size=30))
    def test_no_order_is_lost(self, orders: list[tuple[int, Decimal]]) -> None:
        whole = sum((left for _, left in orders), D(0))
        sizes = left_by_size(orders)
        channels = left_by(orders, lambda one: str(one[0] % 3), lambda one: one[1])
        for groups in (sizes, channels):
            self.assertEqual((sum(one.orders for one in groups), sum((one.left for one in groups), D(0))),
                             (len(orders), whole))  # fmt: skip


class Curves(unittest.TestCase):
    def test_what_a_free_sum_costs(self) -> None:
        orders = [sent("1", "20"), sent("2", "38"), sent("3", "45"), sent("4", "45"), sent("5", "9", picked_up=True)]
        found = threshold_curve(orders, D(5), within=D(10), most=10)
        self.assertEqual([(one.threshold, one.given_up, one.left, one.just_below) for one in found], [
            (D(20), D(20), D(-16), 0.0), (D(38), D(15), D(-11), 0.0), (D(45), D(10), D(-6), 0.25),
        ])  # fmt: skip

    @given(st.lists(st.integers(1, 99), min_size=1, max_size=20))
    def test_a_lower_free_sum_never_costs_less(self, values: list[int]) -> None:
        orders = [sent(str(at), str(value)) for at, value in enumerate(values)]
        costs = [one.given_up for one in threshold_curve(orders, D(5), within=D(10), most=60)]
        self.assertEqual(costs, sorted(costs, reverse=True))

    def test_what_buyers_really_paid_is_a_run_like_others(self) -> None:
        orders = [sent("1", "20"), sent("2", "38", "6.00"), sent("3", "9", picked_up=True)]
        run = run_as_charged(orders, {"1": D(5), "2": D("5.50"), "3": D(0)})
        self.assertEqual((run.charged, run.paid, run.left), (D("10.50"), D("10.00"), D("0.50")))
        self.assertEqual([one.left for one in run.worst], [D("-0.50"), D("1.00")])


class Hands(unittest.TestCase):
    def test_a_pause_counts_as_the_usual_time_of_its_kind(self) -> None:
        usual = usual_seconds([("wrap", 50), ("wrap", 60), ("wrap", 70)])
        self.assertEqual(hands_seconds([("wrap", 62), ("wrap", 900), ("tape", 20)], usual), D(142))
        self.assertEqual(hands_seconds([], usual), 0)
