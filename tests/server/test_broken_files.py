"""Files that somebody cut, swapped or scribbled on: never a crash, never half taken in."""

import copy
import json
import random
from typing import Any

from django.db import transaction
from django.test import TestCase

from server.api.problems import Refused
from server.carriers.models import TariffVersion
from server.commands.intake import take_in
from server.recipes.models import Product, RecipeVersion
from server.supplies.models import Supply
from tests.server.base import DEMO, fill_workshop, make_workshop

SCRIBBLES: tuple[Any, ...] = (None, "", -1, 0, 10**12, 1.5, "x" * 500, [], {}, True, "NaN", "\x00", [None], {"a": 1})
ROUNDS = 120


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
                    take_in(self.workshop, kind, broken, by="t")
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

    def test_a_scribbled_tariff(self) -> None:
        self.scribble("tariff", "tariffs/larkline-2026-07.json")

    def test_text_cut_off_anywhere_is_said_to_be_no_json(self) -> None:
        text = (DEMO / "recipes" / "preserve-250.json").read_bytes()
        for cut in range(1, len(text) - 2, 251):
            with self.assertRaises(Refused) as caught:
                take_in(self.workshop, "recipe", text[:cut], by="t")
            self.assertEqual(caught.exception.code, "not_json")
