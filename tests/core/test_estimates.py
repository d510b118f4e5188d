"""What a supply probably weighs and bears until it is measured (rules 13.7): worked by hand, and laws."""

import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from core.supplies.estimates import board_area_m2, carton_load_mg, carton_tare_mg, mailer_tare_mg
from core.units import Size

_SIDES = st.integers(min_value=20_000, max_value=1_200_000)
_BOARDS = st.sampled_from(["single", "double", "none"])


def box(length_um: int, width_um: int, height_um: int) -> Size:
    return Size(length_um=length_um, width_um=width_um, height_um=height_um)


class ByHand(unittest.TestCase):
    def test_a_carton_of_320_x_230_x_170_mm(self) -> None:
        """The blank is 2 (320 + 230) + 35 = 1135 mm long and 230 + 170 = 400 mm wide: 0.454 m2."""
        inner = box(320_000, 230_000, 170_000)
        self.assertEqual(board_area_m2(inner), Decimal("0.454"))
        self.assertEqual(carton_tare_mg(inner, "single"), 245_000)  # 0.454 x 540 g = 245.16 g
        self.assertEqual(carton_tare_mg(inner, "double"), 327_000)  # 0.454 x 720 g = 326.88 g
        self.assertEqual(carton_load_mg(inner, "single"), 9_000_000)  # 0.454 x 20 kg = 9.08 kg

    def test_a_big_carton_is_trusted_with_no_more_than_its_board_bears(self) -> None:
        self.assertEqual(carton_load_mg(box(900_000, 700_000, 600_000), "single"), 15_000_000)

    def test_the_smallest_still_weighs_a_gram_and_bears_half_a_kilogram(self) -> None:
        tiny = box(1_000, 1_000, 1_000)
        self.assertEqual((carton_tare_mg(tiny, "none"), carton_load_mg(tiny, "none")), (1_000, 500_000))

    def test_a_mailer_is_two_faces(self) -> None:
        self.assertEqual(mailer_tare_mg(250_000, 350_000, 120), 21_000)  # 2 x 0.0875 m2 x 120 g


class Laws(unittest.TestCase):
    @given(_SIDES, _SIDES, _SIDES, _BOARDS, st.integers(min_value=0, max_value=300_000))
    def test_a_carton_with_any_longer_side_weighs_and_bears_no_less(
        self, length: int, width: int, height: int, board: str, more: int
    ) -> None:
        for longer in (box(length + more, width, height), box(length, width + more, height)):
            one = box(length, width, height)
            self.assertGreaterEqual(carton_tare_mg(longer, board), carton_tare_mg(one, board))  # type: ignore[arg-type]
            self.assertGreaterEqual(carton_load_mg(longer, board), carton_load_mg(one, board))  # type: ignore[arg-type]

    @given(_SIDES, _SIDES, _SIDES, _BOARDS)
    def test_estimates_are_not_written_finer_than_they_mean(
        self, length: int, width: int, height: int, board: str
    ) -> None:
        one = box(length, width, height)
        self.assertEqual(carton_tare_mg(one, board) % 1_000, 0)  # type: ignore[arg-type]
        self.assertEqual(carton_load_mg(one, board) % 500_000, 0)  # type: ignore[arg-type]

    @given(_SIDES, _SIDES, st.integers(min_value=40, max_value=400))
    def test_a_mailer_turned_weighs_the_same(self, length: int, width: int, g_per_m2: int) -> None:
        self.assertEqual(mailer_tare_mg(length, width, g_per_m2), mailer_tare_mg(width, length, g_per_m2))
