"""Where fillings put units, what they leave out, and how much work a request may cost."""

import unittest
from decimal import Decimal

import numpy as np

from core.packing.courses import EFFORT_ONE, STEPS, LongerSearch, SearchBudget, effort_for, step_of
from core.packing.kernel.filling import fill, volume
from core.packing.kernel.improving import improve
from core.packing.kernel.places import BOTH_ENDS, FIRST_CORNER, LEVEL, SCORES, TOP_EDGES, workspace_for
from core.packing.kernel.problem import Grid, Problem, problem_of
from core.packing.model import Packing, PackRules, PackUnit, Placement
from core.packing.rows import packing_of, sorted_orders, unplaced
from core.packing.verify import faults_of
from tests.core.benched import benched
from tests.core.samples import box, unit

RULES = PackRules(gap_um=0, support_percent=75)


def row_of_three() -> tuple[Problem, tuple[PackUnit, ...]]:
    """Return three units that fill the floor side by side, the middle one higher and the only one to carry, and a
    fourth.
    """
    units = (
        unit("left", 1, (100, 100, 50), load_on_top_mg=0),
        unit("middle", 1, (100, 100, 100)),
        unit("right", 1, (100, 100, 50), load_on_top_mg=0),
        unit("top", 1, (80, 80, 80)),
    )
    return problem_of(box(300, 100, 190), units, RULES), units


def filled(p: Problem, which: int) -> tuple[int, Grid, Grid]:
    """Fill in the order of the rows; return the volume left out, places and sizes."""
    n = len(p.kind)
    at, size = np.zeros((n, 3), dtype=np.int64), np.zeros((n, 3), dtype=np.int64)
    placed, every = np.zeros(n, dtype=np.int64), np.full(n, 63, dtype=np.int64)
    left = fill(p, np.arange(n), 0, LEVEL, which, at, size, placed, every, -1, workspace_for(n))
    return left, at, size


class Places(unittest.TestCase):
    def test_the_corner_of_a_space_may_be_over_what_carries_nothing(self) -> None:
        problem, _ = row_of_three()
        for which in (FIRST_CORNER, BOTH_ENDS):
            left, _, _ = filled(problem, which)
            self.assertEqual(left, volume(problem, 3))

    def test_the_edges_of_tops_are_places_too(self) -> None:
        problem, units = row_of_three()
        left, at, size = filled(problem, TOP_EDGES)
        self.assertEqual(left, 0)
        self.assertEqual(at[3].tolist(), [100_000, 0, 100_000])
        placements = tuple(
            Placement(unit=units[k].code, at_um=tuple(at[k].tolist()), size_um=tuple(size[k].tolist()))
            for k in range(4)
        )
        self.assertEqual(faults_of(Packing(box="B", placements=placements), box(300, 100, 190), units, RULES), ())

    def test_another_filling_in_the_same_workspace_forgets_the_first(self) -> None:
        problem, _ = row_of_three()
        n, w = 4, workspace_for(4)
        at, size = np.zeros((n, 3), dtype=np.int64), np.zeros((n, 3), dtype=np.int64)
        placed, every = np.zeros(n, dtype=np.int64), np.full(n, 63, dtype=np.int64)
        seen = []
        for _ in range(2):
            left = fill(problem, np.arange(n), 0, LEVEL, TOP_EDGES, at, size, placed, every, -1, w)
            seen.append((left, at.tolist(), w.burdens.carried.tolist()))
        self.assertEqual(seen[0], seen[1])
        self.assertEqual(seen[0][2][1], float(problem.weight[3]))


class OneWay(unittest.TestCase):
    """A slab that lies anyhow: flat it fills the floor, on its side five stand in a row."""

    def one_way(self, quantity: int, ways: list[int]) -> tuple[int, list[int]]:
        units = (unit("slab", quantity, (100, 100, 20), up_axes=(0, 1, 2)),)
        problem = problem_of(box(100, 100, 100), units, RULES)
        at, size = np.zeros((quantity, 3), dtype=np.int64), np.zeros((quantity, 3), dtype=np.int64)
        placed, allowed = np.zeros(quantity, dtype=np.int64), np.full(quantity, 63, dtype=np.int64)
        for row, high in enumerate(ways):
            allowed[row] = sum(
                1 << way for way in range(problem.ways[row]) if problem.sizes[row, way, 2] == high * 1000
            )
        left = fill(
            problem, np.arange(quantity), 0, LEVEL, FIRST_CORNER, at, size, placed, allowed, -1, workspace_for(quantity)
        )
        return left, size[:, 2].tolist()

    def test_units_let_stand_one_way_stand_so_where_they_can(self) -> None:
        self.assertEqual(self.one_way(5, [100] * 5), (0, [100_000] * 5))
        self.assertEqual(self.one_way(5, [20] * 5), (0, [20_000] * 5))

    def test_one_that_finds_no_place_so_stands_another_way(self) -> None:
        # Where two stand on their side, one does not lie flat any more: it stands as they do.
        self.assertEqual(self.one_way(3, [100, 100, 20]), (0, [100_000] * 3))

    def test_equals_that_may_stand_anyhow_do_not_wait_for_it(self) -> None:
        left, heights = self.one_way(5, [100, 20])
        self.assertEqual((left, heights[0]), (0, 100_000))


