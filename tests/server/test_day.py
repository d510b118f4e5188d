"""The day over HTTP: what is due when, moving orders, hours and hand-overs, what is prepared."""

from datetime import UTC, datetime, timedelta
from decimal import Decimal
from itertools import pairwise
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

import icalendar
from django.test import TestCase
from django.utils import timezone

from server.day.models import Prepared
from server.formats.calendar_file import CalendarTask, calendar_file
from server.orders.models import Order
from server.plans.models import Plan, PlanPart
from server.recipes.models import RecipeVersion
from tests.server.base import DemoCase

WEEK = [0, 1, 2, 3, 4]


def tuesday_at(hour: int, minute: int = 0) -> datetime:
    """Return a moment of the next Tuesday but not today: the sample's orders are dated up to today."""
    day = timezone.now().replace(hour=hour, minute=minute, second=0, microsecond=0) + timedelta(days=1)
    while day.weekday() != 1:
        day += timedelta(days=1)
    return day


def collection(name: str, carrier: str, at: str, **more: Any) -> dict[str, Any]:
    return {"name": name, "kind": "collection", "carriers": [carrier], "days": WEEK, "at": at, **more}


def times(*hand_overs: Any, **more: Any) -> dict[str, Any]:
    return {
        "hours": [{"who": "Maren", "days": WEEK, "begins": "09:00", "ends": "17:00"}],
        "hand_overs": list(hand_overs) or [collection("Larkline collects", "larkline", "15:40")],
        "closures": [],
        **more,
    }


class DayCase(DemoCase):
    """A Tuesday, ten in the morning."""

    def setUp(self) -> None:
        super().setUp()
        self.clock(tuesday_at(10))

    def clock(self, now: datetime) -> None:
        self.now = now
        for place in ("server.day.times", "server.day.send_off", "server.workshops.clock"):
            patched = mock.patch(f"{place}.timezone.now", return_value=now)
            patched.start()
            self.addCleanup(patched.stop)

    def day(self, query: str = "") -> Any:
        return self.ask("get", f"day{query}")

    def waiting(self, day: Any) -> list[Any]:
        return [one for one in day["parcels"] if one["state"] == "planned"]


