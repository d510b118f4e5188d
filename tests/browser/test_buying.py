"""Buying in the browser: a supply at its mark, an offer, an order, half received, a hold that ends; a count."""

import re

from playwright.sync_api import expect

from server.orders.models import Order
from server.plans.waves import run_wave
from server.supplies.models import Balance, Purchase
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase


class Buying(BrowserCase):
    def test_from_the_mark_to_the_released_order(self) -> None:
        page = self.page
        workshop = Workshop.objects.get()
        run_wave(workshop=workshop)
        self.assertEqual(Order.objects.of(workshop).get(number="1175").state, Order.State.HELD)
        self.sign_in()
        self.a_supplier()
        self.an_offer()
        page.get_by_role("link", name=re.compile("To buy")).click()
        self.heading(re.compile("Order from Marlpit Board"))
        line = page.get_by_role("region", name="Marlpit Board")
        expect(line).to_contain_text("C-24 Carton 460 x 360 x 160")
        expect(line).to_contain_text("at its mark")
        page.get_by_label(re.compile("Another amount")).fill("8")
        page.get_by_role("button", name="Set").click()
        expect(line).to_contain_text("(your amount)")
        expect(line).to_contain_text("10")  # packs of five
        page.get_by_role("button", name=re.compile("^Order from Marlpit Board")).click()
        page.get_by_role("button", name="Save as ordered").click()
        self.heading("Order P-1 is saved")
        expect(page.get_by_role("dialog")).to_contain_text("2 x bundle of 5 (10 pieces) Carton 460 x 360 x 160")
        page.get_by_role("button", name="Done").click()
        page.goto(f"{self.live_server_url}/holds")
        expect(page.get_by_role("row", name=re.compile("1175"))).to_contain_text("10 Carton 460 x 360 x 160 arrive")
        self.half_comes()
        run_wave(workshop=workshop)
        self.assertEqual(Order.objects.of(workshop).get(number="1175").state, Order.State.PLANNED)
        page.goto(f"{self.live_server_url}/holds")
        expect(page.get_by_role("link", name="1175")).to_have_count(0)
        self.count_a_shelf()

    def a_supplier(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/purchases?show=suppliers")
        page.get_by_role("button", name="New supplier").click()
        page.get_by_label("Name").fill("Marlpit Board")
        page.get_by_label(re.compile("working days")).fill("4")
        page.get_by_label("Delivery of an order").fill("6.50")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("row", name=re.compile("Marlpit Board"))).to_contain_text("4 working days")

    def an_offer(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/cupboard?find=C-24")
        page.get_by_role("button", name=re.compile("Carton 460 x 360 x 160")).first.click()
        page.get_by_role("link", name="How it goes on, offers, where it is used").click()
        self.heading(re.compile("^Carton 460 x 360 x 160"))
        expect(page.get_by_text("Nobody offers it yet")).to_be_visible()
        self.press("o")
        page.get_by_role("combobox", name="Supplier").click()
        page.get_by_role("option", name="Marlpit Board").click()
        page.get_by_label("One pack holds").fill("5")
        page.get_by_label("What a pack is called").fill("bundle of 5")
        page.get_by_label("Each").fill("1.85")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("Who offers it")).to_be_visible()

    def half_comes(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/purchases")
        self.heading("1 order is on its way")
        expect(page.get_by_text("waited for by 1175")).to_be_visible()
        page.get_by_role("button", name="Receive", exact=True).click()
        page.get_by_role("textbox", name="Came").fill("5")
        page.get_by_role("button", name="Receive it").click()
        expect(page.get_by_text("5 came, 5 to come")).to_be_visible()
        self.assertEqual(Purchase.objects.of(Workshop.objects.get()).get().state, Purchase.State.ORDERED)

    def count_a_shelf(self) -> None:
        page = self.page
        workshop = Workshop.objects.get()
        page.goto(f"{self.live_server_url}/count")
        page.get_by_role("button", name="Count it").first.click()
        self.heading(re.compile("^Shelf A: 0 of"))
        # A scanner reads the slot; six fewer than the ledger is far off and is counted once more.
        had = int(Balance.objects.of(workshop).get(supply__code="C-08").on_hand)
        for asked in range(2):
            page.get_by_label("Scan a slot's code, or pick a line").fill("C-08")
            page.get_by_label("Scan a slot's code, or pick a line").press("Enter")
            page.get_by_label(re.compile("^Counted, Carton 230")).fill(str(had - 6))
            page.get_by_label(re.compile("^Counted, Carton 230")).press("Enter")
            if asked == 0:
                expect(page.get_by_text("far from the ledger, count it once more")).to_be_visible()
        self.heading(re.compile("^Shelf A: 1 of"))
        page.reload()
        self.heading(re.compile("^Shelf A: 1 of"))
        self.assertEqual(Balance.objects.of(workshop).get(supply__code="C-08").on_hand, had - 6)
