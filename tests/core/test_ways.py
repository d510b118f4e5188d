"""Ways to pack beyond one carton as it is: cut down, groups, dividers, boxes in mailers, the base-fixed school."""

import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal

from core.bench.steps import steps_of
from core.errors import BadRecipe
from core.packing.void import void_of
from core.parcels.candidate import Candidate
from core.parcels.layers import layers_of, pack_layers
from core.parcels.plan import Blocked, Overrides, PlannedOrder, more_that_fit, plan_order
from core.parcels.required import band_of_parcel
from core.parcels.strength import box_compression_n, stacking
from core.parcels.workings import workings_of
from core.recipes.expand import Shelf
from core.recipes.model import InnerCarton, InsertAmount, Occasion, Sample, When, WrapLayer, check_bands, holds
from core.supplies.items import BoardStrength, CutDown, Insert, Telescope
from tests.core.samples import (
    C08,
    C14,
    DAY,
    HERE,
    LAYER,
    MAILER,
    SHELF,
    band,
    carton,
    facts,
    jar,
    order,
    recipe,
    size,
)
from tests.said import said, said_all

D = Decimal
SHEET = Insert(code="S", name="Sheet", weight_mg=30_000, unit_cost=D("0.09"), thickness_um=4_000)
DEEP = carton("C-30", size(320, 230, 400), cost="1.40")


def known(*containers: object, insert: Insert | None = None) -> object:
    base = facts(containers=tuple(containers))  # type: ignore[arg-type]
    inserts = {**SHELF.inserts, **({insert.code: insert} if insert else {})}
    shelf = Shelf(wraps=SHELF.wraps, fills=SHELF.fills, tapes=SHELF.tapes, inserts=inserts, unit_boxes=SHELF.unit_boxes)
    return replace(base, shelf=shelf, free={**base.free, **({insert.code: D(99)} if insert else {})})


def planned(lines: object, cupboard: object, **more: object) -> PlannedOrder:
    result = plan_order(lines, cupboard, destination=HERE, ship_on=DAY, **more)  # type: ignore[arg-type]
    if isinstance(result, Blocked):
        raise AssertionError(result.missing)
    return result


def uses(way: Candidate, role: str) -> list[tuple[str, Decimal]]:
    return [(use.supply, use.quantity) for use in way.uses if use.role == role]


