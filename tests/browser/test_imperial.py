"""Every screen of a workshop that counts in inches and pounds: no millimetre and no gram on it."""

from server.carriers.models import TariffVersion
from server.orders.models import Order
from server.plans.waves import run_wave
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from server.workshops.happened import tell_anything
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase
from tests.server.test_imperial_walk import _METRIC

#: Everything a person reads or hears: texts, and the names of pictures, buttons and fields.
_READ = """() => [document.body.innerText,
  ...[...document.querySelectorAll('[aria-label],[title],[placeholder]')].flatMap(
    (e) => [e.getAttribute('aria-label'), e.getAttribute('title'), e.getAttribute('placeholder')]),
  ...[...document.querySelectorAll('svg title, svg desc')].map((e) => e.textContent),
  ...[...document.querySelectorAll('input, textarea')].map((e) => e.value),
].filter(Boolean).join('\\n')"""


class ImperialScreens(BrowserCase):
    def read(self, where: str) -> list[str]:
        found = []
        for line in self.page.evaluate(_READ).splitlines():
            for name in self.own:
                line = line.replace(name, "NAME")
            if _METRIC.search(line):
                found.append(f"{where}: {line[:160]}")
        return found

    def test_no_screen_shows_a_metric_unit(self) -> None:
        workshop = Workshop.objects.get()
        workshop.unit_system = "imperial"
        workshop.save()
        tell_anything(workshop)
        run_wave(workshop=workshop)
        own = {*Product.objects.of(workshop).values_list("name", flat=True)}
        own |= {*Supply.objects.of(workshop).values_list("name", flat=True)}
        own |= {*Recipe.objects.of(workshop).values_list("name", flat=True)}
        self.own = sorted(own, key=len, reverse=True)
        orders = {row.number: row.pk for row in Order.objects.of(workshop)}
        parcels = [Order.objects.of(workshop).get(number=n).parcels.get().pk for n in ("1170", "1160")]
        recipes = list(Recipe.objects.of(workshop).values_list("pk", flat=True))
        product = Product.objects.of(workshop).get(sku="PRE-BLK").pk
        supplies = list(Supply.objects.of(workshop).values_list("pk", flat=True)[:30:5])
        tariff = TariffVersion.objects.of(workshop).get().pk
        self.sign_in()
        found = []
        for path in (
            "/day",
            "/send-off",
            "/orders",
            "/orders?state=held",
            "/orders/intake",
            *(f"/plan/{orders[n]}" for n in ("1172", "1174", "1177", "1178", "1182", "1183", "1184")),
            "/bench",
            *(f"/bench/{one}" for one in parcels),
            "/cupboard",
            "/cupboard?as=table",
            *(f"/cupboard?new={kind}" for kind in Supply.KINDS),
            "/orders/new",
            "/rates/tariffs/new",
            f"/rates/tariffs/{tariff}/change",
            "/settings",
            *(f"/cupboard?supply={one}" for one in supplies),
            "/recipes",
            *(f"/recipes/{one}" for one in recipes),
            f"/recipes/new?product={product}",
            "/products",
            f"/products?product={product}",
            "/readiness",
            "/policies",
            "/rates",
            f"/rates/tariffs?list={tariff}",
            "/rates/choosing",
            "/rates/coming",
            "/rates/each",
        ):
            self.open(path)
            self.quiet()
            found += self.read(path)
        self.assertEqual(sorted(set(found)), [], "\n".join(sorted(set(found))))

    def test_no_sheet_of_the_plan_and_no_step_at_the_bench_shows_one(self) -> None:
        workshop = Workshop.objects.get()
        workshop.unit_system = "imperial"
        workshop.save()
        self.own = sorted(
            {
                *Product.objects.of(workshop).values_list("name", flat=True),
                *Supply.objects.of(workshop).values_list("name", flat=True),
            },
            key=len,
            reverse=True,
        )
        tell_anything(workshop)
        run_wave(workshop=workshop)
        self.sign_in()
        self.open(f"/plan/{Order.objects.of(workshop).get(number='1174').pk}")
        self.quiet()
        found = []
        for key in ("m", "o"):
            self.press(key)
            self.quiet()
            found += self.read(f"sheet {key}")
            self.press("Escape")
        region = self.page.get_by_role("region", name="Cost")
        sums = region.get_by_title("Show the sum")
        self.assertGreater(sums.count(), 5)
        for index in range(sums.count()):
            sums.nth(index).click()
            found += self.read(f"sum {index}")
            self.press("Escape")
        self.press("Enter")
        self.heading("Print the packing slip")
        for step in range(60):
            if self.page.get_by_role("heading", name="Put the parcel on the scale").is_visible():
                break
            found += self.read(f"step {step}")
            self.press(" ")
            self.page.wait_for_timeout(40)
        self.press("t")
        found += self.read("weighing")
        self.assertEqual(sorted(set(found)), [], "\n".join(sorted(set(found))))
