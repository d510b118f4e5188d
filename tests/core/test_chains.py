"""What follows from units one after the other along an axis, and starts that push each other on in a circle."""

import unittest

from core.packing.kernel.chains import because_of_circle, chain
from core.packing.kernel.desk import LEVEL, MOST_UNITS, ON_FLOOR, PAIR, REASONS
from core.packing.kernel.facts import because_settled, choose, keep_distance, raise_start
from core.packing.kernel.problem import Row
from tests.core.test_facts import desk_of, last_reasons, reasons_of

MM = 1000
SIZES = ((30, 20, 10), (28, 18, 12), (26, 16, 14), (24, 15, 13))


def key(i: int, j: int) -> int:
    return PAIR + MOST_UNITS * min(i, j) + max(i, j)


def put_before(desk: Row, i: int, j: int, axis: int) -> None:
    """Choose that i comes before j along an axis."""
    choose(desk, key(i, j), (1 if i < j else 8) << axis)


class Chain(unittest.TestCase):
    def test_three_in_a_row_along_each_axis(self) -> None:
        # Bits: the first before the second along length, width, upwards; then the second before the first.
        for axis, left in ((0, 0b000001), (1, 0b001011), (2, 0b011111)):
            desk = desk_of(*SIZES[:3])
            put_before(desk, 0, 1, axis)
            put_before(desk, 1, 2, axis)
            self.assertTrue(chain(desk, key(1, 2)))
            self.assertEqual(int(desk[key(0, 2)]), left)
            # That may then be settled by what is left; what struck it out are the two, and nothing else.
            struck = {about for about, _ in last_reasons(desk, key(0, 2))}
            self.assertLessEqual(struck, {key(0, 1), key(1, 2), key(0, 2)})

    def test_the_third_may_come_first_and_numbers_run_either_way(self) -> None:
        desk = desk_of(*SIZES[:3])
        put_before(desk, 2, 1, 1)
        put_before(desk, 1, 0, 1)
        self.assertTrue(chain(desk, key(1, 2)))
        # 2 before 0 along the width, or apart along the length.
        self.assertEqual(int(desk[key(0, 2)]), 0b011001)

    def test_along_different_axes_nothing_follows(self) -> None:
        desk = desk_of(*SIZES[:3])
        put_before(desk, 0, 1, 0)
        put_before(desk, 1, 2, 1)
        self.assertTrue(chain(desk, key(0, 1)) and chain(desk, key(1, 2)))
        self.assertEqual(int(desk[key(0, 2)]), 63)

    def test_what_is_open_tells_nothing(self) -> None:
        desk = desk_of(*SIZES[:3])
        put_before(desk, 0, 1, 0)
        self.assertTrue(chain(desk, key(1, 2)))
        self.assertEqual(int(desk[key(0, 2)]), 63)

    def test_a_circle_of_three_is_a_contradiction(self) -> None:
        desk = desk_of(*SIZES[:3])
        for one, other in ((0, 1), (1, 2), (2, 0)):
            put_before(desk, one, other, 2)
        self.assertFalse(chain(desk, key(0, 2)))


class Circle(unittest.TestCase):
    def setUp(self) -> None:
        self.desk = desk_of(*SIZES)
        choose(self.desk, LEVEL + 3, ON_FLOOR)
        for one, other in ((0, 1), (1, 2), (2, 0)):
            put_before(self.desk, one, other, 0)

    def _push(self, one: int, other: int, distance: int) -> None:
        begin = int(self.desk[REASONS])
        because_settled(self.desk, key(one, other))
        self.assertTrue(keep_distance(self.desk, one, other, 0, distance, begin))

    def _reasons(self) -> set[int]:
        begin = int(self.desk[REASONS])
        self.assertTrue(because_of_circle(self.desk))
        return {about for about, _ in reasons_of(self.desk, begin, int(self.desk[REASONS]))}

    def test_only_what_pushes_round_is_the_reason(self) -> None:
        for one, other in ((0, 1), (1, 2), (2, 0), (0, 1), (1, 2)):
            self._push(one, other, 20 * MM)
        # Not that the fourth is on the floor, which was chosen as well.
        self.assertEqual(self._reasons(), {key(0, 1), key(1, 2), key(0, 2)})

    def test_from_the_far_end_as_well(self) -> None:
        for one, other in ((0, 1), (2, 0), (1, 2), (0, 1), (2, 0)):
            self._push(one, other, 20 * MM)
        self.assertEqual(self._reasons(), {key(0, 1), key(1, 2), key(0, 2)})

    def test_a_row_is_no_circle(self) -> None:
        self._push(0, 1, 20 * MM)
        self._push(1, 2, 20 * MM)
        before = int(self.desk[REASONS])
        self.assertFalse(because_of_circle(self.desk))
        self.assertEqual(int(self.desk[REASONS]), before)

    def test_a_start_raised_for_another_reason_breaks_the_circle(self) -> None:
        self._push(0, 1, 20 * MM)
        begin = int(self.desk[REASONS])
        because_settled(self.desk, LEVEL + 3)
        self.assertTrue(raise_start(self.desk, 2, 0, 60 * MM, begin))
        self._push(2, 0, 20 * MM)
        self._push(0, 1, 20 * MM)
        self.assertFalse(because_of_circle(self.desk))