class Changing(unittest.TestCase):
    """Two cartons slid together for long things, and half a mailer (rules 3.4)."""

    STICK = jar(sku="STICK", size=size(700, 60, 60), orientation="any", weight_mg=300_000)
    LONG = replace(carton("T-45", size(450, 110, 110)), telescope=Telescope(overlap_um=100_000, minutes=D(2)))
    HOW = recipe(band(1, 2, outers=("T-45",), layers=()))

    def test_two_cartons_slid_together_take_what_is_too_long_for_one(self) -> None:
        plan = planned(order(1, product=self.STICK, how=self.HOW), known(self.LONG))
        one = plan.chosen.only
        # 700 mm of stick, 20 mm to each end: 740 mm of the 800 that two of 450 with 100 over each other give.
        self.assertEqual((one.key, one.inner.length_um), ("T-45/t740", 740_000))
        self.assertEqual(one.outer, size(746, 122, 122))  # two pairs of walls where one goes over the other
        self.assertEqual(uses(one, "outer"), [("T-45", D(2))])
        layers = layers_of(one, plan.pieces, plan.pieces[0].band, {})
        self.assertIn("Slide two T-45 over each other", said(layers[0].title))
        self.assertEqual([layer.kind for layer in layers].count("close"), 1)
        # The joint is taped when they are slid together, the ends when all is in.
        steps = steps_of(plan.chosen.parcels[0], (self.HOW,), layers, {})
        taped = {
            step.kind + " " + said(step.title).split()[0]: [said(t.detail) for t in step.takes]
            for step in steps
            if step.layer is not None
        }
        self.assertEqual((taped["pack Slide"], len(taped["close Close"])), (["round the joint"], 1))

    def test_what_is_longer_than_both_together_is_refused(self) -> None:
        beam = replace(self.STICK, size=size(800, 60, 60))
        lines = order(1, product=beam, how=self.HOW)
        self.assertEqual(plan_order(lines, known(self.LONG), destination=HERE, ship_on=DAY).status, "blocked")  # type: ignore[arg-type]

    def test_two_are_needed_on_the_shelf(self) -> None:
        base = known(self.LONG)
        one_left = replace(base, free={**base.free, "T-45": D(1)})  # type: ignore[type-var,attr-defined]
        lines = order(1, product=self.STICK, how=self.HOW)
        self.assertEqual(plan_order(lines, one_left, destination=HERE, ship_on=DAY).status, "blocked")  # type: ignore[arg-type]

    def test_half_a_mailer_is_offered_where_it_will_do(self) -> None:
        cloth = jar(size=size(90, 90, 10), weight_mg=60_000)
        how = recipe(band(1, 2, outers=("M",), layers=()))
        plan = planned(order(1, product=cloth, how=how), known(replace(MAILER, halves=True, unit_cost=D("1.20"))))
        self.assertEqual(plan.chosen.key, "M")
        half = next(way.only for way in plan.others if way.key == "M/half")
        self.assertEqual(uses(half, "outer"), [("M", D("0.5"))])
        # Half the envelope, 25 g, and 0.38 m of tape along the cut.
        self.assertEqual(half.weight.gross_mg, plan.chosen.only.weight.gross_mg - 25_000 + 3_800)
        self.assertLess(half.outer.length_um, plan.chosen.only.outer.length_um)


class CuttingDown(unittest.TestCase):
    def cut(self, **cut: object) -> PlannedOrder:
        values = {"heights_um": (), "lowest_um": 100_000, "minutes": D("1.5"), **cut}
        deep = replace(DEEP, cut=CutDown(**values))  # type: ignore[arg-type]
        return planned(order(4, how=recipe(band(1, 6, outers=("C-30",)))), known(deep))

    def test_a_carton_without_score_lines_is_cut_at_the_millimetre_above_the_need(self) -> None:
        plan = self.cut()
        cut = next(way.only for way in plan.others if way.only.change)
        assert cut.change is not None
        # 30 below, jars 112.4 high, 20 on top: 162.4 mm, so 163.
        self.assertEqual((cut.key, cut.change.cut_to_um, cut.inner.height_um), ("C-30/163", 163_000, 163_000))
        self.assertEqual(plan.chosen.only.outer.height_um - cut.outer.height_um, 400_000 - 163_000)
        self.assertEqual(cut.minutes, plan.chosen.only.minutes + D("1.5"))
        self.assertLess(cut.costs.total, plan.chosen.only.costs.total)

    def test_score_lines_give_their_own_heights(self) -> None:
        plan = self.cut(heights_um=(150_000, 200_000, 300_000))
        self.assertEqual([way.key for way in plan.others], ["C-30/200"])

    def test_it_is_never_cut_below_its_lowest_and_not_where_nothing_is_gained(self) -> None:
        self.assertEqual(
            [way.only.inner.height_um for way in self.cut(lowest_um=390_000, minutes=D(0)).others if way.only.change],
            [390_000],
        )
        self.assertEqual([way for way in self.cut(minutes=D(60)).others if way.only.change], [])

    def test_the_cheaper_cut_is_offered_and_can_be_chosen_by_its_key(self) -> None:
        plan = self.cut()
        assert plan.offer is not None
        self.assertEqual(plan.offer.key, "C-30/163")
        self.assertIn("C-30 cut to 163 mm would do it", said(plan.offer.sentence))
        deep = replace(DEEP, cut=CutDown(heights_um=(), lowest_um=100_000, minutes=D("1.5")))
        lines = order(4, how=recipe(band(1, 6, outers=("C-30",))))
        chosen = planned(lines, known(deep), overrides=Overrides(container="C-30/163"))
        self.assertEqual((chosen.chosen.only.key, chosen.overridden), ("C-30/163", True))
        names = {"C-30": "Carton"}
        first = layers_of(chosen.chosen.only, chosen.pieces, band_of_parcel(chosen.pieces), names)[0]
        self.assertEqual((first.kind, said(first.title)), ("cut", "Cut C-30 down to 163 mm inside"))


