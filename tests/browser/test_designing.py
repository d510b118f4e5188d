"""The design desk in the real browser: a new jar from nothing to a planned order by keyboard, the editor, readiness,
policies.
"""

import re
import time

from playwright.sync_api import expect

from server.recipes.models import Recipe
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase

FILE = """order,channel,placed_on,buyer,address,town,postcode,country,sku,title,quantity,unit_price,\
postage_charged,paid,note
9101,own shop,2026-11-20,Petra Lowick,6 Weir Steps,Hallowfen,HW3 2,ALM,JAM-FIG,Fig jam,4,6.80,4.50,yes,
"""


class ANewJar(BrowserCase):
    """From nothing to a planned order by keyboard, under three minutes, counting keys."""

    def type(self, text: str) -> None:
        self.keys += len(text)
        self.page.keyboard.type(text)

    def hit(self, *keys: str) -> None:
        self.keys += len(keys)
        self.press(*keys)

    def test_is_entered_proposed_kept_and_its_order_planned_in_under_three_minutes(self) -> None:
        page = self.page
        self.keys = 0
        self.sign_in()
        self.open("/products")
        self.heading(re.compile("products$"))
        begun = time.monotonic()
        self.hit("n")
        expect(page.get_by_label("Sku")).to_be_focused()
        for text in ("JAM-FIG", "Fig jam, 300 ml", "76", "76", "104", "505", "4", "3000", "2.40"):
            self.type(text)
            self.hit("Tab")
        for name in ("food", "glass"):
            page.get_by_label(name, exact=True).focus()
            self.hit(" ")
        page.get_by_label("Sku").focus()
        self.hit("Enter")
        expect(page.get_by_text("Fig jam, 300 ml is saved").first).to_be_visible()
        page.get_by_role("link", name="Propose a recipe").focus()
        self.hit("Enter")
        self.heading("A first recipe for Fig jam, 300 ml")
        expect(page.get_by_role("img", name=re.compile("^Cost of each as the order grows"))).to_be_visible()
        # The first size is shown at once; the rest follow, with a count.
        expect(page.get_by_role("button", name="Save as version 1")).to_be_enabled(timeout=60_000)
        self.hit("k")
        expect(page.get_by_text(re.compile("^Version 1, .*Proposed as glass-jar"))).to_be_visible()
        document = Recipe.objects.of(Workshop.objects.get()).get(code="jam-fig").versions.get().document
        self.assertGreaterEqual(len(document["bands"]), 3)
        self.open("/orders/intake")
        page.get_by_label("Orders file").set_input_files(
            {"name": "new.csv", "mimeType": "text/csv", "buffer": FILE.encode()}
        )
        page.get_by_role("button", name="Import 1 order").focus()
        self.hit("Enter")
        expect(page.get_by_role("row", name=re.compile("^9101 "))).to_contain_text("Planned")
        seconds = time.monotonic() - begun
        self.assertLess(seconds, 180)
        # A file chosen is the only thing hands on a mouse would do; the keys are the words themselves and a few more.
        self.assertLess(self.keys, 120)


