"""A plan is kept once, compressed; after it has left, only how it was packed and sent."""

from typing import Any
from uuid import uuid4

from django.db import connection
from django.test.utils import CaptureQueriesContext

from core.parcels.plan import PlannedOrder
from server.bench.models import Parcel
from server.bench.selectors import planned
from server.carriers.models import Label
from server.orders.models import OrderLine
from server.plans.mapping import plan_from_json, plan_to_json
from server.plans.models import Plan, PlanDocument
from server.supplies.models import Entry
from tests.server.base import DemoCase


class KeptOnce(DemoCase):
    def documents(self) -> int:
        return PlanDocument.objects.of(self.workshop).count()

    def finish(self, number: str) -> list[Parcel]:
        parcel = self.to_bench(number)
        for part in parcel["parts"]:
            at = f"parcels/{part['id']}"
            grams = self.ask("get", at)["candidate"]["weight"]["gross_mg"] // 1000
            shown = self.ask("post", f"{at}/weigh", {"typed": f"{grams} g"})
            self.ask("post", f"{at}/label", {"service": shown["offers"][0]["service"]})
            self.ask("post", f"{at}/close", {"request_key": str(uuid4())})
        return list(Parcel.objects.of(self.workshop).filter(order__number=number).select_related("kept"))

    def size(self, *rows: Any) -> int:
        """Bytes the rows take in their tables, as PostgreSQL counts them."""
        total = 0
        for row in rows:
            with connection.cursor() as cursor:
                cursor.execute(f"select pg_column_size(t.*) from {row._meta.db_table} t where id = %s", [row.pk])
                total += cursor.fetchone()[0]
        return total

    def test_all_parcels_of_an_order_point_to_its_one_plan(self) -> None:
        before = self.documents()
        parcels = self.finish("1183")
        plan = Plan.objects.of(self.workshop).get(order__number="1183")
        self.assertGreater(len(parcels), 1)
        self.assertEqual({parcel.kept_id for parcel in parcels}, {plan.kept_id})
        self.assertEqual(self.documents(), before)

    def test_planning_again_replaces_the_document(self) -> None:
        before = self.documents()
        old = Plan.objects.of(self.workshop).get(order__number="1160").kept_id
        self.ask("post", f"orders/{self.order('1160').pk}/plan/container", {"container": "C-14"})
        self.assertEqual(self.documents(), before)
        self.assertFalse(PlanDocument.objects.of(self.workshop).filter(pk=old).exists())

    def test_what_a_parcel_was_begun_with_outlives_a_new_plan(self) -> None:
        parcel = self.to_bench("1160")
        kept = Parcel.objects.of(self.workshop).get(pk=parcel["id"]).kept_id
        self.ask("post", f"parcels/{parcel['id']}/hold", {"words": "rang"})
        self.ask("post", f"orders/{self.order('1160').pk}/release")
        self.assertTrue(PlanDocument.objects.of(self.workshop).filter(pk=kept).exists())
        self.assertNotEqual(Plan.objects.of(self.workshop).get(order__number="1160").kept_id, kept)

    def test_what_is_left_after_closing_is_how_it_was_sent(self) -> None:
        before = plan_from_json(Plan.objects.of(self.workshop).get(order__number="1160").document)
        (parcel,) = self.finish("1160")
        after = planned(parcel)
        assert isinstance(before, PlannedOrder)
        self.assertTrue(before.others and before.chosen.only.refusals is not None)
        self.assertEqual((after.others, after.ruled_out), ((), ()))
        one, was = after.chosen.only, before.chosen.only
        self.assertEqual(
            (one.uses, one.weight, one.costs, one.placements, one.quote),
            (was.uses, was.weight, was.costs, was.placements, was.quote),
        )
        self.assertEqual(plan_from_json(plan_to_json(after)), after)
        shown = self.ask("get", f"orders/{self.order('1160').pk}/plan")
        self.assertEqual(len(shown["plan"]["ways"]), 1)
        self.ask("get", f"parcels/{parcel.pk}")
        self.ask("get", f"parcels/{parcel.pk}/slip.pdf")

    def test_reopened_it_is_weighed_and_labelled_as_before(self) -> None:
        (parcel,) = self.finish("1160")
        at = f"parcels/{parcel.pk}"
        self.ask("post", f"{at}/reopen", {"words": "forgot the card"})
        self.ask("post", f"{at}/label/void")
        shown = self.ask("get", at)
        self.assertTrue(shown["offers"])
        self.ask("post", f"{at}/weigh", {"typed": f"{shown['candidate']['weight']['gross_mg'] // 1000} g"})
        self.ask("post", f"{at}/label", {"service": shown["offers"][0]["service"]})
        self.ask("post", f"{at}/close", {"request_key": str(uuid4())})

    def test_a_closed_order_takes_little(self) -> None:
        """All its rows together; wanted: at most 15 kB an order."""
        sizes = {}
        for number in ("1160", "1163", "1172", "1174", "1183", "1184"):
            parcels = self.finish(number)
            order = self.order(number)
            plan = Plan.objects.of(self.workshop).get(order=order)
            rows = [order, plan, plan.kept, *parcels]
            rows += list(OrderLine.objects.of(self.workshop).filter(order=order))
            rows += list(Entry.objects.of(self.workshop).filter(parcel__in=parcels))
            rows += list(Label.objects.of(self.workshop).filter(parcel__in=parcels))
            sizes[number] = self.size(*rows)
        self.assertLess(max(sizes.values()), 15_000, sizes)

    def test_lists_read_no_document(self) -> None:
        self.finish("1160")
        for path in ("orders", "orders?state=packed", "parcels?state=closed", "rail", "find?q=1160"):
            with CaptureQueriesContext(connection) as queries:
                self.ask("get", path)
            self.assertFalse([q["sql"] for q in queries if "plandocument" in q["sql"]], path)
