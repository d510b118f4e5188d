"""Ready or not: what each product lacks for each order size, with the way to fix it (designing).

What is said is what the plans say, so that an order's hold and this screen agree.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.bench.slips import slips_of
from core.bench.weighing import check_weight
from core.designing.cupboard import Desk
from core.designing.policies import Policy, breaches_of
from core.messages import Message, Text, say
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.recipes.damage import counted_chance, damage_prior
from core.recipes.expand import OrderLine
from core.recipes.goods import Product
from core.recipes.model import Band, Recipe, judged_units

__all__ = ["Lack", "SizeReadiness", "plans_in_plenty", "readiness_of"]

FixedAt = Literal["product", "recipe", "cupboard", "rates", "trial", "arrivals"]

#: Which screen fixes what a plan lacks.
_FIXED_AT: dict[str, FixedAt] = {
    "no_size": "product", "no_weight": "product", "unknown_product": "product", "no_service": "rates",
    "no_stock": "cupboard", "unknown_supply": "cupboard", "never_tried": "trial",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Lack:
    """One thing that is missing or to be minded."""

    code: str
    words: Text
    fix_at: FixedAt
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


def plans_in_plenty(product: Product, recipe: Recipe, desk: Desk) -> tuple[PlannedOrder | Blocked, ...]:
    """Return a plan of each band of the product's recipe with plenty on the shelf: stock that changes does not change
    them, so they may be kept. Ways that were not chosen are left out: they are most of a plan's size.
    """
    plans = (_plan(_line(product, recipe, band), desk, desk.plenty) for band in recipe.bands)
    return tuple(
        replace(plan, others=(), ruled_out=(), offer=None) if isinstance(plan, PlannedOrder) else plan for plan in plans
    )


def readiness_of(
    product: Product,
    recipe: Recipe | None,
    desk: Desk,
    policies: Collection[Policy],
    reorder: Mapping[str, Decimal],
    plenty: Sequence[PlannedOrder | Blocked] | None = None,
) -> tuple[SizeReadiness, ...]:
    """Return what is missing for each band of the product's recipe.

    ``reorder``: the reorder mark of each supply; one below its mark is to be minded, one at nought stops.
    ``plenty``: what ``plans_in_plenty`` said of the same, where it is known already.
    """
    if recipe is None:
        line = OrderLine(sku=product.sku, quantity=1, product=product, recipe=None)
        return (SizeReadiness(first=0, last=0, lacks=_of_plan(_plan(line, desk, desk.facts))),)
    found = []
    known = plenty if plenty is not None else plans_in_plenty(product, recipe, desk)
    for band, plan in zip(recipe.bands, known, strict=True):
        if not _in_stock(plan, desk.facts.free):
            plan = _plan(_line(product, recipe, band), desk, desk.facts)
        lacks = [*_of_plan(plan), *_of_policies(recipe, band, product, desk, policies)]
        if isinstance(plan, PlannedOrder):
            lacks += _of_stock(plan, desk, reorder)
            lacks += _hidden_units(plan, desk)
        lacks += _of_arrivals(recipe, product, desk)
        found.append(SizeReadiness(first=band.first, last=band.last, lacks=tuple(dict.fromkeys(lacks))))
    return tuple(found)


def _line(product: Product, recipe: Recipe, band: Band) -> OrderLine:
    return OrderLine(sku=product.sku, quantity=judged_units(band.first, band.last), product=product, recipe=recipe)


def _plan(line: OrderLine, desk: Desk, facts: Facts) -> PlannedOrder | Blocked:
    return plan_order((line,), facts, destination=desk.usual, ship_on=desk.ship_on, overrides=Overrides(parcels=1))


def _in_stock(plan: PlannedOrder | Blocked, free: Mapping[str, Decimal]) -> bool:
    """Return whether all the plan uses is there: the best way with plenty is then the best way now, too."""
    return isinstance(plan, PlannedOrder) and all(
        use.quantity <= free.get(use.supply, Decimal(0)) for use in plan.chosen.uses
    )


def _of_plan(plan: PlannedOrder | Blocked) -> tuple[Lack, ...]:
    if isinstance(plan, Blocked):
        return tuple(
            Lack(code=m.code, words=m.message, fix_at=_FIXED_AT.get(m.code, "recipe"), stops=True) for m in plan.missing
        )
    found = [
        Lack(code=exposure.code, words=exposure.message, fix_at="recipe", stops=exposure.fault)
        for candidate in plan.chosen.candidates
        for exposure in candidate.exposures
    ]
    # How near a price step lies depends on the order; what the carton bears does not.
    found += [
        Lack(code=warning.code, words=warning, fix_at="recipe", stops=False)
        for warning in plan.warnings
        if isinstance(warning, Message) and warning.code == "too_weak"
    ]
    return tuple(found)


def _hidden_units(plan: PlannedOrder, desk: Desk) -> list[Lack]:
    """A whole unit that may be missing without the scale asking (rules 8.3): weigh or count the fill, take a lighter
    one.
    """
    found = []
    settings = desk.facts.settings
    for parcel in plan.chosen.parcels:
        slips = slips_of(parcel, dict(desk.names), {})
        sigma = parcel.candidate.weight.sigma_mg
        for slip in (one for one in slips if one.kind == "unit_missing"):
            check = check_weight(
                expected_mg=0,
                sigma_mg=sigma,
                measured_mg=slip.effect_mg,
                slips=slips,
                look_cost=settings.look_cost,
                slip_one_in=settings.slip_one_in,
            )
            if check.fine:
                words = say("unit_hidden", slip=slip.what, unit_mg=-slip.effect_mg, sigma_mg=sigma)
                found.append(Lack(code="unit_hidden", words=words, fix_at="recipe", stops=False))
    return found


def _of_policies(recipe: Recipe, band: Band, product: Product, desk: Desk, policies: Collection[Policy]) -> list[Lack]:
    return [
        Lack(
            code=f"policy_{breach.policy}",
            words=say("breaks_policy", policy=say(f"policy_{breach.policy}"), how=breach.words),
            fix_at="recipe",
            stops=False,
        )
        for breach in breaches_of(replace(recipe, bands=(band,)), (product,), desk, policies)
    ]


#: Damaged so many times as often as such goods usually are, it is to be looked at; three at least (judgements).
_TIMES_PRIOR, _LEAST_DAMAGED = 2, 3


def _of_arrivals(recipe: Recipe, product: Product, desk: Desk) -> list[Lack]:
    """What tests and arrivals say: what was neither tested nor sent is not proven, what breaks often is looked at."""
    arrived = recipe.arrivals
    if arrived is None:
        if recipe.tried or recipe.trial_needed:
            return []
        words = say("version_not_proven", recipe=recipe.name)
        return [Lack(code="never_tried", words=words, fix_at="trial", stops=False)]
    prior = damage_prior(product.fragility, desk.facts.settings.judgements)
    often = counted_chance(prior, arrived) > _TIMES_PRIOR * prior
    if arrived.damaged < _LEAST_DAMAGED or not often:
        return []
    words = say("arrived_damaged", damaged=arrived.damaged, known=arrived.known)
    return [Lack(code="arrived_damaged", words=words, fix_at="arrivals", stops=False)]


def _of_stock(plan: PlannedOrder, desk: Desk, reorder: Mapping[str, Decimal]) -> list[Lack]:
    found = []
    for use in plan.chosen.uses:
        free, mark = desk.facts.free.get(use.supply, Decimal(0)), reorder.get(use.supply)
        if mark is not None and free - use.quantity < mark:
            words = say("runs_low", supply=desk.name(use.supply), free_number=free, mark_number=mark)
            found.append(Lack(code="runs_low", words=words, fix_at="cupboard", stops=False))
    return found
