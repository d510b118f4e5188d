"""The scale, the weight check and the steps of a parcel (rules, 8)."""

import unittest

from core.bench.steps import changes_of, steps_of
from core.bench.weight_check import Change, Reading, check_weight, settle
from core.parcels.layers import pack_layers
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.model import InnerCarton
from core.supplies.ledger import LedgerEntry, count_difference, value_by_moving_average
from tests.core.samples import DAY, HERE, D, band, carton, facts, order, recipe, size


def reading(*grams: float) -> Reading:
    return Reading(readings_mg=tuple(round(g * 1000) for g in grams), division_mg=1_000, capacity_mg=30_000_000)


class Scale(unittest.TestCase):
    def test_five_readings_within_one_division_are_a_weight(self) -> None:
        self.assertEqual(settle(reading(500, 1200, 1240, 1240, 1241, 1240, 1240)), "settled")
        self.assertEqual(settle(reading(1240, 1240, 1242, 1240, 1240)), "settling")
        self.assertEqual(settle(reading(1240, 1240, 1240, 1240)), "settling")

    def test_absent_empty_too_light_and_over_capacity_are_told_apart(self) -> None:
        self.assertEqual(
            [
                settle(r)
                for r in (reading(), reading(*[0] * 5), reading(*[19] * 5), reading(*[20] * 5), reading(*[30_001] * 5))
            ],
            ["absent", "empty", "too_light", "settled", "over_capacity"],
        )


class WeightCheck(unittest.TestCase):
    CHANGES = (
        Change(kind="unit_missing", what="one jar is missing", effect_mg=-441_000),
        Change(kind="unit_extra", what="one jar too many", effect_mg=441_000),
        Change(kind="insert_missing", what="Card was left out", effect_mg=-6_000),
        Change(kind="no_fill", what="the Kraft was left out", effect_mg=-160_000),
    )

    def check(self, measured_g: float, sigma_mg: int = 5_000):  # type: ignore[no-untyped-def]
        return check_weight(
            expected_mg=1_240_000,
            sigma_mg=sigma_mg,
            measured_mg=round(measured_g * 1000),
            division_mg=1_000,
            changes=self.CHANGES,
        )

    def test_two_percent_and_one_division_is_fine_and_one_mg_more_is_not(self) -> None:
        self.assertEqual(self.check(1240).tolerance_mg, 25_800)
        self.assertTrue(self.check(1265.8).fine)
        self.assertFalse(self.check(1265.801).fine)

    def test_three_sigma_counts_when_it_is_more(self) -> None:
        self.assertTrue(self.check(1300, sigma_mg=20_000).fine)

    def test_a_missing_jar_a_jar_too_many_and_no_fill_are_explained(self) -> None:
        for grams, words in ((800, "one jar is missing"), (1680, "one jar too many"), (1085, "the Kraft was left out")):
            check = self.check(grams)
            self.assertEqual(check.explanations[0].change.what, words)
            self.assertTrue(check.explanations[0].within_tolerance)
            self.assertIn(words, check.message)

    def test_what_nothing_explains_is_said(self) -> None:
        check = self.check(3000)
        self.assertIn("no single thing explains it", check.message)
        self.assertTrue(all(e.change.effect_mg > 0 for e in check.explanations))


class Steps(unittest.TestCase):
    def setUp(self) -> None:
        plan = plan_order(order(2), facts(), destination=HERE, ship_on=DAY)
        assert isinstance(plan, PlannedOrder)
        self.plan = plan

    def test_the_hands_go_from_gathering_to_handing_over(self) -> None:
        layers = pack_layers(self.plan.chosen.parcels[0], {})
        steps = steps_of(self.plan.chosen.parcels[0], (recipe(),), layers, {"W": "Bubble"})
        self.assertEqual(
            [s.kind for s in steps],
            [
                "gather",
                "check",
                "wrap",
                "pack",
                "pack",
                "pack",
                "pack",
                "pack",
                "prove",
                "close",
                "weigh",
                "label",
                "hand_over",
            ],
        )
        self.assertEqual([s.tick_units for s in steps if s.kind in ("check", "wrap")], [2, 2])
        self.assertEqual([s.layer for s in steps if s.layer is not None], [0, 1, 2, 3, 4, 5])

    def test_the_fill_is_fetched_once(self) -> None:
        layers = pack_layers(self.plan.chosen.parcels[0], {})
        steps = steps_of(self.plan.chosen.parcels[0], (recipe(),), layers, {})
        self.assertEqual(sum(1 for s in steps for t in s.takes if t.role == "fill"), 1)

    def test_the_fill_of_an_inner_carton_is_fetched_for_it_and_may_be_what_is_missing(self) -> None:
        inner, outer = carton("C-01", size(182, 90, 120)), carton("C-20", size(240, 150, 181))
        how = recipe(band(1, 2, outers=("C-20",), inner=InnerCarton(container="C-01")))
        plan = plan_order(order(2, how=how), facts(containers=(inner, outer)), destination=HERE, ship_on=DAY)
        assert isinstance(plan, PlannedOrder)
        parcel = plan.chosen.parcels[0]
        steps = steps_of(parcel, (how,), pack_layers(parcel, {"K": "Kraft"}), {"K": "Kraft"})
        fetched = [(step.title, take.role) for step in steps for take in step.takes if "fill" in take.role]
        self.assertEqual(fetched, [("Kraft, 30 mm deep", "fill"), ("Kraft in Carton C-01", "inner fill")])
        self.assertEqual([s.title for s in steps for t in s.takes if t.role == "inner"], ["Set in 2 jar"])
        missing = [c.what for c in changes_of(parcel, {"K": "Kraft"}, {}) if c.kind == "no_fill"]
        self.assertEqual(sorted(missing), ["the Kraft in the inner carton was left out", "the Kraft was left out"])

    def test_every_change_that_could_explain_a_difference_is_offered(self) -> None:
        kinds = {c.kind for c in changes_of(self.plan.chosen.parcels[0], {}, {"C-08": 200_000, "C-14": 334_000})}
        self.assertEqual(kinds, {"unit_missing", "unit_extra", "insert_missing", "no_fill", "other_container"})


class Ledger(unittest.TestCase):
    def test_the_average_moves_with_what_comes_in_and_stays_with_what_goes_out(self) -> None:
        entries = [
            LedgerEntry(kind="received", quantity=D(10), unit_cost=D("1.00")),
            LedgerEntry(kind="used", quantity=D(-4), unit_cost=None),
            LedgerEntry(kind="received", quantity=D(6), unit_cost=D("2.00")),
        ]
        value = value_by_moving_average(entries)
        self.assertEqual((value.on_hand, value.average_cost), (D(12), D("1.500000")))

    def test_reclaimed_comes_in_at_nothing(self) -> None:
        value = value_by_moving_average(
            [
                LedgerEntry(kind="received", quantity=D(1), unit_cost=D(2)),
                LedgerEntry(kind="reclaimed", quantity=D(1), unit_cost=D(0)),
            ]
        )
        self.assertEqual(value.average_cost, D("1.000000"))

    def test_a_count_carries_the_difference(self) -> None:
        self.assertEqual(count_difference(on_hand=D(12), counted=D(9)), D(-3))
