"""Takes every picture in docs/screenshots from a fresh sample workshop: ./calm pictures. No test; not found by ./test.

Each picture is of a main view at 1280 x 800, in light colours; what it shows is waited for by its words.
"""

import re
from datetime import timedelta
from decimal import Decimal
from unittest import mock

from django.utils import timezone
from playwright.sync_api import expect

from server.beginning.starter import add_ticked, starter_shelf
from server.carriers.models import Label
from server.commands.demo import load_demo, write_hours
from server.config.env import ROOT
from server.money.changes import ASKED
from server.money.trying import run as run_what_if
from server.money.what_ifs import begin as begin_what_if
from server.orders.models import Order
from server.plans.waves import run_wave
from server.recipes.models import Product, Recipe
from server.workshops.models import Member, Workshop
from server.workshops.services import set_member
from tests.browser.base import BrowserCase
from tests.server.base import make_workshop

FOLDER = ROOT / "docs" / "screenshots"
STALL = """Ticket;Sold on;Who;Street;Town;Code;Land;Thing;Many;Each;Porto;State
W-1;27.11.2025;Hedda Lorn;4 Tanner Row;Hallowfen;HW3 2;Almere;PRE-BLK;2x;6,80 €;4,50 €;to send
W-1;27.11.2025;Hedda Lorn;4 Tanner Row;Hallowfen;HW3 2;Almere;black jam;1;6,80 €;4,50 €;to send
W-2;28.11.2025;Piers Oakley;9 Lower Quay;Dunmere;DM2 1;Almere;SALT-PIG;1;29,00 €;6,50 €;to send
Summe;;;;;;;;4;;11,00 €;
"""


