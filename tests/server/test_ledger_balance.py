"""The balance beside the ledger: always what the entries come to, whatever is done, and read in one step."""

import random
from decimal import Decimal
from typing import Any
from uuid import uuid4

from django.db import connection
from django.db.models import Sum
from django.test.utils import CaptureQueriesContext

from core.supplies.ledger import LedgerEntry, value_by_moving_average
from server.supplies.models import Balance, Entry, Supply
from server.supplies.selectors import supplies_with_stock
from server.upkeep.clearing import repair_balances
from server.upkeep.invariants import broken
from tests.server.base import DemoCase

D = Decimal


class BalanceAndLedger(DemoCase):
    def assert_true(self) -> None:
        self.assertEqual([(one.code, rows) for one, _, rows in broken(["ledger"])], [])

    def test_after_every_kind_of_entry(self) -> None:
        parcel = self.closed("1160")
        self.assert_true()
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "forgot the card"})
        self.assert_true()
        self.ask("post", f"parcels/{parcel['id']}/label/void")
        self.ask(
            "post", f"parcels/{parcel['id']}/hold", {"words": "rang", "spoiled": [parcel["candidate"]["container"]]}
        )
        carton = {"length": "310", "width": "220", "height": "150", "weight": "240", "board": "single", "shelf": "A"}
        self.ask("post", "supplies/reclaimed", {**carton, "request_key": str(uuid4())})
        kinds = set(Entry.objects.of(self.workshop).values_list("kind", flat=True))
        self.assertEqual(kinds, {"received", "used", "corrected", "spoiled", "reclaimed"})
        self.assert_true()

    def test_random_receipts_and_counts_follow_the_cores_rule(self) -> None:
        supply, chance = self.supply("C-14"), random.Random(24)
        for _ in range(30):
            key = {"request_key": str(uuid4())}
            if chance.random() < 0.6:
                body: dict[str, Any] = {
                    "quantity": str(chance.randint(1, 50)),
                    "total_cost": str(chance.randint(0, 90)),
                }
                self.ask("post", f"supplies/{supply.pk}/receive", body | key)
            else:
                self.ask("post", f"supplies/{supply.pk}/count", {"counted": str(chance.randint(0, 200))} | key)
            self.assert_true()
        rows = Entry.objects.of(self.workshop).filter(supply=supply).order_by("id")
        value = value_by_moving_average(
            [LedgerEntry(kind="received", quantity=row.quantity, unit_cost=row.unit_cost) for row in rows]
        )
        balance = Balance.objects.of(self.workshop).get(supply=supply)
        self.assertEqual(balance.on_hand, rows.aggregate(total=Sum("quantity"))["total"])
        self.assertAlmostEqual(balance.average_cost, value.average_cost, places=4)

    def test_reading_stock_does_not_read_the_ledger(self) -> None:
        with CaptureQueriesContext(
            connection,
        ) as queries:
            list(supplies_with_stock(self.workshop))
        self.assertEqual(len(queries), 1)
        self.assertNotIn("supplies_entry", queries[0]["sql"])

    def test_a_supply_without_entries_has_nothing(self) -> None:
        supply = Supply.objects.of(self.workshop).create(
            workshop=self.workshop,
            code="NEW",
            name="New",
            kind="carton",
            shelf="Z",
            slot=1,
            facts=self.supply("C-14").facts,
        )
        row = supplies_with_stock(self.workshop).get(pk=supply.pk)
        self.assertEqual((row.on_hand, row.average_cost), (0, 0))  # type: ignore[attr-defined]

    def test_a_wrong_balance_is_told_and_worked_out_from_the_ledger_again(self) -> None:
        supply = self.supply("C-14")
        right = Balance.objects.of(self.workshop).get(supply=supply).on_hand
        Balance.objects.of(self.workshop).filter(supply=supply).update(on_hand=right + 7)
        Balance.objects.of(self.workshop).filter(supply=self.supply("C-08")).delete()
        ((one, count, rows),) = broken(["ledger"])
        self.assertEqual((one.code, count), ("ledger", 2))
        self.assertTrue(any(f"C-14 has {right + 7}" in row for row in rows), rows)
        self.assertEqual(repair_balances(), 2)
        self.assert_true()

    def test_the_ledgers_page_shows_the_balance_after_each_entry(self) -> None:
        supply = self.supply("C-14")
        for quantity in ("5", "7", "11"):
            body = {"quantity": quantity, "total_cost": "1", "request_key": str(uuid4())}
            self.ask("post", f"supplies/{supply.pk}/receive", body)
        running = D(0)
        shown = self.ask("get", f"supplies/{supply.pk}/entries?page_size=200")["results"]
        for row in reversed(shown):
            running += D(row["quantity"])
            self.assertEqual(D(row["balance"]), running)
        second = self.ask("get", f"supplies/{supply.pk}/entries?page_size=2&page=2")["results"]
        self.assertEqual(second[0]["balance"], shown[2]["balance"])
