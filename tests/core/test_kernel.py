"""The compiled loops against plain counting: what units carry, which spaces are left, what floors allow."""

import random
import unittest
from itertools import product

import numpy as np
import numpy.typing as npt
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.packing.families import orders
from core.packing.canonical import canonical_units
from core.packing.kernel.bounds import function_value, function_widths, ruled_out_by_volumes
from core.packing.kernel.burdens import burdens_for, set_down
from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.desk import LENGTH, LEVEL, OFF_FLOOR, ON_FLOOR, lay_out
from core.packing.kernel.ground import ground_of, overfull
from core.packing.kernel.problem import Grid, Problem, Row, problem_of
from core.packing.kernel.spaces import MOST_SPACES, carve
from core.packing.model import PackRules
from core.packing.rows import sorted_orders
from core.packing.search import quick
from tests.core.samples import box, unit

ANY = (0, 1, 2)


def filled(name: str, number: int) -> list[tuple[Problem, Grid, Grid]]:
    """Return shop orders packed into the first containers that take them: the problem, places and sizes by row."""
    found = []
    for order in orders(name, number):
        units = canonical_units(order.units)
        for one in order.offered[::11]:
            packing = quick(one.box, units, order.rules)
            if packing is None:
                continue
            problem = problem_of(one.box, units, order.rules)
            placed = sorted(packing.placements, key=lambda p: p.unit)
            found.append((problem, np.array([p.at_um for p in placed]), np.array([p.size_um for p in placed])))
    return found


def carried(p: Problem, at: Grid, size: Grid) -> list[float]:
    """Return the load on every unit, handed down from the top, by plain counting."""
    load = [0.0] * len(at)
    for i in sorted(range(len(at)), key=lambda k: -at[k, 2]):
        if at[i, 2] <= p.floor:
            continue
        areas = {}
        for k in range(len(at)):
            if at[k, 2] + size[k, 2] + p.gap == at[i, 2]:
                wide, deep = (
                    min(at[i, a] + size[i, a], at[k, a] + size[k, a]) - max(at[i, a], at[k, a]) for a in (0, 1)
                )
                if wide > 0 and deep > 0:
                    areas[k] = int(wide) * int(deep)
        for k, area in areas.items():
            load[k] += (int(p.weight[i]) + load[i]) * area / sum(areas.values())
    return load


class Burdens(unittest.TestCase):
    def test_taken_in_one_by_one_in_any_order_loads_are_those_handed_down_at_once(self) -> None:
        chance, stacked = random.Random(4), 0
        for problem, at, size in filled("d", 60):
            count = len(at)
            burdens, done = burdens_for(count), np.zeros(count + 1, dtype=np.int64)
            for number, row in enumerate(chance.sample(range(count), count)):
                done[number] = row
                set_down(problem, row, done, number + 1, at, size, burdens)
            wanted = carried(problem, at, size)
            stacked += max(wanted) > 0
            np.testing.assert_allclose(burdens.carried, wanted, rtol=1e-9, atol=1e-6)
        self.assertGreater(stacked, 12)


def _standing(problem: Problem, on_floor: npt.NDArray[np.bool_]) -> Row:
    """Return the desk of the relation search when some units are known to stand on the floor."""
    desk = np.zeros(LENGTH, dtype=np.int64)
    lay_out(problem, desk)
    desk[LEVEL : LEVEL + len(on_floor)] = np.where(on_floor, ON_FLOOR, ON_FLOOR | OFF_FLOOR)
    return desk


class Ground(unittest.TestCase):
    def test_what_stands_on_a_floor_is_never_too_much_for_it(self) -> None:
        seen = 0
        for problem, at, _ in filled("d", 60):
            on_floor = at[:, 2] <= problem.floor
            seen += int(on_floor.sum()) > 1
            self.assertFalse(overfull(_standing(problem, on_floor), ground_of(problem)))
        self.assertGreater(seen, 30)

    def test_five_of_which_two_go_along_each_side_are_too_much(self) -> None:
        problem = problem_of(box(310, 310, 100), (unit("u", 5, (105, 110, 60)),), PackRules())
        for number, full in ((4, False), (5, True)):
            self.assertEqual(overfull(_standing(problem, np.arange(5) < number), ground_of(problem)), full)


