"""The sample's ten weeks: every check holds, today's stock is that of the files, and it looks like a shop's."""

import json
from collections import Counter
from decimal import Decimal
from typing import Any

from django.apps import apps
from django.db import connection
from django.db.models import Sum
from django.test import TestCase

from core.money.record import by_month
from server.beginning.sample import remove_sample
from server.bench.models import Parcel
from server.buying.list_screens import buy_list_out
from server.buying.reading import read_buying
from server.commands.demo import DEMO, load_demo
from server.money.models import ClosedMonth, KeptLine
from server.money.reading import records_of
from server.orders.models import Order
from server.supplies.models import Balance, Entry, Purchase
from server.upkeep.invariants import broken
from server.upkeep.uses import wrong_uses
from server.workshops.models import Workshop, WorkshopOwned
from tests.kept_rows import begin_with

#: By kind of line, what it is for each order, straight from the tables.
_SUMS = {
    "goods": "select order_id, sum(unit_price * quantity) from orders_orderline where workshop_id = %s group by 1",
    "postage": """select p.order_id, -sum(l.price) from carriers_label l join bench_parcel p on p.id = l.parcel_id
                  where l.workshop_id = %s and l.state in ('bought', 'voiding', 'surplus') group by 1""",
    "carrier_charge": """select p.order_id, -sum(l.charged_more) from carriers_label l
                  join bench_parcel p on p.id = l.parcel_id where l.workshop_id = %s and l.state = 'bought'
                  group by 1""",
    "materials": """select p.order_id, round(sum(e.quantity * e.average_after), 2) from supplies_entry e
                  join bench_parcel p on p.id = e.parcel_id where e.workshop_id = %s group by 1""",
    "refund": """select p.order_id, -sum(a.gave_amount) from outcomes_arrival a
                  join bench_parcel p on p.id = a.parcel_id
                  where a.workshop_id = %s and a.gave_back in ('refund', 'part_refund') group by 1""",
    "claim": """select p.order_id, coalesce(sum(c.paid), 0) from outcomes_claim c
                  join outcomes_arrival a on a.id = c.arrival_id
                  join bench_parcel p on p.id = a.parcel_id where c.workshop_id = %s and c.settled_on is not null
                  group by 1""",
    "channel_fee": """select o.id, -round((o.goods + o.postage_charged * (f.of_postage)::int) * f.percent / 100
                  + f.fixed, 2) from (select o.id, o.channel, o.postage_charged, o.workshop_id,
                  (select sum(unit_price * quantity) from orders_orderline where order_id = o.id) goods
                  from orders_order o) o join money_feerow f on f.channel = o.channel and f.kind = 'channel'
                  and f.workshop_id = o.workshop_id where o.workshop_id = %s""",
}


def _rows(model: type[WorkshopOwned]) -> int:
    with connection.cursor() as cursor:
        cursor.execute(f"select count(*) from {model._meta.db_table}")
        return int(cursor.fetchone()[0])


class History(TestCase):
    said: list[str]
    workshop: Workshop

    @classmethod
    def setUpTestData(cls) -> None:
        cls.said = begin_with("whole sample", load_demo)
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

    def test_the_record_is_the_ledger_the_labels_and_what_is_agreed_to_the_cent(self) -> None:
        """Every order's lines against sums made in SQL, by another way than the record's own."""
        orders = list(Order.objects.of(self.workshop).filter(state=Order.State.PACKED))
        records = {one.order.pk: one.record for one in records_of(self.workshop, orders)}
        self.assertGreater(len(records), 250)
        for kind, sql in _SUMS.items():
            with connection.cursor() as cursor:
                cursor.execute(sql, [self.workshop.pk])
                told = {order: amount for order, amount in cursor.fetchall() if order in records}
            for order, record in records.items():
                self.assertEqual(record.sum_of(kind), told.get(order, Decimal(0)), (kind, order))  # type: ignore[arg-type]
        months = by_month(records.values())
        self.assertEqual(sum(months.values()), sum(record.left for record in records.values()))
        for row in ClosedMonth.objects.of(self.workshop):
            kept = KeptLine.objects.of(self.workshop).filter(closed=row).aggregate(total=Sum("amount"))["total"]
            self.assertEqual((months[row.month], row.left), (kept, kept), row.month)
        self.assertTrue(ClosedMonth.objects.of(self.workshop).exists())

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
