"""Other ways to pack an order size, and two versions compared, over HTTP: thin."""

from typing import Annotated, Any

from django.http import Http404
from pydantic import BaseModel, Field

from core.designing.differences import Difference, differences
from core.messages import Text
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer
from server.api.bodies import Body
from server.api.operation import operation
from server.api.views import MemberView
from server.designing import ways
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile
from server.recipes.mapping import core_recipe
from server.recipes.models import Product, RecipeVersion
from server.recipes.selectors import current_version
from server.workshops.models import Workshop

__all__ = ["CompareView", "WaysView"]


class WaysIn(Body):
    """Which band of which document: the recipe as it is being changed, or as it stands."""

    band_first: Annotated[int, Field(ge=1, le=10_000)]
    document: Any = None


class WayOut(BaseModel):
    """One way of packing the same goods."""

    key: str
    name: Text
    problem: Text
    wraps: list[Text]
    candidate: Candidate | None  #: None: it does not go, ``problem`` says why
    layers: tuple[PackLayer, ...]


class WaysOut(BaseModel):
    """The ways side by side, which wins, and where the balance tips."""

    units: int
    goods: str
    winner: str
    words: Text
    balances: list[Text]
    ways: list[WayOut]
    bands: dict[str, Any]  #: each way's band as a document, to take it over


class WaysView(MemberView):
    """POST /api/recipes/{id}/ways"""

    @operation("compare_ways")
    def post(self, body: WaysIn, recipe_id: int) -> WaysOut:
        """Pack one band two or three ways and compare them."""
        row = _in_force(self.workshop, recipe_id)
        document = row.document if body.document is None else body.document
        return WaysOut(**ways.compared(self.workshop, row.recipe, document, body.band_first))


class CompareOut(BaseModel):
    """Two versions side by side."""

    before: int
    after: int
    differences: list[Difference]
    figures_before: list[BandFigures]
    figures_after: list[BandFigures]


class CompareView(MemberView):
    """GET /api/recipes/{id}/compare/{before}/{after}"""

    @operation("compare_versions")
    def get(self, recipe_id: int, before: int, after: int) -> CompareOut:
        """Every difference between two versions, and what it does to cost, weight and size."""
        rows = {
            row.number: row
            for row in RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe_id, number__in=(before, after))
        }
        if before not in rows or after not in rows:
            raise Http404
        products = list(Product.objects.of(self.workshop).filter(recipe_id=recipe_id))
        files = [RecipeFile.model_validate(rows[number].document) for number in (before, after)]
        return CompareOut(
            before=before,
            after=after,
            differences=list(differences(core_recipe(rows[before]), core_recipe(rows[after]))),
            figures_before=band_figures(self.workshop, files[0], products),
            figures_after=band_figures(self.workshop, files[1], products),
        )


def _in_force(workshop: Workshop, recipe_id: int) -> RecipeVersion:
    row = current_version(workshop, recipe_id)
    if row is None:
        raise Http404
    return row


# --- readiness --------------------------------------------------------------------------------------------
