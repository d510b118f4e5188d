"""What another cost of a supply does to parcels: by recipe, from what parcels of the last weeks drew (buying)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal

from django.utils import timezone

from server.recipes.naming import recipes_naming
from server.supplies.models import Entry, Supply
from server.workshops.models import Workshop

__all__ = ["CostEffect", "PerParcel", "cost_effects", "per_parcel"]

#: So many weeks back, and so many entries at most.
_WEEKS, _MOST = 12, 400


@dataclass(frozen=True, slots=True, kw_only=True)
class PerParcel:
    """What one parcel draws of a supply on average."""

    quantity: Decimal
    parcels: int  #: that this is taken from


@dataclass(frozen=True, slots=True, kw_only=True)
class CostEffect:
    """What a recipe's parcels would cost more."""

    recipe_id: int
    recipe: str
    quantity: Decimal | None  #: a parcel of it draws so much; None: none was packed lately
    more: Decimal | None  #: a parcel, at the other cost


def per_parcel(workshop: Workshop, supply: Supply) -> PerParcel:
    """Return what parcels drew lately, the newest entries first."""
    since = timezone.now() - timedelta(weeks=_WEEKS)
    rows = list(
        Entry.objects.of(workshop)
        .filter(supply=supply, kind="used", at__gte=since)
        .order_by("-id")
        .values_list("quantity", flat=True)[:_MOST]
    )
    total = -sum(rows, Decimal(0))
    return PerParcel(quantity=total / len(rows) if rows else Decimal(0), parcels=len(rows))


def cost_effects(workshop: Workshop, supply: Supply, more: Decimal) -> Sequence[CostEffect]:
    """Return, by recipe that names the supply, what a parcel costs more when one stock unit costs so much more.

    What a parcel draws is taken from parcels whose goods are all of that recipe.
    """
    since = timezone.now() - timedelta(weeks=_WEEKS)
    rows = (
        Entry.objects.of(workshop)
        .filter(supply=supply, kind="used", at__gte=since, parcel__isnull=False)
        .order_by("-id")
        .values_list("quantity", "parcel__recipe_versions")[:_MOST]
    )
    drawn: dict[str, list[Decimal]] = {}
    for quantity, versions in rows:
        if len(versions) == 1:
            drawn.setdefault(next(iter(versions)), []).append(-quantity)
    found = []
    for row in recipes_naming(workshop).get(supply.code, ()):
        if row.retired_at is None:
            mine = drawn.get(row.code, [])
            each = sum(mine, Decimal(0)) / len(mine) if mine else None
            found.append(
                CostEffect(
                    recipe_id=row.pk,
                    recipe=row.name,
                    quantity=each,
                    more=(each * more).quantize(Decimal("0.0001")) if each is not None else None,
                )
            )
    return found
