"""A parcel packed by a scanner alone: codes of goods and supplies, and the sheet of codes for the keys."""

import re

from playwright.sync_api import expect

from server.bench.models import Parcel
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase


class ByAScannerAlone(BrowserCase):
    def scan(self, code: str) -> None:
        # All at once, as a scanner does: key by key from here, a busy machine would be as slow as a hand.
        self.page.evaluate(
            "keys => keys.forEach(key => ['keydown', 'keyup'].forEach(kind => (document.activeElement ?? "
            "document.body).dispatchEvent(new KeyboardEvent(kind, {key, bubbles: true, cancelable: true}))))",
            [*code, "Enter"],
        )

    def test_from_the_first_step_to_the_closed_parcel(self) -> None:
        page = self.page
        self.sign_in()
        page.goto(f"{self.live_server_url}/bench")
        page.get_by_role("button", name=re.compile("^Start ")).click()
        self.heading("Print the packing slip")
        self.scan("NO-SUCH")
        expect(page.get_by_text("NO-SUCH does not go into this parcel.", exact=True)).to_be_visible()
        parcel = Parcel.objects.of(Workshop.objects.get()).latest("id")
        done = page.get_by_role("heading", name=re.compile("is packed$"))
        # A scan at a moment when nothing can be done, as while the scale settles, does nothing.
        for _ in range(160):
            if done.is_visible():
                break
            self.scan("KEY-SPACE")
            page.wait_for_timeout(120)
        expect(done).to_be_visible()
        parcel.refresh_from_db()
        self.assertEqual((parcel.state, parcel.skipped), ("closed", []))
