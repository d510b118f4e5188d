"""Which recipes name a supply: read from the documents of the versions in force (recipes)."""

from typing import Any

from server.recipes.models import Recipe
from server.recipes.selectors import versions_in_force
from server.workshops.models import Workshop

__all__ = ["TEXTS", "recipes_naming"]

#: What is written for people, and the recipe's own code: never a supply.
TEXTS = frozenset({"name", "code", "note", "notes", "cautions", "title", "words", "reason"})


def recipes_naming(workshop: Workshop) -> dict[str, tuple[Recipe, ...]]:
    """Return the recipes that name each supply, retired ones too, by the supply's code."""
    rows = list(Recipe.objects.of(workshop).order_by("name", "pk"))
    versions = versions_in_force(workshop, [row.pk for row in rows])
    found: dict[str, tuple[Recipe, ...]] = {}
    for row in rows:
        if row.pk in versions:
            for code in _named(versions[row.pk].document):
                found[code] = (*found.get(code, ()), row)
    return found


def _named(document: Any) -> set[str]:
    if isinstance(document, str):
        return {document}
    if isinstance(document, dict):
        return set().union(*(_named(value) for key, value in document.items() if key not in TEXTS))
    return set().union(*(_named(one) for one in document)) if isinstance(document, list) else set()
