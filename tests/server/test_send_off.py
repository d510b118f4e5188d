"""Send-off over HTTP: each thing that can be wrong with a parcel, the record, taking it back, sheet and files."""

import csv
import io
from datetime import timedelta
from typing import Any
from uuid import uuid4

from server.bench.models import Parcel
from server.carriers.models import Label
from server.day.models import ChosenHandOver, SendOff, SentParcel
from server.orders.models import ChannelFile, Order
from tests.server.test_day import DayCase, collection, times


class SendOffCase(DayCase):
    def setUp(self) -> None:
        super().setUp()
        self.ask("put", "day/times", times(collection("Larkline collects", "larkline", "15:40")))
        self.key = self.ask("get", "day/times")["hand_overs"][0]["id"]

    @property
    def today(self) -> str:
        return f"{self.key}@{self.now.date().isoformat()}"

    def scan(self, code: str, key: str = "", status: int = 200) -> Any:
        return self.ask("post", "send-off/scan", {"hand_over": key or self.today, "code": code}, status=status)

    def off(self) -> Any:
        return next(one for one in self.ask("get", "send-off")["send_offs"] if one["hand_over"]["key"] == self.today)

    def states(self) -> dict[str, str]:
        return {one["number"]: one["state"] for one in self.off()["parcels"]}

    def hand_over(self, key: str | None = None, status: int = 200, **more: Any) -> Any:
        body = {"hand_over": self.today, "request_key": key or str(uuid4()), **more}
        return self.ask("post", "send-off/hand-over", body, status=status)


class Scanning(SendOffCase):
    def test_a_parcel_is_counted_once_by_its_label_or_its_number(self) -> None:
        parcel = self.closed("1165")
        self.assertEqual(self.states()["1165"], "ready")
        first = self.scan(parcel["tracking"])
        self.assertEqual((first["verdict"], first["number"]), ("counted", "1165"))
        self.assertEqual(self.scan("1165")["verdict"], "again")
        off = self.off()
        self.assertEqual((off["counted"], off["weight_mg"]), (1, parcel["measured_mg"]))
        self.ask("post", "send-off/scan/undo", {"parcel_id": parcel["id"]})
        self.assertEqual(self.states()["1165"], "ready")
        self.assertEqual(
            self.ask("post", "send-off/scan/undo", {"parcel_id": parcel["id"]}, status=409)["code"], "not_counted"
        )

    def test_each_thing_that_is_wrong_is_said_and_not_counted(self) -> None:
        self.assertEqual(self.scan("LK000")["verdict"], "unknown")
        self.weighed("1165")
        self.assertEqual(self.scan("1165")["verdict"], "no_label")
        self.labelled("1166")
        self.assertEqual(self.scan("1166")["verdict"], "not_closed")
        self.assertEqual(SentParcel.objects.of(self.workshop).count(), 0)

    def test_a_label_that_was_given_back_is_known_by_its_own_code(self) -> None:
        parcel = self.labelled("1165")
        old = Label.objects.of(self.workshop).get(parcel_id=parcel["id"])
        self.ask("post", f"parcels/{parcel['id']}/label/void", {})
        self.assertEqual(self.scan(old.tracking)["verdict"], "label_given_back")

    def test_a_parcel_of_another_carrier_is_sent_to_its_pile(self) -> None:
        parcel = self.closed("1165")
        Label.objects.of(self.workshop).filter(parcel_id=parcel["id"]).update(carrier="wending")
        found = self.scan("1165")
        self.assertEqual((found["verdict"], found["goes_with"]), ("wrong_carrier", None))

    def test_what_was_put_to_another_day_is_told(self) -> None:
        parcel = self.closed("1165")
        later = f"{self.key}@{(self.now.date() + timedelta(days=1)).isoformat()}"
        ChosenHandOver.objects.of(self.workshop).create(
            workshop=self.workshop, order_id=parcel["order"]["id"], key=later, by="Maren", at=self.now
        )
        found = self.scan("1165")
        self.assertEqual((found["verdict"], found["goes_with"]["key"]), ("not_today", later))

    def test_a_full_hand_over_takes_no_more(self) -> None:
        (now,) = self.ask("get", "day/times")["hand_overs"]
        self.ask("put", "day/times", times({**now, "most_parcels": 1}))
        self.closed("1165"), self.closed("1166")
        self.assertEqual([self.scan(one)["verdict"] for one in ("1165", "1166")], ["counted", "full"])

    def test_a_hand_over_that_is_not_there_is_refused(self) -> None:
        self.assertEqual(self.scan("1165", key="99@2026-01-01", status=404)["code"], "not_found")


