"""Arrivals follow what leaves, which recipes there are and which orders are planned (connected by ``apps``)."""

from collections.abc import Collection
from datetime import datetime
from typing import Any

from django.dispatch import receiver

from server.outcomes.counting import follow_recipe
from server.outcomes.picking import pick_versions
from server.outcomes.sending import forget_sent, record_sent
from server.outcomes.trials import look_at
from server.workshops.happened import orders_planned, parcels_left, recipe_changed
from server.workshops.models import Workshop

__all__: list[str] = []


@receiver(parcels_left, dispatch_uid="outcomes")
def _on_left(*, workshop: Workshop, parcel_ids: Collection[int], at: datetime | None, **_: Any) -> None:
    if at is None:
        forget_sent(workshop, parcel_ids)
    else:
        record_sent(workshop, parcel_ids)


@receiver(recipe_changed, dispatch_uid="outcomes")
def _on_recipe(*, workshop: Workshop, recipe_id: int, **_: Any) -> None:
    follow_recipe(workshop, recipe_id)
    look_at(workshop)  # a test at the table may have been the last of a trial


@receiver(orders_planned, dispatch_uid="outcomes")
def _on_planned(*, workshop: Workshop, order_ids: Collection[int], **_: Any) -> None:
    pick_versions(workshop, order_ids)
