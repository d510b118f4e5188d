"""Open plans follow what happens below: what they rest on changed, so they are stale (plans; connected by ``apps``).

A plan that is stale is planned again by the worker, or when somebody opens it.
"""

from collections.abc import Collection
from typing import Any

from django.db import transaction
from django.db.models import Q
from django.dispatch import receiver

from server.orders.models import Order
from server.plans.cuts import refresh_narrowest_cuts
from server.plans.models import Plan, PlanDocument
from server.plans.services import plan_later
from server.recipes.models import Product, Recipe
from server.workshops.happened import anything_changed, order_cancelled, order_changed, recipe_changed, stock_moved
from server.workshops.models import Workshop

__all__: list[str] = []


@receiver(anything_changed, dispatch_uid="plans")
def _on_anything(*, workshop: Workshop, **_: Any) -> None:
    refresh_narrowest_cuts(workshop)
    _mark(workshop, Q())


@receiver(stock_moved, dispatch_uid="plans")
def _on_stock(*, workshop: Workshop, supply_ids: Collection[int], **_: Any) -> None:
    """Plans that use one of the supplies, and those that lacked something."""
    _mark(workshop, Q(uses__supply_id__in=supply_ids) | Q(status="blocked"))


@receiver(recipe_changed, dispatch_uid="plans")
def _on_recipe(*, workshop: Workshop, recipe_id: int, **_: Any) -> None:
    """Orders of its products, of sets that hold them, and all when it is for a named mix."""
    if Recipe.objects.of(workshop).filter(pk=recipe_id, for_mix=True).exists():
        _on_anything(workshop=workshop)
        return
    refresh_narrowest_cuts(workshop)
    packed = set(Product.objects.of(workshop).filter(recipe_id=recipe_id).values_list("sku", flat=True))
    sets = Product.objects.of(workshop).exclude(contents=[]).values_list("pk", "contents")
    holding = [pk for pk, contents in sets if packed & {item["sku"] for item in contents}]
    which = Q(order__lines__product__recipe_id=recipe_id) | Q(order__lines__product_id__in=holding)
    _mark(workshop, which | Q(status="blocked"))


@receiver(order_cancelled, dispatch_uid="plans")
def _on_cancelled(*, workshop: Workshop, order_id: int, **_: Any) -> None:
    """Give up its plan and what that promised; orders that lacked something may have it now."""
    plan = Plan.objects.of(workshop).filter(order_id=order_id).first()
    if plan is not None:
        plan.delete()
        PlanDocument.objects.of(workshop).filter(pk=plan.kept_id, parcels=None).delete()
        _mark(workshop, Q(status="blocked"))


@receiver(order_changed, dispatch_uid="plans")
def _on_changed(*, workshop: Workshop, order_id: int, other_goods: bool, **_: Any) -> None:
    """Its plan is made again; what a person decided for other goods is forgotten. What it promised is freed then."""
    plans = Plan.objects.of(workshop).filter(order_id=order_id)
    if other_goods:
        plans.update(overrides={})
    _mark(workshop, Q(order_id=order_id))


@transaction.atomic
def _mark(workshop: Workshop, which: Q) -> None:
    stale = Plan.objects.of(workshop).filter(which, order__state__in=Order.OPEN).values("pk")
    if Plan.objects.of(workshop).filter(pk__in=stale).update(stale=True):
        plan_later(workshop)
