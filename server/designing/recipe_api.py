"""One recipe with what each order size of it comes to, over HTTP: thin."""

from typing import Any

from django.http import Http404
from pydantic import BaseModel

from server.api.bodies import Body
from server.api.operation import operation
from server.api.views import MemberView
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile
from server.recipes.api import VersionRow, version_row
from server.recipes.models import Product, Recipe
from server.recipes.products_api import ProductOut, products_out
from server.recipes.selectors import current_version

__all__ = ["PreviewView", "RecipeView"]


class RecipeOut(BaseModel):
    """A recipe with the current version, its products and what each band comes to."""

    id: int
    code: str
    name: str
    version: VersionRow
    document: RecipeFile
    products: list[ProductOut]
    figures: list[BandFigures]


class RecipeView(MemberView):
    """GET /api/recipes/{id}"""

    @operation("recipe")
    def get(self, recipe_id: int) -> RecipeOut:
        """One recipe in full, with the figures of each band."""
        recipe = Recipe.objects.of(self.workshop).filter(pk=recipe_id).first()
        row = current_version(self.workshop, recipe.pk) if recipe else None
        if recipe is None or row is None:
            raise Http404
        products = list(Product.objects.of(self.workshop).filter(recipe=recipe))
        file = RecipeFile.model_validate(row.document)
        return RecipeOut(
            id=recipe.pk,
            code=recipe.code,
            name=recipe.name,
            version=version_row(row),
            document=file,
            products=products_out(products),
            figures=band_figures(self.workshop, file, products),
        )


class RecipePreviewIn(Body):
    """A recipe as it would be."""

    document: Any


class RecipePreviewOut(BaseModel):
    """What each band of it would come to."""

    figures: list[BandFigures]


class PreviewView(MemberView):
    """POST /api/recipes/{id}/preview"""

    @operation("preview_recipe")
    def post(self, body: RecipePreviewIn, recipe_id: int) -> RecipePreviewOut:
        """Work a changed recipe out without keeping it."""
        recipe = Recipe.objects.of(self.workshop).filter(pk=recipe_id).first()
        if recipe is None:
            raise Http404
        file = RecipeFile.model_validate(body.document)
        products = list(Product.objects.of(self.workshop).filter(recipe=recipe))
        return RecipePreviewOut(figures=band_figures(self.workshop, file, products))
