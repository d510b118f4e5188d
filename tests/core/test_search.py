"""The packing search in its parts: what is ruled out, what is proven, what the long search finds."""

import unittest
from dataclasses import replace
from decimal import Decimal
from unittest import mock

from bench.packing.families import FAMILIES
from core.packing import courses, filled
from core.packing.canonical import canonical_units, code_of
from core.packing.cheapest import Offered, cheapest_container, forget_requests
from core.packing.courses import STEPS, SearchBudget
from core.packing.equal import most_in_layers
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit
from core.packing.ruled_out import ruled_out
from core.packing.search import find_packing, finish, forget, quick
from core.packing.verify import faults_of
from core.recipes.model import Cushion
from tests.core.samples import box, unit
from tests.said import said

RULES, LOOSE = PackRules(gap_um=0), PackRules(gap_um=0, support_percent=0)
ANY = (0, 1, 2)


def no(box_: Box, units: tuple[PackUnit, ...], rules: PackRules = RULES) -> NoPacking:
    found = find_packing(box_, units, rules)
    if isinstance(found, Packing):
        raise AssertionError(found)
    return found


def yes(box_: Box, units: tuple[PackUnit, ...], rules: PackRules = RULES) -> Packing:
    found = find_packing(box_, units, rules)
    if isinstance(found, NoPacking):
        raise AssertionError(found)
    if faults := faults_of(found, box_, units, rules):
        raise AssertionError(faults)
    return found


class RuledOut(unittest.TestCase):
    def test_two_that_are_over_half_of_every_side_cannot_share_a_box(self) -> None:
        # 2 x 60^3 is 0.43 of 100^3: only the reshaped volumes tell.
        two = (unit("u", 2, (60, 60, 60), up_axes=ANY),)
        self.assertEqual(
            (no(box(100, 100, 100), two).reason, no(box(100, 100, 100), two).proven), ("no_arrangement", True)
        )

    def test_nine_thirds_and_a_bit_do_not_stand_on_a_floor_for_nine(self) -> None:
        nine = unit("u", 9, (100, 100, 100))
        self.assertIsNone(ruled_out(box(300, 300, 100), (nine,), RULES))
        short = ruled_out(box(299, 300, 100), (nine,), RULES)
        assert short is not None
        self.assertTrue(short.proven)

    def test_a_unit_with_less_cushion_below_may_stand_lower_than_the_deepest(self) -> None:
        deep = unit("deep", 1, (50, 50, 50), clearance=Cushion(bottom_um=30_000, side_um=0, top_um=0))
        tall = unit("tall", 1, (50, 50, 95), clearance=Cushion(bottom_um=5_000, side_um=0, top_um=0))
        packing = yes(box(120, 60, 100), (deep, tall))
        self.assertEqual({p.unit: p.at_um[2] for p in packing.placements}, {"deep": 30_000, "tall": 5_000})

    def test_loads_bound_the_layers_of_equal_units(self) -> None:
        one = unit("u", 4, (100, 100, 50), weight_mg=1_000)
        tower = box(100, 100, 400)
        self.assertEqual(most_in_layers(tower, one, RULES), 8)
        self.assertEqual(most_in_layers(tower, replace(one, load_on_top_mg=0), RULES), 1)
        # The lowest carries at most two like itself.
        self.assertEqual(most_in_layers(tower, replace(one, load_on_top_mg=2_000), RULES), 3)
        self.assertEqual(no(tower, (replace(one, load_on_top_mg=2_000),)).reason, "too_many")


