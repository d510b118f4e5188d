"""The search over relations: what it learns may never exclude a packing there is, and its noes are checked by counting."""

import random
import unittest
from itertools import permutations, product

import numpy as np
import numpy.typing as npt

from core.packing.canonical import canonical_units
from core.packing.kernel.desk import (
    HIGH,
    KEYS,
    LEVEL,
    MOST_UNITS,
    OFF_FLOOR,
    ON_FLOOR,
    PAIR,
    PART,
    REST,
    SET_BEGIN,
    SETS,
    TOUCHES,
    WAYS,
)
from core.packing.kernel.problem import Grid, Problem, Row, problem_of
from core.packing.kernel.relations import FOUND, NONE, Relations
from core.packing.model import Box, Packing, PackRules, PackUnit, orientations
from core.packing.search import quick
from core.packing.verify import faults_of
from core.recipes.model import Cushion
from tests.core.samples import box, unit

SUPPORTED, ANYHOW = PackRules(gap_um=0, support_percent=75), PackRules(gap_um=0, support_percent=0)


def _searched(
    inside: Box, units: tuple[PackUnit, ...], rules: PackRules, nodes: int
) -> tuple[int, Relations, Grid, Grid]:
    problem = problem_of(inside, units, rules)
    at, size = np.zeros((len(problem.kind), 3), dtype=np.int64), np.zeros((len(problem.kind), 3), dtype=np.int64)
    search = Relations(problem)
    answer, _ = search.search(nodes, at, size)
    return answer, search, at, size


def _goods(chance: random.Random, count: int) -> tuple[PackUnit, ...]:
    """Return different goods with cushions, loads and ways to stand of their own."""
    return canonical_units(
        tuple(
            unit(
                f"u{number}",
                size_mm=(chance.randrange(40, 120), chance.randrange(40, 120), chance.randrange(40, 120)),
                up_axes=chance.choice(((2,), (1, 2), (0, 1, 2))),
                load_on_top_mg=chance.choice((None, None, 0, 800_000)),
                weight_mg=chance.randrange(100, 600) * 1000,
                clearance=Cushion(
                    bottom_um=chance.choice((0, 10_000, 20_000)), side_um=chance.choice((0, 10_000)), top_um=0
                ),
            )
            for number in range(count)
        )
    )


def _close(packing: Packing, units: tuple[PackUnit, ...]) -> Box:
    """Return the smallest container the packing stands in as it is."""
    by = {u.code: u for u in units}
    inner = [0, 0, 0]
    for placed in packing.placements:
        keep = by[placed.unit].clearance
        for axis, rest in enumerate((keep.side_um, keep.side_um, keep.top_um)):
            inner[axis] = max(inner[axis], placed.at_um[axis] + placed.size_um[axis] + rest)
    return Box(code="close", inner_um=(inner[0], inner[1], inner[2]), max_load_mg=10**9)


def _values(problem: Problem, packing: Packing, units: tuple[PackUnit, ...]) -> Row:
    """Return what the search would know if it had come to this packing, mirrored as it sees it; starts twice."""
    by = {u.code: k for k, u in enumerate(units)}
    placed = sorted(packing.placements, key=lambda one: by[one.unit])
    n, gap = len(placed), problem.gap
    at = np.array([one.at_um for one in placed], dtype=np.int64)
    size = np.array([one.size_um for one in placed], dtype=np.int64)
    for axis in range(2):
        if 2 * at[0, axis] + size[0, axis] > problem.inner[axis]:
            at[:, axis] = problem.inner[axis] - at[:, axis] - size[:, axis]
    values = np.zeros(KEYS, dtype=np.int64)
    for i in range(n):
        values[6 * i : 6 * i + HIGH] = at[i]
        values[6 * i + HIGH : 6 * i + 2 * HIGH] = at[i]
        values[WAYS + i] = 1 << orientations(units[i]).index(tuple(size[i].tolist()))
        values[LEVEL + i] = ON_FLOOR if at[i, 2] <= problem.floor else OFF_FLOOR
        for j in range(n):
            values[REST + MOST_UNITS * i + j] = TOUCHES if at[i, 2] + size[i, 2] + gap == at[j, 2] else 3 - TOUCHES
            for axis in range(3):
                if i < j and at[i, axis] + size[i, axis] + gap <= at[j, axis]:
                    values[PAIR + MOST_UNITS * i + j] = 1 << axis
                    break
                if i < j and at[j, axis] + size[j, axis] + gap <= at[i, axis]:
                    values[PAIR + MOST_UNITS * i + j] = 8 << axis
                    break
    return values


