"""Buying over HTTP: cover, the list, orders to suppliers, receiving, counting, converting; who may, bad input."""

from datetime import timedelta
from decimal import Decimal
from typing import Any
from uuid import uuid4

from django.utils import timezone

from server.plans.models import Plan
from server.plans.waves import see_to_due
from server.supplies.models import Entry, Purchase, PurchaseLine, UsedOn
from server.workshops.clock import today
from tests.server.base import DemoCase

D = Decimal


class BuyingCase(DemoCase):
    def key(self) -> str:
        return str(uuid4())

    def supplier(self, name: str = "Marlpit Board", **more: Any) -> Any:
        body = {"name": name, "lead_days": 4, "delivery": "6.50", "free_from": "90.00", **more}
        return self.ask("post", "suppliers", body, status=201)

    def offer(self, supplier: Any, code: str, price: str = "0.82", **more: Any) -> None:
        body = {"pack": "25", "prices": [{"quantity": "0", "price": price}], **more}
        self.ask("put", f"suppliers/{supplier['id']}/offers/{self.supply(code).pk}", body)

    def use(self, code: str, a_week: int, weeks: int = 6) -> None:
        """Write down that so many were used in each of the last weeks."""
        supply = self.supply(code)
        Entry.objects.of(self.workshop).filter(supply=supply).update(at=timezone.now() - timedelta(weeks=12))
        for week in range(1, weeks + 1):
            day = today(self.workshop) - timedelta(days=7 * week - 3)
            UsedOn.objects.of(self.workshop).create(workshop=self.workshop, supply=supply, day=day, quantity=D(a_week))

    def cover(self, code: str) -> Any:
        return next(one for one in self.ask("get", "buying/cover")["rows"] if one["code"] == code)

    def bought(self, supplier: Any, *lines: tuple[str, str, str], **more: Any) -> Any:
        body = {
            "supplier_id": supplier["id"],
            "lines": [{"supply_id": self.supply(c).pk, "quantity": q, "price": p} for c, q, p in lines],
            "delivery": "6.50",
            "expected_on": str(today(self.workshop) + timedelta(days=5)),
            "request_key": self.key(),
            **more,
        }
        return self.ask("post", "purchases", body, status=201)

    def on_hand(self, code: str) -> Decimal:
        return D(self.stock(code)["on_hand"])


