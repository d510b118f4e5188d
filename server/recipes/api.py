"""Recipes and products over HTTP: thin."""

from datetime import datetime
from decimal import Decimal
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
from server.plans.services import recipe_changed
from server.recipes import services
from server.recipes.models import Product, Recipe, RecipeVersion
from server.recipes.selectors import recipes_with_version
from server.workshops.models import one_at_a_time

__all__ = ["PreviewView", "ProductsView", "RecipeView", "RecipesView", "VersionView", "VersionsView"]


class RecipeRow(BaseModel):
    """One recipe in the list."""

    id: int
    code: str
    name: str
    version: int
    products: int


class ProductOut(BaseModel):
    """One product."""

    id: int
    sku: str
    name: str
    recipe_id: int | None
    shelf: str
    length_um: int | None
    width_um: int | None
    height_um: int | None
    weight_mg: int | None
    weight_spread_mg: int
    goods_cost: Decimal
    orientation: str
    fragility: str
    food: bool


class VersionRow(BaseModel):
    """One version of a recipe."""

    number: int
    reason: str
    author: str
    at: datetime


class RecipeOut(BaseModel):
    """A recipe with the version in force, its products and what each band comes to."""

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


def _product(row: Product) -> ProductOut:
    return ProductOut(**{name: getattr(row, name) for name in ProductOut.model_fields})


def _version(row: RecipeVersion) -> VersionRow:
    return VersionRow(number=row.number, reason=row.reason, author=row.author_name, at=row.at)


class RecipesView(MemberView):
    """GET /api/recipes"""

    @extend_schema(operation_id="recipes", parameters=PAGE_PARAMETERS, responses={200: Page[RecipeRow], **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every recipe with its version in force."""

        def show(rows: list[Any]) -> list[RecipeRow]:
            return [
                RecipeRow(id=r.pk, code=r.code, name=r.name, version=r.number or 0, products=r.product_count)
                for r in rows
            ]

        return self.paged(recipes_with_version(self.workshop), show)


class ProductsView(MemberView):
    """GET /api/products"""

    @extend_schema(operation_id="products", parameters=PAGE_PARAMETERS, responses={200: Page[ProductOut], **PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every product."""
        return self.paged(Product.objects.of(self.workshop), lambda rows: [_product(row) for row in rows])


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
                products=[_product(p) for p in products],
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
            one_at_a_time(self.workshop)
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
