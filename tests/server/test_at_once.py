"""Two people at once, with real threads and a real database: money and stock count once."""

import threading
from collections.abc import Callable, Mapping
from decimal import Decimal
from uuid import uuid4

from django.db import close_old_connections, connection
from django.test import Client, TransactionTestCase

from server.bench.models import Parcel, ReadyParcel
from server.carriers.models import TariffVersion
from server.commands.intake import import_orders
from server.formats.orders import read_orders
from server.orders.models import Order
from server.plans.models import PlannedUse
from server.recipes.models import Product, Recipe, Trial
from server.standins.models import CarrierSale
from server.supplies.models import Entry
from server.upkeep.invariants import broken
from server.workshops.clock import today
from server.workshops.models import Member
from tests.server.base import DEMO, FAST, Shop, demo_shop


@FAST
class AtOnce(Shop, TransactionTestCase):
    def setUp(self) -> None:
        self.workshop, self.owner, self.packer = demo_shop()
        self.as_(self.owner)

    def both(self, *jobs: Callable[[Client], int]) -> list[int]:
        start, codes = threading.Barrier(len(jobs)), list[int]()

        def run(job: Callable[[Client], int], member: object) -> None:
            client = Client()
            client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")  # type: ignore[attr-defined]
            close_old_connections()
            start.wait()
            codes.append(job(client))
            connection.close()

        threads = [
            threading.Thread(target=run, args=(job, member))
            for job, member in zip(jobs, (self.owner, self.packer) * 4, strict=False)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return sorted(codes)

    def post(self, path: str, body: Mapping[str, object]) -> Callable[[Client], int]:
        return lambda client: client.post(f"/api/{path}", body, content_type="application/json").status_code

    def test_giving_a_label_back_and_closing_with_it_never_both_happen(self) -> None:
        for number in ("1160", "1163"):
            parcel = self.labelled(number)
            close = self.post(f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())})
            back = self.post(f"parcels/{parcel['id']}/label/void", {})
            codes = self.both(close, back, self.post(f"parcels/{parcel['id']}/label/void", {}))
            sale = CarrierSale.objects.of(self.workshop).order_by("-id")[0]
            closed = Parcel.objects.of(self.workshop).get(pk=parcel["id"]).state == Parcel.State.CLOSED
            self.assertNotEqual(closed, sale.void_on is not None, codes)

    def test_two_people_taking_in_one_list_keep_it_once(self) -> None:
        content = (DEMO / "carriers" / "wending-2026-04.json").read_text()
        take = self.post("tariffs", {"content": content})
        self.packer.role = Member.Role.OWNER
        self.packer.save()
        self.assertEqual(self.both(take, take), [200, 200])
        self.assertEqual(TariffVersion.objects.of(self.workshop).filter(carrier="wending").count(), 1)

    def test_two_people_deciding_for_one_order_leave_one_whole_decision(self) -> None:
        order = self.order("1163")
        decide = f"orders/{order.pk}/plan/decisions"
        self.both(self.post(decide, {"service": "LARK-TWO"}), self.post(decide, {"note": "ring", "parcels": 2}))
        kept = self.ask("get", f"orders/{order.pk}/plan")["overrides"]
        both = [(kept["service"], kept["note"], kept["parcels"])]
        self.assertIn(both[0], [("LARK-TWO", "", None), (None, "ring", 2)])

    def test_two_people_receive_count_and_convert_at_once_and_the_ledger_is_exact(self) -> None:
        supplier = self.ask("post", "suppliers", {"name": "Marlpit Board", "lead_days": 3}, status=201)
        box, small = self.supply("C-14"), self.supply("C-08")
        order = self.ask(
            "post",
            "purchases",
            {
                "supplier_id": supplier["id"],
                "lines": [{"supply_id": box.pk, "quantity": "40", "price": "0.90"}],
                "delivery": "0",
                "expected_on": "2099-01-01",
                "request_key": str(uuid4()),
            },
            status=201,
        )
        line = order["lines"][0]["id"]

        def receive() -> Callable[[Client], int]:
            body = {"lines": [{"line_id": line, "quantity": "5"}], "request_key": str(uuid4())}
            return self.post(f"purchases/{order['id']}/receive", body)

        def convert() -> Callable[[Client], int]:
            inputs = [{"supply_id": box.pk, "quantity": "1"}]
            body = {"inputs": inputs, "output_id": small.pk, "made": "2", "request_key": str(uuid4())}
            return self.post("supplies/convert", body)

        def spoil() -> Callable[[Client], int]:
            return self.post(f"supplies/{box.pk}/spoil", {"quantity": "1", "request_key": str(uuid4())})

        had, had_small = Decimal(self.stock("C-14")["on_hand"]), Decimal(self.stock("C-08")["on_hand"])
        jobs = [receive(), convert(), spoil(), receive(), convert(), spoil(), receive(), convert()]
        self.assertEqual(self.both(*jobs), [200] * 8)
        self.assertEqual(Decimal(self.stock("C-14")["on_hand"]), had + 15 - 3 - 2)
        self.assertEqual(Decimal(self.stock("C-08")["on_hand"]), had_small + 6)
        # Each adds up in the order it was written, and every check holds; a count at the same time states what it saw.
        self.assertEqual([(one.code, rows) for one, _, rows in broken()], [])
        session = self.ask("post", "counts", {"shelf": box.shelf})
        now = Decimal(self.stock("C-14")["on_hand"])
        count = {"supply_id": box.pk, "counted": str(now), "request_key": str(uuid4())}
        codes = self.both(self.post(f"counts/{session['id']}/lines", count), receive(), spoil())
        self.assertEqual(codes, [200] * 3)
        total = sum(Entry.objects.of(self.workshop).filter(supply=box).values_list("quantity", flat=True), Decimal(0))
        self.assertEqual(Decimal(self.stock("C-14")["on_hand"]), total)
        self.assertEqual([(one.code, rows) for one, _, rows in broken()], [])

    def test_two_people_receiving_one_delivery_with_one_key_put_it_away_once(self) -> None:
        supplier = self.ask("post", "suppliers", {"name": "Marlpit Board", "lead_days": 3}, status=201)
        body = {
            "supplier_id": supplier["id"],
            "lines": [{"supply_id": self.supply("C-14").pk, "quantity": "40", "price": "0.90"}],
            "delivery": "0",
            "expected_on": "2099-01-01",
            "request_key": str(uuid4()),
        }
        order = self.ask("post", "purchases", body, status=201)
        had = Decimal(self.stock("C-14")["on_hand"])
        came = {"lines": [{"line_id": order["lines"][0]["id"], "quantity": "40"}], "request_key": str(uuid4())}
        self.assertEqual(self.both(*[self.post(f"purchases/{order['id']}/receive", came)] * 4), [200] * 4)
        self.assertEqual(Decimal(self.stock("C-14")["on_hand"]), had + 40)

    def test_two_people_closing_one_parcel_post_once(self) -> None:
        parcel = self.labelled("1160")
        codes = self.both(
            *[self.post(f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())}) for _ in range(4)]
        )
        self.assertEqual(codes, [200, 409, 409, 409])
        self.assertEqual(Entry.objects.of(self.workshop).filter(parcel_id=parcel["id"], supply__code="C-08").count(), 1)

    def test_the_two_parcels_of_one_order_closed_at_once_pack_it_and_leave_nothing_promised(self) -> None:
        parts = [part["id"] for part in self.to_bench("1183")["parts"]]
        for part in parts:
            parcel = self.ask("get", f"parcels/{part}")
            grams = parcel["candidate"]["weight"]["gross_mg"] // 1000
            self.ask("post", f"parcels/{part}/weigh", {"typed": f"{grams} g"})
            self.ask("post", f"parcels/{part}/label", {"service": "LARK-TWO"})
        codes = self.both(*[self.post(f"parcels/{part}/close", {"request_key": str(uuid4())}) for part in parts])
        self.assertEqual((codes, self.order("1183").state), ([200, 200], "packed"))
        self.assertFalse(PlannedUse.objects.of(self.workshop).filter(plan__order__number="1183").exists())

    def test_an_order_of_two_parcels_brought_to_the_bench_twice_at_once_comes_once(self) -> None:
        order = self.order("1183").pk
        codes = self.both(*[self.post("parcels/begin", {"order_id": order}) for _ in range(4)])
        self.assertEqual(codes, [200] * 4)
        parts = Parcel.objects.of(self.workshop).filter(order_id=order).values_list("part", flat=True)
        self.assertEqual(sorted(parts), [1, 2])

    def test_two_people_buying_one_label_pay_once(self) -> None:
        parcel = self.weighed("1160")
        codes = self.both(*[self.post(f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}) for _ in range(4)])
        self.assertEqual(codes, [200] * 4)
        self.assertEqual(CarrierSale.objects.of(self.workshop).count(), 1)

    def test_one_receipt_sent_four_times_at_once_counts_once(self) -> None:
        supply, key = self.supply("C-14"), str(uuid4())
        before = float(self.stock("C-14")["on_hand"])
        codes = self.both(
            *[
                self.post(f"supplies/{supply.pk}/receive", {"quantity": "5", "total_cost": "5", "request_key": key})
                for _ in range(4)
            ]
        )
        self.assertEqual((codes, float(self.stock("C-14")["on_hand"])), ([200] * 4, before + 5))

    def test_two_people_begin_one_order_and_get_one_parcel(self) -> None:
        order = self.order("1163")
        self.assertEqual(self.both(*[self.post("parcels/begin", {"order_id": order.pk}) for _ in range(4)]), [200] * 4)

    def test_holding_beginning_and_planning_one_order_at_once_never_sticks_or_loses_the_hold(self) -> None:
        order, supply = self.order("1163"), self.supply("C-14")
        recipe = self.ask("get", f"recipes/{Recipe.objects.of(self.workshop).get(code='preserve-250').pk}")
        for turn in range(6):
            document = {**recipe["document"], "name": f"Preserves {turn}"}
            codes = self.both(
                self.post(f"orders/{order.pk}/hold", {"reason": "buyer rang"}),
                self.post("parcels/begin", {"order_id": order.pk}),
                self.post(
                    f"supplies/{supply.pk}/receive", {"quantity": "1", "total_cost": "1", "request_key": str(uuid4())}
                ),
                self.post(f"orders/{order.pk}/plan/container", {"container": None}),
                self.post(
                    f"recipes/{recipe['id']}/versions",
                    {"base_version": turn + 1, "reason": "more below", "document": document},
                ),
            )
            self.assertTrue(set(codes) <= {200, 201, 409}, (turn, codes))
            order.refresh_from_db()
            self.assertEqual(order.state, "held" if order.hold_code else "bench")
            if order.hold_code:
                self.ask("post", f"orders/{order.pk}/release")
            else:
                self.ask(
                    "post", f"parcels/{order.parcels.exclude(state='undone').get().pk}/hold", {"words": "off again"}
                )
                self.ask("post", f"orders/{order.pk}/release")

    def test_one_file_taken_in_by_two_adds_each_order_once(self) -> None:
        Order.objects.of(self.workshop).all().delete()
        content = (DEMO / "orders.csv").read_text()
        codes = self.both(*[self.post("orders/intake/accept", {"name": "o", "content": content}) for _ in range(2)])
        self.assertEqual((codes, Order.objects.of(self.workshop).count()), ([200, 200], 23))
        self.assertIn("0 new", import_orders(self.workshop, read_orders(content.encode(), today=today(self.workshop))))

    def product_id(self, sku: str) -> int:
        return Product.objects.of(self.workshop).get(sku=sku).pk

    def test_packing_ahead_sent_twice_at_once_draws_the_supplies_once(self) -> None:
        before = sum(e.quantity for e in Entry.objects.of(self.workshop).filter(supply__code="M-2"))
        body = {
            "product_id": self.product_id("CLO-LIN"),
            "units": 2,
            "count": 2,
            "place": "N1",
            "request_key": str(uuid4()),
        }
        self.assertEqual(self.both(*[self.post("ready-parcels", body) for _ in range(4)]), [201] * 4)
        self.assertEqual(ReadyParcel.objects.of(self.workshop).count(), 2)
        after = sum(e.quantity for e in Entry.objects.of(self.workshop).filter(supply__code="M-2"))
        self.assertEqual(before - after, 2)

    def test_two_people_cannot_pack_ahead_more_than_there_is(self) -> None:
        bodies = [
            {
                "product_id": self.product_id("CLO-LIN"),
                "units": 2,
                "count": 40,
                "place": "N1",
                "request_key": str(uuid4()),
            }
            for _ in range(2)
        ]
        self.assertEqual(self.both(*[self.post("ready-parcels", body) for body in bodies]), [201, 422])
        left = sum(e.quantity for e in Entry.objects.of(self.workshop).filter(supply__code="M-2"))
        self.assertGreaterEqual(left, 0)

    def test_one_parcel_packed_ahead_is_taken_by_one_order(self) -> None:
        body = {
            "product_id": self.product_id("CLO-LIN"),
            "units": 2,
            "count": 1,
            "place": "N1",
            "request_key": str(uuid4()),
        }
        self.ask("post", "ready-parcels", body, status=201)
        pk = self.order("1162").pk
        self.assertEqual(self.both(*[self.post("parcels/begin", {"order_id": pk}) for _ in range(2)]), [200, 200])
        self.assertEqual(Parcel.objects.of(self.workshop).filter(ready__isnull=False).count(), 1)
        self.assertEqual(ReadyParcel.objects.of(self.workshop).get().state, "taken")

    def test_two_people_adding_one_sku_or_one_recipe_code_make_one_and_the_other_is_told(self) -> None:
        item = {"product": {"sku": "JAM-FIG", "name": "Fig jam"}}
        self.assertEqual(self.both(*[self.post("products", item) for _ in range(2)]), [201, 403])  # a packer may not
        Member.objects.filter(pk=self.packer.pk).update(role="owner")
        item = {"product": {"sku": "JAM-PEA", "name": "Pear jam"}}
        self.assertEqual(self.both(*[self.post("products", item) for _ in range(2)]), [201, 409])
        document = Recipe.objects.of(self.workshop).get(code="textile").versions.get().document
        body = {"document": {**document, "code": "new-one"}, "reason": "tried", "product_ids": []}
        self.assertEqual(self.both(*[self.post("recipes", body) for _ in range(2)]), [201, 409])
        self.assertEqual(Recipe.objects.of(self.workshop).get(code="new-one").versions.count(), 1)

    def test_a_trial_sent_twice_at_once_stands_once(self) -> None:
        pk = Recipe.objects.of(self.workshop).get(code="textile").pk
        body = {"request_key": str(uuid4()), "version": 1, "kind": "shake", "units": 2, "passed": True}
        self.assertEqual(self.both(*[self.post(f"recipes/{pk}/trials", body) for _ in range(4)]), [201] * 4)
        self.assertEqual(Trial.objects.of(self.workshop).count(), 1)
