"""How long every list takes at the API with 500 products, 120 supplies and 60 recipes (./calm bench lists).

On a database of its own. Wanted: under 150 ms each, search included.
"""

import statistics
import time
from copy import copy
from typing import TypeVar

from temporary import database

# isort: split
from django.db.models import Model
from django.test import Client, override_settings

from server.recipes.models import Product, Recipe, RecipeVersion
from server.supplies.models import Supply
from server.workshops.models import Member, Workshop

PRODUCTS, SUPPLIES, RECIPES, TIMES = 500, 120, 60, 9
PATHS = (
    "products?page_size=200", "products?find=jar", "products?page=3&page_size=200", "supplies?page_size=200",
    "supplies?find=carton", "recipes?page_size=200", "recipes?find=pres", "orders", "orders?find=ott", "find?q=jar",
    "buyers?find=ott", "readiness?page_size=5", "settings", "shelves", "members", "first-parcel", "supplies/starter",
    "tariffs", "parcels?state=closed", "rail",
)  # fmt: skip
M = TypeVar("M", bound=Model)


def _copies(rows: list[M], wanted: int, **names: str) -> list[M]:
    """Return copies of these rows, each with a number behind its names, until there are so many in all."""
    made = []
    for number in range(wanted - len(rows)):
        one = copy(rows[number % len(rows)])
        one.pk = None
        one._state.adding = True
        for name, mark in names.items():
            setattr(one, name, f"{str(getattr(one, name))[:18]}{mark}{number}")
        made.append(one)
    return made


def main() -> None:
    """Print the median of each list in ms, longest first."""
    with database(), override_settings(ALLOWED_HOSTS=["*"]):
        workshop = Workshop.objects.get()
        recipes = Recipe.objects.of(workshop).bulk_create(
            _copies(list(Recipe.objects.of(workshop)), RECIPES, code="-", name=" ")
        )
        version = RecipeVersion.objects.of(workshop).first()
        assert version is not None
        for recipe in recipes:
            one = copy(version)
            one.pk, one.recipe = None, recipe
            one._state.adding = True
            one.save()
        Supply.objects.of(workshop).bulk_create(
            _copies(list(Supply.objects.of(workshop)), SUPPLIES, code="-", name=" ")
        )
        Product.objects.of(workshop).bulk_create(
            _copies(list(Product.objects.of(workshop)), PRODUCTS, sku="-", name=" ")
        )
        client = Client()
        member = Member.objects.get(user__username="maren")
        client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")
        taken = sorted(((_median(client, path), path) for path in PATHS), reverse=True)
        for ms, path in taken:
            print(f"{ms:7.1f} ms  {path}")
        print(f"longest {taken[0][0]:.0f} ms (wanted: under 150)")


def _median(client: Client, path: str) -> float:
    found = []
    for _ in range(TIMES):
        begun = time.perf_counter()
        answer = client.get(f"/api/{path}")
        assert answer.status_code == 200, (path, answer.status_code, answer.content[:200])
        found.append((time.perf_counter() - begun) * 1e3)
    return statistics.median(found[1:])


if __name__ == "__main__":
    main()
