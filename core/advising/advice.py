"""Which changes to a planned order pay, each planned and priced again, best first (advising; rules 11.3).

Net saving = postage saved - extra materials - extra minutes - extra expected loss: the difference of the two plans'
totals. Only what saves more than the workshop's threshold is told. Pure.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from core.advising.changes import Change, Kind, changes_of
from core.messages import Message, Text, say
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import PlannedOrder, plan_order
from core.parcels.way import Way
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from core.tariffs.model import Place

__all__ = ["Advice", "advice_for"]

#: From this chance on that the parcel passes its step all the same, the advice says so: two sigma is one in forty-four.
_TOLD_FROM = Decimal("0.023")


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """One change that pays. Differences are after less before."""

    kind: Kind
    sentence: Text
    saves: Decimal  #: net, of everything
    postage: Decimal
    materials: Decimal
    minutes: Decimal
    expected_loss: Decimal
    days: int  #: later (or sooner) it arrives
    gross_mg: int  #: of all parcels afterwards
    risk: Decimal  #: chance that a parcel then passes the weight step it stands under, 0 to 1
    services: tuple[str, ...]  #: afterwards, by name
    overrides: Overrides  #: applies it
    change: Text = ""  #: what would be done, without what it saves
    recurs: str = ""  #: what would come again on order after order of a recipe; "": it is about this order


def advice_for(
    plan: PlannedOrder,
    lines: tuple[OrderLine, ...],
    facts: Facts,
    *,
    destination: Place,
    ship_on: date,
    overrides: Overrides,
    occasion: Occasion,
    names: Mapping[str, str],
    ship_days: tuple[int, ...],
    threshold: Decimal,
) -> tuple[Advice, ...]:
    """Return the changes whose net saving is above the threshold, the best first.

    ``plan`` is the order as it is planned with ``overrides``; stock it promised must count as free in ``facts``.
    """
    judged = facts.settings.judgements
    limited = any(line.product is not None and line.product.limits_c(judged) != (None, None) for line in lines)
    found: list[Advice] = []
    seen: set[tuple[object, ...]] = set()
    alone: dict[str, Decimal] = {}  #: what the simple changes save, by their decisions
    for change in changes_of(plan, lines, facts, overrides, names=names, ship_days=ship_days):
        other = plan_order(
            lines,
            facts,
            destination=destination,
            ship_on=ship_on,
            overrides=_undivided(change, plan),
            occasion=occasion,
            thermal=plan.wish,
        )
        if not isinstance(other, PlannedOrder) or (limited and _another_way(plan, other)):
            continue
        saves = plan.chosen.costs.total - other.chosen.costs.total
        alone[repr(change.overrides)] = saves
        better = all(saves > alone.get(repr(part), Decimal(0)) + threshold for part in change.parts)
        if saves <= threshold or not better or not _honest(change, plan, other):
            continue
        comes_to = (other.chosen.key, other.chosen.costs, other.ship_on, change.overrides.omitted)
        if comes_to not in seen:
            seen.add(comes_to)
            found.append(_advice(change, plan, other, saves))
    return tuple(sorted(found, key=lambda one: (-one.saves, one.minutes, one.kind, repr(one.overrides))))


def _another_way(plan: PlannedOrder, other: PlannedOrder) -> bool:
    """Goods with a limit of heat or cold were looked at on their way: a longer one, or on another day, is another."""
    last = max(one.quote.arrives_on for one in plan.chosen.candidates)
    return other.ship_on != plan.ship_on or max(one.quote.arrives_on for one in other.chosen.candidates) > last


def _undivided(change: Change, plan: PlannedOrder) -> Overrides:
    """Return the decisions to plan with: an order that goes in one parcel need not be divided again to be priced.

    One parcel that goes is always taken before several; cheaper divisions are changes of their own.
    """
    wanted = change.overrides
    if len(plan.chosen.parcels) > 1 or wanted.container or wanted.parcels or wanted.shares:
        return wanted
    return replace(wanted, parcels=1)


def _honest(change: Change, before: PlannedOrder, after: PlannedOrder) -> bool:
    """A card left out or another fill is only worth telling when it saves postage, not its own price."""
    if change.kind in ("fill", "leave_out", "swap"):
        return after.chosen.costs.postage < before.chosen.costs.postage
    return True


def _advice(change: Change, before: PlannedOrder, after: PlannedOrder, saves: Decimal) -> Advice:
    old, new = before.chosen, after.chosen
    minutes, days = new.minutes - old.minutes, (new.arrives_on - old.arrives_on).days
    services = tuple(dict.fromkeys(one.quote.service_name for one in new.candidates))
    parts = [say("less_with", saves_money=saves, services=services)]
    if minutes:
        parts.append(say("minutes_more" if minutes > 0 else "minutes_less", so_many_minutes=abs(minutes)))
    if days:
        parts.append(say("days_later" if days > 0 else "days_sooner", days=abs(days)))
    risk = max(one.step.chance_to_pass for one in new.candidates)
    told: list[Text] = [say("advice", what=change.words, parts=tuple(parts)), *_reached(old, new), *_risky(risk)]
    exposed_before = {exposure.code for one in old.candidates for exposure in one.exposures}
    told += [e.message for one in new.candidates for e in one.exposures if e.code not in exposed_before]
    sentence = say("after_each_other", texts=tuple(told))
    return Advice(
        kind=change.kind,
        sentence=sentence,
        saves=saves,
        postage=new.costs.postage - old.costs.postage,
        materials=new.costs.materials - old.costs.materials,
        minutes=minutes,
        expected_loss=new.costs.expected_loss - old.costs.expected_loss,
        days=days,
        gross_mg=sum(one.weight.gross_mg for one in new.candidates),
        risk=risk,
        services=services,
        overrides=change.overrides,
        change=change.words,
        recurs=change.recurs,
    )


def _risky(risk: Decimal) -> list[Message]:
    return [] if risk < _TOLD_FROM else [say("risk_of_step", chance_percent=risk * 100)]


def _reached(old: Way, new: Way) -> list[Message]:
    """Name the weight step the parcel gets under, when that is what saves."""
    if len(old.parcels) != 1 or len(new.parcels) != 1:
        return []
    before, after = old.candidates[0].quote, new.candidates[0].quote
    if before.service != after.service or after.step_mg >= before.step_mg:
        return []
    return [say("gets_under_step", step_mg=after.step_mg)]
