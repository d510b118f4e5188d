"""A file of another program at the API: asked about once, kept under its channel's name, then read silently."""

import json
from base64 import b64encode
from datetime import timedelta
from typing import Any
from uuid import uuid4

from server.orders.models import ChannelFile, GoodsName, Order
from server.workshops.clock import today
from tests.server.base import DemoCase, make_member, make_workshop

HEAD = "Ticket;Sold;Who;Street;Town;Code;Land;Thing;Many;Each"


class AnyFile(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.day = today(self.workshop)

    def file(self, *lines: str, head: str = HEAD) -> dict[str, object]:
        text = "\n".join([head, *lines])
        return {"name": "stall.csv", "content_base64": b64encode(text.encode()).decode()}

    def line(self, number: str, sku: str = "PRE-BLK", many: str = "2", each: str = "6,80", code: str = "HW3 2") -> str:
        day = f"{self.day.day}.{self.day.month}.{self.day.year}"
        return f"{number};{day};Ann Reed {number};1 Low Row;Hallowfen;{code};ALM;{sku};{many};{each}"

    def preview(self, body: Any) -> Any:
        return self.ask("post", "orders/intake/preview", body)

    def matched(self, preview: dict[str, object], **columns: str) -> dict[str, object]:
        matching = preview["matching"]
        found = {one["name"]: one["columns"] for one in matching["fields"] if one["columns"]}  # type: ignore[index]
        found |= {name: [column] for name, column in columns.items()}
        return {
            "columns": found,
            "day_order": matching["day_order"],  # type: ignore[index]
            "decimal_mark": matching["decimal_mark"],  # type: ignore[index]
            "constants": {},
            "words": {},
        }

    COLUMNS = {
        "order": "Ticket",
        "buyer": "Who",
        "postcode": "Code",
        "quantity": "Many",
        "unit_price": "Each",
        "sku": "Thing",
    }

    def test_what_is_missing_is_asked_and_nothing_is_imported_before_it_is_answered(self) -> None:
        body = self.file(self.line("S1"))
        seen = self.preview(body)
        self.assertEqual(seen["kind"], "asked")
        asked = {(one["about"], one["field"]) for one in seen["matching"]["questions"]}
        self.assertIn(("missing", "order"), asked)
        refused = self.ask("post", "orders/intake/accept", body, status=422)
        self.assertEqual(refused["code"], "not_matched")
        self.assertFalse(Order.objects.of(self.workshop).filter(number="S1").exists())

    def test_once_matched_and_named_the_next_file_is_read_without_a_question(self) -> None:
        first = self.file(self.line("S1"), self.line("S2", many="1"))
        matching = self.matched(self.preview(first), **self.COLUMNS)
        again = self.preview({**first, "matching": matching, "channel": "Stall"})
        self.assertEqual((again["new_orders"], again["matching"]["questions"]), (2, []))
        no_name = self.ask("post", "orders/intake/accept", {**first, "matching": matching}, status=422)
        self.assertEqual(no_name["code"], "no_channel")
        took = self.ask("post", "orders/intake/accept", {**first, "matching": matching, "channel": "Stall"})
        self.assertEqual((took["new_orders"], took["kept_channel"]), (2, "Stall"))
        order = self.order("S1")
        self.assertEqual((order.channel, order.postcode, str(order.goods_value)), ("Stall", "HW3 2", "13.60"))
        next_file = self.file(self.line("S2", many="1"), self.line("S3"), head=HEAD.replace("Ticket", "TICKET"))
        seen = self.preview(next_file)
        self.assertEqual(
            (seen["kind"], seen["channel"], seen["new_orders"], seen["known_orders"]), ("kept", "Stall", 1, 1)
        )
        self.assertEqual(self.ask("post", "orders/intake/accept", next_file)["new_orders"], 1)
        other = self.preview(self.file(self.line("S4") + ";x", head=HEAD + ";Extra"))
        self.assertEqual((other["kind"], other["channel"]), ("asked", "Stall"))
        self.assertEqual(other["matching"]["questions"], [])

    def test_unknown_goods_are_matched_once_and_remembered(self) -> None:
        body = self.file(self.line("S1", sku="jam-black"))
        matching = self.matched(self.preview(body), **self.COLUMNS)
        body |= {"matching": matching, "channel": "Stall"}
        seen = self.preview(body)
        self.assertEqual(seen["unknown"], [{"said": "jam-black", "title": "", "lines": 1}])
        self.ask("post", "orders/intake/accept", body)
        self.assertEqual(self.order("S1").lines.get().product, None)
        bad = {**body, "goods": {"jam-black": "NOT-THERE"}}
        self.assertEqual(self.ask("post", "orders/intake/accept", bad, status=422)["code"], "unknown_product")
        took = self.ask("post", "orders/intake/accept", {**body, "goods": {"jam-black": "PRE-BLK"}})
        self.assertEqual((took["new_orders"], took["known_orders"], took["changed_orders"]), (0, 1, 0))
        line = self.order("S1").lines.get()
        self.assertEqual((line.sku, line.product.sku if line.product else ""), ("PRE-BLK", "PRE-BLK"))
        later = self.preview(self.file(self.line("S9", sku="jam-black")))
        self.assertEqual((later["unknown"], later["lines"][0]["sku"]), ([], "PRE-BLK"))
        names = self.ask("get", "goods-names")["results"]
        self.assertEqual([(one["said"], one["sku"]) for one in names], [("jam-black", "PRE-BLK")])
        self.ask("delete", f"goods-names/{names[0]['id']}", status=204)
        self.assertFalse(GoodsName.objects.of(self.workshop).exists())

    def test_addresses_no_carrier_reaches_are_told_before_the_import(self) -> None:
        body = self.file(self.line("S1", code="ZZ99").replace("ALM", "Torrin"), self.line("S2"))
        matching = self.matched(self.preview(body), **self.COLUMNS, country="Land")
        asked = self.preview({**body, "matching": matching, "channel": "Stall"})
        self.assertEqual(asked["matching"]["questions"], [{"about": "word", "field": "country", "sample": "Torrin"}])
        matching["words"] = {"country": {"Torrin": "TOR"}}
        seen = self.preview({**body, "matching": matching, "channel": "Stall"})
        self.assertEqual([one["order"] for one in seen["places"]], ["S1"])
        self.assertEqual(seen["lines"][0]["label"], ["Ann Reed S1", "1 Low Row", "Hallowfen", "ZZ99 TOR"])

    def test_a_column_that_is_not_there_is_named(self) -> None:
        body = self.file(self.line("S1"))
        matching = self.matched(self.preview(body), **{**self.COLUMNS, "order": "Nope"})
        refused = self.ask("post", "orders/intake/preview", {**body, "matching": matching}, status=422)
        self.assertEqual((refused["code"], refused["field"]), ("no_column", "matching.columns.order"))
        self.assertIn("Ticket", refused["detail"])

    def test_a_kept_channel_belongs_to_its_workshop(self) -> None:
        body = self.file(self.line("S1"))
        self.ask(
            "post",
            "orders/intake/accept",
            {**body, "matching": self.matched(self.preview(body), **self.COLUMNS), "channel": "Stall"},
        )
        kept = ChannelFile.objects.of(self.workshop).get()
        self.as_(make_member(make_workshop("elsewhere"), "rival", "owner"))
        self.assertEqual(self.preview(body)["kind"], "asked")
        self.ask("delete", f"channel-files/{kept.pk}", status=404)


class Sending(DemoCase):
    """Orders sent by another program, and the change that came of it."""

    def send(self, number: str = "N1", revision: int = 1, many: int = 2, **more: object) -> dict[str, object]:
        order = {
            "number": number,
            "revision": revision,
            "placed_on": (today(self.workshop) - timedelta(days=1)).isoformat(),
            "buyer": "Ida Brook",
            "address": "7 Mill Lane",
            "town": "Hallowfen",
            "postcode": "HW3 2",
            "country": "ALM",
            "postage_charged": "4.50",
            "lines": [{"sku": "PRE-BLK", "quantity": many, "unit_price": "6.80"}],
            **more,
        }
        body = {"request_key": str(uuid4()), "channel": "Fern Stalls", "orders": [order]}
        result = self.ask("post", "incoming/orders", body)["orders"][0]["result"]
        order_row = self.order(number)
        if order_row.state not in ("joined", "cancelled"):
            self.ask("get", f"orders/{order_row.pk}/plan")
        return {"result": result, "order": order_row}

    def change(self) -> dict[str, object]:
        (found,) = self.ask("get", "orders/changes")["results"]
        return found  # type: ignore[no-any-return]


class Changes(Sending):
    """An order that comes again otherwise is held, shown with what it does, and applied or ignored when asked."""

    def test_a_changed_order_waits_and_is_changed_on_request_with_what_it_does(self) -> None:
        self.assertEqual(self.send()["result"], "new")
        self.assertEqual(self.order("N1").state, "planned")
        self.assertEqual(self.send(revision=2, many=4)["result"], "changed")
        self.assertEqual((self.order("N1").state, self.order("N1").hold_code), ("held", "changed"))
        change = self.change()
        self.assertEqual(
            [(one["part"], one["of"], one["before"], one["after"]) for one in change["differences"]],  # type: ignore[attr-defined]
            [("goods", "PRE-BLK", "2", "4")],
        )
        effect = self.ask("get", f"orders/changes/{change['id']}/effect")
        self.assertLess(effect["before"]["gross_mg"], effect["after"]["gross_mg"])
        self.assertTrue(any(one["before"] != one["after"] for one in effect["shifts"]))
        refused = self.ask("post", f"orders/{self.order('N1').pk}/release", status=409)
        self.assertEqual(refused["code"], "change_waits")
        done = self.ask("post", f"orders/changes/{change['id']}/apply")
        self.assertEqual((done["lines"][0]["quantity"], done["state"], done["held_by"]), (4, "planned", ""))
        self.assertEqual(self.ask("post", f"orders/changes/{change['id']}/apply")["lines"][0]["quantity"], 4)
        self.assertEqual(self.send(revision=2, many=4)["result"], "known")

    def test_an_older_message_after_a_newer_one_changes_nothing(self) -> None:
        self.send(revision=5, many=3)
        self.assertEqual(self.send(revision=4, many=1)["result"], "known")
        self.assertEqual(self.ask("get", "orders/changes")["count"], 0)

    def test_a_cancelled_order_is_cancelled_on_request(self) -> None:
        self.send()
        self.assertEqual(self.send(revision=2, status="cancelled")["result"], "cancelled")
        change = self.change()
        effect = self.ask("get", f"orders/changes/{change['id']}/effect")
        self.assertIsNone(effect["after"])
        self.assertTrue(all(float(one["after"]) == 0 for one in effect["shifts"]))
        self.assertEqual(self.ask("post", f"orders/changes/{change['id']}/apply")["state"], "cancelled")
        self.assertEqual(self.ask("get", "orders/changes")["count"], 0)

    def test_an_order_that_is_wanted_again_is_told_and_opened_again_on_request(self) -> None:
        self.send()
        self.send(revision=2, status="cancelled")
        self.ask("post", f"orders/changes/{self.change()['id']}/apply")
        self.assertEqual(self.send(revision=2, status="cancelled")["result"], "known")
        for _ in range(2):  # sent twice it is told once
            self.assertEqual(self.send(revision=3)["result"], "changed")
        change = self.change()
        self.assertEqual(change["differences"], [{"part": "cancelled", "of": "", "before": "yes", "after": "no"}])
        effect = self.ask("get", f"orders/changes/{change['id']}/effect")
        self.assertIsNone(effect["before"])
        self.assertTrue(effect["after"]["planned"])
        self.assertEqual(self.ask("post", f"orders/changes/{change['id']}/apply")["state"], "planned")
        self.assertEqual(self.order("N1").hold_code, "")
        self.assertEqual(self.send(revision=3)["result"], "known")
        self.assertEqual(self.send(revision=4, status="cancelled")["result"], "cancelled")

    def test_an_order_cancelled_here_stays_so_whatever_its_channel_changes(self) -> None:
        self.send()
        self.ask("post", f"orders/{self.order('N1').pk}/cancel", {"reason": "She called"})
        self.assertEqual(self.send(revision=2)["result"], "known")
        self.assertEqual(self.send(revision=3, many=3)["result"], "changed")
        self.assertEqual(self.ask("post", f"orders/changes/{self.change()['id']}/apply")["state"], "cancelled")
        order = self.order("N1")
        self.assertEqual((order.hold_text, order.lines.get().quantity), ("She called", 3))

    def test_an_ignored_change_is_not_asked_about_again_and_the_order_can_be_packed(self) -> None:
        self.send()
        self.send(revision=2, many=4)
        kept = self.ask("post", f"orders/changes/{self.change()['id']}/ignore")
        self.assertEqual((kept["state"], kept["lines"][0]["quantity"]), ("planned", 2))
        self.assertEqual(self.send(revision=3, many=4)["result"], "known")

    def test_at_the_bench_it_stops_the_label_until_it_is_looked_at(self) -> None:
        self.send()
        parcel = self.weighed("N1")
        self.send(revision=2, many=4)
        refused = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}, status=409)
        self.assertEqual(refused["code"], "change_waits")
        change = self.change()
        self.assertFalse(change["may_apply"])
        self.assertEqual(self.ask("post", f"orders/changes/{change['id']}/apply", status=409)["code"], "not_open")
        self.ask("post", f"parcels/{parcel['id']}/hold", {"words": "the buyer changed it"})
        done = self.ask("post", f"orders/changes/{change['id']}/apply")
        self.assertEqual(done["lines"][0]["quantity"], 4)

    def test_a_bad_order_among_good_ones_is_left_out_whole_and_named(self) -> None:
        base = json.loads(json.dumps({
            "placed_on": today(self.workshop).isoformat(), "buyer": "B", "town": "T", "postcode": "HW3 2",
            "country": "ALM",
            "lines": [{"sku": "PRE-BLK", "quantity": 1, "unit_price": "6.80"}],
        }))  # fmt: skip
        later = (today(self.workshop) + timedelta(days=3)).isoformat()
        body = {
            "request_key": str(uuid4()),
            "channel": "Fern Stalls",
            "orders": [{**base, "number": "G1"}, {**base, "number": "G2", "placed_on": later}],
        }
        answer = self.ask("post", "incoming/orders", body)
        self.assertEqual([one["result"] for one in answer["orders"]], ["new", "fault"])
        self.assertEqual(answer["orders"][1]["faults"][0]["field"], "placed_on")
        self.assertEqual(self.ask("post", "incoming/orders", body), answer)
        self.assertFalse(Order.objects.of(self.workshop).filter(number="G2").exists())


