"""Products and recipes in and out as open files, and the recipe card, over HTTP: thin."""

from typing import Annotated

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper, saved_file
from server.api.operation import PROBLEMS, operation
from server.api.problems import Refused
from server.api.uploads import uploaded_bytes
from server.api.views import MemberView
from server.designing.card import recipe_card
from server.designing.files import products_file, recipes_file, take_in_products, take_in_recipes
from server.formats.products_csv import write_products
from server.formats.recipe_card import recipe_card_pdf

__all__ = ["CardView", "ProductFilesView", "RecipeFilesView"]


class FileUploadIn(Body):
    """A file, its bytes as base64: CSV or JSON for products, JSON or a recipe card for recipes."""

    name: Annotated[str, Field(max_length=200)]
    content: Annotated[str, Field(min_length=4, max_length=14_000_000)]


class TakenInOut(BaseModel):
    """What taking the file in did, in words."""

    new: int
    known: int
    words: str


_AS = OpenApiParameter("as", str, enum=["json", "csv"], description="Which kind of file; json when not given")


class ProductFilesView(MemberView):
    """GET and POST /api/products/file"""

    owner_only = frozenset({"POST"})

    @extend_schema(
        operation_id="products_file",
        parameters=[_AS],
        responses={
            (200, "application/json"): OpenApiTypes.OBJECT,
            (200, "text/csv"): OpenApiTypes.STR,
            **PROBLEMS,
        },
    )
    def get(self, request: Request) -> HttpResponse:
        """Every product as one file; imported again it gives the same products."""
        kind = request.query_params.get("as", "json")
        file = products_file(self.workshop)
        if kind == "csv":
            return saved_file(write_products(file.products), "text/csv", "products.csv")
        if kind != "json":
            raise Refused(f"as is json or csv; given: {kind[:20]}.", code="not_valid", status=400, field="as")
        return saved_file(file.model_dump_json(indent=1), "application/json", "products.json")

    @operation("take_in_products")
    def post(self, body: FileUploadIn) -> TakenInOut:
        """Take products in from a file: all or none; known skus are brought up to date."""
        content = uploaded_bytes(body.name, body.content)
        new, known = take_in_products(self.workshop, content)
        words = f"{new} new {'product' if new == 1 else 'products'}, {known} brought up to date."
        return TakenInOut(new=new, known=known, words=words)


class RecipeFilesView(MemberView):
    """GET and POST /api/recipes/file"""

    owner_only = frozenset({"POST"})

    @extend_schema(operation_id="recipes_file", responses={(200, "application/json"): OpenApiTypes.OBJECT, **PROBLEMS})
    def get(self, request: Request) -> HttpResponse:
        """Every current recipe as one file."""
        return saved_file(recipes_file(self.workshop).model_dump_json(indent=1), "application/json", "recipes.json")

    @operation("take_in_recipes")
    def post(self, body: FileUploadIn) -> TakenInOut:
        """Import a recipe, many recipes or a recipe card: all or none."""
        content = uploaded_bytes(body.name, body.content)
        new, known = take_in_recipes(self.workshop, content, by=self.member.name)
        words = f"{new} {'recipe' if new == 1 else 'recipes'} imported, {known} already imported, unchanged."
        return TakenInOut(new=new, known=known, words=words)


class CardView(MemberView):
    """GET /api/recipes/{id}/card.pdf"""

    @extend_schema(operation_id="recipe_card", responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, recipe_id: int) -> HttpResponse:
        """The current recipe on paper, for the wall; read back it gives the same recipe."""
        card = recipe_card(self.workshop, recipe_id)
        return paper(recipe_card_pdf(card), f"recipe-{card.recipe.code}.pdf")
