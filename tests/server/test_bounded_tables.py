"""A few megabytes of commas or empty lines are refused before they are parsed, by every door that reads tables."""

import base64
import csv
from collections.abc import Callable
from datetime import date
from typing import Any
from unittest import mock

from django.test import SimpleTestCase

from server.api.problems import Refused
from server.formats import products_csv, tariff_steps
from server.formats.orders import MAX_LINES, read_orders
from server.formats.products_csv import read_products
from server.formats.recipe_card import read_recipe_card
from server.formats.text import table_faults
from tests.server.base import DemoCase

HEAD = "order,placed_on,buyer,town,postcode,country,sku,quantity,unit_price,note\n"
MILLIONS = {
    "one line of commas": "," * 9_000_000,
    "a heading and commas": HEAD + "," * 9_000_000,
    "lines of commas": HEAD + (",,,,,,,,,\n") * 900_000,
    "empty lines": HEAD + "\n" * 9_000_000,
    "empty lines of another system": HEAD + "\r" * 9_000_000,
    "semicolons": HEAD + ";" * 9_000_000,
    "tabs": "a\tb\n" + "\t" * 9_000_000,
    "many columns": ",".join(f"c{n}" for n in range(1_000)) + "\n1",
    "a long first line": "x" * 30_000 + "\n1",
}


def no_parsing(*_: Any, **__: Any) -> Any:
    raise AssertionError("it was taken apart")


class BeforeParsing(SimpleTestCase):
    def doors(self) -> dict[str, Callable[[bytes], object]]:
        return {
            "orders": lambda content: read_orders(content, today=date(2026, 11, 29)).faults[0].allowed,
            "products": read_products,
            "steps": tariff_steps._rows,
        }

    def test_millions_of_nothing_are_refused_unparsed(self) -> None:
        for name, text in MILLIONS.items():
            for door, read in self.doors().items():
                with (
                    self.subTest(f"{door}: {name}"),
                    mock.patch.multiple(csv, reader=no_parsing, DictReader=no_parsing),
                ):
                    try:
                        told = read(text.encode())
                    except Refused as refused:
                        told = refused.detail
                    self.assertRegex(str(told), "at most|names of the columns|split the file")

    def test_tables_that_people_keep_are_let_through(self) -> None:
        row = "1160,2026-11-20,Ottilie Fenner,Hallowfen,HW3 2,ALM,PRE-BLK,2,6.80," + '"a, note; with, marks"\n'
        for lines in (1, 1_000, MAX_LINES):
            self.assertIsNone(table_faults(HEAD + row * lines, most_lines=MAX_LINES))
        self.assertIsNone(table_faults(HEAD + (row + "\n") * MAX_LINES, most_lines=MAX_LINES), "with empty lines")
        self.assertIsNone(table_faults("", most_lines=10))

    def test_what_is_wrong_names_the_number_and_the_limit(self) -> None:
        self.assertEqual(
            table_faults("a,b\n" + "1,2\n" * 500, most_lines=100), ("501 lines", "100 lines at most; split the file")
        )
        self.assertEqual(table_faults("," * 300 + "\n", most_lines=100), ("301 columns", "at most 200 columns"))

    def test_a_pdf_beyond_any_recipe_card_is_not_searched(self) -> None:
        with self.assertRaises(Refused) as refused:
            read_recipe_card(b"%PDF" + b"x" * 4_100_000)
        self.assertEqual(refused.exception.code, "too_large")

    def test_the_limits_of_the_doors(self) -> None:
        self.assertEqual((MAX_LINES, products_csv._MOST_LINES, tariff_steps._MOST_ROWS), (20_000, 5_000, 20_000))


class ThroughTheDoor(DemoCase):
    def test_a_preview_of_nine_megabytes_of_commas_is_answered_as_a_file_with_a_fault(self) -> None:
        content = base64.b64encode(b"," * 9_000_000).decode()
        with mock.patch.object(csv, "reader", no_parsing):
            told = self.ask("post", "orders/intake/preview", {"name": "big.csv", "content_base64": content})
        self.assertEqual((told["new_orders"], told["faults"][0]["column"]), (0, "file"))

    def test_a_thousand_faults_are_told_and_no_more(self) -> None:
        lines = "".join(f"P{n},,x{n},no\n" for n in range(4_000))
        content = base64.b64encode(("sku,name,weight,food\n" + lines).encode()).decode()
        told = self.ask("post", "products/file", {"name": "p.csv", "content": content}, status=422)
        self.assertLessEqual(len(told["faults"]), 1_000)
        self.assertIn("errors", told["detail"])
