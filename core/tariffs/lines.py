"""The lines of a price after its base: surcharges, then cover (tariffs; rules 10.10). Each is rounded where it is
charged. Pure.
"""

from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal

from core.messages import Message, Text, say
from core.tariffs.model import Sending, Service
from core.tariffs.surcharges import applies, conditions_of
from core.units import Milligrams, Size, round_money

__all__ = ["QuoteLine", "cover_line", "surcharge_lines"]


@dataclass(frozen=True, slots=True, kw_only=True)
class QuoteLine:
    """One line of a price, with the rule it comes from."""

    label: Text
    amount: Decimal
    rule: Text


def surcharge_lines(
    service: Service,
    base: QuoteLine,
    *,
    zone: str,
    format_code: str,
    outer: Size,
    gross_mg: Milligrams,
    sending: Sending,
    flat: bool,
) -> list[QuoteLine]:
    """Return the surcharges that are due: fixed ones, then percentages of the base and those together."""
    due = [
        one
        for one in service.surcharges
        if applies(
            one,
            zone=zone,
            format_code=format_code,
            outer=outer,
            gross_mg=gross_mg,
            sending=sending,
            flat=flat,
        )
    ]
    fixed = [
        QuoteLine(label=s.name, amount=round_money(s.amount), rule=conditions_of(s)) for s in due if s.kind == "fixed"
    ]
    so_far = base.amount + sum((line.amount for line in fixed), Decimal(0))
    percent = [
        QuoteLine(
            label=s.name,
            amount=round_money(so_far * s.amount / 100),
            rule=say("percent_of", percent_percent=s.amount, of_money=so_far),
        )
        for s in due
        if s.kind == "percent"
    ]
    return fixed + percent


def cover_line(service: Service, sending: Sending) -> tuple[Decimal, QuoteLine | None, tuple[Message, ...]]:
    """Return what the parcel is covered for, the line of bought cover if there is any, and what to note."""
    excluded = sorted(sending.goods.intersection(service.cover_excludes))
    if excluded:
        goods = tuple(say(f"goods_{word}") for word in excluded)
        return Decimal(0), None, (say("cover_excluded", service=service.name, goods=goods),)
    included, extra = service.cover_included, service.extra_cover
    if sending.cover <= included:
        return included, None, ()
    if extra is None or extra.most <= included:
        return included, None, (_covers_less(service, included, sending),)
    wanted = min(sending.cover, extra.most)
    steps = ((wanted - included) / extra.each).to_integral_value(ROUND_CEILING)
    covered = min(included + steps * extra.each, extra.most)
    amount = round_money(steps * extra.price)
    rule = say("cover_rule", steps=int(steps), price_money=extra.price, included_money=included)
    line = QuoteLine(label=say("cover_to", covered_money=covered), amount=amount, rule=rule)
    if covered < sending.cover:
        return covered, line, (_covers_less(service, extra.most, sending),)
    return covered, line, ()


def _covers_less(service: Service, most: Decimal, sending: Sending) -> Message:
    return say("covers_up_to", service=service.name, most_money=most, asked_money=sending.cover)
