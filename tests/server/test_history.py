"""The sample's ten weeks: every check holds, today's stock is that of the files, and it looks like a shop's."""

import json
from collections import Counter
from decimal import Decimal
from typing import Any

from django.apps import apps
from django.db import connection
from django.test import TestCase

from server.beginning.sample import remove_sample
from server.bench.models import Parcel
from server.buying.list_screens import buy_list_out
from server.buying.reading import read_buying
from server.commands.demo import DEMO, load_demo
from server.orders.models import Order
from server.supplies.models import Balance, Entry, Purchase
from server.upkeep.invariants import broken
from server.upkeep.uses import wrong_uses
from server.workshops.models import Workshop, WorkshopOwned


def _rows(model: type[WorkshopOwned]) -> int:
    with connection.cursor() as cursor:
        cursor.execute(f"select count(*) from {model._meta.db_table}")
        return int(cursor.fetchone()[0])


class History(TestCase):
    said: list[str]
    workshop: Workshop

    @classmethod
    def setUpTestData(cls) -> None:
        cls.said = load_demo()
        cls.workshop = Workshop.objects.get()

    def test_every_check_holds(self) -> None:
        self.assertEqual([(one.code, rows) for one, _, rows in broken()], [])
        self.assertEqual(list(wrong_uses(self.workshop, days=None)), [])

    def test_todays_stock_is_what_the_files_say_less_what_was_packed_today(self) -> None:
        files: dict[str, Any] = {}
        for path in (DEMO / "supplies.json", DEMO / "range" / "supplies.json"):
            files.update({one["code"]: one["on_hand"] for one in json.loads(path.read_text())["supplies"]})
        files.update(json.loads((DEMO / "suppliers.json").read_text())["today"])
        newest = Parcel.objects.of(self.workshop).filter(handed_over_at=None)
        drawn = Counter[str]()
        for entry in Entry.objects.of(self.workshop).filter(parcel__in=newest).select_related("supply"):
            drawn[entry.supply.code] += entry.quantity  # type: ignore[assignment]
        for row in Balance.objects.of(self.workshop).select_related("supply"):
            code = row.supply.code
            self.assertEqual(row.on_hand, Decimal(files[code]) + drawn[code], code)

    def test_the_sample_is_removed_with_all_of_it(self) -> None:
        self.assertTrue(remove_sample())
        left = [model.__name__ for model in apps.get_models() if issubclass(model, WorkshopOwned) and _rows(model)]
        self.assertEqual(left, [])

    def test_it_looks_like_a_shops(self) -> None:
        past = Order.objects.of(self.workshop).filter(number__lt="0999", state=Order.State.PACKED)
        self.assertGreater(past.count(), 250)
        weeks = Counter(placed.isocalendar()[1] for placed in past.values_list("placed_on", flat=True))
        counts = [weeks[week] for week in sorted(weeks)]
        self.assertGreater(max(counts), 2 * min(counts[1:-1]))
        states = Counter(Purchase.objects.of(self.workshop).values_list("state", flat=True))
        self.assertEqual(states["ordered"], 2)
        self.assertGreater(states["received"], 1)

    def test_there_is_something_to_buy_and_something_asleep(self) -> None:
        found = buy_list_out(self.workshop, quantities={}, without=frozenset())
        self.assertTrue(found.orders)
        self.assertTrue(found.left_out or found.outcome == "all")
        read = read_buying(self.workshop)
        self.assertGreater(sum(1 for one in read.supplies if one.outlook.runs_out is not None), 5)
