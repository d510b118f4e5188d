"""Recipes and products over HTTP: thin."""

from datetime import datetime
from typing import Annotated, Any

from django.db.models import Q
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.formats.recipe import RecipeFile
from server.recipes import services
from server.recipes.models import Recipe, RecipeVersion
from server.recipes.products_api import RetiredIn
from server.recipes.selectors import recipes_with_version, tried_versions, versions_in_force

__all__ = ["RecipesView", "RetireRecipeView", "VersionRow", "VersionView", "VersionsView", "version_row"]


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


class VersionOut(BaseModel):
    """One version in full."""

    version: VersionRow
    document: RecipeFile


class NewVersionIn(Body):
    """A change to a recipe: the whole document, the version it was made on, and why."""

    base_version: int
    reason: Annotated[str, Field(min_length=3, max_length=200)]
    document: Any


def version_row(row: RecipeVersion) -> VersionRow:
    return VersionRow(number=row.number, reason=row.reason, author=row.author_name, at=row.at)


class NewRecipeIn(Body):
    """A first version, why it is so, and which products it packs."""

    document: Any
    reason: Annotated[str, Field(min_length=3, max_length=200)]
    product_ids: Annotated[list[int], Field(max_length=200)] = []


class RetiredRecipeOut(BaseModel):
    """A recipe that was retired, or brought back."""

    id: int
    name: str
    retired: bool


class NewRecipeOut(BaseModel):
    """The recipe that was made."""

    id: int
    code: str
    version: VersionRow


class RetireRecipeView(MemberView):
    """POST /api/recipes/{id}/retire"""

    owner_only = frozenset({"POST"})

    @operation("retire_recipe")
    def post(self, body: RetiredIn, recipe_id: int) -> RetiredRecipeOut:
        """Take a recipe off the lists, or bring it back."""
        row = services.retire_recipe(workshop=self.workshop, recipe_id=recipe_id, retired=body.retired)
        return RetiredRecipeOut(id=row.pk, name=row.name, retired=row.retired_at is not None)


class RecipesView(MemberView):
    """GET and POST /api/recipes"""

    owner_only = frozenset({"POST"})

    @operation(
        "recipes",
        parameters=[
            OpenApiParameter("find", str, description="Part of its name or code"),
            OpenApiParameter("retired", bool, description="The retired ones instead"),
        ],
    )
    def get(self) -> Page[RecipeRow]:
        """Every recipe with its current version."""
        all_rows = recipes_with_version(self.workshop)
        all_rows = all_rows.exclude(retired_at=None) if self.wants_retired else all_rows.filter(retired_at=None)
        if self.sought:
            all_rows = all_rows.filter(Q(name__icontains=self.sought) | Q(code__icontains=self.sought))

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

        return self.paged(all_rows, show)

    @operation("new_recipe", status=201)
    def post(self, body: NewRecipeIn) -> NewRecipeOut:
        """Make a recipe with its first version; orders of its products are planned by it."""
        row = services.new_recipe(by=self.member, **body.model_dump())
        return NewRecipeOut(id=row.recipe_id, code=row.recipe.code, version=version_row(row))


class VersionsView(MemberView):
    """/api/recipes/{id}/versions"""

    owner_only = frozenset({"POST"})

    @operation("recipe_versions")
    def get(self, recipe_id: int) -> Page[VersionRow]:
        """All versions, newest first."""
        if not Recipe.objects.of(self.workshop).filter(pk=recipe_id).exists():
            raise Http404
        rows = RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe_id)
        return self.paged(rows, lambda page: [version_row(row) for row in page])

    @operation("new_recipe_version", status=201)
    def post(self, body: NewVersionIn, recipe_id: int) -> VersionOut:
        """Make the next version; open orders follow it."""
        row = services.add_version(by=self.member, recipe_id=recipe_id, **body.model_dump())
        return VersionOut(version=version_row(row), document=RecipeFile.model_validate(row.document))


class VersionView(MemberView):
    """GET /api/recipes/{id}/versions/{number}"""

    @operation("recipe_version")
    def get(self, recipe_id: int, number: int) -> VersionOut:
        """One version as it was, for packed parcels and for looking back."""
        row = RecipeVersion.objects.of(self.workshop).filter(recipe_id=recipe_id, number=number).first()
        if row is None:
            raise Http404
        return VersionOut(version=version_row(row), document=RecipeFile.model_validate(row.document))
