"""A day from the first look to the last parcel out of the door, in the real browser, by scanner where one is used."""

import csv
import io
import re
from dataclasses import replace
from datetime import datetime, timedelta
from unittest import mock

from django.utils import timezone
from playwright.sync_api import expect

from server.bench.models import Parcel
from server.commands.demo import DEMO, pack
from server.commands.intake import import_kind
from server.day.models import SendOff
from server.day.services import HandOverIn, HoursIn, set_times
from server.orders.models import Order
from server.plans.models import PlanPart
from server.plans.services import set_decisions
from server.plans.waves import run_wave
from server.plans.writing import overrides_of
from server.recipes.models import RecipeVersion
from server.workshops.services import set_member
from tests.browser.base import BrowserCase
from tests.server.base import fill_workshop, make_workshop

HEAD = "order,channel,placed_on,buyer,address,town,postcode,country,sku,title,quantity,unit_price,postage_charged,paid"
#: Number, channel, sku, units, paid.
ORDERS = (
    ("501", "Own shop", "PRE-BLK", 2, "yes"),
    ("502", "Own shop", "PRE-BLK", 2, "yes"),
    ("503", "Own shop", "CLO-LIN", 1, "yes"),
    ("504", "Own shop", "SALT-PIG", 1, "yes"),
    ("505", "Guild market", "PRE-BLK", 2, "yes"),
    ("506", "Guild market", "SOAP-OAT", 3, "yes"),
    ("507", "Guild market", "SOAP-3", 1, "yes"),
    ("508", "Guild market", "LOAF-GIN", 1, "yes"),
    ("509", "Fern stalls", "CLO-LIN", 2, "yes"),
    ("510", "Fern stalls", "PRE-QUI", 1, "yes"),
    ("511", "Fern stalls", "LOAF-GIN", 2, "yes"),
    ("512", "Fern stalls", "SALT-PIG", 2, "no"),
)
AHEAD = "let the loaves cool"


