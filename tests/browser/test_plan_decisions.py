"""The Plan screen beyond choosing a carton: rulers of the sides, how many more fit, deciding, the pack card, a wave."""

import re

from playwright.sync_api import expect

from server.orders.models import Order
from server.plans.models import Plan, Wave
from server.plans.waves import run_wave
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase


class PlanDecisions(BrowserCase):
    def to_plan(self, number: str) -> Order:
        order = Order.objects.of(Workshop.objects.get()).get(number=number)
        self.open(f"/plan/{order.pk}")
        expect(self.page.get_by_role("region", name="The parcel")).to_be_visible()
        return order

    def test_a_person_decides_for_one_order_and_takes_it_back(self) -> None:
        self.sign_in()
        order = self.to_plan("1172")
        row = self.page.locator("tbody tr").filter(has_text="chosen")
        expect(row).to_contain_text("C-18")
        self.press("o")
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_label("C-18").check()
        sheet.get_by_label("Note for whoever packs it").fill("Ring before you close it.")
        self.assertEqual(self.serious(), [])
        sheet.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text("For the packer: Ring before you close it.")).to_be_visible()
        expect(self.page.get_by_text("Not C-18.")).to_be_visible()
        expect(row).not_to_contain_text("C-18")
        self.page.reload()
        expect(self.page.get_by_text("Not C-18.")).to_be_visible()
        self.assertEqual(Plan.objects.of(order.workshop).get(order=order).overrides["forbidden"], ["C-18"])
        self.press("o")
        sheet.get_by_role("button", name="Clear all").click()
        sheet.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text("Not C-18.")).to_have_count(0)

    def test_an_order_is_divided_by_hand_seen_parcel_by_parcel_and_packed_one_after_the_other(self) -> None:
        self.sign_in()
        order = self.to_plan("1174")
        self.press("o")
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_role("button", name="Choose what goes where").click()
        sheet.get_by_label("in parcel 1").fill("4")
        expect(sheet.get_by_label("in parcel 2")).to_have_value("5")
        self.assertEqual(self.serious(), [])
        sheet.get_by_role("button", name="Save").click()
        parcels = self.page.get_by_role("group", name="Parcels of this order")
        expect(parcels).to_contain_text("4 Quince preserve")
        expect(self.page.get_by_text("What goes into which parcel was set by hand.")).to_be_visible()
        self.press("2")
        expect(parcels.get_by_role("button", name=re.compile("Parcel 2"))).to_have_attribute("aria-pressed", "true")
        expect(self.page.get_by_text("Cost of parcel 2")).to_be_visible()
        # Past the first layer of parcel 2 upwards lies the last of parcel 1.
        for _ in range(2):
            self.press("ArrowUp")
        expect(parcels.get_by_role("button", name=re.compile("Parcel 1"))).to_have_attribute("aria-pressed", "true")
        self.press("Enter")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("parcel 1 of 2")
        parts = list(order.parcels.order_by("part").values_list("part", flat=True))
        self.assertEqual(parts, [1, 2])
        self.open("/bench")
        expect(self.page.get_by_role("link", name="1174, 2 of 2")).to_be_visible()

    def test_how_many_more_fit_and_where_the_price_changes_along_a_side(self) -> None:
        self.sign_in()
        order = self.to_plan("1174")
        self.press("m")
        sheet = self.page.get_by_role("dialog")
        expect(sheet).to_contain_text("3 more")
        expect(sheet).to_contain_text("at most 12 of 13")
        self.press("Escape")
        self.page.get_by_role("group", name="Price steps by").get_by_role("button", name="height").click()
        figure = self.page.get_by_role("img", name=re.compile("^Outside height"))
        expect(figure).to_be_visible()
        card = self.page.get_by_role("link", name="Pack card")
        expect(card).to_have_attribute("href", f"/api/orders/{order.pk}/plan/card.pdf")
        answer = self.page.request.get(self.page.url.split("/plan/")[0] + f"/api/orders/{order.pk}/plan/card.pdf")
        self.assertEqual(answer.body()[:5], b"%PDF-")

    def test_a_wave_shows_how_far_it_is_and_can_be_stopped(self) -> None:
        workshop = Workshop.objects.get()
        self.sign_in()
        self.open("/orders")
        expect(self.page.get_by_role("button", name="Plan all again")).to_be_visible()
        self.press("r")
        expect(self.page.get_by_text(re.compile("planned again in the background")).first).to_be_visible()
        # The test is the worker: a wave under way, seen from the page.
        wave = Wave.objects.of(workshop).create(
            workshop=workshop, total=14, done=5, began_at=Order.objects.of(workshop).latest("taken_in_at").taken_in_at
        )
        self.open("/orders")
        expect(self.page.get_by_text("Planning 5 of 14 orders")).to_be_visible()
        self.page.get_by_role("button", name="Stop").click()
        expect(self.page.get_by_text("Stopping after the orders at hand")).to_be_visible()
        wave.refresh_from_db()
        self.assertTrue(wave.stop_asked)
        run_wave(workshop=workshop)
        expect(self.page.get_by_text("Stopping after")).to_have_count(0, timeout=10_000)