def _all_true(desk: Row, which: int, values: Row) -> bool:
    """Return whether every part of a learned set is true of the packing."""
    for part in range(int(desk[SET_BEGIN + which]), int(desk[SET_BEGIN + which + 1])):
        key, says, fixes = (int(v) for v in desk[PART + 3 * part : PART + 3 * part + 3])
        if key < WAYS:
            true = values[key] >= says if key % 6 < HIGH else values[key] <= says
        else:
            true = values[key] == says if fixes else values[key] != says
        if not true:
            return False
    return True


class Learned(unittest.TestCase):
    def test_no_set_excludes_a_packing_that_is_known(self) -> None:
        chance = random.Random("what is learned")
        sets = 0
        for case in range(40):
            units = _goods(chance, chance.randrange(7, 12))
            tried = (quick(box(10 * n, 8 * n, 7 * n), units, SUPPORTED) for n in range(22, 60))
            found = next(packing for packing in tried if packing is not None)
            close = _close(found, units)
            self.assertFalse(faults_of(found, close, units, SUPPORTED))
            problem = problem_of(close, units, SUPPORTED)
            answer, search, _, _ = _searched(close, units, SUPPORTED, 1_500)
            self.assertNotEqual(answer, NONE, "a packing is known")
            values = _values(problem, found, units)
            for which in range(int(search.desk[SETS])):
                sets += 1
                self.assertFalse(_all_true(search.desk, which, values), f"set {which} of case {case}")
        self.assertGreater(sets, 1_000)

    def test_searching_on_takes_up_what_was_learned(self) -> None:
        chance = random.Random("searching on")
        units = _goods(chance, 8)
        found = quick(box(420, 330, 300), units, SUPPORTED)
        assert found is not None
        problem = problem_of(_close(found, units), units, SUPPORTED)
        at, size = np.zeros((8, 3), dtype=np.int64), np.zeros((8, 3), dtype=np.int64)
        search = Relations(problem)
        answer, used, before = -1, 0, -1
        for _ in range(400):
            answer, more = search.search(100, at, size)
            used += more
            self.assertGreaterEqual(int(search.desk[SETS]), before)
            before = int(search.desk[SETS])
            if answer >= 0:
                break
        self.assertEqual(answer, FOUND)
        at_once, _, _, _ = _searched(_close(found, units), units, SUPPORTED, used + 1_000)
        self.assertEqual(at_once, FOUND)


class Counted(unittest.TestCase):
    def test_a_no_is_a_no_when_every_place_is_tried(self) -> None:
        chance = random.Random("every place")
        answers = {FOUND: 0, NONE: 0}
        for _ in range(60):
            sizes = [(chance.randrange(1, 4), chance.randrange(1, 4), chance.randrange(1, 4)) for _ in range(5)]
            inner = (chance.randrange(3, 5), chance.randrange(3, 5), chance.randrange(3, 5))
            units = canonical_units(
                tuple(unit(f"u{k}", size_mm=size, up_axes=(0, 1, 2)) for k, size in enumerate(sizes))
            )
            answer, _, _, _ = _searched(box(*inner), units, ANYHOW, 20_000)
            self.assertIn(answer, answers)
            answers[answer] += 1
            self.assertEqual(answer == FOUND, _fits(sizes, inner, np.zeros(inner, dtype=np.bool_)), (sizes, inner))
        self.assertGreater(min(answers.values()), 5)


def _fits(sizes: list[tuple[int, int, int]], inner: tuple[int, int, int], taken: npt.NDArray[np.bool_]) -> bool:
    """Return whether the pieces fit, trying every whole place and way of each in turn."""
    if not sizes:
        return True
    for way in set(permutations(sizes[0])):
        for at in product(*(range(inner[a] - way[a] + 1) for a in range(3))):
            here = tuple(slice(at[a], at[a] + way[a]) for a in range(3))
            if not taken[here].any():
                taken[here] = True
                if _fits(sizes[1:], inner, taken):
                    return True
                taken[here] = False
    return False
