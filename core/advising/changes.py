"""What could be changed about a planned order to send it for less (advising; rules 11.3).

Each change is a person's decision as ``Overrides`` know it, so that one that pays is applied, checked and taken back
like any other. Whether it pays is not judged here: see ``advice``. The number of changes is bounded by counts.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

from core.messages import Fact, Message, say
from core.parcels.candidate import Candidate
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import PlannedOrder
from core.parcels.way import Way, called
from core.recipes.expand import OrderLine
from core.recipes.model import InsertAmount
from core.supplies.items import Mailer
from core.tariffs.model import Packaging
from core.tariffs.quote import quote_all, tariffs_in_force

__all__ = ["Change", "Kind", "changes_of"]

Kind = Literal[
    "cut", "carton", "mailer", "flat_rate", "split", "join", "fill", "leave_out", "swap", "service", "ship_day"
]

#: Bounds of the work: so many of each kind are planned.
_WAYS, _MAILERS, _FILLS, _INSERTS, _SERVICES, _RUNNERS_UP = 4, 6, 4, 4, 3, 2
#: A ship date is looked for so many days ahead.
_DAYS_AHEAD = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One thing that could be done, in words to begin a sentence with, and the decisions it comes to."""

    kind: Kind
    words: Message
    overrides: Overrides
    recurs: str = ""  #: names it among the orders of a recipe, where it would be told on one after the other
    parts: tuple[Overrides, ...] = ()  #: it is made of these: only worth telling when better than each


def changes_of(
    plan: PlannedOrder,
    lines: tuple[OrderLine, ...],
    facts: Facts,
    overrides: Overrides,
    *,
    names: Mapping[str, str],
    ship_days: tuple[int, ...],
) -> list[Change]:
    """Return what is worth planning: other ways, mailers, fills, inserts, services and days.

    ``names``: what supplies are called; ``ship_days``: weekdays parcels are handed over, Monday 0.
    """
    return [
        *_ways(plan, facts, overrides),
        *_mailers(plan, lines, facts, overrides),
        *_fills(plan.chosen, facts, overrides, names),
        *_runners_up(plan, facts, overrides, names),
        *_inserts(plan, lines, facts, overrides, names),
        *_services(plan, overrides),
        *_days(plan, facts, overrides, ship_days),
    ]


def _ways(plan: PlannedOrder, facts: Facts, overrides: Overrides) -> list[Change]:
    """The cheaper of the ways the plan has looked at: other cartons, cut ones, more parcels or fewer."""
    cheaper = [way for way in plan.others if way.costs.total < plan.chosen.costs.total]
    own = _carriers_own(facts, plan.ship_on)
    return [
        Change(
            kind=_kind(way, plan.chosen, own),
            words=_words(way, plan.chosen, own),
            overrides=replace(overrides, container=way.key, parcels=None, shares=()),
            recurs=_recurs(way, plan.chosen),
        )
        for way in cheaper[:_WAYS]
    ]


def _recurs(way: Way, chosen: Way) -> str:
    """One whole container for another would be told on every order of its size."""
    if (
        len(way.parcels) != 1
        or len(chosen.parcels) != 1
        or way.only.strapped
        or way.only.change
        or chosen.only.strapped
    ):
        return ""
    return f"container:{chosen.only.container}:{way.only.container}"


def _carriers_own(facts: Facts, day: date) -> dict[str, Packaging]:
    return {item.code: item for tariff in tariffs_in_force(facts.tariffs, day) for item in tariff.packaging}


def _kind(way: Way, chosen: Way, own: Mapping[str, Packaging]) -> Kind:
    if len(way.parcels) != len(chosen.parcels):
        return "split" if len(way.parcels) > len(chosen.parcels) else "join"
    if any((item := own.get(code)) is not None and item.flat_rate for code in way.containers):
        return "flat_rate"
    first = way.candidates[0]
    if way.containers == chosen.containers and first.change is not None:
        return "cut"
    return "mailer" if first.kind == "mailer" else "carton"


