"""What a change of facts would have done to our own orders, planned again before and after (money; rules 22.1, 22.2).

Orders that are alike are planned once in each world; an order the change cannot touch is not planned again. Nothing of
an order is written. Heat and cold are left out: the weather of then is not the weather of a decision. Pure.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal

from core.messages import Text
from core.money.changes import Change, World, lines_under, may_touch
from core.money.policies import NoCharge, SentOrder, charge_of
from core.parcels.facts import Overrides, Settings
from core.parcels.plan import Blocked, PlannedOrder
from core.parcels.remembered import Remembered
from core.parcels.way import Way
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from core.tariffs.model import Place
from core.tariffs.zones import next_ship_day

__all__ = [
    "Comparison", "Figures", "NotSent", "PeriodOrder", "Planner", "Sums", "TriedOrder", "compared", "tried",
]  # fmt: skip

_MOST_CHANGED = 10
_ZERO = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class PeriodOrder:
    """An order of the period."""

    key: str
    lines: tuple[OrderLine, ...]
    destination: Place
    occasion: Occasion
    placed_on: date
    charged: Decimal  #: what its buyer paid for postage
    value: Decimal  #: of its goods
    zone: str
    units: int

    @property
    def content(self) -> tuple[tuple[str, int], ...]:
        """Return what is in it; orders of one content are mostly planned alike."""
        return tuple((line.sku, line.quantity) for line in self.lines)


@dataclass(frozen=True, slots=True, kw_only=True)
class Figures:
    """What sending an order comes to."""

    materials: Decimal
    labour: Decimal
    postage: Decimal
    expected_loss: Decimal
    total: Decimal
    charged: Decimal  #: to its buyer, for postage
    minutes: Decimal
    days: int  #: from the day it was placed to the day it arrives, where days are looked at; else in transit
    containers: tuple[str, ...]
    services: tuple[str, ...]  #: names
    way: str  #: names containers and services

    @property
    def net(self) -> Decimal:
        """Return what sending it costs less what its buyer is charged."""
        return self.total - self.charged


@dataclass(frozen=True, slots=True, kw_only=True)
class NotSent:
    """An order that cannot be sent, and why."""

    reasons: tuple[Text, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class TriedOrder:
    """One order before and after."""

    order: PeriodOrder
    before: Figures | NotSent
    after: Figures | NotSent

    @property
    def change(self) -> Decimal:
        """Return what sending it costs more, less what its buyer is charged more; 0 where it is not sent both ways."""
        if isinstance(self.before, NotSent) or isinstance(self.after, NotSent):
            return _ZERO
        return self.after.net - self.before.net

    @property
    def packed_otherwise(self) -> bool:
        """Return whether containers or services are others."""
        if isinstance(self.before, NotSent) or isinstance(self.after, NotSent):
            return type(self.before) is not type(self.after)
        return self.before.way != self.after.way


@dataclass(slots=True)
class Planner:
    """Plans orders in one world, those that are alike once."""

    world: World
    changes: tuple[Change, ...] = ()
    _known: Remembered = field(default_factory=Remembered)

    def plan(self, order: PeriodOrder) -> PlannedOrder | Blocked:
        """Return an order's plan in this world."""
        lines = lines_under(order.lines, self.changes)
        return self._known.plan_order(
            lines,
            self.world.facts,
            destination=order.destination,
            ship_on=self.ship_on(order),
            overrides=Overrides(forbidden=self.world.forbidden),
            occasion=_looked_at(order.occasion, lines, self.world.facts.settings),
        )

    def ship_on(self, order: PeriodOrder) -> date:
        """Return the day an order leaves: one day for all, or the send day after the weekday it was placed on."""
        if not self.world.by_weekday:
            return self.world.ship_on
        return next_ship_day(self._placed(order) + timedelta(days=1), self.world.send_days)

    def figures(self, order: PeriodOrder, plan: PlannedOrder | Blocked) -> Figures | NotSent:
        """Return what a plan comes to."""
        if isinstance(plan, Blocked):
            return NotSent(reasons=tuple(one.message for one in plan.missing))
        way = self._taken(plan)
        charged = self._charged(order, way)
        if charged is None:
            return NotSent(reasons=())
        begins = self._placed(order) if self.world.by_weekday else self.ship_on(order)
        services = tuple(dict.fromkeys(one.quote.service_name for one in way.candidates))
        return Figures(
            materials=way.costs.materials,
            labour=way.costs.labour,
            postage=way.costs.postage,
            expected_loss=way.costs.expected_loss,
            total=way.costs.total,
            charged=charged,
            minutes=sum((one.minutes for one in way.candidates), _ZERO),
            days=(way.arrives_on - begins).days,
            containers=way.containers,
            services=services,
            way=f"{way.key} {'+'.join(one.quote.service for one in way.candidates)}",
        )

    def _placed(self, order: PeriodOrder) -> date:
        """Return a day of the week of the world's date that is the weekday the order was placed on."""
        monday = self.world.ship_on - timedelta(days=self.world.ship_on.weekday())
        return monday + timedelta(days=order.placed_on.weekday())

    def _taken(self, plan: PlannedOrder) -> Way:
        """Return the way an order is sent: the recipe's own choice, or a container that is offered where it saves."""
        offered = [way for way in plan.others if any(code in way.containers for code in self.world.offered)]
        return min((plan.chosen, *offered), key=lambda way: way.costs.total)

    def _charged(self, order: PeriodOrder, way: Way) -> Decimal | None:
        policy = self.world.policy
        if policy is None:
            return order.charged
        sent = SentOrder(
            key=order.key,
            value=order.value,
            weight_mg=sum(one.weight.gross_mg for one in way.candidates),
            zone=order.zone,
            units=order.units,
            paid=way.costs.postage,
        )
        charge = charge_of(policy, sent)
        return None if isinstance(charge, NoCharge) else charge.amount


