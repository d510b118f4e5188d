"""Rates: comparing, price lists in and out, what changes, cost of each, the choosing rules; advice taken and taken
back.
"""

import json
import re
import tempfile
from datetime import timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

from playwright.sync_api import expect

from server.carriers.models import Label, TariffVersion
from server.commands.demo import DEMO
from server.commands.intake import import_kind
from server.orders.models import Order
from server.plans.waves import run_wave
from server.standins.models import Behaviour
from server.workshops.clock import today
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase

D = Decimal


class RatesCase(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.workshop = Workshop.objects.get()
        for path in sorted((DEMO / "carriers").glob("*.json")):
            import_kind(self.workshop, "tariff", path.read_bytes(), by="test")
        self.sign_in()

    def file(self, name: str, document: Any) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / name
        path.write_text(json.dumps(document))
        return str(path)

    def coming(self) -> Any:
        document = json.loads((DEMO / "carriers" / "coming" / "wending-2026-12.json").read_text())
        return {**document, "valid_from": str(today(self.workshop) + timedelta(days=6))}


class Compare(RatesCase):
    def test_a_parcel_is_compared_by_keyboard_and_its_stairs_change(self) -> None:
        self.press("/")
        self.press("Escape")
        self.page.get_by_role("navigation", name="Main").get_by_role("link", name="Rates").click()
        self.heading(re.compile(r"^5\.75 with Larkline Two-day, the cheapest of 4$"))
        services = self.page.get_by_role("region", name="Services")
        expect(services).to_contain_text("4 of 7 can take it")
        expect(services).to_contain_text(
            "Larkline Packet: takes thickness up to 80 mm; this parcel has 160 mm, 80 mm over."
        )
        self.press("ArrowRight", "ArrowRight")
        expect(self.page.get_by_label("Gross weight")).to_have_value("3.040 kg")
        self.heading(re.compile("^7.24 with Larkline Two-day"))
        self.press("o")
        expect(self.page.get_by_role("button", name="over length")).to_have_attribute("aria-pressed", "true")
        expect(self.page.get_by_role("img", name=re.compile("Price over length"))).to_be_visible()
        self.assertEqual(self.serious(), [])
        self.page.get_by_label("Gross weight").fill("heavy")
        expect(self.page.get_by_text("A weight, such as 2.84 kg")).to_be_visible()
        self.page.get_by_label("Gross weight").fill("31 kg")
        self.page.get_by_label("To, country and postcode").fill("VEL 3300")
        self.heading("No service takes this parcel")


class Lists(RatesCase):
    def test_a_list_is_taken_in_read_as_tables_and_taken_away(self) -> None:
        self.open("/rates/tariffs")
        self.heading("3 carriers, 3 current lists")
        self.page.locator("input[type=file]").set_input_files(self.file("next.json", self.coming()))
        expect(self.page.get_by_text("Wending Swift has no prices for zone X").first).to_be_visible()
        expect(self.page.get_by_role("button", name=re.compile("Wending Post 2026-12 coming"))).to_be_visible()
        self.page.get_by_role("button", name="Zones and packaging").click()
        expect(self.page.get_by_role("cell", name="Swift flat-rate carton")).to_be_visible()
        self.assertEqual(self.serious(), [])
        self.page.get_by_role("button", name="Delete").click()
        self.page.get_by_role("dialog").get_by_role("button", name="Delete").click()
        self.heading("3 carriers, 3 current lists")
        self.assertFalse(TariffVersion.objects.of(self.workshop).filter(version="2026-12").exists())

    def test_a_broken_list_names_its_faults_and_a_changed_one_asks_first(self) -> None:
        self.expected_trouble = ("422", "409")
        self.open("/rates/tariffs")
        broken = self.coming()
        broken["services"][0]["formats"][0]["zones"][0]["zone"] = "Q"
        self.page.locator("input[type=file]").set_input_files(self.file("broken.json", broken))
        expect(self.page.get_by_role("alert")).to_contain_text("1 error")
        changed = json.loads((DEMO / "carriers" / "wending-2026-04.json").read_text())
        changed["services"][1]["zones"][0]["increment"]["base"] = "5.50"
        self.page.locator("input[type=file]").set_input_files(self.file("changed.json", changed))
        expect(self.page.get_by_text("No parcel used the current list.")).to_be_visible()
        self.page.get_by_role("button", name="Replace").click()
        expect(self.page.get_by_text("imported; valid from").first).to_be_visible()

    def test_new_prices_come_as_a_step_table(self) -> None:
        self.expected_trouble = ("422",)
        self.open("/rates/tariffs")
        self.heading("3 carriers, 3 current lists")
        self.press("s")
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_label("Name of the new version").fill("spring")
        sheet.get_by_label("Valid from").fill(str(today(self.workshop) + timedelta(days=30)))
        sheet.get_by_label("Step table").fill("service,zone,up_to,price\nLARK-PKT,1,heavy,2.60\n")
        sheet.get_by_role("button", name="Import").click()
        expect(sheet.get_by_role("alert")).to_contain_text("1 error")
        sheet.get_by_label("Step table").fill("service,zone,up_to,price\nLARK-PKT,1,2 kg,2.60\n")
        self.assertEqual(self.serious(), [])
        sheet.get_by_role("button", name="Import").click()
        expect(self.page.get_by_role("button", name=re.compile("Larkline spring coming"))).to_be_visible()


class Changes(RatesCase):
    def test_the_sum_and_the_ten_most_affected_are_shown(self) -> None:
        import_kind(self.workshop, "tariff", json.dumps(self.coming()).encode(), by="test")
        self.open("/rates/coming")
        self.heading(re.compile(r"^\d+\.\d\d more on \d+ orders of 10 weeks$"))
        rows = self.page.get_by_role("table").locator("tbody tr")
        expect(rows.first).to_be_visible()
        self.heading(f"The {rows.count()} most affected")
        self.assertGreater(rows.count(), 5)
        self.assertEqual(self.serious(), [])

    def test_the_cost_of_each_is_drawn_for_another_product_by_key(self) -> None:
        self.open("/rates/each")
        self.heading(re.compile("for one to"))
        expect(self.page.get_by_role("img", name=re.compile("Cost of each: 1:"))).to_be_visible()
        first = self.page.get_by_role("combobox", name="Product").inner_text()
        self.press("ArrowRight")
        expect(self.page.get_by_role("combobox", name="Product")).not_to_have_text(first)
        self.assertEqual(self.serious(), [])

    def test_the_rules_are_kept_and_plans_follow(self) -> None:
        self.open("/rates/choosing")
        self.heading("The cheapest service that takes the parcel")
        for name in ("Larkline Packet", "Larkline Two-day", "Oxgang Economy", "Wending Parcel", "Wending Standard"):
            self.page.get_by_label(name).uncheck()
        self.assertEqual(self.serious(), [])
        self.page.get_by_role("heading", level=1).click()
        self.press("k")
        expect(self.page.get_by_text("Saved. Open orders are planned again by these rules.").first).to_be_visible()
        self.assertEqual(Workshop.objects.get().services, ["WEND-SWI"])
        order = Order.objects.of(self.workshop).get(number="1173")
        self.open(f"/plan/{order.pk}")
        expect(self.page.get_by_text("Wending Swift, zone A")).to_be_visible()

    def test_a_packer_reads_the_rules_and_lists_and_changes_neither(self) -> None:
        self.sign_out()
        self.sign_in("oswin", "butter-crock-12")
        self.open("/rates/choosing")
        expect(self.page.get_by_text("The owner sets these rules")).to_be_visible()
        expect(self.page.get_by_label("Larkline Packet")).to_be_disabled()
        self.open("/rates/tariffs")
        expect(self.page.get_by_role("button", name="Import price list")).to_have_count(0)


class Advice(RatesCase):
    def total(self) -> Decimal:
        return D(self.page.get_by_role("region", name="Cost").locator("p b").first.inner_text())

    def test_one_key_does_what_is_advised_and_one_takes_it_back(self) -> None:
        order = Order.objects.of(self.workshop).get(number="1183")
        run_wave(workshop=self.workshop)
        self.open(f"/plan/{order.pk}")
        advice = self.page.get_by_role("status").filter(has_text=re.compile(r": \d+\.\d\d less with"))
        expect(advice).to_be_visible()
        saves = D(re.search(r": (\d+\.\d\d) less with", advice.inner_text()).group(1))  # type: ignore[union-attr]
        before = self.total()
        self.press("e")
        self.assertEqual(self.serious(), [])
        self.press("a")
        expect(self.page.get_by_text("Overridden.")).to_be_visible()
        self.assertEqual(self.total(), before - saves)
        self.page.reload()
        expect(self.page.get_by_text("Overridden.")).to_be_visible()
        self.press("z")
        expect(self.page.get_by_text("Overridden.")).to_have_count(0)
        self.assertEqual(self.total(), before)

    def test_room_to_spare_tells_what_ships_for_no_more(self) -> None:
        order = Order.objects.of(self.workshop).get(number="1174")
        self.open(f"/plan/{order.pk}")
        expect(self.page.get_by_role("region", name="The parcel")).to_be_visible()
        self.press("m")
        expect(self.page.get_by_text("Shipped for no more postage, any carton:")).to_be_visible()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("link", name="See price steps").click()
        expect(self.page.get_by_role("img", name=re.compile("Price over weight"))).to_be_visible()


class AtTheBench(RatesCase):
    def test_a_carrier_that_asks_more_is_agreed_to_and_its_label_given_back(self) -> None:
        self.expected_trouble = ("409",)
        order = Order.objects.of(self.workshop).get(number="1173")
        Behaviour.objects.of(self.workshop).create(workshop=self.workshop, device="carrier", mode="asks_more")
        self.open(f"/plan/{order.pk}")
        expect(self.page.get_by_role("region", name="The parcel")).to_be_visible()
        self.press("Enter")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("1173")
        self.heading("Print the packing slip")
        self.jump("w")
        self.press("t")
        grams = order.plan.document["chosen"]["parcels"][0]["candidate"]["weight"]["gross_mg"] // 1000
        self.page.get_by_label(re.compile("^Weight in")).fill(f"{grams} g")
        self.press("Enter")
        expect(self.page.get_by_text(re.compile("^As planned.*typed in"))).to_be_visible()
        self.press("l")
        radios = self.page.get_by_role("radio")
        expect(radios.first).to_be_visible()
        expect(self.page.get_by_role("radio", checked=True)).to_contain_text("as planned")
        self.press(" ")
        agree = self.page.get_by_role("button", name="Agree and buy")
        expect(agree).to_be_visible()
        self.assertEqual(Label.objects.of(self.workshop).filter(parcel__order=order).count(), 0)
        agree.click()
        back = self.page.get_by_role("button", name="Cancel label")
        expect(back).to_be_visible()
        back.click()
        expect(radios.first).to_be_visible()
        self.assertEqual(Label.objects.of(self.workshop).get(parcel__order=order).state, Label.State.VOID)
