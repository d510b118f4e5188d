"""Geometry: the search, its independent checker, mailers, void (rules 4.1 and 6.1)."""

import unittest
from decimal import Decimal

from core.packing.mailer import MailerFit, MailerShort, fit_mailer
from core.packing.model import NoPacking, Packing, PackRules, Placement, floor_um
from core.packing.search import find_packing
from core.packing.verify import faults_of
from core.packing.void import fill_amount, void_of
from core.recipes.model import Cushion
from tests.core.samples import KRAFT, MAILER, PEANUTS, box, unit

RULES = PackRules(gap_um=0)
CUSHION = Cushion(bottom_um=30_000, side_um=20_000, top_um=20_000)


def placed(*spots: tuple[str, tuple[int, int, int], tuple[int, int, int]]) -> Packing:
    return Packing(
        box="B",
        placements=tuple(
            Placement(unit=u, at_um=(x * 1000, y * 1000, z * 1000), size_um=(a * 1000, b * 1000, c * 1000))
            for u, (x, y, z), (a, b, c) in spots
        ),
    )


class Search(unittest.TestCase):
    def found(self, *args: object, **kwargs: object) -> Packing:
        result = find_packing(*args, **kwargs)  # type: ignore[arg-type]
        self.assertIsInstance(result, Packing)
        self.assertEqual(faults_of(result, *args, **kwargs), ())  # type: ignore[arg-type]
        return result  # type: ignore[return-value]

    def test_six_wrapped_jars_go_into_320_by_230_by_170_with_cushions_and_gaps(self) -> None:
        jars = unit("jar", 6, (86.4, 86.4, 112.4), clearance=CUSHION)
        packing = self.found(box(320, 230, 170), (jars,), PackRules(gap_um=8_000))
        self.assertEqual({p.at_um[2] for p in packing.placements}, {30_000})

    def test_a_seventh_jar_does_not(self) -> None:
        jars = unit("jar", 7, (86.4, 86.4, 112.4), clearance=CUSHION)
        result = find_packing(box(320, 230, 170), (jars,), PackRules(gap_um=8_000))
        self.assertIsInstance(result, NoPacking)
        self.assertEqual((result.reason, result.short_by, result.proven), ("too_many", 1, True))  # type: ignore[union-attr]

    def test_two_grids_beat_one(self) -> None:
        # 5 x 3 into 8 x 6 by one grid: 2; with a turned block beside it: 3.
        self.found(box(80, 60, 10), (unit("u", 3, (50, 30, 10)),), RULES)

    def test_a_ring_of_four_turned_units_round_a_hole_is_found(self) -> None:
        # 5 x 3 into 8 x 8: by grids only three; in a ring four, with 2 x 2 left in the middle.
        self.found(box(80, 80, 10), (unit("u", 4, (50, 30, 10)),), RULES)
        self.found(box(82, 82, 10), (unit("u", 4, (50, 30, 10)),), PackRules(gap_um=2_000))

    def test_more_upright_units_than_the_floor_has_room_for_is_a_proven_no(self) -> None:
        two = find_packing(
            box(150, 150, 170), (unit("jar", 2, (86.4, 86.4, 112.4), clearance=CUSHION),), PackRules(gap_um=8_000)
        )
        self.assertEqual((two.reason, two.short_by, two.proven), ("too_many", 1, True))  # type: ignore[union-attr]

    def test_what_simple_sums_rule_out_is_proven_and_says_by_how_much(self) -> None:
        tall = find_packing(box(200, 200, 160), (unit("u", 1, (86, 86, 112), clearance=CUSHION),), RULES)
        self.assertEqual((tall.reason, tall.axis, tall.short_by, tall.proven), ("unit_too_big", "height", 2_000, True))  # type: ignore[union-attr]
        heavy = find_packing(box(200, 200, 200, load_mg=150_000), (unit("u", 2),), RULES)
        self.assertEqual((heavy.reason, heavy.short_by), ("too_heavy", 50_000))  # type: ignore[union-attr]
        full = find_packing(box(150, 150, 150), (unit("u", 4, up_axes=(0, 1, 2)),), RULES)
        self.assertEqual((full.reason, full.proven), ("volume", True))  # type: ignore[union-attr]

    def test_nothing_is_put_on_what_carries_nothing(self) -> None:
        self.assertIsInstance(find_packing(box(100, 100, 200), (unit("u", 2, load_on_top_mg=0),), RULES), NoPacking)
        self.found(box(100, 100, 200), (unit("u", 2, load_on_top_mg=100_000),), RULES)
        self.assertIsInstance(
            find_packing(box(100, 100, 300), (unit("u", 3, load_on_top_mg=199_999),), RULES), NoPacking
        )

    def test_the_fragile_one_goes_on_top_of_the_sturdy_one(self) -> None:
        units = (unit("glass", 1, load_on_top_mg=0, weight_mg=300_000), unit("brick", 1))
        packing = self.found(box(100, 100, 200), units, RULES)
        self.assertEqual([p.unit for p in packing.placements], ["brick", "glass"])

    def test_an_upright_unit_is_never_laid_down(self) -> None:
        long = (50, 50, 150)
        self.assertIsInstance(find_packing(box(160, 60, 60), (unit("u", 1, long),), RULES), NoPacking)
        self.found(box(160, 60, 60), (unit("u", 1, long, up_axes=(0, 1, 2)),), RULES)

    def test_mixed_goods_find_their_places(self) -> None:
        units = (
            unit("a", 2, (120, 80, 60), weight_mg=500_000),
            unit("b", 3, (60, 60, 100)),
            unit("c", 4, (40, 40, 40), up_axes=(0, 1, 2)),
        )
        self.found(box(260, 160, 110), units, PackRules(gap_um=2_000))

    def test_the_same_question_has_the_same_answer(self) -> None:
        units = (unit("a", 3, (70, 50, 40)), unit("b", 5, (30, 40, 60), up_axes=(0, 2)))
        self.assertEqual(find_packing(box(200, 150, 120), units, RULES), find_packing(box(200, 150, 120), units, RULES))


