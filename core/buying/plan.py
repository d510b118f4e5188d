"""The buying list: what to order from whom, put together by supplier, within a budget (buying; rules 14.5, 14.6).

Under a budget the earliest run-out is put as late as can be, then the next earliest, and so on; among equals the plan
that costs least. Beside it stands the rule of thumb: soonest first, passing over what does not fit.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Literal

from core.buying.exact import Option, Problem, run_outs, solve
from core.buying.needs import Line, Shop, Watched, lasts_until, line_at, line_of
from core.buying.offers import Amount, Supplier, delivery_for
from core.buying.outlook import runs_out_with
from core.units import round_money

__all__ = ["BuyingPlan", "LeftOut", "Outcome", "Raise", "SupplierOrder", "buy", "lines_to_buy", "without_offer"]

#: all: everything on the list is bought; exact: no plan within the budget is better; bounded: too many to be sure.
Outcome = Literal["all", "exact", "bounded"]

#: Into so many parts the amount wanted of a line is split under a budget: all lines together have about so many
#: amounts, which the exact plan takes well under a second for.
_FEWEST_PARTS, _MOST_PARTS, _AMOUNTS_IN_ALL = 4, 12, 100


@dataclass(frozen=True, slots=True, kw_only=True)
class Raise:
    """What more would make the delivery free; it would be bought within the longest cover anyway."""

    adds: tuple[tuple[str, Decimal], ...]  #: supply, so much more
    goods: Decimal  #: what that costs
    saves: Decimal  #: the delivery


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplierOrder:
    """One order to one supplier."""

    supplier: Supplier
    lines: tuple[Line, ...]
    goods: Decimal
    delivery: Decimal
    order_by: date | None  #: the earliest of its lines
    arrives_on: date
    to_free: Raise | None

    @property
    def total(self) -> Decimal:
        """Return goods and delivery."""
        return self.goods + self.delivery


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftOut:
    """A line the budget has no room for."""

    line: Line
    misses_from: date | None


@dataclass(frozen=True, slots=True, kw_only=True)
class BuyingPlan:
    """What to buy now."""

    orders: tuple[SupplierOrder, ...]
    left_out: tuple[LeftOut, ...]
    outcome: Outcome
    total: Decimal
    thumb: tuple[
        str, ...
    ]  #: what the rule of thumb would buy, by code; the same as the plan's where there is no budget
    thumb_total: Decimal
    run_outs: tuple[date | None, ...]  #: of all lines with the plan, the earliest first; None: beyond the days
    thumb_run_outs: tuple[date | None, ...]


def lines_to_buy(supplies: Sequence[Watched], shop: Shop) -> tuple[Line, ...]:
    """Return what is on the list: what must be ordered soon, and what its suppliers would bring along."""
    found = {one.need.code: line for one in supplies if (line := line_of(one, shop)) is not None}
    asked = {line.offer.supplier.code for line in found.values()}
    last = shop.calendar.add(shop.today, shop.buying.anyway_days)
    for one in supplies:
        if one.need.code in found:
            continue
        along = [line_at(one, offer, shop, why="with_it") for offer in one.need.offers if offer.supplier.code in asked]
        fitting = [line for line in along if line.reorder.order_by is not None and line.reorder.order_by <= last]
        if fitting:
            found[one.need.code] = min(fitting, key=lambda line: (line.chosen.goods, line.offer.supplier.code))
    return tuple(sorted(found.values(), key=lambda line: (line.runs_out or date.max, line.code)))


def without_offer(supplies: Sequence[Watched], shop: Shop) -> tuple[str, ...]:
    """Return the codes of supplies that run low and that nobody offers."""
    soon = shop.calendar.add(shop.today, shop.buying.anyway_days)
    low = (one for one in supplies if one.outlook.runs_out is not None and one.outlook.runs_out <= soon)
    return tuple(one.need.code for one in low if not one.need.offers)


def buy(
    supplies: Sequence[Watched],
    shop: Shop,
    *,
    budget: Decimal | None = None,
    quantities: dict[str, Decimal] | None = None,
    without: frozenset[str] = frozenset(),
) -> BuyingPlan:
    """Return the plan. ``quantities``: what a person wants of a supply; ``without``: what shall not be bought."""
    by_code = {one.need.code: one for one in supplies}
    lines = [line for line in lines_to_buy(supplies, shop) if line.code not in without]
    lines = [_of_quantity(line, by_code[line.code], (quantities or {}).get(line.code), shop) for line in lines]
    problem = _problem(lines, by_code, shop, frozenset(quantities or {}))
    every = tuple(_wanted(problem, number) for number in range(len(lines)))
    limit = None if budget is None else _cents(budget, shop)
    thumb = _by_thumb(problem, every, limit)
    outcome: Outcome = "all"
    chosen: tuple[int | None, ...] = every
    if limit is not None and problem.cost(every) > limit:
        found = solve(problem, limit, thumb)
        outcome, chosen = ("exact" if found.proven else "bounded"), found.chosen
    bought = [
        _with_amount(line, by_code[line.code], problem.options[at], shop)
        for line, at in zip(lines, chosen, strict=True)
        if at is not None
    ]
    left = [line for line, at in zip(lines, chosen, strict=True) if at is None]
    digits = shop.buying.money_digits
    days = supplies[0].outlook.days if supplies else ()
    return BuyingPlan(
        orders=_orders(bought, by_code, shop),
        left_out=tuple(LeftOut(line=line, misses_from=line.runs_out) for line in left),
        outcome=outcome,
        total=_money(problem.cost(chosen), digits),
        thumb=tuple(line.code for line, at in zip(lines, thumb, strict=True) if at is not None),
        thumb_total=_money(problem.cost(thumb), digits),
        run_outs=_dates(run_outs(problem, chosen), days),
        thumb_run_outs=_dates(run_outs(problem, thumb), days),
    )


def _cents(money: Decimal, shop: Shop) -> int:
    return int(money.scaleb(shop.buying.money_digits).to_integral_value())


def _money(cents: int, digits: int) -> Decimal:
    return Decimal(cents).scaleb(-digits)


def _dates(places: Sequence[int], days: Sequence[date]) -> tuple[date | None, ...]:
    return tuple(days[at] if at < len(days) else None for at in places)


def _of_quantity(line: Line, one: Watched, quantity: Decimal | None, shop: Shop) -> Line:
    """Return a line of the amount a person wants; rounded up to what can be ordered."""
    if quantity is None:
        return line
    return _taking(line, one, amount_of(line, quantity, shop))


def amount_of(line: Line, quantity: Decimal, shop: Shop) -> Amount:
    """Return what another quantity of a line comes to."""
    rounded = line.offer.rounded_up(quantity)
    known = next((amount for amount in line.amounts if amount.quantity == rounded), None)
    if known is not None:
        return known
    price = line.offer.price_at(rounded)
    goods = round_money(rounded * price, shop.buying.money_digits)
    return Amount(
        quantity=rounded,
        price=price,
        goods=goods,
        delivery=delivery_for(line.offer.supplier, goods),
        yearly=None,
        cover_days=None,
    )


def _taking(line: Line, one: Watched, amount: Amount) -> Line:
    return replace(line, chosen=amount, lasts_until=lasts_until(one, amount.quantity, line.arrives_at))


def _with_amount(line: Line, one: Watched, option: Option, shop: Shop) -> Line:
    return _taking(line, one, amount_of(line, option.quantity, shop))


def _problem(lines: Sequence[Line], by_code: dict[str, Watched], shop: Shop, fixed: frozenset[str]) -> Problem:
    """Return the choice: of each line no amount or one of a few, each with its cost and when the supply runs out then.

    The amounts: the one chosen, the one wanted, and parts of it down to the least that can be ordered. Nothing is
    better than lasting as long as the amount wanted does.
    """
    suppliers = list(dict.fromkeys(line.offer.supplier.code for line in lines))
    seller = {line.offer.supplier.code: line.offer.supplier for line in lines}
    options: list[Option] = []
    without = []
    for number, line in enumerate(lines):
        look = by_code[line.code].outlook
        wanted = line.chosen if line.code in fixed else line.amounts[0]
        most = runs_out_with(look, wanted.quantity, line.arrives_at)
        without.append(min(most, runs_out_with(look, Decimal(0), 0)))
        for quantity in _quantities(line, wanted.quantity, len(lines), fixed=line.code in fixed):
            amount = amount_of(line, quantity, shop)
            options.append(
                Option(
                    line=number,
                    supplier=suppliers.index(line.offer.supplier.code),
                    quantity=amount.quantity,
                    cents=_cents(amount.goods, shop),
                    runs_out=min(most, runs_out_with(look, amount.quantity, line.arrives_at)),
                    chosen=amount.quantity == line.chosen.quantity,
                )
            )
    return Problem(
        options=tuple(options),
        without=tuple(without),
        alone=tuple(line.why != "with_it" for line in lines),
        delivery=tuple(_cents(seller[code].delivery, shop) for code in suppliers),
        free_from=tuple(
            _cents(limit, shop) if (limit := seller[code].free_from) is not None else None for code in suppliers
        ),
    )


def _quantities(line: Line, wanted: Decimal, lines: int, *, fixed: bool) -> tuple[Decimal, ...]:
    """Return the amounts weighed of a line: parts of the amount wanted, finer the fewer lines there are."""
    if fixed:
        return (line.chosen.quantity,)
    parts = max(_FEWEST_PARTS, min(_MOST_PARTS, _AMOUNTS_IN_ALL // lines))
    found = {line.offer.rounded_up(wanted * part / parts) for part in range(parts + 1)}
    return tuple(sorted(found | {line.chosen.quantity}))


def _wanted(problem: Problem, number: int) -> int:
    """Return the option the line would take by itself."""
    return next(at for at, one in enumerate(problem.options) if one.line == number and one.chosen)


def _by_thumb(problem: Problem, every: tuple[int, ...], limit: int | None) -> tuple[int | None, ...]:
    """Return what is bought soonest first, passing over what does not fit; lines are in that order."""
    taken: list[int | None] = [None] * len(every)
    if limit is None:
        return every
    for number, at in enumerate(every):
        tried = [*taken]
        tried[number] = at
        if problem.cost(tried) <= limit and problem.allowed(tried):
            taken = tried
    return tuple(taken)


def _orders(lines: Sequence[Line], by_code: dict[str, Watched], shop: Shop) -> tuple[SupplierOrder, ...]:
    found: dict[str, list[Line]] = {}
    for line in lines:
        found.setdefault(line.offer.supplier.code, []).append(line)
    orders = []
    for mine in found.values():
        supplier = mine[0].offer.supplier
        goods = sum((line.chosen.goods for line in mine), Decimal(0))
        orders.append(
            SupplierOrder(
                supplier=supplier,
                lines=tuple(mine),
                goods=goods,
                delivery=delivery_for(supplier, goods),
                order_by=min((line.reorder.order_by for line in mine if line.reorder.order_by), default=None),
                arrives_on=max(line.arrives_on for line in mine),
                to_free=_raise(mine, goods, by_code, shop),
            )
        )
    return tuple(sorted(orders, key=lambda one: (one.order_by or date.max, one.supplier.code)))


def _raise(lines: Sequence[Line], goods: Decimal, by_code: dict[str, Watched], shop: Shop) -> Raise | None:
    """Return what more of the supplier's supplies would make its delivery free, pack by pack of what lasts shortest."""
    supplier = lines[0].offer.supplier
    if supplier.free_from is None or goods >= supplier.free_from or supplier.delivery <= 0:
        return None
    held = {line.code: (line.offer, line.arrives_at, line.chosen.quantity) for line in lines}
    for one in by_code.values():
        if one.need.code not in held:
            for offer in one.need.offers:
                if offer.supplier.code == supplier.code:
                    held[one.need.code] = (offer, lines[0].arrives_at, Decimal(0))
    more: dict[str, Decimal] = {}
    costs = Decimal(0)
    while goods + costs < supplier.free_from:
        best: tuple[int, str, Decimal, Decimal] | None = None
        for code, (offer, at, quantity) in held.items():
            before = quantity + more.get(code, Decimal(0))
            after = offer.rounded_up(before + offer.pack)
            lasts = _lasts(by_code[code], after, at, shop)
            if lasts is None:
                continue
            extra = _goods(offer.price_at(after), after, shop) - _goods(offer.price_at(before), before, shop)
            if extra > 0 and (best is None or (lasts, code) < best[:2]):
                best = (lasts, code, after - quantity, extra)
        if best is None:
            return None
        more[best[1]] = best[2]
        costs += best[3]
    return Raise(adds=tuple(sorted(more.items())), goods=costs, saves=supplier.delivery)


def _goods(price: Decimal, quantity: Decimal, shop: Shop) -> Decimal:
    return round_money(price * quantity, shop.buying.money_digits)


def _lasts(one: Watched, quantity: Decimal, at: int, shop: Shop) -> int | None:
    """Return for how many working days so much lasts; None when that is longer than anything is bought for, nothing
    uses it, or its slot is too small."""
    lasts = runs_out_with(one.outlook, quantity, at)
    if lasts >= min(len(one.outlook.days), at + shop.longest_days):
        return None
    if one.need.room is not None and quantity + max(Decimal(0), one.outlook.level_on(at)) > one.need.room:
        return None
    return lasts
