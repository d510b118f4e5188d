"""A real browser against a live server with the demo workshop. Any console error or failed request fails the test."""

import os
import unittest
from typing import Any, ClassVar

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.cache import cache
from playwright.sync_api import Browser, Page, Playwright, Request, expect, sync_playwright

from server.commands.demo import load_demo
from server.config.env import ROOT
from tests.kept_rows import begin_with

ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")
expect.set_options(timeout=10_000)


#: Comes back when the page has drawn what it has and would now wait for somebody: whether it is there whole.
_DRAWN = (
    "() => new Promise(done => requestAnimationFrame(() => requestIdleCallback(() => "
    "done(!document.body.innerText.includes('Fetching ')), {timeout: 3000})))"
)


class BrowserCase(StaticLiveServerTestCase):
    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]
    sample = True  #: with the sample workshop, or nothing at all

    @classmethod
    def setUpClass(cls) -> None:
        if not (ROOT / "web" / "dist" / "index.html").is_file():
            raise unittest.TestCase.failureException("The front end is not built; run ./test, which builds it.")
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        super().setUpClass()
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        super().tearDownClass()

    def setUp(self) -> None:
        cache.clear()
        if self.sample:
            begin_with("sample", lambda: load_demo(whole=False))
        self.trouble: list[str] = []
        self.expected_trouble: tuple[str, ...] = ()
        context = self.browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        self.addCleanup(context.close)
        self.page: Page = context.new_page()
        self.page.on(
            "console", lambda m: self.trouble.append(f"{m.type}: {m.text}") if m.type in ("error", "warning") else None
        )
        #: What the server refused, to tell with the trouble: the console does not say of what.
        self.refused: list[str] = []
        self.page.on(
            "response",
            lambda r: self.refused.append(f"{r.status} {r.request.method} {r.url}") if r.status >= 400 else None,
        )
        self.under_way: set[Request] = set()
        self.page.on("request", lambda r: self.under_way.add(r))
        for ended in ("requestfinished", "requestfailed"):
            self.page.on(ended, lambda r: self.under_way.discard(r))
        self.page.on("pageerror", lambda error: self.trouble.append(f"page error: {error}"))
        self.page.on(
            "requestfailed",
            lambda r: (
                self.trouble.append(f"failed: {r.url} {r.failure}") if "ERR_ABORTED" not in str(r.failure) else None
            ),
        )

    def tearDown(self) -> None:
        # A request under way would read the tables while they are emptied for the next test.
        for _ in range(100):
            if not self.under_way:
                break
            self.page.wait_for_timeout(50)
        self.page.goto("about:blank")
        self.page.wait_for_timeout(150)  # what the server had begun for a page that is gone
        left = [t for t in self.trouble if not any(words in t for words in self.expected_trouble)]
        self.assertEqual(left, [], self.refused)

    def open(self, path: str) -> None:
        self.page.goto(f"{self.live_server_url}{path}")

    def quiet(self) -> None:
        """Wait until nothing is fetched and nothing is left to do, twice: what one answer leads to is asked at once."""
        quiet = 0
        for _ in range(400):
            self.page.wait_for_timeout(30)
            if self.under_way:
                quiet = 0
                continue
            drawn = self.page.evaluate(_DRAWN)
            quiet = quiet + 1 if drawn and not self.under_way else 0
            if quiet >= 3:
                return
        self.fail(f"still fetching: {[one.url for one in self.under_way]}")

    def jump(self, key: str) -> None:
        """Go to the scale (w) or the label (l) past open steps, and say that all of them are done."""
        self.press(key)
        expect(self.page.get_by_role("dialog")).to_contain_text("which of these are done?")
        self.press("a")
        expect(self.page.get_by_role("dialog")).to_have_count(0)

    def sign_in(self, name: str = "maren", password: str = "salt-pig-40") -> None:
        self.open("/sign-in")
        self.page.get_by_label("Name").fill(name)
        self.page.get_by_label("Password").fill(password)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("navigation", name="Main")).to_be_visible()

    def sign_out(self, who: str = "Maren") -> None:
        # What is still being fetched would come back refused, which the browser writes down as an error.
        self.quiet()
        self.page.get_by_role("navigation", name="Main").get_by_role("button", name=who).click()
        self.page.get_by_role("menuitem", name="Sign out").click()
        expect(self.page.get_by_role("button", name="Sign in")).to_be_visible()

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def heading(self, text: Any) -> None:
        expect(self.page.get_by_role("heading", name=text).first).to_be_visible()

    def too_wide(self, widths: tuple[int, ...] = (820, 1024, 1100, 1280, 1440)) -> dict[int, int]:
        """Return by how many pixels the screen is wider than the window, where it is, and put the width back."""
        before = self.page.viewport_size
        wider = dict[int, int]()
        for width in widths:
            self.page.set_viewport_size({"width": width, "height": 800})
            by = self.page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
            if by > 0:
                wider[width] = by
        if before:
            self.page.set_viewport_size(before)
        return wider

    def serious(self, rules: tuple[str, ...] = ()) -> list[str]:
        """Return what axe finds serious or critical on the page as it stands; ``rules``: only by these."""
        self.page.evaluate(AXE)
        found = self.page.evaluate(
            "async rules => (await axe.run(document, {resultTypes: ['violations'], ...(rules.length ? {runOnly: rules} "
            ": {})})).violations.filter(v "
            "=> ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.slice(0, "
            "3).map(n => n.target.join(' ') + ' ' + (n.any[0]?.message ?? '')).join(' | '))",
            rules,
        )
        return list(found)
