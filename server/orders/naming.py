"""What other programs call the workshop's products: matched once, remembered, forgotten (orders)."""

from collections.abc import Mapping

from django.db import transaction

from server.api.problems import Refused
from server.orders.models import GoodsName, Order, OrderLine
from server.recipes.models import Product
from server.workshops.happened import tell_order
from server.workshops.models import Workshop

__all__ = ["forget_name", "remember_names"]


@transaction.atomic
def remember_names(*, workshop: Workshop, names: Mapping[str, str]) -> None:
    """Remember which product each name means; open orders that came with the name get the product, too.

    ``names``: what is said -> product code. Raises Refused (422, unknown_product) by name.
    """
    if not names:
        return
    products = {one.sku: one for one in Product.objects.of(workshop).filter(sku__in=names.values(), retired_at=None)}
    for said, sku in names.items():
        if sku not in products:
            raise Refused(
                f"There is no product {sku} for {said}. Choose one of your products.",
                code="unknown_product",
                status=422,
                field="goods",
            )
    GoodsName.objects.of(workshop).bulk_create(
        [GoodsName(workshop=workshop, said=said, product=products[sku]) for said, sku in names.items()],
        update_conflicts=True,
        unique_fields=["workshop", "said"],
        update_fields=["product"],
    )
    _put_right(workshop, {said[:40]: products[sku] for said, sku in names.items()})


def _put_right(workshop: Workshop, names: Mapping[str, Product]) -> None:
    lines = OrderLine.objects.of(workshop).filter(product=None, sku__in=names, order__state__in=Order.OPEN)
    changed: dict[int, Order] = {}
    rows = list(lines.select_related("order"))
    for line in rows:
        product = names[line.sku]
        order = changed.setdefault(line.order_id, line.order)
        if order.came_as is not None:
            order.came_as = {
                **order.came_as,
                "lines": sorted(
                    [product.sku if sku == line.sku else sku, *rest] for sku, *rest in order.came_as["lines"]
                ),
            }
        line.sku, line.product = product.sku, product
        line.title = line.title or product.name
    OrderLine.objects.of(workshop).bulk_update(rows, ["sku", "product", "title"])
    Order.objects.of(workshop).bulk_update(changed.values(), ["came_as"])
    for order_id in changed:
        tell_order(workshop, order_id, other_goods=True)


@transaction.atomic
def forget_name(*, workshop: Workshop, name_id: int) -> None:
    """Forget a name. Raises Refused (404)."""
    if not GoodsName.objects.of(workshop).filter(pk=name_id).delete()[0]:
        raise Refused("There is no such name in your workshop.", code="not_found", status=404)
