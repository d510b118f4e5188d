"""Money through the API: records, closed months, what buyers pay, which policy is ours, what is left per unit."""

import csv
import io
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from django.utils import timezone

from core.money.months import month_of
from server.bench.models import Parcel, StepTime
from server.carriers.models import Label
from server.money.models import ChargePolicy, ClosedMonth, KeptLine
from server.money.reading import records_of
from server.orders.models import Order
from server.outcomes.models import Arrival
from server.recipes.models import Product
from server.supplies.models import Entry
from server.workshops.clock import today
from server.workshops.models import SettingChange, Workshop
from tests.server.test_arrivals import ArrivalCase

D = Decimal
TAX = {"kind": "tax", "percent": "5", "from_day": "2024-01-01"}
CHANNEL = {"kind": "channel", "channel": "own shop", "percent": "6", "fixed": "0.20", "from_day": "2024-01-01"}
FLAT = {"code": "typed", "base": {"kind": "flat", "amount": "5.00"}}


class MoneyCase(ArrivalCase):
    """The demo workshop with one parcel that has left."""

    @property
    def month(self) -> str:
        return month_of(today(self.workshop))

    def record(self, number: str = "1160") -> Any:
        return self.ask("get", f"money/orders/{self.order(number).pk}")

    def line(self, kind: str) -> Decimal:
        return sum((D(line["amount"]) for line in self.record()["lines"] if line["kind"] == kind), D(0))

    def back_in_time(self, days: int) -> date:
        """Let the parcel have been packed, labelled and drawn from the shelf so many days ago."""
        at = timezone.now() - timedelta(days=days)
        Parcel.objects.of(self.workshop).update(closed_at=at, handed_over_at=at)
        Label.objects.of(self.workshop).update(bought_at=at, asked_at=at)
        Entry.objects.of(self.workshop).filter(parcel__isnull=False).update(at=at)
        Arrival.objects.of(self.workshop).update(sent_on=at.date(), promised_on=at.date() + timedelta(days=2))
        return at.date()

    def last_month(self) -> str:
        """Let it have been packed in the month before this one; return that month."""
        return month_of(self.back_in_time(today(self.workshop).day + 3))


