"""What the bench tells when it is asked (bench; connected by ``apps``)."""

from decimal import Decimal
from typing import Any

from django.dispatch import receiver

from server.bench.models import ReadyParcel
from server.plans.standing import Standing, standing_asked
from server.workshops.models import Workshop

__all__: list[str] = []

#: More than a shelf holds; the oldest are taken first.
_MOST = 500


@receiver(standing_asked, dispatch_uid="bench")
def _on_standing(*, workshop: Workshop, **_: Any) -> list[Standing]:
    rows = ReadyParcel.objects.of(workshop).filter(state=ReadyParcel.State.READY).order_by("packed_at", "id")
    return [
        Standing(
            id=row.pk,
            goods=(row.product.sku, row.units),
            container=row.container,
            recipe=row.version.recipe.code,
            version=row.version.number,
            used={code: Decimal(quantity) for code, quantity in row.used.items()},
        )
        for row in rows.select_related("product", "version__recipe")[:_MOST]
    ]
