"""Changes of facts that can be tried on our own orders: each a small value, applied to a copy of the world (money;
rules 22.1). Pure.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from functools import partial

from core.money.policies import Policy
from core.parcels.facts import Facts
from core.parcels.plan import PlannedOrder
from core.recipes.bodies import Shelf
from core.recipes.damage import Arrivals
from core.recipes.expand import OrderLine
from core.recipes.model import Band, Minutes, Recipe
from core.recipes.successors import with_instead
from core.supplies.items import Container
from core.tariffs.model import Tariff

__all__ = [
    "Change", "ChargedBy", "DamageRate", "Instead", "MinutesFactor", "NewContainer", "OneNumber", "OtherVersion",
    "PriceList", "SendDays", "Services", "SupplyPrice", "Wage", "WithoutContainer", "World", "applied",
    "lines_under", "may_touch",
]  # fmt: skip

#: So many arrivals that the prior of thirty parcels does not show.
_COUNTLESS = 10**9
_PLENTY = Decimal(1_000_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wage:
    """Another wage an hour."""

    per_hour: Decimal

    @property
    def number(self) -> Decimal:
        """Return the number it is about."""
        return self.per_hour

    def at(self, number: Decimal) -> "Wage":
        """Return the change with another number."""
        return Wage(per_hour=number)

    def now(self, world: "World") -> Decimal:
        """Return what the number is now."""
        return world.facts.settings.wage_per_hour


@dataclass(frozen=True, slots=True, kw_only=True)
class WithoutContainer:
    """A kind of carton or mailer is gone; recipes that name it take the cheapest that fits in its place."""

    code: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NewContainer:
    """A kind of carton is there, and every recipe may take it."""

    container: Container


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceList:
    """A price list holds: everything is sent on ``on``, once by ``without``, once by ``tariffs``."""

    without: tuple[Tariff, ...]
    tariffs: tuple[Tariff, ...]
    on: date


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherVersion:
    """A recipe is packed by another version of it."""

    recipe: Recipe


@dataclass(frozen=True, slots=True, kw_only=True)
class Instead:
    """Every recipe takes another supply in place of one: a wrap, a fill, a carton, an insert."""

    old: str
    new: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DamageRate:
    """So many of the parcels of a recipe arrive damaged."""

    recipe: str
    rate: Decimal  #: 0 to 1


@dataclass(frozen=True, slots=True, kw_only=True)
class MinutesFactor:
    """A recipe takes more or fewer minutes."""

    recipe: str
    factor: Decimal

    @property
    def number(self) -> Decimal:
        """Return the number it is about."""
        return self.factor

    def at(self, number: Decimal) -> "MinutesFactor":
        """Return the change with another number."""
        return MinutesFactor(recipe=self.recipe, factor=number)

    def now(self, world: "World") -> Decimal:
        """Return what the number is now: the recipe's own minutes."""
        return Decimal(1)


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyPrice:
    """A supply costs another price."""

    code: str
    unit_cost: Decimal  #: of a stock unit

    @property
    def number(self) -> Decimal:
        """Return the number it is about."""
        return self.unit_cost

    def at(self, number: Decimal) -> "SupplyPrice":
        """Return the change with another number."""
        return SupplyPrice(code=self.code, unit_cost=number)

    def now(self, world: "World") -> Decimal:
        """Return what the number is now."""
        return _price_of(world.facts, self.code)


@dataclass(frozen=True, slots=True, kw_only=True)
class SendDays:
    """Parcels are handed over on other days of the week."""

    days: tuple[int, ...]  #: Monday is 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Services:
    """Only these services are used; empty: all."""

    codes: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargedBy:
    """Buyers are charged by another policy."""

    policy: Policy


Change = (
    Wage | WithoutContainer | NewContainer | PriceList | OtherVersion | Instead | DamageRate | MinutesFactor
    | SupplyPrice | SendDays | Services | ChargedBy
)  # fmt: skip
#: Changes of a single number: it can be asked from which on they matter.
OneNumber = Wage | SupplyPrice | MinutesFactor


@dataclass(frozen=True, slots=True, kw_only=True)
class World:
    """What every order of the period is planned by."""

    facts: Facts
    ship_on: date
    send_days: tuple[int, ...]  #: of the week; looked at only where ``by_weekday``
    by_weekday: bool = False  #: an order leaves on the send day after the weekday it was placed on
    forbidden: tuple[str, ...] = ()
    offered: tuple[str, ...] = ()  #: containers taken wherever they are cheaper than the recipe's own choice
    policy: Policy | None = None  #: buyers are charged by it; None: as they were


def applied(world: World, changes: Sequence[Change]) -> tuple[World, World]:
    """Return the world before and after the changes. Both are dated alike, so that only the changes differ."""
    before = after = world
    for change in changes:
        match change:
            case PriceList(without=without, tariffs=tariffs, on=on):
                before = replace(before, facts=replace(before.facts, tariffs=without), ship_on=on)
                after = replace(after, facts=replace(after.facts, tariffs=tariffs), ship_on=on)
            case SendDays(days=days):
                before = replace(before, by_weekday=True)
                after = replace(after, by_weekday=True, send_days=days)
            case Wage(per_hour=wage):
                after = _settled(after, wage_per_hour=wage)
            case Services(codes=codes):
                choosing = replace(after.facts.settings.choosing, services=codes)
                after = _settled(after, choosing=choosing)
            case WithoutContainer(code=code):
                after = replace(after, forbidden=(*after.forbidden, code))
            case NewContainer(container=container):
                facts = after.facts
                free = {**facts.free, container.code: _PLENTY}
                facts = replace(facts, containers=(*facts.containers, container), free=free)
                after = replace(after, facts=facts, offered=(*after.offered, container.code))
            case SupplyPrice(code=code, unit_cost=cost):
                after = replace(after, facts=_priced(after.facts, code, cost))
            case ChargedBy(policy=policy):
                after = replace(after, policy=policy)
            case _:  # of recipes: see lines_under
                pass
    return before, after