class Pictures(BrowserCase):
    sample = False  #: the whole of it is loaded, with its weeks before

    def setUp(self) -> None:
        # A Tuesday, early in the afternoon: carriers come, and there is something to pack.
        now = timezone.now().replace(hour=13, minute=42, second=0, microsecond=0) + timedelta(days=1)
        while now.weekday() != 1:
            now += timedelta(days=1)
        patched = mock.patch("django.utils.timezone.now", return_value=now)
        patched.start()
        self.addCleanup(patched.stop)
        super().setUp()
        load_demo(whole=True)
        self.workshop = Workshop.objects.get(sample=True)
        # Now that all carriers are here.
        write_hours(self.workshop, Member.objects.get(workshop=self.workshop, role="owner"))
        run_wave(workshop=self.workshop)

    def take(self, name: str) -> None:
        self.page.wait_for_load_state("networkidle")
        self.page.mouse.move(0, 0)
        self.page.wait_for_timeout(400)
        self.page.screenshot(path=FOLDER / f"{name}.png")

    def at(self, path: str, name: str, *keys: str) -> None:
        self.open(path)
        self.page.wait_for_load_state("networkidle")
        self.page.evaluate("document.activeElement?.blur()")
        self.press(*keys)
        self.take(name)

    def order(self, number: str) -> Order:
        return Order.objects.of(self.workshop).get(number=number)

    def test_every_main_view(self) -> None:
        page = self.page
        self.first_parcel()
        self.sign_in()
        self.day()
        self.at("/orders", "orders")
        self.open("/orders/intake")
        file = STALL.encode()
        page.get_by_label("Orders file").set_input_files({"name": "stall.csv", "mimeType": "text/csv", "buffer": file})
        expect(page.get_by_role("heading", name=re.compile("needed first"))).to_be_visible()
        self.take("import")
        self.at(f"/plan/{self.order('1174').pk}", "plan")
        self.weather()
        self.bench()
        self.arrivals()
        self.at("/cupboard", "cupboard")
        self.open("/buy")
        expect(page.get_by_role("img", name=re.compile("^Stock over time"))).to_be_visible()
        self.take("to-buy")
        recipe = Recipe.objects.of(self.workshop).get(code="preserve-250").pk
        self.at(f"/recipes/{recipe}", "recipe")
        self.at("/rates", "rates")
        self.money()
        self.open("/settings")
        page.get_by_label("An hour of work costs").fill("20")
        expect(page.get_by_text("Total after")).to_be_visible(timeout=30_000)
        self.take("settings")

    def money(self) -> None:
        """A month with an order's record, policies side by side, and a carton that is gone."""
        page = self.page
        self.open("/money")
        expect(page.get_by_role("region", name=re.compile("Record of order"))).to_be_visible(timeout=30_000)
        self.take("money")
        self.open("/money/charges")
        expect(page.get_by_role("heading", name="A table for the shop")).to_be_visible(timeout=30_000)
        self.take("charges")
        owner = Member.objects.get(workshop=self.workshop, role="owner")
        asked = ASKED.validate_python({"changes": [{"kind": "without", "code": "C-14"}], "weeks": 10})
        made = begin_what_if(by=owner, asked=asked)
        run_what_if(self.workshop, made.pk)
        self.open(f"/money/what-if/{made.pk}")
        expect(page.get_by_role("heading", name=re.compile("most changed"))).to_be_visible(timeout=30_000)
        self.take("what-if")

    def arrivals(self) -> None:
        """What broke where, with a drafted version."""
        self.open("/arrivals")
        expect(self.page.get_by_role("button", name="Try it in a trial").first).to_be_visible(timeout=30_000)
        self.take("arrivals")

    def weather(self) -> None:
        """An order whose goods the way would harm, with its ways out."""
        self.open(f"/plan/{self.order('1186').pk}")
        expect(self.page.get_by_role("region", name="The weather of the way")).to_contain_text("Ways out")
        self.take("weather")

    def day(self) -> None:
        """The day, the next wave, and parcels being scanned out, one of them onto the wrong pile."""
        page = self.page
        self.at("/day", "day")
        self.press("g")
        page.wait_for_url("**/gather**")
        expect(page.get_by_role("heading", name=re.compile("to fetch"))).to_be_visible()
        page.get_by_role("main").get_by_role("checkbox").first.set_checked(True)
        self.take("gather")
        self.open("/send-off")
        expect(page.get_by_role("heading", level=1)).to_contain_text("scanned")
        labels = list(Label.objects.of(self.workshop).filter(parcel__state="closed").order_by("carrier", "id"))
        for label in [*labels[:1], labels[-1]]:
            page.keyboard.type(label.tracking)
            page.keyboard.press("Enter")
            page.wait_for_timeout(500)
        self.take("send-off")

    def first_parcel(self) -> None:
        """The front door, and a workshop of one's own that is on its way."""
        page = self.page
        self.open("/")
        expect(page.get_by_role("button", name="Look round as Maren, owner")).to_be_visible()
        self.take("begin")
        own = make_workshop("fennel-yard")
        Workshop.objects.filter(pk=own.pk).update(name="Fennel Yard Soap", sample=False, label_supply="")
        own.refresh_from_db()
        tilda = set_member(workshop=own, username="tilda", name="Tilda", role="owner", password="harbour-Velvet-39")
        codes = {"C-200-150-100", "W-TISSUE", "F-KRAFT", "L-LABEL"}
        add_ticked(
            by=tilda,
            items=[one.model_copy(update={"on_hand": Decimal(50)}) for one in starter_shelf(own) if one.code in codes],
        )
        Product.objects.of(own).create(
            workshop=own, sku="OAT-1", name="Oat soap, one bar", length_um=85_000, width_um=60_000, height_um=30_000,
            weight_mg=110_000,
        )  # fmt: skip
        self.sign_in("tilda", "harbour-Velvet-39")
        self.at("/first-parcel", "first-parcel")
        self.sign_out("Tilda")

    def bench(self) -> None:
        page = self.page
        parcel = self.order("1170").parcels.get().pk
        self.open(f"/bench/{parcel}")
        self.heading("Print the packing slip")
        for _ in range(30):
            if page.get_by_role("heading", name=re.compile("^Place ")).is_visible():
                break
            self.press(" ")
            page.wait_for_timeout(60)
        self.take("bench")