class TheRecord(MoneyCase):
    def test_every_line_is_what_happened_and_they_sum(self) -> None:
        record = self.record()
        order, label = self.order("1160"), Label.objects.of(self.workshop).get(state="bought")
        self.assertEqual(self.line("goods"), order.goods_value)
        self.assertEqual(self.line("postage_charged"), order.postage_charged)
        self.assertEqual(self.line("postage"), -label.price)
        drawn = Entry.objects.of(self.workshop).filter(parcel__order=order)
        cost = sum((-one.quantity * one.average_after for one in drawn), D(0))
        self.assertEqual(self.line("materials"), -cost.quantize(D("0.01")))
        self.assertEqual(
            sum((D(one["cost"]) for one in record["materials"]), D(0)).quantize(D("0.01")), cost.quantize(D("0.01"))
        )
        self.assertEqual(D(record["left"]), sum(D(line["amount"]) for line in record["lines"]))
        self.assertLess(self.line("expected_loss"), 0)

    def test_times_at_the_bench_count_where_there_are_any_and_a_pause_does_not(self) -> None:
        self.assertFalse(self.record()["timed"])
        parcel = Parcel.objects.of(self.workshop).get()
        for step, seconds in enumerate((60, 60, 60, 3_600)):
            StepTime.objects.of(self.workshop).create(
                workshop=self.workshop, parcel=parcel, step=step, kind="wrap", seconds=seconds
            )
        record = self.record()
        self.assertEqual((record["timed"], D(record["minutes"])), (True, D("4.0")))  # the pause counts as a minute
        self.assertEqual(self.line("labour"), D("-1.00"))

    def test_the_wage_of_the_day_counts_not_todays(self) -> None:
        self.back_in_time(10)
        before = self.line("labour")
        SettingChange.objects.of(self.workshop).create(
            workshop=self.workshop, name="wage_per_hour", before="15.00", after="30.00", by="Maren", at=timezone.now()
        )
        Workshop.objects.filter(pk=self.workshop.pk).update(wage_per_hour=D(30))
        self.assertEqual(self.line("labour"), before)

    def test_fees_and_tax_of_the_channel_from_their_day_on(self) -> None:
        for body in (TAX, CHANNEL, {**CHANNEL, "percent": "9", "from_day": "2099-01-01"}):
            self.ask("post", "money/fees", body)
        order = self.order("1160")
        gross = order.goods_value + order.postage_charged
        self.assertEqual(self.line("tax"), -(gross * 5 / 105).quantize(D("0.01")))
        self.assertEqual(self.line("channel_fee"), -(gross * 6 / 100 + D("0.20")).quantize(D("0.01")))
        fees = self.ask("get", "money/fees")["results"]
        self.ask("delete", f"money/fees/{next(one['id'] for one in fees if one['kind'] == 'tax')}")
        self.assertEqual(self.line("tax"), 0)

    def test_what_was_given_back_and_what_a_claim_paid(self) -> None:
        self.tell("broken", gave_back="refund", gave_amount="4.50", harms=[{"kind": "broken", "sku": "PRE-BLK"}])
        self.assertEqual((self.line("refund"), self.line("expected_loss")), (D("-4.50"), 0))

    def test_a_charge_of_the_carrier_is_of_the_day_it_was_first_told(self) -> None:
        label = Label.objects.of(self.workshop).get(state="bought")
        told = timezone.now() - timedelta(days=1)
        Label.objects.of(self.workshop).filter(pk=label.pk).update(
            charged_more=D("1.20"), charged_at=told, told_at=timezone.now()
        )
        (line,) = [one for one in self.record()["lines"] if one["kind"] == "carrier_charge"]
        self.assertEqual((line["amount"], line["on"]), ("-1.20", told.date().isoformat()))

    def test_an_order_that_is_not_packed_has_no_income(self) -> None:
        found = self.ask("get", f"money/orders/{self.order('1161').pk}")
        self.assertEqual((found["packed_on"], found["lines"]), (None, []))

    def test_the_files_hold_the_months_lines_and_no_formula(self) -> None:
        Order.objects.of(self.workshop).filter(number="1160").update(buyer="=cmd|'/c calc'!A1")
        text = self.ask("get", f"money/months/{self.month}/record.csv").content.decode()
        rows = list(csv.DictReader(io.StringIO(text)))
        self.assertEqual({row["buyer"][0] for row in rows}, {"'"})
        month = self.ask("get", f"money/months/{self.month}")
        self.assertEqual(sum(D(row["amount"]) for row in rows), D(month["left"]))
        kept = self.ask("get", f"money/months/{self.month}/record.json")
        self.assertEqual(sum(D(row["amount"]) for row in kept["lines"]), D(month["left"]))

    def test_the_number_of_queries_does_not_grow_with_the_orders(self) -> None:
        self.sent("1161")
        orders = list(Order.objects.of(self.workshop).filter(state="packed"))
        self.assertEqual(len(orders), 2)
        with self.assertNumQueries(14):
            records_of(self.workshop, orders[:1])
        with self.assertNumQueries(14):
            records_of(self.workshop, orders)


