"""Files that somebody cut, swapped or scribbled on: never a crash, never half imported."""

import copy
import json
import os
import random
from dataclasses import replace
from datetime import date
from typing import Any

from django.db import transaction
from django.test import TestCase

from core.tariffs.model import Place, Sending
from core.tariffs.quote import quote_all
from core.units import Size
from server.api.problems import Refused
from server.carriers.models import TariffVersion
from server.commands.intake import import_kind
from server.formats.tariff import TariffFile
from server.recipes.models import Product, RecipeVersion
from server.supplies.models import Supply
from tests.server.base import DEMO, fill_workshop, make_workshop

SCRIBBLES: tuple[Any, ...] = (None, "", -1, 0, 10**12, 1.5, "x" * 500, [], {}, True, "NaN", "\x00", [None], {"a": 1})
MARRAM = DEMO.parent / "tests" / "golden" / "marram-2026-10.json"
ROUNDS = 120
#: More with CALM_LONG=1.
TARIFF_ROUNDS = 2_000 if os.environ.get("CALM_LONG") else 300


def spots(node: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Return the path of every value in a document."""
    found = [at] if at else []
    children = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in children:
        found += spots(value, (*at, key))
    return found


def scribbled(document: Any, rng: random.Random) -> Any:
    """Return the document with one value replaced, dropped or doubled."""
    changed = copy.deepcopy(document)
    path = rng.choice(spots(changed))
    parent = changed
    for key in path[:-1]:
        parent = parent[key]
    deed = rng.random()
    if deed < 0.7:
        parent[path[-1]] = rng.choice(SCRIBBLES)
    elif deed < 0.85 or not isinstance(parent, list):
        del parent[path[-1]]
    else:
        parent.append(copy.deepcopy(parent[path[-1]]))
    return changed


class BrokenFiles(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.workshop = make_workshop("broken")
        fill_workshop(cls.workshop, orders=False)

    def counts(self) -> tuple[int, ...]:
        return tuple(
            model.objects.of(self.workshop).count() for model in (Supply, Product, RecipeVersion, TariffVersion)
        )

    def scribble(self, kind: str, name: str) -> None:
        document, rng = json.loads((DEMO / name).read_text()), random.Random(name)
        before, refused = self.counts(), 0
        for _ in range(ROUNDS):
            broken = json.dumps(scribbled(document, rng)).encode()
            try:
                with transaction.atomic():
                    import_kind(self.workshop, kind, broken, by="t")
                    transaction.set_rollback(True)
            except Refused as error:
                refused += 1
                self.assertTrue(error.detail)
        self.assertEqual(self.counts(), before)
        self.assertGreater(refused, ROUNDS // 3)

    def test_a_scribbled_supplies_file(self) -> None:
        self.scribble("supplies", "supplies.json")

    def test_a_scribbled_products_file(self) -> None:
        self.scribble("products", "products.json")

    def test_a_scribbled_recipe(self) -> None:
        self.scribble("recipe", "recipes/preserve-250.json")

    def test_scribbled_tariffs_crash_nothing_and_leave_nothing(self) -> None:
        paths = sorted([*(DEMO / "tariffs").glob("*.json"), *(DEMO / "carriers").rglob("*.json")])
        # The list that uses all of version 2 comes as often as the others together.
        documents = [json.loads(path.read_text()) for path in paths]
        documents = [one for path in documents for one in (path, json.loads(MARRAM.read_text()))]
        rng, before, refused = random.Random("tariffs"), self.counts(), 0
        for at in range(TARIFF_ROUNDS):
            changed = scribbled(documents[at % len(documents)], rng)
            try:
                with transaction.atomic():
                    import_kind(self.workshop, "tariff", json.dumps(changed).encode(), by="t")
                    transaction.set_rollback(True)
            except Refused as error:
                refused += 1
                self.assertTrue(error.detail)
                continue
            self.quotes_or_refuses(TariffFile.model_validate(changed))
        self.assertEqual(self.counts(), before)
        self.assertGreater(refused, TARIFF_ROUNDS // 3)
        self.assertLess(refused, TARIFF_ROUNDS)

    def quotes_or_refuses(self, file: TariffFile) -> None:
        """What was let in must answer for any parcel: with a price or with a refusal."""
        tariff = replace(file.core(), valid_from=date(2026, 1, 1))
        sending = Sending(destination=Place(country="ALM", postcode="QH71"), ship_on=date(2026, 11, 25))
        for side, weight in ((40_000, 60_000), (400_000, 12_000_000)):
            size = Size(length_um=side, width_um=side, height_um=side // 20)
            quotes, refusals = quote_all((tariff,), outer=size, gross_mg=weight, sending=sending)
            self.assertEqual(len(quotes) + len(refusals), len(tariff.services))

    def test_text_cut_off_anywhere_is_said_to_be_no_json(self) -> None:
        text = (DEMO / "recipes" / "preserve-250.json").read_bytes()
        for cut in range(1, len(text) - 2, 251):
            with self.assertRaises(Refused) as caught:
                import_kind(self.workshop, "recipe", text[:cut], by="t")
            self.assertEqual(caught.exception.code, "not_json")
