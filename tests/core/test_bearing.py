"""What two tops in a row hold together, hand-worked and searched."""

import unittest

import numpy as np

from core.packing.canonical import canonical_units
from core.packing.kernel.bearing import rows_reach
from core.packing.kernel.desk import BASE, LENGTH, LEVEL, OFF_FLOOR, PAIR, SUPPORT, TOP_AREA, lay_out
from core.packing.kernel.holders import area_um2
from core.packing.kernel.problem import Row, problem_of
from core.packing.kernel.relations import FOUND, NONE, Relations
from core.packing.model import PackRules
from core.packing.rows import unplaced
from tests.core.benched import benched
from tests.core.samples import box, unit

RULES = PackRules(gap_um=3_000, support_percent=75)
BEFORE_ALONG_THE_WIDTH, ALL = 2, 63


def board_on_two(deep_mm: int, relation: int) -> tuple[Row, int, int]:
    """Return a board 134 mm long over two blocks, the area it needs, and what both tops give when each counts alone."""
    units = (unit("a", 1, (102, 97, 94)), unit("b", 1, (97, 102, 94)), unit("c", 1, (134, deep_mm, 40)))
    desk = np.zeros(LENGTH, dtype=np.int64)
    # Turned about the vertical a block could lie otherwise: only as written here.
    problem = problem_of(box(140, 210, 150), units, RULES)
    lay_out(problem._replace(ways=np.ones(3, dtype=np.int64)), desk)
    desk[PAIR + 1], desk[LEVEL + 2] = relation, OFF_FLOOR
    for k in range(2):
        desk[TOP_AREA + k] = area_um2(desk, k, 2)
    wanted = -(-int(desk[SUPPORT]) * int(desk[BASE + 2]) // 100)
    return desk, wanted, int(desk[TOP_AREA]) + int(desk[TOP_AREA + 1])


class InARow(unittest.TestCase):
    def test_two_blocks_one_behind_the_other_share_the_depth_of_the_board(self) -> None:
        # 165 deep: less the gap 162 for both; 97 of it lie on the one 102 wide, 65 on the other, 97 wide: 16 199 mm2 of
        # the 16 583 that three quarters are. Each alone would give 102 x 97.
        desk, wanted, both = board_on_two(165, BEFORE_ALONG_THE_WIDTH)
        self.assertEqual((wanted, both), (16_582_500_000, 2 * 102 * 97 * 1_000_000))
        self.assertFalse(rows_reach(desk, 2, 0b011, wanted, both, 1))
        # Along the length they do not lie one after the other, so nothing follows there.
        self.assertTrue(rows_reach(desk, 2, 0b011, wanted, both, 0))

    def test_it_is_not_said_before_it_is_certain_that_they_lie_so(self) -> None:
        desk, wanted, both = board_on_two(165, ALL)
        self.assertTrue(rows_reach(desk, 2, 0b011, wanted, both, 1))

    def test_as_much_as_they_give_is_enough(self) -> None:
        desk, _, both = board_on_two(165, BEFORE_ALONG_THE_WIDTH)
        given = (102 * 97 + 97 * 65) * 1_000_000
        self.assertTrue(rows_reach(desk, 2, 0b011, given, both, 1))
        self.assertFalse(rows_reach(desk, 2, 0b011, given + 1, both, 1))

    def test_an_order_of_six_goods_is_settled_in_a_thousand_nodes(self) -> None:
        # Before, 200 000 did not settle it: one rests on two, and three quarters of it never do.
        problem = problem_of(*benched("d", 101, "C-16"))
        answer, used = Relations(problem).search(1_000, *unplaced(problem))
        self.assertEqual(answer, NONE)
        self.assertLess(used, 1_000)

    def test_a_board_that_two_blocks_do_hold_is_packed(self) -> None:
        units = canonical_units((unit("a", 2, (100, 95, 94)), unit("c", 1, (102, 190, 40), load_on_top_mg=0)))
        problem = problem_of(box(104, 196, 140), units, RULES)
        answer, _ = Relations(problem).search(1_000, *unplaced(problem))
        self.assertEqual(answer, FOUND)


if __name__ == "__main__":
    unittest.main()
