"""Wrapping, bands and expanding a recipe (rules 2.1, 4.1, 12.1)."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.errors import BadRecipe
from core.parcels.plan import Blocked, plan_order
from core.recipes.expand import OrderLine, expand
from core.recipes.model import band_for, check_bands
from core.recipes.wrap import grow, sheet_for, sheets_per_roll, wrap_weight_mg
from core.supplies.items import UnitBox
from tests.core.samples import BUBBLE, CLOSURE, DAY, HERE, LAYER, SHELF, TISSUE, band, facts, jar, order, recipe, size
from tests.said import said


class Wrapping(unittest.TestCase):
    def test_the_jar_of_the_rules_grows_to_86_4_by_112_4(self) -> None:
        self.assertEqual(grow(size(72, 72, 98), LAYER, BUBBLE), size(86.4, 86.4, 112.4))

    def test_the_jar_of_the_rules_takes_a_sheet_of_683_6_by_210(self) -> None:
        sheet = sheet_for(size(72, 72, 98), LAYER, BUBBLE)
        self.assertEqual((sheet.length_um, sheet.width_um), (683_600, 210_000))
        self.assertEqual(sheet.area_m2, Decimal("0.143556"))
        self.assertEqual(wrap_weight_mg(sheet.area_m2, BUBBLE), 11_484)

    def test_half_a_turn_takes_half_of_the_next_round(self) -> None:
        half = sheet_for(size(72, 72, 98), replace(LAYER, turns=Decimal("1.5")), BUBBLE)
        # 50 overlap + (288 + 14.4) + half of (288 + 43.2)
        self.assertEqual(half.length_um, 50_000 + 302_400 + 165_600)

    def test_a_roll_gives_sheets_in_the_better_orientation(self) -> None:
        sheet = sheet_for(size(72, 72, 98), LAYER, BUBBLE)
        # 600 mm wide, 50 m long: two across x 73 along; or none across (683 mm > 600).
        self.assertEqual(sheets_per_roll(sheet, roll_width_um=600_000, roll_length_um=50_000_000), 146)


class Bands(unittest.TestCase):
    def test_every_fault_of_the_bands_is_named_at_once(self) -> None:
        bad = recipe(band(2, 3), band(3, 2), band(9, 9, outers=()))
        with self.assertRaises(BadRecipe) as caught:
            check_bands(bad)
        text = said(caught.exception.faults)
        for words in ("No order size covers 1 to 1", "ends before it starts", "overlaps", "names no container"):
            self.assertIn(words, text)

    def test_a_band_is_found_by_its_size_and_above_the_last_there_is_none(self) -> None:
        found = [band_for(recipe(), n) for n in (1, 2, 3, 6, 7)]
        self.assertEqual([b.first if b else None for b in found], [1, 1, 3, 3, None])


class Expanding(unittest.TestCase):
    def test_everything_missing_is_named_at_once(self) -> None:
        lines = (
            OrderLine(sku="NIX", quantity=1, product=None, recipe=None),
            *order(1, product=jar(size=None, weight_mg=None)),
            OrderLine(sku="B", quantity=1, product=jar(sku="B"), recipe=None),
        )
        codes = [missing.code for missing in expand(lines, SHELF).missing]
        self.assertEqual(codes, ["unknown_product", "no_size", "no_weight", "no_recipe"])

    def test_the_band_counts_all_units_of_one_recipe(self) -> None:
        how = recipe()
        lines = (*order(2, how=how), *order(2, product=jar(sku="JAR2"), how=how))
        self.assertEqual({piece.band.first for piece in expand(lines, SHELF).pieces}, {3})

    def test_food_needs_a_food_contact_layer_first(self) -> None:
        bare = expand(order(1, product=jar(food=True)), SHELF)
        self.assertEqual([m.code for m in bare.missing], ["food_contact"])
        first = replace(LAYER, wrap="T", turns=Decimal(1))
        self.assertTrue(TISSUE.food_contact)
        safe = expand(order(1, product=jar(food=True), how=recipe(band(1, 2, layers=(first, LAYER)))), SHELF)
        self.assertEqual(safe.missing, ())

    def test_scented_and_food_frozen_and_live_stay_apart(self) -> None:
        how = recipe(band(1, 9, layers=()))
        for one, other in (({"scented": True}, {"food": True}), ({"frozen": True}, {}), ({"live": True}, {})):
            lines = (*order(1, product=jar(sku="A", **one), how=how), *order(1, product=jar(sku="B", **other), how=how))
            with self.subTest(one):
                self.assertEqual([m.code for m in expand(lines, SHELF).missing], ["must_be_apart"])

    def test_a_unit_box_gives_its_own_outside_and_must_take_the_unit(self) -> None:
        tin = UnitBox(
            code="U", name="tin", inner=size(90, 90, 115), outer=size(94, 94, 119), tare_mg=50_000, unit_cost=Decimal(1)
        )
        shelf = replace(SHELF, unit_boxes={"U": tin})
        piece = expand(order(2, how=recipe(band(1, 2, unit_box="U"))), shelf).pieces[0]
        self.assertEqual(piece.size, tin.outer)
        small = replace(SHELF, unit_boxes={"U": replace(tin, inner=size(80, 80, 80))})
        self.assertEqual(
            [m.code for m in expand(order(2, how=recipe(band(1, 2, unit_box="U"))), small).missing],
            ["unit_box_too_small"],
        )

    def test_a_tape_below_the_required_grade_is_named(self) -> None:
        plain = replace(SHELF, tapes={"TP": replace(SHELF.tapes["TP"], grade="resistant")})
        strict = recipe(band(1, 2, closure=replace(CLOSURE, required_grade="evident")))
        weak = plan_order(order(1, how=strict), replace(facts(), shelf=plain), destination=HERE, ship_on=DAY)
        assert isinstance(weak, Blocked)
        self.assertEqual([m.code for m in weak.missing], ["closure_grade"])
        self.assertIn("needs a tamper-evident closure. Choose another tape.", said(weak.missing[0].message))
        self.assertEqual(plan_order(order(1, how=strict), facts(), destination=HERE, ship_on=DAY).status, "planned")

    def test_a_supply_the_cupboard_does_not_know_is_named(self) -> None:
        found = expand(order(1, how=recipe(band(1, 2, fill="GONE"))), SHELF).missing
        self.assertIn("GONE", said(found[0].message))