class Day(DayCase):
    def test_without_hours_a_day_is_assumed_and_said_to_be(self) -> None:
        day = self.day()
        self.assertTrue(day["hours_assumed"])
        (post,) = day["posts"]
        # Larkline's cut-off in the sample is 15:40.
        self.assertEqual((post["assumed"], post["at_s"], post["name"]), (True, 56_400, "Larkline"))
        self.assertEqual((day["outcome"], post["waiting"]), ("all", len(self.waiting(day))))

    def test_every_planned_parcel_is_in_the_order_of_packing_once(self) -> None:
        day = self.day()
        planned = PlanPart.objects.of(self.workshop).filter(plan__order__state=Order.State.PLANNED)
        self.assertEqual(
            sorted(one["key"] for one in day["parcels"]),
            sorted(f"{one.plan.order_id}-{one.part}" for one in planned.select_related("plan")),
        )
        slots = sorted((one["start_s"], one["end_s"]) for one in day["parcels"])
        self.assertEqual(slots[0][0], 36_000)
        self.assertTrue(all(one[1] == other[0] for one, other in pairwise(slots)))

    def test_a_begun_parcel_takes_what_its_steps_leave(self) -> None:
        parcel = self.to_bench("1165")
        whole = next(one for one in self.day()["parcels"] if one["parcel_id"] == parcel["id"])
        steps = len(parcel["steps"])
        self.ask("post", f"parcels/{parcel['id']}/progress", {"step": steps // 2, "ticked": {}, "skipped": []})
        half = next(one for one in self.day()["parcels"] if one["parcel_id"] == parcel["id"])
        self.assertEqual((whole["state"], half["state"]), ("bench", "bench"))
        self.assertLess(half["seconds"], whole["seconds"] * 0.65)

    def test_what_cannot_make_it_says_why_and_what_would_help(self) -> None:
        self.ask("put", "day/times", times(hours=[{"who": "Maren", "days": WEEK, "begins": "15:00", "ends": "16:00"}]))
        day = self.day()
        late = [one for one in day["parcels"] if one["late"]]
        self.assertGreater(len(late), 0)
        self.assertEqual({one["late"] for one in late} - {"too_much", "too_long", "not_found", "not_ready"}, set())
        self.assertIn("earlier", {one["kind"] for one in day["ways"]})
        earlier = next(one for one in day["ways"] if one["kind"] == "earlier")
        wage = Decimal(str(self.workshop.wage_per_hour)) * (earlier["until_s"] - earlier["at_s"]) / 3600
        self.assertEqual(Decimal(earlier["cost"]), wage.quantize(Decimal("0.01")))

    def test_a_closed_day_moves_everything_and_the_next_is_looked_at(self) -> None:
        closed = {"day": self.now.date().isoformat(), "reason": "Clay fair"}
        self.ask("put", "day/times", times(closures=[closed]))
        day = self.day()
        tomorrow = (self.now.date() + timedelta(days=1)).isoformat()
        self.assertEqual((day["is_today"], day["day"]), (False, tomorrow))
        self.assertTrue(all(one["post"].endswith(tomorrow) for one in self.waiting(day)))

    def test_a_full_hand_over_sends_the_youngest_orders_on(self) -> None:
        before = [one["number"] for one in self.waiting(self.day())]
        self.ask("put", "day/times", times(collection("Larkline collects", "larkline", "15:40", most_parcels=3)))
        day = self.day()
        self.assertEqual((day["posts"][0]["waiting"], day["later"][0]["parcels"]), (3, 3))
        oldest = sorted(before, key=lambda number: (self.order(number).placed_on, self.order(number).pk))[:3]
        self.assertEqual(sorted(one["number"] for one in self.waiting(day)), sorted(oldest))

    def test_the_day_asks_the_database_a_fixed_number_of_times(self) -> None:
        self.day()
        with self.assertNumQueries(25):
            self.day()

    def test_another_workshop_and_a_wrong_day_are_refused(self) -> None:
        self.ask("get", "day?day=soon", status=400)
        self.assertEqual(self.day("?day=2020-01-01")["day"], self.now.date().isoformat())


class Moving(DayCase):
    def moves(self, number: str) -> Any:
        return self.ask("get", f"day/orders/{self.order(number).pk}/moves")["moves"]

    def test_each_hand_over_is_quoted_for_its_day(self) -> None:
        self.ask("put", "day/times", times())
        moves = self.moves("1165")
        now = [one for one in moves if one["now"]]
        self.assertEqual([(one["more"], one["days_later"], one["makes_it"]) for one in now], [("0.00", 0, True)])
        days = [one["hand_over"]["day"] for one in moves]
        self.assertEqual((days, days[0]), (sorted(days), self.now.date().isoformat()))
        tomorrow = next(one for one in moves if one["hand_over"]["day"] > days[0])
        self.assertGreaterEqual(tomorrow["days_later"], 1)

    def test_a_moved_order_is_planned_for_its_day_and_leaves_today(self) -> None:
        self.ask("put", "day/times", times())
        tomorrow = next(one for one in self.moves("1165") if one["hand_over"]["day"] > self.now.date().isoformat())
        body = {"hand_over": tomorrow["hand_over"]["key"], "service": tomorrow["service"]}
        self.ask("post", f"day/orders/{self.order('1165').pk}/moves", body)
        self.assertNotIn("1165", [one["number"] for one in self.day()["parcels"]])
        plan = Plan.objects.of(self.workshop).get(order=self.order("1165"))
        self.assertEqual(plan.ship_on.isoformat(), tomorrow["hand_over"]["day"])
        self.assertEqual(self.order("1165").state, "held")
        later = {one["day"]: one["parcels"] for one in self.day()["later"]}
        self.assertEqual(later[tomorrow["hand_over"]["day"]], 1)
        ahead = self.day(f"?day={tomorrow['hand_over']['day']}")
        self.assertIn("1165", [one["number"] for one in ahead["parcels"]])
        back = next(one for one in self.moves("1165") if one["hand_over"]["day"] == self.now.date().isoformat())
        body = {"hand_over": back["hand_over"]["key"], "service": back["service"]}
        self.ask("post", f"day/orders/{self.order('1165').pk}/moves", body)
        self.assertIn("1165", [one["number"] for one in self.day()["parcels"]])

    def test_what_is_not_offered_is_refused_and_nothing_changes(self) -> None:
        body = {"hand_over": "nothing@2026-01-01", "service": "LARK-TWO"}
        refused = self.ask("post", f"day/orders/{self.order('1165').pk}/moves", body, status=409)
        self.assertEqual(refused["code"], "not_offered")
        self.to_bench("1165")
        self.assertEqual(self.ask("get", f"day/orders/{self.order('1165').pk}/moves", status=409)["code"], "not_open")


class CostsKept(DayCase):
    def test_a_packer_who_is_not_shown_costs_sees_none_in_the_day(self) -> None:
        self.ask("put", "day/times", times(hours=[{"who": "Maren", "days": WEEK, "begins": "15:00", "ends": "16:00"}]))
        self.workshop.packers_see_costs = False
        self.workshop.save(update_fields=["packers_see_costs"])
        self.as_(self.packer)
        self.assertTrue(all(way["cost"] == "hidden" for way in self.day()["ways"]))
        moves = self.ask("get", f"day/orders/{self.order('1165').pk}/moves")["moves"]
        self.assertEqual({one["more"] for one in moves}, {"hidden"})
        wave = self.day()["wave"]["parcels"]
        gathered = self.ask("get", f"day/gather?parcels={','.join(wave)}")
        self.assertNotIn("hidden", str(gathered))


class Times(DayCase):
    def test_what_was_sent_is_read_back(self) -> None:
        trip = {
            **collection("Counter", "larkline", "16:20"),
            "kind": "trip",
            "way_minutes": 12,
            "who": "Maren",
        }
        sent = times(trip, closures=[{"day": "2027-12-24", "reason": "Rest"}])
        self.ask("put", "day/times", sent)
        found = self.ask("get", "day/times")
        self.assertEqual([one["begins"] for one in found["hours"]], ["09:00:00"])
        (hand_over,) = found["hand_overs"]
        self.assertEqual((hand_over["way_minutes"], hand_over["who"], found["assumed_hand_overs"]), (12, "Maren", []))
        # Saved again it keeps its number: what was put to it stays.
        self.ask("put", "day/times", {**sent, "hand_overs": [hand_over]})
        self.assertEqual(self.ask("get", "day/times")["hand_overs"][0]["id"], hand_over["id"])

    def test_every_error_is_named_and_nothing_is_saved(self) -> None:
        wrong = times(
            collection("A", "nobody", "15:40"),
            collection("a", "larkline", "15:40", who="Piet"),
            hours=[
                {"who": "Maren", "days": WEEK, "begins": "09:00", "ends": "09:00"},
                {"who": "Oswin", "days": [0], "begins": "09:00", "ends": "12:00"},
                {"who": "oswin", "days": [0], "begins": "11:00", "ends": "13:00"},
            ],
            closures=[{"day": "2027-01-01"}, {"day": "2027-01-01"}],
        )
        refused = self.ask("put", "day/times", wrong, status=422)
        self.assertEqual(
            [one["path"] for one in refused["faults"]],
            [
                "hours[0].ends",
                "hours[2].begins",
                "hand_overs[0].carriers",
                "hand_overs[1].name",
                "hand_overs[1].who",
                "closures[1].day",
            ],
        )
        self.assertEqual(self.ask("get", "day/times")["hours"], [])

    def test_a_packer_reads_and_does_not_write(self) -> None:
        self.as_(self.packer)
        self.ask("get", "day/times")
        self.ask("put", "day/times", times(), status=403)


class Preparing(DayCase):
    def setUp(self) -> None:
        super().setUp()
        version = RecipeVersion.objects.of(self.workshop).get(recipe__products__sku="PRE-BLK", number=1)
        version.document["ahead"] = [{"what": "cool it all through", "hours_before": "3", "minutes": "1"}]
        RecipeVersion.objects.of(self.workshop).filter(pk=version.pk).update(document=version.document)
        Plan.objects.of(self.workshop).update(stale=True)
        for order in Order.objects.of(self.workshop).filter(state=Order.State.PLANNED):
            self.ask("get", f"orders/{order.pk}/plan")

    def task(self) -> Any:
        (task,) = self.day()["tasks"]
        return task

    def test_equal_tasks_are_one_and_hold_their_parcels_until_they_are_ready(self) -> None:
        self.ask("put", "day/times", times())
        task = self.task()
        self.assertGreater(len(task["order_ids"]), 1)
        self.assertEqual(task["goods"], ["Blackcurrant and bay preserve, 250 ml", "Quince preserve, 250 ml"])
        self.assertEqual(Decimal(task["minutes"]), len(task["order_ids"]))
        mine = [one for one in self.day()["parcels"] if one["order_id"] in task["order_ids"]]
        # Three hours from ten: none of them is packed before one.
        self.assertTrue(all(one["start_s"] is None or one["start_s"] >= 13 * 3600 for one in mine))

    def test_ticked_off_it_is_done_for_all_and_can_be_taken_back(self) -> None:
        task = self.task()
        body = {"what": task["what"], "order_ids": task["order_ids"], "done": True}
        for _ in range(2):  # sent twice, the first time holds
            self.assertEqual(self.ask("post", "day/prepared", body)["orders"], len(task["order_ids"]))
        self.assertEqual(Prepared.objects.of(self.workshop).count(), len(task["order_ids"]))
        self.assertEqual(self.task()["state"], "done")
        self.ask("post", "day/prepared", {**body, "done": False})
        self.assertNotEqual(self.task()["state"], "done")

    def test_what_no_recipe_asks_for_is_refused(self) -> None:
        body = {"what": "sing to it", "order_ids": self.task()["order_ids"], "done": True}
        self.assertEqual(self.ask("post", "day/prepared", body, status=409)["code"], "unknown")

    def test_the_calendar_file_is_read_back_by_a_library(self) -> None:
        task = self.task()
        calendar = icalendar.Calendar.from_ical(self.ask("get", "day/tasks.ics").content)
        (event,) = calendar.walk("VEVENT")
        self.assertEqual(event.decoded("dtend"), datetime.fromisoformat(task["due"]))
        self.assertEqual(str(event["summary"]), "; ".join(task["goods"]) + ": cool it all through")


class CalendarFile(TestCase):
    """Lead times across midnight, a weekend and a change of the clocks, read back by the library."""

    def ends(self, due: datetime) -> datetime:
        task = CalendarTask(what="freeze, the gel; packs", due=due, minutes=Decimal(2), orders=("1160", "1161"))
        content = calendar_file([task], workshop="Hollin Row", code="hollin-row", now=datetime(2026, 10, 1, tzinfo=UTC))
        self.assertIn(b"\r\n", content)
        (event,) = icalendar.Calendar.from_ical(content).walk("VEVENT")
        self.assertEqual(str(event["summary"]), "freeze, the gel; packs")
        self.assertEqual(event.decoded("dtend") - event.decoded("dtstart"), timedelta(minutes=5))
        return event.decoded("dtend")  # type: ignore[no-any-return]

    def test_moments_stay_what_they_are(self) -> None:
        zone = ZoneInfo("Europe/Vienna")
        for due in (
            datetime(2026, 11, 23, 23, 30, tzinfo=zone),
            datetime(2026, 10, 24, 22, 0, tzinfo=zone),
            datetime(2026, 10, 25, 2, 30, tzinfo=zone, fold=1),
            datetime(2026, 3, 29, 1, 59, tzinfo=zone),
        ):
            self.assertEqual(self.ends(due), due.astimezone(UTC))

    def test_a_task_keeps_its_identity(self) -> None:
        task = CalendarTask(
            what="freeze", due=datetime(2026, 11, 23, 21, tzinfo=UTC), minutes=Decimal(0), orders=("1", "2")
        )
        files = [
            calendar_file([task], workshop="A", code="a", now=datetime(2026, 11, day, tzinfo=UTC)) for day in (1, 2)
        ]
        uids = {str(icalendar.Calendar.from_ical(one).walk("VEVENT")[0]["uid"]) for one in files}
        self.assertEqual(len(uids), 1)