def _settled(world: World, **values: object) -> World:
    return replace(world, facts=replace(world.facts, settings=replace(world.facts.settings, **values)))  # type: ignore[arg-type]


def _priced(facts: Facts, code: str, cost: Decimal) -> Facts:
    def other(items: Mapping[str, object]) -> dict[str, object]:
        return {key: replace(one, unit_cost=cost) if key == code else one for key, one in items.items()}  # type: ignore[type-var]

    shelf = facts.shelf
    return replace(
        facts,
        containers=tuple(replace(one, unit_cost=cost) if one.code == code else one for one in facts.containers),
        shelf=Shelf(
            wraps=other(shelf.wraps),  # type: ignore[arg-type]
            fills=other(shelf.fills),  # type: ignore[arg-type]
            tapes=other(shelf.tapes),  # type: ignore[arg-type]
            inserts=other(shelf.inserts),  # type: ignore[arg-type]
            unit_boxes=other(shelf.unit_boxes),  # type: ignore[arg-type]
        ),
    )


def lines_under(lines: tuple[OrderLine, ...], changes: Sequence[Change]) -> tuple[OrderLine, ...]:
    """Return an order's lines with its recipes as the changes make them."""
    for change in changes:
        match change:
            case OtherVersion(recipe=recipe):
                lines = tuple(
                    replace(line, recipe=recipe)
                    if line.recipe is not None and line.recipe.code == recipe.code
                    else line
                    for line in lines
                )
            case Instead(old=old, new=new):
                lines = with_instead(lines, {old: new})
            case DamageRate(recipe=code, rate=rate):
                lines = _recipes(lines, code, partial(_arriving, rate=rate))
            case MinutesFactor(recipe=code, factor=factor):
                lines = _recipes(lines, code, partial(_slower, factor=factor))
            case WithoutContainer(code=code):
                lines = _recipes(lines, None, partial(_without, container=code))
            case NewContainer(container=container):
                lines = _recipes(lines, None, partial(_also, container=container.code))
            case _:  # of facts: see applied
                pass
    return lines


def _recipes(
    lines: tuple[OrderLine, ...], code: str | None, change: Callable[[Recipe], Recipe]
) -> tuple[OrderLine, ...]:
    return tuple(
        replace(line, recipe=change(line.recipe))
        if line.recipe is not None and code in (None, line.recipe.code)
        else line
        for line in lines
    )


def _arriving(recipe: Recipe, rate: Decimal) -> Recipe:
    return replace(recipe, arrivals=Arrivals(damaged=round(rate * _COUNTLESS), known=_COUNTLESS))


def _slower(recipe: Recipe, factor: Decimal) -> Recipe:
    def other(band: Band) -> Band:
        old = band.minutes
        minutes = Minutes(
            per_unit=old.per_unit * factor, per_parcel=old.per_parcel * factor, per_order=old.per_order * factor
        )
        return replace(band, minutes=minutes)

    return replace(recipe, bands=tuple(other(band) for band in recipe.bands))


def _without(recipe: Recipe, container: str) -> Recipe:
    """Bands that named it take the others they name, then whatever carton fits: that is what hands would do."""
    bands = (
        replace(band, outers=tuple(code for code in band.outers if code != container), any_outer=True)
        if container in band.outers
        else band
        for band in recipe.bands
    )
    return replace(recipe, bands=tuple(bands))


def _also(recipe: Recipe, container: str) -> Recipe:
    bands = (replace(band, outers=tuple(dict.fromkeys((*band.outers, container)))) for band in recipe.bands)
    return replace(recipe, bands=tuple(bands))


def may_touch(change: Change, lines: tuple[OrderLine, ...], plan: PlannedOrder, world: World) -> bool:
    """Return whether a change can make an order's plan another one; False only where that is certain.

    A way that is taken away or gets dearer was not the best before and is not then, unless it was the one chosen.
    """
    match change:
        case ChargedBy():
            return False
        case WithoutContainer(code=code):
            return code in plan.chosen.containers
        case OtherVersion(recipe=recipe):
            return any(line.recipe is not None and line.recipe.code == recipe.code for line in lines)
        case DamageRate(recipe=code) | MinutesFactor(recipe=code):
            return any(line.recipe is not None and line.recipe.code == code for line in lines)
        case SupplyPrice(code=code, unit_cost=cost):
            dearer = cost >= _price_of(world.facts, code)
            return not dearer or any(use.supply == code for use in plan.chosen.uses)
        case _:
            return True


def _price_of(facts: Facts, code: str) -> Decimal:
    shelf = facts.shelf
    for one in facts.containers:
        if one.code == code:
            return one.unit_cost
    for items in (shelf.wraps, shelf.fills, shelf.tapes, shelf.inserts, shelf.unit_boxes):
        if code in items:
            return Decimal(items[code].unit_cost)
    return Decimal(0)