def _words(way: Way, chosen: Way, own: Mapping[str, Packaging]) -> Message:
    kind = _kind(way, chosen, own)
    if kind in ("split", "join"):
        return say("send_in_parcels", parcels=len(way.parcels), way=called(way))
    first = way.candidates[0]
    if kind == "cut" and first.change is not None and first.change.cut_to_um is not None:
        return say("cut_container", container=first.container, height_um=first.change.cut_to_um)
    code = "use_flat_rate" if kind == "flat_rate" else "use_instead"
    return say(code, way=called(way), chosen=called(chosen))


def _mailers(plan: PlannedOrder, lines: tuple[OrderLine, ...], facts: Facts, overrides: Overrides) -> Iterable[Change]:
    """A mailer for a carton, a thinner mailer for another, a bag round the inner box.

    Only for goods that need no cushion: sturdy ones, or those in an inner carton. A mailer keeps no distance.
    """
    if len(plan.chosen.parcels) != 1 or plan.chosen.candidates[0].strapped is not None:
        return []
    sturdy = all(line.product is not None and line.product.fragility == "sturdy" for line in lines)
    if not sturdy and plan.chosen.only.nested is None:
        return []
    looked = {way.only.container for way in (plan.chosen, *plan.others) if len(way.parcels) == 1}
    own = _carriers_own(facts, plan.ship_on)
    mailers = [
        one
        for one in facts.containers
        if isinstance(one, Mailer)
        and one.code not in looked
        and one.code not in overrides.forbidden
        and facts.free.get(one.code, 0) >= one.pieces
    ]
    mailers.sort(key=lambda one: (one.flat_length_um * one.flat_width_um, one.unit_cost, one.code))
    inner = plan.chosen.only.nested
    found = []
    for one in mailers[:_MAILERS]:
        item = own.get(one.code)
        flat = item is not None and item.flat_rate is not None
        named = say("named_container", container=one.code, name=one.name)
        about: dict[str, Fact] = {"way": named, "chosen": called(plan.chosen)}
        words = (
            say("inner_in_mailer", inner=inner.code, **about)
            if inner
            else say("use_flat_rate" if flat else "use_instead", **about)
        )
        found.append(
            Change(
                kind="flat_rate" if flat else "mailer",
                words=words,
                overrides=replace(overrides, container=one.code, parcels=None, shares=()),
            )
        )
    return found


def _runners_up(plan: PlannedOrder, facts: Facts, overrides: Overrides, names: Mapping[str, str]) -> list[Change]:
    """The next best ways with the lightest fill: together they may reach a step that neither reaches alone."""
    own = _carriers_own(facts, plan.ship_on)
    found = []
    for way in [one for one in plan.others if len(one.parcels) == 1][:_RUNNERS_UP]:
        for fill in _fills(way, facts, overrides, names)[:1]:
            found.append(
                Change(
                    kind=_kind(way, plan.chosen, own),
                    words=say("both_changes", one=_words(way, plan.chosen, own), other=fill.words),
                    overrides=replace(fill.overrides, container=way.key, parcels=None, shares=()),
                    parts=(
                        replace(overrides, container=way.key, parcels=None, shares=()),
                        fill.overrides,
                    ),
                )
            )
    return found


def _fills(way: Way, facts: Facts, overrides: Overrides, names: Mapping[str, str]) -> list[Change]:
    """Another fill for one that is used: the lightest first. It may bulge less, too; how heavy goods may be the plan
    checks.
    """
    used = list(dict.fromkeys(use.supply for use in way.uses if use.is_fill))
    found = []
    for code in used:
        if any(this == code for _, this in overrides.substitutes):
            continue  # a person chose it
        now = facts.shelf.fills.get(code)
        if now is None:
            continue  # gone from the cupboard since it was planned
        others = sorted(
            (
                one
                for one in facts.shelf.fills.values()
                if one.code != code and facts.free.get(one.code, 0) > 0 and one.serves_for(now)
            ),
            key=lambda one: (one.packed_mg_per_l, one.unit_cost, one.code),
        )
        found += [
            Change(
                kind="fill",
                words=say("fill_with", fill=_name(names, other.code), now=_name(names, code)),
                overrides=replace(overrides, substitutes=(*overrides.substitutes, (code, other.code))),
                recurs=f"fill:{code}:{other.code}",
            )
            for other in others[:_FILLS]
        ]
    return found


