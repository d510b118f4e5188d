"""Reading recipes: the version in force of each, in one query."""

from collections.abc import Iterable

from django.db.models import Count, OuterRef, QuerySet, Subquery

from server.recipes.models import Recipe, RecipeVersion
from server.workshops.models import Workshop

__all__ = ["recipes_with_version", "versions_in_force"]


def recipes_with_version(workshop: Workshop) -> QuerySet[Recipe]:
    """Return recipes with ``number`` of the version in force and ``product_count``."""
    newest = RecipeVersion.objects.of(workshop).filter(recipe=OuterRef("pk")).order_by("-number").values("number")[:1]
    return Recipe.objects.of(workshop).annotate(number=Subquery(newest), product_count=Count("products", distinct=True))


def versions_in_force(workshop: Workshop, recipe_ids: Iterable[int]) -> dict[int, RecipeVersion]:
    """Return the version in force by recipe id."""
    rows = (
        RecipeVersion.objects.of(workshop)
        .filter(recipe_id__in=set(recipe_ids))
        .order_by("recipe_id", "-number")
        .distinct("recipe_id")
    )
    return {row.recipe_id: row for row in rows}