def _looked_at(occasion: Occasion, lines: Sequence[OrderLine], settings: Settings) -> Occasion:
    """Return what recipes and settings look at of an occasion, so that orders that differ in nothing else are alike."""
    inserts = [one for line in lines if line.recipe for band in line.recipe.bands for one in band.inserts]
    whens = [one.when for one in inserts if one.when is not None]
    by_value = settings.cover_goods or settings.signature_above is not None
    return Occasion(
        first_order=occasion.first_order and any(when.first_order is not None for when in whens),
        gift=occasion.gift and any(when.gift is not None for when in whens),
        value=occasion.value if by_value or any(when.least_value is not None for when in whens) else _ZERO,
        last_sent=occasion.last_sent if any(one.samples for one in inserts) else {},
    )


def tried(
    orders: Sequence[PeriodOrder], before: World, after: World, changes: Sequence[Change]
) -> Iterator[TriedOrder]:
    """Yield each order planned before and after, in an order that keeps those alike together."""
    first, second = Planner(before), Planner(after, tuple(changes))
    for order in sorted(orders, key=lambda one: (one.content, one.key)):
        now = first.plan(order)
        touched = before.by_weekday or not isinstance(now, PlannedOrder) or any(
            may_touch(change, order.lines, now, before) for change in changes
        )  # fmt: skip
        then = second.plan(order) if touched else now
        yield TriedOrder(order=order, before=first.figures(order, now), after=second.figures(order, then))


@dataclass(frozen=True, slots=True, kw_only=True)
class Sums:
    """What the orders that are sent both before and after come to."""

    materials: Decimal = _ZERO
    labour: Decimal = _ZERO
    postage: Decimal = _ZERO
    expected_loss: Decimal = _ZERO
    total: Decimal = _ZERO
    charged: Decimal = _ZERO
    minutes: Decimal = _ZERO
    days: int = 0

    @property
    def net(self) -> Decimal:
        """Return what sending them costs less what their buyers are charged."""
        return self.total - self.charged


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """Before and after."""

    orders: tuple[TriedOrder, ...]  #: in the period's order
    both: int  #: sent before and after
    before: Sums
    after: Sums
    refused: tuple[TriedOrder, ...]  #: sent before, not after
    gained: tuple[TriedOrder, ...]  #: sent after, not before
    neither: int
    changed: int  #: packed or sent otherwise
    most_changed: tuple[TriedOrder, ...]

    @property
    def change(self) -> Decimal:
        """Return what it costs more in sum, less what buyers are charged more."""
        return self.after.net - self.before.net


def compared(orders: Sequence[TriedOrder]) -> Comparison:
    """Return the sums of before and after, and the orders most changed."""
    both = [one for one in orders if isinstance(one.before, Figures) and isinstance(one.after, Figures)]
    return Comparison(
        orders=tuple(orders),
        both=len(both),
        before=_sums([one.before for one in both if isinstance(one.before, Figures)]),
        after=_sums([one.after for one in both if isinstance(one.after, Figures)]),
        refused=tuple(o for o in orders if isinstance(o.before, Figures) and isinstance(o.after, NotSent)),
        gained=tuple(o for o in orders if isinstance(o.before, NotSent) and isinstance(o.after, Figures)),
        neither=sum(isinstance(o.before, NotSent) and isinstance(o.after, NotSent) for o in orders),
        changed=sum(one.packed_otherwise for one in both),
        most_changed=tuple(
            sorted((one for one in both if one.change or one.packed_otherwise),
                   key=lambda one: (-abs(one.change), one.order.key))[:_MOST_CHANGED]
        ),
    )  # fmt: skip


def _sums(figures: Sequence[Figures]) -> Sums:
    return Sums(
        materials=sum((one.materials for one in figures), _ZERO),
        labour=sum((one.labour for one in figures), _ZERO),
        postage=sum((one.postage for one in figures), _ZERO),
        expected_loss=sum((one.expected_loss for one in figures), _ZERO),
        total=sum((one.total for one in figures), _ZERO),
        charged=sum((one.charged for one in figures), _ZERO),
        minutes=sum((one.minutes for one in figures), _ZERO),
        days=sum(one.days for one in figures),
    )
