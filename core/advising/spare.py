"""Room to spare in money: how many more ship for no more postage, or for little; cost per unit as the order grows.

Every number of units is planned in full (advising; rules 11.5). Pure.
"""

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from core.messages import Text, say
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.expand import OrderLine, merged
from core.recipes.model import Occasion
from core.tariffs.model import Place
from core.units import Milligrams

__all__ = ["MOST_SPARE", "Spare", "UnitCost", "spare_in", "unit_costs"]

#: Nobody looks further than so many more of one product.
MOST_SPARE = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Spare:
    """How many more of one product ship for no more postage, and for no more than a little."""

    sku: str
    name: str
    for_nothing: int
    for_little: int
    little: Decimal  #: what those cost in postage more
    then: Text  #: what the next one would mean


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitCost:
    """So many of one product, all in; costs are of the whole order, None when it cannot be planned."""

    units: int
    total: Decimal | None
    each: Decimal | None
    postage: Decimal
    materials: Decimal
    minutes: Decimal
    containers: str
    services: str
    gross_mg: Milligrams
    problem: Text = ""


def spare_in(
    plan: PlannedOrder,
    lines: tuple[OrderLine, ...],
    facts: Facts,
    *,
    destination: Place,
    ship_on: date,
    occasion: Occasion,
    little: Decimal,
    overrides: Overrides,
) -> tuple[Spare, ...]:
    """Return for each product of the order how many more would go in any container; sets are left as they are.

    Containers the recipe does not name are looked at as well: the question is what postage allows.

    A container a person chose for this order is not held to: with more goods another may be right.
    """
    free = replace(overrides, container=None, parcels=None, shares=())
    found = []
    for line in merged(tuple(line for line in lines if not line.bundle)):
        postage = plan.chosen.costs.postage
        for_nothing, for_little, cost = 0, 0, Decimal(0)
        then: Text = ""
        for more in range(1, MOST_SPARE + 1):
            larger = _with_more(lines, line.sku, more)
            other = plan_order(
                larger,
                facts,
                destination=destination,
                ship_on=ship_on,
                overrides=free,
                occasion=occasion,
                thermal=plan.wish,
            )
            if not isinstance(other, PlannedOrder):
                then = other.missing[0].message if other.missing else say("cannot_be_planned")
                break
            best = min((other.chosen, *other.others), key=lambda way: (way.costs.postage, way.costs.total))
            dearer = best.costs.postage - postage
            if dearer > little:
                then = say("more_postage", more_money=dearer, containers=best.containers)
                break
            for_little, cost = more, max(dearer, Decimal(0))
            if dearer <= 0:
                for_nothing = more
        name = line.product.name if line.product else line.sku
        found.append(
            Spare(sku=line.sku, name=name, for_nothing=for_nothing, for_little=for_little, little=cost, then=then)
        )
    return tuple(found)


def _with_more(lines: tuple[OrderLine, ...], sku: str, more: int) -> tuple[OrderLine, ...]:
    """Return the order with so many more of one loose product, on its first line."""
    at = next(n for n, line in enumerate(lines) if line.sku == sku and not line.bundle)
    return tuple(replace(line, quantity=line.quantity + more) if n == at else line for n, line in enumerate(lines))


def unit_costs(line: OrderLine, facts: Facts, *, destination: Place, ship_on: date, most: int) -> tuple[UnitCost, ...]:
    """Return what 1, 2, 3 ... ``most`` of a product come to, each planned as an order of its own."""
    found = []
    for units in range(1, most + 1):
        plan = plan_order((replace(line, quantity=units),), facts, destination=destination, ship_on=ship_on)
        if not isinstance(plan, PlannedOrder):
            found.append(_unplanned(units, plan.missing[0].message if plan.missing else say("cannot_be_planned")))
            continue
        costs, candidates = plan.chosen.costs, plan.chosen.candidates
        found.append(
            UnitCost(
                units=units,
                total=costs.total,
                each=(costs.total / units).quantize(Decimal("0.01")),
                postage=costs.postage,
                materials=costs.materials,
                minutes=plan.chosen.minutes,
                containers=" + ".join(plan.chosen.containers),
                services=" + ".join(dict.fromkeys(one.quote.service_name for one in candidates)),
                gross_mg=sum(one.weight.gross_mg for one in candidates),
            )
        )
    return tuple(found)


def _unplanned(units: int, problem: Text) -> UnitCost:
    return UnitCost(
        units=units,
        total=None,
        each=None,
        postage=Decimal(0),
        materials=Decimal(0),
        minutes=Decimal(0),
        containers="",
        services="",
        gross_mg=0,
        problem=problem,
    )