class ADay(BrowserCase):
    sample = False

    def setUp(self) -> None:
        super().setUp()
        day = timezone.now() + timedelta(days=1)
        while day.weekday() != 1:
            day += timedelta(days=1)
        self.day = day
        self.clock(9, 0)
        self.workshop = make_workshop("hollin-row")
        self.owner = set_member(
            workshop=self.workshop, username="maren", name="Maren", role="owner", password="salt-pig-40"
        )
        fill_workshop(self.workshop, orders=False)
        for path in sorted((DEMO / "carriers").glob("wending*.json")):
            import_kind(self.workshop, "tariff", path.read_bytes(), by="test")
        version = RecipeVersion.objects.of(self.workshop).get(recipe__products__sku="LOAF-GIN", number=1)
        document = {**version.document, "ahead": [{"what": AHEAD, "hours_before": "1", "minutes": "1"}]}
        RecipeVersion.objects.of(self.workshop).filter(pk=version.pk).update(document=document)
        placed = (self.day - timedelta(days=1)).date()
        rows = [
            f"{number},{channel},{placed},Buyer {number},1 Weir Steps,Hallowfen,HW3 2,ALM,"
            f"{sku},{sku},{units},6.00,4.50,{paid}"
            for number, channel, sku, units, paid in ORDERS
        ]
        import_kind(self.workshop, "orders", "\n".join([HEAD, *rows]).encode(), by="test")
        self.times()
        # Half of them by each carrier, so that there is something for both hand-overs.
        for number, *_ in ORDERS[:11]:
            self.by(number, "LARK-TWO" if int(number) % 2 else "WEND-PAR")
        run_wave(workshop=self.workshop)

    def clock(self, hour: int, minute: int) -> None:
        """Set the clock on the wall; it stands still until it is set again."""
        now: datetime = self.day.replace(hour=hour, minute=minute, second=0, microsecond=0)
        patched = mock.patch("django.utils.timezone.now", return_value=now)
        patched.start()
        self.addCleanup(patched.stop)

    def times(self) -> None:
        week = (0, 1, 2, 3, 4)
        self.at = {"Larkline collects": (13, 0), "Wending counter": (16, 20)}

        def hand_over(name: str, kind: str, carrier: str, way: int) -> HandOverIn:
            hour, minute = self.at[name]
            return HandOverIn(
                id=None, name=name, kind=kind, carriers=(carrier,), days=week,
                at=self.day.replace(hour=hour, minute=minute, second=0, microsecond=0).time(),
                way_minutes=way, most_parcels=None, who="",
            )  # fmt: skip

        opens, closes = (self.day.replace(hour=h, minute=0, second=0, microsecond=0).time() for h in (9, 17))
        set_times(
            by=self.owner,
            hours=[HoursIn(who="Maren", days=week, begins=opens, ends=closes)],
            hand_overs=[
                hand_over("Larkline collects", "collection", "larkline", 0),
                hand_over("Wending counter", "trip", "wending", 12),
            ],
            closures=[],
        )

    def order(self, number: str) -> Order:
        return Order.objects.of(self.workshop).get(number=number)

    def by(self, number: str, service: str) -> None:
        order = self.order(number)
        wanted = replace(overrides_of(order.plan), service=service)
        set_decisions(workshop=self.workshop, order_id=order.pk, wanted=wanted)

    def scan(self, *codes: str) -> None:
        """A scanner types the code and Enter."""
        for code in codes:
            self.page.keyboard.type(code)
            self.page.keyboard.press("Enter")

    def test_a_day(self) -> None:
        page = self.page
        # Morning: one order is unpaid, all others can leave; the loaves must cool before they are packed.
        self.sign_in()
        page.wait_for_url("**/day")
        self.heading(re.compile(r"^All eleven can leave today\. Start by 1[12]:\d\d\.$"))
        aside = page.get_by_role("heading", name="Set aside, 1")
        expect(aside).to_be_visible()
        expect(page.get_by_text("The payment has not come in")).to_be_visible()
        loaf = page.get_by_role("checkbox", name=re.compile(AHEAD))
        expect(page.get_by_text("for 508, 511")).to_be_visible()
        loaf.click()
        expect(loaf).to_be_checked()

        # The next wave is gathered by scanner alone.
        page.evaluate("document.activeElement?.blur()")
        self.press("g")
        page.wait_for_url("**/gather**")
        expect(page.get_by_role("heading", name=re.compile("things to fetch"))).to_be_visible()
        boxes = page.get_by_role("main").get_by_role("checkbox")
        keys = page.url.split("parcels=")[1].replace("%2C", ",").split(",")
        found = page.request.get(f"{self.live_server_url}/api/day/gather?parcels={','.join(keys)}").json()
        things = [*found["goods"], *found["containers"], *found["supplies"], *found["cards"]]
        self.scan("NOTHING-1")
        expect(page.get_by_text("NOTHING-1 is not on this list.").first).to_be_visible()
        for thing in things:
            self.scan(thing["code"])
        for index in range(boxes.count()):  # lengths to cut are ticked by hand
            boxes.nth(index).set_checked(True)
        self.heading("All of it is on the table")
        page.get_by_label("Scan a product, a supply or a shelf place").focus()
        page.keyboard.press("Enter")
        self.like_with_like()
        begun = {int(key.split("-")[0]) for key in keys}
        states = {order.pk: order.state for order in Order.objects.of(self.workshop).filter(pk__in=begun)}
        self.assertEqual(set(states.values()), {"bench"})

        # Late in the morning the payment comes in: by Larkline it cannot make it any more, and is moved.
        self.clock(12, 50)
        self.press("Escape")
        order = self.order("512")
        for number, *_ in ORDERS[:11]:
            pack(self.order(number), by=self.owner)
        self.open("/orders?state=held")
        page.get_by_role("button", name=re.compile("Release")).first.click()
        expect(page.get_by_text("512").first).to_be_visible()
        run_wave(workshop=self.workshop)
        self.by("512", "LARK-TWO")
        self.open("/day")
        self.heading("The one parcel cannot leave today.")
        page.evaluate("document.activeElement?.blur()")
        self.press("m")
        sheet = page.get_by_role("dialog", name="Move 512")
        row = sheet.get_by_role("row").filter(has_text="Today 16:20").filter(has_text="all in time").first
        row.get_by_role("button", name="Move").click()
        self.heading(re.compile(r"^The one parcel can leave today\."))
        part = PlanPart.objects.of(self.workshop).get(plan__order=order)
        self.assertEqual(part.carrier, "wending")
        pack(self.order("512"), by=self.owner)

        # Send-off: a parcel of the other carrier is not counted; the rest leave with each hand-over.
        closed = {one.order.number: one for one in Parcel.objects.of(self.workshop).select_related("order")}
        lark = [n for n, *_ in ORDERS[:11] if int(n) % 2]
        wending = [n for n, *_ in ORDERS if n not in lark]
        self.open("/send-off")
        self.heading(f"Larkline collects: 0 of {len(lark)} scanned")
        self.scan(closed[wending[0]].tracking)
        expect(page.get_by_role("alert")).to_contain_text(
            f"{wending[0]}, Buyer {wending[0]} does not go with Larkline collects."
        )
        for number in lark:
            self.scan(closed[number].tracking)
            expect(page.get_by_text(f"{number}, Buyer {number} is counted.")).to_be_visible()
        self.heading(f"Larkline collects: {len(lark)} of {len(lark)} scanned")
        page.keyboard.press("u")
        self.heading(f"Larkline collects: {len(lark) - 1} of {len(lark)} scanned")
        self.scan(lark[-1])
        self.heading(f"Larkline collects: {len(lark)} of {len(lark)} scanned")
        page.keyboard.press("o")
        self.heading(f"Wending counter: 0 of {len(wending)} scanned")
        for number in wending:
            self.scan(closed[number].tracking)
            expect(page.get_by_text(f"{number}, Buyer {number} is counted.")).to_be_visible()
        page.get_by_label("Taken over by").fill("Rill")
        page.get_by_role("button", name="Hand over").click()
        self.heading("Nothing to hand over")
        self.files(lark, wending, closed)
        self.open("/day")
        expect(page.get_by_role("heading", level=1)).to_have_text("All of today's have left.")

    def like_with_like(self) -> None:
        """What the wave's parcels share is done for all at once; then the first goes on with its own."""
        page = self.page
        page.wait_for_url("**/bench/wave**")
        expect(page.get_by_text(re.compile(r"step 1 of \d+"))).to_be_visible()
        steps = int(page.get_by_text(re.compile(r"step 1 of \d+")).inner_text().split()[-1])
        for number in range(1, steps + 1):
            expect(page.get_by_text(f"step {number} of {steps}")).to_be_visible()
            self.press(" ")
        page.wait_for_url(re.compile(r"/bench/\d+$"))
        first = Parcel.objects.of(self.workshop).get(pk=int(page.url.split("/")[-1]))
        expect(page.get_by_role("heading").first).to_be_visible()
        self.assertGreater(first.step, 0)

    def files(self, lark: list[str], wending: list[str], closed: dict[str, Parcel]) -> None:
        """Each channel's file of each hand-over holds its orders, and no others."""
        channels = {number: channel for number, channel, *_ in ORDERS}
        for record, numbers in zip(SendOff.objects.of(self.workshop).order_by("id"), (lark, wending), strict=True):
            for channel in {channels[number] for number in numbers}:
                answer = self.page.request.get(
                    f"{self.live_server_url}/api/send-off/{record.pk}/tracking.csv?channel={channel}"
                )
                rows = list(csv.DictReader(io.StringIO(answer.text())))
                self.assertEqual(
                    [(row["order"], row["Tracking number"], row["Sent on"]) for row in rows],
                    [
                        (number, closed[number].tracking, self.day.date().isoformat())
                        for number in numbers
                        if channels[number] == channel
                    ],
                )
        self.assertEqual(Parcel.objects.of(self.workshop).filter(handed_over_at=None).count(), 0)
