"""Order files of other programs: columns are found, what is unclear is asked, the orders are those a person reads."""

import random
import unittest
from collections import Counter
from dataclasses import replace
from datetime import date

from core.intake.columns import Guess, Knowledge, guess, questions_of
from core.intake.fields import plain_words
from server.formats.matched_orders import Goods, MatchedFile, columns_of, read_matched
from server.formats.orders import MAX_LINES
from server.formats.tables import NotATable, Table, read_table
from server.orders.reading import _months, names_of_countries
from tests.core.order_files import FILES, OrderFile

GOODS = Goods(
    skus=frozenset({"MUG-BLU", "CAN-ROS"}),
    by_title={"blue mug": "MUG-BLU", "rose candle": "CAN-ROS"},
    remembered={"ROSE": "CAN-ROS"},
)


def country_of(text: str) -> str | None:
    return "ALM" if text == "ALM" else names_of_countries().get(plain_words(text))


KNOWN = Knowledge(
    latest=date(2026, 11, 29),
    skus=GOODS.skus,
    titles=GOODS.by_title.keys(),
    country_of=country_of,
    months=_months(),
)


def opened(file: OrderFile) -> tuple[Table, Guess]:
    table = read_table(file.content, most_lines=MAX_LINES)
    return table, guess(columns_of(table), KNOWN)


def read(table: Table, found: Guess, file: OrderFile) -> MatchedFile:
    matching = replace(found.matching, **file.answers)  # type: ignore[arg-type]
    return read_matched(table, matching, KNOWN, GOODS, channel="shop")


class TenFiles(unittest.TestCase):
    def test_the_columns_of_each_are_found(self) -> None:
        for file in FILES:
            _, found = opened(file)
            for field, column in file.columns.items():
                with self.subTest(file.name, field=field):
                    self.assertEqual(found.matching.columns.get(field), (column,))  # type: ignore[call-overload]

    def test_just_what_reads_in_two_ways_is_asked(self) -> None:
        for file in FILES:
            with self.subTest(file.name):
                table, found = opened(file)
                asked = questions_of(found.matching, columns_of(table), KNOWN)
                self.assertEqual(tuple(f"{one.about}:{one.field}" for one in asked), file.asked)
                answered = replace(found.matching, **file.answers)  # type: ignore[arg-type]
                self.assertEqual(questions_of(answered, columns_of(table), KNOWN), ())

    def test_the_orders_are_those_a_person_reads(self) -> None:
        for file in FILES:
            table, found = opened(file)
            made = read(table, found, file)
            orders: dict[str, list] = {}  # type: ignore[type-arg]
            for row in made.read.rows:
                orders.setdefault(row.order, []).append(row)
            with self.subTest(file.name):
                self.assertEqual(made.read.faults, ())
                self.assertEqual(len(made.read.left_out), file.left_out)
                self.assertEqual(list(orders), [one.number for one in file.orders])
                self.assertEqual(made.unknown, ())
            for wanted in file.orders:
                rows = orders[wanted.number]
                lead = rows[0]
                with self.subTest(file.name, order=wanted.number):
                    self.assertEqual(
                        (lead.placed_on, lead.buyer, lead.address_lines, lead.postcode, lead.country),
                        (wanted.placed_on, wanted.buyer, wanted.address, wanted.postcode, wanted.country),
                    )
                    self.assertEqual(
                        (lead.paid, lead.standing, f"{lead.postage_charged:.2f}", lead.note.replace("\n", " ")),
                        (wanted.paid, wanted.standing, wanted.postage, wanted.note),
                    )
                    self.assertEqual(
                        tuple((row.sku, row.quantity, f"{row.unit_price:.2f}") for row in rows), wanted.lines
                    )

    def test_the_guess_does_not_depend_on_the_order_of_the_columns(self) -> None:
        rng = random.Random(5)
        for file in FILES:
            table, found = opened(file)
            for _ in range(5):
                at = list(range(len(table.head)))
                rng.shuffle(at)
                turned = Table(
                    head=tuple(table.head[i] for i in at),
                    rows=tuple((line, tuple(cells[i] for i in at)) for line, cells in table.rows),
                    encoding=table.encoding,
                )
                with self.subTest(file.name):
                    again = guess(columns_of(turned), KNOWN).matching
                    self.assertEqual(again.columns, found.matching.columns)


