"""Which column of an unknown file is which field (rules of intake)."""

import unittest
from collections.abc import Mapping
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from core.intake.columns import Column, Guess, Knowledge, Matching, guess, questions_of

KNOWN = Knowledge(
    latest=date(2026, 11, 29),
    skus=frozenset({"JAR-1", "SOAP"}),
    titles=frozenset({"quince jar", "oat soap"}),
    country_of={"Almery": "ALM", "ALM": "ALM", "Torvald": "TOR"}.get,
)

FILE = {
    "Sale No": ("1001", "1002", "1003"),
    "Sold on": ("27.11.2026", "28.11.2026", "29.11.2026"),
    "Ship to name": ("Edda Varley", "Ivo Tranter", "Jory Keld"),
    "Ship to city": ("Merrowby", "Dunmere", "Oskerry"),
    "Ship to postcode": ("MB4 4", "DM6 8", "OK9 2"),
    "Ship to country": ("Almery", "Almery", "Torvald"),
    "Item code": ("JAR-1", "SOAP", "SOAP"),
    "Quantity": ("1", "2", "12"),
    "Price": ("6,50", "4,00", "12,25"),
    "Paid": ("yes", "no", "yes"),
}


def columns(of: Mapping[str, tuple[str, ...]]) -> list[Column]:
    return [Column(name=name, values=values) for name, values in of.items()]


def guessed(**changes: tuple[str, ...] | None) -> Guess:
    file: dict[str, tuple[str, ...] | None] = {**FILE, **changes}
    return guess(columns({name: values for name, values in file.items() if values is not None}), KNOWN)


def only(name: str, *values: str) -> Guess:
    return guess([Column(name=name, values=values)], KNOWN)


class Names(unittest.TestCase):
    def test_a_usual_file_is_read_without_a_question(self) -> None:
        found = guessed()
        self.assertEqual(
            {field: names[0] for field, names in found.matching.columns.items()},
            {
                "order": "Sale No", "placed_on": "Sold on", "buyer": "Ship to name", "town": "Ship to city",
                "postcode": "Ship to postcode", "country": "Ship to country", "sku": "Item code",
                "quantity": "Quantity", "unit_price": "Price", "paid": "Paid",
            },
        )  # fmt: skip
        self.assertEqual((found.matching.day_order, found.matching.decimal_mark), ("day_first", "comma"))
        self.assertEqual(questions_of(found.matching, columns(FILE), KNOWN), ())

    @given(st.permutations(list(FILE)))
    def test_the_order_of_the_columns_does_not_matter(self, names: list[str]) -> None:
        found = guess(columns({name: FILE[name] for name in names}), KNOWN)
        self.assertEqual(found.matching, guessed().matching)

    def test_the_delivery_goes_before_the_billing(self) -> None:
        both = {"Billing postcode": ("AA1 1", "AA1 2"), "Shipping postcode": ("MB4 4", "DM6 8")}
        self.assertEqual(guess(columns(both), KNOWN).matching.columns["postcode"], ("Shipping postcode",))
        alone = {"Billing postcode": both["Billing postcode"]}
        self.assertEqual(guess(columns(alone), KNOWN).matching.columns.get("postcode"), ("Billing postcode",))

    def test_what_is_said_twice_is_taken_once(self) -> None:
        parts = guessed(**{"First name": ("Edda", "Ivo", "Jory"), "Last name": ("Varley", "Tranter", "Keld")})
        self.assertNotIn("buyer", parts.matching.columns)
        self.assertLessEqual({"first_name", "last_name"}, set(parts.matching.columns))
        self.assertNotIn("buyer", parts.why)
        half = guessed(**{"First name": ("Edda", "Ivo", "Jory")})
        self.assertIn("buyer", half.matching.columns)
        self.assertNotIn("first_name", half.matching.columns)

    def test_items_in_one_cell_take_the_place_of_titles_and_quantities(self) -> None:
        found = guessed(
            **{"Item code": None, "Items": ("2 x Quince jar; 1 x Oat soap", "1 x Oat soap", "3 x Oat soap")}
        )
        self.assertIn("items", found.matching.columns)
        self.assertLessEqual({"title", "quantity", "unit_price"} & set(found.matching.columns), set())


