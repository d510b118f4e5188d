"""Heat and cold through the API: a heat wave overnight, ways out taken and taken back, silence, consent, the freezer,
what must be prepared, and what all of it does to the bench.
"""

import json
from datetime import datetime, timedelta
from typing import Any, ClassVar
from unittest import mock
from uuid import uuid4

from django.utils import timezone

from server.care.models import Consent, FrozenLot
from server.care.services import hear_forecast
from server.orders.models import Order
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.recipes.models import Product
from server.standins.models import Behaviour
from server.weather.models import ForecastDay, Heard
from server.workshops.happened import tell_anything
from tests.server.base import DEMO, DemoCase
from tests.server.test_day import tuesday_at

__all__ = ["CareCase"]

THERMAL = ("I-GEL", "I-GELP", "I-LIN", "I-HEAT", "C-26")


class CareCase(DemoCase):
    """The demo's preserves may not get warmer than 18 degrees; a liner and packs lie on the shelf."""

    limits: dict[str, int] = {"highest_c": 18}
    thermal: ClassVar[list[Any]]

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        wide = json.loads((DEMO / "range" / "supplies.json").read_text())["supplies"]
        cls.thermal = [one for one in wide if one["code"] in THERMAL]

    def setUp(self) -> None:
        # The way from a Tuesday has no weekend in it, whatever day the tests run on.
        patched = mock.patch("django.utils.timezone.now", return_value=tuesday_at(8))
        patched.start()
        self.addCleanup(patched.stop)
        super().setUp()
        for one in self.thermal:
            rest = {key: value for key, value in one.items() if key not in ("reorder_at", "on_hand")}
            self.ask("post", "supplies", {"supply": {**rest, "on_hand": "60"}}, status=201)
        Product.objects.of(self.workshop).filter(sku="PRE-BLK").update(**self.limits)
        tell_anything(self.workshop)
        self.hear("well")

    def hear(self, mode: str) -> int:
        Behaviour.objects.of(self.workshop).update_or_create(
            workshop=self.workshop, device="forecast", defaults={"mode": mode}
        )
        marked = hear_forecast(self.workshop)
        run_wave(workshop=self.workshop)
        return marked

    def care(self, number: str) -> Any:
        return self.ask("get", f"orders/{self.order(number).pk}/care")

    def decide(self, number: str, decisions: Any) -> Any:
        return self.ask("post", f"orders/{self.order(number).pk}/plan/decisions", decisions)

    def state(self, number: str) -> tuple[str, str]:
        order = self.order(number)
        return order.state, Plan.objects.of(self.workshop).get(order=order).care_state

    def proposal(self, number: str, kind: str) -> Any:
        return next(one for one in self.care(number)["proposals"] if one["kind"] == kind)