class Checker(unittest.TestCase):
    """Every error is planted by hand: the checker must find each, without the search."""

    def faults(self, packing: Packing, *units: object, rules: PackRules = RULES, load_mg: int = 50_000_000) -> str:
        return " | ".join(faults_of(packing, box(200, 200, 200, load_mg=load_mg), units, rules))  # type: ignore[arg-type]

    def test_a_good_packing_has_none(self) -> None:
        self.assertEqual(
            self.faults(placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (0, 0, 100), (100, 100, 100))), unit("u", 2)),
            "",
        )

    def test_a_missing_and_a_strange_unit(self) -> None:
        text = self.faults(placed(("x", (0, 0, 0), (100, 100, 100))), unit("u"))
        self.assertIn("u: 0 placed, 1 wanted", text)
        self.assertIn("x: 1 placed, 0 wanted", text)

    def test_overlap_gap_wall_floor_lid_and_orientation(self) -> None:
        self.assertIn(
            "closer than",
            self.faults(placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (99, 0, 0), (100, 100, 100))), unit("u", 2)),
        )
        self.assertIn(
            "closer than",
            self.faults(
                placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (100, 0, 0), (100, 100, 100))),
                unit("u", 2),
                rules=PackRules(gap_um=1),
            ),
        )
        kept = unit("u", clearance=Cushion(bottom_um=10_000, side_um=10_000, top_um=95_000))
        text = self.faults(placed(("u", (5, 0, 7), (100, 100, 100))), kept)
        for words in ("nearer to a wall", "nearer to the floor", "nearer to the lid"):
            self.assertIn(words, text)
        self.assertIn(
            "not allowed", self.faults(placed(("u", (0, 0, 0), (100, 50, 150))), unit("u", 1, (100, 150, 50)))
        )

    def test_support_load_and_weight(self) -> None:
        self.assertIn(
            "held on less",
            self.faults(placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (26, 0, 100), (100, 100, 100))), unit("u", 2)),
        )
        self.assertEqual(
            "",
            self.faults(placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (25, 0, 100), (100, 100, 100))), unit("u", 2)),
        )
        self.assertIn(
            "its limit is 0",
            self.faults(
                placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (0, 0, 100), (100, 100, 100))),
                unit("u", 2, load_on_top_mg=0),
            ),
        )
        self.assertIn(
            "weighs 200000 mg",
            self.faults(
                placed(("u", (0, 0, 0), (100, 100, 100)), ("u", (100, 0, 0), (100, 100, 100))),
                unit("u", 2),
                load_mg=150_000,
            ),
        )

    def test_a_load_is_handed_down_through_every_layer(self) -> None:
        tower = placed(
            *(("u", (0, 0, 100 * i), (100, 100, 50)) for i in range(1)),
            *(("u", (0, 0, 50 * i), (100, 100, 50)) for i in range(1, 3)),
        )
        self.assertIn("carries 200000 mg", self.faults(tower, unit("u", 3, (100, 100, 50), load_on_top_mg=150_000)))


class Mailers(unittest.TestCase):
    def test_the_flat_inside_must_go_round_the_contents(self) -> None:
        fit = fit_mailer(MAILER, unit("cloth", 2, (240, 180, 15)), 0)
        self.assertIsInstance(fit, MailerFit)
        self.assertEqual(fit.outer.height_um, 36_000)  # type: ignore[union-attr]  # 2 x 15 and two walls of 3

    def test_one_millimetre_too_many_is_named(self) -> None:
        # Length: 340 - 40 seal = 300 takes L + H; 240 + 61 does not.
        short = fit_mailer(MAILER, unit("block", 1, (240, 180, 61)), 0)
        self.assertEqual(short, MailerShort(short_by_um=1_000))


class Void(unittest.TestCase):
    def test_void_is_inside_less_goods_and_adds_up_by_face(self) -> None:
        jars = unit("jar", 4, (86.4, 86.4, 112.4), clearance=CUSHION)
        packing = find_packing(box(320, 230, 170), (jars,), RULES)
        assert isinstance(packing, Packing)
        void = void_of((320_000, 230_000, 170_000), packing, floor_um=floor_um((jars,)), proud_percent=5)
        goods = Decimal("0.0864") * Decimal("0.0864") * Decimal("0.1124") * 4 * 1000
        self.assertAlmostEqual(float(void.void_l), float(Decimal("12.512") - goods), places=5)
        self.assertEqual(void.below_l, Decimal("2.208"))  # 320 x 230 x 30 mm
        self.assertEqual(void.proud_l, (void.above_l * 5 / 100).quantize(Decimal("0.000001")))

    def test_fill_is_void_times_factor_and_weighs_void_times_density(self) -> None:
        self.assertEqual(
            (fill_amount(Decimal(10), KRAFT).loose_l, fill_amount(Decimal(10), KRAFT).weight_mg), (Decimal(10), 350_000)
        )
        self.assertEqual(
            (fill_amount(Decimal(10), PEANUTS).loose_l, fill_amount(Decimal(10), PEANUTS).weight_mg),
            (Decimal("11.5"), 50_000),
        )
