"""Closure, weight, outer size, and planning one order whole (rules 5.1, 7.1, 8.3, 9.1)."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.parcels.closure import tape_length_um
from core.parcels.layers import layers_of
from core.parcels.outer_size import bulge_allowance, bulged
from core.parcels.plan import Blocked, Overrides, PlannedOrder, plan_order
from core.parcels.workings import workings_of
from core.recipes.model import InnerCarton
from core.tariffs.model import Place
from tests.core.samples import (
    C08,
    C14,
    CLOSURE,
    DAY,
    HERE,
    KRAFT,
    MAILER,
    NO_CUSHION,
    band,
    carton,
    facts,
    jar,
    order,
    recipe,
    size,
)
from tests.said import said

D = Decimal


def plan(lines: object = None, known: object = None, **more: object) -> PlannedOrder | Blocked:
    return plan_order(lines or order(2), known or facts(), destination=HERE, ship_on=DAY, **more)  # type: ignore[arg-type]


class Closing(unittest.TestCase):
    def test_the_tape_lengths_of_the_rules(self) -> None:
        outer = size(305, 229, 100)
        one = replace(CLOSURE, both_faces=False)
        lengths = [tape_length_um(outer, replace(one, pattern=p)) for p in ("centre", "h", "cross")]
        self.assertEqual(lengths, [435_000, 1_153_000, 794_000])
        self.assertEqual(tape_length_um(outer, CLOSURE), 2_306_000)

    def test_a_fill_bulges_the_carton_most_upwards(self) -> None:
        self.assertEqual(bulged(size(326, 236, 176), bulge_allowance(KRAFT)), size(329, 239, 182))
        self.assertEqual(bulge_allowance(None), size(0, 0, 0))


class Planning(unittest.TestCase):
    def planned(self, *args: object, **more: object) -> PlannedOrder:
        result = plan(*args, **more)
        self.assertIsInstance(result, PlannedOrder, getattr(result, "missing", None))
        return result  # type: ignore[return-value]

    def blocked(self, *args: object, **more: object) -> Blocked:
        result = plan(*args, **more)
        self.assertIsInstance(result, Blocked)
        return result  # type: ignore[return-value]

    def test_two_jars_by_hand(self) -> None:
        way = self.planned().chosen.only
        self.assertEqual(way.container, "C-08")
        # 230 x 160 x 170 is 6.256 l; two wrapped jars 2 x 0.83906 l; on top 230 x 160 x 27.6 mm is 1.01568 l, 5 %
        # proud.
        assert way.void is not None
        self.assertEqual(way.void.filled_l, D("6.256") - 2 * D("0.839061504") + D("0.050784") + D("0.000000008"))
        used = {use.supply: use for use in way.uses}
        self.assertEqual(used["TP"].quantity, D("1.916"))  # 2 x (236 + 130 + 2 x (166 + 130)) mm
        self.assertEqual(way.weight.net_mg, 860_000)
        parts = 200_000 + 2 * 11_484 + used["K"].weight_mg + 19_160 + 6_000 + 2_000
        self.assertEqual(way.weight.tare_mg, parts)
        self.assertEqual(way.outer_bulged, size(239, 169, 182))

    def test_uncertainty_is_added_in_squares(self) -> None:
        weight = self.planned().chosen.only.weight
        together = weight.sigma_scale_mg**2 + weight.sigma_fill_mg**2 + weight.sigma_units_mg**2
        self.assertAlmostEqual(weight.sigma_mg, together**0.5, delta=1)
        self.assertEqual((weight.sigma_scale_mg, weight.sigma_units_mg), (289, 5_657))

    def test_the_costs_add_up_and_expected_loss_follows_the_rule(self) -> None:
        way = self.planned().chosen.only
        costs = way.costs
        self.assertEqual(costs.total, costs.materials + costs.labour + costs.postage + costs.expected_loss)
        self.assertEqual(costs.labour, D("1.25"))  # 2 x 1 + 3 minutes at 15 an hour
        expected = (D("0.015") * (D("4.20") + costs.postage + costs.materials)).quantize(D("0.01"))
        self.assertEqual(costs.expected_loss, expected)

    def test_the_recipes_own_carton_is_taken_and_a_cheaper_one_only_offered(self) -> None:
        cheap = carton("C-07", size(230, 160, 170), cost="0.10")
        how = recipe(band(1, 2, outers=("C-08", "C-07")))
        result = self.planned(order(2, how=how), facts(containers=(C08, cheap)))
        self.assertEqual(result.chosen.only.container, "C-08")
        assert result.offer is not None
        self.assertEqual((result.offer.container, result.offer.saves), ("C-07", D("0.52")))
        self.assertIn("C-07 Carton C-07 would cost 0.52 less", said(result.why))

    def test_any_carton_that_fits_is_weighed_when_the_recipe_allows_it(self) -> None:
        how = recipe(band(1, 2, outers=("C-99",), any_outer=True))
        self.assertEqual(self.planned(order(2, how=how)).chosen.only.container, "C-08")

    def test_every_ruled_out_container_says_by_which_limit_and_how_much(self) -> None:
        low = carton("C-02", size(230, 160, 160))
        weak = carton("C-03", size(300, 300, 300), load_mg=500_000)
        result = self.planned(known=facts(containers=(C08, low, weak)))
        reasons = {r.container: said(r.reason) for r in result.ruled_out}
        self.assertEqual(reasons["C-02"], "C-02 is 2 mm too low for jar with 30 mm below and 20 mm on top.")
        self.assertEqual(reasons["C-03"], "C-03 takes 500 g; these goods are 883 g wrapped.")

    def test_out_of_stock_is_said_with_what_it_would_have_cost(self) -> None:
        result = self.blocked(known=facts(containers=(C08,), free={"C-08": D(0)}))
        self.assertEqual(result.missing[0].code, "no_stock")
        self.assertIn("none is free in stock", said(result.missing[0].message))

    def test_a_wrap_that_runs_short_blocks_with_the_amounts(self) -> None:
        result = self.blocked(known=facts(free={"W": D("0.1")}))
        self.assertEqual(result.missing[0].subject, "W")
        self.assertIn("needs 0.29 m2, 0.10 m2 is free", said(result.missing[0].message))

    def test_no_container_big_enough_names_the_limit(self) -> None:
        result = self.blocked(known=facts(containers=(carton("C-08", size(150, 100, 170)),)))
        self.assertEqual(result.missing[0].code, "no_container")

    def test_a_place_no_service_goes_to_is_said(self) -> None:
        result = plan_order(order(2), facts(), destination=Place(country="TOR", postcode="4410"), ship_on=DAY)
        assert isinstance(result, Blocked)
        self.assertEqual(result.missing[0].code, "no_service")
        self.assertIn("Two-day: no zone of its list covers TOR 4410", said(result.missing[0].message))

    def test_no_tariff_at_all_is_said(self) -> None:
        self.assertIn("no current price list", said(self.blocked(known=facts(tariffs=())).missing[0].message))

    def test_an_override_is_taken_checked_and_marked(self) -> None:
        result = self.planned(overrides=Overrides(container="C-14"))
        self.assertEqual((result.chosen.only.container, result.overridden), ("C-14", True))
        self.assertEqual(self.blocked(overrides=Overrides(container="C-99")).missing[0].code, "no_container")

    def test_an_inner_carton_floats_with_its_clearance_in_the_outer(self) -> None:
        inner = carton("C-01", size(182, 90, 120))
        outer = carton("C-20", size(240, 150, 181))
        how = recipe(band(1, 2, outers=("C-20",), inner=InnerCarton(container="C-01")))
        way = self.planned(order(2, how=how), facts(containers=(inner, outer))).chosen.only
        assert way.nested is not None
        self.assertEqual((way.nested.code, len(way.nested.placements)), ("C-01", 2))
        # Inner outside + 50 mm: 188 + 50 <= 240, 96 + 50 <= 150; below, the cushion of 30 is more: 126 + 30 + 25 = 181.
        tight = carton("C-20", size(235, 150, 181))
        refused = self.blocked(order(2, how=how), facts(containers=(inner, tight)))
        self.assertIn("3 mm too short", said(refused.missing[0].message))

    def test_an_inner_carton_is_filled_as_the_outer_is(self) -> None:
        inner, outer = carton("C-01", size(182, 90, 120)), carton("C-20", size(240, 150, 181))
        how = recipe(band(1, 2, outers=("C-20",), inner=InnerCarton(container="C-01")))
        plan = self.planned(order(2, how=how), facts(containers=(inner, outer)))
        way = plan.chosen.only
        # 182 x 90 x 120 is 1.9656 l; two wrapped jars 2 x 0.83906 l; over them 182 x 90 x 7.6 mm is 0.124488 l, not
        # proud.
        assert way.nested is not None and way.nested.void is not None
        void = way.nested.void
        self.assertEqual((void.above_l, void.proud_l, void.below_l), (D("0.124488"), 0, 0))
        self.assertEqual(void.filled_l, D("0.287477"))
        inside, round_it = (next(u for u in way.uses if u.role == role) for role in ("inner fill", "fill"))
        self.assertEqual((inside.quantity, inside.weight_mg), (D("0.287477"), 10_062))  # 35 g/l
        # Two heaps, each 20 %: added in squares.
        both = round(((inside.weight_mg / 5) ** 2 + (round_it.weight_mg / 5) ** 2) ** 0.5)
        self.assertAlmostEqual(way.weight.sigma_fill_mg, both, delta=1)
        layers = layers_of(way, plan.pieces, plan.pieces[0].band, {"K": "Kraft"})
        self.assertEqual([layer.kind for layer in layers][1:4], ["units", "inner_fill", "inner"])
        self.assertEqual(
            (said(layers[2].title), said(layers[2].detail)),
            ("Kraft in Carton C-01", "about 0.5 litres round the sides, about 0.5 litres on top, until nothing shifts"),
        )

    def test_an_inner_carton_holds_no_more_with_its_fill_than_it_takes(self) -> None:
        goods_mg = 2 * (430_000 + 11_484)
        outer = carton("C-20", size(240, 150, 181))
        how = recipe(band(1, 2, outers=("C-20",), inner=InnerCarton(container="C-01")))
        for load_mg, taken in ((goods_mg + 10_062, True), (goods_mg + 10_061, False)):
            inner = carton("C-01", size(182, 90, 120), load_mg=load_mg)
            found = self.planned(order(2, how=how), facts(containers=(inner, outer)))
            # Else it goes in two parcels, a jar each.
            self.assertEqual(len(found.chosen.parcels), 1 if taken else 2)
        reasons = {r.container: said(r.reason) for r in found.ruled_out}
        self.assertEqual(reasons["C-20"], "C-20: C-01 inside it takes 893 g and would hold 893 g.")

    def test_a_mailer_takes_flat_goods_and_no_fill(self) -> None:
        cloth = jar(sku="CLOTH", name="cloth", size=size(240, 180, 15), weight_mg=160_000)
        how = recipe(band(1, 2, layers=(), outers=("M",), fill=None, closure=None, gap_um=0, cushion=NO_CUSHION))
        plan = self.planned(order(2, product=cloth, how=how), facts(containers=(MAILER,)))
        way = plan.chosen.only
        self.assertEqual((way.kind, way.void, way.outer.height_um), ("mailer", None, 36_000))
        layers = layers_of(way, plan.pieces, plan.pieces[0].band, {})
        self.assertEqual((said(layers[0].detail), layers[-1].kind), ("lying flat", "close"))
        self.assertIn("press the flap shut", said(layers[-1].title))

    def test_a_carton_without_tape_is_closed_by_its_own_seal(self) -> None:
        plan = self.planned(order(2, how=recipe(band(1, 2, closure=None))))
        last = layers_of(plan.chosen.only, plan.pieces, plan.pieces[0].band, {})[-1]
        self.assertEqual((last.kind, said(last.title)), ("close", "Close it by its own seal"))

    def test_layers_run_from_the_bottom_cushion_to_the_tape(self) -> None:
        result = self.planned()
        layers = layers_of(result.chosen.only, result.pieces, result.pieces[0].band, {"K": "Kraft"})
        self.assertEqual([layer.kind for layer in layers], ["cushion", "units", "fill", "fill", "insert", "close"])
        self.assertEqual(sorted(i for layer in layers for i in layer.placements), [0, 1])

    def test_every_figure_shows_a_sum_that_adds_up(self) -> None:
        result = self.planned()
        sums = {
            said(w.what): w
            for w in workings_of(result.chosen.only, result.pieces, wage_per_hour=D(15), goods_cost=D("4.20"))
        }
        gross = sums["Gross weight"]
        self.assertEqual(sum(line.amount.value for line in gross.lines), gross.result.value)
        self.assertEqual(
            sum((line.amount.value for line in sums["Materials"].lines), D(0)).quantize(D("0.01")),
            sums["Materials"].result.value,
        )
        outside = sums["Height outside"]
        self.assertEqual(sum(line.amount.value for line in outside.lines), outside.result.value)

    def test_a_mixed_order_takes_the_cheapest_container_that_holds_all(self) -> None:
        other = recipe(band(1, 9, layers=(), cushion=NO_CUSHION, outers=("C-08",)), code="bars")
        bar = jar(sku="BAR", name="bar", size=size(80, 50, 30), weight_mg=100_000, orientation="any")
        result = self.planned((*order(2), *order(3, product=bar, how=other)), facts(containers=(C08, C14)))
        self.assertEqual(sum(p.quantity for p in result.pieces), 5)
        self.assertEqual(len(result.chosen.only.placements), 5)
