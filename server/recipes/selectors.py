"""Reading recipes: the current version of each, in one query."""

from collections.abc import Iterable

from django.db.models import Count, OuterRef, QuerySet, Subquery

from core.recipes.damage import Arrivals
from server.recipes.models import Product, Recipe, RecipeVersion, Trial, VersionArrivals
from server.workshops.models import Workshop

__all__ = [
    "arrivals_of",
    "current_version",
    "current_versions",
    "recipes_with_version",
    "tried_versions",
    "versions_in_force",
    "with_their_families",
]


def recipes_with_version(workshop: Workshop) -> QuerySet[Recipe]:
    """Return recipes with ``number`` of the current version and ``product_count``."""
    newest = current_versions(workshop).filter(recipe=OuterRef("pk")).order_by("-number").values("number")[:1]
    return Recipe.objects.of(workshop).annotate(number=Subquery(newest), product_count=Count("products", distinct=True))


def versions_in_force(workshop: Workshop, recipe_ids: Iterable[int]) -> dict[int, RecipeVersion]:
    """Return the current version by recipe id."""
    rows = current_versions(workshop).filter(recipe_id__in=set(recipe_ids))
    return {row.recipe_id: row for row in rows.order_by("recipe_id", "-number").distinct("recipe_id")}


def current_versions(workshop: Workshop) -> QuerySet[RecipeVersion]:
    """Return versions that are or were in force, without those made for a trial; the highest of a recipe is current."""
    return RecipeVersion.objects.of(workshop).filter(in_force=True)


def current_version(workshop: Workshop, recipe_id: int) -> RecipeVersion | None:
    """Return a recipe's current version."""
    rows = current_versions(workshop).filter(recipe_id=recipe_id).select_related("recipe")
    return rows.order_by("-number").first()


def arrivals_of(workshop: Workshop, versions: Iterable[RecipeVersion]) -> dict[int, Arrivals]:
    """Return by version id how parcels packed as it protects arrived; versions with none known have no entry."""
    wanted = {row.pk: row.recipe_id for row in versions}
    rows = list(
        VersionArrivals.objects.of(workshop)
        .filter(version__recipe_id__in=set(wanted.values()))
        .values_list("version_id", "version__recipe_id", "protects", "damaged", "known")
    )
    alike = {version_id: (recipe_id, protects) for version_id, recipe_id, protects, _, _ in rows}
    sums: dict[tuple[int, str], list[int]] = {}
    for _, recipe_id, protects, damaged, known in rows:
        total = sums.setdefault((recipe_id, protects), [0, 0])
        total[0] += damaged
        total[1] += known
    found = {pk: sums[alike[pk]] for pk in wanted if pk in alike}
    return {pk: Arrivals(damaged=damaged, known=known) for pk, (damaged, known) in found.items() if known}


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
