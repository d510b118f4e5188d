"""A workshop that counts in inches and pounds: no answer, paper or message shows a millimetre or a gram."""

import json
import re
import tempfile
from collections.abc import Iterator
from itertools import product as pairs_of
from pathlib import Path
from typing import Any
from uuid import uuid4

from core.designing.crafts import CRAFTS
from core.money.months import month_of
from server.buying.cartons import run_report
from server.carriers.models import TariffVersion
from server.commands.demo import DEMO
from server.commands.history import load_suppliers, order_what_is_on_the_way
from server.commands.intake import import_kind
from server.money.trying import run as run_what_if
from server.orders.models import Order
from server.outcomes.models import Arrival, Claim
from server.plans.waves import run_wave
from server.recipes.models import Product, Recipe
from server.supplies.models import Offer, Purchase, Supplier, Supply
from server.workshops.clock import today
from server.workshops.happened import tell_anything
from tests.server.base import DemoCase
from tests.server.test_every_route import ROUTES
from tests.server.test_papers import run

#: A figure, or a bare unit standing where a figure's would.
_METRIC = re.compile(r"\d\s?(?:um|mm|cm|dm|cm3|cm³|m2|m²|m|km|mg|g|kg|ml|l|litres?|metres?|grams?)\b")
#: Files are written in the units of their format; these are no screens.
_FILES = ("/file", "/steps", "schema", "/photo")


def texts(value: Any) -> Iterator[str]:
    """Return every text in an answer; documents of the open files are data, not words."""
    if isinstance(value, dict):
        for name, one in value.items():
            if name != "document":
                yield from texts(one)
    elif isinstance(value, list):
        for one in value:
            yield from texts(one)
    elif isinstance(value, str):
        yield value


