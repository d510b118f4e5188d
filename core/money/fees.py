"""What channels and payments take of an order, and tax, from a day on (money; rules 19.1). Pure."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal

from core.units import round_money

__all__ = ["DatedFee", "FeeKind", "FeeRule", "fee_on", "tax_in"]

FeeKind = Literal["channel", "payment", "tax"]
_HUNDRED = Decimal(100)


@dataclass(frozen=True, slots=True, kw_only=True)
class FeeRule:
    """What a channel or a payment takes of an order."""

    percent: Decimal = Decimal(0)
    fixed: Decimal = Decimal(0)
    of_postage: bool = True  #: the percentage is of goods and the postage charged; else of goods alone

    def fee(self, goods: Decimal, postage_charged: Decimal, digits: int) -> Decimal:
        """Return the fee; nothing of an order that took nothing."""
        base = goods + (postage_charged if self.of_postage else Decimal(0))
        return round_money(base * self.percent / _HUNDRED + self.fixed, digits) if base > 0 else Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class DatedFee:
    """A rule for orders placed from a day on."""

    kind: FeeKind
    channel: str  #: empty: every channel without a rule of its own
    from_day: date
    rule: FeeRule


def fee_on(fees: Sequence[DatedFee], kind: FeeKind, channel: str, day: date) -> FeeRule:
    """Return the rule in force on a day: the channel's newest, else the newest of every channel; none takes nothing."""
    begun = [one for one in fees if one.kind == kind and one.from_day <= day and one.channel in ("", channel)]
    newest = max(begun, key=lambda one: (one.channel == channel, one.from_day), default=None)
    return newest.rule if newest is not None else FeeRule()


def tax_in(gross: Decimal, percent: Decimal, digits: int) -> Decimal:
    """Return the tax that is included in an amount."""
    return round_money(gross * percent / (_HUNDRED + percent), digits)