class Lists(BuyingCase):
    def test_what_runs_low_is_on_the_list_with_its_amounts(self) -> None:
        marlpit = self.supplier()
        self.offer(marlpit, "C-14", prices=[{"quantity": "0", "price": "0.82"}, {"quantity": "75", "price": "0.76"}])
        self.use("C-14", 40)
        cover = self.cover("C-14")
        self.assertEqual((cover["listed"], cover["offers"]), ("due", 1))
        found = self.ask("post", "buying/list", {})
        (order,) = found["orders"]
        line = next(one for one in order["lines"] if one["code"] == "C-14")
        self.assertEqual((order["supplier"], line["why"], D(line["quantity"]) % 25), ("Marlpit Board", "due", 0))
        self.assertEqual(D(found["total"]), D(order["goods_cost"]) + D(order["delivery_cost"]))
        page = self.ask("get", f"buying/supplies/{line['supply_id']}")
        self.assertEqual(page["offers"][0]["best"], True)
        self.assertEqual(sum(1 for one in page["offers"][0]["amounts"] if one["taken"]), 1)
        self.assertTrue(page["recipes"])
        self.assertEqual(page["past"][-1]["level"], self.stock("C-14")["on_hand"])

    def test_a_person_changes_a_quantity_or_leaves_a_line_out(self) -> None:
        marlpit = self.supplier()
        self.offer(marlpit, "C-14")
        self.use("C-14", 40)
        pk = self.supply("C-14").pk
        (order,) = self.ask("post", "buying/list", {"quantities": {pk: "30"}})["orders"]
        self.assertEqual((D(order["lines"][0]["quantity"]), order["lines"][0]["edited"]), (50, True))
        self.assertEqual(self.ask("post", "buying/list", {"without": [pk]})["orders"], [])

    def test_under_a_budget_what_is_left_out_says_when_it_is_missed(self) -> None:
        marlpit, fenholt = self.supplier(), self.supplier("Fenholt Paper", free_from=None)
        self.offer(marlpit, "C-14")
        self.offer(fenholt, "C-08", "0.62")
        self.use("C-14", 60)
        self.use("C-08", 60)
        self.budget("20")
        found = self.ask("post", "buying/list", {})
        self.assertEqual(found["outcome"], "exact")
        self.assertLessEqual(D(found["total"]), 20)
        self.assertTrue(all(one["missed_from"] for one in found["left_out"]))
        self.assertTrue(found["left_out"])
        # What is ordered this month is spent.
        self.bought(marlpit, ("C-14", "10", "0.82"))
        self.assertEqual(self.ask("post", "buying/list", {})["budget"]["spent"], "14.70")

    def budget(self, money: str | None, **more: Any) -> Any:
        doc = self.ask("get", "buying/settings")
        return self.ask("put", "buying/settings", {**doc, "budget": money, **more})

    def test_the_season_counts(self) -> None:
        self.use("C-14", 10)
        before = D(self.cover("C-14")["per_day"])
        month = today(self.workshop).month
        last = (today(self.workshop) - timedelta(days=30)).month
        season = ["2" if number == month else "1" for number in range(1, 13)]
        self.budget(None, season=season)
        self.assertGreater(D(self.cover("C-14")["per_day"]), before if month != last else D(0))

    def test_settings_that_cannot_be_are_named(self) -> None:
        doc = self.ask("get", "buying/settings")
        for change, field in (({"season": ["1"] * 11}, "season"), ({"longest_weeks": 2}, "longest_weeks")):
            said = self.ask("put", "buying/settings", {**doc, **change}, status=422)
            self.assertEqual(said["field"], field)

    def test_money_asleep_names_what_could_use_it(self) -> None:
        found = self.ask("get", "buying/asleep")
        self.assertGreater(D(found["total"]), 0)
        row = found["rows"][0]
        self.assertTrue(row["never_used"] or row["last_used"])
        self.assertTrue(any(one["recipes"] for one in found["rows"]))

    def test_a_packer_who_sees_no_costs_sees_no_list(self) -> None:
        self.workshop.packers_see_costs = False
        self.workshop.save()
        self.as_(self.packer)
        self.ask("post", "buying/list", {}, status=403)
        self.ask("get", "buying/asleep", status=403)
        self.ask("get", "buying/cover")


class Suppliers(BuyingCase):
    def test_a_name_is_taken_once_and_what_is_retired_offers_nothing(self) -> None:
        marlpit = self.supplier()
        taken = self.ask("post", "suppliers", {"name": "marlpit board", "lead_days": 1}, status=409)
        self.assertEqual(taken["code"], "name_taken")
        self.offer(marlpit, "C-14")
        self.assertEqual(self.ask("get", "suppliers")["results"][0]["supplies"], ["C-14"])
        self.ask("delete", f"suppliers/{marlpit['id']}")
        self.assertEqual(self.cover("C-14")["offers"], 0)

    def test_prices_rise_by_quantity(self) -> None:
        marlpit = self.supplier()
        body = {"pack": "25", "prices": [{"quantity": "50", "price": "1"}, {"quantity": "50", "price": "2"}]}
        self.ask("put", f"suppliers/{marlpit['id']}/offers/{self.supply('C-14').pk}", body, status=422)
        self.ask("delete", f"suppliers/{marlpit['id']}/offers/{self.supply('C-14').pk}", status=404)

    def test_another_workshops_supplier_is_not_there(self) -> None:
        self.ask("put", "suppliers/999999", {"name": "X", "lead_days": 1}, status=404)