class Strength(unittest.TestCase):
    BOARD = BoardStrength(ect_n_per_m=5_600, caliper_um=4_000)

    def test_the_worked_case_of_the_rules(self) -> None:
        # 305 x 229 mm: perimeter 1068 mm.
        self.assertAlmostEqual(box_compression_n(self.BOARD, size(305, 229, 200)), 2150, delta=1)

    def test_like_parcels_to_a_metre_and_a_half_press_on_the_lowest(self) -> None:
        stack = stacking(self.BOARD, size(305, 229, 200), 10_000_000)
        # Seven in 1.5 m, six of them on the lowest: 60 kg x 9.80665.
        self.assertEqual((stack.above, stack.load_n, stack.allowed_n, stack.holds), (6, 588, 430, False))

    def test_a_plan_warns_of_a_carton_too_weak_for_its_weight_and_shows_the_sum(self) -> None:
        weak = replace(C08, strength=BoardStrength(ect_n_per_m=600, caliper_um=1_000))
        plan = planned(order(2), known(weak))
        self.assertTrue(any("Use double wall" in text for text in said_all(plan.warnings)))
        sums = workings_of(plan.chosen.only, plan.pieces, wage_per_hour=D(15), goods_cost=D(4))
        self.assertIn("Stacking", [said(one.what) for one in sums])
        self.assertEqual(planned(order(2), known(C08)).warnings, ())


class Amounts(unittest.TestCase):
    def counts(self, quantity: int, *rules: InsertAmount, occasion: Occasion = Occasion()) -> dict[str, Decimal]:  # noqa: B008
        how = recipe(band(1, 12, outers=("C-14", "C-30"), inserts=rules))
        plan = planned(order(quantity, how=how), known(C14, DEEP, insert=SHEET), occasion=occasion)
        return dict(uses(plan.chosen.only, "insert"))

    @staticmethod
    def rule(per: str, amount: int = 1, **more: object) -> InsertAmount:
        return InsertAmount(insert="I", amount=amount, per=per, place="top", required=False, **more)  # type: ignore[arg-type]

    def test_amounts_count_for_unit_group_layer_parcel_and_product(self) -> None:
        self.assertEqual(self.counts(5, self.rule("unit", 2)), {"I": 10})
        self.assertEqual(self.counts(5, self.rule("group", group_of=2)), {"I": 3})
        self.assertEqual(self.counts(5, self.rule("parcel", 3)), {"I": 3})
        self.assertEqual(self.counts(5, self.rule("order")), {"I": 1})
        self.assertEqual(self.counts(5, self.rule("product")), {"I": 1})
        # Six jars lie in one layer of C-14 or C-30; ten need two.
        self.assertEqual(self.counts(6, self.rule("layer")), {"I": 1})
        self.assertEqual(self.counts(10, self.rule("layer")), {"I": 2})

    def test_a_condition_must_hold_for_the_insert_to_go_in(self) -> None:
        first = self.rule("parcel", when=When(first_order=True))
        self.assertEqual(self.counts(2, first, occasion=Occasion(first_order=True)), {"I": 1})
        self.assertEqual(self.counts(2, first, occasion=Occasion(first_order=False)), {})

    def test_everything_that_is_set_must_hold(self) -> None:
        when = When(least_value=D(50), with_goods="JAR", without_goods="SOAP", countries=("ALM",))
        there = Occasion(value=D(50), skus=frozenset({"JAR"}), country="ALM", day="11-23")
        self.assertTrue(holds(when, there))
        self.assertTrue(holds(None, there))
        for broken in (
            replace(there, value=D("49.99")),
            replace(there, skus=frozenset()),
            replace(there, skus=frozenset({"JAR", "SOAP"})),
            replace(there, country="BEL"),
        ):
            self.assertFalse(holds(when, broken))

    def test_a_season_may_run_over_the_new_year(self) -> None:
        winter, summer = When(season=("11-15", "01-06")), When(season=("06-01", "08-31"))
        days = ("11-14", "11-15", "12-31", "01-06", "01-07", "06-01", "08-31", "09-01")
        self.assertEqual([holds(winter, Occasion(day=day)) for day in days], [False, True, True, True] + [False] * 4)
        self.assertEqual([holds(summer, Occasion(day=day)) for day in days], [False] * 5 + [True, True, False])


