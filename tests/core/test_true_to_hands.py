"""Plans true to the hands: one cushion a face, protection, requirements kept, amounts and cuts that hands can do.

The numbers in the names are those of the points the tests stand for.
"""

import unittest
from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from core.advising.advice import advice_for
from core.advising.spare import spare_in
from core.designing.crafts import CRAFTS, craft_for, why_craft
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.facts import Overrides
from core.parcels.layers import PackLayer, layers_of
from core.parcels.measured import heap_of
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.parcels.required import band_of_parcel, cushion_of
from core.parcels.told import faults_of_telling
from core.recipes.cuts import narrowest_cuts
from core.recipes.expand import FillFace, OrderLine
from core.recipes.model import Closure, Cushion, Occasion, WrapLayer
from core.recipes.wrap import WrapSheet, cut_for, sheet_for
from core.supplies.items import Fill, FillMeasure
from core.tariffs.model import VolumetricRule, WeightStep, ZoneTable
from tests.core.samples import (
    BUBBLE,
    C08,
    C14,
    DAY,
    HERE,
    KRAFT,
    MAILER,
    NO_CUSHION,
    SHELF,
    band,
    carton,
    facts,
    jar,
    order,
    planned,
    recipe,
    service,
    size,
    tariff,
)

D = Decimal


def told(parcel: PlannedParcel) -> tuple[PackLayer, ...]:
    return layers_of(parcel.candidate, parcel.pieces, band_of_parcel(parcel.pieces), {})


def mixed() -> tuple[OrderLine, ...]:
    """Return a jar that wants a cushion, and bookmarks that want none."""
    flat = jar(
        sku="MARK", name="bookmark", size=size(180, 50, 2), weight_mg=12_000, orientation="any", fragility="sturdy"
    )
    bare = band(1, 24, layers=(), cushion=NO_CUSHION, gap_um=0, fill=None, outers=("C-14",))
    return (
        *order(1, how=recipe(band(1, 6, outers=("C-14",)))),
        OrderLine(sku="MARK", quantity=2, product=flat, recipe=recipe(bare, code="flat")),
    )


class OneCushionAFace(unittest.TestCase):
    def test_2_everything_stands_on_the_largest_cushion_any_of_the_goods_wants(self) -> None:
        (parcel,) = planned(mixed()).chosen.parcels
        keep = cushion_of(parcel.pieces)
        self.assertEqual(keep, Cushion(bottom_um=30_000, side_um=20_000, top_um=20_000))
        inner = parcel.candidate.inner
        self.assertEqual(len(parcel.candidate.placements), 3)
        for placed in parcel.candidate.placements:
            x, y, z = placed.at_um
            self.assertGreaterEqual(z, 30_000, placed)
            self.assertLessEqual(placed.top_um, inner.height_um - 20_000, placed)
            self.assertGreaterEqual(min(x, y), 20_000, placed)

    def test_2_what_is_told_first_lies_below_what_is_told_later(self) -> None:
        (parcel,) = planned(mixed()).chosen.parcels
        rising = [layer.from_um for layer in told(parcel) if layer.kind in ("cushion", "units", "divider")]
        self.assertEqual(rising, sorted(rising))
        self.assertEqual(faults_of_telling(parcel.candidate, parcel.pieces, told(parcel)), ())

    def test_2_the_checker_finds_each_error_that_is_planted(self) -> None:
        (parcel,) = planned(mixed()).chosen.parcels
        candidate, layers = parcel.candidate, told(parcel)
        first, *rest = candidate.placements
        x, y, _ = first.at_um
        sunk = replace(candidate, placements=(replace(first, at_um=(x, y, 0)), *rest))
        self.assertIn("lies in a cushion", " ".join(faults_of_telling(sunk, parcel.pieces, layers)))
        turned = tuple(reversed(layers))
        self.assertIn("is told after", " ".join(faults_of_telling(candidate, parcel.pieces, turned)))
        forgotten = tuple(layer for layer in layers if layer.kind != "units")
        self.assertIn("units told", " ".join(faults_of_telling(candidate, parcel.pieces, forgotten)))
        poured = tuple(replace(layer, part=None) for layer in layers)
        self.assertIn("fetched", " ".join(faults_of_telling(candidate, parcel.pieces, poured)))


