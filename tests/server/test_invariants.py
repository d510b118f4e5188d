"""``./calm check``: every invariant is broken on purpose and told, with its rows and what to do."""

import io
from decimal import Decimal
from uuid import uuid4

from django.core.management import CommandError, call_command
from django.db import connection
from django.utils import timezone

from server.bench.models import Parcel
from server.bench.services import hand_over
from server.carriers.models import Label
from server.orders.models import Order
from server.outcomes.models import Arrival
from server.plans.models import Plan, PlanDocument, PlannedUse, Wave
from server.recipes.models import VersionArrivals
from server.standins.models import CarrierSale
from server.supplies.models import Balance, Entry
from server.upkeep.clearing import clear
from server.upkeep.invariants import INVARIANTS, broken
from server.upkeep.tasks import check_all
from tests.server.base import DemoCase


class Broken(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.closed_parcel = Parcel.objects.of(self.workshop).get(pk=self.closed("1160")["id"])
        self.at_bench = Parcel.objects.of(self.workshop).get(pk=self.labelled("1163")["id"])

    def sql(self, *statements: str) -> None:
        with connection.cursor() as cursor:
            for statement in statements:
                cursor.execute(statement)

    def told(self, code: str, *rows: str) -> None:
        found = {one.code: (one, shown) for one, _, shown in broken()}
        self.assertIn(code, found)
        one, shown = found[code]
        for words in rows:
            self.assertTrue(any(words in row for row in shown), (words, shown))
        with self.assertRaisesMessage(CommandError, "does not hold"):
            call_command("check_data", code, stdout=(out := io.StringIO()))
        self.assertIn(f"WRONG {code}", out.getvalue())
        self.assertIn(one.otherwise, out.getvalue())

    def test_as_it_is_everything_holds(self) -> None:
        self.assertEqual([(one.code, rows) for one, _, rows in broken()], [])
        call_command("check_data", "--all", stdout=(out := io.StringIO()))
        self.assertTrue(out.getvalue().endswith("OK\n"))
        self.assertEqual(out.getvalue().count("ok   "), len(INVARIANTS) + 1)
        self.assertEqual(check_all(0), 0)

    def test_each_invariant_has_a_test_here(self) -> None:
        tests = {name.removeprefix("test_broken_") for name in dir(self) if name.startswith("test_broken_")}
        self.assertEqual(tests, {one.code for one in INVARIANTS} | {"uses"})

    def test_an_unknown_name_is_refused(self) -> None:
        with self.assertRaisesMessage(CommandError, "There is no check nothing; there are ledger,"):
            call_command("check_data", "nothing")

    def test_broken_ledger(self) -> None:
        Balance.objects.of(self.workshop).filter(supply__code="C-14").update(on_hand=1_000_000)
        self.told("ledger", "C-14 has 1000000")
        call_command("check_data", "ledger", "--repair", stdout=(out := io.StringIO()))
        self.assertIn("1 balances were wrong and are worked out", out.getvalue())

    def test_broken_below_zero(self) -> None:
        self.sql(
            f"update supplies_entry set quantity = -1, kind = 'counted' where supply_id = {self.supply('C-30').pk}",
            f"update supplies_balance set on_hand = -1 where supply_id = {self.supply('C-30').pk}",
        )
        self.told("below_zero", "C-30 -1")

    def test_broken_used_by_day(self) -> None:
        self.sql(f"delete from supplies_usedon where supply_id = {self.supply('L-100').pk}")
        self.told("used_by_day", "L-100 used 0 by day")

    def test_broken_received_of_orders(self) -> None:
        supplier = self.ask("post", "suppliers", {"name": "Marlpit Board", "lead_days": 3}, status=201)
        line = {"supply_id": self.supply("C-30").pk, "quantity": "5", "price": "3"}
        body = {
            "supplier_id": supplier["id"], "lines": [line], "delivery": "0", "expected_on": "2099-01-01",
            "request_key": str(uuid4()),
        }  # fmt: skip
        self.ask("post", "purchases", body, status=201)
        self.sql("update supplies_purchaseline set received = 2")
        self.told("received_of_orders", "C-30 received 2")

    def test_broken_used_once(self) -> None:
        entry = Entry.objects.of(self.workshop).filter(parcel=self.closed_parcel, kind="used").first()
        assert entry is not None
        entry.pk = None
        entry.save(force_insert=True)
        self.told("used_once", f"parcel {self.closed_parcel.pk} (closed) drew {entry.supply.code} 2 times")

    def test_broken_arrivals_counted(self) -> None:
        row = self.arrived()
        VersionArrivals.objects.of(self.workshop).filter(known=1).update(known=7)
        self.told("arrivals_counted", "version 1 of preserve-250 counts 1 of 7, arrived 1 of 1")
        self.ask("put", f"arrivals/{row.pk}/answer", {"revision": 1, "outcome": "broken", "note": "again"})
        self.assertEqual([one.code for one, _, _ in broken()], [])

    def test_broken_sent_has_arrival(self) -> None:
        self.arrived()
        Parcel.objects.of(self.workshop).filter(pk=self.closed_parcel.pk).update(handed_over_at=None)
        self.told("sent_has_arrival", f"parcel {self.closed_parcel.pk}")

    def arrived(self) -> Arrival:
        hand_over(workshop=self.workshop, parcel_ids=[self.closed_parcel.pk], at=timezone.now())
        row = Arrival.objects.of(self.workshop).get()
        self.ask("put", f"arrivals/{row.pk}/answer", {"revision": 0, "outcome": "broken"})
        return row

    def test_broken_closed_whole(self) -> None:
        Parcel.objects.of(self.workshop).filter(pk=self.closed_parcel.pk).update(postage=None)
        self.told("closed_whole", f"parcel {self.closed_parcel.pk}")

    def test_broken_order_and_parcels(self) -> None:
        Order.objects.of(self.workshop).filter(number="1163").update(state="packed")
        Order.objects.of(self.workshop).filter(number="1164").update(state="bench")
        self.told("order_and_parcels", "order 1163 is packed with 1 parcels open", "order 1164 is bench with 0 parcels")

    def test_broken_label_of_closed(self) -> None:
        Label.objects.of(self.workshop).filter(parcel=self.closed_parcel).update(state="void")
        self.told("label_of_closed", "bought: none")

    def test_broken_one_live_label(self) -> None:
        self.sql(
            "set constraints all immediate",
            "alter table carriers_label drop constraint if exists label_one_live_a_parcel",
            "drop index if exists label_one_live_a_parcel",
        )
        label = Label.objects.of(self.workshop).get(parcel=self.at_bench)
        label.pk, label.key = None, uuid4()
        label.save(force_insert=True)
        self.told("one_live_label", f"parcel {self.at_bench.pk} has 2")

    def test_broken_charge_without_label(self) -> None:
        Label.objects.of(self.workshop).filter(parcel=self.at_bench).update(state="refused")
        self.told("charge_without_label", CarrierSale.objects.of(self.workshop).latest("id").tracking)

    def test_broken_label_without_charge(self) -> None:
        sale = CarrierSale.objects.of(self.workshop).latest("id")
        sale.delete()
        self.told("label_without_charge", sale.tracking)

    def test_broken_promised_for_open(self) -> None:
        plan = Plan.objects.of(self.workshop).get(order__number="1160")
        supply = self.supply("C-14")
        PlannedUse.objects.of(self.workshop).create(workshop=self.workshop, plan=plan, supply=supply, quantity=1)
        self.told("promised_for_open", "order 1160 is packed and holds C-14")

    def test_broken_planned_has_plan(self) -> None:
        Plan.objects.of(self.workshop).filter(order__number="1164").delete()
        Order.objects.of(self.workshop).filter(number="1164").update(state="planned")
        self.told("planned_has_plan", "order 1164")

    def test_broken_document_in_use(self) -> None:
        left = PlanDocument(workshop=self.workshop)
        left.write({"status": "blocked"})
        left.save()
        self.told("document_in_use", f"plan document {left.pk}")
        self.assertEqual(clear()["documents"], 1)
        self.assertEqual(broken(["document_in_use"]), [])

    def test_broken_wave_has_worker(self) -> None:
        self.sql(
            "insert into plans_wave (workshop_id, total, done, failed, stop_asked, began_at, told_at) "
            f"values ({self.workshop.pk}, 17, 3, 0, false, now() - interval '1 hour', now() - interval '1 hour')"
        )
        self.told("wave_has_worker", "3 of 17")
        Wave.objects.of(self.workshop).filter(ended_at=None).update(ended_at="2026-01-01T00:00Z")
        self.assertEqual(broken(["wave_has_worker"]), [])

    def test_broken_uses(self) -> None:
        entry = Entry.objects.of(self.workshop).filter(parcel=self.closed_parcel, kind="used").first()
        assert entry is not None
        Entry.objects.of(self.workshop).filter(pk=entry.pk).update(quantity=entry.quantity - Decimal("0.5"))
        with self.assertRaisesMessage(CommandError, "1 rows"):
            call_command("check_data", "uses", stdout=(out := io.StringIO()))
        self.assertIn(f"order 1160 drew {-entry.quantity + Decimal('0.5')} of {entry.supply.code}", out.getvalue())
        with self.assertLogs("server.upkeep.tasks", "ERROR"):
            self.assertGreater(check_all(0), 0)
