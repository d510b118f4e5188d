"""What is left per unit when 1, 2, 3 ... of a product are ordered, at which price it turns, and what "2 for" may cost
(money; rules 18.5). Pure.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_FLOOR, Decimal

from core.money.fees import FeeRule, tax_in
from core.units import round_money

__all__ = ["Selling", "UnitLeft", "left_per_unit"]

_HALF = Decimal("0.5")


@dataclass(frozen=True, slots=True, kw_only=True)
class Selling:
    """How a product is sold."""

    price: Decimal  #: of a unit, tax included
    goods_cost: Decimal  #: of a unit
    channel: FeeRule = FeeRule()  # noqa: RUF009 - a frozen value
    payment: FeeRule = FeeRule()  # noqa: RUF009 - a frozen value
    tax_percent: Decimal = Decimal(0)
    digits: int = 2

    def left(self, units: int, goods: Decimal, charged: Decimal, cost: Decimal) -> Decimal:
        """Return what an order leaves: goods and postage paid, less tax, fees, the goods' own cost and sending it."""
        gross = goods + charged
        tax = tax_in(gross, self.tax_percent, self.digits)
        fees = self.channel.fee(goods, charged, self.digits) + self.payment.fee(goods, charged, self.digits)
        return gross - tax - fees - self.goods_cost * units - cost

    def least_goods(self, charged: Decimal, wanted: Decimal, units: int, cost: Decimal) -> Decimal:
        """Return the least a buyer pays for the goods so that ``wanted`` is left, up to the smallest part."""
        cent = Decimal(1).scaleb(-self.digits)
        low, high = Decimal(0), Decimal(1)
        while self.left(units, high, charged, cost) < wanted and high < Decimal(10_000_000):
            high *= 2
        while high - low > cent:
            middle = ((low + high) / 2).quantize(cent, rounding=ROUND_CEILING)
            if middle >= high:
                break
            if self.left(units, middle, charged, cost) >= wanted:
                high = middle
            else:
                low = middle
        if self.left(units, low, charged, cost) >= wanted:
            return low
        return high.quantize(cent, rounding=ROUND_CEILING)


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitLeft:
    """So many units ordered at once."""

    units: int
    cost: Decimal  #: of packing and sending the order, all in
    marginal_cost: Decimal | None  #: of the last unit, its goods included; None for the first, or after a gap
    charged: Decimal  #: postage, to the buyer
    left: Decimal  #: of the order
    left_each: Decimal
    turns_at: Decimal  #: price of a unit from which the order leaves something
    bundle_least: Decimal | None  #: price of all together that leaves what one unit less leaves; None for one
    bundle: Decimal | None  #: an "n for" price: half of what the last unit leaves is the buyer's; None: it leaves none


def left_per_unit(selling: Selling, costs: Sequence[tuple[int, Decimal, Decimal]]) -> tuple[UnitLeft, ...]:
    """Return what is left, for each number of units with its cost of sending and what its buyer is charged.

    ``costs``: units, cost, charged. The bundle rests on what the last unit costs (its marginal cost): what it leaves
    is shared with the buyer by halves (a judgement), down to a price that ends in a full ten.
    """
    found: list[UnitLeft] = []
    for units, cost, charged in costs:
        goods = selling.price * units
        left = selling.left(units, goods, charged, cost)
        before = found[-1] if found and found[-1].units == units - 1 else None
        least = bundle = None
        if before is not None:
            least = selling.least_goods(charged, before.left, units, cost)
            if least < goods:
                asked = goods - (goods - least) * _HALF
                bundle = asked.quantize(Decimal("0.1"), rounding=ROUND_FLOOR).quantize(Decimal("0.01"))
                bundle = bundle if least <= bundle < goods else None
        found.append(
            UnitLeft(
                units=units,
                cost=cost,
                marginal_cost=cost - before.cost + selling.goods_cost if before is not None else None,
                charged=charged,
                left=left,
                left_each=round_money(left / units, selling.digits),
                turns_at=(selling.least_goods(charged, Decimal(0), units, cost) / units).quantize(
                    Decimal(1).scaleb(-selling.digits), rounding=ROUND_CEILING
                ),
                bundle_least=least,
                bundle=bundle,
            )
        )
    return tuple(found)