class Unprotected(unittest.TestCase):
    def exposed(self, fragility: str, **changes: Any) -> tuple[set[tuple[str, bool]], Decimal]:
        how = recipe(band(1, 6, outers=("C-14",), **changes))
        (parcel,) = planned(order(2, product=jar(fragility=fragility), how=how)).chosen.parcels
        candidate = parcel.candidate
        return {(one.code, one.fault) for one in candidate.exposures}, candidate.damage_probability

    def test_3_a_cushion_without_fill_and_a_bare_unit_are_errors_when_fragile_and_warnings_when_delicate(self) -> None:
        empty = {"empty_bottom", "empty_sides", "empty_top"}
        for fragility, fault in (("fragile", True), ("delicate", False)):
            codes, _ = self.exposed(fragility, fill=None)
            self.assertEqual(codes, {(code, fault) for code in empty}, fragility)
            codes, _ = self.exposed(fragility, layers=())
            self.assertEqual(codes, {("bare_unit", fault)}, fragility)
        self.assertEqual(self.exposed("sturdy", fill=None, layers=())[0], set())

    def test_3_the_chance_of_damage_rises_by_the_stated_factor(self) -> None:
        for fragility in ("fragile", "delicate"):
            none, safe = self.exposed(fragility)
            _, bare = self.exposed(fragility, fill=None)
            self.assertEqual(none, set())
            self.assertEqual(bare, safe * facts().settings.unprotected_factor)
            self.assertGreater(bare, safe)


AIR = Fill(
    code="A", name="Air pillows", packing_factor=D(1), packed_mg_per_l=2_000, unit_cost=D("0.001"), bulge_um=3_000
)


class RequirementsKept(unittest.TestCase):
    """Evident closure, what a fill can hold, the school: in the choice, in other ways and in advice alike."""

    def sealed(self, closes: str) -> PlannedOrder | Blocked:
        asks = Closure(tape="TP", pattern="h", both_faces=True, required_grade="evident")
        flat = jar(size=size(120, 90, 10), weight_mg=80_000, fragility="sturdy")
        how = recipe(band(1, 6, outers=("C-14", "M"), any_outer=True, cushion=NO_CUSHION, fill=None, closure=asks))
        given = facts(containers=(C14, replace(MAILER, closes=closes, unit_cost=D("0.01"))))  # type: ignore[arg-type]
        return plan_order(order(1, product=flat, how=how), given, destination=HERE, ship_on=DAY)

    def test_4_a_mailer_below_the_grade_asked_for_is_no_way_and_no_advice(self) -> None:
        for closes, taken in (("flap", False), ("tabs", False), ("strip", True), ("perforation", True)):
            plan = self.sealed(closes)
            assert isinstance(plan, PlannedOrder)
            ways = {parcel.candidate.container for way in (plan.chosen, *plan.others) for parcel in way.parcels}
            self.assertEqual("M" in ways, taken, closes)
            reasons = {one.container: one.code for one in plan.ruled_out}
            self.assertEqual(reasons.get("M"), None if taken else "closure_grade", closes)

    def advised(self, fill: Fill) -> list[str]:
        shelf = replace(SHELF, fills={**SHELF.fills, "A": fill})
        given = replace(facts(free={"A": D(1000)}), shelf=shelf)
        how = recipe(band(1, 12, outers=("C-14",)))
        lines = order(4, how=how)
        found = advice_for(
            planned(lines, given),
            lines,
            given,
            destination=HERE,
            ship_on=DAY,
            overrides=Overrides(),
            occasion=Occasion(),
            names={},
            ship_days=(0, 1, 2, 3, 4),
            threshold=D(0),
        )
        return [one.kind for one in found]

    def test_4_a_fill_that_cannot_hold_the_goods_is_no_advice(self) -> None:
        self.assertIn("fill", self.advised(AIR))
        for weak in (replace(AIR, holds_mg=300_000), replace(AIR, sinks=True), replace(AIR, bursts=True)):
            self.assertNotIn("fill", self.advised(weak), weak)

    def test_4_a_recipe_whose_own_fill_is_too_weak_has_no_way(self) -> None:
        weak = replace(KRAFT, holds_mg=300_000)
        given = replace(facts(), shelf=replace(SHELF, fills={"K": weak}))
        plan = plan_order(order(2, how=recipe(band(1, 6, outers=("C-14",)))), given, destination=HERE, ship_on=DAY)
        assert isinstance(plan, Blocked)
        self.assertIn("fill_too_weak", {one.code for one in plan.ruled_out})


