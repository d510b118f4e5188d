"""Ready or not: what each product lacks for each order size, in words, with the way to mend it (designing).

The words are those of the plans, so that an order's hold and this screen say the same.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.designing.cupboard import Desk
from core.designing.policies import POLICY_WORDS, Policy, breaches_of
from core.parcels.facts import Overrides
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.recipes.goods import Product
from core.recipes.model import Band, Recipe, judged_units

__all__ = ["Lack", "SizeReadiness", "readiness_of"]

Mend = Literal["product", "recipe", "cupboard", "rates", "trial"]

#: Which screen mends what a plan lacks.
_MENDED_AT: dict[str, Mend] = {
    "no_size": "product", "no_weight": "product", "unknown_product": "product", "no_service": "rates",
    "no_stock": "cupboard", "unknown_supply": "cupboard", "never_tried": "trial",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Lack:
    """One thing that is missing or to be minded."""

    code: str
    words: str
    mend: Mend
    stops: bool  #: False: it can be packed, but mind this


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeReadiness:
    """One product in one order-size band; first and last are 0 when there is no recipe."""

    first: int
    last: int
    lacks: tuple[Lack, ...]

    @property
    def ready(self) -> bool:
        """Return whether an order of this size may be packed."""
        return not any(lack.stops for lack in self.lacks)


def readiness_of(
    product: Product, recipe: Recipe | None, desk: Desk, policies: Collection[Policy], reorder: Mapping[str, Decimal]
) -> tuple[SizeReadiness, ...]:
    """Return what is missing for each band of the product's recipe.

    ``reorder``: the reorder mark of each supply; one below its mark is to be minded, one at nought stops.
    """
    if recipe is None:
        line = OrderLine(sku=product.sku, quantity=1, product=product, recipe=None)
        return (SizeReadiness(first=0, last=0, lacks=_of_plan(_plan(line, desk))),)
    found = []
    for band in recipe.bands:
        units = judged_units(band.first, band.last)
        line = OrderLine(sku=product.sku, quantity=units, product=product, recipe=recipe)
        plan = _plan(line, desk)
        lacks = [*_of_plan(plan), *_of_policies(recipe, band, product, desk, policies)]
        if isinstance(plan, PlannedOrder):
            lacks += _of_stock(plan, desk, reorder)
        if not recipe.tried and not recipe.trial_needed:
            lacks.append(
                Lack(
                    code="never_tried",
                    words=f"The recipe was never tried as it is now: {recipe.name}.",
                    mend="trial",
                    stops=False,
                )
            )
        found.append(SizeReadiness(first=band.first, last=band.last, lacks=tuple(dict.fromkeys(lacks))))
    return tuple(found)


def _plan(line: OrderLine, desk: Desk) -> PlannedOrder | Blocked:
    return plan_order((line,), desk.facts, destination=desk.usual, ship_on=desk.ship_on, overrides=Overrides(parcels=1))


def _of_plan(plan: PlannedOrder | Blocked) -> tuple[Lack, ...]:
    if isinstance(plan, Blocked):
        return tuple(
            Lack(code=m.code, words=m.message, mend=_MENDED_AT.get(m.code, "recipe"), stops=True) for m in plan.missing
        )
    # How near a price step lies depends on the order; what the carton bears does not.
    return tuple(
        Lack(code="too_weak", words=words, mend="recipe", stops=False) for words in plan.warnings if " bears " in words
    )


def _of_policies(recipe: Recipe, band: Band, product: Product, desk: Desk, policies: Collection[Policy]) -> list[Lack]:
    return [
        Lack(
            code=f"policy_{breach.policy}",
            words=f"{POLICY_WORDS[breach.policy]}: {breach.words}",
            mend="recipe",
            stops=False,
        )
        for breach in breaches_of(replace(recipe, bands=(band,)), (product,), desk, policies)
    ]


def _of_stock(plan: PlannedOrder, desk: Desk, reorder: Mapping[str, Decimal]) -> list[Lack]:
    found = []
    for use in plan.chosen.uses:
        free, mark = desk.facts.free.get(use.supply, Decimal(0)), reorder.get(use.supply)
        if mark is not None and free - use.quantity < mark:
            words = f"{desk.name(use.supply)} runs low: {free.normalize():f} free, reorder at {mark.normalize():f}."
            found.append(Lack(code="runs_low", words=words, mend="cupboard", stops=False))
    return found