class Functions(unittest.TestCase):
    def values(self, problem: Problem, axis: int, whole: int) -> list[list[list[float]]]:
        """Return every function's value for each unit and way that fits, one by one."""
        n = len(problem.kind)
        sizes = [[int(problem.sizes[i, w, axis]) + problem.gap for w in range(problem.ways[i])] for i in range(n)]
        given = np.unique(np.array([size for unit_sizes in sizes for size in unit_sizes], dtype=np.int64))
        widths = function_widths(given, whole)
        return [
            [[function_value(which, size, whole, widths, len(widths)) for size in one] for one in sizes]
            for which in range(5 + 2 * len(widths))
        ]

    def exceeded(self, problem: Problem) -> bool:
        """Return whether any three functions add to more than 1, counted plainly."""
        least = int(problem.side.min())
        low = int(problem.bottom.min()) + int(problem.top.min())
        wholes = [int(v) - cut + problem.gap for v, cut in zip(problem.inner, (2 * least, 2 * least, low), strict=True)]
        tables = [self.values(problem, axis, wholes[axis]) for axis in range(3)]
        for one, two, three in product(*tables):
            total = 0.0
            for i in range(len(problem.kind)):
                stands = range(problem.ways[i])
                fit = [w for w in stands if all(problem.sizes[i, w, a] + problem.gap <= wholes[a] for a in range(3))]
                total += min(one[i][w] * two[i][w] * three[i][w] for w in fit)
            if total > 1.0 + 1e-9:
                return True
        return False

    def test_side_by_side_they_say_what_they_say_one_by_one(self) -> None:
        said: list[bool] = []
        for order in orders("a10", 60):
            units = canonical_units(order.units)
            asked = sum(u.size_um[0] * u.size_um[1] * u.size_um[2] for u in units)
            for one in order.offered if len(units) <= 5 and min(said.count(True), said.count(False)) < 3 else ():
                inner = sorted(one.box.inner_um)
                full = asked / (inner[0] * inner[1] * inner[2])
                if 0.6 < full < 0.98 and all(
                    a <= b for u in units for a, b in zip(sorted(u.size_um), inner, strict=True)
                ):
                    problem = problem_of(one.box, units, order.rules)
                    ones = np.ones(len(units), dtype=np.int64)
                    said.append(ruled_out_by_volumes(problem, np.arange(len(units)), ones))
                    self.assertEqual(said[-1], self.exceeded(problem), (order.name, one.box.code))
        self.assertGreater(said.count(True), 2)
        self.assertGreater(said.count(False), 2)


class Orders(unittest.TestCase):
    def test_heavy_ones_come_first_and_what_carries_nothing_last_as_the_rows_of_the_lines(self) -> None:
        units = (
            unit("a", 2, (50, 60, 70), weight_mg=400_000),
            unit("b", 1, (90, 90, 90), weight_mg=900_000, load_on_top_mg=0),
            unit("c", 3, (40, 40, 40), weight_mg=700_000),
        )
        found = sorted_orders(units).tolist()
        self.assertEqual(found[0], [3, 4, 5, 0, 1, 2])
        self.assertEqual(found[1], [0, 1, 3, 4, 5, 2])
        # By size alone, whatever it carries.
        self.assertEqual(found[2], [2, 0, 1, 3, 4, 5])
        self.assertEqual(len(found), 3, "equal orders are there once")
        self.assertTrue(all(sorted(order) == list(range(6)) for order in found))


Corner = tuple[int, int, int]
SPAN = st.tuples(st.integers(0, 3), st.integers(1, 3)).map(lambda s: (s[0], min(4, s[0] + s[1])))
#: A block in a cube of four: its low and its high corner.
BLOCKS = st.tuples(SPAN, SPAN, SPAN).map(lambda s: (tuple(a for a, _ in s), tuple(b for _, b in s)))


