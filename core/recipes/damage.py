"""The chance that a parcel arrives damaged: the prior of its goods, and what its recipe's arrivals say (recipes).

For planning a few arrivals must not swing a rate about: the prior counts as thirty parcels, so 2 of 40 with a prior of
1.5 % plans with 3.5 %, and 0 of 30 with one of 4 % with 2.0 % (rules 17.2). Pure.
"""

from dataclasses import dataclass
from decimal import Decimal

from core.judgements import ORDINARY, Judgements
from core.recipes.goods import Fragility

__all__ = ["PRIOR_PARCELS", "Arrivals", "counted_chance", "damage_prior", "planning_rate"]

#: The prior weighs as many parcels.
PRIOR_PARCELS = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class Arrivals:
    """How parcels packed alike arrived: so many of so many damaged."""

    damaged: int
    known: int


def damage_prior(fragility: Fragility, judged: Judgements = ORDINARY) -> Decimal:
    """Return the chance that a parcel of such goods arrives damaged, before arrivals are counted (rules 5.3)."""
    return {
        "sturdy": judged.damage_sturdy,
        "delicate": judged.damage_delicate,
        "fragile": judged.damage_fragile,
    }[fragility]


def planning_rate(prior: Decimal, damaged: int, known: int) -> Decimal:
    """Return the chance of damage to plan with.

    >>> planning_rate(Decimal("0.015"), 2, 40), planning_rate(Decimal("0.04"), 0, 30)
    (Decimal('0.035'), Decimal('0.02'))

    Raises ValueError when more are damaged than are known.
    """
    if not 0 <= damaged <= known:
        raise ValueError(f"{damaged} of {known}")
    return (prior * PRIOR_PARCELS + damaged) / (PRIOR_PARCELS + known)


def counted_chance(prior: Decimal, arrivals: Arrivals | None) -> Decimal:
    """Return the chance to plan with: the prior where no arrival is known."""
    if arrivals is None:
        return prior
    return planning_rate(prior, arrivals.damaged, arrivals.known).quantize(Decimal("0.000001"))
