"""Importing orders: preview, errors, accepting once; holds; plans of what came in."""

import json
from datetime import date
from unittest import TestCase as Plain

from server.formats.orders import COLUMNS, read_orders
from server.orders.models import Order
from tests.server.base import DEMO, DemoCase

HEAD = ",".join(COLUMNS)
GOOD = "2001,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,6.80,4.50,yes,no,"
TEN_FAULTS = "\n".join(
    [
        HEAD,
        GOOD,
        "2002,own shop,2026-13-40,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,6.80,4.50,yes,no,",
        "2003,own shop,2026-11-20,,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,6.80,4.50,yes,no,",
        "2004,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,0,6.80,4.50,yes,no,",
        "2005,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,two,6.80,4.50,yes,no,",
        "2006,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,-6.80,4.50,yes,no,",
        "2007,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,6.80,4.505,yes,no,",
        "2008,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,A1,PRE-BLK,,2,6.80,4.50,yes,no,",
        "2009,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,6.80,4.50,maybe,no,",
        "2010,own shop,2031-01-01,Ada Vell,1 Row,Dunmere,DM1 1,ALM,PRE-BLK,,2,6.80,4.50,yes,no,",
        "2011,own shop,2026-11-20,Ada Vell,1 Row,Dunmere,DM1 1,ALM,,,2,6.80,4.50,yes,no,",
    ]
)


class Reading(Plain):
    def faults(self, text: str) -> list[tuple[int, str]]:
        return [(f.line, f.column) for f in read_orders(text.encode(), today=date(2026, 11, 23)).faults]

    def test_every_line_comes_back_with_all_of_its_faults(self) -> None:
        self.assertEqual(
            self.faults(TEN_FAULTS),
            [
                (3, "placed_on"),
                (4, "buyer"),
                (5, "quantity"),
                (6, "quantity"),
                (7, "unit_price"),
                (8, "postage_charged"),
                (9, "country"),
                (10, "paid"),
                (11, "placed_on"),
                (12, "sku"),
            ],
        )

    def test_files_that_are_no_orders_file_are_told_apart(self) -> None:
        for text, column in (
            ("", "file"),
            ("a,b\n1,2", "heading"),
            (HEAD, "file"),
            (HEAD + ",colour\n" + GOOD, "heading"),
            (HEAD + "\n" + GOOD + ",,,,,,more", "line"),
            ("{}", "file"),
            ("[1", "file"),
            (HEAD + '\n"2001,own', "line"),
        ):
            with self.subTest(text[:20]):
                self.assertEqual(self.faults(text)[0][1], column)
        self.assertEqual(read_orders(b"\xff\xfe", today=date(2026, 11, 23)).faults[0].column, "file")

    def test_a_gift_is_read_and_a_file_without_the_column_holds_none(self) -> None:
        for text, gift in (
            (f"{HEAD}\n{GOOD}", False),
            (f"{HEAD}\n{GOOD.replace(',no,', ',YES,')}", True),
            (f"{HEAD.replace(',gift', '')}\n{GOOD.replace(',no,', ',')}", False),
        ):
            self.assertEqual([row.gift for row in read_orders(text.encode(), today=date(2026, 11, 23)).rows], [gift])
        self.assertEqual(self.faults(f"{HEAD}\n{GOOD.replace(',no,', ',perhaps,')}"), [(2, "gift")])

    def test_semicolons_tabs_quotes_and_a_byte_order_mark_are_read(self) -> None:
        for text in (
            HEAD.replace(",", ";") + "\n" + GOOD.replace(",", ";"),
            HEAD.replace(",", "\t") + "\n" + GOOD.replace(",", "\t"),
            "\ufeff" + HEAD + "\r\n" + GOOD.replace("Ada Vell", '"Vell, Ada"'),
        ):
            self.assertEqual(self.faults(text), [])

    def test_json_reads_like_csv(self) -> None:
        line = dict(zip(COLUMNS, GOOD.split(","), strict=False)) | {"quantity": 2, "unit_price": 6.80, "paid": True}
        rows = read_orders(
            json.dumps({"format": "calm-cupboard/orders", "version": 1, "lines": [line]}).encode(),
            today=date(2026, 11, 23),
        ).rows
        self.assertEqual(
            rows,
            tuple(
                r.__class__(**{**{f: getattr(r, f) for f in r.__slots__}, "line": 1})
                for r in read_orders(f"{HEAD}\n{GOOD}".encode(), today=date(2026, 11, 23)).rows
            ),
        )

    def test_lines_of_one_order_may_not_contradict_each_other(self) -> None:
        self.assertEqual(
            self.faults(f"{HEAD}\n{GOOD}\n{GOOD.replace('Ada Vell', 'Bo Vell').replace('PRE-BLK', 'PRE-QUI')}"),
            [(3, "buyer")],
        )


