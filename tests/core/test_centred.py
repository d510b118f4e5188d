"""Moving a packing to the middle of its container: worked cases."""

import unittest

from core.packing.centred import centred
from core.packing.model import Box, Packing, PackUnit, Placement
from core.recipes.model import Cushion

BOX = Box(code="C-1", inner_um=(300_000, 200_000, 150_000), max_load_mg=10**9)


def unit(code: str, side_um: int) -> PackUnit:
    return PackUnit(
        code=code, name=code, quantity=1, size_um=(80_000, 80_000, 100_000), weight_mg=1, up_axes=(2,),
        clearance=Cushion(bottom_um=20_000, side_um=side_um, top_um=0), load_on_top_mg=None,
    )  # fmt: skip


def moved(*placed: tuple[str, int, int], sides: dict[str, int]) -> list[tuple[int, int, int]]:
    packing = Packing(
        box="C-1",
        placements=tuple(
            Placement(unit=code, at_um=(x * 1000, y * 1000, 20_000), size_um=(80_000, 80_000, 100_000))
            for code, x, y in placed
        ),
    )
    found = centred(BOX, packing, tuple(unit(code, side * 1000) for code, side in sides.items()))
    return [(x // 1000, y // 1000, z // 1000) for (x, y, z) in (one.at_um for one in found.placements)]


class Centred(unittest.TestCase):
    def test_one_unit_comes_to_stand_in_the_middle(self) -> None:
        self.assertEqual(moved(("a", 20, 20), sides={"a": 20}), [(110, 60, 20)])

    def test_two_side_by_side_move_together(self) -> None:
        self.assertEqual(moved(("a", 20, 20), ("a", 105, 20), sides={"a": 20}), [(67, 60, 20), (152, 60, 20)])

    def test_a_unit_that_needs_more_room_to_the_wall_has_it_on_both_sides_of_the_balance(self) -> None:
        # Along the length 40 is to spare on the near side of a, 60 on the far side of b: ten to the right.
        self.assertEqual(moved(("a", 50, 0), ("b", 130, 0), sides={"a": 10, "b": 30}), [(60, 60, 20), (140, 60, 20)])

    def test_what_stands_too_far_right_moves_back(self) -> None:
        self.assertEqual(moved(("a", 200, 110), sides={"a": 0}), [(110, 60, 20)])

    def test_less_than_a_millimetre_is_left_as_it_is(self) -> None:
        self.assertEqual(moved(("a", 110, 59), sides={"a": 0}), [(110, 60, 20)])
        self.assertEqual(moved(("a", 109, 60), ("a", 111, 60), sides={"a": 0}), [(109, 60, 20), (111, 60, 20)])
