"""An inner carton that floats in an outer, chosen for a band of a recipe (designing; rules 3.2)."""

from dataclasses import replace

from core.designing.cupboard import Desk, planned_for
from core.parcels.plan import PlannedOrder
from core.parcels.single import rank
from core.recipes.goods import Product
from core.recipes.model import Band, InnerCarton, Recipe, judged_units
from core.supplies.items import Container

__all__ = ["in_two_cartons"]


def in_two_cartons(band: Band, recipe: Recipe, product: Product, desk: Desk) -> Band | None:
    """Return the band with the cheapest inner carton that floats in an outer, for its largest order; None without."""
    units = judged_units(band.first, band.last)
    # A carrier's own carton is for its services: it goes inside nothing.
    carriers = {own.code for tariff in desk.facts.tariffs for own in tariff.packaging}
    cartons = sorted(
        (c for c in desk.facts.containers if isinstance(c, Container) and c.code not in carriers),
        key=lambda c: (c.inner.volume_um3, c.code),
    )
    found = []
    for carton in cartons:
        floating = replace(
            band,
            inner=InnerCarton(container=carton.code, clearance_um=desk.facts.settings.judgements.floating_um),
            any_outer=True,
            outers=(),
        )
        plan = planned_for(replace(recipe, bands=(replace(floating, first=1, last=units),)), product, units, desk)
        if isinstance(plan, PlannedOrder) and plan.chosen.only.strapped is None:
            found.append((rank(plan.chosen.only), plan.chosen.only.container, floating))
        if len(found) == 3:
            break
    if not found:
        return None
    _, container, floating = min(found, key=lambda one: one[0])
    return replace(floating, outers=(container,))
