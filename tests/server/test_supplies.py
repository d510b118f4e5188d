"""The ledger over HTTP: stock is the sum of entries, sent twice counts once, reserved follows the plans."""

import json
from decimal import Decimal
from typing import Any
from uuid import uuid4

from django.db import transaction
from django.db.utils import IntegrityError
from django.test import TestCase

from server.api.problems import Refused
from server.commands.intake import import_kind
from server.supplies.models import Entry
from tests.server.base import DEMO, DemoCase, make_workshop

D = Decimal


class Stock(DemoCase):
    def receive(self, code: str, quantity: str, cost: str, key: str | None = None, status: int = 200):  # type: ignore[no-untyped-def]
        return self.ask(
            "post",
            f"supplies/{self.supply(code).pk}/receive",
            {"quantity": quantity, "total_cost": cost, "request_key": key or str(uuid4())},
            status=status,
        )

    def test_putting_away_adds_an_entry_and_moves_the_average(self) -> None:
        before = self.stock("C-14")  # 18 at 1.05
        after = self.receive("C-14", "12", "15.60")
        self.assertEqual(D(after["on_hand"]) - D(before["on_hand"]), 12)
        self.assertEqual(D(after["average_cost"]), D("1.150000"))  # (18 x 1.05 + 15.60) / 30
        newest = self.ask("get", f"supplies/{after['id']}/entries")["results"][0]
        self.assertEqual(
            (newest["kind"], D(newest["quantity"]), D(newest["balance"]), newest["by"]), ("received", 12, 30, "Maren")
        )

    def test_the_same_request_twice_posts_once(self) -> None:
        key = str(uuid4())
        first, second = (self.receive("C-14", "5", "5.00", key) for _ in range(2))
        self.assertEqual(first["on_hand"], second["on_hand"])

    def test_a_count_posts_the_difference_and_says_so(self) -> None:
        supply = self.supply("I-SOAP")
        after = self.ask("post", f"supplies/{supply.pk}/count", {"counted": "20", "request_key": str(uuid4())})
        self.assertEqual(D(after["on_hand"]), 20)
        newest = self.ask("get", f"supplies/{supply.pk}/entries")["results"][0]
        self.assertEqual(D(newest["quantity"]), -7)
        self.assertIn("the ledger said 27", newest["note"])

    def test_half_a_carton_and_no_carton_are_refused(self) -> None:
        self.assertIn("whole pieces", self.receive("C-14", "1.5", "1", status=422)["detail"])
        self.receive("C-14", "0", "1", status=422)
        self.receive("C-14", "99999999", "1", status=422)

    def test_reserved_is_what_open_planned_orders_need_and_free_is_the_rest(self) -> None:
        stock = self.stock("C-14")
        rows = self.ask("get", "orders?page_size=100")["results"]
        needed = sum(row["container"].split(", ").count("C-14") for row in rows)
        self.assertEqual(D(stock["reserved"]), needed)
        self.assertEqual(D(stock["free"]), D(stock["on_hand"]) - needed)

    def test_stock_that_comes_in_lets_a_held_order_go(self) -> None:
        self.assertEqual(self.order("1175").state, "held")
        self.receive("C-24", "2", "3.70")
        plan = self.ask("get", f"orders/{self.order('1175').pk}/plan")
        self.assertEqual((plan["plan"]["status"], plan["order"]["state"]), ("planned", "planned"))
        self.assertEqual(plan["plan"]["ways"][0]["parcels"][0]["candidate"]["nested"]["code"], "C-21")

    def test_the_last_carton_is_promised_once(self) -> None:
        supply = self.supply("C-18")
        self.ask("post", f"supplies/{supply.pk}/count", {"counted": "1", "request_key": str(uuid4())})
        states = {
            n: self.ask("get", f"orders/{self.order(n).pk}/plan")["plan"] for n in ("1172", "1174", "1182", "1184")
        }
        users = [
            n for n, plan in states.items() if plan["status"] == "planned" and "C-18" in plan["ways"][0]["containers"]
        ]
        self.assertEqual(len(users), 1)


