"""Orders typed in and changed, price lists typed in: planned, reserved, told; sent twice, by two people, wrongly."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any
from uuid import uuid4

from server.orders.models import Order
from server.plans.models import PlannedUse
from server.recipes.models import Product
from tests.server.base import DEMO, DemoCase


def order(**change: Any) -> dict[str, Any]:
    return {
        "buyer": "Ottilie Fenn",
        "address": ["2 Mill Lane", "Dunmere"],
        "postcode": "dm3 1",
        "country": "ALM",
        "lines": [{"sku": "PRE-BLK", "quantity": 2, "unit_price": "6.50"}],
        **change,
    }


class TypedIn(DemoCase):
    def add(self, status: int = 201, key: str = "", **change: Any) -> Any:
        body = {"order": order(**change), "request_key": key or str(uuid4())}
        return self.ask("post", "orders/by-hand", body, status=status)

    def test_it_is_planned_at_once_and_reserves(self) -> None:
        made = self.add()
        self.assertEqual((made["number"], made["state"], made["postcode"]), ("H-1", "planned", "DM3 1"))
        self.assertEqual((made["channel"], made["goods_value"]), ("counter", "13.00"))
        self.assertTrue(PlannedUse.objects.of(self.workshop).filter(plan__order_id=made["id"]).exists())
        self.assertEqual(self.add()["number"], "H-2")

    def test_sent_twice_it_is_one_order(self) -> None:
        key = str(uuid4())
        self.assertEqual(self.add(key=key)["id"], self.add(key=key)["id"])
        self.assertEqual(Order.objects.of(self.workshop).filter(channel="counter").count(), 1)

    def test_not_paid_it_is_held_and_paid_it_is_not(self) -> None:
        made = self.add(paid=False)
        self.assertEqual((made["state"], made["held_by"]), ("held", "not_paid"))
        body = {"order": order(), "revision": made["revision"]}
        self.assertEqual(self.ask("post", f"orders/{made['id']}/change", body)["state"], "planned")

    def test_what_is_wrong_is_named_by_its_line(self) -> None:
        line = {"sku": "PRE-BLK", "quantity": 1, "unit_price": "1"}
        for lines, field, code in (
            ([line, {**line, "sku": "NOTHING"}], "lines.1.sku", "unknown_product"),
            ([line, line], "lines.1.sku", "twice"),
        ):
            said = self.add(status=422, lines=lines)
            self.assertEqual((said["field"], said["code"]), (field, code))
        changes: tuple[dict[str, Any], ...] = (
            {"lines": []},
            {"buyer": ""},
            {"address": []},
            {"country": "Alm"},
            {"lines": [{**line, "quantity": 0}]},
        )
        for change in changes:
            with self.subTest(change):
                self.add(status=422, **change)
        self.add(number="A 7")
        self.assertEqual(self.add(status=409, number="A 7")["code"], "number_taken")
        self.assertEqual(Order.objects.of(self.workshop).filter(channel="counter").count(), 1)

    def test_buyers_are_found_by_part_of_the_name_once_a_place(self) -> None:
        self.add()
        self.add(postcode="AC1")
        self.add()
        found = self.ask("get", "buyers?find=tilie fe")["buyers"]
        self.assertEqual([(one["postcode"], one["orders"]) for one in found][:2], [("DM3 1", 2), ("AC1", 1)])
        self.assertEqual(self.ask("get", "buyers?find=")["buyers"], [])

    def test_a_sketch_says_what_comes_of_it_and_saves_nothing(self) -> None:
        before = PlannedUse.objects.of(self.workshop).count()
        said = self.ask("post", "orders/by-hand/sketch", {"order": order()})["after"]
        made = self.add()
        self.assertEqual((said["planned"], said["total"]), (True, made["total"]))
        self.assertIsNone(self.ask("post", "orders/by-hand/sketch", {"order": order()})["before"])
        self.assertGreater(PlannedUse.objects.of(self.workshop).count(), before)
        nowhere = self.ask("post", "orders/by-hand/sketch", {"order": order(country="ZZ")})["after"]
        self.assertEqual((nowhere["planned"], nowhere["zone_known"]), (False, False))
        self.assertTrue(nowhere["missing"])
        self.assertEqual(Order.objects.of(self.workshop).filter(channel="counter").count(), 1)

    def test_a_change_frees_what_was_reserved_and_plans_again(self) -> None:
        made = self.add()
        used = PlannedUse.objects.of(self.workshop).filter(plan__order_id=made["id"])
        first = set(used.values_list("supply__code", "quantity"))
        self.ask(
            "post", f"orders/{made['id']}/plan/overrides", {"forbidden": ["C-05"], "may_lie_down": [], "note": "x"}
        )
        more = order(lines=[{"sku": "PRE-BLK", "quantity": 6, "unit_price": "6.50"}])
        sketch = self.ask("post", "orders/by-hand/sketch", {"order": more, "order_id": made["id"]})
        self.assertTrue(sketch["before"]["planned"])
        now = self.ask("post", f"orders/{made['id']}/change", {"order": more, "revision": 0})
        self.assertEqual((now["revision"], now["total"]), (1, sketch["after"]["total"]))
        self.assertNotEqual(set(used.values_list("supply__code", "quantity")), first)
        self.assertEqual(self.ask("get", f"orders/{made['id']}/plan")["overrides"]["forbidden"], [])

    def test_a_second_persons_change_is_told_not_overwritten(self) -> None:
        made = self.add()
        path = f"orders/{made['id']}/change"
        self.ask("post", path, {"order": order(note="ring twice"), "revision": 0})
        said = self.ask("post", path, {"order": order(note="never ring"), "revision": 0}, status=409)
        self.assertEqual(said["code"], "changed_meanwhile")
        self.assertEqual(self.ask("get", f"orders/{made['id']}")["note"], "ring twice")

    def test_at_the_bench_packed_or_cancelled_the_way_back_is_named(self) -> None:
        made = self.add()
        self.ask("post", "parcels/begin", {"order_id": made["id"]})
        said = self.ask("post", f"orders/{made['id']}/change", {"order": order(), "revision": 0}, status=409)
        self.assertIn("Take it off there first", said["detail"])
        other = self.add()
        self.ask("post", f"orders/{other['id']}/cancel", {"reason": "not wanted"})
        self.ask("post", f"orders/{other['id']}/change", {"order": order(), "revision": 0}, status=409)
        self.ask("post", "orders/999999/change", {"order": order(), "revision": 0}, status=404)

    def test_an_imported_order_can_be_changed_too(self) -> None:
        row = self.order("1160")
        body = order(lines=[{"sku": "PRE-BLK", "quantity": 1, "unit_price": "6.50"}])
        now = self.ask("post", f"orders/{row.pk}/change", {"order": body, "revision": 0})
        self.assertEqual((now["number"], now["channel"], len(now["lines"])), ("1160", row.channel, 1))
        self.assertEqual(Product.objects.of(self.workshop).get(sku="PRE-BLK").sku, now["lines"][0]["sku"])


LIST = json.loads(Path(DEMO / "tariffs" / "larkline-2026-07.json").read_text())
PARCEL = {
    "outer_um": [300_000, 200_000, 150_000],
    "gross_weight_mg": 1_400_000,
    "destination": {"country": "ALM", "postcode": "DM1"},
}


class PriceListTypedIn(DemoCase):
    def check(self, **change: Any) -> Any:
        return self.ask("post", "tariffs/check", {"document": {**deepcopy(LIST), **change}, "parcel": PARCEL})

    def test_it_says_what_the_import_would_and_asks_what_it_asks(self) -> None:
        said = self.check()
        self.assertEqual(said["faults"], [])
        asked = self.ask("post", "rates/compare", PARCEL)
        prices = {one["quote"]["service"]: one["quote"]["price"] for one in asked["offers"] if not one["flat"]}
        mine = {one["service"]: one["price"] for one in said["quotes"]}
        self.assertTrue(prices)
        self.assertEqual({service: mine[service] for service in prices}, prices)

    def test_errors_are_the_imports_own(self) -> None:
        broken = deepcopy(LIST)
        broken["services"][0]["zones"][0]["steps"][0]["price"] = "free"
        broken["services"][0]["days_moved"] = []
        broken["valid_from"] = "soon"
        said = self.ask("post", "tariffs/check", {"document": broken})["faults"]
        refused = self.ask("post", "tariffs", {"content": json.dumps(broken)}, status=422)["faults"]
        self.assertEqual(said, refused)
        self.assertGreaterEqual(len(said), 3)
        self.assertTrue(self.ask("post", "tariffs/check", {"document": {}})["faults"])

    def test_nothing_is_saved(self) -> None:
        before = self.ask("get", "tariffs")["count"]
        self.check(tariff_version="other", valid_from="2027-01-01")
        self.assertEqual(self.ask("get", "tariffs")["count"], before)