class Spaces(unittest.TestCase):
    def test_every_place_a_small_unit_could_have_is_in_a_space_and_no_space_reaches_into_a_block(self) -> None:
        spaces = np.zeros((MOST_SPACES, 6), dtype=np.int64)
        spaces[0, 3:] = 6
        one, hits, work = np.ones(3, dtype=np.int64), np.zeros(MOST_SPACES, dtype=np.int64), np.zeros(1, dtype=np.int64)
        rest, count = one.reshape(1, 3), 1
        blocks = [((0, 0, 0), (3, 2, 4)), ((3, 0, 0), (6, 3, 2)), ((1, 3, 1), (4, 6, 5))]
        taken = np.zeros((6, 6, 6), dtype=bool)
        for low, high in blocks:
            count = carve(spaces, count, np.array(low), np.array(high), one, rest, 1, hits, work)
            taken[tuple(slice(a, b) for a, b in zip(low, high, strict=True))] = True
        covered = np.zeros((6, 6, 6), dtype=bool)
        for x1, y1, z1, x2, y2, z2 in spaces[:count]:
            self.assertFalse(taken[x1:x2, y1:y2, z1:z2].any())
            covered[x1:x2, y1:y2, z1:z2] = True
        self.assertTrue(np.array_equal(covered, ~taken))
        self.assertGreater(work[0], 0)

    @settings(max_examples=30, deadline=None)
    @given(st.lists(BLOCKS, min_size=1, max_size=5))
    def test_they_are_all_the_largest_empty_boxes_and_no_others(self, blocks: list[tuple[Corner, Corner]]) -> None:
        spaces = np.zeros((MOST_SPACES, 6), dtype=np.int64)
        spaces[0, 3:] = 4
        one, hits, work = np.ones(3, dtype=np.int64), np.zeros(MOST_SPACES, dtype=np.int64), np.zeros(1, dtype=np.int64)
        taken, count = np.zeros((4, 4, 4), dtype=bool), 1
        for low, high in blocks:
            here = tuple(slice(a, b) for a, b in zip(low, high, strict=True))
            if taken[here].any():
                continue
            taken[here] = True
            count = carve(spaces, count, np.array(low), np.array(high), one, one.reshape(1, 3), 1, hits, work)
        ends = [(a, b) for a in range(4) for b in range(a + 1, 5)]
        empty = [
            (x, y, z) for x in ends for y in ends for z in ends if not taken[slice(*x), slice(*y), slice(*z)].any()
        ]
        largest = [
            one for one in empty
            if not any(o != one and all(o[k][0] <= one[k][0] and one[k][1] <= o[k][1] for k in range(3)) for o in empty)
        ]  # fmt: skip
        by_hand = sorted([x[0], y[0], z[0], x[1], y[1], z[1]] for x, y, z in largest)
        self.assertEqual(sorted(spaces[:count].tolist()), by_hand)

    def test_a_space_that_nothing_left_fits_in_is_dropped(self) -> None:
        spaces = np.zeros((MOST_SPACES, 6), dtype=np.int64)
        spaces[0, 3:] = 10
        # Beside the block is a slab of 2 x 10 x 10; what is left is 3 x 2 x 9 one way, 2 x 9 x 3 the other.
        for rest, left in (([[3, 2, 9], [9, 3, 2]], 0), ([[2, 9, 3]], 1)):
            trial, sizes = spaces.copy(), np.array(rest)
            least = sizes.min(axis=0)
            hits, work = np.zeros(MOST_SPACES, dtype=np.int64), np.zeros(1, dtype=np.int64)
            low, high = np.zeros(3, dtype=np.int64), np.array([8, 10, 10])
            self.assertEqual(carve(trial, 1, low, high, least, sizes, len(sizes), hits, work), left)


class Chance(unittest.TestCase):
    def test_numbers_are_the_same_everywhere_and_do_not_come_again_soon(self) -> None:
        seed, seen = FIRST_SEED, set()
        for _ in range(2_000):
            seed = shuffled(seed)
            self.assertTrue(0 < seed < 1 << 62)
            seen.add(seed)
        self.assertEqual(len(seen), 2_000)