class Dividers(unittest.TestCase):
    def test_one_lies_between_each_two_layers_and_weighs(self) -> None:
        how = recipe(band(1, 12, outers=("C-30",), divider="S"))
        plan = planned(order(10, how=how), known(DEEP, insert=SHEET))
        self.assertEqual(uses(plan.chosen.only, "divider"), [("S", D(1))])
        layers = layers_of(plan.chosen.only, plan.pieces, band_of_parcel(plan.pieces), {"S": "Sheet"})
        kinds = [layer.kind for layer in layers]
        self.assertEqual(kinds[kinds.index("units") : kinds.index("units") + 3], ["units", "divider", "units"])
        one = planned(order(4, how=how), known(DEEP, insert=SHEET))
        self.assertEqual(uses(one.chosen.only, "divider"), [])

    def test_one_thicker_than_the_gap_blocks_with_both_figures(self) -> None:
        how = recipe(band(1, 12, outers=("C-30",), divider="S", gap_um=2_000))
        result = plan_order(order(2, how=how), known(DEEP, insert=SHEET), destination=HERE, ship_on=DAY)  # type: ignore[arg-type]
        assert isinstance(result, Blocked)
        self.assertEqual(result.missing[0].code, "divider_too_thick")
        self.assertIn("4 mm thick and the gap in Jars is 2 mm", said(result.missing[0].message))


class Groups(unittest.TestCase):
    TOGETHER = replace(LAYER, per_units=3)

    def test_three_together_and_a_last_pair_by_hand(self) -> None:
        how = recipe(band(1, 12, layers=(self.TOGETHER,), outers=("C-30",)))
        plan = planned(order(5, how=how), known(DEEP))
        three, two = plan.pieces
        # Jars 72 x 72 x 98 side by side: 72 x 216 x 98, and 14.4 mm of wrap on each axis.
        self.assertEqual((three.quantity, three.holds, three.size), (1, 3, size(86.4, 230.4, 112.4)))
        self.assertEqual((two.quantity, two.holds, two.size), (1, 2, size(86.4, 158.4, 112.4)))
        self.assertEqual((three.code, two.code, three.units + two.units), ("JAR", "JAR+1", 5))
        self.assertEqual(plan.chosen.only.weight.net_mg, 5 * 430_000)
        self.assertEqual(plan.chosen.only.minutes, D(5) + 3)

    def test_a_layer_round_each_comes_first_and_stays_with_the_unit(self) -> None:
        tissue = WrapLayer(wrap="T", turns=D(1), ends_top=1, ends_bottom=1)
        how = recipe(band(1, 12, layers=(tissue, self.TOGETHER), outers=("C-30",)))
        plan = planned(order(3, how=how), known(DEEP))
        wraps = [use for use in plan.chosen.only.uses if use.role == "wrap"]
        self.assertEqual([use.supply for use in wraps], ["T", "W"])
        self.assertIn("round each jar", said(wraps[0].detail))
        self.assertIn("round 3 jar together", said(wraps[1].detail))

    def test_a_recipe_that_mixes_them_up_is_refused_with_every_fault(self) -> None:
        bad = band(1, 3, layers=(self.TOGETHER, LAYER, replace(LAYER, per_units=2)), unit_box="U")
        with self.assertRaises(BadRecipe) as caught:
            check_bands(recipe(bad))
        self.assertEqual(len(caught.exception.faults), 3)