class ImperialWalk(DemoCase):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        for path in sorted((DEMO / "carriers").glob("*.json")):
            import_kind(cls.workshop, "tariff", path.read_bytes(), by="test")
        cls.workshop.unit_system = "imperial"
        cls.workshop.save()
        tell_anything(cls.workshop)
        load_suppliers(cls.workshop, cls.owner)
        order_what_is_on_the_way(cls.workshop, cls.owner)
        run_wave(workshop=cls.workshop)

    def setUp(self) -> None:
        super().setUp()
        # People's own names may say 250 ml; what the program writes may not.
        own = {*Product.objects.of(self.workshop).values_list("name", flat=True)}
        own |= {*Supply.objects.of(self.workshop).values_list("name", flat=True)}
        own |= {*Offer.objects.of(self.workshop).exclude(pack_name="").values_list("pack_name", flat=True)}
        own |= {*Recipe.objects.of(self.workshop).values_list("name", flat=True)}
        self.own = sorted(own, key=len, reverse=True)

    def found_in(self, where: str, said: list[str]) -> list[tuple[str, str]]:
        found = []
        for text in said:
            if not _METRIC.search(text):
                continue
            for name in self.own:
                text = text.replace(name, "NAME").replace(name[:1].lower() + name[1:], "NAME")
            if _METRIC.search(text):
                found.append((where, text[:200]))
        return found

    def answered(self, method: str, path: str, body: Any = None) -> list[tuple[str, str]]:
        call = getattr(self.client, method)
        response = call(f"/{path}") if method == "get" else call(f"/{path}", json.dumps(body), "application/json")
        self.assertLess(response.status_code, 500, path)
        if response.headers.get("Content-Type") == "application/pdf":
            with self.subTest(path):
                return self.found_in(path, [line for line in _lines(b"".join(response)) if line])
        return self.found_in(path, list(texts(response.json()))) if "json" in response["Content-Type"] else []

    def ids(self) -> dict[str, list[Any]]:
        orders = list(Order.objects.of(self.workshop).order_by("number"))
        return {
            "<int:supply_id>": list(Supply.objects.of(self.workshop).values_list("pk", flat=True)),
            "<int:recipe_id>": list(Recipe.objects.of(self.workshop).values_list("pk", flat=True)),
            "<int:number>": [1],
            "<int:before>": [1],
            "<int:after>": [1],
            "<slug:policy>": ["plant_based"],
            "<int:tariff_id>": list(TariffVersion.objects.of(self.workshop).values_list("pk", flat=True)),
            "<int:product_id>": list(Product.objects.of(self.workshop).values_list("pk", flat=True))[:4],
            "<int:trial_id>": [1],
            "<int:change_id>": [1],
            "<int:ready_id>": [1],
            "<int:order_id>": [order.pk for order in orders],
            "<int:parcel_id>": [self.parcel["id"]],
            "<int:send_off_id>": [1],
            "<str:device>": ["scale"],
            "<int:session_id>": [self.ask("post", "counts", {"shelf": "A"})["id"]],
            "<int:supplier_id>": list(Supplier.objects.of(self.workshop).values_list("pk", flat=True)),
            "<int:purchase_id>": list(Purchase.objects.of(self.workshop).values_list("pk", flat=True)),
            "<int:report_id>": [self.report],
            "<str:month>": [month_of(today(self.workshop))],
            "<int:what_if_id>": [self.tried],
            "<int:arrival_id>": [self.arrival],
            "<int:photo_id>": [1],
            "<int:run_id>": [self.ask("post", "practice", {"order_id": self.order("1163").pk}, status=201)["id"]],
            "<int:claim_id>": list(Claim.objects.of(self.workshop).values_list("pk", flat=True)),
        }

    def test_no_answer_and_no_paper_shows_a_metric_unit(self) -> None:
        self.parcel = self.labelled("1160")
        body = {"at_most": 4, "weeks": 10, "own_sizes": True}
        self.report = self.ask("post", "buying/cartons", body, status=201)["id"]
        self.assertTrue(run_report(self.workshop, self.report))
        sent = self.sent("1164")
        change = {"kind": "without", "code": "C-08"}
        self.tried = self.ask("post", "money/what-ifs", {"changes": [change]}, status=202)["id"]
        self.assertTrue(run_what_if(self.workshop, self.tried))
        self.arrival = Arrival.objects.of(self.workshop).get(parcel_id=sent["id"]).pk
        self.ask("put", f"arrivals/{self.arrival}/answer", {"revision": 0, "outcome": "broken"})
        ids, found, looked_at = self.ids(), [], 0
        for route, methods in ROUTES.items():
            if "get" not in methods or route.endswith(_FILES):
                continue
            names = re.findall(r"<[^>]+>", route)
            for values in pairs_of(*(ids[name] for name in names)):
                path = route
                for name, value in zip(names, values, strict=True):
                    path = path.replace(name, str(value))
                found += self.answered("get", path)
                looked_at += 1
        wave = self.client.get("/api/day").json()["wave"]["parcels"]
        for paper in ("day/gather", "day/gather.pdf", "day/gather.pdf?paper=label"):
            sign = "&" if "?" in paper else "?"
            found += self.answered("get", f"api/{paper}{sign}parcels={','.join(wave)}")
        found += self.answered("get", f"api/bench/together?parcels={self.parcel['id']}")
        found += self.answered("post", "api/buying/list", {})
        self.assertGreater(looked_at, 150)
        self.assertEqual(found, [], "\n".join(f"{where}: {text}" for where, text in found[:60]))

    def test_what_is_worked_out_on_request_is_in_inches_and_pounds(self) -> None:
        found = []
        for row in Product.objects.of(self.workshop).exclude(length_um__isnull=True)[:3]:
            for craft in CRAFTS:
                body = {"product_id": row.pk, "craft": craft.key, "up_to": 2}
                found += self.answered("post", "api/recipes/propose", body)
        parcel = {"outer_um": [900_000, 300_000, 200_000], "gross_weight_mg": 12_345_678}
        for country, postcode in (("ALM", "DM4 6"), ("ALM", "QH7 1"), ("VEL", "3300")):
            body = {**parcel, "destination": {"country": country, "postcode": postcode}}
            found += self.answered("post", "api/rates/compare", body)
        for recipe in Recipe.objects.of(self.workshop):
            found += self.answered("post", f"api/recipes/{recipe.pk}/ways", {"band_first": 1})
        self.assertEqual(found, [], "\n".join(f"{where}: {text}" for where, text in found[:60]))

    def test_refusals_at_the_bench_and_in_the_cupboard_are_in_inches_and_pounds(self) -> None:
        parcel, found = self.to_bench("1160"), []
        for typed in ("0 g", "900 kg", "heavy", "1,200", "5"):
            found += self.answered("post", f"api/parcels/{parcel['id']}/weigh", {"typed": typed})
        carton = {
            "length": "9 m",
            "width": "1 mm",
            "height": "150 mm",
            "weight": "90 kg",
            "board": "single",
            "shelf": "A",
        }
        # What was typed is quoted as it was typed.
        found += [
            (where, text)
            for where, text in self.answered("post", "api/supplies/reclaimed", {**carton, "request_key": str(uuid4())})
            if _METRIC.search(re.sub(r"given: [^.;]*", "", text))
        ]
        found = [(where, text) for where, text in found if _METRIC.search(re.sub(r"given: [^.;]*|“[^”]*”", "", text))]
        self.assertEqual(found, [], "\n".join(f"{where}: {text}" for where, text in found))


def _lines(pdf: bytes) -> list[str]:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "paper.pdf"
        path.write_bytes(pdf)
        return run("pdftotext", "-layout", str(path), "-").splitlines()
