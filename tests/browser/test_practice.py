"""Practice in the browser: begun from the bench, something is told, what was not seen shows on the scale, the end."""

from playwright.sync_api import expect

from server.bench.models import Parcel, PracticeRun
from server.bench.practice import begin
from server.orders.models import Order
from server.plans.waves import run_wave
from server.supplies.models import Entry
from server.workshops.models import Member, Workshop
from server.workshops.services import set_member
from tests.browser.base import BrowserCase


class Practising(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.workshop = Workshop.objects.get()
        run_wave(workshop=self.workshop)

    def with_trick(self, kind: str) -> PracticeRun:
        """Begin until the shelves play this alone."""
        packer = Member.objects.get(user__username="nils")
        order = Order.objects.of(self.workshop).get(number="1163")
        for _ in range(80):
            run = begin(by=packer, order_id=order.pk)
            if [one["kind"] for one in run.tricks] == [kind]:
                return run
        raise AssertionError(f"{kind} was never played")

    def test_begun_from_the_bench_with_what_was_seen_told_at_the_end(self) -> None:
        self.sign_in()
        self.open("/bench")
        expect(self.page.get_by_role("button", name="Practice")).to_be_visible()
        self.press("x")
        self.heading("Practice")
        self.press("n")
        expect(self.page.get_by_text("Nothing of it is real")).to_be_visible()
        self.assertEqual(self.serious(), [])
        run = PracticeRun.objects.of(self.workshop).get()
        for trick in run.tricks:
            while f"step {trick['step'] + 1} of" not in self.page.get_by_role("banner").inner_text():
                self.press("Space")
            self.press(str(trick["take"] + 1))
            expect(self.page.get_by_text("Told").first).to_be_visible()
        self.page.reload()  # in mid-step: it goes on where it was
        expect(self.page.get_by_role("banner")).to_contain_text(f"step {run.tricks[-1]['step'] + 1} of")
        self.press("e")
        count = len(run.tricks)
        self.heading(f"You caught {count} of {count}")
        self.assertEqual(self.serious(), [])
        self.page.get_by_role("button", name="Delete this practice").click()
        expect(self.page.get_by_text("You have not practised yet")).to_be_visible()
        self.assertFalse(PracticeRun.objects.of(self.workshop).exists())

    def test_what_nobody_saw_shows_on_the_scale_and_nothing_is_posted(self) -> None:
        set_member(workshop=self.workshop, username="nils", name="Nils", role="packer", password="salt-pig-41")
        run = self.with_trick("unit_missing")
        before = self.posted()
        self.sign_in("nils", "salt-pig-41")
        self.open(f"/practice/{run.pk}")
        scale = self.page.get_by_role("button", name="Put it on the scale")
        while not scale.is_visible():
            self.press("Space")
        self.press("Space")
        expect(self.page.get_by_text("lighter than planned")).to_be_visible()
        missing = self.page.get_by_role("listitem").filter(has_text="missing").first
        missing.get_by_role("button", name="Look for it").click()
        expect(self.page.get_by_text("As planned")).to_be_visible()
        self.press("Space", "Space", "Space")
        self.heading("You caught 1 of 1")
        expect(self.page.get_by_text("found on the scale")).to_be_visible()
        self.assertEqual(self.posted(), before)

    def posted(self) -> list[int]:
        return [Entry.objects.of(self.workshop).count(), Parcel.objects.of(self.workshop).count()]