class Months(MoneyCase):
    def test_the_month_under_way_is_not_closed(self) -> None:
        self.assertEqual(self.ask("post", f"money/months/{self.month}/closed", status=409)["code"], "month_not_over")
        self.ask("get", "money/months/2026-13", status=400)
        self.ask("get", "money/months/2099-01", status=400)

    def test_a_closed_month_stands_and_what_is_known_since_comes_in_the_open_one(self) -> None:
        month = self.last_month()
        before = self.ask("get", f"money/months/{month}")
        self.assertTrue(before["may_close"])
        closed = self.ask("post", f"money/months/{month}/closed")
        self.assertEqual(D(closed["left"]), D(before["left"]))
        self.ask("post", f"money/months/{month}/closed")  # pressed twice: closed once
        self.assertEqual(ClosedMonth.objects.of(self.workshop).count(), 1)
        loss = self.line("expected_loss")
        self.tell("whole")  # it arrived: no loss is expected any more
        self.ask("post", "money/fees", CHANNEL, status=409)  # it would change what is closed
        after = self.ask("get", f"money/months/{month}")
        self.assertEqual((after["left"], after["closed_by"]), (before["left"], "Maren"))
        now = self.ask("get", f"money/months/{self.month}")
        self.assertEqual((D(now["left"]), D(now["from_before"])), (-loss, -loss))
        # What the orders left is the month's sum, without what is other orders', with what falls in other months.
        self.assertEqual((D(after["in_other_months"]), D(now["in_other_months"])), (-loss, 0))
        orders = sum(D(one["left"]) for one in after["dots"])
        self.assertEqual(orders, D(after["left"]) - D(after["from_before"]) + D(after["in_other_months"]))
        record = self.record()
        self.assertEqual(D(record["left"]), sum(D(line["amount"]) for line in record["lines"]))
        self.assertEqual([one["source"] for one in record["lines"]].count("closed_month"), 1)

    def test_months_are_closed_in_their_order(self) -> None:
        self.last_month()
        first = self.order("1160")
        self.sent("1161")
        old = timezone.now() - timedelta(days=80)
        Parcel.objects.of(self.workshop).exclude(order=first).update(closed_at=old)
        month = month_of(today(self.workshop).replace(day=1) - timedelta(days=1))
        refused = self.ask("post", f"money/months/{month}/closed", status=409)
        self.assertEqual(refused["code"], "not_due")
        self.assertIn(month_of(old.date()), refused["detail"])

    def test_the_wrong_key_is_undone_within_a_day(self) -> None:
        month = self.last_month()
        self.ask("post", f"money/months/{month}/closed")
        self.ask("delete", f"money/months/{month}/closed")
        self.assertFalse(KeptLine.objects.of(self.workshop).exists())
        self.ask("post", f"money/months/{month}/closed")
        ClosedMonth.objects.of(self.workshop).update(closed_at=timezone.now() - timedelta(days=2))
        self.assertEqual(self.ask("delete", f"money/months/{month}/closed", status=409)["code"], "too_late")

    def test_months_beside_each_other(self) -> None:
        month = self.last_month()
        rows = self.ask("get", "money/months")["months"]
        self.assertEqual([row["month"] for row in rows], [self.month, month])
        self.assertEqual((rows[1]["orders"], D(rows[1]["left"])), (1, D(self.record()["left"])))