FACES: Sequence[FillFace] = ("below", "round", "above")


class AmountsForHands(unittest.TestCase):
    @given(
        st.lists(st.integers(1, 400), min_size=1, max_size=3),
        st.sampled_from(["litre", "bag", "sheet", "scoop", "metre", "gram"]),
        st.integers(2, 60),
    )
    def test_5_the_parts_add_up_and_each_is_a_whole_step(self, tenths: list[int], unit: str, loose: int) -> None:
        measure = FillMeasure(unit=unit, loose_l=D(loose) / 10)  # type: ignore[arg-type]
        fill = replace(KRAFT, measure=measure)
        faces = [(face, D(part) / 10) for face, part in zip(FACES, tenths, strict=False)]
        litres = sum((part for _, part in faces), D(0))
        heap = heap_of(faces, litres, 35_000 * int(litres + 1), fill)
        step = D(5) if unit == "gram" else D("0.5")
        self.assertEqual([part.face for part in heap.parts], [face for face, _ in faces])
        for part in heap.parts:
            self.assertEqual(part.count % step, 0)
            self.assertGreaterEqual(part.count, step)
        whole = D(35_000 * int(litres + 1)) / 1000 if unit == "gram" else litres / measure.loose_l
        fetched = sum((part.count for part in heap.parts), D(0))
        self.assertLessEqual(abs(fetched - whole), step * len(faces))

    def test_5_20_8_litres_of_kraft_are_eight_and_a_half_sheets(self) -> None:
        # 20.8 l loose, a sheet crumples to 2.5 l: 8.32 sheets, in halves 8.5; shared 6.4 : 11 : 3.4.
        fill = replace(KRAFT, measure=FillMeasure(unit="sheet", loose_l=D("2.5")))
        heap = heap_of([("below", D("6.4")), ("round", D(11)), ("above", D("3.4"))], D("20.8"), 728_000, fill)
        self.assertEqual([str(part.count) for part in heap.parts], ["2.5", "4.5", "1.5"])

    def test_5_what_is_fetched_is_what_the_layers_tell(self) -> None:
        (parcel,) = planned(order(2, how=recipe(band(1, 6, outers=("C-14",))))).chosen.parcels
        (use,) = [one for one in parcel.candidate.uses if one.role == "fill"]
        parts = [layer.part for layer in told(parcel) if layer.part is not None]
        self.assertEqual(sum(p.count for p in parts), sum(p.count for p in use.parts))
        self.assertEqual([p.face for p in parts], ["below", "round", "above"])


