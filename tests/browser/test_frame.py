"""What every screen stands in: how much it takes to show the first, what a save asks again, what is left when one
falls.
"""

import gzip
import re
from urllib.parse import urlparse

from playwright.sync_api import expect

from server.orders.models import Order
from server.recipes.models import Product
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase

#: What the first screen may fetch of scripts, kB compressed.
_MOST_KB = 120


class FirstScreen(BrowserCase):
    def test_it_takes_no_more_than_120_kb_of_scripts(self) -> None:
        self.sign_in()
        self.quiet()
        scripts: set[str] = set()
        self.page.on("request", lambda r: scripts.add(r.url) if r.url.endswith(".js") else None)
        self.open("/day")
        expect(self.page.get_by_role("heading", name=re.compile("^Hand-overs|^No hand-over"))).to_be_visible()
        by_now = sorted(scripts)  # a moment later the other screens are fetched ahead
        sizes = {url: len(gzip.compress(self.page.request.get(url).body())) for url in by_now}
        self.assertGreater(len(sizes), 1)
        self.assertLessEqual(sum(sizes.values()) / 1000, _MOST_KB, sizes)


class AfterASave(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def asked(self) -> list[str]:
        """Return a list that what is read from the server from now on comes into."""
        self.quiet()
        paths: list[str] = []
        self.page.on("request", lambda r: paths.append(urlparse(r.url).path) if r.method == "GET" else None)
        return paths

    def settled(self, paths: list[str]) -> set[str]:
        self.page.wait_for_timeout(600)
        self.quiet()
        return {path for path in paths if path.startswith("/api/")}

    def test_a_product_asks_for_products_and_counts_and_for_nothing_else(self) -> None:
        product = Product.objects.of(Workshop.objects.get()).get(sku="PRE-BLK")
        self.open(f"/products?product={product.pk}")
        self.page.get_by_label("Name").fill("Blackcurrant preserve, 250 ml")
        paths = self.asked()
        self.page.get_by_role("button", name="Save").click()
        expect(self.page.get_by_role("table", name="Products")).to_contain_text("Blackcurrant preserve, 250 ml")
        self.assertEqual(self.settled(paths), {"/api/products", "/api/rail", "/api/recipes"})

    def test_a_way_chosen_for_an_order_is_its_plan_already(self) -> None:
        order = Order.objects.of(Workshop.objects.get()).get(number="1174")
        self.open(f"/plan/{order.pk}")
        rows = self.page.get_by_role("table", name="Ways to send it").get_by_role("row")
        rows.nth(2).get_by_role("button").first.click()
        paths = self.asked()
        self.press("u")
        expect(self.page.get_by_text("Overridden.").first).to_be_visible()
        asked = self.settled(paths)
        self.assertNotIn(f"/api/orders/{order.pk}/plan", asked)
        self.assertNotIn("/api/session", asked)
        self.assertIn("/api/rail", asked)

    def test_a_policy_asks_for_policies_only(self) -> None:
        self.open("/policies")
        boxes = self.page.get_by_role("checkbox", name=re.compile(": active$"))
        before = boxes.first.is_checked()
        paths = self.asked()
        boxes.first.click()
        expect(boxes.first).to_be_checked(checked=not before)
        asked = self.settled(paths)
        self.assertIn("/api/policies", asked)
        self.assertTrue(all(path.startswith("/api/policies") for path in asked), asked)


class BusyRail(BrowserCase):
    #: By how many pixels each link of the rail reaches into the next one.
    OVERLAPS = """() => {
      const edges = [...document.querySelectorAll('nav[aria-label=Main] a')].flatMap(one => {
        const range = document.createRange(); range.selectNodeContents(one);
        const box = range.getBoundingClientRect();
        return box.width ? [[one.innerText.trim(), box.left, box.right]] : [];
      });
      return edges.slice(1).flatMap(([name, left], at) =>
        left < edges[at][2] ? [`${edges[at][0]} | ${name}: ${Math.round(edges[at][2] - left)}`] : []);
    }"""

    def test_large_counts_do_not_run_into_each_other(self) -> None:
        self.sign_in()
        counts = {"orders": 544, "held": 3, "plan": 320, "bench": 112, "packed": 9, "send_off": 260, "arrivals": 12_345}
        self.page.route("**/api/rail", lambda route: route.fulfill(json={**counts, "first_parcel_left": None}))
        self.open("/orders")
        expect(self.page.get_by_role("link", name="Arrivals 999+")).to_be_visible()
        for width in (820, 1024, 1280, 1440, 1600):
            self.page.set_viewport_size({"width": width, "height": 800})
            self.assertEqual(self.page.evaluate(self.OVERLAPS), [], width)
        self.assertEqual(self.too_wide(), {})


class FallenScreen(BrowserCase):
    def test_the_rail_stays_and_the_way_out_is_said(self) -> None:
        self.sign_in()
        self.expected_trouble = ("ERR_FAILED", "error", "failed")
        self.page.route(re.compile(r"/assets/Screen-.*\.js$"), lambda route: route.abort())
        self.page.get_by_role("navigation", name="Main").get_by_role("link", name="Cupboard", exact=True).click()
        self.heading("This screen could not be shown")
        expect(self.page.get_by_role("navigation", name="Main")).to_be_visible()
        self.page.unroute_all()
        self.page.get_by_role("button", name="Load the page again").click()
        expect(
            self.page.get_by_role("heading", name=re.compile("to be ordered now|Nothing needs ordering"))
        ).to_be_visible()


class Finding(BrowserCase):
    def test_a_code_scanned_at_once_is_found_even_before_the_sheet_is_there(self) -> None:
        self.sign_in()
        self.press("/")
        self.page.keyboard.type("C-14")
        self.press("Enter")
        expect(self.page.get_by_role("table", name=re.compile("Ledger of"))).to_be_visible()
