"""Money in the browser: charges compared and one chosen; what-ifs run, cancelled, run again, kept, shared."""

import re
from decimal import Decimal

from django.utils import timezone
from playwright.sync_api import expect

from server.bench.models import Parcel
from server.bench.services import hand_over
from server.money.models import ChargePolicy, ClosedMonth, WhatIf
from server.money.trying import run
from server.workshops.clock import today
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase


class Money(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.workshop = Workshop.objects.get()
        closed = Parcel.objects.of(self.workshop).filter(state="closed").values_list("pk", flat=True)
        hand_over(workshop=self.workshop, parcel_ids=list(closed), at=timezone.now())
        self.sign_in()

    def test_what_is_left_by_order_and_the_fees_it_rests_on(self) -> None:
        page = self.page
        self.open("/money")
        self.heading(re.compile(r"left\. (Postage cost|Buyers paid)"))
        record = page.get_by_role("region", name=re.compile("Record of order"))
        expect(record).to_contain_text("the ledger")
        before = record.inner_text()
        self.press("j")
        expect(record).not_to_have_text(before)
        self.assertEqual(self.serious(), [])
        self.press("3")
        self.heading(re.compile("The record of"))
        self.press("n")
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Percent").fill("6")
        dialog.get_by_label("And fixed, an order").fill("0.20")
        dialog.get_by_label("Orders placed from this day on").fill("2024-01-01")
        dialog.get_by_role("button", name="Save").click()
        expect(page.get_by_role("row", name=re.compile("6 % of goods and postage and 0.20"))).to_be_visible()
        expect(page.get_by_role("row", name=re.compile("^Channel's fee .*-"))).to_be_visible()
        self.assertEqual(self.serious(), [])
        with page.expect_download() as saved:
            page.get_by_role("link", name="Export CSV").click()
        self.assertIn(b"channel_fee", saved.value.path().read_bytes())
        self.assertFalse(ClosedMonth.objects.of(self.workshop).exists())

    def test_charges_compared_and_one_chosen(self) -> None:
        page = self.page
        self.open("/money/charges")
        self.heading(re.compile("Postage cost|Buyers paid"))
        self.press("n")
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Amount").fill("6.40")
        dialog.get_by_label("Free from goods worth").fill("60")
        expect(dialog.get_by_role("status")).to_contain_text("left on postage")
        dialog.get_by_label("Amount").fill("much")
        expect(dialog.get_by_role("button", name="Save")).to_be_disabled()
        dialog.get_by_label("Amount").fill("6.40")
        dialog.get_by_label("Keep it as").fill("6.40, free from 60")
        dialog.get_by_role("button", name="Save").click()
        row = page.get_by_role("row", name=re.compile("6.40, free from 60"))
        expect(row).to_be_visible()
        self.assertEqual(self.serious(), [])
        row.get_by_role("button", name="6.40, free from 60").click()
        expect(page.get_by_role("region", name="6.40, free from 60")).to_contain_text("By zone")
        row.get_by_role("button", name="Make ours").click()
        page.get_by_role("dialog").get_by_role("button", name="Make it ours").click()
        expect(row).to_contain_text("ours since")
        kept = ChargePolicy.objects.of(self.workshop).get()
        self.assertEqual(kept.ours_from, today(self.workshop))
        expect(page.get_by_text(re.compile("charged otherwise|charged so")).first).to_be_visible()

    def begin(self) -> WhatIf:
        """Press Try it; return what the worker is asked for."""
        self.page.get_by_role("dialog").get_by_role("button", name="Try it").click()
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        expect(self.page.get_by_text(re.compile("Waiting for the worker"))).to_be_visible()
        found = WhatIf.objects.of(self.workshop).order_by("-id").first()
        assert found is not None
        return found

    def test_a_wage_and_a_carton_run_cancelled_again_kept_shared(self) -> None:
        page = self.page
        self.open("/money")
        self.heading(re.compile(r"left\. (Postage cost|Buyers paid)"))
        self.press("4")
        self.heading("What would a change do to your own orders?")
        self.press("n")
        page.get_by_role("dialog").get_by_label("Wage an hour").fill("22")
        wage = self.begin()
        self.assertTrue(run(self.workshop, wage.pk))  # the test is the worker
        self.heading(re.compile("If the wage is 22.00 an hour: .* more in 10 weeks"))
        expect(page.get_by_role("row", name=re.compile("^Minutes"))).to_contain_text("+")
        self.assertEqual(self.serious(), [])
        # A carton, from the page of the carton itself.
        page.goto(f"{self.live_server_url}/cupboard?find=C-08")
        page.get_by_role("button", name=re.compile("Carton 230 x 160 x 170")).first.click()
        page.get_by_role("link", name="How it goes on, offers, where it is used").click()
        page.get_by_role("link", name="What if it were gone").click()
        expect(page.get_by_role("dialog")).to_contain_text("C-08")
        carton = self.begin()
        page.get_by_role("button", name="Cancel").click()
        expect(page.get_by_text("It was cancelled. Press N to try it again.")).to_be_visible()
        self.assertFalse(run(self.workshop, carton.pk))
        self.press("n")
        page.get_by_role("combobox", name="What would be otherwise").click()
        page.get_by_role("option", name="A carton or mailer is gone").click()
        page.get_by_role("combobox", name="Which one").click()
        page.get_by_role("option", name=re.compile("^C-08 ")).click()
        again = self.begin()
        self.assertTrue(run(self.workshop, again.pk))
        self.heading(re.compile("If C-08 is gone: .* more in 10 weeks"))
        expect(page.get_by_role("heading", name=re.compile("It pays from"))).to_be_visible()
        page.get_by_role("button", name="Save").click()
        page.get_by_role("dialog").get_by_label("Name").fill("Without C-08")
        page.get_by_role("dialog").get_by_role("button", name="Save").click()
        expect(page.get_by_text("Kept as Without C-08").first).to_be_visible()
        with page.expect_download() as saved:
            page.get_by_role("link", name="Export CSV").click()
        self.assertIn(b"If C-08 is gone", saved.value.path().read_bytes())
        paper = page.request.get(f"{self.live_server_url}/api/money/what-ifs/{again.pk}/what-if.pdf")
        self.assertTrue(paper.body().startswith(b"%PDF"))
        again.refresh_from_db()
        self.assertEqual((again.name, again.state), ("Without C-08", "done"))
        assert again.result is not None
        self.assertGreater(Decimal(again.result["change"]), 0)

    def test_what_fits_and_what_is_left_per_unit(self) -> None:
        page = self.page
        self.open("/fits")
        page.get_by_role("combobox", name="Product").fill("Blackcurrant")
        page.get_by_role("option", name=re.compile("Blackcurrant")).click()
        expect(page.get_by_role("row", name=re.compile("C-14"))).to_contain_text("6")
        self.heading(re.compile("takes most|costs least each"))
        self.assertEqual(self.serious(), [])
        self.open("/products")
        page.get_by_role("button", name=re.compile("Blackcurrant")).first.click()
        left = page.get_by_role("region", name="Left per unit")
        expect(left.get_by_role("row").nth(1)).to_contain_text("1")
        left.get_by_label("Sold for, a unit").fill("2.50")
        expect(left).to_contain_text("2 together lose 0.10")
        self.assertEqual(self.serious(), [])
