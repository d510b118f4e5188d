"""The search over relations: what it learns may never exclude a packing there is, and its rejections are checked by
counting.
"""

import random
import unittest
from dataclasses import replace
from itertools import permutations, product

import numpy as np
import numpy.typing as npt

from core.packing.canonical import canonical_units
from core.packing.kernel.desk import (
    BLAME,
    HABIT,
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
    WATCH,
    WAYS,
)
from core.packing.kernel.facts import take_back
from core.packing.kernel.problem import Grid, Problem, Row, problem_of
from core.packing.kernel.relations import FOUND, NONE, UNKNOWN, Relations, _begin_anew
from core.packing.model import Box, NoPacking, Packing, PackRules, PackUnit, Placement, orientations
from core.packing.rows import unplaced
from core.packing.search import find_packing, quick
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

    def test_what_is_learned_in_many_short_steps_excludes_no_packing_and_looks_at_two_parts_of_each_set(self) -> None:
        chance = random.Random("what is forgotten")
        for case in range(24):
            units = _goods(chance, chance.randrange(10, 14))
            tried = (quick(box(10 * n, 8 * n, 7 * n), units, SUPPORTED) for n in range(22, 60))
            found = next(packing for packing in tried if packing is not None)
            problem = problem_of(_close(found, units), units, SUPPORTED)
            at, size = np.zeros((len(units), 3), dtype=np.int64), np.zeros((len(units), 3), dtype=np.int64)
            search, answer = Relations(problem), -1
            for _ in range(12):
                answer, _ = search.search(150, at, size)
                if answer >= 0:
                    break
            self.assertNotEqual(answer, NONE, "a packing is known")
            values = _values(problem, found, units)
            for which in range(int(search.desk[SETS])):
                self.assertFalse(_all_true(search.desk, which, values), f"set {which} of case {case}")
                begin, end = (int(v) for v in search.desk[SET_BEGIN + which : SET_BEGIN + which + 2])
                seen = {int(search.desk[WATCH + 4 * watch]) for watch in (2 * which, 2 * which + 1)}
                self.assertEqual((len(seen), min(seen) >= begin, max(seen) < end), (2, True, True))

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


