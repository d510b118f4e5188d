"""The scale, the weight check and the steps of a parcel (rules 8.3)."""

import unittest
from dataclasses import replace

from core.bench.slips import slips_of
from core.bench.steps import steps_of
from core.bench.timing import without_pauses
from core.bench.weighing import Reading, Slip, check_weight, median_mg, settle, share_noticed
from core.bench.weighing import WeightCheck as WeightCheckOf
from core.parcels.layers import pack_layers
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.model import InnerCarton
from core.supplies.ledger import LedgerEntry, count_difference, value_by_moving_average
from tests.core.samples import BUBBLE, DAY, HERE, MAILER, NO_CUSHION, D, band, carton, facts, jar, order, recipe, size
from tests.said import said


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
    """The worked numbers of rules 8.3: a jar of 430 g, sigma 146.3 g, prior 1 in 1 000, cost 15.00, a look 0.125."""

    MISSING = Slip(kind="unit_missing", what="one jar is missing", effect_mg=-430_000, unnoticed_cost=D(15))
    SLIPS = (
        MISSING,
        Slip(kind="unit_extra", what="one jar too many", effect_mg=430_000, unnoticed_cost=D("2.10")),
        Slip(kind="insert_missing", what="Card was left out", effect_mg=-6_000, unnoticed_cost=D("0.12")),
        Slip(kind="no_fill", what="the Kraft was left out", effect_mg=-160_000, unnoticed_cost=D(12)),
    )

    def check(self, off_g: float, *, sigma_mg: int = 146_300, slips: tuple[Slip, ...] = (MISSING,)) -> WeightCheckOf:
        return check_weight(
            expected_mg=1_240_000,
            sigma_mg=sigma_mg,
            measured_mg=1_240_000 + round(off_g * 1000),
            slips=slips,
            look_cost=D("0.125"),
            slip_one_in=200,
        )

    def test_the_worked_numbers(self) -> None:
        for light_g, percent, asks in ((430, "7.0", True), (350, "1.5", True), (250, "0.20", False)):
            check = self.check(-light_g)
            self.assertEqual(check.fine, not asks)
            if asks:
                shown = f"{check.explanations[0].chance * 100:.1f}"
                self.assertEqual(shown, percent)

    def test_a_quarter_kilo_light_is_one_in_five_hundred(self) -> None:
        # 0.20 %: asked for only because this look costs next to nothing.
        check = check_weight(
            expected_mg=0,
            sigma_mg=146_300,
            measured_mg=-250_000,
            slips=(self.MISSING,),
            look_cost=D("0.0001"),
            slip_one_in=200,
        )
        self.assertEqual(check.explanations[0].chance, D("0.0020"))

    def test_a_missing_jar_a_jar_too_many_and_no_fill_are_explained(self) -> None:
        for off_g, words in (
            (-430, "one jar is missing"),
            (430, "one jar too many"),
            (-160, "the Kraft was left out"),
        ):
            check = self.check(off_g, sigma_mg=15_000, slips=self.SLIPS)
            self.assertEqual(check.explanations[0].slip.what, words)
            self.assertTrue(check.explanations[0].within_tolerance)
            self.assertIn(words, said(check.message))

    def test_beyond_three_sigma_a_look_is_asked_for_whatever_explains_it(self) -> None:
        self.assertTrue(self.check(44, sigma_mg=15_000, slips=()).fine)
        self.assertFalse(self.check(46, sigma_mg=15_000, slips=()).fine)

    def test_what_nothing_explains_is_said(self) -> None:
        check = self.check(1760, sigma_mg=15_000, slips=self.SLIPS)
        self.assertIn("no single thing explains it", said(check.message))

    def test_a_slip_that_costs_nothing_unnoticed_asks_for_no_look(self) -> None:
        cheap = replace(self.MISSING, unnoticed_cost=D(0))
        self.assertTrue(self.check(-430, slips=(cheap,)).fine)

    def test_the_weight_is_the_median_of_the_stable_five(self) -> None:
        self.assertEqual(median_mg(reading(500, 1240, 1241, 1240, 1240, 1241)), 1_240_000)

    def test_the_share_noticed_rises_as_the_uncertainty_falls(self) -> None:
        shares = [
            share_noticed(self.MISSING, (self.MISSING,), sigma_mg=sigma, look_cost=D("0.125"), slip_one_in=200)
            for sigma in (400_000, 146_300, 60_000)
        ]
        self.assertEqual(shares, sorted(shares))
        self.assertGreater(shares[-1], 0.999)
        self.assertLess(shares[0], 0.2)


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
            ["print", "gather", "check", "cut", "wrap", *["pack"] * 5, "prove", "close", "weigh", "label", "hand_over"],
        )
        self.assertEqual([s.tick_units for s in steps if s.kind in ("check", "wrap")], [2, 2])
        self.assertEqual([s.layer for s in steps if s.layer is not None], [0, 1, 2, 3, 4, 5])

    def test_the_slip_is_printed_first_and_what_is_turned_over_comes_after_closing(self) -> None:
        how = replace(recipe(), closed_checks=("Turn it over.",))
        steps = steps_of(self.plan.chosen.parcels[0], (how,), pack_layers(self.plan.chosen.parcels[0], {}), {})
        kinds = [s.kind for s in steps]
        self.assertEqual((kinds[0], [t.code for t in steps[0].takes]), ("print", ["I"]))
        self.assertLess(kinds.index("prove"), kinds.index("close"))
        self.assertEqual(kinds[kinds.index("close") + 1], "prove_closed")

    def test_wraps_are_cut_once_and_each_wrap_step_names_its_product(self) -> None:
        layers = pack_layers(self.plan.chosen.parcels[0], {})
        steps = steps_of(self.plan.chosen.parcels[0], (recipe(),), layers, {"W": "Bubble"})
        (cut,) = [s for s in steps if s.kind == "cut"]
        self.assertEqual([said(t.amount) for t in cut.takes], ["2 lengths of 684 mm"])
        (wrap,) = [s for s in steps if s.kind == "wrap"]
        self.assertEqual((said(wrap.title), wrap.takes), ("Wrap 2 jar in Bubble", ()))

    def test_6_the_cut_list_says_what_is_done_across_the_roll(self) -> None:
        for changes, amount, across in (
            ({}, "2 lengths of 684 mm", "each 210 mm wide"),
            ({"roll_width_um": 300_000}, "2 lengths of 684 mm", "each trimmed to 210 mm wide"),
            ({"roll_width_um": 430_000}, "1 length of 684 mm", "each cut into 2 sheets, 210 mm wide"),
            ({"sheet_um": (700_000, 300_000)}, "2 sheets", ""),
            ({"sheet_um": (400_000, 300_000)}, "4 sheets", "2 strips side by side make one sheet"),
        ):
            shelf = replace(facts().shelf, wraps={**facts().shelf.wraps, "W": replace(BUBBLE, **changes)})
            plan = plan_order(order(2), replace(facts(), shelf=shelf), destination=HERE, ship_on=DAY)
            assert isinstance(plan, PlannedOrder), plan
            parcel = plan.chosen.parcels[0]
            steps = steps_of(parcel, (recipe(),), pack_layers(parcel, {}), {"W": "Bubble"})
            (take,) = next(s for s in steps if s.kind == "cut").takes
            self.assertEqual((said(take.amount), said(take.detail)), (amount, across), changes)

    def test_each_recipes_checks_are_for_its_own_goods_and_marked_with_whose_they_are(self) -> None:
        loaf = replace(recipe(code="loaves"), name="Loaves", goods_checks=("Date on it.",))
        other = jar(sku="LOAF", name="loaf")
        lines = (*order(2), *order(1, product=other, how=replace(loaf, bands=(band(1, 6),))))
        plan = plan_order(lines, facts(), destination=HERE, ship_on=DAY)
        assert isinstance(plan, PlannedOrder), plan
        parcel = plan.chosen.parcels[0]
        steps = steps_of(parcel, (recipe(), loaf), pack_layers(parcel, {}), {})
        told = {said(s.title): (said(s.detail), [t.code for t in s.takes]) for s in steps if s.kind == "check"}
        self.assertEqual(
            told,
            {"Check each item: jar": ("Lid tight.", ["JAR"]), "Check each item: loaf": ("Date on it.", ["LOAF"])},
        )

    def test_a_mailer_is_tested_as_a_mailer(self) -> None:
        how = replace(recipe(band(1, 2, outers=("M",), cushion=NO_CUSHION)), mailer_checks=("Press it flat.",))
        cloth = jar(size=size(180, 120, 15), orientation="flat", fragility="sturdy")
        plan = plan_order(order(1, product=cloth, how=how), facts(containers=(MAILER,)), destination=HERE, ship_on=DAY)
        assert isinstance(plan, PlannedOrder), plan
        parcel = plan.chosen.parcels[0]
        proofs = [said(s.detail) for s in steps_of(parcel, (how,), pack_layers(parcel, {}), {}) if "prove" in s.kind]
        self.assertEqual(proofs, ["Press it flat."])

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
        fetched = [(said(step.title), take.role) for step in steps for take in step.takes if "fill" in take.role]
        self.assertEqual(fetched, [("Kraft, 30 mm deep", "fill"), ("Kraft in Carton C-01", "inner fill")])
        self.assertEqual([said(s.title) for s in steps for t in s.takes if t.role == "inner"], ["Place 2 jar"])
        missing = [said(c.what) for c in slips_of(parcel, {"K": "Kraft"}, {}) if c.kind == "no_fill"]
        self.assertEqual(sorted(missing), ["the Kraft in the inner carton was left out", "the Kraft was left out"])

    def test_every_change_that_could_explain_a_difference_is_offered(self) -> None:
        kinds = {c.kind for c in slips_of(self.plan.chosen.parcels[0], {}, {"C-08": 200_000, "C-14": 334_000})}
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


class Times(unittest.TestCase):
    def test_a_time_over_three_times_the_median_is_a_pause(self) -> None:
        self.assertEqual(without_pauses([20, 25, 22, 400, 66]), (20, 25, 22, 66))
        self.assertEqual(without_pauses([]), ())
        self.assertEqual(without_pauses([5, 5, 15]), (5, 5, 15))
