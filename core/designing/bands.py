"""The cheapest way to send n of a product, for n = 1, 2, 3 ...; neighbours in the same container are a band
(designing).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from core.designing.cupboard import Desk, planned_for
from core.judgements import ORDINARY
from core.parcels.candidate import Candidate
from core.parcels.plan import PlannedOrder
from core.parcels.single import rank
from core.recipes.goods import Product
from core.recipes.model import Band, InnerCarton, Minutes, Recipe
from core.supplies.items import Container
from core.units import Micrometres, Milligrams, round_money

__all__ = ["MOST_UNITS", "SizeStep", "bands_of", "cheapest_per_size"]

#: So far the bands are worked out (the issue of step 3: n = 1 to 24).
MOST_UNITS = 24
#: Inner cartons tried for each size, smallest first.
_INNERS = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeStep:
    """The cheapest way to send so many."""

    units: int
    container: str
    inner: str | None
    total: Decimal
    each: Decimal  #: all in, rounded to the minor unit
    postage: Decimal
    gross_mg: Milligrams
    others: tuple[tuple[str, Decimal], ...] = ()  #: what so many cost in other containers, all in

    def total_in(self, container: str) -> Decimal:
        """Return what so many cost in one of the containers that take them. Raises KeyError for any other."""
        return self.total if container == self.container else dict(self.others)[container]


def cheapest_per_size(
    sketch: Callable[[int], Band],
    recipe: Recipe,
    product: Product,
    desk: Desk,
    *,
    two_cartons: bool = False,
    up_to: int = MOST_UNITS,
    known: Sequence[SizeStep] = (),
) -> tuple[SizeStep, ...]:
    """Return the cheapest container for 1, 2, 3 ... units, up to the first number no container takes.

    ``sketch`` gives the band for a number of units, its containers left open. ``known`` are the first sizes, worked out
    before by the same sketch: only those after them, to ``up_to``, are worked out now.
    """
    found: list[SizeStep] = list(known)
    for units in range(len(found) + 1, up_to + 1):
        band = sketch(units)
        best = _with_inner(band, recipe, product, units, desk) if two_cartons else None
        inner = best[1] if best else None
        ways = [best[0]] if best else _whole(band, recipe, product, units, desk)
        if not ways:
            break
        candidate = ways[0]
        found.append(
            SizeStep(
                units=units,
                container=candidate.container,
                inner=inner,
                total=candidate.costs.total,
                each=round_money(candidate.costs.total / units, desk.facts.settings.money_digits),
                postage=candidate.costs.postage,
                gross_mg=candidate.weight.gross_mg,
                others=tuple((way.container, way.costs.total) for way in ways[1:]),
            )
        )
    return tuple(found)


def bands_of(
    steps: tuple[SizeStep, ...], sketch: Callable[[int], Band], *, floating_um: Micrometres = ORDINARY.floating_um
) -> tuple[Band, ...]:
    """Return one band for each run of sizes in the same container, with that container named.

    Where the cheapest container changes to and fro from size to size, a run goes on in one container as long as
    that costs less than a column more is worth: a quarter of a mean parcel over its sizes (a judgement).
    """
    found = []
    for (container, inner), sizes in _runs(steps):
        found.append(
            replace(
                sketch(sizes[-1]),
                first=sizes[0],
                last=sizes[-1],
                outers=(container,),
                any_outer=True,
                inner=InnerCarton(container=inner, clearance_um=floating_um) if inner else None,
            )
        )
    return tuple(found)


_Key = tuple[str, str | None]


def _runs(steps: tuple[SizeStep, ...]) -> list[tuple[_Key, list[int]]]:
    """Part the sizes into runs of one container at the least cost, each run costing a little (dynamic programming)."""
    if not steps:
        return []
    a_run = sum((step.total for step in steps), Decimal(0)) / len(steps) / 4
    best: dict[_Key, tuple[Decimal, list[tuple[_Key, list[int]]]]] = {}
    for step in steps:
        least = min(best.values(), key=lambda one: one[0], default=(Decimal(0), []))
        now: dict[_Key, tuple[Decimal, list[tuple[_Key, list[int]]]]] = {}
        for key, cost in _costs(step).items():
            begun = (least[0] + a_run + cost, [*least[1], (key, [step.units])])
            if key in best and best[key][0] + cost <= begun[0]:
                *before, (_, sizes) = best[key][1]
                now[key] = (best[key][0] + cost, [*before, (key, [*sizes, step.units])])
            else:
                now[key] = begun
        best = now
    return min(best.values(), key=lambda one: one[0])[1]


def _costs(step: SizeStep) -> dict[_Key, Decimal]:
    """Return what the size costs in each container it may go in, the cheapest first."""
    plain: dict[_Key, Decimal] = {(step.container, step.inner): step.total}
    if step.inner is None:
        for container, total in step.others:
            plain.setdefault((container, None), total)
    return plain


def _whole(band: Band, recipe: Recipe, product: Product, units: int, desk: Desk) -> list[Candidate]:
    """Return every container that takes so many in one parcel, the best first."""
    plan = planned_for(replace(recipe, bands=(replace(band, first=1, last=units),)), product, units, desk)
    if not isinstance(plan, PlannedOrder):
        return []
    ways = [way.only for way in (plan.chosen, *plan.others) if len(way.parcels) == 1 and way.only.strapped is None]
    # A recipe names whole containers; cutting one down is the plan's own business.
    whole = [candidate for candidate in ways if candidate.change is None]
    return sorted(whole or ways, key=rank)


def _cheapest(band: Band, recipe: Recipe, product: Product, units: int, desk: Desk) -> Candidate | None:
    return next(iter(_whole(band, recipe, product, units, desk)), None)


def _floating(carton: str, desk: Desk) -> InnerCarton:
    return InnerCarton(container=carton, clearance_um=desk.facts.settings.judgements.floating_um)


def _with_inner(band: Band, recipe: Recipe, product: Product, units: int, desk: Desk) -> tuple[Candidate, str] | None:
    """Return the cheapest of a few inner cartons, smallest first, that take the units and float in an outer."""
    cartons = sorted(
        (one for one in desk.facts.containers if isinstance(one, Container) and not one.cut),
        key=lambda one: (one.inner.volume_um3, one.code),
    )
    more = Minutes(
        per_unit=band.minutes.per_unit, per_parcel=band.minutes.per_parcel + 1, per_order=band.minutes.per_order
    )
    found: list[tuple[Candidate, str]] = []
    for carton in cartons:
        floating = replace(band, inner=_floating(carton.code, desk), minutes=more)
        one = _cheapest(floating, recipe, product, units, desk)
        if one is not None:
            found.append((one, carton.code))
        if len(found) == _INNERS:
            break
    return min(found, key=lambda pair: rank(pair[0]), default=None)