class HandingOver(SendOffCase):
    def test_what_is_counted_leaves_once_and_the_rest_goes_with_the_next(self) -> None:
        one, other = self.closed("1165"), self.closed("1166")
        self.assertEqual(self.hand_over(status=409)["code"], "nothing_counted")
        self.scan("1165")
        key = str(uuid4())
        first = self.hand_over(key, taken_by="Rill")
        self.assertEqual(self.hand_over(key), first)  # sent twice
        self.assertEqual(SendOff.objects.of(self.workshop).count(), 1)
        self.assertEqual(self.hand_over(status=409)["code"], "already_handed_over")
        self.assertEqual(self.scan("1166", status=409)["code"], "already_handed_over")
        left = Parcel.objects.of(self.workshop).get(pk=one["id"])
        self.assertEqual(left.handed_over_at, self.now)
        screen = self.ask("get", "send-off")
        (record,) = screen["records"]
        self.assertEqual((record["parcels"], record["taken_by"], record["undo"]), (1, "Rill", True))
        tomorrow = next(o for o in screen["send_offs"] if any(p["number"] == "1166" for p in o["parcels"]))
        self.assertGreater(tomorrow["hand_over"]["day"], self.now.date().isoformat())
        self.assertIsNone(Parcel.objects.of(self.workshop).get(pk=other["id"]).handed_over_at)
        self.assertEqual(self.ask("get", "rail")["send_off"], 1)

    def test_what_left_is_not_reopened_and_not_scanned_again(self) -> None:
        parcel = self.closed("1165")
        self.scan("1165")
        self.hand_over()
        refused = self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "forgot"}, status=409)
        self.assertEqual(refused["code"], "handed_over")
        tomorrow = f"{self.key}@{(self.now.date() + timedelta(days=1)).isoformat()}"
        self.assertEqual(self.scan("1165", key=tomorrow)["verdict"], "handed_over")

    def test_it_is_undone_within_the_hour_and_not_after(self) -> None:
        parcel = self.closed("1165")
        self.scan("1165")
        record = self.hand_over()
        for _ in range(2):
            self.assertTrue(self.ask("post", f"send-off/{record['id']}/undo")["undone"])
        self.assertIsNone(Parcel.objects.of(self.workshop).get(pk=parcel["id"]).handed_over_at)
        self.assertEqual(self.states()["1165"], "counted")
        again = self.hand_over()
        self.clock(self.now + timedelta(minutes=61))
        self.assertEqual(self.ask("post", f"send-off/{again['id']}/undo", status=409)["code"], "too_late")
        self.assertEqual(self.ask("post", "send-off/999/undo", status=404)["code"], "not_found")

    def test_a_reopened_parcel_is_off_the_count(self) -> None:
        parcel = self.closed("1165")
        self.scan("1165")
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "forgot the card"})
        self.assertEqual(self.hand_over(status=409)["code"], "nothing_counted")


class Papers(SendOffCase):
    def test_the_sheet_names_every_parcel_and_their_sum(self) -> None:
        self.closed("1165"), self.closed("1166")
        self.scan("1165"), self.scan("1166")
        before = self.ask("get", f"send-off/sheet.pdf?hand_over={self.today}")
        self.assertEqual(before.headers["Content-Type"], "application/pdf")
        record = self.hand_over()
        sheet = self.ask("get", f"send-off/sheet.pdf?id={record['id']}")
        self.assertTrue(sheet.content.startswith(b"%PDF"))
        self.assertNotEqual(before.content, sheet.content)
        self.assertEqual(self.ask("get", "send-off/sheet.pdf?id=999", status=404)["code"], "not_found")
        self.assertEqual(self.ask("get", "send-off/sheet.pdf", status=404)["code"], "not_found")

    def rows(self, record: Any, channel: str) -> list[dict[str, str]]:
        answer = self.ask("get", f"send-off/{record['id']}/tracking.csv?channel={channel}")
        return list(csv.DictReader(io.StringIO(answer.content.decode())))

    def test_a_channels_file_has_its_own_columns_and_the_tracking_number(self) -> None:
        parcel = self.closed("1165")
        channel = self.order("1165").channel
        ChannelFile.objects.of(self.workshop).create(
            workshop=self.workshop,
            name=channel,
            head=["Sale No", "Who", "Code", "Many"],
            matching={"columns": {"order": ["Sale No"], "buyer": ["Who"], "postcode": ["Code"], "quantity": ["Many"]}},
            used_at=self.now,
        )
        self.scan("1165")
        record = self.hand_over()
        (row,) = self.rows(record, channel)
        order = self.order("1165")
        self.assertEqual(
            (row["Sale No"], row["Who"], row["Code"], row["Many"]), ("1165", order.buyer, order.postcode, "")
        )
        self.assertEqual((row["Tracking number"], row["Carrier"]), (parcel["tracking"], "larkline"))
        self.assertEqual(row["Sent on"], self.now.date().isoformat())

    def test_without_a_kept_file_it_has_ours_and_an_unknown_channel_has_none(self) -> None:
        self.closed("1165")
        self.scan("1165")
        record = self.hand_over()
        (row,) = self.rows(record, self.order("1165").channel)
        self.assertEqual(row["order"], "1165")
        missing = self.ask("get", f"send-off/{record['id']}/tracking.csv?channel=Nobody", status=404)
        self.assertEqual(missing["code"], "not_found")