class ByHand(unittest.TestCase):
    """Small cases whose answer can be told with pencil and paper."""

    def answer(self, inside: Box, *units: PackUnit, rules: PackRules = SUPPORTED) -> int:
        """Return the answer; what is found must pass the checker."""
        several = canonical_units(units)
        answer, _, at, size = _searched(inside, several, rules, 20_000)
        if answer == FOUND:
            codes = [u.code for u in several for _ in range(u.quantity)]
            placed = tuple(
                Placement(unit=code, at_um=(int(a), int(b), int(c)), size_um=(int(d), int(e), int(f)))
                for code, (a, b, c), (d, e, f) in zip(codes, at, size, strict=True)
            )
            self.assertFalse(faults_of(Packing(box=inside.code, placements=placed), inside, several, rules))
        return answer

    def test_loads_add_up_on_what_carries_a_whole_stack(self) -> None:
        inside = box(100, 100, 130)
        stack = unit("u", 3, (90, 90, 40), weight_mg=400_000, load_on_top_mg=800_000)
        self.assertEqual(self.answer(inside, stack), FOUND)
        # A gram less: layers prove it, relations alone no longer do (docs/packing.md).
        less = find_packing(inside, (replace(stack, load_on_top_mg=799_000),), SUPPORTED)
        self.assertTrue(isinstance(less, NoPacking) and less.proven)

    def test_a_weak_unit_goes_on_top_where_it_can(self) -> None:
        weak = unit("weak", size_mm=(90, 90, 40), weight_mg=100_000, load_on_top_mg=0)
        firm = unit("firm", size_mm=(90, 90, 40), weight_mg=900_000)
        self.assertEqual(self.answer(box(100, 100, 90), weak, firm), FOUND)
        self.assertEqual(self.answer(box(100, 100, 90), replace(weak, quantity=2)), NONE)

    def test_three_quarters_of_a_base_are_enough_and_less_is_not(self) -> None:
        for length_mm, answer in ((75, FOUND), (74.9, NONE)):
            below = unit("below", size_mm=(length_mm, 100, 50))
            above = unit("above", size_mm=(100, 100, 50), load_on_top_mg=0)
            self.assertEqual(self.answer(box(100, 100, 100), below, above), answer, length_mm)

    def test_one_bridges_two_and_neither_alone_would_do(self) -> None:
        for length_mm, answer in ((40, FOUND), (35, NONE)):
            post = unit("post", 2, (length_mm, 100, 50))
            bridge = unit("bridge", size_mm=(100, 100, 40), load_on_top_mg=0)
            self.assertEqual(self.answer(box(100, 100, 90), post, bridge), answer, length_mm)

    def test_tops_come_even_where_one_stands_higher_on_the_cushion(self) -> None:
        # The cushion is 20 deep. The post that needs none stands anywhere up to it: at 10 both tops are at 60.
        for height_mm, answer in ((50, FOUND), (39, NONE), (61, NONE)):
            free = unit("free", size_mm=(48, 100, height_mm))
            cushioned = unit("kept", size_mm=(48, 100, 40), clearance=Cushion(bottom_um=20_000, side_um=0, top_um=0))
            bridge = unit("bridge", size_mm=(100, 100, 30), load_on_top_mg=0)
            self.assertEqual(self.answer(box(100, 100, 92), free, cushioned, bridge), answer, height_mm)

    def test_a_gap_is_kept_beside_and_above(self) -> None:
        gap = PackRules(gap_um=5_000, support_percent=75)
        four = unit("u", 4, (50, 50, 50))
        self.assertEqual(self.answer(box(105, 105, 50), four, rules=gap), FOUND)
        self.assertEqual(self.answer(box(104.9, 105, 50), four, rules=gap), NONE)
        self.assertEqual(self.answer(box(50, 50, 215), four, rules=gap), FOUND)
        self.assertEqual(self.answer(box(50, 50, 214.9), four, rules=gap), NONE)

    def test_pinwheels_are_found(self) -> None:
        blades = unit("blade", 4, (60, 40, 50))
        self.assertEqual(self.answer(box(100, 100, 50), blades), FOUND)
        self.assertEqual(self.answer(box(99.9, 100, 50), blades), NONE)
        middle = unit("middle", size_mm=(20, 20, 50))
        self.assertEqual(self.answer(box(100, 100, 50), blades, middle), FOUND)
        self.assertEqual(
            self.answer(box(100, 100, 50), blades, replace(middle, size_um=(20_100, 20_000, 50_000))), NONE
        )

    def test_two_of_a_kilogram_go_on_what_carries_two(self) -> None:
        jar = unit("jar", size_mm=(90, 90, 30), weight_mg=1_000_000, load_on_top_mg=1_000_000)
        tin = unit("tin", size_mm=(80, 80, 30), weight_mg=1_000_000, load_on_top_mg=0)
        for limit_mg, answer in ((2_000_000, FOUND), (1_999_999, NONE)):
            below = unit("below", size_mm=(100, 100, 30), weight_mg=500_000, load_on_top_mg=limit_mg)
            self.assertIn(self.answer(box(100, 100, 90), below, jar, tin), (answer, UNKNOWN), limit_mg)
            quickly = quick(box(100, 100, 90), canonical_units((below, jar, tin)), SUPPORTED)
            self.assertEqual(quickly is not None, answer == FOUND, limit_mg)

    def test_a_load_halved_between_two_may_be_just_what_they_carry(self) -> None:
        board = unit("board", size_mm=(100, 100, 30), weight_mg=2_000_000, load_on_top_mg=0)
        for limit_mg, answer in ((1_000_000, FOUND), (999_999, NONE)):
            posts = unit("post", 2, (50, 100, 30), load_on_top_mg=limit_mg)
            self.assertEqual(self.answer(box(100, 100, 60), posts, board), answer, limit_mg)


class Runs(unittest.TestCase):
    """A run that ends without a packing is followed by one that begins elsewhere, with all that was learned."""

    def test_habits_go_two_units_stand_out_and_what_was_learned_stays(self) -> None:
        chance = random.Random("runs")
        units = _goods(chance, 12)
        tried = (quick(box(10 * n, 8 * n, 7 * n), units, SUPPORTED) for n in range(22, 60))
        found = next(packing for packing in tried if packing is not None)
        problem = problem_of(_close(found, units), units, SUPPORTED)
        n = len(problem.kind)
        search = Relations(problem)
        search.search(40, *unplaced(problem))
        desk = search.desk
        # As it is between two runs: nothing is chosen.
        take_back(desk, 0)
        desk[HABIT : HABIT + KEYS], desk[BLAME : BLAME + KEYS], sets = 1, 0, int(desk[SETS])
        seen = set()
        for _ in range(12):
            desk[BLAME : BLAME + KEYS] = 0
            _begin_anew(desk)
            self.assertEqual(int(desk[HABIT : HABIT + KEYS].max()), 0)
            out = [i for i in range(n) if desk[BLAME + WAYS + i] > 0]
            seen.add(tuple(out))
            self.assertIn(len(out), (1, 2))
            for i in range(n):
                for j in range(i + 1, n):
                    weight = int(desk[BLAME + PAIR + MOST_UNITS * i + j])
                    self.assertEqual(weight > 0, i in out or j in out, (out, i, j))
        self.assertGreater(len(seen), 6)
        self.assertGreaterEqual(int(desk[SETS]), sets)
        self.assertGreater(sets, 0)