class TakingIn(DemoCase):
    def file(self, content: str) -> dict[str, str]:
        return {"name": "orders.csv", "content": content}

    def test_the_preview_saves_nothing_and_names_every_fault(self) -> None:
        before = Order.objects.of(self.workshop).count()
        preview = self.ask("post", "orders/intake/preview", self.file(TEN_FAULTS))
        self.assertEqual((preview["new_orders"], preview["left_out_orders"], len(preview["faults"])), (1, 10, 10))
        self.assertEqual(Order.objects.of(self.workshop).count(), before)

    def test_the_good_ones_are_taken_once_however_often_it_is_asked(self) -> None:
        took = [self.ask("post", "orders/intake/accept", self.file(TEN_FAULTS)) for _ in range(2)]
        self.assertEqual([(t["new_orders"], t["known_orders"]) for t in took], [(1, 0), (0, 1)])
        self.assertEqual(self.order("2001").state, "planned")

    def test_an_order_here_with_other_lines_is_shown_as_changed_and_stays_as_it_is(self) -> None:
        line = "1160,own shop,2026-11-20,Ottilie Fenner,2 Weir Steps,Hallowfen,HW3 2,ALM,PRE-BLK,,5,6.80,4.50,yes,"
        preview = self.ask("post", "orders/intake/preview", self.file(f"{HEAD}\n{line}"))
        self.assertEqual((preview["new_orders"], preview["changed_orders"]), (0, 1))
        self.assertEqual(preview["lines"][0]["verdict"], "changed")
        self.ask("post", "orders/intake/accept", self.file(f"{HEAD}\n{line}"))
        self.assertEqual([line["quantity"] for line in self.ask("get", self.path("1160"))["lines"]], [2])

    def path(self, number: str) -> str:
        return f"orders/{self.order(number).pk}"

    def test_one_bad_line_leaves_its_whole_order_out(self) -> None:
        text = f"{HEAD}\n{GOOD}\n{GOOD.replace('PRE-BLK,,2', 'PRE-QUI,,0')}"
        self.assertEqual(self.ask("post", "orders/intake/preview", self.file(text))["new_orders"], 0)

    def test_the_sample_file_is_known_already(self) -> None:
        preview = self.ask("post", "orders/intake/preview", self.file((DEMO / "orders.csv").read_text()))
        self.assertEqual(preview["new_orders"], 0)


class Standing(DemoCase):
    def test_every_reason_for_a_hold_is_in_words(self) -> None:
        wanted = {
            "1175": "none is free",
            "1176": "payment has not come in",
            "1177": "note asks something",
            "1178": "no packaging recipe",
            "1180": "has no weight",
            "1181": "No price list covers TOR",
        }
        held = {row["number"]: row["reason"] for row in self.ask("get", "orders?state=held")["results"]}
        self.assertEqual(set(held), set(wanted))
        for number, words in wanted.items():
            self.assertIn(words, held[number])

    def test_a_held_order_cannot_come_to_the_bench_until_it_is_released(self) -> None:
        order = self.order("1176")
        self.assertEqual(self.ask("post", "parcels/begin", {"order_id": order.pk}, status=409)["code"], "held")
        self.assertEqual(self.ask("post", f"orders/{order.pk}/release")["state"], "planned")
        self.ask("post", "parcels/begin", {"order_id": order.pk})

    def test_a_person_may_hold_and_release(self) -> None:
        order = self.order("1160")
        self.assertEqual(self.ask("post", f"orders/{order.pk}/hold", {"reason": "buyer rang"})["reason"], "buyer rang")
        self.assertEqual(self.ask("get", "rail")["held"], 7)
        self.ask("post", f"orders/{order.pk}/release")
        self.assertEqual(self.ask("post", f"orders/{order.pk}/release", status=409)["code"], "not_held")

    def test_the_rail_counts_and_finding_finds(self) -> None:
        rail = self.ask("get", "rail")
        self.assertEqual((rail["orders"], rail["plan"], rail["held"]), (23, 17, 6))
        kinds = [
            self.ask("get", f"find?q={q}")["results"][0]["kind"] for q in ("1184", "Ottilie", "C-14", "B2", "platter")
        ]
        self.assertEqual(kinds, ["order", "order", "supply", "supply", "recipe"])

    def test_lists_ask_the_database_no_more_for_more_rows(self) -> None:
        for path in ("orders", "supplies", "products", "recipes"):
            with self.subTest(path):
                with self.assertNumQueries(FEW) as few:
                    self.ask("get", f"{path}?page_size=2")
                with self.assertNumQueries(_AtMost(len(few.captured_queries))):
                    self.ask("get", f"{path}?page_size=20")


class _AtMost(int):
    """Any number up to this one: the first list a process answers may ask for what it then remembers."""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, int) and int(other) <= int(self)

    __hash__ = int.__hash__


#: The list's own queries, the session and the member.
FEW = _AtMost(10)
