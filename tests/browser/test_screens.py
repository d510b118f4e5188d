"""Every screen: nothing serious for axe in both themes, keys shown, a file with ten errors, signing in and out."""

import re

from playwright.sync_api import expect

from server.carriers.models import TariffVersion
from server.orders.models import Order
from server.recipes.models import Recipe
from server.workshops.models import Workshop
from server.workshops.services import set_member
from tests.browser.base import BrowserCase
from tests.server.base import make_workshop
from tests.server.test_orders import TEN_FAULTS

#: Screens on which things are typed in or set.
BY_HAND = (
    "/orders/new",
    "/cupboard?new=carton",
    "/cupboard?new=fill",
    "/rates/tariffs/new",
    "/settings",
    "/settings?part=workshop",
    "/settings?part=people",
    "/settings?part=sample",
    "/products?new=1",
    "/account",
)


#: The way of a parcel, as people go it every day.
DAILY = ("/day", "/send-off", "/holds", "/times", "/orders")


class EveryScreen(BrowserCase):
    def test_axe_finds_nothing_serious_in_light_and_dim(self) -> None:
        workshop = Workshop.objects.get()
        order, held = (Order.objects.of(workshop).get(number=n).pk for n in ("1184", "1178"))
        recipe = Recipe.objects.of(workshop).get(code="preserve-250").pk
        parcel = Order.objects.of(workshop).get(number="1170").parcels.get().pk
        packed = Order.objects.of(workshop).get(number="1160").parcels.get().pk
        tariff = TariffVersion.objects.of(workshop).get().pk
        self.open("/")
        expect(self.page.get_by_role("button", name="Look round as Maren, owner")).to_be_visible()
        found = [f"begin: {one}" for one in self.serious()]
        self.open("/sign-in")
        expect(self.page.get_by_label("Name")).to_be_visible()
        found += [f"sign-in: {one}" for one in self.serious()]
        self.sign_in()
        for path in (
            *DAILY,
            "/orders?state=held",
            "/orders/intake",
            f"/plan/{order}",
            f"/plan/{held}",
            "/bench",
            f"/bench/{parcel}",
            f"/bench/{packed}",
            "/cupboard",
            "/cupboard?as=table",
            "/cupboard?supply=1",
            "/recipes",
            f"/recipes/{recipe}",
            *BY_HAND,
            f"/orders/{held}/change",
            f"/rates/tariffs/{tariff}/change",
        ):
            self.open(path)
            self.quiet()
            found += [f"light {path}: {one}" for one in self.serious()]
            # In the other theme only colours are others.
            self.page.evaluate("document.documentElement.dataset.theme = 'dim'")
            found += [f"dim {path}: {one}" for one in self.serious(("color-contrast", "link-in-text-block"))]
        self.assertEqual(found, [])

    def test_the_rail_leads_only_to_what_is_built(self) -> None:
        self.sign_in()
        links = self.page.get_by_role("navigation", name="Main").get_by_role("link")
        for index in range(links.count()):
            links.nth(index).click()
            expect(self.page.get_by_role("heading").first).to_be_visible()

    def test_16_a_row_opens_on_a_click_anywhere_and_the_order_to_do_next_is_picked_first(self) -> None:
        self.sign_in()
        self.open("/orders")
        rows = self.page.get_by_role("table").locator("tbody tr")
        picked = self.page.locator("tbody tr[aria-selected=true]")
        # 1170 and 1171 are at the bench already.
        expect(picked).to_contain_text("1172")
        rows.filter(has_text="1174").get_by_text("Hester Mardle").click()
        self.heading(re.compile("^Order 1174"))
        self.open("/products")
        self.page.get_by_role("cell", name="72 x 72 x 98 mm").first.click()
        expect(self.page.get_by_label("Name", exact=True)).to_be_visible()

    def test_15_an_empty_workshop_says_that_there_is_nothing_yet(self) -> None:
        workshop = make_workshop("empty-row")
        set_member(workshop=workshop, username="nils", name="Nils", role="owner", password="salt-pig-41")
        self.sign_in("nils", "salt-pig-41")
        for path, words in (
            ("/day", "Nothing has to leave today"),
            ("/send-off", "Nothing is waiting to be handed over"),
            ("/holds", "Nothing is set aside"),
            ("/orders", "No order is waiting"),
            ("/readiness", "No product yet"),
            ("/products", "No product yet"),
            ("/recipes", "No recipe yet"),
            ("/cupboard", "The cupboard is empty"),
            ("/rates/tariffs", "No price list yet"),
            ("/bench", "Nothing is being packed"),
            ("/plan", "No order is waiting with a plan"),
        ):
            self.open(path)
            expect(self.page.get_by_role("main")).to_contain_text(words)
            expect(self.page.get_by_role("main")).not_to_contain_text("Everything can be packed")

    def test_every_screen_shows_its_keys(self) -> None:
        self.sign_in()
        for path, words in (
            ("/day", "Gather the next wave"),
            ("/send-off", "Print the sheet"),
            ("/orders", "Import file"),
            ("/plan", "Next layer"),
            ("/bench", "Start the next planned order"),
            ("/cupboard", "As a table"),
            ("/recipes", "Open the recipe"),
        ):
            self.open(path)
            self.quiet()
            self.page.evaluate("document.activeElement?.blur()")
            self.press("?")
            expect(self.page.get_by_role("dialog")).to_contain_text(words)
            self.press("Escape")

    def test_the_screens_hold_at_tablet_width(self) -> None:
        self.sign_in()
        self.page.set_viewport_size({"width": 820, "height": 1180})
        for path in (
            *DAILY,
            "/plan",
            "/bench",
            "/cupboard",
            "/recipes",
            *BY_HAND,
        ):
            self.open(path)
            self.quiet()
            wide = self.page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(wide, 820, path)