class AHeatWave(CareCase):
    def test_it_holds_what_it_concerns_and_says_why_and_what_to_do(self) -> None:
        self.assertEqual(self.state("1160"), ("planned", "safe"))
        self.assertEqual(self.ask("get", "care")["count"], 0)
        before = {plan.pk: plan.at for plan in Plan.objects.of(self.workshop).filter(care_state="")}
        self.assertGreater(self.hear("heat"), 0)
        # Only what has a limit was planned again.
        self.assertEqual({plan.pk: plan.at for plan in Plan.objects.of(self.workshop).filter(care_state="")}, before)
        self.assertEqual(self.state("1160"), ("held", "danger"))
        found = self.ask("get", "care")
        self.assertGreater(found["count"], 3)
        line = next(one for one in found["results"] if one["number"] == "1160")
        self.assertRegex(line["why"], r"would get as warm as \d\d(\.\d)? C; 18 C is the most. It is \d\d(\.\d)? C ")
        self.assertTrue(line["proposed"])
        holds = {one["number"]: one for one in self.ask("get", "holds")["results"]}
        self.assertEqual(holds["1160"]["kind"], "weather")
        self.assertIn("18 C is the most", holds["1160"]["reason"])
        refused = self.ask("post", "parcels/begin", {"order_id": self.order("1160").pk}, status=409)
        self.assertIn("18 C is the most", refused["detail"])

    def test_a_way_out_is_taken_and_taken_back(self) -> None:
        self.hear("heat")
        packs = self.proposal("1160", "packs")
        undo = self.care("1160")["undo"]
        self.assertLessEqual(float(packs["high_c"]), 18.0)
        plan = self.decide("1160", packs["decisions"])["plan"]
        self.assertEqual(self.state("1160"), ("planned", "safe"))
        parcel = next(way for way in plan["ways"] if way["chosen"])["parcels"][0]
        thermal = parcel["candidate"]["thermal"]
        self.assertGreater(thermal["count"], 0)
        kinds = [layer["kind"] for layer in parcel["layers"]]
        self.assertIn("packs", kinds)
        uses = {use["supply"]: use for use in parcel["candidate"]["uses"]}
        self.assertEqual(float(uses[thermal["pack"]]["quantity"]), thermal["count"])
        stock = self.stock(thermal["pack"])
        self.assertEqual(float(stock["reserved"]), thermal["count"])
        # What saves a little is not what keeps the goods cool.
        order = self.order("1160")
        for advice in self.ask("get", f"orders/{order.pk}/plan/advice")["advice"][:2]:
            way = next(way for way in self.decide("1160", advice["decisions"])["plan"]["ways"] if way["chosen"])
            self.assertEqual(way["parcels"][0]["candidate"]["thermal"]["count"], thermal["count"])
            self.assertEqual(self.state("1160"), ("planned", "safe"))
        self.decide("1160", undo)
        self.assertEqual(self.state("1160"), ("held", "danger"))

    def test_another_day_and_the_days_that_are_offered_are_good_ones(self) -> None:
        self.hear("heat")
        later = [one for one in self.care("1160")["proposals"] if one["kind"] == "day"]
        self.assertTrue(later)
        self.decide("1160", later[0]["decisions"])
        order = self.order("1160")
        plan = Plan.objects.of(self.workshop).get(order=order)
        self.assertEqual((plan.ship_on.isoformat(), plan.care_state), (later[0]["ship_on"], "safe"))
        self.assertEqual(order.state, "held")  # until that day

    def test_when_it_passes_orders_are_free_again(self) -> None:
        self.hear("heat")
        self.assertEqual(self.state("1160")[0], "held")
        self.hear("well")
        self.assertEqual(self.state("1160"), ("planned", "safe"))

    def test_a_small_change_plans_nothing_again(self) -> None:
        at = Plan.objects.of(self.workshop).get(order=self.order("1160")).at
        ForecastDay.objects.of(self.workshop).update(low_c=1, high_c=7)  # what will be heard moved by more than 0.5
        self.assertEqual(self.hear("well"), 0)
        plan = Plan.objects.of(self.workshop).get(order=self.order("1160"))
        self.assertEqual(plan.at, at)
        assert plan.care is not None
        self.assertNotEqual(plan.care["report"]["parcels"][0]["warmest_c"], 7)


class Silence(CareCase):
    def pass_hours(self, hours: int) -> None:
        Heard.objects.of(self.workshop).update(heard_at=timezone.now() - timedelta(hours=hours))

    def test_after_a_day_usual_weather_is_said_so_and_nothing_is_released(self) -> None:
        self.hear("heat")
        self.hear("silent")
        self.assertFalse(self.care("1160")["forecast"]["silent"])
        self.pass_hours(25)
        self.hear("silent")
        Plan.objects.of(self.workshop).update(stale=True)
        run_wave(workshop=self.workshop)
        found = self.care("1160")
        self.assertTrue(found["forecast"]["silent"])
        self.assertTrue(found["forecast"]["trouble"])
        self.assertEqual(self.state("1160"), ("held", "danger"))
        self.assertTrue(found["unsure"])
        self.assertIn("nothing is released by itself", found["why"])
        self.assertEqual(found["parcels"][0]["usual_hours"], len(found["parcels"][0]["hours"]))
        self.hear("well")
        self.assertEqual(self.state("1160"), ("planned", "safe"))