class Reclaimed(DemoCase):
    def reclaim(self, status: int = 200, **changes: object) -> Any:
        body = {
            "length": "31 cm",
            "width": "220 mm",
            "height": "160",
            "weight": "240 g",
            "board": "single",
            "shelf": "A",
            "request_key": str(uuid4()),
        }
        return self.ask("post", "supplies/reclaimed", {**body, **changes}, status=status)

    def test_one_second_hand_carton_has_its_own_size_a_count_of_one_and_costs_nothing(self) -> None:
        key = str(uuid4())
        one = self.reclaim(request_key=key, note="from the glass works")
        self.assertEqual((one["code"], D(one["on_hand"]), D(one["average_cost"])), ("R-1", 1, 0))
        self.assertEqual(one["name"], "Reclaimed carton 310 x 220 x 160 mm")
        self.assertEqual(one["facts"]["inner"], {"length_um": 310_000, "width_um": 220_000, "height_um": 160_000})
        self.assertEqual(self.reclaim(request_key=key)["id"], one["id"])
        self.assertEqual(self.reclaim()["code"], "R-2")
        entry = self.ask("get", f"supplies/{one['id']}/entries")["results"][0]
        self.assertEqual((entry["kind"], entry["note"]), ("reclaimed", "from the glass works"))

    def test_a_plan_may_take_it_and_it_is_gone_when_it_went_out(self) -> None:
        code = self.reclaim(length="42 cm", width="32 cm", height="22 cm")["code"]
        order = self.order("1172")  # goods of two recipes: any carton that fits
        plan = self.ask("get", f"orders/{order.pk}/plan")["plan"]
        self.assertTrue(any(code in way["containers"] for way in plan["ways"]))
        key = next(way["key"] for way in plan["ways"] if way["containers"] == [code])
        self.ask("post", f"orders/{order.pk}/plan/container", {"container": key})
        self.closed("1172")
        self.assertNotIn(code, [row["code"] for row in self.ask("get", "supplies?page_size=100")["results"]])
        other = self.ask("get", f"orders/{self.order('1184').pk}/plan")["plan"]
        self.assertNotIn(code, [out["container"] for out in other["ruled_out"]])

    def test_a_size_or_weight_that_is_no_cartons_is_refused(self) -> None:
        for field, value in (("length", "2 mm"), ("height", "3 m"), ("weight", "0 g"), ("width", "wide")):
            with self.subTest(field):
                self.assertEqual(self.reclaim(422, **{field: value})["field"], field)
        self.reclaim(422, shelf="AA")


class TheDatabaseHolds(DemoCase):
    def test_an_entry_of_an_unknown_kind_or_a_receipt_of_nothing_cannot_be_written(self) -> None:
        good = Entry.objects.of(self.workshop).first()
        assert good is not None
        for changes in ({"kind": "gift"}, {"kind": "received", "quantity": D(-1)}):
            with self.subTest(changes), self.assertRaises(IntegrityError):
                row = Entry.objects.of(self.workshop).get(pk=good.pk)
                row.pk = None
                for name, value in changes.items():
                    setattr(row, name, value)
                with transaction.atomic():
                    row.save(force_insert=True)


class SuppliesFiles(TestCase):
    def setUp(self) -> None:
        self.workshop = make_workshop("files")

    def test_taking_the_file_in_twice_adds_no_stock(self) -> None:
        content = (DEMO / "supplies.json").read_bytes()
        self.assertEqual(import_kind(self.workshop, "supplies", content, by="t"), "24 new supplies")
        self.assertEqual(import_kind(self.workshop, "supplies", content, by="t"), "0 new supplies")
        self.assertEqual(Entry.objects.of(self.workshop).count(), 23)  # one has nothing on hand

    def test_every_fault_is_named_by_its_path_and_nothing_is_taken_in(self) -> None:
        document = json.loads((DEMO / "supplies.json").read_text())
        document["supplies"][0]["facts"]["inner"]["length_um"] = -1
        document["supplies"][1]["facts"]["tare_mg"] = 1.5
        document["supplies"][2]["colour"] = "red"
        document["supplies"][3].pop("name")
        with self.assertRaises(Refused) as caught:
            import_kind(self.workshop, "supplies", json.dumps(document).encode(), by="t")
        paths = " ".join(fault.path for fault in caught.exception.faults)
        for part in (
            "supplies[0].facts.inner.length_um",
            "supplies[1].facts.tare_mg",
            "supplies[2].colour",
            "supplies[3].name",
        ):
            self.assertIn(part, paths)
        self.assertEqual(Entry.objects.of(self.workshop).count(), 0)
