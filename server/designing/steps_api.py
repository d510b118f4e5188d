"""Steps of recipes and costs per unit over HTTP: thin."""

from typing import Annotated

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from core.advising.missed_steps import BandStep
from core.advising.spare import UnitCost
from core.tariffs.model import Place
from core.tariffs.zones import plain_postcode
from server.api.bodies import Body
from server.api.operation import operation
from server.api.views import MemberView
from server.designing.missed_steps import MOST_UNITS, costs_per_unit, recipe_steps
from server.plans.recurring import Recurring, recurring_of
from server.recipes.models import Recipe

__all__ = ["RecipeStepsView", "UnitCostsView"]


class RecipeStepsOut(BaseModel):
    """The steps a recipe's bands just miss."""

    orders: int
    weeks: int
    steps: tuple[BandStep, ...]
    recurring: list[Recurring]  #: advice that came on several of its orders: told here, once


class UnitCostsOut(BaseModel):
    """What 1, 2, 3 ... of a product come to."""

    costs: tuple[UnitCost, ...]


class UnitCostsIn(Body):
    """Where to, and up to how many."""

    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    postcode: Annotated[str, Field(max_length=12)] = ""
    most: Annotated[int, Field(ge=1, le=MOST_UNITS)] = 12


class RecipeStepsView(MemberView):
    """GET /api/recipes/{id}/steps"""

    shows_costs = True

    @operation("recipe_steps")
    def get(self, recipe_id: int) -> RecipeStepsOut:
        """Which step each band sits just above, weighted by the orders of the last weeks."""
        found = recipe_steps(self.workshop, recipe_id)
        recipe = get_object_or_404(Recipe.objects.of(self.workshop), pk=recipe_id)
        told = recurring_of(self.workshop, recipe.code)
        return RecipeStepsOut(orders=found.orders, weeks=found.weeks, steps=found.steps, recurring=told)


class UnitCostsView(MemberView):
    """GET /api/products/{id}/unit-costs"""

    shows_costs = True

    @operation(
        "unit_costs",
        parameters=[OpenApiParameter("country", str), OpenApiParameter("postcode", str), OpenApiParameter("most", int)],
    )
    def get(self, product_id: int) -> UnitCostsOut:
        """What 1, 2, 3 ... of a product come to, all in, sent to a place (none: the workshop's own)."""
        asked = UnitCostsIn.model_validate({"country": self.workshop.country, **self.request.query_params.dict()})
        place = Place(country=asked.country, postcode=plain_postcode(asked.postcode))
        return UnitCostsOut(costs=costs_per_unit(self.workshop, product_id, place, asked.most))
