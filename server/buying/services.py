"""What a workshop judges of buying, written down (buying)."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from django.db import transaction

from server.api.problems import Refused
from server.buying.models import BuyingSettings
from server.supplies.models import Supply
from server.workshops.happened import tell_anything
from server.workshops.models import Member, lock_workshop

__all__ = ["save_settings", "set_place"]


@transaction.atomic
def save_settings(*, by: Member, values: dict[str, Any], season: Sequence[Decimal]) -> BuyingSettings:
    """Write the settings down. Raises Refused (not_valid)."""
    lock_workshop(by.workshop)
    if values["longest_weeks"] < values["cover_weeks"]:
        raise Refused(
            "An order is to last so long: nothing may be bought for less than that.",
            code="not_valid",
            status=422,
            field="longest_weeks",
        )
    row, _ = BuyingSettings.objects.of(by.workshop).update_or_create(
        workshop=by.workshop, defaults={**values, "season": [f"{factor:f}" for factor in season]}
    )
    return row


@transaction.atomic
def set_place(*, by: Member, supply_id: int, room: Decimal | None, successor_id: int | None) -> Supply:
    """Say what a slot takes, and what takes a supply's place once it is used up. Raises Refused (404, not_valid)."""
    lock_workshop(by.workshop)
    row = Supply.objects.of(by.workshop).select_for_update(no_key=True).filter(pk=supply_id).first()
    if row is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    other = Supply.objects.of(by.workshop).filter(pk=successor_id).first() if successor_id is not None else None
    if successor_id is not None and other is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    if other is not None and (other.pk == row.pk or other.kind != row.kind or other.successor_id == row.pk):
        raise Refused(
            f"{row.name} can be followed by another {row.kind}; not by {other.name}.",
            code="not_valid",
            status=422,
            field="successor_id",
        )
    followed = row.successor
    row.room, row.successor = room, other
    row.save(update_fields=["room", "successor"])
    if followed != other:
        tell_anything(by.workshop)
    return row
