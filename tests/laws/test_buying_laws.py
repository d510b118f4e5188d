"""Laws of buying: more money never runs out sooner, conversions keep value, receiving in parts is receiving at once."""

import unittest
from datetime import date
from decimal import Decimal

from hypothesis import given, settings
from hypothesis import strategies as st

from core.buying.needs import Shop, watched
from core.buying.offers import Buying, Offer, PriceBreak, Supplier, amounts, best_amount
from core.buying.plan import buy
from core.buying.workdays import WorkDays
from core.supplies.conversion import Input, convert
from core.supplies.ledger import LedgerEntry, value_by_moving_average
from tests.core.cupboards import random_cupboard

MONDAY = date(2026, 11, 23)
SHOP = Shop(today=MONDAY, calendar=WorkDays(weekdays=(0, 1, 2, 3, 4)))
MONEY = st.decimals(min_value=Decimal("0.01"), max_value=Decimal(50), places=2)
MANY = st.decimals(min_value=Decimal("0.5"), max_value=Decimal(500), places=3)


def _share(whole: Decimal, tenths: int) -> Decimal:
    return (whole * tenths / 10).quantize(Decimal("0.01"))


class BuyingLaws(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.integers(0, 10_000), st.integers(1, 9), st.integers(1, 9))
    def test_a_larger_budget_never_runs_out_sooner(self, seed: int, one: int, other: int) -> None:
        supplies = watched(random_cupboard(seed, MONDAY, most=6), SHOP)
        whole = buy(supplies, SHOP).total
        less, more = (
            [day or date.max for day in buy(supplies, SHOP, budget=_share(whole, share)).run_outs]
            for share in sorted((one, other))
        )
        self.assertGreaterEqual(more, less)

    @settings(max_examples=60, deadline=None)
    @given(st.integers(0, 10_000), st.integers(1, 9))
    def test_no_plan_costs_more_than_its_budget_and_every_total_is_the_sum_of_its_orders(
        self, seed: int, share: int
    ) -> None:
        supplies = watched(random_cupboard(seed, MONDAY, most=6), SHOP)
        budget = _share(buy(supplies, SHOP).total, share)
        plan = buy(supplies, SHOP, budget=budget)
        self.assertLessEqual(plan.total, budget)
        self.assertEqual(plan.total, sum((order.total for order in plan.orders), Decimal(0)))

    @given(st.lists(MONEY, min_size=1, max_size=4), MANY, st.integers(1, 200))
    def test_the_amount_taken_costs_a_year_least_of_those_that_may_be(
        self, prices: list[Decimal], wanted: Decimal, use: int
    ) -> None:
        falling = sorted(set(prices), reverse=True)
        offer = Offer(
            supplier=Supplier(code="s", name="S", lead_days=3, delivery=Decimal(6), free_from=Decimal(80)),
            pack=Decimal(5),
            breaks=tuple(PriceBreak(from_quantity=Decimal(50 * at), price=p) for at, p in enumerate(falling)),
        )
        found = amounts(
            offer, wanted, use_a_day=Decimal(use), use_a_year=Decimal(use * 260), room=Decimal(400), longest_days=130,
            buying=Buying(),
        )  # fmt: skip
        best = best_amount(found)
        self.assertGreaterEqual(best.quantity, wanted)
        self.assertTrue(all((best.yearly or 0) <= (one.yearly or 0) for one in found if not one.barred))

    @given(st.lists(st.tuples(MANY, MONEY), min_size=1, max_size=4), st.integers(1, 500), st.integers(0, 60))
    def test_a_conversion_keeps_the_value_to_the_cent(
        self, given_in: list[tuple[Decimal, Decimal]], made: int, waste: int
    ) -> None:
        inputs = [Input(code=str(at), quantity=q, average_cost=c) for at, (q, c) in enumerate(given_in)]
        if made * (100 - waste) < 100:
            return
        found = convert(inputs, made=Decimal(made), waste_percent=Decimal(waste), whole=True)
        self.assertLess(abs(found.quantity * found.unit_cost - found.value), Decimal("0.01"))

    @given(st.lists(MANY, min_size=1, max_size=6), MONEY, MANY, MONEY)
    def test_receiving_in_parts_is_receiving_at_once(
        self, parts: list[Decimal], price: Decimal, held: Decimal, cost: Decimal
    ) -> None:
        before = LedgerEntry(kind="received", quantity=held, unit_cost=cost)
        each = [LedgerEntry(kind="received", quantity=part, unit_cost=price) for part in parts]
        whole = LedgerEntry(kind="received", quantity=sum(parts, Decimal(0)), unit_cost=price)
        in_parts, at_once = value_by_moving_average([before, *each]), value_by_moving_average([before, whole])
        self.assertEqual(in_parts.on_hand, at_once.on_hand)
        self.assertLess(abs(in_parts.average_cost - at_once.average_cost), Decimal("0.00001"))


if __name__ == "__main__":
    unittest.main()