class Receiving(BuyingCase):
    def test_half_comes_and_then_the_rest_at_another_price(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"))
        (line,) = order["lines"]
        had, cost = self.on_hand("C-14"), D(self.stock("C-14")["average_cost"])
        self.assertEqual(D(self.cover("C-14")["arriving"]), 50)
        part = self.receive(order, [{"line_id": line["id"], "quantity": "20"}])
        self.assertEqual((part["state"], D(part["lines"][0]["open"])), ("ordered", 30))
        whole = self.receive(order, [{"line_id": line["id"], "quantity": "30", "price": "1.00"}])
        self.assertEqual((whole["state"], self.on_hand("C-14")), ("received", had + 50))
        value = had * cost + 20 * D("0.82") + 30
        self.assertAlmostEqual(D(self.stock("C-14")["average_cost"]), value / (had + 50), places=4)

    def receive(self, order: Any, lines: Any, key: str = "", status: int = 200) -> Any:
        body = {"lines": lines, "request_key": key or self.key()}
        return self.ask("post", f"purchases/{order['id']}/receive", body, status=status)

    def test_sent_twice_it_is_received_once(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"), ("C-08", "10", "0.6"))
        had = self.on_hand("C-14"), self.on_hand("C-08")
        lines = [{"line_id": line["id"], "quantity": "5"} for line in order["lines"]]
        key = self.key()
        for _ in range(2):
            self.receive(order, lines, key)
        self.assertEqual((self.on_hand("C-14"), self.on_hand("C-08")), (had[0] + 5, had[1] + 5))
        self.assertEqual(Entry.objects.of(self.workshop).filter(purchase_line__isnull=False).count(), 2)

    def test_sent_twice_it_is_received_once_also_when_nothing_came_of_the_first_line(self) -> None:
        order = self.bought(self.supplier(), ("C-08", "10", "0.6"), ("C-14", "50", "0.82"))
        had, key = self.on_hand("C-14"), self.key()
        of = {line["code"]: line["id"] for line in order["lines"]}
        lines = [{"line_id": of["C-08"], "quantity": "0"}, {"line_id": of["C-14"], "quantity": "5"}]
        for _ in range(2):
            self.receive(order, lines, key)
        self.assertEqual(self.on_hand("C-14"), had + 5)
        rest = [{"line_id": pk, "quantity": "0", "last": True} for pk in of.values()]
        for _ in range(2):  # that the rest does not come is known the second time
            self.assertEqual(self.receive(order, rest)["state"], "received")

    def test_more_than_ordered_is_taken_and_short_is_closed(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"), ("C-08", "10", "0.6"))
        first, second = order["lines"]
        done = self.receive(
            order,
            [{"line_id": first["id"], "quantity": "55"}, {"line_id": second["id"], "quantity": "4", "last": True}],
        )
        self.assertEqual(done["state"], "received")
        self.assertEqual(self.receive(order, [], status=409)["code"], "not_open")

    def test_what_cannot_be_received_is_named_and_nothing_is_saved(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"))
        had = self.on_hand("C-14")
        lines = [{"line_id": order["lines"][0]["id"], "quantity": "1.5"}, {"line_id": 0, "quantity": "1"}]
        said = self.receive(order, lines, status=422)
        self.assertEqual([fault["path"] for fault in said["faults"]], ["lines[0].quantity", "lines[1].line_id"])
        self.assertEqual(self.on_hand("C-14"), had)

    def test_late_is_told_and_cancelled_comes_no_more(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"))
        later = str(today(self.workshop) + timedelta(days=12))
        moved = self.ask("post", f"purchases/{order['id']}/expect", {"expected_on": later})
        self.assertEqual((moved["expected_on"], moved["days_late"]), (later, 7))
        self.assertEqual(self.cover("C-14")["arrives_on"], later)
        self.ask("post", f"purchases/{order['id']}/expect", {"expected_on": "2020-01-01"}, status=422)
        gone = self.ask("post", f"purchases/{order['id']}/cancel", {})
        self.assertEqual((gone["state"], D(self.cover("C-14")["arriving"])), ("cancelled", 0))

    def test_an_order_is_made_once_and_only_of_what_there_is(self) -> None:
        marlpit = self.supplier()
        key = self.key()
        one, two = (self.bought(marlpit, ("C-14", "50", "0.82"), request_key=key) for _ in range(2))
        self.assertEqual((one["id"], Purchase.objects.of(self.workshop).count()), (two["id"], 1))
        body = {
            "supplier_id": marlpit["id"], "lines": [], "delivery": "0", "expected_on": "2020-01-01",
            "request_key": self.key(),
        }  # fmt: skip
        said = self.ask("post", "purchases", body, status=422)
        self.assertEqual([fault["path"] for fault in said["faults"]], ["lines", "expected_on"])
        self.as_(self.packer)
        self.ask("post", "purchases", {**body}, status=403)

    def test_a_packer_who_sees_no_costs_receives_at_what_was_ordered(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"))
        self.workshop.packers_see_costs = False
        self.workshop.save()
        self.as_(self.packer)
        seen = self.ask("get", f"purchases/{order['id']}")
        self.assertEqual((seen["total"], seen["lines"][0]["price"]), ("hidden", "hidden"))
        self.assertNotIn("0.82", seen["text"])
        self.receive(order, [{"line_id": order["lines"][0]["id"], "quantity": "50"}])
        entry = Entry.objects.of(self.workshop).get(purchase_line__isnull=False)
        self.assertEqual(entry.unit_cost, D("0.82"))

    def test_papers_name_every_line(self) -> None:
        marlpit = self.supplier(contact="orders at Marlpit")
        self.offer(marlpit, "C-14", pack="25", pack_name="pack of 25", their_code="MB-320")
        order = self.bought(marlpit, ("C-14", "50", "0.82"))
        self.assertIn("2 x pack of 25 (50 pieces)", order["text"])
        csv = self.client.get(f"/api/purchases/{order['id']}/order.csv").content.decode()
        self.assertIn("P-1,Marlpit Board,MB-320,C-14", csv)
        pdf = self.client.get(f"/api/purchases/{order['id']}/order.pdf")
        self.assertEqual((pdf.status_code, pdf.content[:4]), (200, b"%PDF"))


class Counting(BuyingCase):
    def test_a_large_difference_is_posted_when_it_was_counted_twice_alike(self) -> None:
        shelf = self.supply("C-14").shelf
        session = self.ask("post", "counts", {"shelf": shelf})
        had = self.on_hand("C-14")
        far = str(had - 6)
        first = self.count(session, "C-14", far)
        self.assertEqual((self.row(first, "C-14")["second_look"], self.on_hand("C-14")), (True, had))
        other = self.count(session, "C-14", str(had - 7))
        self.assertTrue(self.row(other, "C-14")["second_look"])
        done = self.count(session, "C-14", str(had - 7))
        self.assertEqual((D(self.row(done, "C-14")["difference"]), self.on_hand("C-14")), (-7, had - 7))
        near = self.count(session, "C-14", str(had - 8))
        self.assertFalse(self.row(near, "C-14")["second_look"])

    def test_the_same_count_sent_twice_is_no_second_look(self) -> None:
        session = self.ask("post", "counts", {"shelf": self.supply("C-14").shelf})
        had, key = self.on_hand("C-14"), self.key()
        for _ in range(2):  # the first answer was lost on its way
            found = self.count(session, "C-14", str(had - 9), key)
            self.assertTrue(self.row(found, "C-14")["second_look"])
        self.assertEqual(self.on_hand("C-14"), had)
        self.count(session, "C-14", str(had - 9))
        self.assertEqual(self.on_hand("C-14"), had - 9)

    def count(self, session: Any, code: str, counted: str, key: str = "") -> Any:
        body = {"supply_id": self.supply(code).pk, "counted": counted, "request_key": key or self.key()}
        return self.ask("post", f"counts/{session['id']}/lines", body)

    def row(self, session: Any, code: str) -> Any:
        return next(one for one in session["rows"] if one["code"] == code)

    def test_it_is_taken_up_again_and_ends(self) -> None:
        shelf = self.supply("C-14").shelf
        one = self.ask("post", "counts", {"shelf": shelf})
        self.as_(self.packer)
        two = self.ask("post", "counts", {"shelf": shelf})
        self.assertEqual(one["id"], two["id"])
        self.assertIsNone(self.row(two, "C-14")["difference"])
        self.ask("post", f"counts/{one['id']}/close", {})
        body = {"supply_id": self.supply("C-14").pk, "counted": "1", "request_key": self.key()}
        self.assertEqual(self.ask("post", f"counts/{one['id']}/lines", body, status=409)["code"], "not_open")
        self.assertNotEqual(self.ask("post", "counts", {"shelf": shelf})["id"], one["id"])
        self.ask("post", "counts", {"shelf": "Z"}, status=409)

    def test_the_sheet_has_every_slot(self) -> None:
        pdf = self.client.get("/api/counts/sheet.pdf?shelf=A")
        self.assertEqual((pdf.status_code, pdf.content[:4]), (200, b"%PDF"))


class Converting(BuyingCase):
    def test_what_comes_in_carries_what_went_out(self) -> None:
        had, cost = self.on_hand("C-14"), D(self.stock("C-14")["average_cost"])
        body: dict[str, Any] = {
            "inputs": [{"supply_id": self.supply("C-14").pk, "quantity": "10"}],
            "output_id": self.supply("C-08").pk,
            "made": "20",
            "waste_percent": "10",
            "request_key": self.key(),
        }
        before = self.on_hand("C-08")
        for _ in range(2):
            done = self.ask("post", "supplies/convert", body)
        self.assertEqual((D(done["quantity"]), self.on_hand("C-14"), self.on_hand("C-08")), (18, had - 10, before + 18))
        self.assertLess(abs(D(done["unit_cost"]) * 18 - cost * 10), D("0.01"))
        # What went out was used; what came in was not.
        used = UsedOn.objects.of(self.workshop).filter(supply=self.supply("C-14")).get()
        self.assertEqual(used.quantity, 10)
        self.assertFalse(UsedOn.objects.of(self.workshop).filter(supply=self.supply("C-08")).exists())
        more = {**body, "request_key": self.key(), "inputs": [{**body["inputs"][0], "quantity": "9999"}]}
        self.assertEqual(self.ask("post", "supplies/convert", more, status=409)["code"], "too_little")

    def test_spoiled_is_use_and_no_more_than_there_is(self) -> None:
        pk, had = self.supply("C-14").pk, self.on_hand("C-14")
        body = {"quantity": "3", "note": "wet", "request_key": self.key()}
        for _ in range(2):
            self.ask("post", f"supplies/{pk}/spoil", body)
        self.assertEqual(self.on_hand("C-14"), had - 3)
        self.ask("post", f"supplies/{pk}/spoil", {**body, "quantity": "9999", "request_key": self.key()}, status=409)

    def test_a_slot_and_a_successor(self) -> None:
        pk, other = self.supply("C-14").pk, self.supply("C-18").pk
        self.ask("put", f"buying/supplies/{pk}/place", {"room": "120", "successor_id": other})
        self.assertEqual(
            (self.cover("C-14")["room"], self.cover("C-14")["successor"]), ("120.000", self.supply("C-18").name)
        )
        wrong = self.ask("put", f"buying/supplies/{other}/place", {"room": None, "successor_id": pk}, status=422)
        self.assertEqual(wrong["field"], "successor_id")


class Expiring(BuyingCase):
    def test_what_is_past_its_day_counts_as_none_and_what_came_first_went_first(self) -> None:
        wax = self.supply("W-WAX")
        had = self.on_hand("W-WAX")
        day = today(self.workshop)
        for quantity, until in (("10", day - timedelta(days=1)), ("4", day + timedelta(days=20))):
            body = {"quantity": quantity, "total_cost": "5", "good_until": str(until), "request_key": self.key()}
            now = self.ask("post", f"supplies/{wax.pk}/receive", body)
        self.assertEqual((D(now["on_hand"]), D(now["expired"])), (had + 14, 10))
        self.assertEqual(now["good_until"], str(day + timedelta(days=20)))
        self.assertEqual(D(now["free"]), had + 4 - D(now["reserved"]))
        self.assertLessEqual(D(self.ask("get", f"buying/supplies/{wax.pk}")["days"][0]["level"]), had + 4)
        # The oldest went first: with twelve left, eight of them are past their day.
        left = self.ask("post", f"supplies/{wax.pk}/count", {"counted": "12", "request_key": self.key()})
        self.assertEqual((D(left["expired"]), D(left["free"])), (8, 4 - D(left["reserved"])))
        # Taken out, nothing is expired any more.
        self.ask("post", f"supplies/{wax.pk}/spoil", {"quantity": "8", "request_key": self.key()})
        self.assertEqual(D(self.stock("W-WAX")["expired"]), 0)

    def test_plans_of_yesterday_are_made_again_when_what_they_use_has_expired(self) -> None:
        order = self.order("1165")
        self.ask("get", f"orders/{order.pk}/plan")
        Plan.objects.of(self.workshop).update(stale=False, at=timezone.now() - timedelta(days=2))
        see_to_due()
        self.assertFalse(Plan.objects.of(self.workshop).filter(stale=True).exists())
        Entry.objects.of(self.workshop).filter(supply__code="T-PAP").update(
            good_until=today(self.workshop) - timedelta(days=1)
        )
        see_to_due()
        self.assertTrue(Plan.objects.of(self.workshop).get(order=order).stale)

    def test_an_order_is_blocked_by_stock_that_is_past_its_day(self) -> None:
        order = self.order("1175")
        body = {"quantity": "5", "total_cost": "9", "good_until": "2020-01-01", "request_key": self.key()}
        self.ask("post", f"supplies/{self.supply('C-24').pk}/receive", body)
        self.assertEqual(self.ask("get", f"orders/{order.pk}/plan")["order"]["state"], "held")


class UsedUpFirst(BuyingCase):
    def test_while_the_old_lasts_its_successor_is_not_used_and_the_plan_says_which(self) -> None:
        old, new = self.supply("F-STA"), self.supply("F-KRA")
        self.ask("put", f"buying/supplies/{old.pk}/place", {"room": None, "successor_id": new.pk})
        order = self.order("1160")
        first = self.taken(order)
        self.assertIn("F-STA", first)
        self.assertNotIn("F-KRA", first)
        # Its advice and its spare room go by what the plan takes.
        self.ask("get", f"orders/{order.pk}/plan/advice")
        self.ask("get", f"orders/{order.pk}/plan/spare")
        # With too little left of it the whole order takes the successor.
        self.ask("post", f"supplies/{old.pk}/count", {"counted": "1", "request_key": self.key()})
        then = self.taken(order)
        self.assertIn("F-KRA", then)
        self.assertNotIn("F-STA", then)

    def taken(self, order: Any) -> set[str]:
        plan = self.ask("get", f"orders/{order.pk}/plan")["plan"]
        return {use["supply"] for one in plan["ways"][0]["parcels"] for use in one["candidate"]["uses"]}


class Kept(BuyingCase):
    def test_use_is_counted_with_the_ledger_and_taken_back_with_it(self) -> None:
        parcel = self.closed("1165")
        rows = UsedOn.objects.of(self.workshop).filter(day=today(self.workshop))
        used = {row.supply.code: row.quantity for row in rows.select_related("supply")}
        entries = Entry.objects.of(self.workshop).filter(parcel_id=parcel["id"]).select_related("supply")
        self.assertEqual(used, {entry.supply.code: -entry.quantity for entry in entries})
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "again"})
        self.assertEqual(set(rows.values_list("quantity", flat=True)), {D(0)})

    def test_lines_of_orders_are_never_negative(self) -> None:
        order = self.bought(self.supplier(), ("C-14", "50", "0.82"))
        self.assertEqual(PurchaseLine.objects.of(self.workshop).get(purchase_id=order["id"]).received, 0)
