"""Values as people and programs write them: days, amounts, counts, words, several items in a cell (rules of intake)."""

import unittest
from datetime import date
from decimal import Decimal as D

from core.intake.columns import Column, Knowledge, Matching, guess, questions_of, same_header
from core.intake.fields import FIELDS, plain_words
from core.intake.items import looks_like_items, read_items
from core.intake.values import (
    day_orders,
    decimal_marks,
    differs_by_day_order,
    differs_by_mark,
    read_amount,
    read_count,
    read_day,
    read_standing,
    read_yes,
)

DAY = date(2026, 11, 27)
TODAY = date(2026, 11, 29)


class Days(unittest.TestCase):
    def test_the_same_day_in_every_way_it_is_written(self) -> None:
        for text in (
            "2026-11-27", "2026/11/27", "2026.11.27", "20261127", "27.11.2026", "27-11-2026", "27/11/2026", "27/11/26",
            "27 Nov 2026", "27th November 2026", "27. November 2026", "Nov 27, 2026", "November 27th, 2026",
            "27-Nov-26",
            "Fri, 27 Nov 2026", "2026-11-27T10:12:33Z", "2026-11-27 10:12:33.456+01:00", "27.11.2026, 14:05 Uhr"[:17],
            "27/11/2026 2:05 PM", "2026-11-27T10:12:33 UTC", "27.11.2026 10:12 CET",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read_day(text, "day_first"), DAY)

    def test_what_is_no_day_is_none(self) -> None:
        for text in ("", "yesterday", "2026-13-01", "31.02.2026", "12", "27.11", "1/2", "11:30", "2026-11", "x" * 400):
            with self.subTest(text[:20]):
                self.assertIsNone(read_day(text, "day_first"))
                self.assertIsNone(read_day(text, "month_first"))

    def test_a_reading_is_certain_when_one_line_leaves_only_it(self) -> None:
        cases = (
            (["03/04/2026"], ("day_first", "month_first")),
            (["03/04/2026", "13/04/2026"], ("day_first",)),
            (["03/04/2026", "04/13/2026"], ("month_first",)),
            (["03.04.2026"], ("day_first",)),
            (["2026-04-03"], ("day_first", "month_first")),
            (["11/12/2026"], ("month_first",)),  # the 11th of December is to come
            (["never"], ()),
        )
        for texts, orders in cases:
            with self.subTest(texts):
                self.assertEqual(day_orders(texts, TODAY), orders)

    def test_two_readings_that_say_the_same_need_no_question(self) -> None:
        self.assertFalse(differs_by_day_order(["2026-04-03", "05/05/2026"], TODAY))
        self.assertTrue(differs_by_day_order(["2026-04-03", "05/06/2026"], TODAY))

    def test_a_line_made_to_keep_a_machine_busy_is_not_looked_into(self) -> None:
        self.assertIsNone(read_day("27.11.2026 10:10 " + "A" * 4_000 + "!", "day_first"))


class Amounts(unittest.TestCase):
    def test_amounts_under_each_decimal_mark(self) -> None:
        cases = (
            ("6.80", D("6.80"), None),
            ("6,80", None, D("6.80")),
            ("1,234.50", D("1234.50"), None),
            ("1.234,50", None, D("1234.50")),
            ("1 234,50", None, D("1234.50")),
            ("1'234.50", D("1234.50"), None),
            ("12", D(12), D(12)),
            ("1,234", D(1234), D("1.234")),
            ("€ 6,80", None, D("6.80")),
            ("$1,014.50", D("1014.50"), None),
            ("6.80 EUR", D("6.80"), None),
            ("12,-", None, D(12)),
            ("-5.00", None, None),
            ("12.34.56", None, None),
            ("1,23,456", None, None),
            ("", None, None),
            ("free", None, None),
        )
        for text, point, comma in cases:
            with self.subTest(text):
                self.assertEqual((read_amount(text, "point"), read_amount(text, "comma")), (point, comma))

    def test_a_column_of_whole_thousands_reads_both_ways_and_differs(self) -> None:
        self.assertEqual(decimal_marks(["1,250", "2,500"]), ("point", "comma"))
        self.assertTrue(differs_by_mark(["1,250"]))
        self.assertFalse(differs_by_mark(["12", "7"]))
        self.assertEqual(decimal_marks(["1,250", "2,5"]), ("comma",))


class Words(unittest.TestCase):
    def test_counts(self) -> None:
        for text, count in (
            ("2", 2), ("2x", 2), ("x2", 2), ("× 3", 3), ("2.0", 2), ("2,00", 2), ("4 pcs", 4), ("4 Stück", 4),
            ("1 ea", 1),
            ("0", 0), ("2.5", None), ("-1", None), ("two", None), ("", None),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read_count(text), count)

    def test_paid_and_standing(self) -> None:
        for text, paid in (("PAID", True), ("bezahlt", True), ("Not paid", False), ("27.11.2026", True), ("hm", None)):
            self.assertEqual(read_yes(text), paid, text)
        for text, standing in (("Storniert", "cancelled"), ("Fulfilled", "sent"), ("Unfulfilled", "open"), ("?", None)):
            self.assertEqual(read_standing(text), standing, text)