class Samples(unittest.TestCase):
    """A sample of a variant that was not ordered, those in stock, least recently sent (rules 12.3)."""

    RULE = InsertAmount(
        insert="I", amount=1, per="order", place="top", required=False,
        samples=(Sample(insert="S1", sku="JAR"), Sample(insert="S2", sku="FIG"), Sample(insert="S3", sku="RYE")),
    )  # fmt: skip

    def sample(self, last_sent: dict[str, date] | None = None, **free: int) -> list[str]:
        inserts = {c: replace(SHELF.inserts["I"], code=c) for c in ("I", "L", "S1", "S2", "S3")}
        base = known(C14)
        cupboard = replace(
            base,  # type: ignore[type-var]
            shelf=replace(SHELF, inserts=inserts),
            free={**base.free, **{c: D(free.get(c, 9)) for c in ("S1", "S2", "S3")}},  # type: ignore[attr-defined]
        )
        how = recipe(band(1, 6, outers=("C-14",), inserts=(self.RULE,)))
        plan = planned(order(2, how=how), cupboard, occasion=Occasion(last_sent=last_sent or {}))
        return [supply for supply, _ in uses(plan.chosen.only, "insert")]

    def test_what_was_ordered_is_not_sampled(self) -> None:
        self.assertEqual(self.sample(), ["S2"])

    def test_they_take_turns_and_one_never_sent_goes_first(self) -> None:
        self.assertEqual(self.sample({"S2": date(2026, 11, 1)}), ["S3"])
        self.assertEqual(self.sample({"S2": date(2026, 11, 1), "S3": date(2026, 11, 9)}), ["S2"])

    def test_one_that_is_out_is_passed_over_and_none_is_no_fault(self) -> None:
        self.assertEqual(self.sample(S2=0), ["S3"])
        self.assertEqual(self.sample(S2=0, S3=0), [])

    def test_a_gift_is_a_condition(self) -> None:
        self.assertTrue(holds(When(gift=True), Occasion(gift=True)))
        self.assertFalse(holds(When(gift=True), Occasion()))
        self.assertTrue(holds(When(gift=False), Occasion()))


