"""From an empty database to a closed, labelled parcel: by keyboard, in metric and in imperial units, keys counted."""

import re
from typing import Any

from playwright.sync_api import expect

from server.bench.models import Parcel
from server.carriers.models import Label
from server.formats.tariff import TariffFile
from server.supplies.models import Supply
from server.upkeep.invariants import broken
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase

#: Who types without haste makes two keys a second; a person needs under ten minutes.
_MOST_KEYS = 1_200


class FirstParcel(BrowserCase):
    sample = False

    def setUp(self) -> None:
        super().setUp()
        self.keys = 0

    def press(self, *keys: str) -> None:
        self.keys += len(keys)
        super().press(*keys)

    def write(self, text: str) -> None:
        self.keys += len(text)
        self.page.keyboard.type(text)

    def tab_to(self, name: Any, role: str = "textbox") -> None:
        """Walk on with Tab until the field or button of that name has the focus."""
        wanted = self.page.get_by_role(role, name=name).first  # type: ignore[arg-type]
        expect(wanted).to_be_visible()
        for _ in range(120):
            if wanted.evaluate("(one) => one === document.activeElement"):
                return
            self.press("Tab")
        self.fail(f"Tab does not come to {name}")

    def fill(self, name: str, text: str) -> None:
        self.tab_to(re.compile(f"^{re.escape(name)}$"))
        self.press("Control+a")
        self.write(text)

    def next(self, action: str) -> None:
        """From the page of the first parcel: Enter leads to what is to be done next."""
        self.page.get_by_role("link", name=re.compile("^First parcel")).press("Enter")
        self.keys += 1
        expect(self.page.get_by_role("button", name=re.compile(f"^{action}"))).to_be_visible()
        self.page.evaluate("document.activeElement.blur()")
        self.press("Enter")

    def set_up(self, units: str) -> None:
        page = self.page
        self.expected_trouble = ("422",)
        self.open("/")
        expect(page.get_by_role("button", name="Set up your own")).to_be_focused()
        self.assertEqual(self.serious(), [])
        self.press("Enter")
        expect(page.get_by_label("Name", exact=True)).to_be_focused()
        self.write("Fennel Yard Soap")
        self.fill("Street and number", "7 Fennel Yard")
        self.fill("Postcode", "AB1 2")
        self.fill("Town", "Arden")
        self.fill("Country", "alm")
        self.fill("Currency", "Cr")
        self.tab_to("Units", "combobox")
        self.press("i" if units == "imperial" else "m")  # inches, or mm
        self.fill("Your name", "Tilda")
        self.fill("Sign in as", "tilda")
        self.fill("Password", "tilda-1234")
        self.press("Enter")
        expect(page.get_by_text("too similar").first).to_be_visible()  # the rule that is broken, and nothing is lost
        self.assertFalse(Workshop.objects.exists())
        self.press("Control+a")
        self.write("harbour-Velvet-39")
        self.press("Enter")
        self.heading("9 things left until your first parcel")
        page.set_viewport_size({"width": 820, "height": 1180})  # nothing is cut off on a tablet
        expect(page.get_by_role("button", name="Tilda")).to_be_in_viewport(ratio=1)
        self.assertEqual(self.too_wide(), {}, "the rail is fullest before the first parcel")
        page.set_viewport_size({"width": 1280, "height": 800})

    def shelf(self, *names: str) -> None:
        page = self.page
        self.assertEqual(self.serious(), [])
        for name in names:
            self.tab_to(re.compile(name), "checkbox")
            self.press(" ")
        page.evaluate("document.activeElement.blur()")
        self.press("a")
        expect(page.get_by_text(f"{len(names)} supplies added").first).to_be_visible()
        self.heading("Five things left until your first parcel")

    def product(self, size: tuple[str, str, str], weight: str) -> None:
        self.next("Add your first product")
        expect(self.page.get_by_label("Sku")).to_be_focused()
        self.write("OAT-1")
        self.fill("Name", "Oat soap, one bar")
        for name, side in zip(("Length", "Width", "Height"), size, strict=True):
            self.fill(name, side)
        self.fill("Weight", weight)
        self.fill("Cost to you", "1.20")
        self.press("Enter")
        self.heading("Oat soap, one bar")

    def price_list(self, heaviest: str, weights: tuple[str, ...]) -> None:
        page = self.page
        self.next("Type in a price list")
        expect(page.get_by_label("Carrier", exact=True)).to_be_focused()
        self.write("Hill Post")
        self.fill("Name of the service", "Hill Parcel")
        for number, weight in enumerate(weights, start=1):
            self.fill(f"Up to, row {number}", weight)
            self.press("Tab")
            self.write(f"{2 + number}.40")
        self.fill("Heaviest", heaviest)
        self.heading("It can be saved")
        self.assertEqual(self.serious(), [])
        self.press("Control+Enter")
        expect(page.get_by_text(re.compile("Hill Post .* is saved")).first).to_be_visible()

    def recipe(self) -> None:
        self.next("Propose a recipe")
        expect(self.page.get_by_role("button", name="Save as version 1")).to_be_enabled(timeout=30_000)
        self.press("k")
        expect(self.page).to_have_url(re.compile(r"/recipes/\d+$"))

    def order(self) -> None:
        page = self.page
        self.next("Type in an order")
        expect(page.get_by_label("Buyer", exact=True)).to_be_focused()
        self.write("Ottilie Fenn")
        self.fill("Street and number", "2 Mill Lane")
        self.fill("Postcode", "AC3 1")
        self.fill("Town", "Dunmere")
        self.tab_to("Add a product", "button")
        self.press("Enter")
        self.write("oat")
        expect(page.get_by_role("option", name=re.compile("^Oat soap"))).to_be_visible()
        self.press("Enter")
        expect(page.get_by_label("How many")).to_be_focused()
        self.write("3")
        self.press("Tab")
        self.write("6.50")
        expect(page.get_by_role("complementary")).to_contain_text("Hill Parcel")
        self.assertEqual(self.serious(), [])
        self.press("Control+Enter")
        self.heading("Order H-1, Ottilie Fenn")

    def pack(self) -> None:
        page = self.page
        expect(page.get_by_role("button", name=re.compile("^Send to the bench"))).to_be_enabled()
        page.evaluate("document.activeElement.blur()")
        self.press("Enter")
        self.heading("Print the packing slip")
        done = page.get_by_role("heading", name=re.compile("is packed$"))
        for _ in range(120):
            if done.is_visible():
                break
            if page.get_by_role("heading", name="Put the parcel on the scale").is_visible():
                expect(page.get_by_text(re.compile("settled|As planned")).first).to_be_visible(timeout=15_000)
            before = self.shown()
            self.press(" ")
            for _ in range(400):  # the server may take its time; a second press would be the next step's
                if self.shown() != before:
                    break
                page.wait_for_timeout(30)
        expect(done).to_be_visible()

    def shown(self) -> str:
        """What the bench says, without the scale's trembling figures."""
        return str(self.page.get_by_role("main").first.inner_text())

    def holds(self, units: str) -> None:
        workshop = Workshop.objects.get()
        self.assertEqual((workshop.unit_system, workshop.sample), (units, False))
        parcel = Parcel.objects.of(workshop).get()
        self.assertEqual(parcel.state, Parcel.State.CLOSED)
        self.assertEqual(Label.objects.of(workshop).get(parcel=parcel).state, Label.State.BOUGHT)
        self.assertEqual([one.code for one, _, _ in broken()], [])
        self.press("Escape")
        self.open("/first-parcel")
        expect(self.page).to_have_url(re.compile("/orders"))  # it is done with
        expect(self.page.get_by_role("link", name=re.compile("^First parcel"))).to_have_count(0)
        self.assertLess(self.keys, _MOST_KEYS)

    def test_in_metric_units(self) -> None:
        self.set_up("metric")
        self.shelf(
            "^Carton 200 x 150 x 100 mm", "^Tissue", "^Crumpled kraft", "^Paper tape, wetted", "^Shipping labels"
        )
        self.product(("85", "60", "30"), "110")
        self.price_list("10 kg", ("1 kg", "2 kg", "5 kg", "10 kg"))
        self.recipe()
        self.order()
        self.pack()
        self.holds("metric")

    def test_in_imperial_units(self) -> None:
        self.set_up("imperial")
        self.shelf(
            "^Carton 8.0 x 6.0 x 4.0 in", "^Tissue", "^Crumpled kraft", "^Paper tape, wetted", "^Shipping labels"
        )
        self.product(("3 3/8", "2.4", "1 1/4"), "3.9")
        self.price_list("20 lb", ("1 lb", "2 lb", "10 lb", "20 lb"))
        self.recipe()
        self.order()
        self.pack()
        self.holds("imperial")
        carton = Supply.objects.of(Workshop.objects.get()).get(kind="carton")
        self.assertEqual(carton.facts["inner"]["length_um"], 8 * 25_400)
        TariffFile.model_validate(Workshop.objects.get() and self.list_made())

    def list_made(self) -> Any:
        answer = self.page.request.get(f"{self.live_server_url}/api/tariffs")
        first = answer.json()["results"][0]["id"]
        return self.page.request.get(f"{self.live_server_url}/api/tariffs/{first}/file").json()