class ManyOfAKind(unittest.TestCase):
    def test_each_kind_is_let_stand_one_way_before_fillings_are_disturbed(self) -> None:
        # Order 57 of family f: fifteen of sixteen stand in one layer, the last lies. Chance took 22 000 to 250 000
        # units of effort.
        inside, units, rules = benched("f", 57, "X-3")
        p = problem_of(inside, units, rules)
        at, size = unplaced(p)
        left = [improve(p, sorted_orders(units), 1, tries, 10**9, 1, at, size)[0] for tries in (0, 1)]
        self.assertGreater(left[0], 100)
        self.assertEqual(left[1], 0)
        packing = packing_of(inside, units, p, at, size)
        self.assertEqual(faults_of(packing, inside, units, rules), ())


class Improving(unittest.TestCase):
    def test_what_is_left_out_is_told_in_thousandths_of_the_volume(self) -> None:
        units = (unit("large", 1, (100, 100, 90)), unit("small", 1, (100, 100, 10)), unit("more", 1, (100, 100, 100)))
        problem = problem_of(box(100, 100, 100), units, RULES)
        at, size = np.zeros((3, 3), dtype=np.int64), np.zeros((3, 3), dtype=np.int64)
        orders = np.array([[0, 1, 2], [2, 1, 0]])
        left, work = improve(problem, orders, SCORES, 20, 10**9, 0, at, size)
        self.assertEqual(left, 500)
        self.assertGreater(work, 0)

    def test_it_ends_when_the_work_is_spent(self) -> None:
        problem, _ = row_of_three()
        high = problem._replace(inner=np.array([300_000, 100_000, 140_000]))
        at, size = np.zeros((4, 3), dtype=np.int64), np.zeros((4, 3), dtype=np.int64)
        orders = np.array([[0, 1, 2, 3]])
        _, little = improve(high, orders, 1, 100_000, 5_000, 0, at, size)
        _, more = improve(high, orders, 1, 100_000, 50_000, 0, at, size)
        self.assertLess(little, 6_000)
        self.assertLess(more, 51_000)
        self.assertGreater(more, 50_000)

    def test_the_same_turn_gives_the_same(self) -> None:
        problem, _ = row_of_three()
        found = []
        for _ in range(2):
            at, size = np.zeros((4, 3), dtype=np.int64), np.zeros((4, 3), dtype=np.int64)
            found.append((improve(problem, np.array([[3, 2, 1, 0]]), 1, 200, 10**9, 3, at, size), at.tolist()))
        self.assertEqual(found[0], found[1])


CASE = ((300_000, 200_000, 100_000), 9)
OTHER = ((200_000, 200_000, 100_000), 9)
GOODS = LongerSearch(near=100, enough=5_000, enough_for_much=2_000, much_percent=35, work=600_000)
LITTLE, MUCH = Decimal("0.349"), Decimal("0.35")


def effort_after(*left_out: int, left: int = 0) -> SearchBudget:
    """Return an effort whose fillings left out so much in one container and in another."""
    effort = SearchBudget(left=left, stretch=GOODS)
    for case, out in zip((CASE, OTHER), left_out, strict=False):
        effort.filled(case, out)
    return effort


