"""Reading recipes: the current version of each, in one query."""

from collections.abc import Iterable

from django.db.models import Count, OuterRef, QuerySet, Subquery

from server.recipes.models import Product, Recipe, RecipeVersion, Trial
from server.workshops.models import Workshop

__all__ = ["recipes_with_version", "tried_versions", "versions_in_force", "with_their_families"]


def recipes_with_version(workshop: Workshop) -> QuerySet[Recipe]:
    """Return recipes with ``number`` of the current version and ``product_count``."""
    newest = RecipeVersion.objects.of(workshop).filter(recipe=OuterRef("pk")).order_by("-number").values("number")[:1]
    return Recipe.objects.of(workshop).annotate(number=Subquery(newest), product_count=Count("products", distinct=True))


def versions_in_force(workshop: Workshop, recipe_ids: Iterable[int]) -> dict[int, RecipeVersion]:
    """Return the current version by recipe id."""
    rows = (
        RecipeVersion.objects.of(workshop)
        .filter(recipe_id__in=set(recipe_ids))
        .order_by("recipe_id", "-number")
        .distinct("recipe_id")
    )
    return {row.recipe_id: row for row in rows}


def with_their_families(workshop: Workshop, rows: list[Product]) -> list[Product]:
    """Return every product of the families these are of, for what a variant lacks."""
    families = {row.family for row in rows if row.family}
    return list(Product.objects.of(workshop).filter(family__in=families)) if families else []


def tried_versions(workshop: Workshop, version_ids: Iterable[int]) -> set[int]:
    """Return those of the versions that have passed a test and failed none since."""
    found: dict[int, bool] = {}
    rows = Trial.objects.of(workshop).filter(version_id__in=set(version_ids)).order_by("at", "id")
    for version_id, passed in rows.values_list("version_id", "passed"):
        found[version_id] = passed
    return {version_id for version_id, passed in found.items() if passed}