class OtherWays(unittest.TestCase):
    def test_a_box_in_a_mailer_counts_both(self) -> None:
        small = carton("C-02", size(190, 100, 120), cost="0.30", tare_mg=60_000)
        big = replace(MAILER, flat_length_um=520_000, flat_width_um=420_000)
        how = recipe(band(1, 2, outers=("M",), inner=InnerCarton(container="C-02"), closure=None, fill=None))
        plan = planned(order(2, how=how), known(big, small))
        self.assertEqual(plan.chosen.only.kind, "mailer")
        assert plan.chosen.only.nested is not None
        self.assertEqual((plan.chosen.only.nested.code, len(plan.chosen.only.nested.placements)), ("C-02", 2))
        self.assertEqual(uses(plan.chosen.only, "inner"), [("C-02", D(1))])

    def test_a_base_fixed_parcel_fills_below_only(self) -> None:
        tight = planned(order(2), known(C08))
        free = planned(order(2, how=recipe(band(1, 2, school="base_fixed"))), known(C08))
        assert tight.chosen.only.void is not None and free.chosen.only.void is not None
        self.assertEqual((free.chosen.only.void.round_l, free.chosen.only.void.above_l), (0, 0))
        self.assertEqual(free.chosen.only.void.filled_l, tight.chosen.only.void.below_l)
        self.assertEqual(free.chosen.only.void.free_l, tight.chosen.only.void.round_l + tight.chosen.only.void.above_l)
        titles = [layer.kind for layer in layers_of(free.chosen.only, free.pieces, band_of_parcel(free.pieces), {})]
        self.assertNotIn("fill", titles)
        self.assertIn("cushion", titles)

    def test_the_parts_of_the_void_add_up_to_what_is_not_goods(self) -> None:
        plan = planned(order(2), known(C08))
        inner = plan.chosen.only.inner
        goods = sum(p.size_um[0] * p.size_um[1] * p.size_um[2] for p in plan.chosen.only.placements)
        for fixed in (False, True):
            packing = type("P", (), {"placements": plan.chosen.only.placements, "top_um": plan.chosen.only.top_um})
            void = void_of(
                (inner.length_um, inner.width_um, inner.height_um), packing, floor_um=30_000, proud_percent=5,  # type: ignore[arg-type]
                base_fixed=fixed,
            )  # fmt: skip
            self.assertAlmostEqual(void.void_l + void.free_l, D(inner.volume_um3 - goods) / 10**15, places=4)

    def test_goods_laid_down_are_told_where_they_go_in(self) -> None:
        # 112 mm of wrapped jar, 50 of cushions: standing it wants 162 mm; lying, 87 and 50.
        low = carton("C-LOW", size(320, 230, 150))
        lines = order(2, how=recipe(band(1, 12, outers=("C-LOW",))))
        self.assertEqual(plan_order(lines, known(low), destination=HERE, ship_on=DAY).status, "blocked")  # type: ignore[arg-type]
        plan = planned(lines, known(low), overrides=Overrides(may_lie_down=("JAR",)))
        units = [layer for layer in pack_layers(plan.chosen.parcels[0], {}) if layer.kind == "units"]
        self.assertIn("lay 2 jar on their side", said(units[0].detail))
        standing = planned(order(2), known(C08)).chosen.parcels[0]
        self.assertFalse(
            any("lay " in said(layer.detail) for layer in pack_layers(standing, {}) if layer.kind == "units")
        )

    def test_a_wrap_says_how_many_lengths_to_cut(self) -> None:
        plan = planned(order(5, how=recipe(band(1, 6, outers=("C-14",)))), known(C14))
        self.assertEqual([use.cut.lengths for use in plan.chosen.only.uses if use.cut is not None], [5])

    def test_room_to_spare_says_how_many_and_what_stops_the_next(self) -> None:
        lines = order(2, how=recipe(band(1, 12, outers=("C-14",))))
        cupboard = known(C14)
        plan = planned(lines, cupboard)
        room = more_that_fit(
            lines, cupboard, plan.chosen.parcels[0], destination=HERE, ship_on=DAY, occasion=Occasion()  # type: ignore[arg-type]
        )  # fmt: skip
        # C-14 takes 3 x 2 jars standing, one layer: four more than two.
        self.assertEqual([(r.sku, r.more) for r in room], [("JAR", 4)])
        self.assertIn("at most 6 of 7", said(room[0].limit))

    def test_a_mailer_without_inner_carton_refuses_mixed_goods(self) -> None:
        jars, pots = jar(), jar(sku="POT", name="pot")
        how = recipe(band(1, 4, outers=("M",), closure=None))
        lines = (*order(1, product=jars, how=how), *order(1, product=pots, how=how))
        one = Overrides(parcels=1)
        result = plan_order(lines, known(MAILER), destination=HERE, ship_on=DAY, overrides=one)  # type: ignore[arg-type]
        assert isinstance(result, Blocked)
        self.assertIn("several and no inner carton", said(result.missing[0].message))
        apart = planned(lines, known(MAILER))
        self.assertEqual([parcel.goods for parcel in apart.chosen.parcels], [(("JAR", 1),), (("POT", 1),)])
