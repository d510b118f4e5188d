"""The lines of a price after its base (tariffs; rules 10.10): account discount, surcharges in money, percentages,
cover, tax, rounding of the total. Each is rounded where it is charged. Pure.

Worked case: base 10.00, 10 % off the base, 1.50 in money, fuel 8 % of base and surcharges, cover 2.00 free of tax, 20 %
tax, rounded up to 0.05: 10.00 - 1.00 + 1.50 = 10.50; fuel 0.84; cover 2.00; tax 20 % of 11.34 = 2.27; 15.61 -> 15.65.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_UP, Decimal

from core.messages import Message, Text, say
from core.tariffs.charges import ExtraCover, Surcharge, TotalRounding
from core.tariffs.model import Sending, Service
from core.tariffs.surcharges import Met, applies, conditions_of
from core.units import ceil_div, round_money

__all__ = [
    "QuoteLine", "cover_line", "discount_line", "rounding_line", "surcharge_lines", "tax_lines",
]  # fmt: skip

_NOTHING = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class QuoteLine:
    """One line of a price, with the rule it comes from."""

    label: Text
    amount: Decimal
    rule: Text
    tax_percent: Decimal | None = None  #: None: taxed as the service is


def _sum(lines: Sequence[QuoteLine]) -> Decimal:
    return sum((line.amount for line in lines), _NOTHING)


def surcharge_lines(service: Service, net_base: Decimal, met: Met) -> list[QuoteLine]:
    """Return the surcharges that are due: those in money, then percentages of the base and those together.

    ``net_base``: the base price, less a discount on it. Of one group only the highest is charged.
    """
    due = [one for one in service.surcharges if applies(one, met)]
    money = [(one, _in_money(one, met)) for one in due if one.kind != "percent"]
    if met.flat:  # the carrier's own package does not ask for weight
        money = [(one, amount) for one, amount in money if one.kind != "per_weight"]
    in_money = [_money_line(one, amount, met) for one, amount in _highest(money)]
    so_far = net_base + _sum(in_money)
    percent = [
        (one, _bounded(one, (net_base if one.of == "base" else so_far) * one.amount / 100))
        for one in due
        if one.kind == "percent"
    ]
    return in_money + [
        _percent_line(one, amount, net_base if one.of == "base" else so_far) for one, amount in _highest(percent)
    ]


def _in_money(one: Surcharge, met: Met) -> Decimal:
    times = ceil_div(met.billable_mg, one.each_mg) if one.kind == "per_weight" else 1
    return _bounded(one, one.amount * times)


def _bounded(one: Surcharge, amount: Decimal) -> Decimal:
    if one.least is not None:
        amount = max(amount, one.least)
    if one.most is not None:
        amount = min(amount, one.most)
    return round_money(amount)


def _highest(due: list[tuple[Surcharge, Decimal]]) -> list[tuple[Surcharge, Decimal]]:
    """Of those of one group keep the highest, the first of two alike; the order of the list stays."""
    best: dict[str, tuple[Surcharge, Decimal]] = {}
    for one, amount in due:
        if one.group and (one.group not in best or amount > best[one.group][1]):
            best[one.group] = (one, amount)
    return [(one, amount) for one, amount in due if not one.group or best[one.group][0] is one]


def _money_line(one: Surcharge, amount: Decimal, met: Met) -> QuoteLine:
    rule = conditions_of(one)
    if one.kind == "per_weight":
        times = ceil_div(met.billable_mg, one.each_mg)
        rule = say("per_weight", each_money=one.amount, each_mg=one.each_mg, times=times, why=rule)
    return QuoteLine(label=one.name, amount=amount, rule=_told_bounds(one, rule, amount), tax_percent=one.tax_percent)


def _percent_line(one: Surcharge, amount: Decimal, of: Decimal) -> QuoteLine:
    rule = say("percent_of", percent_percent=one.amount, of_money=of)
    return QuoteLine(label=one.name, amount=amount, rule=_told_bounds(one, rule, amount), tax_percent=one.tax_percent)


def _told_bounds(one: Surcharge, rule: Message, amount: Decimal) -> Message:
    if one.least is not None and amount == round_money(one.least):
        rule = say("at_least", what=rule, least_money=one.least)
    elif one.most is not None and amount == round_money(one.most):
        rule = say("at_most", what=rule, most_money=one.most)
    return say("highest_of_group", what=rule, group=one.group) if one.group else rule


def discount_line(service: Service, of: Decimal) -> QuoteLine | None:
    """Return what the carrier takes off ``of`` for this account."""
    if service.discount is None or not service.discount.percent:
        return None
    percent = service.discount.percent
    return QuoteLine(
        label=say("discount"),
        amount=-round_money(of * percent / 100),
        rule=say("percent_off", percent_percent=percent, of_money=of),
    )


def cover_line(service: Service, sending: Sending) -> tuple[Decimal, QuoteLine | None, tuple[Message, ...]]:
    """Return what the parcel is covered for, the line of bought cover if there is any, and what to note."""
    excluded = sorted(sending.goods.intersection(service.cover_excludes))
    if excluded:
        goods = tuple(say(f"goods_{word}") for word in excluded)
        return _NOTHING, None, (say("cover_excluded", service=service.name, goods=goods),)
    included, extra = service.cover_included, service.extra_cover
    if sending.cover <= included:
        return included, None, ()
    if extra is None or extra.most <= included:
        return included, None, (_covers_less(service, included, sending),)
    covered, amount, rule = _bought(extra, included, min(sending.cover, extra.most))
    if covered <= included:
        return included, None, (_covers_less(service, included, sending),)
    line = QuoteLine(
        label=say("cover_to", covered_money=covered),
        amount=round_money(amount),
        rule=rule,
        tax_percent=extra.tax_percent,
    )
    if covered < sending.cover:
        return covered, line, (_covers_less(service, covered, sending),)
    return covered, line, ()


def _bought(extra: ExtraCover, included: Decimal, wanted: Decimal) -> tuple[Decimal, Decimal, Message]:
    """Return what is covered, the price and its rule, in steps, tiers or percent."""
    if extra.tiers:
        enough = next((tier for tier in extra.tiers if tier.up_to >= wanted), extra.tiers[-1])
        covered = min(enough.up_to, extra.most)
        return covered, enough.price, say("cover_tier", up_to_money=enough.up_to, price_money=enough.price)
    if extra.percent is not None:
        of = wanted if extra.of == "value" else wanted - included
        amount = max(of * extra.percent / 100, extra.least)
        rule = say("percent_of", percent_percent=extra.percent, of_money=of)
        if extra.least and round_money(amount) == round_money(extra.least):
            rule = say("at_least", what=rule, least_money=extra.least)
        return wanted, amount, rule
    steps = ((wanted - included) / extra.each).to_integral_value(ROUND_CEILING)
    covered = min(included + steps * extra.each, extra.most)
    rule = say("cover_rule", steps=int(steps), price_money=extra.price, included_money=included)
    return covered, steps * extra.price, rule


def _covers_less(service: Service, most: Decimal, sending: Sending) -> Message:
    return say("covers_up_to", service=service.name, most_money=most, asked_money=sending.cover)


def tax_lines(service: Service, lines: Sequence[QuoteLine], *, country: str, zone: str) -> list[QuoteLine]:
    """Return the tax: one line for each percentage, of the lines that are taxed so."""
    usual = next(
        (
            one.percent
            for one in service.taxes
            if (not one.countries or country in one.countries) and (not one.zones or zone in one.zones)
        ),
        service.tax_percent,
    )
    sums: dict[Decimal, Decimal] = {}
    for line in lines:
        # Where the destination pays another tax than usual, lines with a tax of their own keep theirs.
        percent = usual if line.tax_percent is None else line.tax_percent
        if percent:
            sums[percent] = sums.get(percent, _NOTHING) + line.amount
    return [
        QuoteLine(
            label=say("tax"),
            amount=round_money(net * percent / 100),
            rule=say("percent_of", percent_percent=percent, of_money=net),
        )
        for percent, net in sums.items()
    ]


_ROUNDINGS = {"up": ROUND_CEILING, "nearest": ROUND_HALF_UP, "down": ROUND_FLOOR}


def rounding_line(rule: TotalRounding | None, total: Decimal) -> QuoteLine | None:
    """Return what rounding the total adds or takes off; None: nothing."""
    if rule is None:
        return None
    rounded = (total / rule.to).to_integral_value(_ROUNDINGS[rule.rounding]) * rule.to
    if rounded == total:
        return None
    return QuoteLine(
        label=say("rounding"),
        amount=rounded - total,
        rule=say(f"rounded_{rule.rounding}", to_money=rule.to, of_money=total),
    )