class TheEditor(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()
        self.recipe = Recipe.objects.of(Workshop.objects.get()).get(code="preserve-250")
        self.open(f"/recipes/{self.recipe.pk}")
        self.heading("Preserves, 250 ml jar")

    def step_back(self) -> None:
        self.press("Escape")
        expect(self.page.get_by_role("dialog")).to_be_hidden()

    def test_copy_across_undo_redo_and_a_reload_lose_nothing(self) -> None:
        page = self.page
        page.get_by_role("button", name="Gap to the next, 1: 8 mm").click()
        self.press("9", "Enter", "ArrowUp")
        expect(page.get_by_role("button", name="Gap to the next, 1: 9 mm")).to_be_visible()
        self.press("c")
        expect(page.get_by_role("button", name="Gap to the next, 7 to 12: as before, 9 mm")).to_be_visible()
        self.press("z", "z")
        expect(page.get_by_role("button", name="Gap to the next, 1: 8 mm")).to_be_visible()
        self.press("y", "y")
        page.reload()
        expect(page.get_by_role("button", name="Gap to the next, 7 to 12: as before, 9 mm")).to_be_visible()
        self.press("z")
        expect(page.get_by_role("button", name="Gap to the next, 2: 8 mm")).to_be_visible()

    def test_a_supply_is_found_by_part_of_its_name_or_shelf(self) -> None:
        page = self.page
        page.get_by_role("button", name="Container, 1: C-05").click()
        self.press("Enter")
        page.get_by_role("combobox", name="Container, 1").fill("250 225")
        self.press("Enter")
        expect(page.get_by_role("button", name="Container, 1: C-16")).to_be_visible()
        self.press("a")
        page.get_by_role("combobox", name="Which supply").fill("soap d4")
        self.press("Enter")
        expect(page.get_by_role("button", name="Soap sample, oat, 1: 1")).to_be_visible()

    def test_a_block_from_a_spreadsheet_is_pasted_and_its_faults_named(self) -> None:
        page = self.page
        page.get_by_role("button", name="Cushion below, 1: 30 mm").click()
        page.evaluate(
            """() => { const data = new DataTransfer(); data.setData('text/plain', '31\\t32\\ndeep\\t22');
            document.activeElement.dispatchEvent(new ClipboardEvent('paste',
            { clipboardData: data, bubbles: true, cancelable: true })); }"""
        )
        expect(page.get_by_role("button", name="Cushion below, 2: 32 mm")).to_be_visible()
        expect(page.get_by_role("button", name="Cushion at the sides, 2: 22 mm")).to_be_visible()
        expect(page.get_by_text(re.compile("Cushion at the sides: deep"))).to_be_visible()

    def test_order_sizes_are_split_and_the_figures_follow(self) -> None:
        page = self.page
        self.press("b")
        page.get_by_role("row", name=re.compile("^3")).get_by_role("button", name="Split").click()
        self.step_back()
        expect(page.get_by_role("button", name="3 to 4", exact=True)).to_be_visible()
        expect(page.get_by_role("button", name="5 to 6", exact=True)).to_be_visible()
        expect(page.get_by_role("row", name=re.compile("^Gross weight"))).to_contain_text("for 4")

    def test_ways_versions_trials_and_words_open_by_key_and_axe_finds_nothing_serious(self) -> None:
        page = self.page
        self.press("o")
        expect(page.get_by_role("dialog")).to_contain_text("costs least")
        self.assertEqual(self.serious(), [])
        self.step_back()
        self.press("t")
        page.get_by_label("What you saw").fill("nothing moved")
        page.get_by_role("button", name="Passed").click()
        expect(page.get_by_role("dialog")).to_contain_text("Shake it: passed")
        self.step_back()
        self.press("e")
        page.get_by_label("Cautions", exact=True).fill("Lids are slippery.")
        page.get_by_role("button", name="Apply").click()
        expect(page.get_by_text("Lids are slippery.")).to_be_visible()
        self.press("k")
        page.get_by_label("Why it changes").fill("slippery lids")
        self.press("Enter")
        expect(page.get_by_text(re.compile("^Version 2, .*slippery lids"))).to_be_visible()
        self.press("v")
        expect(page.get_by_role("dialog")).to_contain_text("Lids are slippery.")
        self.step_back()
        self.press("m")
        expect(page.get_by_role("button", name="First layer, which wrap, 1: Tissue, white")).to_be_visible()
        self.assertEqual(self.serious(), [])


class TheDesk(BrowserCase):
    def test_readiness_names_what_is_missing_and_leads_to_it(self) -> None:
        page = self.page
        self.sign_in()
        self.open("/recipes")
        self.heading(re.compile("recipes for"))
        self.press("3")
        self.heading(re.compile("products are not ready"))
        row = page.get_by_role("row", name=re.compile("Sourdough starter"))
        expect(row).to_contain_text("has no weight. Weigh one and enter it.")
        self.assertEqual(self.serious(), [])
        row.get_by_role("link", name="Enter it").click()
        page.get_by_label("Weight", exact=True).fill("212 g")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Sourdough starter, live is saved").first).to_be_visible()
        self.assertEqual(self.serious(), [])
        self.press("Escape", "3")
        expect(page.get_by_role("row", name=re.compile("Sourdough starter"))).not_to_contain_text("no weight")

    def test_policies_show_what_they_would_change(self) -> None:
        page = self.page
        self.sign_in()
        self.open("/policies")
        self.heading("No policy is active")
        page.get_by_role("button", name="Never a fragile mark").click()
        expect(page.get_by_role("table")).to_contain_text("The parcel is marked fragile.")
        self.press("x")
        self.heading("1 policy is active")
        self.assertEqual(self.serious(), [])

    def test_a_packer_reads_and_changes_nothing(self) -> None:
        page = self.page
        self.sign_in("oswin", "butter-crock-12")
        self.open("/recipes")
        expect(page.get_by_role("button", name="New recipe")).to_be_hidden()
        self.open("/products")
        expect(page.get_by_role("button", name="New product")).to_be_hidden()
        page.get_by_role("button", name="Salt pig, stoneware").click()
        expect(page.get_by_label("Name", exact=True)).to_have_attribute("readonly", "")

    def test_parcels_are_packed_ahead_and_taken_apart_again(self) -> None:
        page = self.page
        self.sign_in()
        self.open("/bench")
        self.heading(re.compile("at the bench"))
        self.press("a")
        expect(page.get_by_role("dialog")).to_contain_text("Nothing is packed ahead.")
        page.get_by_role("combobox", name="Product").click()
        page.get_by_role("option", name="Linen cloth").click()
        page.get_by_label("Units in each").fill("2")
        page.get_by_label("How many parcels").fill("2")
        page.get_by_label("Place").fill("N1")
        self.press("Enter")
        expect(page.get_by_role("table", name="Parcels packed ahead").get_by_role("row")).to_have_count(3)
        self.assertEqual(self.serious(), [])
        page.get_by_role("button", name="Take apart").first.click()
        expect(page.get_by_role("table", name="Parcels packed ahead").get_by_role("row")).to_have_count(2)
