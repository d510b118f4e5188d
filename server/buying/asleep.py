"""Money asleep: stock that lasts longer than anything is bought for, and what would use it up (rules 14.5)."""

from collections.abc import Mapping
from datetime import date
from decimal import Decimal

from pydantic import BaseModel

from server.buying.reading import BuyRead, read_buying
from server.recipes.naming import recipes_naming
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["AsleepsOut", "NamingRecipe", "asleeps_out", "named_by"]

#: So many recipes that could take it are named.
_COULD = 6


class NamingRecipe(BaseModel):
    """A recipe."""

    id: int
    name: str


class AsleepOut(BaseModel):
    """Stock nobody needs soon."""

    supply_id: int
    code: str
    name: str
    place: str
    unit: str
    quantity: Decimal
    cost: Decimal
    never_used: bool
    last_used: date | None
    recipes: list[NamingRecipe]  #: that name it; where none does, that could take it
    named: bool


class AsleepsOut(BaseModel):
    """Money asleep."""

    total: Decimal
    longest_weeks: int
    rows: list[AsleepOut]


def asleeps_out(workshop: Workshop) -> AsleepsOut:
    """Return the money asleep, the most first."""
    read = read_buying(workshop)
    named = named_by(workshop)
    found = []
    for one in read.supplies:
        row = read.rows[one.need.code]
        left = one.asleep(read.shop)
        cost = (left * row.average_cost).quantize(Decimal("0.01"))  # type: ignore[attr-defined]
        if cost <= 0:
            continue
        last = getattr(row, "balance", None)
        mine = named.get(row.code, [])
        found.append(
            AsleepOut(
                supply_id=row.pk,
                code=row.code,
                name=row.name,
                place=row.place,
                unit=row.unit,
                quantity=left,
                cost=cost,
                never_used=last is None or last.last_used_at is None,
                last_used=last.last_used_at.date() if last is not None and last.last_used_at else None,
                recipes=mine or _could(named, read, row),
                named=bool(mine),
            )
        )
    return AsleepsOut(
        total=sum((one.cost for one in found), Decimal(0)),
        longest_weeks=read.shop.buying.longest_weeks,
        rows=sorted(found, key=lambda one: (-one.cost, one.code)),
    )


def named_by(workshop: Workshop) -> dict[str, list[NamingRecipe]]:
    """Return the recipes in use that name each supply, by its code."""
    return {
        code: [NamingRecipe(id=row.pk, name=row.name) for row in rows if row.retired_at is None]
        for code, rows in recipes_naming(workshop).items()
    }


def _could(named: Mapping[str, list[NamingRecipe]], read: BuyRead, row: Supply) -> list[NamingRecipe]:
    """Return recipes that name another supply of the same kind which is used: those could take this one."""
    found: dict[int, NamingRecipe] = {}
    for one in read.supplies:
        other = read.rows[one.need.code]
        if other.kind == row.kind and other.pk != row.pk and any(one.outlook.use):
            found |= {recipe.id: recipe for recipe in named.get(other.code, [])}
    return sorted(found.values(), key=lambda each: each.name)[:_COULD]