class Rolls(unittest.TestCase):
    def sheet(self, length_um: int, width_um: int) -> WrapSheet:
        made = sheet_for(size(72, 72, 98), WrapLayer(wrap="W", turns=D(2), ends_top=2, ends_bottom=2), BUBBLE)
        return replace(made, length_um=length_um, width_um=width_um)

    def test_6_a_210_mm_sheet_from_a_380_mm_roll_takes_the_whole_width(self) -> None:
        roll = replace(BUBBLE, roll_width_um=380_000, offcut_from_um=None)
        cut = cut_for(self.sheet(683_600, 210_000), 1, roll)
        self.assertEqual((cut.lengths, cut.length_um), (1, 683_600))
        self.assertEqual(cut.area_m2, D("0.259768"))
        nine = cut_for(self.sheet(683_600, 210_000), 9, roll)
        self.assertEqual(nine.area_m2, D("2.337912"))

    def test_6_an_offcut_goes_back_only_when_it_is_wide_enough(self) -> None:
        sheet = self.sheet(683_600, 210_000)
        for least_um, area in ((170_000, "0.143556"), (170_001, "0.259768"), (0, "0.143556")):
            roll = replace(BUBBLE, roll_width_um=380_000, offcut_from_um=least_um)
            self.assertEqual(cut_for(sheet, 1, roll).area_m2, D(area), least_um)

    def test_6_two_that_lie_side_by_side_are_one_length(self) -> None:
        roll = replace(BUBBLE, roll_width_um=420_000, offcut_from_um=None)
        cut = cut_for(self.sheet(683_600, 210_000), 4, roll)
        self.assertEqual((cut.lengths, cut.area_m2), (2, D("0.574224")))

    def test_6_the_narrowest_piece_of_any_recipe_is_known(self) -> None:
        roll = replace(BUBBLE, roll_width_um=1_000_000)
        how = recipe(band(1, 6))
        small = jar(sku="S", size=size(30, 30, 40))
        wraps = {roll.code: roll}
        wide = narrowest_cuts([(jar(), how)], wraps)
        both = narrowest_cuts([(jar(), how), (small, how)], wraps)
        self.assertLess(both[roll.code], wide[roll.code])


class RoomToSpare(unittest.TestCase):
    def test_12_containers_the_recipe_does_not_name_are_looked_at_too(self) -> None:
        # Two jars of 1.3 kg in C-08; a third fits only the low carton the recipe does not name, under the same 2 kg.
        how = recipe(band(1, 12, outers=("C-08",)))
        rule = VolumetricRule(divisor_cm3_per_kg=5_000, round_up_um=10_000, above_cm3=1_000_000)
        by_weight = tariff(service(volumetric=(rule,)))
        low = carton("C-X", size(320, 160, 170), cost="0.80")
        for containers, more in (((C08,), 0), ((C08, low), 1)):
            given, lines = facts(containers=containers, tariffs=(by_weight,)), order(2, how=how)
            (one,) = spare_in(
                planned(lines, given),
                lines,
                given,
                destination=HERE,
                ship_on=DAY,
                occasion=Occasion(),
                little=D(0),
                overrides=Overrides(),
            )
            self.assertEqual(one.for_nothing, more, containers)


class Crafts(unittest.TestCase):
    def test_8_food_that_is_flat_or_keeps_is_no_bakery(self) -> None:
        wraps = jar(size=size(200, 180, 4), weight_mg=60_000, fragility="sturdy", food=True)
        keeps = jar(size=size(120, 90, 60), fragility="sturdy", food=True, keeps_days=200)
        fresh = jar(size=size(250, 110, 90), fragility="sturdy", food=True, keeps_days=4)
        self.assertNotIn("bake", craft_for(wraps).key)
        self.assertNotIn("bake", craft_for(keeps).key)
        self.assertIn("bake", craft_for(fresh).key)
        self.assertTrue(why_craft(craft_for(fresh), fresh))

    def test_8_texts_that_make_claims_wait_to_be_asked_for(self) -> None:
        bake = next(craft for craft in CRAFTS if "bake" in craft.key)
        self.assertIn("Baked today", " ".join(bake.claims))


class Sums(unittest.TestCase):
    def test_13_a_total_of_parcels_is_the_sum_of_what_its_lines_show(self) -> None:
        how = recipe(band(1, 2, outers=("C-08",)))
        plan = planned(order(5, how=how), facts(containers=(C08, carton("C-04", size(160, 140, 170), cost="0.333"))))
        self.assertGreater(len(plan.chosen.parcels), 1)
        for way in (plan.chosen, *plan.others):
            for name in ("materials", "labour", "postage", "expected_loss", "total"):
                shown = sum((getattr(p.candidate.costs, name) for p in way.parcels), D(0))
                self.assertEqual(getattr(way.costs, name), shown, name)
            self.assertEqual(
                way.costs.total,
                way.costs.materials + way.costs.labour + way.costs.postage + way.costs.expected_loss,
            )


