"""An order in several parcels through the server: planned, decided, packed one after the other, papers, stock."""

from decimal import Decimal
from typing import Any
from uuid import uuid4

from server.bench.models import Parcel
from server.plans.models import Plan, PlannedUse
from server.supplies.models import Entry
from tests.server.base import DemoCase
from tests.server.test_papers import read_back

D = Decimal


class Deciding(DemoCase):
    def decide(self, number: str, status: int = 200, **what: object) -> Any:
        body = {"forbidden": [], "may_lie_down": [], "note": "", **what}
        return self.ask("post", f"orders/{self.order(number).pk}/plan/overrides", body, status=status)

    def goods(self, plan: Any) -> list[list[tuple[str, int]]]:
        return [[(line["sku"], line["units"]) for line in one["goods"]] for one in plan["plan"]["ways"][0]["parcels"]]

    def test_goods_that_must_be_apart_and_orders_over_the_last_band_are_planned_in_parcels(self) -> None:
        apart = self.ask("get", f"orders/{self.order('1183').pk}/plan")
        self.assertEqual(len(self.goods(apart)), 2)
        self.assertIn("may not share a parcel", apart["plan"]["why"])
        many = self.ask("get", f"orders/{self.order('1182').pk}/plan")
        self.assertEqual(sum(units for parcel in self.goods(many) for _, units in parcel), 40)
        self.assertEqual(many["order"]["container"], "C-18, C-18, C-18, C-14")

    def test_so_many_parcels_and_back(self) -> None:
        two = self.decide("1174", parcels=2)
        self.assertEqual((len(self.goods(two)), two["overrides"]["parcels"]), (2, 2))
        self.assertTrue(two["plan"]["overridden"])
        back = self.decide("1174")
        self.assertEqual((len(self.goods(back)), back["plan"]["overridden"]), (1, False))

    def test_what_goes_where_is_kept_when_it_is_planned_again(self) -> None:
        shares = [[{"sku": "PRE-QUI", "units": 4}], [{"sku": "PRE-QUI", "units": 5}]]
        self.decide("1174", shares=shares)
        Plan.objects.of(self.workshop).update(stale=True)
        again = self.ask("get", f"orders/{self.order('1174').pk}/plan")
        self.assertEqual(again["overrides"]["shares"], shares)
        self.assertEqual(self.goods(again), [[("PRE-QUI", 4)], [("PRE-QUI", 5)]])

    def test_a_wrong_division_is_refused_and_nothing_changes(self) -> None:
        wrong = [[{"sku": "PRE-QUI", "units": 4}], [{"sku": "PRE-QUI", "units": 6}]]
        self.assertIn("do not hold exactly", self.decide("1174", 409, shares=wrong)["detail"])
        self.assertEqual(self.decide("1174", 409, shares=[[{"sku": "NOPE", "units": 4}]])["field"], "shares")
        self.decide("1174", 422, shares=[[{"sku": "PRE-QUI", "units": 0}]])
        self.decide("1174", 422, parcels=0)
        self.decide("1174", 422, parcels=13)
        self.assertEqual(self.decide("1174", 409, parcels=10)["code"], "override_refused")
        self.assertEqual(len(self.goods(self.ask("get", f"orders/{self.order('1174').pk}/plan"))), 1)

    def test_a_chosen_way_falls_with_another_division(self) -> None:
        path = f"orders/{self.order('1174').pk}/plan/container"
        self.ask("post", path, {"container": "C-30"})
        self.assertEqual(self.decide("1174", parcels=2)["overrides"]["container"], None)

    def test_room_and_the_card_tell_of_every_parcel(self) -> None:
        order = self.order("1183")
        room = self.ask("get", f"orders/{order.pk}/plan/room")
        self.assertEqual([len(one["lines"]) for one in room["parcels"]], [1, 1])
        card = self.client.get(f"/api/orders/{order.pk}/plan/card.pdf").content
        _, text, _ = read_back(card)
        self.assertIn("parcel 1 of 2", text)
        self.assertIn("parcel 2 of 2", text)


