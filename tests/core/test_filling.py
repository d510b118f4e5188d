"""Where fillings put units, what they leave out, and how much work a request may cost."""

import unittest
from dataclasses import replace
from decimal import Decimal

import numpy as np

from core.packing.courses import EFFORT_ONE, STEPS, Effort, Stretch, effort_for, step_of
from core.packing.kernel.filling import fill, volume
from core.packing.kernel.improving import improve
from core.packing.kernel.places import BOTH_ENDS, FIRST_CORNER, LEVEL, SCORES, TOP_EDGES, workspace_for
from core.packing.kernel.problem import Grid, Problem, problem_of
from core.packing.model import Packing, PackRules, PackUnit, Placement
from core.packing.verify import faults_of
from tests.core.samples import box, unit

RULES = PackRules(gap_um=0, support_percent=75)


def row_of_three() -> tuple[Problem, tuple[PackUnit, ...]]:
    """Return three units that fill the floor side by side, the middle one higher and the only one to carry, and a fourth."""
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
GOODS = Stretch(near=100, enough=5_000, enough_for_much=2_000, much_percent=35, work=600_000)
LITTLE, MUCH = Decimal("0.349"), Decimal("0.35")


def effort_after(*left_out: int, left: int = 0) -> Effort:
    """Return an effort whose fillings left out so much in one container and in another."""
    effort = Effort(left=left, stretch=GOODS)
    for case, out in zip((CASE, OTHER), left_out, strict=False):
        effort.filled(case, out)
    return effort


class Work(unittest.TestCase):
    def test_one_container_that_is_very_near_is_worth_going_on(self) -> None:
        told = [effort_after(out).go_on([CASE], LITTLE) for out in (10, 29, 30, 99)]
        self.assertEqual(told, [True, True, False, False])

    def test_two_that_are_fairly_near_are_worth_as_much_as_one_that_is_very_near(self) -> None:
        one, two = effort_after(50), effort_after(50, 50)
        self.assertEqual((one.go_on([CASE], LITTLE), two.go_on([CASE, OTHER], LITTLE)), (False, True))

    def test_one_that_is_far_adds_nothing(self) -> None:
        effort = effort_after(50, 170)
        self.assertFalse(effort.go_on([CASE, OTHER], LITTLE))

    def test_what_could_save_much_is_worth_it_sooner(self) -> None:
        told = [effort_after(out).go_on([CASE], stake) for out in (55, 56) for stake in (LITTLE, MUCH)]
        self.assertEqual(told, [False, True, False, False])

    def test_what_is_granted_comes_to_what_is_left(self) -> None:
        effort = effort_after(10, left=70)
        effort.go_on([CASE], LITTLE)
        self.assertEqual(effort.left, 600_070)
        spared = effort_after(90, left=70)
        spared.go_on([CASE], LITTLE)
        self.assertEqual(spared.left, 70)

    def test_relations_of_few_goods_are_searched_on_where_one_container_is_open(self) -> None:
        stretch = replace(GOODS, few=9, settling=50)
        told = [
            Effort(left=7, stretch=replace(stretch, few=few)).settle(cases)
            for few, cases in ((9, [CASE]), (8, [CASE]), (9, [CASE, OTHER]), (9, []))
        ]
        self.assertEqual(told, [True, False, False, False])
        effort = Effort(left=7, stretch=stretch)
        effort.settle([CASE])
        assert effort.settling is not None
        self.assertEqual((effort.left, effort.settling.related, effort.settling.filled), (57, 50, 0))
        self.assertFalse(Effort(left=7).settle([CASE]))

    def test_where_nothing_may_be_added_nothing_is(self) -> None:
        effort = Effort(left=10)
        effort.filled(CASE, 1)
        self.assertEqual((effort.go_on([CASE], MUCH), effort.left, effort.is_near(CASE)), (False, 10, False))

    def test_only_a_few_mixed_goods_and_cut_pieces_are_worth_more(self) -> None:
        mixed = (unit("a", 4, (50, 60, 70)), unit("b", 4, (40, 60, 70)))
        many = (unit("a", 14, (50, 60, 70)), unit("b", 4, (40, 60, 70)))
        equal = (unit("a", 8, (50, 60, 70)),)
        loose = (unit("a", 1, (50, 60, 70), up_axes=(0, 1, 2)), unit("b", 1, (40, 60, 70), up_axes=(0, 1, 2)))
        worth = (effort_for(mixed, RULES), effort_for(loose, PackRules(gap_um=0, support_percent=0)))
        for effort in worth:
            assert effort.stretch is not None
            self.assertGreater(effort.stretch.work, EFFORT_ONE)
        self.assertEqual([effort_for(units, RULES).stretch for units in (many, equal)], [None, None])

    def test_many_goods_get_more_work_than_few_and_equal_ones_least(self) -> None:
        mixed, many = (
            tuple(unit(code, count, (50, 60, 70)) for code, count in zip("ab", counts, strict=True))
            for counts in ((6, 6), (16, 7))
        )
        equal = (unit("a", 12, (50, 60, 70)),)
        left = [effort_for(units, RULES).left for units in (many, mixed, equal)]
        self.assertEqual(left, sorted(left, reverse=True))
        self.assertEqual(len(set(left)), 3)

    def test_many_goods_are_filled_more_than_clustered_and_a_layer_of_equal_ones_is_laid_out_at_each_step(self) -> None:
        for number in range(STEPS):
            step = step_of(number, goods=True, many=True, loose=True)
            self.assertGreater(step.related, 0)
            self.assertLess(step.clustered, step.filled)

    def test_near_is_gone_on_with_far_is_hopeless_and_what_was_never_filled_neither(self) -> None:
        found = []
        for left_out in (None, 1, 100, 101, 180, 181, 1000):
            effort = effort_after() if left_out is None else effort_after(left_out)
            found.append((effort.is_near(CASE), effort.is_hopeless(CASE)))
        near, between, far = (True, False), (False, False), (False, True)
        self.assertEqual(found, [between, near, near, between, between, far, far])

    def test_the_best_filling_counts(self) -> None:
        effort = Effort(left=0, stretch=GOODS)
        for left_out in (300, 140, 280):
            effort.filled(CASE, left_out)
        self.assertEqual(effort.left_out, {CASE: 140})
