"""Which cartons to keep, over HTTP and in the worker: from the workshop's own orders, told, cancelled, kept."""

from decimal import Decimal
from typing import Any

from server.buying.cartons import run_report
from server.buying.models import CartonReport
from tests.server.base import DemoCase


class Report(DemoCase):
    def begin(self, **more: Any) -> Any:
        body = {"at_most": 4, "weeks": 10, "own_sizes": False, **more}
        return self.ask("post", "buying/cartons", body, status=201)

    def test_it_is_worked_out_from_the_orders_and_kept(self) -> None:
        report = self.begin()
        self.assertEqual(self.ask("post", "buying/cartons", {"at_most": 3}, status=409)["code"], "under_way")
        self.assertTrue(run_report(self.workshop, report["id"]))
        done = self.ask("get", f"buying/cartons/{report['id']}")
        self.assertEqual((done["state"], done["done"]), ("done", done["of"]))
        result = done["result"]
        kept = [one for one in result["kinds"] if one["kept"]]
        self.assertTrue(result["proven"])
        self.assertLessEqual(len(kept), 4)
        # Every content goes somewhere, or is told.
        packed = sum(one["parcels"] for one in kept)
        self.assertGreater(packed, 0)
        self.assertLessEqual(packed, result["parcels"])
        # The total over k falls, and at the asked number is the one that is told.
        at_k = next(one for one in result["curve"] if one["kinds"] == len(kept))
        self.assertEqual(Decimal(at_k["total"]), Decimal(result["then"]["total"]))
        self.assertTrue(at_k["proven"])

    def test_sizes_of_ones_own_are_offered_and_never_cost_more(self) -> None:
        plain = self.begin()
        run_report(self.workshop, plain["id"])
        own = self.begin(own_sizes=True)
        run_report(self.workshop, own["id"])
        without, with_own = (self.ask("get", f"buying/cartons/{one['id']}")["result"] for one in (plain, own))
        self.assertTrue(any(kind["own_size"] for kind in with_own["kinds"]))
        self.assertLessEqual(len(with_own["left_over"]), len(without["left_over"]))
        if len(with_own["left_over"]) == len(without["left_over"]):
            self.assertLessEqual(Decimal(with_own["then"]["total"]), Decimal(without["then"]["total"]))

    def test_cancelled_it_is_worked_out_no_further(self) -> None:
        report = self.begin()
        gone = self.ask("delete", f"buying/cartons/{report['id']}")
        self.assertEqual(gone["state"], "cancelled")
        self.assertFalse(run_report(self.workshop, report["id"]))
        self.assertIsNone(CartonReport.objects.of(self.workshop).get(pk=report["id"]).result)
        self.begin()