class TenFaults(BrowserCase):
    def test_every_fault_is_named_and_the_good_order_taken(self) -> None:
        page = self.page
        self.sign_in()
        self.open("/orders/intake")
        page.get_by_label("Orders file").set_input_files(
            {"name": "bad.csv", "mimeType": "text/csv", "buffer": TEN_FAULTS.encode()}
        )
        expect(page.get_by_text("10 errors: fix the file")).to_be_visible()
        for column in (
            "placed_on: 2026-13-40",
            "buyer: empty",
            "quantity: 0",
            "quantity: two",
            "unit_price: -6.80",
            "postage_charged: 4.505",
            "country: A1",
            "paid: maybe",
            "placed_on: 2031-01-01",
            "sku: empty",
        ):
            expect(page.get_by_text(re.compile(re.escape(column)))).to_be_visible()
        page.reload()  # the chosen file is kept
        page.get_by_role("button", name="Import 1 order").click()
        self.heading(re.compile("can be packed"))
        expect(page.get_by_role("row", name=re.compile("^2001 "))).to_contain_text("Planned")
        self.open("/orders/intake")
        page.get_by_label("Orders file").set_input_files(
            {"name": "bad.csv", "mimeType": "text/csv", "buffer": TEN_FAULTS.encode()}
        )
        expect(page.get_by_role("button", name="Nothing to import")).to_be_disabled()


class Doors(BrowserCase):
    def test_a_wrong_password_is_said_and_a_packer_cannot_change_recipes(self) -> None:
        page = self.page
        self.expected_trouble = ("401",)
        self.open("/sign-in")
        page.get_by_label("Name").fill("oswin")
        page.get_by_label("Password").fill("wrong")
        self.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("Name or password is wrong")
        self.sign_in("oswin", "butter-crock-12")
        page.get_by_role("link", name="Recipes", exact=True).click()
        page.get_by_role("link", name="Linen, folded").click()
        expect(page.get_by_text("The owner changes recipes.")).to_be_visible()
        self.sign_out("Oswin")
