"""A policy over a period's orders: charged, paid, left over; the fee that breaks even, the sum from which it is free.

Pick-ups are left out of everything (rules 18.1, 18.2). What buyers would order otherwise is not guessed at. Pure.
"""

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal

from core.money.policies import Charge, ChargeLine, Flat, NoCharge, Policy, SentOrder, charge_of
from core.units import round_money

__all__ = [
    "FilledUp", "OrderLeft", "PolicyRun", "Share", "ThresholdPoint", "break_even_fee", "filled_up", "run_as_charged",
    "run_policy", "share_just_below", "threshold_costing", "threshold_curve",
]  # fmt: skip

_WORST = 10
_NOTHING = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderLeft:
    """One order under a policy."""

    order: SentOrder
    charge: Charge

    @property
    def left(self) -> Decimal:
        """Return what was charged less what was paid to the carrier."""
        return self.charge.amount - self.order.paid


@dataclass(frozen=True, slots=True, kw_only=True)
class Share:
    """A group of orders under a policy."""

    key: str
    count: int
    charged: Decimal
    paid: Decimal

    @property
    def left(self) -> Decimal:
        """Return what is left over in the group."""
        return self.charged - self.paid


@dataclass(frozen=True, slots=True, kw_only=True)
class PolicyRun:
    """A policy over orders."""

    policy: Policy
    orders: tuple[OrderLeft, ...]  #: in the order given
    refused: tuple[NoCharge, ...]  #: nothing is charged for these: the policy ends before

    @property
    def charged(self) -> Decimal:
        """Return what buyers are charged in sum."""
        return sum((one.charge.amount for one in self.orders), _NOTHING)

    @property
    def paid(self) -> Decimal:
        """Return what carriers take in sum."""
        return sum((one.order.paid for one in self.orders), _NOTHING)

    @property
    def left(self) -> Decimal:
        """Return what is left over in sum."""
        return self.charged - self.paid

    @property
    def share_below_zero(self) -> float:
        """Return the share of orders that cost more than they were charged, 0 to 1."""
        return sum(one.left < 0 for one in self.orders) / len(self.orders) if self.orders else 0.0

    @property
    def worst(self) -> tuple[OrderLeft, ...]:
        """Return the ten that lost most, worst first."""
        return tuple(sorted(self.orders, key=lambda one: (one.left, one.order.key))[:_WORST])

    def quantile(self, share: float) -> Decimal:
        """Return what is left at a share of the orders, 0 to 1, between neighbours in a straight line; 0 of none."""
        left = sorted(one.left for one in self.orders)
        if not left:
            return _NOTHING
        at = Decimal(str(share)) * (len(left) - 1)
        low = int(at)
        high = min(low + 1, len(left) - 1)
        return left[low] + (left[high] - left[low]) * (at - low)

    def by(self, key: Callable[[SentOrder], str]) -> tuple[Share, ...]:
        """Return the orders in groups, by their key."""
        groups: dict[str, list[OrderLeft]] = defaultdict(list)
        for one in self.orders:
            groups[key(one.order)].append(one)
        return tuple(
            Share(
                key=name,
                count=len(rows),
                charged=sum((one.charge.amount for one in rows), _NOTHING),
                paid=sum((one.order.paid for one in rows), _NOTHING),
            )
            for name, rows in sorted(groups.items())
        )


def run_policy(policy: Policy, orders: Sequence[SentOrder]) -> PolicyRun:
    """Return what the policy charges for each order and what is left. Pick-ups are left out."""
    done: list[OrderLeft] = []
    refused: list[NoCharge] = []
    for order in orders:
        if order.picked_up:
            continue
        charge = charge_of(policy, order)
        if isinstance(charge, NoCharge):
            refused.append(charge)
        else:
            done.append(OrderLeft(order=order, charge=charge))
    return PolicyRun(policy=policy, orders=tuple(done), refused=tuple(refused))


def run_as_charged(orders: Sequence[SentOrder], charged: Mapping[str, Decimal]) -> PolicyRun:
    """Return the run of what buyers really paid, by order. Pick-ups are left out."""
    return PolicyRun(
        policy=Policy(code="as_charged", name="", base=Flat(amount=_NOTHING)),
        orders=tuple(
            OrderLeft(order=one, charge=Charge(lines=(ChargeLine(kind="flat", amount=charged[one.key]),)))
            for one in orders
            if not one.picked_up
        ),
        refused=(),
    )