class Work(unittest.TestCase):
    def test_one_container_that_is_very_near_is_worth_going_on(self) -> None:
        told = [effort_after(out).go_on([CASE], 1, LITTLE) for out in (10, 29, 30, 99)]
        self.assertEqual(told, [True, True, False, False])

    def test_two_that_are_fairly_near_are_worth_as_much_as_one_that_is_very_near(self) -> None:
        one, two = effort_after(50), effort_after(50, 50)
        self.assertEqual((one.go_on([CASE], 1, LITTLE), two.go_on([CASE, OTHER], 1, LITTLE)), (False, True))

    def test_one_that_is_far_adds_nothing(self) -> None:
        effort = effort_after(50, 170)
        self.assertFalse(effort.go_on([CASE, OTHER], 1, LITTLE))

    def test_what_could_save_much_is_worth_it_sooner(self) -> None:
        told = [effort_after(out).go_on([CASE], 1, stake) for out in (55, 56) for stake in (LITTLE, MUCH)]
        self.assertEqual(told, [False, True, False, False])

    def test_what_is_granted_comes_to_what_is_left(self) -> None:
        effort = effort_after(10, left=70)
        effort.go_on([CASE], 1, LITTLE)
        self.assertEqual(effort.left, 600_070)
        spared = effort_after(90, left=70)
        spared.go_on([CASE], 1, LITTLE)
        self.assertEqual(spared.left, 70)

    def test_more_kinds_and_more_containers_open_make_it_worth_it_sooner(self) -> None:
        told = [effort_after(50).go_on([CASE], chances, LITTLE) for chances in (1, 2, 3)]
        self.assertEqual(told, [False, True, True])

    def test_where_nothing_may_be_added_nothing_is(self) -> None:
        effort = SearchBudget(left=10)
        effort.filled(CASE, 1)
        self.assertEqual((effort.go_on([CASE], 1, MUCH), effort.left, effort.is_near(CASE)), (False, 10, False))

    def test_mixed_goods_few_or_many_and_cut_pieces_are_worth_more(self) -> None:
        mixed = (unit("a", 4, (50, 60, 70)), unit("b", 4, (40, 60, 70)))
        many = (unit("a", 14, (50, 60, 70)), unit("b", 4, (40, 60, 70)))
        equal = (unit("a", 8, (50, 60, 70)),)
        loose = (unit("a", 1, (50, 60, 70), up_axes=(0, 1, 2)), unit("b", 1, (40, 60, 70), up_axes=(0, 1, 2)))
        worth = (
            effort_for(mixed, RULES),
            effort_for(many, RULES),
            effort_for(loose, PackRules(gap_um=0, support_percent=0)),
        )
        for effort in worth:
            assert effort.stretch is not None
            self.assertGreater(effort.stretch.work, EFFORT_ONE)
        self.assertIsNone(effort_for(equal, RULES).stretch)

    def test_many_goods_get_more_work_than_few_and_equal_ones_least(self) -> None:
        mixed, many = (
            tuple(unit(code, count, (50, 60, 70)) for code, count in zip("ab", counts, strict=True))
            for counts in ((6, 6), (16, 7))
        )
        equal = (unit("a", 12, (50, 60, 70)),)
        left = [effort_for(units, RULES).left for units in (many, mixed, equal)]
        self.assertEqual(left, sorted(left, reverse=True))
        self.assertEqual(len(set(left)), 3)

    def test_more_goods_than_are_related_are_only_filled_and_longer_at_each_step(self) -> None:
        steps = [step_of(number, goods=True, units=17, loose=True) for number in range(STEPS)]
        self.assertEqual([step.related for step in steps], [0] * STEPS)
        self.assertEqual(sorted(step.filled for step in steps), [step.filled for step in steps])

    def test_of_few_goods_relations_get_most_and_the_least_of_more(self) -> None:
        for number in (0, STEPS - 1, STEPS, STEPS + 9):
            shares = [step_of(number, goods=True, units=units, loose=True) for units in (8, 10, 11, 12, 13, 16)]
            related = [step.related for step in shares]
            self.assertEqual(related, sorted(related, reverse=True))
            self.assertEqual(len(set(related)), 3)
            self.assertGreater(min(step.filled for step in shares), 0)

    def test_near_is_gone_on_with_far_is_hopeless_and_what_was_never_filled_neither(self) -> None:
        found = []
        for left_out in (None, 1, 100, 101, 150, 151, 1000):
            effort = effort_after() if left_out is None else effort_after(left_out)
            found.append((effort.is_near(CASE), effort.is_hopeless(CASE)))
        near, between, far = (True, False), (False, False), (False, True)
        self.assertEqual(found, [between, near, near, between, between, far, far])

    def test_the_best_filling_counts(self) -> None:
        effort = SearchBudget(left=0, stretch=GOODS)
        for left_out in (300, 140, 280):
            effort.filled(CASE, left_out)
        self.assertEqual(effort.left_out, {CASE: 140})
