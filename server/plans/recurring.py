"""Advice that comes again on order after order of one recipe: counted here, told once, at the recipe."""

from collections.abc import Collection, Iterable
from decimal import Decimal

from django.db import transaction
from django.db.models import Count, Sum
from pydantic import BaseModel

from core.advising.advice import Advice
from core.messages import Text
from server.orders.models import Order
from server.plans.mapping import texts_from_json, texts_to_json
from server.plans.models import AdviceSeen
from server.recipes.models import Recipe
from server.workshops.models import Workshop

__all__ = ["Recurring", "note_recurring", "recurring_of"]

#: From so many orders on, advice is the recipe's matter and not each order's (a judgement).
_RECURS_FROM = 3


class Recurring(BaseModel):
    """One change that would have paid on several orders of a recipe."""

    recipe_id: int
    recipe: str
    words: Text
    orders: int
    saves: Decimal  #: on all of them together


@transaction.atomic
def note_recurring(order: Order, recipes: Collection[str], advice: Iterable[Advice]) -> dict[str, Recurring]:
    """Write down what this order was advised; return what has come on so many orders that it is told at the recipe.

    An order of several recipes says nothing of any one of them.
    """
    if len(recipes) != 1:
        return {}
    (recipe,) = recipes
    told = {one.recurs: one for one in advice if one.recurs}
    mine = AdviceSeen.objects.of(order.workshop_id).filter(order=order)
    mine.exclude(recipe=recipe, recurs__in=told).delete()
    AdviceSeen.objects.of(order.workshop_id).bulk_create(
        [
            AdviceSeen(
                workshop_id=order.workshop_id,
                recipe=recipe,
                recurs=key,
                order=order,
                words=texts_to_json((one.change,))[0],
                saves=one.saves,
            )
            for key, one in told.items()
        ],
        update_conflicts=True,
        unique_fields=["recipe", "recurs", "order"],
        update_fields=["words", "saves"],
    )
    return {key: one for key, one in _counted(order.workshop, recipe).items() if key in told}


def recurring_of(workshop: Workshop, recipe: str) -> list[Recurring]:
    """Return what would have paid on several orders of a recipe, the most first."""
    return sorted(_counted(workshop, recipe).values(), key=lambda one: (-one.saves, one.orders))


def _counted(workshop: Workshop, recipe: str) -> dict[str, Recurring]:
    rows = (
        AdviceSeen.objects.of(workshop)
        .filter(recipe=recipe)
        .values("recurs")
        .annotate(orders=Count("id"), total=Sum("saves"))
        .filter(orders__gte=_RECURS_FROM)
        .order_by("recurs")
    )
    row = Recipe.objects.of(workshop).filter(code=recipe).first()
    if row is None:
        return {}
    words = dict(AdviceSeen.objects.of(workshop).filter(recipe=recipe).values_list("recurs", "words"))
    return {
        one["recurs"]: Recurring(
            recipe_id=row.pk,
            recipe=row.name,
            words=texts_from_json([words[one["recurs"]]])[0],
            orders=one["orders"],
            saves=one["total"],
        )
        for one in rows
    }
