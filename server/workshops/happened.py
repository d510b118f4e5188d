"""What happened in a room, told to whoever it concerns: a lower room need not know who that is (workshops).

Told inside the transaction that did it: what a listener writes is saved with it or taken back with it, so nothing has
to be remembered in between, not even when the process is killed (docs/decisions, 27).
"""

from collections.abc import Collection
from datetime import datetime

from django.db.models import F
from django.dispatch import Signal

from server.workshops.models import Workshop

__all__ = [
    "anything_changed",
    "order_cancelled",
    "order_changed",
    "orders_planned",
    "parcels_left",
    "recipe_changed",
    "stock_moved",
    "tell_anything",
    "tell_cancelled",
    "tell_left",
    "tell_order",
    "tell_planned",
    "tell_recipe",
    "tell_stock",
]

#: Stock was received, counted or taken: ``workshop``, ``supply_ids``.
stock_moved = Signal()
#: A recipe has a new version, or a test of it came in: ``workshop``, ``recipe_id``.
recipe_changed = Signal()
#: Supplies, products, price lists or rules are others: anything may come out differently. ``workshop``.
anything_changed = Signal()
#: An order was cancelled: ``workshop``, ``order_id``.
order_cancelled = Signal()
#: An open order was changed: ``workshop``, ``order_id``, ``other_goods``: whether its lines are others.
order_changed = Signal()

#: Orders have a plan, made or made again: ``workshop``, ``order_ids``.
orders_planned = Signal()
#: Parcels have left, or (``at`` None) have not after all: ``workshop``, ``parcel_ids``, ``at``.
parcels_left = Signal()


def _count(workshop: Workshop) -> None:
    """Whoever made a plan while this happened sees that it rests on something else (plans.writing)."""
    Workshop.objects.filter(pk=workshop.pk).update(changes=F("changes") + 1)


def tell_stock(workshop: Workshop, supply_ids: Collection[int]) -> None:
    """Tell that the stock of these supplies moved."""
    _count(workshop)
    stock_moved.send(sender=Workshop, workshop=workshop, supply_ids=supply_ids)


def tell_recipe(workshop: Workshop, recipe_id: int) -> None:
    """Tell that a recipe changed."""
    _count(workshop)
    recipe_changed.send(sender=Workshop, workshop=workshop, recipe_id=recipe_id)


def tell_anything(workshop: Workshop) -> None:
    """Tell that something changed that everything may rest on."""
    _count(workshop)
    anything_changed.send(sender=Workshop, workshop=workshop)


def tell_cancelled(workshop: Workshop, order_id: int) -> None:
    """Tell that an order will not be sent."""
    order_cancelled.send(sender=Workshop, workshop=workshop, order_id=order_id)


def tell_order(workshop: Workshop, order_id: int, *, other_goods: bool) -> None:
    """Tell that an open order was changed, and whether its goods are others."""
    order_changed.send(sender=Workshop, workshop=workshop, order_id=order_id, other_goods=other_goods)


def tell_planned(workshop: Workshop, order_ids: Collection[int]) -> None:
    """Tell that these orders have a plan."""
    orders_planned.send(sender=Workshop, workshop=workshop, order_ids=order_ids)


def tell_left(workshop: Workshop, parcel_ids: Collection[int], at: datetime | None) -> None:
    """Tell that parcels have left, or that they have not after all."""
    parcels_left.send(sender=Workshop, workshop=workshop, parcel_ids=parcel_ids, at=at)