class Joining(Sending):
    """Two open orders of one buyer to one place are offered as one parcel."""

    def joined(self) -> Any:
        self.send("N1")
        self.send("N2", many=1)
        (offer,) = self.ask("get", "orders/joins")["offers"]
        self.assertEqual([one["number"] for one in offer["orders"]], ["N1", "N2"])
        ids = [one["id"] for one in offer["orders"]]
        effect = self.ask("post", "orders/joins/effect", {"order_ids": ids})
        self.assertLess(float(effect["after"]["total"]), float(effect["before"]["total"]))
        lead = self.ask("post", "orders/joins", {"order_ids": ids})
        self.assertEqual(self.ask("post", "orders/joins", {"order_ids": ids})["id"], lead["id"])
        return lead

    def test_joined_they_are_one_parcel_and_the_other_waits_beside_it(self) -> None:
        lead = self.joined()
        self.assertEqual((lead["joined"], sum(one["quantity"] for one in lead["lines"])), (["N2"], 3))
        self.assertEqual((lead["state"], self.order("N2").state), ("planned", "joined"))
        self.assertEqual(self.ask("get", "orders/joins")["offers"], [])
        self.ask("post", "parcels/begin", {"order_id": self.order("N2").pk}, status=409)
        self.assertEqual(
            self.ask("post", f"orders/{self.order('N2').pk}/cancel", {"reason": "why"}, status=409)["code"], "joined"
        )
        parcel = self.closed("N1")
        other = self.ask("get", f"orders/{self.order('N2').pk}")
        self.assertEqual((other["joined_into"], other["tracking"]), ("N1", parcel["tracking"]))

    def test_parted_each_has_its_own_lines_and_plan_again(self) -> None:
        lead = self.joined()
        apart = self.ask("post", f"orders/{lead['id']}/part")
        self.assertEqual((apart["joined"], [one["quantity"] for one in apart["lines"]]), ([], [2]))
        other = self.ask("get", f"orders/{self.order('N2').pk}")
        self.assertEqual((other["state"], [one["quantity"] for one in other["lines"]]), ("planned", [1]))
        self.assertEqual(str(self.order("N1").goods_value), "13.60")
        self.assertEqual(self.ask("post", f"orders/{lead['id']}/part", status=409)["code"], "not_joined")

    def test_a_cancelled_part_holds_the_parcel_until_they_are_parted(self) -> None:
        lead = self.joined()
        self.send("N2", revision=2, many=1, status="cancelled")
        self.assertEqual(self.order("N1").hold_code, "changed")
        change = self.change()
        self.assertEqual(self.ask("post", f"orders/changes/{change['id']}/apply", status=409)["code"], "joined")
        self.ask("post", f"orders/{lead['id']}/part")
        self.ask("post", f"orders/changes/{change['id']}/apply")
        self.assertEqual((self.order("N1").hold_code, self.order("N2").state), ("", "cancelled"))

    def test_orders_to_other_places_are_not_joined(self) -> None:
        self.send("N1")
        self.send("N2", address="8 Mill Lane")
        self.assertEqual(self.ask("get", "orders/joins")["offers"], [])
        ids = [self.order(number).pk for number in ("N1", "N2")]
        self.assertEqual(self.ask("post", "orders/joins", {"order_ids": ids}, status=409)["code"], "other_place")
