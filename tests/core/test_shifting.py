"""Shifting and settling: what is moved stays apart and within its walls."""

import random
import unittest

import numpy as np

from bench.packing.families import orders
from core.packing.canonical import canonical_units
from core.packing.kernel.problem import Grid, Problem, problem_of
from core.packing.kernel.resting import is_too_heavy, loads_hold
from core.packing.kernel.shifting import held_area, nothing_before, shift
from core.packing.model import Packing, PackRules
from core.packing.search import quick
from tests.core.samples import box, unit

RULES = PackRules(gap_um=0, support_percent=75)
MM = 1000


def rows_of(packing: Packing) -> tuple[Grid, Grid]:
    """Return where the units of a packing are and their sizes, in the order of their codes: as a problem has its
    rows.
    """
    placements = sorted(packing.placements, key=lambda p: p.unit)
    return (
        np.array([p.at_um for p in placements], dtype=np.int64),
        np.array([p.size_um for p in placements], dtype=np.int64),
    )


def found(count: int) -> list[tuple[Problem, Grid, Grid]]:
    """Return packings of mixed goods of at most fifteen units, with what they are of."""
    packings = []
    for order in orders("d", count):
        units = canonical_units(order.units)
        for one in order.offered[::9]:
            packing = quick(one.box, units, order.rules)
            if packing is not None:
                packings.append((problem_of(one.box, units, order.rules), *rows_of(packing)))
    return packings


def relations_of(p: Problem, at: Grid, size: Grid) -> Grid:
    """Return along which axis each unit comes before each other one, the first axis that keeps them apart."""
    n = len(at)
    before = nothing_before(n)
    for i in range(n):
        for k in range(i + 1, n):
            for axis in range(3):
                if at[i, axis] + size[i, axis] + p.gap <= at[k, axis]:
                    before[i, k] = axis
                    break
                if at[k, axis] + size[k, axis] + p.gap <= at[i, axis]:
                    before[k, i] = axis
                    break
    return before


def short_of_support(p: Problem, at: Grid, size: Grid) -> list[int]:
    """Return the units off the floor that lie on too little, by plain counting."""
    lacking = []
    for i in range(len(at)):
        if at[i, 2] <= p.floor:
            continue
        held = 0
        for k in range(len(at)):
            if at[k, 2] + size[k, 2] + p.gap == at[i, 2]:
                ends = [min(at[i, a] + size[i, a], at[k, a] + size[k, a]) - max(at[i, a], at[k, a]) for a in (0, 1)]
                held += max(0, int(ends[0])) * max(0, int(ends[1]))
        if held * 100 < p.support * int(size[i, 0]) * int(size[i, 1]):
            lacking.append(i)
    return lacking


class Shifted(unittest.TestCase):
    def test_what_hangs_over_is_put_right_and_nothing_meets(self) -> None:
        chance, mended, tried = random.Random("shift"), 0, 0
        for p, at, size in found(80):
            before = relations_of(p, at, size)
            start = at.copy()
            for i in range(len(at)):
                # Off its place as far as its neighbours let it.
                axis = chance.randrange(2)
                ends = [int(at[k, axis]) - p.gap for k in range(len(at)) if before[i, k] == axis]
                at[i, axis] = min([int(p.inner[axis] - p.side[i]), *ends]) - size[i, axis]
            if not short_of_support(p, at, size):
                continue
            tried += 1
            held = shift(p, before, at, size, np.zeros(1, dtype=np.int64))
            mended += held
            self.assertEqual(held, not short_of_support(p, at, size))
            np.testing.assert_array_equal(at[:, 2], start[:, 2])
            for i in range(len(at)):
                for axis in range(2):
                    self.assertGreaterEqual(at[i, axis], p.side[i])
                    self.assertLessEqual(at[i, axis] + size[i, axis] + p.side[i], p.inner[axis])
                for k in range(len(at)):
                    if before[i, k] >= 0:
                        axis = before[i, k]
                        self.assertLessEqual(at[i, axis] + size[i, axis] + p.gap, at[k, axis])
        self.assertGreater(tried, 5)
        self.assertGreater(mended, 0)

    def test_one_unit_is_drawn_just_far_enough_over_what_holds_it(self) -> None:
        below = unit("below", size_mm=(100, 100, 50))
        above = unit("above", size_mm=(100, 100, 50))
        p = problem_of(box(300, 100, 100), canonical_units((below, above)), RULES)
        at = np.array([[0, 0, 0], [60 * MM, 0, 50 * MM]], dtype=np.int64)
        size = np.array([[100 * MM, 100 * MM, 50 * MM]] * 2, dtype=np.int64)
        before = nothing_before(2)
        before[0, 1] = 2
        self.assertEqual(held_area(p, 1, at, size), 40 * MM * 100 * MM)
        self.assertTrue(shift(p, before, at, size, np.zeros(1, dtype=np.int64)))
        self.assertGreaterEqual(held_area(p, 1, at, size), 75 * MM * 100 * MM)

    def test_with_no_room_to_move_it_says_so(self) -> None:
        units = (unit("below", size_mm=(50, 100, 50)), unit("above", size_mm=(100, 100, 50)))
        p = problem_of(box(100, 100, 100), units, RULES)
        at = np.array([[0, 0, 0], [0, 0, 50 * MM]], dtype=np.int64)
        size = np.array([[50 * MM, 100 * MM, 50 * MM], [100 * MM, 100 * MM, 50 * MM]], dtype=np.int64)
        before = nothing_before(2)
        before[0, 1] = 2
        self.assertFalse(shift(p, before, at, size, np.zeros(1, dtype=np.int64)))


class Loads(unittest.TestCase):
    def test_just_the_limit_is_carried_and_a_milligram_more_is_not(self) -> None:
        for load, limit, heavy in (
            (1_000_000.0, 1_000_000, False), (1_000_001.0, 1_000_000, True), (0.0, 0, True), (10.0**9, -1, False),
            (999_999.99, 1_000_000, True), (999_998.5, 1_000_000, False),
        ):  # fmt: skip
            self.assertEqual(is_too_heavy(load, limit), heavy, (load, limit))

    def test_what_is_let_through_is_within_its_limits_in_fractions(self) -> None:
        for p, at, size in found(40):
            done = np.arange(len(at))
            self.assertTrue(loads_hold(p, done, len(at), at, size))
