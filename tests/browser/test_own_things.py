"""What a maker does with their own things: supplies moved, renamed shelves, retired and brought back; products and
recipes copied; orders and price lists changed; and a packer who is shown no costs.
"""

import re

from playwright.sync_api import expect

from server.carriers.models import TariffVersion
from server.orders.models import Order
from server.recipes.models import Product, Recipe, RecipeVersion
from server.supplies.models import Supply
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase


class OwnThings(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.workshop = Workshop.objects.get()
        self.sign_in()

    def said(self, words: str) -> None:
        expect(self.page.get_by_text(re.compile(words)).first).to_be_visible()

    def at(self, path: str) -> None:
        self.open(path)
        self.quiet()
        self.page.evaluate("document.activeElement?.blur()")

    def test_a_shelf_is_named_and_arranged_by_hand_and_by_keys(self) -> None:
        page = self.page
        self.at("/cupboard")
        shelf = page.get_by_role("region", name="Shelf B")
        shelf.get_by_role("button", name="Wraps").click()
        page.get_by_label("What stands on shelf B").fill("Wraps, by the window")
        self.press("Enter")
        expect(shelf.get_by_role("button", name="Wraps, by the window")).to_be_visible()
        slots = shelf.get_by_role("listitem")
        first, last = slots.first.inner_text(), slots.last.inner_text()
        self.assertNotEqual(first, last)
        shelf.get_by_role("button").last.drag_to(slots.first.get_by_role("button"))
        expect(slots.first).to_contain_text(last.splitlines()[0].split(" ", 1)[1])
        wanted = Supply.objects.of(self.workshop).get(shelf="B", slot=1)
        self.at(f"/cupboard?supply={wanted.pk}")
        self.press(".")
        expect(slots.nth(1)).to_contain_text(wanted.name)
        self.press("]")
        expect(page.get_by_role("region", name="Shelf C")).to_contain_text(wanted.name)
        self.assertEqual(Workshop.objects.get().shelf_names, {"B": "Wraps, by the window"})

    def test_a_supply_is_changed_copied_retired_and_brought_back(self) -> None:
        page = self.page
        carton = Supply.objects.of(self.workshop).get(code="C-14")
        self.at(f"/cupboard?supply={carton.pk}")
        self.press("e")
        page.get_by_label("Weight empty").fill("340")
        page.get_by_role("button", name="Save", exact=True).click()
        self.said("is saved")
        carton.refresh_from_db()
        self.assertEqual(carton.facts["tare_mg"], 340_000)
        self.assertEqual(carton.facts["inner"]["length_um"], 320_000)  # what was not touched is as it was
        page.evaluate("document.activeElement?.blur()")
        self.press("d")
        page.get_by_role("textbox", name="Code").fill("C-14B")
        page.get_by_label("On the shelf now").fill("2.5")
        page.get_by_role("button", name="Save", exact=True).click()
        self.expected_trouble = ("422",)
        self.said("whole pieces")
        page.get_by_label("On the shelf now").fill("3")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("complementary")).to_contain_text("C-14B, shelf")
        self.at(f"/cupboard?supply={carton.pk}")
        self.press("x")
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text("Each of these recipes gets a new version")
        self.assertEqual(self.serious(), [])
        sheet.get_by_role("button", name="Retire it").click()
        self.said("is retired")
        newest = RecipeVersion.objects.of(self.workshop).filter(reason__contains="C-14 is retired")
        self.assertGreater(newest.count(), 0)
        page.get_by_role("button", name="Retired supplies").click()
        page.get_by_role("button", name="Bring back").click()
        expect(sheet).to_contain_text("None is retired")

    def test_a_product_is_copied_retired_and_brought_back(self) -> None:
        page = self.page
        linen = Product.objects.of(self.workshop).get(sku="CLO-LIN")
        self.at(f"/products?product={linen.pk}")
        self.press("d")
        expect(page.get_by_label("Name", exact=True)).to_have_value(f"{linen.name}, copy")
        expect(page.get_by_label("Sku")).to_have_value("")
        page.get_by_label("Sku").fill("CLO-2")
        page.get_by_role("button", name="Add", exact=True).click()
        self.said(f"{linen.name}, copy is saved")
        copied = Product.objects.of(self.workshop).get(sku="CLO-2")
        self.assertEqual((copied.length_um, copied.weight_mg), (linen.length_um, linen.weight_mg))
        page.evaluate("document.activeElement?.blur()")
        self.press("x")
        self.said("is retired")
        expect(page.get_by_role("table", name="Products")).not_to_contain_text("CLO-2")
        page.get_by_role("button", name="Retired", exact=True).click()
        page.get_by_role("button", name="Bring back").click()
        self.press("Escape")
        expect(page.get_by_role("table", name="Products")).to_contain_text("CLO-2")

    def test_a_recipe_is_copied_and_one_that_packs_something_is_not_retired(self) -> None:
        page = self.page
        self.expected_trouble = ("409",)
        recipe = Recipe.objects.of(self.workshop).get(code="preserve-250")
        self.at(f"/recipes/{recipe.pk}")
        self.press("x")
        self.said("Give them another recipe")
        self.press("d")
        self.heading(f"{recipe.name}, copy")
        self.quiet()
        page.evaluate("document.activeElement?.blur()")
        self.press("x")
        expect(page).to_have_url(re.compile("/recipes$"))
        page.get_by_role("button", name="Retired", exact=True).click()
        expect(page.get_by_role("dialog")).to_contain_text(f"{recipe.name}, copy")

    def test_an_order_is_changed_and_a_draft_outlives_a_reload(self) -> None:
        page = self.page
        order = Order.objects.of(self.workshop).get(number="1174")
        before = page.request.get(f"{self.live_server_url}/api/orders/{order.pk}").json()["total"]
        self.at(f"/plan/{order.pk}")
        self.press("c")
        self.heading("Change order 1174")
        page.get_by_label("How many").fill("4")
        expect(page.get_by_role("complementary")).to_contain_text("Difference")
        page.reload()
        expect(page.get_by_text("This is your draft")).to_be_visible()
        expect(page.get_by_label("How many")).to_have_value("4")
        self.press("Control+Enter")
        self.heading("Order 1174, Hester Mardle")
        expect(page.get_by_role("main")).to_contain_text("4 Quince preserve")
        order.refresh_from_db()
        self.assertEqual(order.revision, 1)
        now = page.request.get(f"{self.live_server_url}/api/orders/{order.pk}").json()["total"]
        self.assertNotEqual(now, before)

    def test_a_current_price_list_is_followed_by_a_new_version_from_today(self) -> None:
        page = self.page
        old = TariffVersion.objects.of(self.workshop).get()
        self.at("/rates/tariffs")
        self.press("e")
        # The list behind has a button of that name, too: the one of the form is meant.
        page.get_by_role("region", name="Services").get_by_role("button", name="Larkline Two-day").click()
        page.get_by_label("Price up to 1 kg, zone 1").fill("free")
        expect(page.get_by_role("complementary")).to_contain_text("wrong")
        page.get_by_label("Price up to 1 kg, zone 1").fill("4.15")
        self.heading("It can be saved")
        self.press("Control+Enter")
        self.said("is saved")
        rows = TariffVersion.objects.of(self.workshop).order_by("valid_from")
        self.assertEqual(rows.count(), 2)
        was, now = rows[0].document, rows[1].document
        self.assertEqual(rows[0].version, old.version)
        changed = [one for one in now["services"] if one not in was["services"]]
        self.assertEqual([one["code"] for one in changed], ["LARK-TWO"])
        self.assertEqual(changed[0]["zones"][0]["steps"][0], {"up_to_mg": 1_000_000, "price": "4.15"})

    def test_a_packer_is_shown_no_costs_and_asks_for_none(self) -> None:
        page = self.page
        self.at("/settings?part=workshop")
        page.get_by_label("Packers see costs").uncheck()
        page.get_by_role("button", name="Save", exact=True).click()
        self.said("^Saved")
        self.sign_out()
        self.sign_in("oswin", "butter-crock-12")
        expect(page.get_by_role("link", name="Rates")).to_have_count(0)
        order = Order.objects.of(self.workshop).get(number="1174").pk
        supply = Supply.objects.of(self.workshop).order_by("pk")[0].pk
        recipe = Recipe.objects.of(self.workshop).order_by("pk")[0].pk
        ways = (f"/plan/{order}", f"/cupboard?supply={supply}", f"/recipes/{recipe}")
        for path in ("/orders", *ways, "/settings", "/products"):
            self.at(path)  # a request that is refused would be an error in the console
            expect(page.get_by_role("main")).not_to_contain_text("NaN")
            expect(page.get_by_role("main")).not_to_contain_text("hidden")
        self.at(f"/plan/{order}")
        expect(page.get_by_role("main")).not_to_contain_text("Expected damage cost")
        expect(page.get_by_role("region", name="Measures of the parcel")).to_contain_text("Gross weight")
