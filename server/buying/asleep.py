"""Money asleep: stock that lasts longer than anything is bought for, and what would use it up (rules 14.5)."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from server.buying.reading import BuyRead
from server.recipes.models import Recipe
from server.recipes.selectors import versions_in_force
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["Asleep", "asleep_of", "recipes_naming"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Asleep:
    """One supply with more of it than will be used in the longest cover."""

    supply: Supply
    quantity: Decimal  #: what is left then
    value: Decimal  #: of that, at its average cost
    never_used: bool
    last_used: date | None
    recipes: tuple[tuple[int, str], ...]  #: that name it, or could: id and name
    named: bool  #: they name it already


def asleep_of(workshop: Workshop, read: BuyRead) -> tuple[Asleep, ...]:
    """Return the stock nobody needs soon, the most money first."""
    found = []
    named = recipes_naming(workshop)
    for one in read.supplies:
        row = read.rows[one.need.code]
        at = min(read.shop.longest_days, len(one.outlook.days)) - 1
        left = one.outlook.level_on(at) - sum((a.quantity for a in one.need.arrivals), Decimal(0))
        left = min(left, one.need.on_hand)
        if left <= 0:
            continue
        value = (left * row.average_cost).quantize(Decimal("0.01"))  # type: ignore[attr-defined]
        if value <= 0:
            continue
        last = getattr(row, "balance", None)
        mine = named.get(row.code, ())
        found.append(
            Asleep(
                supply=row,
                quantity=left,
                value=value,
                never_used=last is None or last.last_used_at is None,
                last_used=last.last_used_at.date() if last is not None and last.last_used_at else None,
                recipes=mine or _could(named, read, row),
                named=bool(mine),
            )
        )
    return tuple(sorted(found, key=lambda each: (-each.value, each.supply.code)))


def recipes_naming(workshop: Workshop) -> dict[str, tuple[tuple[int, str], ...]]:
    """Return the recipes in force that name each supply, by its code."""
    rows = {row.pk: row for row in Recipe.objects.of(workshop).filter(retired_at=None).order_by("name", "pk")}
    versions = versions_in_force(workshop, rows)
    found: dict[str, tuple[tuple[int, str], ...]] = {}
    for recipe_id, row in rows.items():
        if recipe_id in versions:
            for code in _texts(versions[recipe_id].document):
                found[code] = (*found.get(code, ()), (row.pk, row.name))
    return found


def _could(named: dict[str, tuple[tuple[int, str], ...]], read: BuyRead, row: Supply) -> tuple[tuple[int, str], ...]:
    """Return recipes that name another supply of the same kind which is used: those could take this one."""
    found: dict[int, str] = {}
    for one in read.supplies:
        other = read.rows[one.need.code]
        if other.kind == row.kind and other.pk != row.pk and any(one.outlook.use):
            found.update(dict(named.get(other.code, ())))
    return tuple(sorted(found.items(), key=lambda each: each[1]))[:6]


def _texts(value: object) -> set[str]:
    if isinstance(value, str):
        return {value}
    if isinstance(value, dict):
        return set().union(*(_texts(one) for one in value.values()))
    return set().union(*(_texts(one) for one in value)) if isinstance(value, list) else set()
