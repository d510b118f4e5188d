"""Hostile text in every text a person can write, on every screen and paper: nothing runs, nothing breaks the page."""

import json
import re

from django.apps import apps
from django.contrib.auth.models import User
from django.db import connection
from django.db.models import CharField, TextField

from server.bench.models import Parcel
from server.orders.models import Order
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from server.workshops.models import Workshop
from tests.browser.base import BrowserCase

#: Markup, a script, a formula, text that runs the other way, letters of four bytes, a bell, another line.
HOSTILE = (
    "\"'><img src=x data-hostile onerror=window.hit=1><script>window.hit=2</script>=1+1\u202e\U0001f9fc\x07\n{{7*7}}"
)
#: Columns people write into; others hold codes and what the program itself says.
_WRITTEN = re.compile(r"name|title|note|buyer|hold_text|reason|message|words|closed_by|answered_by|taken_by|by|address")
_SCREENS = (
    "day", "times", "prepare", "holds", "gather", "send-off", "practice", "arrivals", "arrivals/parcels",
    "arrivals/trials", "arrivals/claims", "arrivals/learned", "arrivals/carriers", "money", "money/charges",
    "money/record", "money/what-if", "orders", "orders?state=packed", "orders/intake", "orders/changes", "orders/new",
    "plan", "bench", "cupboard", "buy", "purchases", "count", "asleep", "cartons", "recipes", "products", "readiness",
    "policies", "settings", "account", "rates", "rates/tariffs", "rates/coming", "rates/each", "rates/choosing",
)  # fmt: skip


def write_everywhere() -> int:
    """Add hostile text to every text a person can write, as far as it fits; return how many columns."""
    written = 0
    with connection.cursor() as cursor:
        for model in apps.get_models():
            if not model.__module__.startswith("server."):
                continue
            for field in model._meta.concrete_fields:
                if not isinstance(field, CharField | TextField) or field.choices or not _WRITTEN.fullmatch(field.name):
                    continue
                most = field.max_length or 4_000
                if most < 40:
                    continue
                # What tells rows apart stays in front.
                cursor.execute(
                    f'update "{model._meta.db_table}" set "{field.column}" = left("{field.column}" || %s, %s) '
                    f'where "{field.column}" <> %s',
                    [HOSTILE, most, ""],
                )
                written += 1
        cursor.execute("update orders_order set address = %s", [json.dumps([HOSTILE, "Lane 1"])])
    User.objects.update(first_name=HOSTILE[:150])
    return written


class HostileText(BrowserCase):
    def test_it_is_shown_as_text_on_every_screen(self) -> None:
        self.assertGreater(write_everywhere(), 20)
        self.page.on("dialog", lambda dialog: self.trouble.append(f"dialog: {dialog.message}"))
        self.sign_in()
        workshop = Workshop.objects.get()
        order = Order.objects.of(workshop).filter(state="planned").values_list("pk", flat=True)[0]
        parcel = Parcel.objects.of(workshop).filter(state="packing").values_list("pk", flat=True)[0]
        recipe = Recipe.objects.of(workshop).values_list("pk", flat=True)[0]
        supply = Supply.objects.of(workshop).values_list("pk", flat=True)[0]
        seen, too_wide = 0, dict[str, int]()
        for path in (
            *_SCREENS, f"plan/{order}", f"orders/{order}/change", f"bench/{parcel}", f"recipes/{recipe}",
            f"cupboard/{supply}",
        ):  # fmt: skip
            self.open(f"/{path}")
            self.page.get_by_role("main").wait_for()
            self.quiet()
            hit, injected, wide = self.page.evaluate(
                "[window.hit, document.querySelectorAll('[data-hostile], main script').length,"
                " document.documentElement.scrollWidth - window.innerWidth]"
            )
            self.assertIsNone(hit, path)
            self.assertEqual(injected, 0, path)
            if wide > 2:
                too_wide[path] = wide
            self.assertFalse(self.page.get_by_text("This part of the program failed").is_visible(), path)
            seen += "data-hostile" in self.page.get_by_role("main").inner_text()
        self.open("/day")
        too_wide |= {f"{width} pixels": wide for width, wide in self.too_wide().items()}
        self.assertEqual(too_wide, {}, "screens wider than the window")
        self.assertGreater(seen, 12, "the text was seen on too few screens to say anything")

    def test_it_is_drawn_as_letters_on_every_paper(self) -> None:
        write_everywhere()
        self.sign_in()
        workshop = Workshop.objects.get()
        order = Order.objects.of(workshop).filter(state="planned").values_list("pk", flat=True)[0]
        recipe = Product.objects.of(workshop).exclude(recipe=None).values_list("recipe_id", flat=True)[0]
        closed = Parcel.objects.of(workshop).filter(state="closed").values_list("pk", flat=True)[0]
        for path in (
            f"orders/{order}/plan/card.pdf", f"recipes/{recipe}/card.pdf", f"parcels/{closed}/slip.pdf",
            f"parcels/{closed}/label.pdf", f"day/gather.pdf?parcels={order}-1", "bench/codes.pdf",
        ):  # fmt: skip
            answer = self.page.request.get(f"{self.live_server_url}/api/{path}")
            self.assertEqual(answer.status, 200, (path, answer.text()[:300]))
            self.assertTrue(answer.body().startswith(b"%PDF"), path)
        for path in ("money/charges/table.csv", "supplies/file", "orders/file"):
            answer = self.page.request.get(f"{self.live_server_url}/api/{path}")
            if answer.status == 200:
                for cell in re.findall(r'(?:^|,)"?([=+@-][^",\n]*)', answer.text()):
                    self.assertRegex(cell, r"^[+-]?[0-9.]*$", f"{path} has a cell that is a formula: {cell}")