def break_even_fee(orders: Sequence[SentOrder], *, free_from: Decimal | None = None, digits: int = 2) -> Decimal | None:
    """Return the least flat fee that covers what was paid, up to the currency's smallest part (rules 18.2).

    With ``free_from`` only orders below it are charged, and carry the others. None: nobody is charged.
    """
    sent = [order for order in orders if not order.picked_up]
    charged = sum(free_from is None or order.value < free_from for order in sent)
    if charged == 0:
        return None
    paid = sum((order.paid for order in sent), _NOTHING)
    return (paid / charged).quantize(Decimal(1).scaleb(-digits), rounding=ROUND_CEILING)


def threshold_costing(policy: Policy, orders: Sequence[SentOrder], most: Decimal) -> Decimal | None:
    """Return the least sum from which postage may be free so that the charges given up are at most ``most``.

    One of the orders' own values: between two of them nothing changes. None: even the largest order costs more.
    Orders the policy refuses are left out.
    """
    run = run_policy(_never_free(policy), orders)
    allowed = policy.free_zones
    rows = [one for one in run.orders if not allowed or one.order.zone in allowed]
    given_up, found = _NOTHING, None
    for value in sorted({one.order.value for one in rows}, reverse=True):
        given_up += sum((one.charge.amount for one in rows if one.order.value == value), _NOTHING)
        if given_up > most:
            break
        found = value
    return found


def _never_free(policy: Policy) -> Policy:
    return Policy(
        code=policy.code, name=policy.name, base=policy.base, zones=policy.zones, free_zones=policy.free_zones,
        endings=policy.endings, digits=policy.digits,
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class ThresholdPoint:
    """What it costs to charge nothing from a sum on."""

    threshold: Decimal
    given_up: Decimal  #: charges, in sum
    left: Decimal
    just_below: float  #: share of buyers whose goods are worth little less, 0 to 1


def threshold_curve(
    orders: Sequence[SentOrder], fee: Decimal, *, within: Decimal, most: int
) -> tuple[ThresholdPoint, ...]:
    """Return that cost over the orders' own values, at most about so many of them, the others paying ``fee``."""
    sent = [order for order in orders if not order.picked_up]
    values = sorted({one.value for one in sent})
    paid = sum((one.paid for one in sent), _NOTHING)
    found = []
    for value in values[:: max(1, len(values) // most)]:
        given_up = fee * sum(one.value >= value for one in sent)
        found.append(
            ThresholdPoint(
                threshold=value,
                given_up=given_up,
                left=fee * len(sent) - paid - given_up,
                just_below=share_just_below(sent, value, within),
            )
        )
    return tuple(found)


def share_just_below(orders: Sequence[SentOrder], threshold: Decimal, within: Decimal) -> float:
    """Return the share of orders whose goods are worth less than the threshold by at most ``within``, 0 to 1."""
    sent = [order for order in orders if not order.picked_up]
    near = sum(threshold - within <= order.value < threshold for order in sent)
    return near / len(sent) if sent else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class FilledUp:
    """What it would come to when some of the buyers just below a threshold ordered up to it."""

    orders: int  #: just below
    more_goods: Decimal  #: they would order, in sum
    given_up: Decimal  #: postage they would not be charged any more, in sum


def filled_up(policy: Policy, orders: Sequence[SentOrder], *, within: Decimal, percent: int) -> FilledUp | None:
    """Return what a demand assumption comes to: ``percent`` of the buyers whose goods are worth less than the threshold
    by at most ``within`` fill it up. None: the policy has no threshold.

    An assumption of a person, shown beside what was counted, never mixed with it (rules 18.4).
    """
    threshold = policy.free_from
    if threshold is None:
        return None
    zones = policy.free_zones
    near = [
        one
        for one in run_policy(policy, orders).orders
        if threshold - within <= one.order.value < threshold and (not zones or one.order.zone in zones)
    ]
    share = Decimal(percent) / 100
    goods = sum((threshold - one.order.value for one in near), _NOTHING)
    charged = sum((one.charge.amount for one in near), _NOTHING)
    return FilledUp(
        orders=len(near),
        more_goods=round_money(goods * share, policy.digits),
        given_up=round_money(charged * share, policy.digits),
    )
