"""What can be packed and what is missing, over HTTP: thin."""

from pydantic import BaseModel

from core.designing.readiness import SizeReadiness
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.designing import readiness
from server.recipes.models import Product

__all__ = ["ReadinessView"]


class ProductReadiness(BaseModel):
    """One product: ready for each order size, or what is missing."""

    product_id: int
    sku: str
    name: str
    recipe_id: int | None
    recipe: str | None
    ready: bool
    sizes: list[SizeReadiness]
    ready_sizes: list[bool]


class ReadinessView(MemberView):
    """GET /api/readiness"""

    @operation("readiness")
    def get(self) -> Page[ProductReadiness]:
        """Every product by order size: ready, or what is missing, newest products first."""
        rows = (
            Product.objects.of(self.workshop)
            .filter(contents=[], retired_at=None)
            .select_related("recipe")
            .order_by("-pk")
        )
        return self.paged(rows, lambda page: [_readiness(*one) for one in readiness.of_products(self.workshop, page)])


def _readiness(row: Product, sizes: tuple[SizeReadiness, ...]) -> ProductReadiness:
    return ProductReadiness(
        product_id=row.pk,
        sku=row.sku,
        name=row.name,
        recipe_id=row.recipe_id,
        recipe=row.recipe.name if row.recipe else None,
        ready=all(size.ready for size in sizes),
        sizes=list(sizes),
        ready_sizes=[size.ready for size in sizes],
    )


# --- policies ---------------------------------------------------------------------------------------------