class Consenting(CareCase):
    def setUp(self) -> None:
        super().setUp()
        self.hear("heat")
        self.path = f"orders/{self.order('1160').pk}/consent"

    def test_asked_answered_and_kept_with_words_and_day(self) -> None:
        found = self.care("1160")
        for part in ("Dear Ottilie Fenner", "1160", "as it is", "wait"):
            self.assertIn(part, found["question"])
        told = found["parcels"][0]["high_c"]
        answer = {
            "answer": "as_it_is",
            "words": "Send it, I am at home.",
            "answered_on": timezone.now().date().isoformat(),
        }
        self.ask("post", f"{self.path}/answer", answer, status=409)  # nobody asked yet
        self.ask("post", self.path, {"text": found["question"], "high_c": str(told)})
        for wrong, field in (
            ({**answer, "words": "  "}, "words"),
            ({**answer, "answered_on": "2099-01-01"}, "answered_on"),
            ({**answer, "answer": "wait"}, "decisions"),
            ({**answer, "answer": "insulated"}, "decisions"),
        ):
            self.assertEqual(self.ask("post", f"{self.path}/answer", wrong, status=422)["field"], field)
        self.assertEqual(Consent.objects.of(self.workshop).get().answer, "")
        after = self.ask("post", f"{self.path}/answer", answer)
        self.assertEqual(after["verdict"], "agreed")
        self.assertEqual(after["consent"]["words"], "Send it, I am at home.")
        self.assertEqual(self.state("1160"), ("planned", "agreed"))
        Plan.objects.of(self.workshop).update(stale=True)  # a new plan asks nobody again
        run_wave(workshop=self.workshop)
        self.assertEqual(self.state("1160"), ("planned", "agreed"))
        plan = self.ask("get", f"orders/{self.order('1160').pk}/plan")["plan"]
        self.assertIn("Send it, I am at home.", " ".join(plan["cautions"]))
        card = self.client.get(f"/api/orders/{self.order('1160').pk}/plan/card.pdf")
        self.assertEqual(card.status_code, 200)

    def test_waiting_and_insulation_are_planned(self) -> None:
        found = self.care("1160")
        self.ask("post", self.path, {"text": "?", "high_c": "30"})
        today = timezone.now().date().isoformat()
        packs = self.proposal("1160", "packs")["decisions"]
        body = {"answer": "insulated", "words": "yes, cold please", "answered_on": today, "decisions": packs}
        self.assertEqual(self.ask("post", f"{self.path}/answer", body)["verdict"], "safe")
        self.decide("1160", found["undo"])
        later = self.proposal("1160", "day")
        body = {"answer": "wait", "words": "I can wait", "answered_on": today, "decisions": later["decisions"]}
        self.assertEqual(self.ask("post", f"{self.path}/answer", body)["verdict"], "safe")
        self.assertEqual(
            Plan.objects.of(self.workshop).get(order=self.order("1160")).ship_on.isoformat(), later["ship_on"]
        )


class Preparing(CareCase):
    """Packs must have been in the freezer for so long before the packing."""

    def setUp(self) -> None:
        super().setUp()
        self.hear("heat")
        packs = self.proposal("1160", "packs")
        self.decide("1160", packs["decisions"])
        self.count = packs["decisions"]["care"]["count"]
        self.pack = packs["decisions"]["care"]["pack"]

    def tasks(self) -> list[Any]:
        found: list[Any] = self.ask("get", "day/prepare")["tasks"]
        return [one for one in found if one["supply"]]

    def test_a_task_names_packs_and_is_done_by_freezing_them(self) -> None:
        (task,) = self.tasks()
        self.assertEqual((task["supply"], task["count"], task["numbers"]), (self.pack, self.count, ["1160"]))
        self.assertTrue(task["what"].startswith("Freeze Gel pack"))
        body = {"what": task["what"], "order_ids": task["order_ids"], "done": True}
        for _ in range(2):  # sent twice it is done once
            self.ask("post", "day/prepared", body)
        lot = FrozenLot.objects.of(self.workshop).get()
        self.assertEqual((lot.quantity, lot.left), (self.count, self.count))
        (task,) = self.tasks()
        self.assertEqual((task["state"], task["done_by"]), ("done", "Maren"))
        self.ask("post", "day/prepared", {**body, "done": False})
        self.assertEqual(self.tasks()[0]["state"] in ("due", "missed"), True)

    def test_its_seconds_are_counted_from_the_day_it_names_also_when_the_day_shows_tomorrow(self) -> None:
        with mock.patch("django.utils.timezone.now", return_value=tuesday_at(23, 30)):
            found = self.ask("get", "day/prepare")
            shown = self.ask("get", "day")
        self.assertLess(found["day"], shown["day"])
        for task in found["tasks"]:
            midnight = datetime.fromisoformat(f"{found['day']}T00:00:00Z")
            self.assertEqual(midnight + timedelta(seconds=task["due_s"]), datetime.fromisoformat(task["due"]))

    def test_packs_leave_the_freezer_with_the_parcel_and_come_back_when_it_is_opened(self) -> None:
        other = self.supply("I-GEL")
        self.freeze(self.pack, self.count + 2)
        FrozenLot.objects.of(self.workshop).update(since=timezone.now() - timedelta(days=2))
        steps = self.to_bench("1160")["steps"]
        felt = [step for step in steps if step["kind"] == "check" and step["tick_units"] == self.count]
        self.assertEqual(felt[0]["title"], "Check each pack is frozen hard")
        order = [step["kind"] for step in steps]
        self.assertLess(order.index("gather"), steps.index(felt[0]))
        parcel = self.closed("1160")
        self.assertEqual(FrozenLot.objects.of(self.workshop).get().left, 2)
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "forgot the card"})
        self.assertEqual(FrozenLot.objects.of(self.workshop).get().left, self.count + 2)
        self.assertIsNotNone(other)

    def freeze(self, code: str, quantity: int, status: int = 200) -> Any:
        body = {"supply_id": self.supply(code).pk, "quantity": quantity, "request_key": str(uuid4())}
        return self.ask("post", "freezer", body, status=status)

    def test_the_freezer_is_not_fuller_than_it_is(self) -> None:
        self.assertIn("60 on hand", self.freeze(self.pack, 61, 409)["detail"])
        self.ask("put", "settings", {"values": {"freezer_l": "1"}})
        said = self.freeze(self.pack, 10, 409)
        self.assertEqual((said["code"], said["field"]), ("freezer_full", "quantity"))
        self.assertIn("The freezer takes 1 l", said["detail"])
        self.ask("put", "settings", {"values": {"freezer_l": "60"}})
        found = self.freeze(self.pack, 3)
        self.assertEqual([(lot["left"], lot["by"]) for lot in found["lots"]], [(3, "Maren")])
        self.assertEqual(self.freeze("I-HEAT", 1, 409)["code"], "not_a_pack")
        self.ask("delete", f"freezer/{found['lots'][0]['id']}")
        self.ask("delete", f"freezer/{found['lots'][0]['id']}", status=404)

    def test_the_calendar_has_a_private_address_that_can_be_renewed(self) -> None:
        first = self.ask("post", "day/calendar", {"on": True})["path"]
        self.client.logout()
        answer = self.client.get(first)
        self.assertEqual(answer.status_code, 200)
        self.assertIn(b"Freeze Gel pack", answer.content)
        self.as_(self.packer)
        self.ask("post", "day/calendar", {"on": True}, status=403)
        self.as_(self.owner)
        second = self.ask("post", "day/calendar", {"on": True})["path"]
        self.assertNotEqual(first, second)
        self.assertEqual(self.client.get(first).status_code, 404)
        self.ask("post", "day/calendar", {"on": False})
        self.assertEqual(self.client.get(second).status_code, 404)


