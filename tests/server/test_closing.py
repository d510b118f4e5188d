"""When a parcel's closure holds, at the bench and at the counter; damp air; files of before (rules 7.3, 7.4)."""

import json
from datetime import timedelta
from typing import Any

from server.bench.models import Parcel
from server.formats.base import read_file
from server.formats.supplies import MailerFacts, SuppliesFile, item_of
from server.orders.models import Order
from tests.server.base import DEMO
from tests.server.test_send_off import SendOffCase


class ClosingCase(SendOffCase):
    def tape(self, **facts: Any) -> None:
        """Give the wetted paper tape other facts."""
        item = self.stock("T-PAP")
        keep = {key: item[key] for key in ("code", "name", "shelf", "slot", "reorder_at", "estimated")}
        body = {"supply": {**keep, "unit_cost": "0.052", "facts": {**item["facts"], **facts}}}
        self.ask("put", f"supplies/{item['id']}", body)

    def closing(self, parcel: Any) -> Any:
        return self.ask("get", f"day/closing/{parcel['id']}")


class Strength(ClosingCase):
    def test_double_sided_tape_is_packed_today_for_the_hand_over_two_days_later(self) -> None:
        self.tape(full_strength_minutes=2880)
        for order in Order.objects.of(self.workshop).filter(state="planned"):
            self.ask("get", f"orders/{order.pk}/plan")  # the worker plans again in the background
        day = self.day()
        thursday = str(self.now.date() + timedelta(days=2))
        post = next(one for one in day["posts"] if one["day"] == thursday)
        mine = {one["number"]: one["post"] for one in self.waiting(day)}
        # Food asks for a closure that shows when it was opened; stoneware does not.
        self.assertEqual((mine["1165"], mine["1166"]), (post["key"], self.today))
        self.assertEqual(post["waiting"], sum(1 for one in self.waiting(day) if one["post"] == post["key"]))
        self.assertLessEqual(max(one["end_s"] for one in day["parcels"] if one["post"] == post["key"]), 56_400)

    def test_at_the_bench_it_says_from_when_it_holds_and_with_what_it_goes(self) -> None:
        self.tape(full_strength_minutes=60)
        parcel = self.to_bench("1165")
        told = self.closing(parcel)
        self.assertEqual((told["wanted"], told["full_strength_s"]), ("evident", 11 * 3600))
        self.assertEqual((told["hand_over"]["at_s"], told["leaves_with"]["key"]), (56_400, told["hand_over"]["key"]))
        self.clock(self.now + timedelta(hours=5))
        late = self.closing(parcel)
        self.assertEqual((late["hand_over"]["at_s"], late["leaves_with"]["at_s"]), (56_400, 86_400 + 56_400))

    def test_at_the_counter_it_is_counted_and_told(self) -> None:
        self.tape(full_strength_minutes=60)
        parcel = self.closed("1165")
        row = Parcel.objects.of(self.workshop).get(pk=parcel["id"])
        assert row.closed_at is not None
        self.assertEqual(row.holds_from, row.closed_at + timedelta(minutes=60))
        self.assertEqual(self.scan("1165")["verdict"], "counted_soft")
        self.ask("post", "send-off/scan/undo", {"parcel_id": parcel["id"]})
        # An hour and a minute later it holds.
        self.clock(row.closed_at + timedelta(minutes=61))
        self.assertEqual(self.scan("1165", key=self.today)["verdict"], "counted")
        self.ask("post", "send-off/scan/undo", {"parcel_id": parcel["id"]})
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "one more card"})
        self.assertIsNone(Parcel.objects.of(self.workshop).get(pk=parcel["id"]).holds_from)

    def test_a_parcel_nobody_asks_a_grade_of_may_leave_at_once(self) -> None:
        self.tape(full_strength_minutes=60)
        parcel = self.closed("1166")
        self.assertIsNone(Parcel.objects.of(self.workshop).get(pk=parcel["id"]).holds_from)


class Damp(ClosingCase):
    def test_the_sensor_goes_before_the_setting_and_a_silent_one_does_not(self) -> None:
        self.tape(weak_above_percent=65)
        parcel = self.to_bench("1165")
        self.assertEqual((self.closing(parcel)["weak"], self.closing(parcel)["from_sensor"]), ([], False))
        self.assertEqual(self.ask("get", "day")["damp"], [])
        self.ask("put", "standins/humidity", {"mode": "damp"})
        damp = self.closing(parcel)
        self.assertEqual((damp["humidity_percent"], damp["from_sensor"]), (78, True))
        self.assertEqual([one["above_percent"] for one in damp["weak"]], [65])
        day = self.ask("get", "day")
        self.assertEqual((day["humidity_percent"], {one["above_percent"] for one in day["damp"]}), (78, {65}))
        self.assertIn("Paper tape, wetted, 70 mm", [one["name"] for one in day["damp"]])
        self.assertGreater(day["damp"][0]["parcels"], 0)
        self.ask("put", "standins/humidity", {"mode": "drop_out"})
        self.ask("put", "settings", {"values": {"humidity_percent": "70"}})
        self.assertGreater(len(self.ask("get", "day")["damp"]), 0)
        silent = self.closing(parcel)
        self.assertEqual((silent["humidity_percent"], silent["from_sensor"], len(silent["weak"])), (70, False, 1))


class Files(ClosingCase):
    def test_a_mailer_of_an_old_file_has_the_closure_of_its_grade(self) -> None:
        old = {
            "kind": "mailer", "flat_length_um": 340_000, "flat_width_um": 250_000, "seal_um": 40_000, "wall_um": 3_000,
            "tare_mg": 50_000, "max_load_mg": 2_000_000,
        }  # fmt: skip
        for grade, closes in (("none", "flap"), ("resistant", "tabs"), ("evident", "strip")):
            self.assertEqual(MailerFacts.model_validate({**old, "grade": grade}).closes, closes)
        with self.assertRaisesRegex(ValueError, "one of none, resistant, evident"):
            MailerFacts.model_validate({**old, "grade": "strong"})

    def test_a_second_hand_carton_has_old_marks(self) -> None:
        document = json.loads((DEMO / "supplies.json").read_text())
        carton = next(one for one in document["supplies"] if one["facts"]["kind"] == "carton")
        carton["facts"]["one_off"] = True
        read = read_file(SuppliesFile, json.dumps(document), what="supplies file")
        item = next(one for one in read.supplies if one.code == carton["code"])
        self.assertTrue(item_of(item.code, item.name, item.facts, item.unit_cost).old_marks)  # type: ignore[union-attr]
