"""Products over HTTP: thin."""

from typing import Annotated

from django.db.models import Q
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request
from rest_framework.response import Response

from server.api.views import PAGE_PARAMETERS, PROBLEMS, Body, MemberView, Page, reply
from server.formats.photo import read_photo
from server.formats.products import ProductItem
from server.recipes import services
from server.recipes.mapping import product_item
from server.recipes.models import Product, ProductPhoto

__all__ = ["PhotoView", "ProductOut", "ProductView", "ProductsView", "products_out"]


class ProductOut(ProductItem):
    """One product as its file holds it, with what the screen needs besides."""

    id: int
    recipe_id: int | None
    recipe_name: str | None
    has_photo: bool


class ProductIn(Body):
    """A product as its file holds it."""

    product: ProductItem


def products_out(rows: list[Product]) -> list[ProductOut]:
    """Return products for the screen, in one more query for all of them."""
    pictured = set(
        ProductPhoto.objects.of(rows[0].workshop).filter(product__in=rows).values_list("product_id", flat=True)
        if rows else ()
    )  # fmt: skip
    return [
        ProductOut(
            **product_item(row).model_dump(),
            id=row.pk,
            recipe_id=row.recipe_id,
            recipe_name=row.recipe.name if row.recipe else None,
            has_photo=row.pk in pictured,
        )
        for row in rows
    ]


class ProductsView(MemberView):
    """GET and POST /api/products"""

    owner_only = frozenset({"POST"})

    @extend_schema(
        operation_id="products",
        parameters=[*PAGE_PARAMETERS, OpenApiParameter("find", str, description="Part of its name or sku")],
        responses={200: Page[ProductOut], **PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        """Every product, or those whose name, sku or family holds what is looked for."""
        rows = Product.objects.of(self.workshop).select_related("recipe", "workshop")
        wanted = request.query_params.get("find", "").strip().replace("\x00", "")[:80]
        if wanted:
            rows = rows.filter(Q(name__icontains=wanted) | Q(sku__icontains=wanted) | Q(family__icontains=wanted))
        return self.paged(rows, products_out)

    @extend_schema(operation_id="add_product", request=ProductIn, responses={201: ProductOut, **PROBLEMS})
    def post(self, request: Request) -> Response:
        """Add a product; orders that wait for it are planned."""
        body = ProductIn.model_validate(request.data)
        row = services.save_product(workshop=self.workshop, item=body.product, product_id=None)
        return reply(products_out([row])[0], status=201)


class ProductView(MemberView):
    """GET and PUT /api/products/{id}"""

    owner_only = frozenset({"PUT"})

    @extend_schema(operation_id="product", responses={200: ProductOut, **PROBLEMS})
    def get(self, request: Request, product_id: int) -> Response:
        """One product."""
        row = Product.objects.of(self.workshop).select_related("recipe", "workshop").filter(pk=product_id).first()
        if row is None:
            raise Http404
        return reply(products_out([row])[0])

    @extend_schema(operation_id="change_product", request=ProductIn, responses={200: ProductOut, **PROBLEMS})
    def put(self, request: Request, product_id: int) -> Response:
        """Change a product; open orders follow."""
        body = ProductIn.model_validate(request.data)
        row = services.save_product(workshop=self.workshop, item=body.product, product_id=product_id)
        return reply(products_out([row])[0])


class PhotoIn(Body):
    """A picture, base64."""

    photo: Annotated[str, Field(min_length=8, max_length=4_200_000)]


class KeptOut(BaseModel):
    """That it was kept."""

    kept: bool


class PhotoView(MemberView):
    """GET and PUT /api/products/{id}/photo"""

    owner_only = frozenset({"PUT"})

    @extend_schema(operation_id="product_photo", responses={(200, "image/*"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, product_id: int) -> HttpResponse:
        """The photo of a product."""
        row = ProductPhoto.objects.of(self.workshop).filter(product_id=product_id).first()
        if row is None:
            raise Http404
        response = HttpResponse(bytes(row.content), content_type=row.content_type)
        response["Cache-Control"] = "private, no-cache"
        return response

    @extend_schema(operation_id="set_product_photo", request=PhotoIn, responses={200: KeptOut, **PROBLEMS})
    def put(self, request: Request, product_id: int) -> Response:
        """Keep a photo of a product in place of the one it had."""
        body = PhotoIn.model_validate(request.data)
        services.save_photo(workshop=self.workshop, product_id=product_id, photo=read_photo(body.photo))
        return reply(KeptOut(kept=True))