class Frost(CareCase):
    limits = {"lowest_c": 4, "highest_c": 40}

    def test_heat_packs_keep_goods_from_frost(self) -> None:
        self.hear("frost")
        self.assertEqual(self.state("1160"), ("held", "danger"))
        self.assertIn("would get as cold as", self.care("1160")["why"])
        packs = self.proposal("1160", "packs")
        self.assertEqual(packs["decisions"]["care"]["pack"], "I-HEAT")
        plan = self.decide("1160", packs["decisions"])["plan"]
        parcel = next(way for way in plan["ways"] if way["chosen"])["parcels"][0]
        self.assertGreater(parcel["candidate"]["thermal"]["places"]["lid"], 0)
        steps = self.to_bench("1160")["steps"]
        titles = [step["title"] for step in steps]
        self.assertLess(titles.index("Open the heat packs and wait until each is warm"), 2)
        self.assertTrue(any("under the lid" in title for title in titles))


class ForecastsGoWrong(CareCase):
    def test_a_feed_that_fails_changes_nothing(self) -> None:
        before = list(ForecastDay.objects.of(self.workshop).values_list("place", "day", "low_c", "high_c"))
        self.assertEqual(self.hear("silent"), 0)
        self.assertEqual(
            list(ForecastDay.objects.of(self.workshop).values_list("place", "day", "low_c", "high_c")), before
        )
        self.assertTrue(self.ask("get", "care/forecast")["trouble"])
        with mock.patch("server.standins.forecast.time.sleep"):
            self.hear("slow")
        self.assertEqual(self.ask("get", "care/forecast")["trouble"], "")

    def test_forecasts_are_asked_for_places_on_the_way_only(self) -> None:
        places = set(ForecastDay.objects.of(self.workshop).values_list("place", flat=True))
        order = self.order("1160")
        self.assertIn(f"{order.country}-{order.postcode[:2]}", places)
        self.assertLess(len(places), 30)
        self.assertGreater(Order.objects.of(self.workshop).count(), 20)


class TooLongOnTheRoad(CareCase):
    limits = {"longest_days": 2}

    def test_the_next_days_it_can_be_sent_on_are_offered(self) -> None:
        day = timezone.now().date()
        order = self.order("1160")
        # From a Friday no service is there in two days: the goods would wait in a depot over the weekend.
        friday = day + timedelta(days=(4 - day.weekday()) % 7)
        with mock.patch("server.plans.facts.today", return_value=friday):
            Plan.objects.of(self.workshop).filter(order=order).update(stale=True)
            found = self.ask("get", f"orders/{order.pk}/plan")["plan"]
            self.assertEqual(found["missing"][0]["code"], "no_service")
            days = self.care("1160")["good_days"]
            self.assertTrue(days)
            self.assertGreater(days[0]["ship_on"], friday.isoformat())
            self.decide("1160", days[0]["decisions"])
            plan = Plan.objects.of(self.workshop).get(order=order)
            self.assertEqual((plan.status, plan.ship_on.isoformat()), ("planned", days[0]["ship_on"]))
