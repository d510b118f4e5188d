"""Why this way and not another: what it beats and by how much, what is offered, what to mind (parcels)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from core.messages import Fact, Message, Text, say
from core.parcels.candidate import Candidate
from core.parcels.divide import MOST_PARCELS
from core.parcels.facts import Overrides
from core.parcels.several import Reason
from core.parcels.single import Tried, in_recipe, recipes_of, why_none
from core.parcels.way import Way, called, way_rank
from core.recipes.expand import Missing

__all__ = ["Offer", "offer_of", "warnings_of", "why_chosen", "why_not"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A cheaper way than the chosen one."""

    container: str
    saves: Decimal
    sentence: Text
    key: str = ""  #: of the way


def offer_of(chosen: Way, allowed: Sequence[Way]) -> Offer | None:
    """Return the cheapest way that may be taken, when it is cheaper than the chosen one."""
    best = min(allowed, key=way_rank, default=chosen)
    saves = chosen.costs.total - best.costs.total
    if saves <= 0:
        return None
    first = best.candidates[0]
    if len(best.parcels) == 1:
        how = say("by_service", service=first.quote.service_name, weight_mg=first.weight.gross_mg)
    else:
        services = tuple(dict.fromkeys(candidate.quote.service_name for candidate in best.candidates))
        how = say("in_parcels", parcels=len(best.parcels), services=services)
    sentence = say("would_do_for_less", way=called(best), saves_money=saves, how=how)
    return Offer(container=best.containers[0], key=best.key, saves=saves, sentence=sentence)


def why_chosen(chosen: Way, others: Sequence[Way], whole: Tried, overrides: Overrides, divided_for: Reason) -> Message:
    """Return what the choice beats and by how much, and what ruled the recipe's other choices out."""
    recipe_first = next(iter(in_recipe(whole.expansion)), None)
    divided = len(chosen.parcels) > 1 or chosen.candidates[0].strapped is not None
    lead = _lead_divided(chosen, whole, overrides, divided_for) if divided else _lead_one(chosen, whole, overrides)
    first_out = next((r for r in whole.ruled_out if r.container == recipe_first), None)
    tell = first_out is not None and recipe_first not in chosen.containers and divided_for != "by_hand"
    out = (first_out.reason,) if first_out is not None and tell else ()
    best = others[0] if others else None
    compared = say("nothing_else") if best is None else _compared(chosen, best)
    return say("why", sentences=(*lead, *out, compared))


def _compared(chosen: Way, best: Way) -> Message:
    gap = best.costs.total - chosen.costs.total
    facts: dict[str, Fact] = {
        "way": called(chosen),
        "ways": len(chosen.parcels),
        "other": called(best),
        "others": len(best.parcels),
    }
    if gap > 0:
        return say("costs_less_than", **facts, gap_money=gap)
    return say("other_costs_less", **facts, gap_money=-gap) if gap < 0 else say("costs_the_same", **facts)


def why_not(whole: Tried, forced: str | None, overrides: Overrides, divided_for: Reason) -> tuple[Missing, ...]:
    """Return why there is no way at all, or none as a person wants it."""
    missing = _why_not(whole, forced, overrides)
    looked = divided_for in ("apart", "too_much") and not overrides.container and not overrides.parcels
    one_unit = sum(piece.units for piece in whole.expansion.pieces) == 1
    if not looked or one_unit or missing[0].code not in ("no_band", "no_container", "must_be_apart"):
        return missing
    tried = say("dividing_does_not_help", most=MOST_PARCELS)
    first = replace(missing[0], message=say("why", sentences=(missing[0].message, tried)))
    return (first, *missing[1:])


def _why_not(whole: Tried, forced: str | None, overrides: Overrides) -> tuple[Missing, ...]:
    if overrides.parcels is not None and overrides.parcels > 1:
        return (_no_container(say("not_in_parcels", parcels=overrides.parcels)),)
    if overrides.shares:
        return (_no_container(say("shares_do_not_go")),)
    if whole.expansion.missing:
        return whole.expansion.missing
    if overrides.container and ("+" in overrides.container or "&" in overrides.container):
        return (_no_container(say("way_gone", containers=tuple(overrides.container.replace("&", "+").split("+")))),)
    return why_none(whole, forced)


def _no_container(message: Message) -> Missing:
    return Missing(code="no_container", subject="", message=message)


def warnings_of(chosen: Way) -> tuple[Message, ...]:
    """Return what to mind: goods less protected than they should be, a price step closer than the uncertainty, a weak
    carton.
    """
    several = len(chosen.parcels) > 1
    return tuple(
        say("of_parcel", number=number, what=warning) if several else warning
        for number, candidate in enumerate(chosen.candidates, start=1)
        for warning in _warnings(candidate)
    )


def _lead_one(chosen: Way, whole: Tried, overrides: Overrides) -> tuple[Message, ...]:
    name = called(chosen)
    if overrides.container is not None:
        return (say("you_chose", way=name),)
    if len(recipes_of(whole.expansion)) > 1:
        return (say("cheapest_together", way=name),)
    if chosen.only.container == next(iter(in_recipe(whole.expansion)), None):
        return (say("recipes_own", way=name),)
    return (say("recipes_next" if chosen.in_recipe else "cheapest_that_fits", way=name),)


def _lead_divided(chosen: Way, whole: Tried, overrides: Overrides, divided_for: Reason) -> tuple[Text, ...]:
    parcels = len(chosen.parcels)
    how = say("one_of_two_cartons") if parcels == 1 else say("so_many_parcels", parcels=parcels)
    if divided_for == "by_hand":
        return (say("as_you_set", how=how),)
    if overrides.container is not None:
        return (say("you_chose", way=called(chosen)),)
    if divided_for == "asked":
        return (say("as_you_asked", how=how),)
    told = tuple(missing.fact or missing.message for missing in whole.expansion.missing)
    return (say("divided_into", how=how, way=called(chosen)), *(told or (say("no_one_container"),)))


def _warnings(candidate: Candidate) -> list[Message]:
    found = [exposure.message for exposure in candidate.exposures]
    step = candidate.step
    if step.near:
        found.append(
            say(
                "step_near",
                room_mg=step.room_mg,
                step_mg=candidate.quote.step_mg,
                chance_percent=step.chance_to_pass * 100,
            )
        )
    stack = candidate.stacking
    if stack is not None and not stack.holds:
        found.append(
            say(
                "too_weak",
                container=candidate.container,
                allowed_newton=stack.allowed_n,
                above=stack.above,
                load_newton=stack.load_n,
            )
        )
    return found
