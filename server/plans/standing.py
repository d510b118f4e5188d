"""Parcels packed ahead that an order may count on when the cupboard alone does not do (plans).

The bench knows which stand ready; it is asked by a signal, as the plans are below it.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import cast

from django.dispatch import Signal

from core.parcels.plan import PlannedOrder
from core.recipes.model import Recipe
from server.orders.models import Order
from server.plans.models import Plan
from server.workshops.models import Workshop

__all__ = ["Standing", "standing", "standing_asked"]

#: Answered with a list of ``Standing``, the oldest first: ``workshop``.
standing_asked = Signal()


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """One parcel that stands ready, and what need not be drawn when an order takes it."""

    id: int
    goods: tuple[str, int]
    container: str
    recipe: str
    version: int
    used: Mapping[str, Decimal]

    def is_of(self, result: PlannedOrder, recipes: Mapping[str, Recipe]) -> bool:
        """Return whether the bench would take it for an order planned like this."""
        parcels = result.chosen.parcels
        known = recipes.get(self.recipe)
        return (
            len(parcels) == 1
            and parcels[0].goods == (self.goods,)
            and parcels[0].candidate.container == self.container
            and parcels[0].candidate.change is None
            and parcels[0].candidate.strapped is None
            and known is not None
            and known.version == self.version
        )


def standing(workshop: Workshop, *, besides: Iterable[Order] = ()) -> list[Standing]:
    """Return the parcels that stand ready and that no open order but these counts on, the oldest first."""
    answers = standing_asked.send(sender=Workshop, workshop=workshop)
    found = [one for _, answer in answers for one in cast(list[Standing], answer)]
    if not found:
        return []
    others = Plan.objects.of(workshop).filter(standing_id__in=[one.id for one in found], order__state__in=Order.OPEN)
    counted = set(others.exclude(order__in=[order.pk for order in besides]).values_list("standing_id", flat=True))
    return [one for one in found if one.id not in counted]
