"""Units side by side on the floor: layouts by hand, against plain trying of every place, and taken up again."""

import random
import unittest
from itertools import pairwise, product

import numpy as np

from core.packing.canonical import canonical_units
from core.packing.courses import SearchBudget
from core.packing.kernel.problem import Grid, problem_of
from core.packing.kernel.relations import Relations
from core.packing.kernel.side_by_side import FOUND, NONE, UNKNOWN, SideBySide
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit
from core.packing.rows import packing_of, unplaced
from core.packing.search import finish
from core.packing.verify import faults_of
from core.recipes.model import Cushion
from tests.core.samples import box, unit

BARE = PackRules(gap_um=0, support_percent=75)
MANY = 200_000


def laid_out(inside: Box, units: tuple[PackUnit, ...], rules: PackRules = BARE, most: int = MANY) -> int:
    """Return what the search answers; a layout it finds must have no error."""
    ordered = canonical_units(units)
    problem = problem_of(inside, ordered, rules)
    at, size = unplaced(problem)
    answer, _ = SideBySide(problem).search(most, at, size)
    if answer == FOUND:
        assert not faults_of(packing_of(inside, ordered, problem, at, size), inside, ordered, rules)
    return answer


def upright(code: str, length: float, width: float, quantity: int = 1, side_mm: float = 0) -> PackUnit:
    """Return a unit 50 mm high of which two do not stand on each other in 90 mm."""
    keep = Cushion(bottom_um=0, side_um=round(1000 * side_mm), top_um=0)
    return unit(code, quantity, (length, width, 50), clearance=keep)


class ByHand(unittest.TestCase):
    def test_five_round_a_middle_that_no_straight_cut_divides(self) -> None:
        around = (upright("a", 60, 40, 2), upright("b", 40, 60, 2), upright("c", 20, 20))
        self.assertEqual(laid_out(box(100, 100, 90), around), FOUND)
        self.assertEqual(laid_out(box(100, 99.999, 90), around), NONE)

    def test_a_gap_is_kept_between_and_a_border_at_the_walls(self) -> None:
        gap = PackRules(gap_um=4_000, support_percent=75)
        three = (upright("a", 30, 50, 3, side_mm=5),)
        self.assertEqual(laid_out(box(108, 60, 90), three, gap), FOUND)
        self.assertEqual(laid_out(box(107.999, 60, 90), three, gap), NONE)
        self.assertEqual(laid_out(box(108, 59.999, 90), three, gap), NONE)

    def test_one_may_stand_nearer_to_the_wall_than_another(self) -> None:
        wide, near = upright("w", 40, 40, side_mm=20), upright("n", 20, 80)
        # The near one lies within the 20 mm the wide one keeps from the wall: 20 + 40 + 20 are enough for both.
        self.assertEqual(laid_out(box(80, 80, 90), (wide, near)), FOUND)
        self.assertEqual(laid_out(box(79.999, 80, 90), (wide, near)), NONE)

    def test_a_unit_lies_the_way_that_fits(self) -> None:
        long = unit("l", 2, (120, 30, 50), up_axes=(0, 1, 2))
        # As high as 90 mm allows: on its long end it does not fit.
        self.assertEqual(laid_out(box(120, 60, 90), (long,)), FOUND)
        self.assertEqual(laid_out(box(119, 119, 90), (long,)), NONE)

    def test_nothing_can_be_told_without_tries(self) -> None:
        self.assertEqual(laid_out(box(100, 100, 90), (upright("a", 50, 50, 4),), most=3), UNKNOWN)
        self.assertEqual(laid_out(box(100, 100, 90), (upright("a", 50, 50, 4),), most=4), FOUND)


def fits_somewhere(room: Grid, shapes: list[tuple[list[tuple[int, int]], int]]) -> bool:
    """Return whether rectangles fit in what is left of a grid, by trying every place of each."""
    if not shapes:
        return True
    ways, side = shapes[0]
    length, width = room.shape
    for long, wide in ways:
        for x, y in product(range(side, length - side - long + 1), range(side, width - side - wide + 1)):
            if not room[x : x + long, y : y + wide].any():
                room[x : x + long, y : y + wide] = 1
                fits = fits_somewhere(room, shapes[1:])
                room[x : x + long, y : y + wide] = 0
                if fits:
                    return True
    return False