class Scribbled(unittest.TestCase):
    def test_two_hundred_scribbled_copies_of_each_never_crash_and_never_half_read_an_order(self) -> None:
        for file in FILES:
            rng = random.Random(file.name)
            for _ in range(200):
                content = bytearray(file.content)
                for _ in range(rng.randint(1, 12)):
                    at = rng.randrange(len(content))
                    if rng.random() < 0.3:
                        del content[at]
                    elif rng.random() < 0.5:
                        content[at] = rng.randrange(256)
                    else:
                        content[at:at] = rng.choice([b";", b",", b'"', b"\n", b"\t", b"9", b"x", b"\x00", b"\xff"])
                try:
                    table = read_table(bytes(content), most_lines=MAX_LINES)
                except NotATable as error:
                    self.assertTrue(error.value and error.allowed)
                    continue
                made = read(table, guess(columns_of(table), KNOWN), replace(file, answers={}))
                wrong = {fault.line for fault in made.read.faults}
                of = Counter((cells["channel"], cells["order"]) for _, cells in made.read.raw)
                bad = {(cells["channel"], cells["order"]) for line, cells in made.read.raw if line in wrong}
                good = Counter((row.channel, row.order) for row in made.read.rows)
                for key in set(good) - bad:
                    self.assertEqual(good[key], of[key])


class WrongCells(unittest.TestCase):
    def test_a_sum_of_an_order_that_is_no_amount_is_named_and_the_other_orders_read(self) -> None:
        file = next(one for one in FILES if one.columns.get("goods_total") == "Subtotal")
        table, found = opened(file)
        spoiled = replace(file, content=file.content.decode("utf-16").replace("37.00", "thirty").encode("utf-16"))
        table, _ = opened(spoiled)
        made = read(table, found, spoiled)
        self.assertEqual([(one.line, one.column, one.value) for one in made.read.faults], [(2, "Subtotal", "thirty")])
        self.assertEqual([row.order for row in made.read.rows], ["A2"])

    def test_a_nul_character_is_named_by_its_line(self) -> None:
        with self.assertRaises(NotATable) as caught:
            read_table(b"order,sku,quantity\n1,A,2\n2,B\x00,3\n", most_lines=MAX_LINES)
        self.assertEqual((caught.exception.line, caught.exception.value), (3, "a NUL character"))


class Refused(unittest.TestCase):
    def refusal(self, content: bytes) -> NotATable:
        with self.assertRaises(NotATable) as caught:
            read_table(content, most_lines=MAX_LINES)
        return caught.exception

    def test_what_is_no_table_is_told_with_the_way_out(self) -> None:
        self.assertIn(".xlsx or CSV", self.refusal(b"\xd0\xcf\x11\xe0old").allowed)
        self.assertIn(".xlsx or CSV", self.refusal(b"PK\x03\x04broken").allowed)
        self.assertEqual(self.refusal(b"").value, "empty")
        self.assertEqual(self.refusal(b"a,b,c\n").value, "no lines")
        self.assertIn("UTF-8", self.refusal(b"a\x00b,c\n\xff\x81,1\n").allowed)

    def test_a_line_with_a_cell_too_many_is_named(self) -> None:
        told = self.refusal(b"order,sku,quantity\n1,A,2\n2,B,C,3\n")
        self.assertEqual((told.line, told.value), (3, "4 cells"))

    def test_more_lines_than_a_file_may_have_are_refused_before_they_are_read(self) -> None:
        told = self.refusal(b"order,sku,quantity\n" + b"1,A,2\n" * (MAX_LINES + 60))
        self.assertIn("split the file", told.allowed)