class WhatBuyersPay(MoneyCase):
    def test_policies_over_our_own_orders(self) -> None:
        self.sent("1161")
        found = self.ask("get", "money/charges?weeks=4")
        self.assertEqual(found["orders"], 2)
        paid = sum((D(one["paid"]) for one in found["points"]), D(0))
        even = D(found["break_even_fee"])
        self.assertEqual(even, (paid / 2).quantize(D("0.01"), rounding="ROUND_CEILING"))
        (run,) = self.ask("post", "money/charges/runs", {"weeks": 4, "policies": [FLAT]})["runs"]
        self.assertEqual(D(run["left"]), 2 * D("5.00") - paid)
        self.assertEqual(D(found["as_charged"]["paid"]), paid)
        table = self.ask("get", "money/charges/table.csv?weeks=4").content.decode()
        self.assertTrue(table.startswith("zone,units_from,units_to,charge"))

    def test_bad_policies_are_told_and_nothing_is_kept(self) -> None:
        steps = [{"up_to_mg": 2_000_000, "amount": "5"}, {"up_to_mg": 1_000_000, "amount": "4"}]
        falling = {"code": "w", "base": {"kind": "by_weight", "steps": steps}}
        for document in (falling, {"code": "f", "base": {"kind": "flat", "amount": "-1"}}, {"code": "x"}):
            self.ask("post", "money/policies", {"name": "Bad", "document": document}, status=422)
        self.assertFalse(ChargePolicy.objects.of(self.workshop).exists())

    def test_one_becomes_ours_from_a_day_and_new_orders_are_held_against_it(self) -> None:
        kept = self.ask("post", "money/policies", {"name": "5 flat", "document": FLAT})
        day = today(self.workshop).isoformat()
        path = f"money/policies/{kept['id']}/ours"
        self.assertEqual(self.ask("put", path, {"from_day": "2020-01-01"}, status=409)["code"], "past")
        self.ask("put", path, {"from_day": day})
        self.assertTrue(self.ask("get", "money/charges?weeks=4")["runs"][0]["ours"])
        found = self.ask("get", "money/charges/compared")
        self.assertEqual((found["name"], found["since"]), ("5 flat", day))
        numbers = {row["number"] for row in found["rows"]}
        for order in Order.objects.of(self.workshop).filter(placed_on=day, plan__status="planned"):
            self.assertEqual(order.number in numbers, order.postage_charged != D(5), order.number)
        # What buyers pay is neither changed nor deleted behind the record's back.
        self.ask("post", "money/policies", {"name": "5 flat", "document": FLAT}, status=409)
        self.ask("delete", f"money/policies/{kept['id']}", status=409)
        other = self.ask("post", "money/policies", {"name": "Other", "document": FLAT})
        self.assertEqual(
            self.ask("put", f"money/policies/{other['id']}/ours", {"from_day": day}, status=409)["code"], "day_taken"
        )

    def test_a_threshold_that_costs_a_sum_and_a_demand_that_is_assumed(self) -> None:
        body = {"weeks": 4, "policy": FLAT, "may_cost": "5.00"}
        value = self.order("1160").goods_value
        self.assertEqual(D(self.ask("post", "money/charges/threshold", body)["free_from"]), value)
        body["may_cost"] = "4.99"
        self.assertIsNone(self.ask("post", "money/charges/threshold", body)["free_from"])
        free = {**FLAT, "free_from": str(value + 1)}
        (run,) = self.ask("post", "money/charges/runs", {"weeks": 4, "policies": [free]})["runs"]
        self.assertIsNone(run["demand"])
        settings = {"endings": ["0.95", "0.50"], "most_lost": "1", "demand_percent": 50, "demand_within": "10"}
        self.assertEqual(self.ask("put", "money/settings", settings)["endings"], ["0.50", "0.95"])
        (run,) = self.ask("post", "money/charges/runs", {"weeks": 4, "policies": [free]})["runs"]
        self.assertEqual((run["demand"]["orders"], D(run["demand"]["more_goods"])), (1, D("0.50")))

    def test_what_is_left_per_unit(self) -> None:
        product = self.order("1160").lines.get().product
        assert product is not None
        found = self.ask("get", f"money/products/{product.pk}/left?price=9.90&most=3")
        self.assertEqual([row["units"] for row in found["rows"]], [1, 2, 3])
        one = found["rows"][0]
        left = D("9.90") + D(one["charged"]) - product.goods_cost - D(one["cost"])
        self.assertEqual(D(one["left"]).quantize(D("0.01")), left.quantize(D("0.01")))
        self.ask("get", f"money/products/{product.pk}/left?price=cheap", status=422)
        unsold = Product.objects.of(self.workshop).create(workshop=self.workshop, sku="NEW-1", name="A new jar")
        self.assertEqual(self.ask("get", f"money/products/{unsold.pk}/left")["problem"], "no_price")

    def test_a_packer_without_costs_sees_none_of_it(self) -> None:
        self.as_(self.packer)
        self.ask("get", "money/months")
        Workshop.objects.filter(pk=self.workshop.pk).update(packers_see_costs=False)
        for path in ("money/months", f"money/months/{self.month}", "money/charges", "money/what-ifs"):
            self.ask("get", path, status=403)


class WhatFits(MoneyCase):
    def test_the_most_of_each_container(self) -> None:
        product = self.order("1160").lines.get().product
        assert product is not None
        found = self.ask("post", "fits", {"goods": [{"product_id": product.pk, "units": 1}]})
        most = {row["code"]: row["most"] for row in found["rows"]}
        self.assertEqual((most["C-05"], most["C-08"], most["C-14"]), (1, 2, 6))
        for row in found["rows"]:
            self.assertEqual(D(row["each"]), (D(row["total"]) / row["most"]).quantize(D("0.01")))
        mix = self.ask("post", "fits", {"goods": [{"product_id": product.pk, "units": 2}]})
        sets = {row["code"]: row["most"] for row in mix["rows"]}
        self.assertEqual((sets["C-08"], sets["C-14"]), (1, 3))
        self.ask("post", "fits", {"goods": [{"product_id": 999_999}]}, status=404)
