"""Fitting what a filling leaves out into it: what is kept keeps its relations, and a packing near enough is found."""

import random
import unittest
from itertools import product

import numpy as np

from bench.packing.families import orders
from core.packing.canonical import canonical_units
from core.packing.courses import SearchBudget
from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.improving import improve
from core.packing.kernel.problem import Grid, Problem, Row, problem_of
from core.packing.kernel.relations import FOUND, NONE, Relations
from core.packing.model import Packing, PackRules
from core.packing.refitting import _kept, search_refitted
from core.packing.rows import packing_of, rows_of, sorted_orders, unplaced
from core.packing.search import quick
from core.packing.verify import faults_of
from tests.core.benched import benched
from tests.core.samples import box, unit
from tests.core.test_shifting import relations_of

RULES = PackRules(gap_um=0, support_percent=75)


def near(p: Problem, at: Grid, size: Grid, kept: Row, nodes: int) -> tuple[int, Grid, Grid]:
    new_at, new_size = unplaced(p)
    answer, _ = Relations(p, (at, size, kept)).search(nodes, new_at, new_size)
    return answer, new_at, new_size


class NearAPacking(unittest.TestCase):
    """From a packing that is known any units may be set free: there is one near it, the same."""

    def packings(self) -> list[tuple[Problem, Packing]]:
        found = []
        for family, count in (("d", 30), ("a10", 12), ("b0", 8)):
            for order in orders(family, count):
                units = canonical_units(order.units)
                for one in order.offered[::7]:
                    packing = quick(one.box, units, order.rules)
                    if packing is not None and 4 <= len(packing.placements) <= 16:
                        found.append((problem_of(one.box, units, order.rules), packing))
        return found

    def test_it_is_never_said_that_there_is_none(self) -> None:
        chance, answers = random.Random(7), []
        for p, packing in self.packings():
            at, size = rows_of(packing)
            n = len(at)
            for free in (0, 2, 5):
                kept = np.ones(n, dtype=np.int64)
                kept[chance.sample(range(n), min(free, n))] = 0
                answer, _, _ = near(p, at, size, kept, 400)
                answers.append(answer)
                self.assertNotEqual(answer, NONE, (packing.box, free))
        self.assertGreater(answers.count(FOUND), len(answers) * 2 // 3)
        self.assertGreater(len(answers), 100)

    def test_what_is_kept_stands_as_it_stood_and_on_the_same_sides(self) -> None:
        chance, moved = random.Random(3), 0
        for p, packing in self.packings()[::3]:
            at, size = rows_of(packing)
            n = len(at)
            kept = np.ones(n, dtype=np.int64)
            kept[chance.sample(range(n), n // 2)] = 0
            answer, new_at, new_size = near(p, at, size, kept, 400)
            if answer != FOUND:
                continue
            rows = np.flatnonzero(kept)
            self.assertEqual(new_size[rows].tolist(), size[rows].tolist())
            before = relations_of(p, at, size)
            for i, k in product(rows, rows):
                axis = before[i, k]
                if axis >= 0:
                    self.assertLessEqual(new_at[i, axis] + new_size[i, axis] + p.gap, new_at[k, axis])
            moved += new_at.tolist() != at.tolist()
        self.assertGreater(moved, 5)


class LeftOut(unittest.TestCase):
    #: Two rows of three go in side by side; the second row begins where a filling may leave too little for the third.
    UNITS = canonical_units((unit("a", 3, (100, 50, 40)), unit("b", 2, (150, 50, 40)), unit("c", 1, (50, 50, 40))))

    def test_the_best_filling_is_told_and_what_it_leaves_out_has_no_size(self) -> None:
        low = box(300, 100, 60)
        units = (*self.UNITS, unit("9", 1, (60, 60, 45)))
        p = problem_of(low, units, RULES)
        at, size = unplaced(p)
        left, _ = improve(p, sorted_orders(units), 1, 50, 10**9, 0, at, size)
        self.assertGreater(left, 0)
        out = np.flatnonzero(size[:, 0] == 0)
        self.assertGreater(len(out), 0)
        self.assertTrue((size[out] == 0).all())
        volume = size[:, 0] * size[:, 1] * size[:, 2]
        whole = int((p.sizes[:, 0, 0] * p.sizes[:, 0, 1] * p.sizes[:, 0, 2]).sum())
        self.assertAlmostEqual(left, 1000 - 1000 * int(volume.sum()) / whole, delta=2)
        placed = np.flatnonzero(size[:, 0])
        for i in placed:
            for k in placed[placed < i]:
                self.assertTrue(((at[i] + size[i] <= at[k]) | (at[k] + size[k] <= at[i])).any(), (i, k))

    def test_one_left_out_is_fitted_in_by_shifting_the_others(self) -> None:
        # In a row of three the middle one stands 20 mm too far to the right: what is left on both sides is too narrow for a fourth.
        four = tuple(unit(f"{n}", 1, (50, 50, 40 + n)) for n in range(4))
        p = problem_of(box(200, 50, 60), canonical_units(four), RULES)
        at = np.array([[0, 0, 0], [70, 0, 0], [150, 0, 0], [0, 0, 0]], dtype=np.int64) * 1000
        size = p.sizes[:, 0].copy()
        size[3] = 0
        answer, new_at, _ = near(p, at, size, np.array([1, 1, 1, 0], dtype=np.int64), 200)
        self.assertEqual(answer, FOUND)
        self.assertEqual(sorted(new_at[:, 0].tolist()), [0, 50_000, 100_000, 150_000])
        self.assertTrue(new_at[0, 0] < new_at[1, 0] < new_at[2, 0])


class WhatIsFree(unittest.TestCase):
    """Nine units in a row, the last left out: what is free with it lies together."""

    def test_what_is_left_out_is_free_and_so_are_neighbours_of_one(self) -> None:
        at = np.array([[100 * place, 0, 0] for place in range(8)] + [[0, 0, 0]], dtype=np.int64)
        size = np.array([[100, 100, 100]] * 8 + [[0, 0, 0]], dtype=np.int64)
        seen = set()
        seed = FIRST_SEED
        for _ in range(60):
            seed = shuffled(seed)
            free = np.flatnonzero(_kept(at, size, seed) == 0).tolist()
            self.assertEqual(free[-1], 8)
            together = free[:-1]
            self.assertEqual(together, list(range(together[0], together[0] + len(together))))
            seen.add((len(together), together[0]))
        self.assertEqual({count for count, _ in seen}, {2, 3, 4, 5})
        self.assertGreater(len({first for _, first in seen}), 4)

    def test_where_nothing_was_filled_in_nothing_is_kept(self) -> None:
        nothing = np.zeros((5, 3), dtype=np.int64)
        self.assertEqual(_kept(nothing, nothing, FIRST_SEED).tolist(), [0] * 5)


class Search(unittest.TestCase):
    def test_what_quick_fillings_do_not_find_is_found_and_without_fault(self) -> None:
        packed = 0
        for number, code in ((53, "C-16"), (69, "C-19"), (415, "C-19"), (523, "C-24"), (592, "C-04"), (606, "C-26")):
            inside, units, rules = benched("d", number, code)
            p = problem_of(inside, units, rules)
            at, size = unplaced(p)
            if search_refitted(p, sorted_orders(units), 250_000, 0, SearchBudget(left=250_000), at, size):
                packed += 1
                packing = packing_of(inside, units, p, at, size)
                self.assertEqual(faults_of(packing, inside, units, rules), ())
        self.assertGreaterEqual(packed, 3)

    def test_equal_input_gives_an_equal_answer_and_costs_the_same(self) -> None:
        inside, units, rules = benched("d", 68, "C-05")
        p = problem_of(inside, units, rules)
        seen = []
        for _ in range(2):
            at, size = unplaced(p)
            effort = SearchBudget(left=50_000)
            seen.append(
                (search_refitted(p, sorted_orders(units), 40_000, 2, effort, at, size), effort.left, at.tolist())
            )
        self.assertEqual(seen[0], seen[1])

    def test_it_ends_when_its_work_is_done_or_there_is_none_to_do(self) -> None:
        inside, units, rules = benched("d", 68, "C-05")
        p = problem_of(inside, units, rules)
        at, size = unplaced(p)
        for left, worth, least in ((0, 10_000, 0), (100_000, 20_000, 60_000)):
            effort = SearchBudget(left=left)
            self.assertFalse(search_refitted(p, sorted_orders(units), worth, 0, effort, at, size))
            self.assertGreaterEqual(effort.left, least)


if __name__ == "__main__":
    unittest.main()
