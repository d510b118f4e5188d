"""Arrivals in the browser: a broken corner is told, the suggestion becomes a version, a trial is set up, its next
parcel is packed as told; a buyer answers on a telephone.
"""

import re
from datetime import timedelta

from django.db.models import Count
from django.utils import timezone
from playwright.sync_api import expect

from server.bench.models import Parcel
from server.bench.services import begin, hand_over
from server.commands.demo import pack
from server.commands.intake import import_kind, import_orders
from server.formats.orders import read_orders
from server.orders.models import Order
from server.outcomes.models import Arrival, VersionTrial
from server.plans.models import TrialPick
from server.plans.waves import run_wave
from server.recipes.models import Recipe, RecipeVersion
from server.workshops.models import Member, Workshop
from tests.browser.base import BrowserCase
from tests.server.base import DEMO


class Arrivals(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.workshop = Workshop.objects.get()
        import_kind(self.workshop, "supplies", (DEMO / "range" / "supplies.json").read_bytes(), by="test")
        self.order_more(8)
        run_wave(workshop=self.workshop)
        self.recipe = Recipe.objects.of(self.workshop).get(code="small-stoneware")
        orders = Order.objects.of(self.workshop).filter(state="planned", plan__recipe_versions={"small-stoneware": 1})
        alone = orders.annotate(planned=Count("plan__parts")).filter(planned=1)
        self.orders = list(alone.order_by("number"))
        self.assertGreaterEqual(len(self.orders), 4)
        self.leave(self.orders[0])

    def order_more(self, count: int) -> None:
        """Let so many buyers order one salt pig each."""
        day = timezone.now().date()
        head = (
            "order,channel,placed_on,buyer,address,town,postcode,country,sku,title,quantity,unit_price,"
            "postage_charged,paid"
        )
        rows = [
            f"90{n:02},own shop,{day},Buyer {n},{n} Mill Lane,Dunmere,DM1 {n},ALM,SALT-PIG,Salt pig,1,29.00,5.50,yes"
            for n in range(count)
        ]
        import_orders(self.workshop, read_orders("\n".join([head, *rows]).encode(), today=day))

    def leave(self, order: Order) -> Arrival:
        """Let an order be packed, leave and come."""
        pack(order, by=Member.objects.get(role="packer"))
        parcels = Parcel.objects.of(self.workshop).filter(order=order, state="closed")
        hand_over(workshop=self.workshop, parcel_ids=[row.pk for row in parcels], at=timezone.now())
        day = timezone.now().date()
        rows = Arrival.objects.of(self.workshop).filter(parcel__order=order)
        rows.update(delivered_on=day, whole_by=day + timedelta(days=14))
        return rows[0]

    def test_from_a_broken_corner_to_a_parcel_of_the_trial(self) -> None:
        page = self.page
        self.sign_in()
        self.open("/arrivals")
        self.heading("Version 1 was never sent: nothing is known yet")
        number = self.orders[0].number
        expect(page.get_by_role("list", name="To ask about")).to_contain_text(number)
        self.assertEqual(self.serious(), [])
        self.told_broken(number)
        self.suggested()
        self.trial_set_up()
        self.next_one_as_told()

    def told_broken(self, number: str) -> None:
        page = self.page
        self.press("b")
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text(f"{number}: how did it arrive?")
        self.assertEqual(self.serious(), [])
        sheet.get_by_role("button", name="Corner, bottom front left").click(force=True)
        expect(sheet.get_by_role("status")).to_have_text("Corner, bottom front left")
        sheet.get_by_label("Note").fill("chipped at the foot")
        sheet.get_by_role("button", name="Save").click()
        expect(sheet).to_have_count(0)
        self.heading("1 of 1 arrived damaged; no place stands out")
        row = Arrival.objects.of(self.workshop).get()
        self.assertEqual((row.outcome, row.harms.get().spot), ("broken", "bottom-front-left"))

    def suggested(self) -> None:
        page = self.page
        expect(page.get_by_text("No place stands out", exact=True)).to_be_visible()
        page.get_by_role("combobox", name="Against").click()
        page.get_by_role("option", name="Bottom").click()
        expect(page.get_by_role("button", name="Try it in a trial").first).to_be_visible(timeout=30_000)
        self.assertEqual(self.serious(), [])
        self.press("y")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("New trial")
        made = RecipeVersion.objects.of(self.workshop).get(recipe=self.recipe, number=2)
        self.assertFalse(made.in_force)

    def trial_set_up(self) -> None:
        page = self.page
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("checkbox", name=re.compile("Version 2"))).to_be_checked()
        sheet.get_by_label("What it is to show").fill("Does it end the chipped ones?")
        sheet.get_by_label("Damaged now, of 100").fill("8")
        sheet.get_by_label("Hoped for, of 100").fill("2")
        expect(sheet.get_by_role("status")).to_contain_text("206 of each")
        self.assertEqual(self.serious(), [])
        sheet.get_by_role("button", name="Start the trial").click()
        self.heading("1 trial running")
        expect(page.get_by_role("region", name="Does it end the chipped ones?")).to_contain_text("Not yet: no winner")
        self.assertEqual(VersionTrial.objects.of(self.workshop).get().each, 206)

    def next_one_as_told(self) -> None:
        run_wave(workshop=self.workshop)
        picks = TrialPick.objects.of(self.workshop).filter(version__number=2, order__state="planned")
        pick = picks.first()
        assert pick is not None
        parcel = begin(by=Member.objects.get(role="packer"), order_id=pick.order_id)
        self.open(f"/bench/{parcel.pk}")
        expect(self.page.get_by_text("Trial: pack this one as version 2.")).to_be_visible()

    def test_a_buyer_answers_without_signing_in(self) -> None:
        page = self.page
        Workshop.objects.update(buyer_page_at=self.live_server_url)
        code = Parcel.objects.of(self.workshop).get(order=self.orders[0]).buyer_code
        page.set_viewport_size({"width": 390, "height": 844})
        self.open(f"/arrived/{code}")
        self.heading(f"How did order {self.orders[0].number} arrive?")
        self.assertEqual(self.serious(), [])
        page.get_by_role("button", name="Something is broken").click()
        page.get_by_role("button", name="Corner, top front right").click(force=True)
        expect(page.get_by_role("status")).to_have_text("Corner, top front right")
        page.get_by_label("What happened, in your words").fill("The lid is in two.")
        self.assertEqual(self.serious(), [])
        page.get_by_role("button", name="Send").click()
        self.heading("Thank you")
        row = Arrival.objects.of(self.workshop).get()
        told = (row.source, row.message, row.harms.get().spot)
        self.assertEqual(told, ("buyer", "The lid is in two.", "top-front-right"))
        self.open(f"/arrived/{code}")
        self.heading("Thank you")

    def test_answers_by_keys_and_taken_back(self) -> None:
        page = self.page
        self.leave(self.orders[1])
        self.sign_in()
        self.open("/arrivals/parcels")
        self.heading("2 parcels to ask about")
        self.press("ArrowDown", "w")
        self.heading("1 parcel to ask about")
        self.press("u")
        self.heading("2 parcels to ask about")
        for path in ("trials", "claims", "carriers", "learned"):
            self.open(f"/arrivals/{path}")
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            self.assertEqual(self.serious(), [], path)
