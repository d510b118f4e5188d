"""Recipes and products over HTTP: thin."""

from datetime import datetime
from typing import Annotated, Any

from django.db import transaction
from django.http import Http404
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request
from rest_framework.response import Response

from server.api.views import PAGE_PARAMETERS, PROBLEMS, Body, MemberView, Page, reply
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile
from server.plans.services import everything_changed, recipe_changed
from server.recipes import services
from server.recipes.models import Product, Recipe, RecipeVersion
from server.recipes.products_api import ProductOut, products_out
from server.recipes.selectors import recipes_with_version, tried_versions, versions_in_force
from server.workshops.models import lock_workshop

__all__ = ["PreviewView", "RecipeView", "RecipesView", "VersionView", "VersionsView"]


class RecipeRow(BaseModel):
    """One recipe in the list."""

    id: int
    code: str
    name: str
    version: int
    products: int
    tried: bool  #: the current version has passed its last test


class VersionRow(BaseModel):
    """One version of a recipe."""

    number: int
    reason: str
    author: str
    at: datetime


class RecipeOut(BaseModel):
    """A recipe with the current version, its products and what each band comes to."""

    id: int
    code: str
    name: str
    version: VersionRow
    document: RecipeFile
    products: list[ProductOut]
    figures: list[BandFigures]


class VersionOut(BaseModel):
    """One version in full."""

    version: VersionRow
    document: RecipeFile


class NewVersionIn(Body):
    """A change to a recipe: the whole document, the version it was made on, and why."""

    base_version: int
    reason: Annotated[str, Field(min_length=3, max_length=200)]
    document: Any


def _version(row: RecipeVersion) -> VersionRow:
    return VersionRow(number=row.number, reason=row.reason, author=row.author_name, at=row.at)


class NewRecipeIn(Body):
    """A first version, why it is so, and which products it packs."""

    document: Any
    reason: Annotated[str, Field(min_length=3, max_length=200)]
    product_ids: Annotated[list[int], Field(max_length=200)] = []


class NewRecipeOut(BaseModel):
    """The recipe that was made."""

    id: int
    code: str
    version: VersionRow


class RecipesView(MemberView):
    """GET and POST /api/recipes"""

    owner_only = frozenset({"POST"})

    @extend_schema(operation_id="recipes", parameters=PAGE_PARAMETERS, responses={200: Page[RecipeRow], **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every recipe with its current version."""

        def show(rows: list[Any]) -> list[RecipeRow]:
            versions = versions_in_force(self.workshop, [r.pk for r in rows])
            tried = tried_versions(self.workshop, [v.pk for v in versions.values()])
            return [
                RecipeRow(
                    id=r.pk,
                    code=r.code,
                    name=r.name,
                    version=r.number or 0,
                    products=r.product_count,
                    tried=r.pk in versions and versions[r.pk].pk in tried,
                )
                for r in rows
            ]

        return self.paged(recipes_with_version(self.workshop), show)

    @extend_schema(operation_id="new_recipe", request=NewRecipeIn, responses={201: NewRecipeOut, **PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make a recipe with its first version; orders of its products are planned by it."""
        body = NewRecipeIn.model_validate(request.data)
        with transaction.atomic():
            lock_workshop(self.workshop)
            row = services.new_recipe(by=self.member, **body.model_dump())
            everything_changed(workshop=self.workshop)
        return reply(NewRecipeOut(id=row.recipe_id, code=row.recipe.code, version=_version(row)), status=201)


class RecipeView(MemberView):
    """GET /api/recipes/{id}"""

    @extend_schema(operation_id="recipe", responses={200: RecipeOut, **PROBLEMS})
    def get(self, request: Request, recipe_id: int) -> Response:
        """One recipe in full, with the figures of each band."""
        recipe = Recipe.objects.of(self.workshop).filter(pk=recipe_id).first()
        row = recipe.versions.order_by("-number").first() if recipe else None
        if recipe is None or row is None:
            raise Http404
        products = list(Product.objects.of(self.workshop).filter(recipe=recipe))
        file = RecipeFile.model_validate(row.document)
        return reply(
            RecipeOut(
                id=recipe.pk,
                code=recipe.code,
                name=recipe.name,
                version=_version(row),
                document=file,
                products=products_out(products),
                figures=band_figures(self.workshop, file, products),
            )
        )


class RecipePreviewIn(Body):
    """A recipe as it would be."""

    document: Any


class RecipePreviewOut(BaseModel):
    """What each band of it would come to."""

    figures: list[BandFigures]


class PreviewView(MemberView):
    """POST /api/recipes/{id}/preview"""

    @extend_schema(
        operation_id="preview_recipe", request=RecipePreviewIn, responses={200: RecipePreviewOut, **PROBLEMS}
    )
    def post(self, request: Request, recipe_id: int) -> Response:
        """Work a changed recipe out without keeping it."""
        body = RecipePreviewIn.model_validate(request.data)
        recipe = Recipe.objects.of(self.workshop).filter(pk=recipe_id).first()
        if recipe is None:
            raise Http404
        file = RecipeFile.model_validate(body.document)
        products = list(Product.objects.of(self.workshop).filter(recipe=recipe))
        return reply(RecipePreviewOut(figures=band_figures(self.workshop, file, products)))


class VersionsView(MemberView):
    """/api/recipes/{id}/versions"""

    owner_only = frozenset({"POST"})

    @extend_schema(
        operation_id="recipe_versions", parameters=PAGE_PARAMETERS, responses={200: Page[VersionRow], **PROBLEMS}
    )
    def get(self, request: Request, recipe_id: int) -> Response:
        """All versions, newest first."""
        if not Recipe.objects.of(self.workshop).filter(pk=recipe_id).exists():
            raise Http404
        rows = RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe_id)
        return self.paged(rows, lambda page: [_version(row) for row in page])

    @extend_schema(operation_id="new_recipe_version", request=NewVersionIn, responses={201: VersionOut, **PROBLEMS})
    def post(self, request: Request, recipe_id: int) -> Response:
        """Make the next version; open orders follow it."""
        body = NewVersionIn.model_validate(request.data)
        with transaction.atomic():
            lock_workshop(self.workshop)
            row = services.add_version(by=self.member, recipe_id=recipe_id, **body.model_dump())
            recipe_changed(workshop=self.workshop, recipe_id=recipe_id)
        return reply(VersionOut(version=_version(row), document=RecipeFile.model_validate(row.document)), status=201)


class VersionView(MemberView):
    """GET /api/recipes/{id}/versions/{number}"""

    @extend_schema(operation_id="recipe_version", responses={200: VersionOut, **PROBLEMS})
    def get(self, request: Request, recipe_id: int, number: int) -> Response:
        """One version as it was, for packed parcels and for looking back."""
        row = RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe_id, number=number).first()
        if row is None:
            raise Http404
        return reply(VersionOut(version=_version(row), document=RecipeFile.model_validate(row.document)))