class Packing(DemoCase):
    def finish(self, parcel: Any) -> Any:
        grams = parcel["candidate"]["weight"]["gross_mg"] // 1000
        self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": f"{grams} g"})
        self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"})
        return self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())})

    def promised(self) -> dict[str, Decimal]:
        rows = PlannedUse.objects.of(self.workshop).filter(plan__order__number="1183")
        return dict(rows.values_list("supply__code", "quantity"))

    def test_one_after_the_other_each_with_its_goods_label_and_stock(self) -> None:
        before = self.promised()
        first = self.to_bench("1183")
        self.assertEqual([(p["part"], p["state"]) for p in first["parts"]], [(1, "packing"), (2, "packing")])
        self.assertEqual(self.to_bench("1183")["id"], first["id"])
        done = self.finish(first)
        self.assertEqual(self.order("1183").state, "bench")
        box = first["candidate"]["container"]
        self.assertNotIn(box, self.promised())
        second = self.to_bench("1183")
        self.assertEqual((second["part"], second["state"]), (2, "packing"))
        self.assertNotEqual(second["goods"], first["goods"])
        last = self.finish(second)
        self.assertEqual((self.order("1183").state, self.promised()), ("packed", {}))
        self.assertNotEqual(done["tracking"], last["tracking"])
        row = self.ask("get", f"orders/{self.order('1183').pk}")
        self.assertEqual(row["tracking"], f"{done['tracking']}, {last['tracking']}")
        used = Entry.objects.of(self.workshop).filter(parcel__order__number="1183")
        spent: dict[str, Decimal] = {}
        for code, quantity in used.values_list("supply__code", "quantity"):
            spent[code] = spent.get(code, D(0)) - quantity
        self.assertEqual(spent, before)

    def test_reopening_one_promises_its_supplies_again(self) -> None:
        first = self.to_bench("1183")
        self.finish(first)
        self.finish(self.to_bench("1183"))
        self.ask("post", f"parcels/{first['id']}/reopen", {"words": "wrong soap"})
        self.assertEqual(self.order("1183").state, "bench")
        self.assertIn(first["candidate"]["container"], self.promised())

    def test_holding_takes_all_parcels_off_unless_one_is_closed(self) -> None:
        first = self.to_bench("1183")
        self.ask("post", f"parcels/{first['parts'][1]['id']}/hold", {"words": "rang up"})
        self.assertEqual(
            Parcel.objects.of(self.workshop).filter(order__number="1183").exclude(state="undone").count(), 0
        )
        self.ask("post", f"orders/{self.order('1183').pk}/release")
        self.finish(self.to_bench("1183"))
        second = self.to_bench("1183")
        self.assertEqual(
            self.ask("post", f"parcels/{second['id']}/hold", {"words": "rang again"}, status=409)["code"],
            "already_closed",
        )

    def test_the_slip_lists_what_is_in_this_parcel_and_says_the_rest_comes(self) -> None:
        first = self.to_bench("1183")
        _, text, _ = read_back(self.client.get(f"/api/parcels/{first['id']}/slip.pdf").content)
        own, other = (
            first["goods"][0]["name"],
            self.ask("get", f"parcels/{first['parts'][1]['id']}")["goods"][0]["name"],
        )
        self.assertIn(own[:14], text)
        self.assertNotIn(other[:14], text)
        self.assertIn("Parcel 1 of 2", text)

    def test_the_list_says_which_parcel(self) -> None:
        self.to_bench("1183")
        rows = [r for r in self.ask("get", "parcels")["results"] if r["number"] == "1183"]
        self.assertEqual([(r["part"], r["parts"]) for r in rows], [(1, 2), (2, 2)])


class Strapped(DemoCase):
    """Fourteen jars: the recipe's bands end at twelve, and two cartons on one label cost less than two parcels."""

    def setUp(self) -> None:
        super().setUp()
        head = "order,placed_on,buyer,town,postcode,country,sku,quantity,unit_price"
        row = "2001,2026-11-20,Petra Loam,Dunmere,DM4 6,ALM,PRE-QUI,14,6.80"
        self.ask("post", "orders/intake/accept", {"name": "o.csv", "content": f"{head}\n{row}\n"})

    def test_two_cartons_are_one_parcel_with_one_label_slip_and_card(self) -> None:
        plan = self.ask("get", f"orders/{self.order('2001').pk}/plan")["plan"]
        self.assertEqual((plan["ways"][0]["key"], plan["ways"][0]["containers"]), ("C-18&C-08", ["C-18", "C-08"]))
        parcel = self.to_bench("2001")
        self.assertEqual((len(parcel["parts"]), parcel["goods"][0]["units"]), (1, 14))
        counts = {use["supply"]: use["quantity"] for use in parcel["candidate"]["uses"] if use["role"] == "insert"}
        self.assertEqual({D(quantity) for quantity in counts.values()}, {D(1)})
        titles = [step["title"] for step in parcel["steps"]]
        self.assertEqual(len([title for title in titles if title.startswith("Add Packing slip")]), 1)
        self.assertEqual(len([title for title in titles if title.startswith("Close with")]), 2)
        self.assertEqual(titles[-4], "Strap both cartons together, side by side")

    def test_closing_it_posts_both_cartons(self) -> None:
        parcel = self.closed("2001")
        used = Entry.objects.of(self.workshop).filter(parcel_id=parcel["id"], supply__code__in=("C-18", "C-08"))
        self.assertEqual(sorted(used.values_list("supply__code", "quantity")), [("C-08", D(-1)), ("C-18", D(-1))])
        self.assertEqual(self.order("2001").state, "packed")

    def test_its_card_goes_carton_by_carton(self) -> None:
        card = self.client.get(f"/api/orders/{self.order('2001').pk}/plan/card.pdf").content
        _, text, _ = read_back(card)
        self.assertIn("carton 1 of 2, strapped together", text)
        self.assertIn("carton 2 of 2, strapped together", text)
