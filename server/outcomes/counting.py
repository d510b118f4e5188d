"""Counting arrivals of recipe versions, and telling the plans when a rate has changed (outcomes)."""

from collections.abc import Collection

from django.db.models import Count, Q

from core.outcomes.model import DAMAGE, KNOWN
from core.outcomes.suggest import protection_key
from core.recipes.damage import planning_rate
from server.outcomes.models import Arrival, ArrivalGoods
from server.recipes.mapping import core_recipe
from server.recipes.models import RecipeVersion, VersionArrivals
from server.workshops.happened import tell_recipe
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = ["follow_recipe", "follow_versions", "recount"]

#: Plans are made again when the rate they go by is off by more than this share of it (a judgement): each answer alone
#: would have every open order of the recipe planned again.
_TELLING = 10  # percent


def recount(workshop: Workshop, version_ids: Collection[int]) -> None:
    """Count the arrivals of these versions again; plans are told when a rate moved enough to matter."""
    if not version_ids:
        return
    counts = {
        row["version_id"]: row
        for row in ArrivalGoods.objects.of(workshop)
        .filter(version_id__in=version_ids, arrival__outcome__in=KNOWN)
        .values("version_id")
        .annotate(
            known=Count("arrival", distinct=True),
            damaged=Count("arrival", distinct=True, filter=Q(hurt=True, arrival__outcome__in=DAMAGE)),
            assumed=Count("arrival", distinct=True, filter=Q(arrival__source=Arrival.Source.ASSUMED)),
        )
        .order_by()
    }
    versions = {row.pk: row for row in RecipeVersion.objects.of(workshop).filter(pk__in=version_ids)}
    recipes = {row.recipe_id for row in versions.values()}
    for recipe_id in recipes:
        follow_recipe(workshop, recipe_id)
    told: set[int] = set()
    for row in VersionArrivals.objects.of(workshop).filter(version_id__in=version_ids):
        found = counts.get(row.version_id, {"known": 0, "damaged": 0, "assumed": 0})
        row.known, row.damaged, row.assumed = found["known"], found["damaged"], found["assumed"]
        if _moved(workshop, row):
            row.told_known, row.told_damaged = row.known, row.damaged
            told.add(versions[row.version_id].recipe_id)
        row.save(update_fields=["known", "damaged", "assumed", "told_known", "told_damaged"])
    for recipe_id in sorted(told):
        tell_recipe(workshop, recipe_id)


def _moved(workshop: Workshop, row: VersionArrivals) -> bool:
    # Against one prior for all: what counts is how far the counts moved, not what they are of.
    prior = judgements_of(workshop).damage_delicate
    was, now = planning_rate(prior, row.told_damaged, row.told_known), planning_rate(prior, row.damaged, row.known)
    return abs(now - was) * 100 > was * _TELLING


def follow_versions(workshop: Workshop, version_ids: Collection[int]) -> None:
    """Keep what the recipes of these versions protect, where it is not kept yet."""
    rows = RecipeVersion.objects.of(workshop).filter(pk__in=version_ids, arrived=None)
    for recipe_id in sorted(set(rows.values_list("recipe_id", flat=True))):
        follow_recipe(workshop, recipe_id)


def follow_recipe(workshop: Workshop, recipe_id: int) -> None:
    """Keep what each version of a recipe protects beside it: a new one that protects alike has its count at once."""
    had = {row.version_id: row for row in VersionArrivals.objects.of(workshop).filter(version__recipe_id=recipe_id)}
    new, changed = [], []
    for version in RecipeVersion.objects.of(workshop).filter(recipe_id=recipe_id):
        key = protection_key(core_recipe(version))
        row = had.get(version.pk)
        if row is None:
            new.append(VersionArrivals(workshop=workshop, version=version, protects=key))
        elif row.protects != key:  # the program has learned of something else that protects
            row.protects = key
            changed.append(row)
    VersionArrivals.objects.of(workshop).bulk_create(new, ignore_conflicts=True)
    VersionArrivals.objects.of(workshop).bulk_update(changed, ["protects"])
