"""Room to spare, the cost of each as the order grows, and the step a band just misses (rules 11.4 and 11.5)."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.advising.missed_steps import PastOrder, band_steps
from core.advising.spare import spare_in, unit_costs
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.model import Occasion
from core.tariffs.model import Limits, WeightStep, ZoneTable
from tests.core.samples import C08, C14, DAY, HERE, band, facts, order, recipe, service, tariff
from tests.said import said

D = Decimal


def priced(*pairs: tuple[int, str]) -> Facts:
    steps = tuple(WeightStep(up_to_mg=mg, price=D(p)) for mg, p in pairs)
    one = service(
        zones=(ZoneTable(zone="1", transit_days=1, steps=steps),), volumetric=(), surcharges=(), limits=Limits()
    )
    return facts(containers=(C08, C14), tariffs=(tariff(one),))


HOW = recipe(band(1, 12, outers=("C-08", "C-14")))


def planned(known: Facts, units: int) -> PlannedOrder:
    plan = plan_order(order(units, how=HOW), known, destination=HERE, ship_on=DAY)
    assert isinstance(plan, PlannedOrder), plan
    return plan


class RoomToSpare(unittest.TestCase):
    def spare(self, known: Facts, units: int, little: str) -> tuple[int, int, Decimal]:
        (one,) = spare_in(
            planned(known, units), order(units, how=HOW), known, destination=HERE, ship_on=DAY,
            occasion=Occasion(), little=D(little), overrides=Overrides(),
        )  # fmt: skip
        return one.for_nothing, one.for_little, one.little

    def test_more_go_for_nothing_up_to_the_step_and_for_little_up_to_the_next(self) -> None:
        # A jar is 430 g, wrapped and packed about half a kilogram: one to three stay under 2 kg, four and five under 3.
        weights = {n: planned(priced((25_000_000, "5")), n).chosen.only.weight.gross_mg for n in range(1, 7)}
        known = priced((weights[3], "4.00"), (weights[5], "4.40"), (25_000_000, "9.00"))
        self.assertEqual(self.spare(known, 1, "0.50"), (2, 4, D("0.40")))
        self.assertEqual(self.spare(known, 1, "0.10"), (2, 2, D(0)))
        self.assertEqual(self.spare(known, 3, "0"), (0, 0, D(0)))

    def test_the_cost_of_each_is_the_whole_by_the_units_as_planning_gives_it(self) -> None:
        known = priced((2_000_000, "4.00"), (25_000_000, "6.00"))
        found = unit_costs(order(1, how=HOW)[0], known, destination=HERE, ship_on=DAY, most=6)
        self.assertEqual([one.units for one in found], [1, 2, 3, 4, 5, 6])
        for one in found:
            total = planned(known, one.units).chosen.costs.total
            self.assertEqual((one.total, one.each), (total, (total / one.units).quantize(D("0.01"))))

    def test_what_cannot_be_planned_says_why(self) -> None:
        bare = replace(priced((25_000_000, "5")), containers=())
        (found,) = unit_costs(order(1, how=HOW)[0], bare, destination=HERE, ship_on=DAY, most=1)
        self.assertIsNone(found.each)
        self.assertIn("No container takes this order", said(found.problem))


class Bands(unittest.TestCase):
    def test_the_share_and_the_sum_are_those_of_the_orders_that_miss_the_step(self) -> None:
        gross = planned(priced((25_000_000, "5")), 3).chosen.only.weight.gross_mg
        # Three jars are 9 g over the step; two are far below it.
        known = priced((gross - 9_000, "4.00"), (25_000_000, "5.50"))
        past = [
            PastOrder(units=3, times=19, candidate=planned(known, 3).chosen.only),
            PastOrder(units=2, times=31, candidate=planned(known, 2).chosen.only),
        ]
        (found,) = band_steps("the preserve", HOW.bands, past, known.tariffs)
        self.assertEqual((found.orders, found.of, found.percent, found.saves), (19, 50, 38, D("28.50")))
        self.assertEqual((found.measure, found.over, found.step), ("weight", 9_000, gross - 9_000))
        self.assertIn("of the preserve is 9 g over the", said(found.sentence))
        self.assertIn("in 38 % of orders (19 of 50): 28.50 in total.", said(found.sentence))

    def test_what_is_far_from_a_step_is_left_out(self) -> None:
        known = priced((500_000, "4.00"), (25_000_000, "5.50"))
        past = [PastOrder(units=3, times=5, candidate=planned(known, 3).chosen.only)]
        self.assertEqual(band_steps("it", HOW.bands, past, known.tariffs), ())