class Gathering(DayCase):
    def wave(self) -> Any:
        return self.day()["wave"]

    def test_a_waves_list_holds_what_its_parcels_need(self) -> None:
        wave = self.wave()
        found = self.ask("get", f"day/gather?parcels={','.join(wave['parcels'])}")
        self.assertEqual([one["key"] for one in found["parcels"]], wave["parcels"])
        goods = {one["code"]: float(one["quantity"]) for one in found["goods"]}
        self.assertEqual(goods, {one["code"]: float(one["count"]) for one in wave["goods"]})
        for one in found["goods"]:
            self.assertEqual(sum(float(per["quantity"]) for per in one["per"]), float(one["quantity"]))
        places = [one["place"] for one in found["goods"]]
        self.assertEqual(places, sorted(places, key=lambda place: (place[:1], int(place[1:] or 0))))

    def test_on_paper_it_comes_in_two_sizes(self) -> None:
        keys = ",".join(self.wave()["parcels"])
        large = self.ask("get", f"day/gather.pdf?parcels={keys}&paper=a4").content
        small = self.ask("get", f"day/gather.pdf?parcels={keys}&paper=label").content
        self.assertTrue(large.startswith(b"%PDF") and small.startswith(b"%PDF") and large != small)

    def test_what_is_missing_holds_only_its_order(self) -> None:
        wave = self.wave()
        first, *rest = wave["order_ids"]
        self.ask("post", "day/missing", {"order_id": first, "what": "Oat soap"})
        states = {order_id: _order(self, order_id).state for order_id in wave["order_ids"]}
        self.assertEqual(states[first], "held")
        self.assertTrue(all(states[one] == "planned" for one in rest))
        self.assertIn("Oat soap", _order(self, first).hold_text)

    def test_a_wave_goes_to_the_bench_together(self) -> None:
        wave = self.wave()
        begun = self.ask("post", "day/begin", {"order_ids": wave["order_ids"]})
        self.assertEqual(len(begun["parcel_ids"]), len(wave["order_ids"]))
        self.assertEqual(self.ask("post", "day/begin", {"order_ids": wave["order_ids"]}), begun)
        self.assertTrue(all(_order(self, one).state == "bench" for one in wave["order_ids"]))

    def test_an_order_that_cannot_be_begun_is_told_and_keeps_none_of_the_others(self) -> None:
        first, *rest = self.wave()["order_ids"]
        self.ask("post", f"orders/{first}/hold", {"reason": "the glaze is wet"})
        begun = self.ask("post", "day/begin", {"order_ids": [first, *rest]})
        self.assertEqual((len(begun["parcel_ids"]), begun["refused"][0]["order_id"]), (len(rest), first))
        self.assertIn("the glaze is wet", " ".join(begun["refused"][0]["reason"]))

    def test_wrong_keys_are_named(self) -> None:
        for keys, status in (("", 400), ("soon", 400), ("1-x", 400), ("999999-1", 404)):
            self.assertIn("detail", self.ask("get", f"day/gather?parcels={keys}", status=status))


def _order(case: DayCase, order_id: int) -> Order:
    return Order.objects.of(case.workshop).get(pk=order_id)
