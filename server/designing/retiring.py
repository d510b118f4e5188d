"""Retiring a supply: who still uses it, what could take its place, and putting that into the recipes."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django.db import transaction

from server.api.problems import Refused
from server.carriers.selectors import core_tariffs
from server.formats.supplies import CartonFacts, facts_of
from server.orders.models import Order
from server.recipes.models import Recipe
from server.recipes.naming import TEXTS, recipes_naming
from server.recipes.selectors import versions_in_force
from server.recipes.services import add_version
from server.supplies.models import Supply
from server.supplies.selectors import supplies_with_stock
from server.supplies.shelf import retire
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["SupplyUses", "retire_supply", "uses_of_supply"]

#: So many replacements are offered.
_OFFERED = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyUses:
    """Who would miss a supply."""

    recipes: tuple[Recipe, ...]  #: whose current version names it
    orders: tuple[Order, ...]  #: open ones that have some of it reserved
    on_hand: Decimal
    label: bool  #: it is the shipping label of every parcel
    replacements: tuple[Supply, ...]  #: of its kind, the most alike first


def uses_of_supply(workshop: Workshop, supply_id: int) -> SupplyUses:
    """Return who uses a supply now. Raises Refused (404)."""
    row = supplies_with_stock(workshop).filter(pk=supply_id).first()
    if row is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    orders = Order.objects.of(workshop).filter(plan__uses__supply=row, state__in=Order.OPEN).distinct()
    return SupplyUses(
        recipes=recipes_naming(workshop).get(row.code, ()),
        orders=tuple(orders),
        on_hand=row.on_hand,  # type: ignore[attr-defined]
        label=workshop.label_supply == row.code,
        replacements=tuple(sorted(_others(workshop, row), key=lambda one: _unlike(row, one))[:_OFFERED]),
    )


@transaction.atomic
def retire_supply(*, by: Member, supply_id: int, replace_by: int | None) -> Supply:
    """Take a supply out of use; in the recipes that name it another takes its place, each with a new version.

    Raises Refused: not_found; in_use when recipes name it and nothing takes its place; what a recipe says against it.
    """
    lock_workshop(by.workshop)
    uses = uses_of_supply(by.workshop, supply_id)
    row = Supply.objects.of(by.workshop).get(pk=supply_id)
    if uses.label:
        raise Refused(
            f"{row.name} is the label of every parcel. Choose another label under Settings first.", code="in_use"
        )
    if uses.recipes and replace_by is None:
        names = ", ".join(recipe.name for recipe in uses.recipes[:5])
        raise Refused(
            f"{row.name} is used by {len(uses.recipes)} recipes: {names}. Choose what takes its place.", code="in_use"
        )
    if uses.recipes:
        other = Supply.objects.of(by.workshop).filter(pk=replace_by or 0, kind=row.kind, retired_at=None).first()
        if other is None or other.pk == row.pk:
            raise Refused(f"Choose another supply of the kind {row.kind}.", code="not_found", status=422)
        _replace(by, uses.recipes, row, other)
    return retire(by=by, supply_id=supply_id)


def _others(workshop: Workshop, row: Supply) -> list[Supply]:
    """Return what may take its place anywhere: not a carrier's own package, not a carton there is one of."""
    packages = {one.code for tariff in core_tariffs(workshop) for one in tariff.packaging}
    rows = Supply.objects.of(workshop).filter(kind=row.kind, retired_at=None).exclude(pk=row.pk)
    return [one for one in rows if one.code not in packages and not one.facts.get("one_off")]


def _replace(by: Member, recipes: Sequence[Recipe], row: Supply, other: Supply) -> None:
    versions = versions_in_force(by.workshop, [recipe.pk for recipe in recipes])
    for recipe in recipes:
        version = versions[recipe.pk]
        add_version(
            by=by,
            recipe_id=recipe.pk,
            base_version=version.number,
            document=_with(version.document, row.code, other.code),
            reason=f"{row.code} is retired, {other.code} takes its place",
        )


def _with(document: Any, code: str, other: str) -> Any:
    """Return the document with another code in place of this one; a list that would name it twice names it once."""
    if isinstance(document, dict):
        return {k: v if k in TEXTS else _with(v, code, other) for k, v in document.items()}
    if isinstance(document, list):
        found = [_with(value, code, other) for value in document]
        if found and all(isinstance(value, str) for value in found):
            return list(dict.fromkeys(found))
        return found
    return other if document == code else document


def _unlike(row: Supply, other: Supply) -> tuple[bool, int, str]:
    """Return how far another supply is from this one: of cartons those first that take what it takes, by size."""
    mine, its = facts_of(row.facts), facts_of(other.facts)
    if isinstance(mine, CartonFacts) and isinstance(its, CartonFacts):
        pairs = list(zip(mine.inner.core().sides_um, its.inner.core().sides_um, strict=True))
        return any(its < own for own, its in pairs), sum(abs(own - its) for own, its in pairs), other.code
    return False, 0, other.code