class Contents(unittest.TestCase):
    def test_values_that_cannot_be_read_so_rule_a_column_out_whatever_it_is_called(self) -> None:
        for name, field, good, bad in (
            ("Quantity", "quantity", ("1", "2", "3"), ("one", "two", "a few")),
            ("Unit price", "unit_price", ("1.50", "2.00"), ("cheap", "dear")),
            ("Order date", "placed_on", ("2026-11-27",), ("yesterday", "soon")),
            ("Postcode", "postcode", ("MB4 4",), ("Merrowby by the sea", "nowhere")),
            ("Buyer", "buyer", ("Edda Varley",), ("1001", "1002")),
            ("Order number", "order", ("1001", "1002"), ("x" * 60 + "1", "y" * 60 + "2")),
        ):
            with self.subTest(name):
                self.assertIn(field, only(name, *good).matching.columns)
                self.assertNotIn(field, only(name, *bad).matching.columns)

    def test_codes_days_and_countries_are_found_under_any_name(self) -> None:
        self.assertEqual(only("Zzz", "JAR-1", "SOAP").matching.columns, {"sku": ("Zzz",)})
        self.assertEqual(only("Zzz", "2026-11-27", "2026-11-28").matching.columns, {"placed_on": ("Zzz",)})
        self.assertEqual(only("Zzz", "Almery", "Torvald").matching.columns, {"country": ("Zzz",)})
        self.assertEqual(only("Zzz", "nothing", "known").matching.columns, {})
        self.assertEqual(only("Zzz", "JAR-1", "SOAP").why["sku"].by, "content")

    def test_codes_are_codes_though_the_column_is_called_title(self) -> None:
        found = only("Title", "JAR-1", "SOAP")
        self.assertNotIn("title", found.matching.columns)
        self.assertIn("title", only("Title", "Quince jar", "Oat soap").matching.columns)

    def test_a_state_that_is_a_standing_is_no_region(self) -> None:
        self.assertNotIn("region", only("State", "paid", "cancelled", "paid").matching.columns)
        self.assertIn("region", only("State", "North", "South", "West").matching.columns)

    def test_an_empty_column_may_be_what_its_name_says(self) -> None:
        self.assertEqual(only("Postcode").matching.columns, {"postcode": ("Postcode",)})


class Asked(unittest.TestCase):
    def asked(self, of: Mapping[str, tuple[str, ...]]) -> set[tuple[str, str, str]]:
        found = guess(columns(of), KNOWN)
        return {(one.about, one.field, one.sample) for one in questions_of(found.matching, columns(of), KNOWN)}

    def test_what_every_order_needs_is_asked_for(self) -> None:
        without = {name: values for name, values in FILE.items() if name not in ("Ship to name", "Item code")}
        self.assertEqual(self.asked(without), {("missing", "buyer", ""), ("missing", "sku", "")})
        self.assertLessEqual(
            {("missing", field, "") for field in ("order", "postcode", "town", "country", "buyer", "sku")},
            self.asked({}),
        )

    def test_days_and_sums_that_can_be_read_two_ways_are_asked_with_one_of_them(self) -> None:
        # The tenth of December is to come, so of 2026-11-29 only the twelfth of October is left; the other is open.
        unclear = {**FILE, "Sold on": ("2026-11-01", "05/06/2026", "07/07/2026"), "Price": ("6", "4", "1,250")}
        self.assertEqual(
            self.asked(unclear), {("day_order", "placed_on", "05/06/2026"), ("decimal_mark", "unit_price", "1,250")}
        )

    def test_words_nobody_knows_are_asked_once_each(self) -> None:
        unknown = {**FILE, "Ship to country": ("Almery", "Almery", "Atlantis"), "Paid": ("yes", "perhaps", "perhaps")}
        self.assertEqual(self.asked(unknown), {("word", "country", "Atlantis"), ("word", "paid", "perhaps")})

    def test_an_answer_is_not_asked_for_again(self) -> None:
        unknown = {**FILE, "Ship to country": ("Almery", "Almery", "Atlantis")}
        found = guess(columns(unknown), KNOWN).matching
        answered = Matching(
            columns={name: of for name, of in found.columns.items() if name != "order"},
            day_order=found.day_order,
            decimal_mark=found.decimal_mark,
            constants={"order": "1"},
            words={"country": {"Atlantis": "TOR"}},
        )
        self.assertEqual(questions_of(answered, columns(unknown), KNOWN), ())
