"""What a supplier offers, and how much of it to buy at once: the cost of a year decides (buying; rules 14.4)."""

from dataclasses import dataclass
from datetime import date
from decimal import ROUND_CEILING, Decimal
from typing import Literal

from core.buying.workdays import WorkDays
from core.units import round_money

__all__ = [
    "ORDINARY_BUYING",
    "Amount",
    "Barred",
    "Buying",
    "Offer",
    "PriceBreak",
    "Supplier",
    "amounts",
    "arrives_on",
    "best_amount",
    "delivery_for",
    "yearly_cost",
]

#: Why an amount is not taken although a year of it would cost less: it lasts too long, or its slot is too small.
Barred = Literal["", "too_long", "slot_full"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Supplier:
    """Who sells, and how it comes."""

    code: str
    name: str
    lead_days: int  #: working days from the order to the arrival
    delivers_on: tuple[int, ...] = ()  #: weekdays, Monday 0; empty: any working day
    delivery: Decimal = Decimal(0)  #: charge of one order
    free_from: Decimal | None = None  #: sum of goods from which the delivery is free


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceBreak:
    """From so much on one stock unit costs so much."""

    from_quantity: Decimal
    price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """One supply at one supplier; quantities in stock units."""

    supplier: Supplier
    pack: Decimal  #: it comes in multiples of this
    least: Decimal = Decimal(0)  #: no order of less
    breaks: tuple[PriceBreak, ...]  #: by quantity; the first is the ordinary price

    def price_at(self, quantity: Decimal) -> Decimal:
        """Return what one stock unit costs when so many are bought."""
        fitting = [one.price for one in self.breaks if one.from_quantity <= quantity]
        return fitting[-1] if fitting else self.breaks[0].price

    def rounded_up(self, quantity: Decimal) -> Decimal:
        """Return the least amount that can be ordered and is at least so much."""
        wanted = max(quantity, self.least, self.pack)
        return (wanted / self.pack).to_integral_value(ROUND_CEILING) * self.pack


@dataclass(frozen=True, slots=True, kw_only=True)
class Buying:
    """What the workshop judges of buying (rules 14.3, 14.4; every one a setting)."""

    z: Decimal = Decimal("1.645")  #: safety: one week in twenty is worse
    cover_weeks: int = 6  #: an order is to last so long
    longest_weeks: int = 26  #: nothing is bought for longer
    within_days: int = 3  #: to order by in at most so many working days: it is on the list
    anyway_days: int = 10  #: and when its supplier is ordered from anyway
    interest_percent: int = 20  #: a year, of the money that lies on the shelf
    money_digits: int = 2


#: What a workshop begins with.
ORDINARY_BUYING = Buying()


@dataclass(frozen=True, slots=True, kw_only=True)
class Amount:
    """An amount of an offer, and its cost."""

    quantity: Decimal
    price: Decimal  #: of one stock unit
    goods: Decimal
    delivery: Decimal  #: of this alone
    yearly: Decimal | None  #: cost of a year's use bought so; None: nothing is used
    cover_days: int | None  #: working days it lasts; None: nothing is used
    barred: Barred = ""


def yearly_cost(
    *, use_a_year: Decimal, price: Decimal, quantity: Decimal, delivery: Decimal, interest_percent: int
) -> Decimal:
    """Return what a year costs: the goods, so many deliveries, and the money that lies on the shelf.

    >>> cost = yearly_cost(use_a_year=Decimal(2263), price=Decimal("0.82"), quantity=Decimal(50),
    ...                    delivery=Decimal("6.50"), interest_percent=20)
    >>> cost.quantize(Decimal("0.01"))
    Decimal('2153.95')
    """
    interest = Decimal(interest_percent) / 100
    return use_a_year * price + use_a_year / quantity * delivery + interest * price * quantity / 2


def delivery_for(supplier: Supplier, goods: Decimal) -> Decimal:
    """Return what the delivery of goods of so much costs."""
    return Decimal(0) if supplier.free_from is not None and goods >= supplier.free_from else supplier.delivery


def arrives_on(supplier: Supplier, ordered: date, calendar: WorkDays) -> date:
    """Return when an order arrives: after its lead time, on a day the supplier delivers."""
    day = calendar.add(ordered, supplier.lead_days)
    if supplier.delivers_on:
        # A supplier that delivers on days the workshop is closed comes on none of them: the lead time stands then.
        for later in range(15):
            found = calendar.add(day, later)
            if found.weekday() in supplier.delivers_on:
                return found
    return day


def amounts(
    offer: Offer,
    wanted: Decimal,
    *,
    use_a_day: Decimal,
    use_a_year: Decimal,
    room: Decimal | None,
    longest_days: int,
    buying: Buying,
) -> tuple[Amount, ...]:
    """Return the amount that covers what is wanted, and those from which one costs less, each with its year.

    ``room``: what the slot still takes; None: nobody knows. The amount wanted itself is never barred: it is needed.
    """
    least = offer.rounded_up(wanted)
    more = [offer.rounded_up(one.from_quantity) for one in offer.breaks]
    found = []
    for quantity in (least, *sorted({one for one in more if one > least})):
        price = offer.price_at(quantity)
        goods = round_money(quantity * price, buying.money_digits)
        delivery = delivery_for(offer.supplier, goods)
        barred: Barred = ""
        if quantity > least:
            if use_a_day <= 0 or quantity > use_a_day * longest_days:
                barred = "too_long"
            elif room is not None and quantity > room:
                barred = "slot_full"
        yearly = None
        if use_a_year > 0:
            yearly = yearly_cost(
                use_a_year=use_a_year,
                price=price,
                quantity=quantity,
                delivery=delivery,
                interest_percent=buying.interest_percent,
            )
        cover = int((quantity / use_a_day).to_integral_value(ROUND_CEILING)) if use_a_day > 0 else None
        found.append(
            Amount(
                quantity=quantity,
                price=price,
                goods=goods,
                delivery=delivery,
                yearly=round_money(yearly, buying.money_digits) if yearly is not None else None,
                cover_days=cover,
                barred=barred,
            )
        )
    return tuple(found)


def best_amount(found: tuple[Amount, ...]) -> Amount:
    """Return the amount of which a year costs least, of those that may be taken; the smaller when two cost the same."""
    free = [one for one in found if not one.barred]
    return min(free, key=lambda one: (one.yearly if one.yearly is not None else one.goods, one.quantity))