def _inserts(
    plan: PlannedOrder, lines: tuple[OrderLine, ...], facts: Facts, overrides: Overrides, names: Mapping[str, str]
) -> list[Change]:
    """Leave an insert out that need not go in, or put a lighter sample in its place; required ones stay."""
    amounts = [one for line in lines if line.recipe is not None for band in line.recipe.bands for one in band.inserts]
    needed = {code for one in amounts if one.required for code in _codes(one)}
    used = [use.supply for use in plan.chosen.uses if use.role == "insert" and use.supply not in needed]
    optional = {code for one in amounts if not one.required for code in _codes(one)}
    found = []
    for code in list(dict.fromkeys(code for code in used if code in optional))[:_INSERTS]:
        found.append(
            Change(
                kind="leave_out",
                words=say("leave_out", insert=_name(names, code)),
                overrides=replace(overrides, omitted=(*overrides.omitted, *_ruled_by(amounts, code))),
            )
        )
        found += _lighter(code, amounts, lines, facts, overrides, names)
    return found


def _codes(one: InsertAmount) -> list[str]:
    return [one.insert, *(sample.insert for sample in one.samples)]


def _ruled_by(amounts: list[InsertAmount], code: str) -> list[str]:
    """The rules that put it in: its own, or those of which it is a sample."""
    return list(dict.fromkeys(one.insert for one in amounts if not one.required and code in _codes(one)))


def _lighter(
    code: str,
    amounts: list[InsertAmount],
    lines: tuple[OrderLine, ...],
    facts: Facts,
    overrides: Overrides,
    names: Mapping[str, str],
) -> list[Change]:
    ordered, inserts = {line.sku for line in lines}, facts.shelf.inserts
    weight = inserts[code].weight_mg if code in inserts else 0
    lighter = {
        (one.insert, sample.insert)
        for one in amounts
        if code in _codes(one) and not one.required
        for sample in one.samples
        if sample.insert != code
        and sample.sku not in ordered
        and sample.insert in inserts
        and inserts[sample.insert].weight_mg < weight
        and facts.free.get(sample.insert, 0) >= 1
    }
    return [
        Change(
            kind="swap",
            words=say("put_in_instead", other=_name(names, other), now=_name(names, code)),
            recurs=f"swap:{rule}:{other}",
            overrides=replace(overrides, substitutes=(*overrides.substitutes, (rule, other))),
        )
        for rule, other in sorted(lighter, key=lambda pair: (inserts[pair[1]].weight_mg, pair))[:1]
    ]


def _services(plan: PlannedOrder, overrides: Overrides) -> list[Change]:
    """Another service that asks less for every parcel; the choosing rules or a person took a more expensive one."""
    first = plan.chosen.candidates[0]
    cheaper = [q for q in first.quotes if q.price < first.quote.price and q.service != first.quote.service]
    everywhere = [q for q in cheaper if all(_offers(one, q.service) for one in plan.chosen.candidates)]
    return [
        Change(
            kind="service",
            words=say("send_with_instead", service=quote.service_name, now=first.quote.service_name),
            overrides=replace(overrides, service=quote.service),
        )
        for quote in everywhere[:_SERVICES]
    ]


def _offers(candidate: Candidate, service: str) -> bool:
    return any(quote.service == service for quote in candidate.quotes)


def _days(plan: PlannedOrder, facts: Facts, overrides: Overrides, ship_days: tuple[int, ...]) -> list[Change]:
    """A later day of the coming week on which the same parcels cost less: a new price list, or a service that moves."""
    for ahead in range(1, _DAYS_AHEAD + 1):
        day = plan.ship_on + timedelta(days=ahead)
        if day.weekday() not in ship_days:
            continue
        total = plan.chosen.costs.postage * 0
        for one in plan.chosen.candidates:
            if one.sending is None:
                return []
            quotes, _ = quote_all(
                facts.tariffs,
                outer=one.outer_bulged,
                gross_mg=one.weight.gross_mg,
                sending=replace(one.sending, ship_on=day),
            )
            if not quotes:
                break
            total += quotes[0].price
        else:
            if total < plan.chosen.costs.postage:
                words = say("send_on_instead", day_on=day, now_on=plan.ship_on)
                return [Change(kind="ship_day", words=words, overrides=replace(overrides, not_before=day))]
    return []


def _name(names: Mapping[str, str], code: str) -> str:
    return names.get(code, code)
