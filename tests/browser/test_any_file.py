"""An unknown file is matched once in the browser; the next file of its channel goes in with two keys."""

import re

from playwright.sync_api import FilePayload, expect

from server.orders.models import Order
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase

HEAD = "Ticket;Sold on;Who;Street;Town;Code;Land;Thing;Many;Each"
FIRST = f"""{HEAD}
W-1;27.11.2025;Hedda Lorn;4 Tanner Row;Hallowfen;HW3 2;Almere;PRE-BLK;2x;6,80
W-2;28.11.2025;Piers Oakley;9 Lower Quay;Dunmere;DM2 1;Almere;jam black;1;6,80
"""
NEXT = f"""{HEAD}
W-1;27.11.2025;Hedda Lorn;4 Tanner Row;Hallowfen;HW3 2;Almere;PRE-BLK;3x;6,80
W-3;28.11.2025;Yara Finch;2 Mill End;Dunmere;DM2 1;Almere;jam black;2;6,80
"""


class AnyFile(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.chosen = ""
        # Listened for from the beginning: the browser needs a moment until it hands choosers over.
        self.page.on("filechooser", lambda chooser: chooser.set_files(self.file()))

    def file(self) -> FilePayload:
        return {"name": "stall.csv", "mimeType": "text/csv", "buffer": self.chosen.encode()}

    def choose(self, text: str) -> None:
        self.chosen = text
        self.page.keyboard.press("o")

    def pick(self, label: str, option: str) -> None:
        self.page.get_by_label(label, exact=True).first.click()
        self.page.get_by_role("option", name=re.compile(f"^{re.escape(option)}( \\(|$)")).click()

    def test_a_file_is_matched_once_and_the_next_one_goes_in_with_two_keys(self) -> None:
        page = self.page
        workshop = Workshop.objects.get()
        self.sign_in()
        self.open("/orders/intake")
        page.get_by_text("No file chosen yet").wait_for()
        self.choose(FIRST)
        expect(page.get_by_role("heading", name="answers are needed first")).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("answers? needed"))).to_be_disabled()
        self.pick("Which column is the order number?", "Ticket")
        self.pick("Which column is the postcode?", "Code")
        self.pick("Which column is the buyer?", "Who")
        page.get_by_role("button", name="ALM", exact=True).click()
        self.pick("Read Many as", "Quantity")
        expect(page.get_by_text("4 Tanner Row, Hallowfen, HW3 2 ALM")).to_be_visible()
        page.get_by_role("button", name="Choose the product").click()
        page.get_by_role("combobox", name="Product", exact=True).fill("PRE-BLK")
        page.get_by_role("option", name=re.compile("PRE-BLK")).click()
        expect(page.get_by_text("jam black is PRE-BLK")).to_be_visible()
        page.get_by_label("Channel", exact=True).fill("Stall")
        page.get_by_role("button", name="Import 2 orders").click()
        page.wait_for_url("**/orders")
        page.get_by_text("2 orders imported").first.wait_for()
        order = Order.objects.of(workshop).get(number="W-1")
        self.assertEqual((order.channel, order.lines.get().quantity), ("Stall", 2))

        expect(page.get_by_role("button", name=re.compile("Import file"))).to_be_visible()
        page.keyboard.press("i")
        page.get_by_text("No file chosen yet").wait_for()
        self.choose(NEXT)  # the first key
        expect(page.get_by_text("Read as the files of Stall")).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("Import 1 order"))).to_be_enabled()
        page.keyboard.press("Enter")  # the second
        page.wait_for_url("**/orders")
        page.get_by_text("1 order imported").first.wait_for()
        self.assertEqual(Order.objects.of(workshop).get(number="W-3").lines.get().sku, "PRE-BLK")

        # The address changes before the screen does: a key is pressed by one who sees its button.
        expect(page.get_by_role("button", name=re.compile("^Look"))).to_be_visible()
        page.keyboard.press("l")
        expect(page.get_by_role("heading", name=re.compile("W-1, Hedda Lorn"))).to_be_visible()
        page.get_by_role("button", name="Apply the change").click()
        page.get_by_text("as its channel says now").first.wait_for()
        self.assertEqual(Order.objects.of(workshop).get(number="W-1").lines.get().quantity, 3)
