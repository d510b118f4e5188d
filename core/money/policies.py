"""What a buyer is charged for postage: policies as small documents, and the charge of an order (money; rules 18.1).

A policy has a base (flat, by weight, by order value, the carrier's price, pick-up), its own for some zones where it
likes, and may be free at or above a sum of goods. After the base come percent, then fixed handling, then rounding; each
is a line, and the lines sum to the charge. Pure.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal
from itertools import pairwise
from typing import Literal

from core.units import Milligrams, round_money

__all__ = [
    "Base",
    "ByCarrier",
    "ByValue",
    "ByWeight",
    "Charge",
    "ChargeLine",
    "Flat",
    "LineKind",
    "NoCharge",
    "PickUp",
    "Policy",
    "SentOrder",
    "ValueStep",
    "WeightStep",
    "charge_of",
    "ended",
]

LineKind = Literal["flat", "by_weight", "by_value", "carrier", "pick_up", "percent", "fixed", "rounding", "free"]
_ONE = Decimal(1)
_HUNDRED = Decimal(100)


@dataclass(frozen=True, slots=True, kw_only=True)
class SentOrder:
    """An order as a policy sees it, and what sending it took."""

    key: str
    value: Decimal  #: of the goods
    weight_mg: Milligrams  #: gross, all its parcels
    zone: str
    units: int
    paid: Decimal  #: to the carrier, all its parcels
    picked_up: bool = False  #: fetched by the buyer: nothing is charged, and it is left out of means


@dataclass(frozen=True, slots=True, kw_only=True)
class Flat:
    """One amount for every order."""

    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class WeightStep:
    """What an order up to a weight is charged."""

    up_to_mg: Milligrams
    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class ByWeight:
    """By steps of weight, lightest first; beyond the last there is no charge."""

    steps: tuple[WeightStep, ...]

    def __post_init__(self) -> None:
        _rising([step.up_to_mg for step in self.steps])


@dataclass(frozen=True, slots=True, kw_only=True)
class ValueStep:
    """What an order of this value or more is charged."""

    from_value: Decimal
    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class ByValue:
    """By steps of order value; the first begins at 0."""

    steps: tuple[ValueStep, ...]

    def __post_init__(self) -> None:
        _rising([step.from_value for step in self.steps])
        if self.steps[0].from_value != 0:
            raise ValueError(f"the first step begins at {self.steps[0].from_value}, not at 0")


@dataclass(frozen=True, slots=True, kw_only=True)
class ByCarrier:
    """What the carrier takes, and more."""

    percent: Decimal = Decimal(0)
    fixed: Decimal = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class PickUp:
    """The buyer comes for it, or it is brought along: one amount, mostly none."""

    amount: Decimal = Decimal(0)


Base = Flat | ByWeight | ByValue | ByCarrier | PickUp


@dataclass(frozen=True, slots=True, kw_only=True)
class Policy:
    """How postage is charged."""

    code: str
    name: str
    base: Base
    zones: tuple[tuple[str, Base], ...] = ()  #: zones with a base of their own
    free_from: Decimal | None = None  #: at or above this value of goods nothing is charged; None: never
    free_zones: tuple[str, ...] = ()  #: where that holds; empty: everywhere
    endings: tuple[Decimal, ...] = ()  #: what a charge ends in, as 0.50 and 0.95: rounded up to the next; empty: as is
    digits: int = 2  #: places of the currency

    def base_for(self, zone: str) -> Base:
        """Return what holds in a zone."""
        return dict(self.zones).get(zone, self.base)

    def is_free(self, value: Decimal, zone: str) -> bool:
        """Return whether an order of this value pays nothing."""
        return self.free_from is not None and value >= self.free_from and zone in (self.free_zones or (zone,))


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeLine:
    """One line of a charge."""

    kind: LineKind
    amount: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Charge:
    """What a buyer is charged, line by line."""

    lines: tuple[ChargeLine, ...]

    @property
    def amount(self) -> Decimal:
        """Return the sum of the lines."""
        return sum((line.amount for line in self.lines), Decimal(0))


@dataclass(frozen=True, slots=True, kw_only=True)
class NoCharge:
    """The policy says nothing of such an order: heavier than its last step."""

    code: Literal["beyond_last_step"]
    key: str
    weight_mg: Milligrams
    last_mg: Milligrams


def charge_of(policy: Policy, order: SentOrder) -> Charge | NoCharge:
    """Return what the policy charges for an order. An order picked up is charged nothing."""
    if order.picked_up:
        return Charge(lines=(ChargeLine(kind="pick_up", amount=Decimal(0)),))
    lines = _lines(policy, order)
    if isinstance(lines, NoCharge):
        return lines
    total = sum((line.amount for line in lines), Decimal(0))
    if policy.is_free(order.value, order.zone):
        return Charge(lines=(*lines, ChargeLine(kind="free", amount=-total)))
    rounded = ended(total, policy.endings, policy.digits)
    if rounded != total:
        lines = (*lines, ChargeLine(kind="rounding", amount=rounded - total))
    return Charge(lines=lines)


def _lines(policy: Policy, order: SentOrder) -> tuple[ChargeLine, ...] | NoCharge:
    match policy.base_for(order.zone):
        case Flat(amount=amount):
            return (ChargeLine(kind="flat", amount=amount),)
        case PickUp(amount=amount):
            return (ChargeLine(kind="pick_up", amount=amount),)
        case ByValue(steps=steps):
            step = next(one for one in reversed(steps) if order.value >= one.from_value)
            return (ChargeLine(kind="by_value", amount=step.amount),)
        case ByWeight(steps=by_weight):
            found = next((one for one in by_weight if order.weight_mg <= one.up_to_mg), None)
            if found is None:
                last_mg = by_weight[-1].up_to_mg
                return NoCharge(code="beyond_last_step", key=order.key, weight_mg=order.weight_mg, last_mg=last_mg)
            return (ChargeLine(kind="by_weight", amount=found.amount),)
        case ByCarrier(percent=percent, fixed=fixed):
            more = round_money(order.paid * percent / _HUNDRED, policy.digits)
            lines = (
                ChargeLine(kind="carrier", amount=order.paid),
                ChargeLine(kind="percent", amount=more),
                ChargeLine(kind="fixed", amount=fixed),
            )
            return tuple(line for line in lines if line.amount != 0 or line.kind == "carrier")


def ended(amount: Decimal, endings: Sequence[Decimal], digits: int = 2) -> Decimal:
    """Return an amount rounded up to the next that ends so; without endings, half up to the currency's smallest part.

    >>> ended(Decimal("6.02"), [Decimal("0.50"), Decimal("0.95")])
    Decimal('6.50')
    >>> ended(Decimal("6.96"), [Decimal("0.50"), Decimal("0.95")])
    Decimal('7.50')
    """
    if not endings:
        return round_money(amount, digits)
    whole = amount.to_integral_value(rounding=ROUND_CEILING) - _ONE
    possible = (at + ending for at in (whole, whole + _ONE, whole + 2 * _ONE) for ending in endings)
    return min(one for one in possible if one >= amount)


def _rising(values: Sequence[Decimal | int]) -> None:
    if not values or any(left >= right for left, right in pairwise(values)):
        raise ValueError(f"steps rise from one to the next: {', '.join(map(str, values)) or 'none'}")