class OneLayer(unittest.TestCase):
    """Equal units that stand on the floor alone stand close together, not in long rows."""

    def shape(self, count: int, *inner: int, size: tuple[int, int, int] = (50, 50, 80)) -> tuple[int, int]:
        """Return over how many millimetres along and across so many stand."""
        packing = yes(box(*inner), (unit("u", count, size),))
        self.assertEqual({p.at_um[2] for p in packing.placements}, {0})
        along, across = (max(p.at_um[a] + p.size_um[a] for p in packing.placements) // 1000 for a in (0, 1))
        return along, across

    def test_nine_stand_three_by_three_where_four_by_three_would_go(self) -> None:
        self.assertEqual(self.shape(9, 200, 150, 100), (150, 150))

    def test_seven_leave_one_spot_empty_not_two(self) -> None:
        self.assertEqual(sorted(self.shape(7, 400, 400, 100)), [100, 200])

    def test_ten_stand_two_by_five(self) -> None:
        self.assertEqual(sorted(self.shape(10, 300, 300, 100)), [100, 250])

    def test_they_lie_along_the_box(self) -> None:
        self.assertEqual(self.shape(1, 300, 120, 100, size=(60, 100, 80)), (100, 60))
        self.assertEqual(self.shape(10, 300, 260, 100), (250, 100))
        self.assertEqual(self.shape(10, 260, 300, 100), (100, 250))

    def test_where_the_box_is_narrow_they_stand_in_a_row(self) -> None:
        self.assertEqual(self.shape(4, 250, 60, 100), (200, 50))

    def test_long_units_are_turned_for_the_shortest_way_round(self) -> None:
        # Four of 100 x 20: side by side 100 x 80, not in a row of 400.
        self.assertEqual(sorted(self.shape(4, 400, 400, 30, size=(100, 20, 25))), [80, 100])

    def test_what_only_two_grids_take_stands_as_they_say(self) -> None:
        # Five of 30 x 20 in 70 x 50: three beside each other and two turned; one grid takes four.
        packing = yes(box(80, 50, 30), (unit("u", 4, (30, 20, 25)),))
        self.assertEqual(len(packing.placements), 4)
        five = yes(box(70, 50, 30), (unit("u", 5, (30, 20, 25)),))
        self.assertEqual(len({p.size_um for p in five.placements}), 2)


class Relations(unittest.TestCase):
    def test_a_pinwheel_of_four_round_a_fifth_is_found(self) -> None:
        # 2 x 1 four times round a 1 x 1, in 3 x 3, one high: no straight cut takes it apart.
        four, middle = unit("long", 4, (200, 100, 100)), unit("mid", 1, (100, 100, 100))
        self.assertEqual(len(yes(box(300, 300, 100), (four, middle)).placements), 5)

    def test_the_same_with_one_side_a_millimetre_short_is_proven_impossible(self) -> None:
        four, middle = unit("long", 4, (200, 100, 100)), unit("mid", 1, (100, 100, 100))
        self.assertTrue(no(box(300, 299, 100), (four, middle)).proven)

    def test_what_nothing_may_rest_on_cannot_be_in_a_tower(self) -> None:
        two = unit("bare", 2, (100, 100, 50), load_on_top_mg=0)
        self.assertTrue(no(box(100, 100, 200), (two,)).proven)
        mixed = (unit("bare", 1, (100, 100, 50), load_on_top_mg=0), unit("firm", 1, (100, 100, 60)))
        packing = yes(box(100, 100, 200), mixed)
        self.assertEqual([p.unit for p in packing.placements], ["firm", "bare"])

    def test_a_wide_lid_needs_three_quarters_of_its_base_below(self) -> None:
        lid = unit("lid", 1, (200, 100, 20), load_on_top_mg=0)
        small = unit("post", 1, (100, 100, 50), load_on_top_mg=None)
        self.assertTrue(no(box(200, 100, 80), (lid, small)).proven)
        self.assertEqual(len(yes(box(200, 100, 80), (lid, replace(small, quantity=2))).placements), 3)

    def test_a_gap_counts_between_units_and_not_to_the_wall(self) -> None:
        three = unit("u", 3, (100, 100, 100))
        self.assertEqual(len(yes(box(310, 100, 100), (three,), PackRules(gap_um=5_000)).placements), 3)
        self.assertTrue(no(box(309, 100, 100), (three,), PackRules(gap_um=5_000)).proven)


def deep(bottom_mm: int) -> Cushion:
    return Cushion(bottom_um=bottom_mm * 1_000, side_um=0, top_um=0)


class LevelsOnTheCushion(unittest.TestCase):
    """What needs less cushion below may stand anywhere from there up to the deepest, so that tops come even."""

    LID = unit("lid", 1, (200, 100, 20), clearance=deep(20))

    def test_a_lid_lies_on_two_of_different_height_when_their_cushions_make_up_for_it(self) -> None:
        low, high = (
            unit("low", 1, (100, 100, 91), clearance=deep(20)),
            unit("high", 1, (100, 100, 111), clearance=deep(0)),
        )
        packing = yes(box(200, 100, 131), (low, high, self.LID))
        self.assertEqual({p.unit: p.at_um[2] for p in packing.placements}, {"low": 20_000, "high": 0, "lid": 111_000})

    def test_one_is_raised_to_the_other(self) -> None:
        soft = unit("soft", 1, (40, 100, 30), clearance=deep(20))
        one, other = (
            unit("one", 1, (100, 100, 100), clearance=deep(5)),
            unit("other", 1, (100, 100, 91), clearance=deep(0)),
        )
        packing = yes(box(240, 100, 125), (one, other, soft, self.LID))
        heights = {p.unit: p.top_um for p in packing.placements}
        self.assertEqual((heights["one"], heights["other"]), (105_000, 105_000))

    def test_when_no_level_makes_them_even_the_lid_is_proven_to_have_no_place(self) -> None:
        low, high = (
            unit("low", 1, (100, 100, 80), clearance=deep(20)),
            unit("high", 1, (100, 100, 111), clearance=deep(0)),
        )
        found = no(box(200, 100, 131), (low, high, self.LID))
        self.assertTrue(found.proven, found)


class TopsAndFloor(unittest.TestCase):
    def test_tops_that_are_together_too_small_hold_nothing_for_certain(self) -> None:
        # Four bare plates fill the floor; two more would need 1.5 plates of top, the one firm unit has a third.
        bare = unit("bare", 6, (100, 100, 40), load_on_top_mg=0)
        firm = unit("firm", 1, (60, 55, 40))
        found = no(box(265, 205, 150), (bare, firm))
        self.assertTrue(found.proven, found)

    def test_five_of_which_two_go_along_each_side_do_not_stand_on_the_floor_for_certain(self) -> None:
        bare = unit("bare", 5, (105, 110, 60), load_on_top_mg=0)
        self.assertTrue(no(box(310, 310, 150), (bare, unit("flat", 1, (30, 20, 10)))).proven)

    def test_a_chain_of_loads_adds_up(self) -> None:
        firm = unit("firm", 3, (100, 100, 40), weight_mg=400_000, load_on_top_mg=700_000)
        top = unit("top", 1, (100, 100, 30), weight_mg=100_000, load_on_top_mg=0)
        # On the lowest of three lie 400 + 400 g: too much. Two towers of two carry 400 g and 100 g.
        self.assertIsInstance(find_packing(box(100, 100, 200), (firm, top), RULES), NoPacking)
        self.assertEqual(len(yes(box(200, 100, 80), (firm, top)).placements), 4)


class LongSearch(unittest.TestCase):
    PIECES = (
        unit("a", 1, (60, 100, 40), up_axes=ANY), unit("b", 1, (40, 60, 40), up_axes=ANY),
        unit("c", 1, (40, 40, 40), up_axes=ANY), unit("d", 1, (100, 100, 35), up_axes=ANY),
        unit("e", 1, (70, 100, 25), up_axes=ANY), unit("f", 1, (30, 100, 25), up_axes=ANY),
    )  # fmt: skip

    def test_a_cube_cut_in_six_goes_back_without_waste(self) -> None:
        self.assertEqual(len(yes(box(100, 100, 100), self.PIECES, LOOSE).placements), 6)

    def test_every_step_alone_gives_a_valid_packing_or_none(self) -> None:
        cube = box(100, 100, 100)
        units = canonical_units(self.PIECES)
        answers = [finish(cube, units, LOOSE, step, SearchBudget(left=10**6)) for step in range(STEPS)]
        answers.append(quick(cube, units, LOOSE))
        self.assertTrue(any(isinstance(one, Packing) for one in answers))
        for one in answers:
            if isinstance(one, Packing):
                self.assertEqual(faults_of(one, cube, units, LOOSE), ())

    def test_without_effort_nothing_is_called_proven(self) -> None:
        tight = tuple(replace(piece, size_um=tuple(v + 100 for v in piece.size_um)) for piece in self.PIECES)  # type: ignore[arg-type]
        found = finish(box(101, 101, 101), canonical_units(tight), LOOSE, 0, SearchBudget(left=0))
        self.assertFalse(isinstance(found, NoPacking) and found.proven)

    def test_asked_quickly_the_answer_is_valid_and_never_less_sure_than_it_says(self) -> None:
        found = find_packing(box(100, 100, 100), self.PIECES, LOOSE, thorough=False)
        if isinstance(found, Packing):
            self.assertEqual(faults_of(found, box(100, 100, 100), self.PIECES, LOOSE), ())
        else:
            self.assertFalse(found.proven)

    def test_hundreds_of_units_are_packed_and_what_carries_nothing_carries_nothing(self) -> None:
        bare = unit("bare", 60, (90, 70, 50), load_on_top_mg=0)
        firm, flat = unit("firm", 90, (80, 60, 60)), unit("flat", 60, (120, 80, 30), up_axes=ANY)
        self.assertEqual(len(yes(box(900, 700, 500), (bare, firm, flat)).placements), 210)

    def test_nothing_to_pack_is_an_error(self) -> None:
        with self.assertRaises(ValueError):
            find_packing(box(1, 1, 1), (), RULES)


class SameRequest(unittest.TestCase):
    def test_equal_lines_are_joined_and_dealt_back_to_their_codes(self) -> None:
        lines = (unit("x", 2), unit("y", 3), unit("z", 1, (50, 50, 50)))
        joined = canonical_units(lines)
        self.assertEqual([u.quantity for u in joined], [5, 1])
        packing = yes(box(300, 200, 200), lines)
        codes = [p.unit for p in packing.placements]
        self.assertEqual({code: codes.count(code) for code in codes}, {"x": 2, "y": 3, "z": 1})
        self.assertEqual((code_of("0000", lines), code_of("0001", lines), code_of("", lines)), ("x", "z", ""))

    def test_a_remembered_answer_is_the_same_as_a_new_one(self) -> None:
        lines = (unit("x", 2), unit("y", 1, (50, 60, 70), up_axes=ANY))
        first = find_packing(box(200, 200, 110), lines, RULES)
        forget()
        self.assertEqual(find_packing(box(200, 200, 110), lines, RULES), first)


class Cheapest(unittest.TestCase):
    def offered(self, *boxes: tuple[str, float, float, float, str]) -> tuple[Offered, ...]:
        return tuple(Offered(box=replace(box(a, b, c), code=code), cost=Decimal(cost)) for code, a, b, c, cost in boxes)

    def test_every_container_says_what_became_of_it(self) -> None:
        forget_requests()
        shelf = self.offered(
            ("L", 300, 300, 300, "3"), ("S", 90, 90, 90, "1"), ("M", 200, 110, 110, "2"), ("T", 210, 110, 110, "2")
        )
        found = cheapest_container(shelf, (unit("u", 2),), RULES)
        self.assertEqual(
            [(c.container, c.outcome) for c in found.considered],
            [("L", "dearer"), ("S", "no"), ("M", "chosen"), ("T", "dearer")],
        )
        self.assertEqual(said(found.considered[0].reason), "costs 1 more than M")
        self.assertEqual(said(found.considered[3].reason), "costs the same as M and is larger")
        self.assertIn("10 mm too", said(found.considered[1].reason))
        self.assertTrue(found.proven)

    def test_what_is_proven_for_a_carton_holds_for_a_smaller_one(self) -> None:
        two = (unit("u", 2, (60, 60, 60), up_axes=ANY),)
        found = cheapest_container(self.offered(("B", 110, 110, 110, "2"), ("A", 105, 110, 100, "1")), two, RULES)
        self.assertIsNone(found.packing)
        self.assertTrue(found.proven)

    def test_nothing_offered_is_a_proven_nothing(self) -> None:
        found = cheapest_container((), (unit("u", 1),), RULES)
        self.assertEqual((found.packing, found.proven, found.considered), (None, True, ()))

    def test_equal_insides_are_told_apart_by_what_they_bear_and_cost(self) -> None:
        shelf = self.offered(("A", 110, 60, 60, "1"), ("B", 110, 60, 60, "2"), ("C", 110, 60, 60, "3"))
        weak = (replace(shelf[0], box=replace(shelf[0].box, max_load_mg=150_000)), *shelf[1:])
        two = (unit("u", 1, (50, 60, 60)), unit("v", 1, (60, 60, 60)))
        for offered, chosen, first in ((shelf, "A", "chosen"), (weak, "B", "no")):
            with self.subTest(chosen):
                found = cheapest_container(offered, two, RULES)
                assert found.packing is not None
                self.assertEqual((found.packing.box, found.considered[0].outcome), (chosen, first))
        self.assertIn("takes 150 g", said(cheapest_container(weak, two, RULES).considered[0].reason))

    def test_the_order_offered_in_changes_nothing_but_the_order_told_in(self) -> None:
        shelf = self.offered(("L", 300, 300, 300, "3"), ("S", 90, 90, 90, "1"), ("M", 200, 110, 110, "2"))
        two = (unit("u", 2),)
        forward, back = cheapest_container(shelf, two, RULES), cheapest_container(shelf[::-1], two, RULES)
        self.assertEqual((forward.packing, forward.proven), (back.packing, back.proven))
        self.assertEqual(forward.considered, back.considered[::-1])

    def test_units_under_other_codes_pack_alike_and_keep_their_codes(self) -> None:
        shelf = self.offered(
            ("M", 200, 110, 110, "2"),
        )
        found = [cheapest_container(shelf, (unit(code, 2),), RULES).packing for code in ("u", "mug")]
        assert found[0] is not None and found[1] is not None
        self.assertEqual({p.unit for p in found[1].placements}, {"mug"})
        self.assertEqual([p.at_um for p in found[0].placements], [p.at_um for p in found[1].placements])


class GoingOn(unittest.TestCase):
    """Orders whose cheaper containers came near a packing (bench/packing/families): more work finds some of them."""

    NAMES = ("d-20", "d-38", "d-455", "a20-42")

    def costs(self) -> list[Decimal]:
        found = []
        for name in self.NAMES:
            family, number = name.split("-")
            order = FAMILIES[family](name, int(number))
            forget_requests()
            answer = cheapest_container(order.offered, order.units, order.rules)
            cost = {one.box.code: one.cost for one in order.offered}
            found.append(cost[answer.packing.box] if answer.packing is not None else Decimal("Infinity"))
        return found

    def test_it_never_makes_an_answer_dearer_and_makes_some_cheaper(self) -> None:
        more = self.costs()
        with (
            mock.patch.object(courses, "_STRETCH_GOODS", None),
            mock.patch.object(courses, "_STRETCH_ANYHOW", None),
        ):
            less = self.costs()
        forget_requests()
        self.assertTrue(all(one <= other for one, other in zip(more, less, strict=True)), (more, less))
        self.assertGreater(sum(one < other for one, other in zip(more, less, strict=True)), 0, (more, less))

    def test_the_same_again_is_the_same_answer(self) -> None:
        self.assertEqual(self.costs(), self.costs())


class Hopeless(unittest.TestCase):
    def test_a_container_that_fillings_stay_far_from_is_filled_no_more(self) -> None:
        # Ten of them stand on the floor at most, and one more may stand on the only one that carries anything.
        goods = tuple(unit(f"u{n}", 1, (50, 50, 50 + n), load_on_top_mg=None if n == 0 else 0) for n in range(14))
        case = ((255_000, 110_000, 120_000), 14)
        effort = SearchBudget(left=60_000)
        finish(box(255, 110, 120), canonical_units(goods), RULES, 0, effort)
        self.assertTrue(effort.is_hopeless(case), effort.left_out)
        with mock.patch.object(filled, "improve", side_effect=AssertionError("filled again")):
            answer = finish(box(255, 110, 120), canonical_units(goods), RULES, 1, effort)
        self.assertNotIsInstance(answer, Packing)
