"""The weather in the browser: a heat wave arrives overnight; three orders go with packs, on another day, with the
buyer's consent; packs must be frozen, one task is missed, its parcel waits, the next wave carries it.
"""

import json
import re
from datetime import timedelta
from typing import Any
from unittest import mock

from django.utils import timezone
from playwright.sync_api import expect

from server.care.models import FrozenLot
from server.care.services import hear_forecast
from server.commands.intake import import_kind
from server.day.models import PackingHours
from server.day.selectors import read_day
from server.orders.models import Order
from server.plans.mapping import care_from_json
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.recipes.models import Product
from server.standins.models import Behaviour
from server.workshops.happened import tell_anything
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase
from tests.server.base import DEMO
from tests.server.test_day import tuesday_at

THERMAL = ("I-GEL", "I-GELP", "I-LIN", "C-26")


class AHeatWave(BrowserCase):
    def setUp(self) -> None:
        # A Tuesday: the way has no weekend in it, and what is packed today should have been frozen yesterday.
        patched = mock.patch("django.utils.timezone.now", return_value=tuesday_at(9))
        patched.start()
        self.addCleanup(patched.stop)
        super().setUp()
        self.workshop = Workshop.objects.get()
        file = json.loads((DEMO / "range" / "supplies.json").read_text())
        file["supplies"] = [one for one in file["supplies"] if one["code"] in THERMAL]
        import_kind(self.workshop, "supplies", json.dumps(file).encode(), by="test")
        Product.objects.of(self.workshop).filter(sku__in=("PRE-BLK", "LOAF-GIN", "SOAP-3", "FUD-HON")).update(
            highest_c=18
        )
        # A buyer's waiting is dear here, so packs come first; hands are there round the clock.
        Workshop.objects.update(judgements={"wait_day_cost": "90"})
        PackingHours.objects.of(self.workshop).update(begins="00:00", ends="23:59", days=[0, 1, 2, 3, 4, 5, 6])
        self.workshop.refresh_from_db()
        tell_anything(self.workshop)
        self.hear("well")

    def hear(self, mode: str) -> None:
        Behaviour.objects.of(self.workshop).update_or_create(
            workshop=self.workshop, device="forecast", defaults={"mode": mode}
        )
        hear_forecast(self.workshop)
        run_wave(workshop=self.workshop)

    def in_danger(self) -> list[Plan]:
        rows = Plan.objects.of(self.workshop).filter(care_state="danger").select_related("order")
        return list(rows.order_by("order__number"))

    def test_three_orders_and_a_wave(self) -> None:
        self.assertEqual(self.in_danger(), [])
        self.hear("heat")
        plans = self.in_danger()
        self.assertGreaterEqual(len(plans), 3)
        cooled = next(plan for plan in plans if self.proposes(plan) == "packs")
        later, asked = [plan for plan in plans if plan.pk != cooled.pk][:2]
        self.sign_in()
        self.heading(re.compile(r"Weather: \d+ orders"))
        self.taken_and_taken_back()
        self.with_packs(cooled.order)
        self.on_another_day(later.order)
        self.with_consent(asked.order)
        self.frozen_too_late(cooled.order)

    def taken_and_taken_back(self) -> None:
        """The first way out of the day's list is a key, and so is taking it back."""
        before = len(self.in_danger())
        self.press("t")
        back = self.page.get_by_role("button", name=re.compile("^Take back"))
        expect(back).to_be_visible()
        self.assertEqual(len(self.in_danger()), before - 1)
        self.press("u")
        expect(back).to_have_count(0)
        self.assertEqual(len(self.in_danger()), before)

    def proposes(self, plan: Plan) -> str:
        kept = care_from_json(plan.care)
        return kept.proposals[0].kind if kept is not None and kept.proposals else ""

    def with_packs(self, order: Order) -> None:
        self.open(f"/plan/{order.pk}")
        way = self.page.get_by_role("region", name="The weather of the way")
        expect(way).to_contain_text("18 C is the most")
        expect(way.get_by_role("img")).to_have_attribute("aria-label", re.compile(r"They are outside for \d+ hours?\."))
        expect(way).to_contain_text("Put in ")
        self.assertEqual(self.serious(), [])
        self.press("t")
        expect(way).to_contain_text("The weather of its way suits the goods")
        expect(self.page.get_by_role("list", name="Packed in this order")).to_contain_text("Gel pack")
        self.press("z")  # taken back with one key, and taken again
        expect(way).to_contain_text("18 C is the most")
        self.press("t")
        expect(way).to_contain_text("suits the goods")

    def on_another_day(self, order: Order) -> None:
        self.open(f"/plan/{order.pk}")
        row = self.page.get_by_role("listitem").filter(has_text="Send it on").first
        row.get_by_role("button", name="Take").click()
        expect(self.page.get_by_role("region", name="The weather of the way")).to_contain_text("suits the goods")
        plan = Plan.objects.of(self.workshop).get(order=order)
        self.assertGreater(plan.ship_on, timezone.now().date())

    def with_consent(self, order: Order) -> None:
        page = self.page
        self.open(f"/plan/{order.pk}")
        expect(page.get_by_role("region", name="The weather of the way")).to_contain_text("Ask the buyer")
        self.press("b")
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_label(re.compile("The message"))).to_have_value(re.compile(f"Dear {order.buyer}"))
        sheet.get_by_role("button", name="Keep it with the order").click()
        sheet.get_by_label("As it is, at their risk").check()
        sheet.get_by_label("Their own words").fill("Send it, it will be eaten at once.")
        sheet.get_by_role("button", name="Save the answer").click()
        expect(sheet).to_have_count(0)
        expect(page.get_by_role("region", name="The weather of the way")).to_contain_text("The buyer agreed.")
        card = page.request.get(f"{self.live_server_url}/api/orders/{order.pk}/plan/card.pdf")
        self.assertTrue(card.ok)

    def frozen_too_late(self, order: Order) -> None:
        """Packs for a parcel of today should have been frozen yesterday: it waits; once they are hard it goes."""
        page = self.page
        self.open("/prepare")
        task = page.get_by_role("listitem").filter(has_text=order.number).filter(has_text="Freeze Gel pack")
        expect(task).to_contain_text("not begun")
        self.assertIn(order.pk, {line.order.pk for line in self.late()})
        task.get_by_role("checkbox").click()
        expect(task).to_contain_text("Maren")
        expect(page.get_by_role("region", name="Freezer")).to_contain_text("Maren; hard from")
        self.assertEqual(self.serious(), [])
        lot = FrozenLot.objects.of(self.workshop).get()
        self.assertNotIn(order.pk, self.wave())
        FrozenLot.objects.of(self.workshop).filter(pk=lot.pk).update(since=timezone.now() - timedelta(hours=30))
        self.assertIn(order.pk, self.wave())
        self.open("/day")
        expect(page.get_by_role("heading", name=re.compile("Carry up for the next wave|No wave waits"))).to_be_visible()

    def late(self) -> list[Any]:
        read = read_day(self.workshop)
        return [line for line in read.lines.values() if line.ready_s > read.clock.now_s]

    def wave(self) -> set[int]:
        """Orders that some wave of the day carries up, with what they need ready by now."""
        read = read_day(self.workshop)
        return {
            read.lines[key].order.pk
            for wave in read.waves
            for key in wave.parcels
            if read.lines[key].ready_s <= read.clock.now_s
        }