class Items(unittest.TestCase):
    def test_every_way_a_cell_lists_several_things(self) -> None:
        known = {"MUG-BLU", "CAN-ROS"}
        wanted = [("MUG-BLU", 2), ("CAN-ROS", 1)]
        for cell in (
            "2x MUG-BLU; 1x CAN-ROS",
            "2 x MUG-BLU|CAN-ROS",
            "MUG-BLU x 2\nCAN-ROS x 1",
            "MUG-BLU (2); CAN-ROS (1)",
            "MUG-BLU: 2; CAN-ROS: 1",
            "2 MUG-BLU; 1 CAN-ROS",
            "Blue mug [MUG-BLU] x 2; Rose candle (SKU: CAN-ROS)",
            "2x MUG-BLU, 1x CAN-ROS",
            "2x Blue mug - MUG-BLU; Rose candle CAN-ROS",
        ):
            with self.subTest(cell):
                self.assertEqual([(one.sku, one.quantity) for one in read_items(cell, known)], wanted)

    def test_titles_commas_and_prices_within_a_cell(self) -> None:
        (one,) = read_items("A mug, blue and white")
        self.assertEqual((one.sku, one.title, one.quantity), ("", "A mug, blue and white", 1))
        (priced,) = read_items("2x MUG-BLU @ 14.50", {"MUG-BLU"})
        self.assertEqual((priced.sku, priced.quantity, priced.price), ("MUG-BLU", 2, D("14.50")))
        self.assertEqual(read_items(""), ())
        (long,) = read_items("x" * 600)
        self.assertEqual(long.quantity, 1)

    def test_a_sentence_does_not_look_like_items(self) -> None:
        self.assertTrue(looks_like_items("3x MUG"))
        self.assertFalse(looks_like_items("Please ring twice"))


class Columns(unittest.TestCase):
    KNOWN = Knowledge(latest=TODAY, skus={"MUG-BLU"}, country_of=lambda text: "ALM" if text == "ALM" else None)

    def columns(self, **values: list[str]) -> list[Column]:
        return [Column(name=name.replace("_", " "), values=tuple(texts)) for name, texts in values.items()]

    def test_content_rules_a_column_out_whatever_it_is_called(self) -> None:
        found = guess(self.columns(Order_date=["soon", "later"], Quantity=["many", "few"]), self.KNOWN)
        self.assertEqual(dict(found.matching.columns), {})

    def test_codes_days_and_countries_are_found_under_any_name(self) -> None:
        found = guess(self.columns(A=["MUG-BLU"] * 3, B=["27.11.2026"] * 3, C=["ALM"] * 3), self.KNOWN)
        self.assertEqual(dict(found.matching.columns), {"sku": ("A",), "placed_on": ("B",), "country": ("C",)})
        self.assertEqual({reason.by for reason in found.why.values()}, {"content"})

    def test_the_delivery_address_is_taken_before_the_billing_address(self) -> None:
        columns = self.columns(
            Billing_Name=["Pay Er"], Shipping_Name=["Ida Brook"], Billing_City=["A"], Shipping_City=["B"]
        )
        found = guess(columns, self.KNOWN).matching.columns
        self.assertEqual((found["buyer"], found["town"]), (("Shipping Name",), ("Shipping City",)))

    def test_every_question_is_asked_and_answered_by_a_constant_or_a_word(self) -> None:
        columns = self.columns(No=["1"], Who=["Ida"], Code=["MUG-BLU"], Land=["Almere"], State=["odd"])
        plain = Matching(
            columns={"order": ("No",), "buyer": ("Who",), "sku": ("Code",), "country": ("Land",), "status": ("State",)}
        )
        asked = {(one.about, one.field) for one in questions_of(plain, columns, self.KNOWN)}
        self.assertEqual(asked, {("missing", "postcode"), ("missing", "town"), ("word", "country"), ("word", "status")})
        answered = Matching(
            columns=plain.columns,
            constants={"postcode": "HW3 2", "town": "Hallowfen"},
            words={"country": {"Almere": "ALM"}, "status": {"odd": "open"}},
        )
        self.assertEqual(questions_of(answered, columns, self.KNOWN), ())

    def test_headings_are_the_same_whatever_their_case_signs_and_order(self) -> None:
        self.assertTrue(same_header(["Order No.", "Buyer-Name"], ["buyer name", "ORDER NO"]))
        self.assertFalse(same_header(["Order", "Buyer"], ["Order", "Buyer", "Note"]))

    def test_every_field_has_names_and_none_is_written_twice_in_one(self) -> None:
        for name, rule in FIELDS.items():
            with self.subTest(name):
                self.assertTrue(rule.names)
                self.assertEqual([plain_words(one) for one in rule.names], list(rule.names))
                self.assertEqual(len(set(rule.names)), len(rule.names))
