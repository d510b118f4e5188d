"""Units: entry, rounding, and what people are shown (rules 1.1)."""

import doctest
import unittest
from decimal import Decimal
from fractions import Fraction

import core.tariffs.price_step
import core.units
from core.errors import BadMeasure
from core.units import (
    Size,
    format_length,
    format_size,
    format_weight,
    parse_length,
    parse_weight,
    round_half_away,
    round_money,
)
from tests.said import said


class Entry(unittest.TestCase):
    def test_the_forms_of_the_rules_are_accepted(self) -> None:
        for text, um in (
            ("10 1/4 in", 260_350),
            ("26cm", 260_000),
            ("1/16 in", 1_588),
            ("1 in", 25_400),
            ('3"', 76_200),
            ("98", 98_000),
            ("1 ft 2 in", 355_600),
        ):
            with self.subTest(text):
                self.assertEqual(parse_length(text), um)
        for text, mg in (
            ("1 lb 7.8 oz", 674_719),
            ("420 g", 420_000),
            ("0.42kg", 420_000),
            ("1 oz", 28_350),
            ("7", 7_000),
        ):
            with self.subTest(text):
                self.assertEqual(parse_weight(text), mg)

    def test_a_bare_number_takes_the_shown_unit(self) -> None:
        self.assertEqual(parse_length("2", "in"), 50_800)
        self.assertEqual(parse_weight("2", "oz"), 56_699)

    def test_what_is_no_measure_is_refused_with_what_is_allowed(self) -> None:
        for text in (
            "",
            "ten mm",
            "5 furlongs",
            "3 4 mm",
            "1 lb 7.8",
            "7 oz 1 lb",
            "1/0 in",
            "-4 mm",
            "4 g 5",
            "9" * 50,
            "4 mm 4 mm",
        ):
            with self.subTest(text), self.assertRaises(BadMeasure) as caught:
                parse_length(text) if "g" not in text and "lb" not in text else parse_weight(text)
            self.assertIn("Write ", said(caught.exception.message))

    def test_halves_round_away_from_zero(self) -> None:
        self.assertEqual([round_half_away(Fraction(n, 2)) for n in (3, -3, 5, -5, 1)], [2, -2, 3, -3, 1])

    def test_money_rounds_half_up_to_the_minor_unit(self) -> None:
        self.assertEqual(
            [round_money(Decimal(t)) for t in ("5.8575", "0.005", "0.0049")],
            [Decimal("5.86"), Decimal("0.01"), Decimal("0.00")],
        )
        self.assertEqual(round_money(Decimal("7.5"), 0), Decimal("8"))


class Shown(unittest.TestCase):
    def test_lengths_and_weights_have_no_false_precision(self) -> None:
        self.assertEqual(format_length(260_350), "260 mm")
        self.assertEqual(format_length(260_350, "imperial"), "10.3 in")
        self.assertEqual(
            [format_weight(m) for m in (420_400, 999_600, 2_381_000, -1_500_000)],
            ["420 g", "1.000 kg", "2.381 kg", "-1.500 kg"],
        )
        self.assertEqual([format_weight(m, "imperial") for m in (28_350, 674_719)], ["1.0 oz", "1 lb 7.8 oz"])

    def test_a_size_is_written_length_width_height(self) -> None:
        size = Size(length_um=320_000, width_um=230_000, height_um=150_000)
        self.assertEqual(format_size(size), "320 x 230 x 150 mm")
        self.assertEqual((size.longest_um, size.girth_um), (320_000, 760_000))

    def test_the_examples_in_the_docstrings_hold(self) -> None:
        for module in (core.units, core.tariffs.price_step):
            result = doctest.testmod(module)
            self.assertGreater(result.attempted, 0)
            self.assertEqual(result.failed, 0)