class AgainstPlainTrying(unittest.TestCase):
    def test_small_layouts_are_found_exactly_when_there_is_one(self) -> None:
        chance, told = random.Random(20261126), {FOUND: 0, NONE: 0}
        for _ in range(300):
            length, width = chance.randint(3, 6), chance.randint(3, 6)
            drawn = [
                (chance.randint(1, 4), chance.randint(1, 4), chance.choice((0, 0, 1)), chance.choice((1, 1, 2)))
                for _ in range(chance.randint(2, 3))
            ]
            units = tuple(
                upright(f"u{k}", 10 * a, 10 * b, many, side_mm=10 * side) for k, (a, b, side, many) in enumerate(drawn)
            )
            shapes = [([(a, b), (b, a)], side) for a, b, side, many in drawn for _ in range(many)]
            if sum(ways[0][0] * ways[0][1] for ways, _ in shapes) > length * width:
                continue
            answer = laid_out(box(10 * length, 10 * width, 90), units)
            told[answer] += 1
            self.assertEqual(answer == FOUND, fits_somewhere(np.zeros((length, width), dtype=np.int64), shapes), drawn)
        self.assertGreater(min(told.values()), 40)

    def test_what_was_cut_from_a_floor_is_never_called_impossible(self) -> None:
        chance = random.Random(7)
        for _ in range(60):
            cuts = [sorted({0, 300, *(chance.randrange(20, 280) for _ in range(2))}) for _ in range(3)]
            strips = [0, *sorted(chance.sample(range(30, 200), 2)), 230]
            pieces = [
                (right - left, back - front)
                for row, (front, back) in zip(cuts, pairwise(strips), strict=True)
                for left, right in pairwise(row)
            ]
            units = tuple(upright(f"u{k}", a, b) for k, (a, b) in enumerate(pieces))
            self.assertNotEqual(laid_out(box(300, 230, 90), units), NONE)


class TakenUpAgain(unittest.TestCase):
    def test_many_short_searches_are_one_long_one(self) -> None:
        units = canonical_units((upright("a", 52, 33, 5), upright("b", 41, 27, 4), upright("c", 38, 38, 2)))
        problem = problem_of(box(140, 121, 90), units, BARE)
        at, size = unplaced(problem)
        whole = SideBySide(problem).search(MANY, at, size)
        self.assertNotEqual(whole[0], UNKNOWN)
        self.assertGreater(whole[1], 100)
        parts, answer, tries = SideBySide(problem), UNKNOWN, 0
        while answer == UNKNOWN:
            answer, used = parts.search(37, at, size)
            tries += used
        self.assertEqual((answer, tries), whole)

    def test_asked_again_it_says_the_same_and_searches_no_more(self) -> None:
        for inside, answer in ((box(100, 100, 90), FOUND), (box(100, 99, 90), NONE)):
            problem = problem_of(inside, canonical_units((upright("a", 60, 40, 2), upright("b", 40, 60, 2))), BARE)
            search, (at, size), (again, same) = SideBySide(problem), unplaced(problem), unplaced(problem)
            self.assertEqual(search.search(MANY, at, size)[0], answer)
            self.assertEqual(search.search(MANY, again, same), (answer, 0))
            self.assertEqual((at.tolist(), size.tolist()), (again.tolist(), same.tolist()))


class OnlyOnTheFloor(unittest.TestCase):
    def test_it_is_told_when_nothing_can_be_off_the_floor(self) -> None:
        for height, limit, certain in ((90, None, True), (101, None, False), (150, 0, True), (150, None, False)):
            low = unit("u", 3, (60, 40, 50), load_on_top_mg=limit)
            problem = problem_of(box(200, 100, height), (low,), BARE)
            self.assertEqual(Relations(problem).all_on_floor(), certain, (height, limit))

    def test_the_search_packs_or_rules_out_such_goods_by_their_layout(self) -> None:
        goods = canonical_units((upright("a", 60, 40, 2), upright("b", 40, 60, 2), upright("c", 20, 20)))
        effort = SearchBudget(left=20_000)
        found = finish(box(100, 100, 90), goods, BARE, 0, effort)
        self.assertIsInstance(found, Packing)
        refused = finish(box(100, 99.999, 90), goods, BARE, 0, SearchBudget(left=20_000))
        assert isinstance(refused, NoPacking)
        self.assertTrue(refused.proven)
        self.assertLess(effort.left, 20_000)