class InTime(unittest.TestCase):
    """The last day a person allows, and the goods' own limit of days."""

    def test_9_a_service_that_comes_too_late_is_refused_by_name_and_the_other_taken(self) -> None:
        slow = service(code="SLOW", name="Slow", surcharges=(), zones=(_zone("1.00", 4),))
        fast = service(code="FAST", name="Fast", surcharges=(), zones=(_zone("9.00", 1),))
        given = facts(tariffs=(tariff(slow, fast),))
        for by, taken in ((None, "SLOW"), (DAY + timedelta(days=4), "SLOW"), (DAY + timedelta(days=3), "FAST")):
            chosen = planned(order(2), given, Overrides(arrive_by=by)).chosen.only
            self.assertEqual(chosen.quote.service, taken, by)
            self.assertEqual([one.limit_name for one in chosen.refusals], [] if taken == "SLOW" else ["arrive by"])
        none = plan_order(order(2), given, destination=HERE, ship_on=DAY, overrides=Overrides(arrive_by=DAY))
        assert isinstance(none, Blocked)
        self.assertIn("no_service", {one.code for one in none.ruled_out})

    def test_9_it_leaves_no_earlier_than_the_day_that_is_set(self) -> None:
        later = DAY + timedelta(days=7)
        self.assertEqual(planned(order(2), None, Overrides(not_before=later)).ship_on, later)
        self.assertEqual(planned(order(2), None, Overrides(not_before=DAY - timedelta(days=7))).ship_on, DAY)

    def test_15_goods_that_may_not_be_long_in_transit_go_by_what_is_fast_enough(self) -> None:
        slow = service(code="SLOW", name="Slow", surcharges=(), zones=(_zone("1.00", 4),))
        fast = service(code="FAST", name="Fast", surcharges=(), zones=(_zone("9.00", 1),))
        given = facts(tariffs=(tariff(slow, fast),))
        for days, taken in ((None, "SLOW"), (4, "SLOW"), (3, "FAST")):
            chosen = planned(order(2, product=jar(longest_days=days)), given).chosen.only
            self.assertEqual(chosen.quote.service, taken, days)


def _zone(price: str, days: int) -> ZoneTable:
    return ZoneTable(zone="1", transit_days=days, steps=(WeightStep(up_to_mg=25_000_000, price=D(price)),))


class InAMailer(unittest.TestCase):
    CLOTH = jar(size=size(180, 120, 15), weight_mg=160_000, orientation="flat", fragility="delicate")

    def chosen(self, container: str, **changes: Any) -> Candidate:
        """Return the parcel a person put into this container, which the recipe does not name."""
        how = recipe(band(1, 6, outers=("C-08",), any_outer=True, **changes))
        given = facts(containers=(C08, C14, MAILER))
        return planned(order(1, product=self.CLOTH, how=how), given, Overrides(container=container)).chosen.only

    def test_4_a_cushion_lost_in_a_mailer_is_told_and_costs_more(self) -> None:
        safe, lost = self.chosen("C-14"), self.chosen("M")
        self.assertEqual([one.code for one in safe.exposures], [])
        self.assertEqual([(one.code, one.fault) for one in lost.exposures], [("cushion_lost", False)])
        self.assertEqual(lost.damage_probability, safe.damage_probability * 3)
        self.assertEqual(self.chosen("M", cushion=NO_CUSHION, fill=None).exposures, ())

    def test_4_goods_held_by_their_base_do_not_go_in_a_mailer(self) -> None:
        how = recipe(band(1, 6, outers=("C-14", "M"), school="base_fixed"))
        plan = planned(order(1, product=self.CLOTH, how=how), facts(containers=(C14, MAILER)))
        self.assertEqual({one.container: one.code for one in plan.ruled_out}, {"M": "school"})

    def test_4_goods_held_in_different_ways_go_apart(self) -> None:
        other = jar(sku="POT", name="pot")
        lines = (
            *order(1, how=recipe(band(1, 6, outers=("C-14",)))),
            OrderLine(
                sku="POT",
                quantity=1,
                product=other,
                recipe=recipe(band(1, 6, outers=("C-14",), school="base_fixed"), code="pots"),
            ),
        )
        self.assertEqual(len(planned(lines).chosen.parcels), 2)
