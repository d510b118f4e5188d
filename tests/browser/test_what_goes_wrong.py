"""What goes wrong at the bench and at the door, in the real browser."""

import re

from django.test import Client
from playwright.sync_api import expect

from server.bench.models import Parcel
from server.carriers.models import Label
from server.orders.models import Order
from server.supplies.models import Entry
from server.upkeep.invariants import broken
from server.workshops.models import Member, Workshop
from tests.browser.base import BrowserCase


class AtTheBench(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.workshop = Workshop.objects.get()
        self.sign_in()
        one_jar = Order.objects.of(self.workshop).filter(state="planned", lines__sku="PRE-BLK")
        order = one_jar.order_by("placed_on", "id")[0]
        self.number = order.number
        self.open(f"/plan/{order.pk}")
        self.heading(re.compile(f"Order {self.number}"))
        self.press("Enter")
        self.heading("Print the packing slip")

    def parcel(self) -> Parcel:
        return Parcel.objects.of(self.workshop).filter(order__number=self.number).latest("id")

    def test_taken_off_with_what_is_spoiled_and_cancelled(self) -> None:
        page = self.page
        self.press("h")
        sheet = page.get_by_role("dialog", name=f"Take order {self.number} off the bench")
        page.get_by_role("button", name="Take it off").click()
        expect(sheet).to_contain_text("Say why")
        sheet.get_by_label("Why").fill("buyer rang, does not want it")
        sheet.get_by_role("combobox", name="Then").click()
        page.get_by_role("option", name=re.compile("^Cancel the order")).click()
        sheet.get_by_role("checkbox", name=re.compile("^Carton")).check()
        sheet.get_by_role("button", name="Take it off").click()
        expect(page.get_by_text(f"Order {self.number} is cancelled and off the bench.").first).to_be_visible()
        entry = Entry.objects.of(self.workshop).get(kind="spoiled")
        self.assertEqual((entry.quantity, entry.supply.kind), (-1, "carton"))
        page.get_by_role("link", name=re.compile("^Orders")).first.click()
        page.get_by_role("button", name="Cancelled", exact=True).click()
        row = page.get_by_role("row", name=re.compile(f"^{self.number} "))
        expect(row).to_contain_text("Cancelled. buyer rang, does not want it")
        row.get_by_role("button", name="Open again").click()
        expect(page.get_by_text(f"Order {self.number} is planned now.").first).to_be_visible()
        self.assertEqual([one.code for one, _, _ in broken()], [])

    def labelled_and_weighed_again(self) -> None:
        """Through the API what a person would press: the label bought, then something heavy put in."""
        client = Client()
        client.force_login(
            Member.objects.get(user__username="maren").user, backend="django.contrib.auth.backends.ModelBackend"
        )
        at = f"/api/parcels/{self.parcel().pk}"

        def post(path: str, body: object) -> None:
            answer = client.post(f"{at}/{path}", body, content_type="application/json")
            self.assertEqual(answer.status_code, 200, answer.content[:300])

        grams = client.get(at).json()["candidate"]["weight"]["gross_mg"] // 1000
        post("weigh", {"typed": f"{grams} g"})
        post("label", {"service": "LARK-TWO"})
        post("weigh", {"typed": "12345 g"})
        post("settle", {"words": "a stone for the doorstop"})

    def test_a_label_bought_at_another_weight_is_agreed_to_or_bought_again(self) -> None:
        page = self.page
        self.labelled_and_weighed_again()
        page.reload()
        self.heading("Print the packing slip")
        self.jump("l")
        notice = page.get_by_text(re.compile("The label was bought for .* weighs 12.345 kg"))
        expect(notice).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("^Agree, or buy another"))).to_be_disabled()
        page.get_by_role("button", name="Agree", exact=True).click()
        expect(page.get_by_text(re.compile("^Agreed: .* for 12.345 kg"))).to_be_visible()
        for _ in range(6):
            if page.get_by_role("button", name=re.compile("^Close")).is_visible():
                break
            self.press(" ")
            page.wait_for_timeout(100)
        page.get_by_role("button", name=re.compile("^Close")).click()
        expect(page.get_by_role("heading", name=re.compile("is packed"))).to_be_visible()
        expect(page.get_by_text(re.compile("expected, for what it weighed at the end"))).to_be_visible()
        self.assertIsNotNone(self.parcel().charge_agreed)

    def test_the_owner_writes_down_what_a_dead_carrier_says(self) -> None:
        page = self.page
        self.expected_trouble = ("409", "503")
        self.labelled_and_weighed_again()
        Label.objects.of(self.workshop).filter(parcel=self.parcel()).update(state="voiding")
        client = Client()
        client.force_login(
            Member.objects.get(user__username="maren").user, backend="django.contrib.auth.backends.ModelBackend"
        )
        client.put("/api/standins/carrier", {"mode": "refuse_all"}, content_type="application/json")
        page.reload()
        self.heading("Print the packing slip")
        self.jump("l")
        ask = page.get_by_role("main").get_by_role("button", name="Cancel label: ask again")
        ask.click()
        page.get_by_role("button", name="Write down what they say").click()
        sheet = page.get_by_role("dialog", name="What does the carrier say?")
        sheet.get_by_label("Who said it, and when").fill("Ruta at the counter, 14:10")
        sheet.get_by_role("button", name="Save").click()
        expect(page.get_by_role("radiogroup", name="Service")).to_be_visible()
        label = Label.objects.of(self.workshop).get(parcel=self.parcel())
        self.assertEqual((label.state, label.recorded), ("void", "Maren: Ruta at the counter, 14:10"))


class AtTheDoor(BrowserCase):
    def test_a_forgotten_password_is_given_anew_and_changed(self) -> None:
        page = self.page
        self.expected_trouble = ("401", "422", "403")
        self.sign_in()
        page.get_by_role("button", name="Maren").click()
        page.get_by_role("menuitem", name="Your account").click()
        self.heading("Your account")
        self.assertEqual(self.serious(), [])
        page.get_by_role("row", name=re.compile("^Oswin")).get_by_role("button", name="Give a one-time").click()
        word = page.locator("code").inner_text()
        self.sign_out()
        self.open("/sign-in")
        page.get_by_label("Name").fill("oswin")
        page.get_by_label("Password").fill(word)
        self.press("Enter")
        self.heading("Choose your password")
        page.get_by_label("One-time password").fill(word)
        page.get_by_label("New password", exact=True).fill("butter-oswin")
        page.get_by_label("New password again").fill("butter-oswim")
        page.get_by_role("button", name="Change password").click()
        expect(page.get_by_text("The two are not the same.")).to_be_visible()
        page.get_by_label("New password", exact=True).fill("velvet-Harbour-39")
        page.get_by_label("New password again").fill("velvet-Harbour-39")
        page.get_by_role("button", name="Change password").click()
        expect(page.get_by_role("navigation", name="Main")).to_be_visible()
        self.assertFalse(Member.objects.get(user__username="oswin").must_change)
