"""Products over HTTP: thin."""

from typing import Annotated

from django.db.models import Q
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.views import MemberView
from server.formats.photo import read_photo
from server.formats.products import ProductItem
from server.recipes import services
from server.recipes.mapping import product_item
from server.recipes.models import Product, ProductPhoto

__all__ = ["PhotoView", "ProductOut", "ProductView", "ProductsView", "RetireProductView", "RetiredIn", "products_out"]


class ProductOut(ProductItem):
    """One product as its file holds it, with what the screen needs besides."""

    id: int
    recipe_id: int | None
    recipe_name: str | None
    has_photo: bool
    retired: bool


class RetiredIn(Body):
    """Off the lists, or back on them."""

    retired: bool


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
            retired=row.retired_at is not None,
        )
        for row in rows
    ]


class ProductsView(MemberView):
    """GET and POST /api/products"""

    owner_only = frozenset({"POST"})

    @operation(
        "products",
        parameters=[
            OpenApiParameter("find", str, description="Part of its name or sku"),
            OpenApiParameter("retired", bool, description="The retired ones instead"),
        ],
    )
    def get(self) -> Page[ProductOut]:
        """Every product, or those whose name, sku or family holds what is looked for."""
        rows = Product.objects.of(self.workshop).select_related("recipe", "workshop")
        rows = rows.exclude(retired_at=None) if self.wants_retired else rows.filter(retired_at=None)
        wanted = self.sought
        if wanted:
            rows = rows.filter(Q(name__icontains=wanted) | Q(sku__icontains=wanted) | Q(family__icontains=wanted))
        return self.paged(rows, products_out)

    @operation("add_product", status=201)
    def post(self, body: ProductIn) -> ProductOut:
        """Add a product; orders that wait for it are planned."""
        row = services.save_product(workshop=self.workshop, item=body.product, product_id=None)
        return products_out([row])[0]


class ProductView(MemberView):
    """GET and PUT /api/products/{id}"""

    owner_only = frozenset({"PUT"})

    @operation("product")
    def get(self, product_id: int) -> ProductOut:
        """One product."""
        row = Product.objects.of(self.workshop).select_related("recipe", "workshop").filter(pk=product_id).first()
        if row is None:
            raise Http404
        return products_out([row])[0]

    @operation("change_product")
    def put(self, body: ProductIn, product_id: int) -> ProductOut:
        """Change a product; open orders follow."""
        row = services.save_product(workshop=self.workshop, item=body.product, product_id=product_id)
        return products_out([row])[0]


class PhotoIn(Body):
    """A picture, base64."""

    photo: Annotated[str, Field(min_length=8, max_length=4_200_000)]


class KeptOut(BaseModel):
    """That it was kept."""

    kept: bool


class RetireProductView(MemberView):
    """POST /api/products/{id}/retire"""

    owner_only = frozenset({"POST"})

    @operation("retire_product")
    def post(self, body: RetiredIn, product_id: int) -> ProductOut:
        """Take a product off the lists, or bring it back."""
        row = services.retire_product(workshop=self.workshop, product_id=product_id, retired=body.retired)
        return products_out([Product.objects.of(self.workshop).select_related("recipe", "workshop").get(pk=row.pk)])[0]


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

    @operation("set_product_photo")
    def put(self, body: PhotoIn, product_id: int) -> KeptOut:
        """Keep a photo of a product in place of the one it had."""
        services.save_photo(workshop=self.workshop, product_id=product_id, photo=read_photo(body.photo))
        return KeptOut(kept=True)
