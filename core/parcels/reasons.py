"""Why this way and not another, in words: what it beats and by how much, what is offered, what to mind (parcels)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from core.parcels.candidate import Candidate
from core.parcels.divide import MOST_PARCELS
from core.parcels.facts import Overrides
from core.parcels.several import Reason
from core.parcels.single import Tried, in_recipe, recipes_of, why_none
from core.parcels.way import Way, called, way_rank
from core.recipes.expand import Missing
from core.units import format_weight

__all__ = ["Offer", "offer_of", "warnings_of", "why_chosen", "why_not"]

_NUMBERS = ("no", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve")


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A cheaper way than the chosen one, in one sentence."""

    container: str
    saves: Decimal
    sentence: str
    key: str = ""  #: of the way


def offer_of(chosen: Way, allowed: Sequence[Way]) -> Offer | None:
    """Return the cheapest way that may be taken, when it is cheaper than the chosen one."""
    best = min(allowed, key=way_rank, default=chosen)
    saves = chosen.costs.total - best.costs.total
    if saves <= 0:
        return None
    first = best.candidates[0]
    if len(best.parcels) == 1:
        how = f"{first.quote.service_name}, {format_weight(first.weight.gross_mg)}"
    else:
        services = dict.fromkeys(candidate.quote.service_name for candidate in best.candidates)
        how = f"{_NUMBERS[len(best.parcels)].lower()} parcels, {' and '.join(services)}"
    sentence = f"{called(best)} would do it for {saves:f} less: {how}."
    return Offer(container=best.containers[0], key=best.key, saves=saves, sentence=sentence)


def why_chosen(chosen: Way, others: Sequence[Way], whole: Tried, overrides: Overrides, divided_for: Reason) -> str:
    """Return what the choice beats and by how much, and what ruled the recipe's other choices out."""
    recipe_first = next(iter(in_recipe(whole.expansion)), None)
    divided = len(chosen.parcels) > 1 or chosen.candidates[0].strapped is not None
    lead = _lead_divided(chosen, whole, overrides, divided_for) if divided else _lead_one(chosen, whole, overrides)
    first_out = next((r for r in whole.ruled_out if r.container == recipe_first), None)
    tell = first_out is not None and recipe_first not in chosen.containers and divided_for != "by_hand"
    out = f" {_capital(first_out.reason)}" if first_out and tell else ""
    best = others[0] if others else None
    if best is None:
        return lead + out + " Nothing else in the cupboard takes this order."
    gap = best.costs.total - chosen.costs.total
    compared = (
        f" {called(chosen) if out or divided else 'It'} {_costs(chosen)} {gap:f} less than {called(best)}, the next best."
        if gap > 0
        else f" {called(best)} would cost {-gap:f} less."
        if gap < 0
        else f" {called(best)} {_costs(best)} the same."
    )
    return lead + out + compared


def why_not(whole: Tried, forced: str | None, overrides: Overrides, divided_for: Reason) -> tuple[Missing, ...]:
    """Return why there is no way at all, or none as a person wants it."""
    missing = _why_not(whole, forced, overrides)
    looked = divided_for in ("apart", "too_much") and not overrides.container and not overrides.parcels
    one_unit = sum(piece.units for piece in whole.expansion.pieces) == 1
    if not looked or one_unit or missing[0].code not in ("no_band", "no_container", "must_be_apart"):
        return missing
    tried = f"Dividing it between up to {MOST_PARCELS} parcels does not help."
    return tuple(replace(one, message=f"{one.message} {tried}") if n == 0 else one for n, one in enumerate(missing))


def _why_not(whole: Tried, forced: str | None, overrides: Overrides) -> tuple[Missing, ...]:
    if overrides.parcels is not None and overrides.parcels > 1:
        text = f"This order cannot be sent in {overrides.parcels} parcels: no division was found that goes."
        return (Missing(code="no_container", subject="", message=text),)
    if overrides.shares:
        text = "One of the parcels a person set is taken by no container of its recipe. Move goods, or take that back."
        return (Missing(code="no_container", subject="", message=text),)
    if whole.expansion.missing:
        return whole.expansion.missing
    if overrides.container and ("+" in overrides.container or "&" in overrides.container):
        text = f"{overrides.container.replace('+', ' and ').replace('&', ' strapped to ')} no longer takes this order."
        return (Missing(code="no_container", subject="", message=text),)
    return why_none(whole, forced)


def warnings_of(chosen: Way) -> tuple[str, ...]:
    """Return what to mind: a price step closer than the uncertainty, a carton that may not bear its stack."""
    several = len(chosen.parcels) > 1
    return tuple(
        f"Parcel {number}: {warning}" if several else warning
        for number, candidate in enumerate(chosen.candidates, start=1)
        for warning in _warnings(candidate)
    )


def _lead_one(chosen: Way, whole: Tried, overrides: Overrides) -> str:
    name = called(chosen)
    if overrides.container is not None:
        return f"You chose {name}."
    if len(recipes_of(whole.expansion)) > 1:
        return f"{name} is the cheapest that takes these goods together."
    if chosen.only.container == next(iter(in_recipe(whole.expansion)), None):
        return f"{name} is the recipe's own choice for this size of order."
    return f"{name} is the recipe's next choice." if chosen.in_recipe else f"{name} is the cheapest that fits."


def _lead_divided(chosen: Way, whole: Tried, overrides: Overrides, divided_for: Reason) -> str:
    how = "One parcel of two cartons" if len(chosen.parcels) == 1 else f"{_NUMBERS[len(chosen.parcels)]} parcels"
    if divided_for == "by_hand":
        return f"{how}, as you set them."
    if overrides.container is not None:
        return f"You chose {called(chosen)}."
    if divided_for == "asked":
        return f"{how}, as you asked."
    told = [missing.fact for missing in whole.expansion.missing]
    why = " ".join(told) if told else "No one container takes all of it."
    return f"{how}: {called(chosen)}. {why}"


def _costs(way: Way) -> str:
    return "costs" if len(way.parcels) == 1 else "cost"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _warnings(candidate: Candidate) -> list[str]:
    found = []
    step = candidate.step
    if step.near:
        percent = (step.chance_to_pass * 100).quantize(Decimal("0.1")).normalize()
        found.append(
            f"{format_weight(step.room_mg)} under the {format_weight(candidate.quote.step_mg)} step: {percent:f} % chance to pass it. Weigh before you buy the label."
        )
    stack = candidate.stacking
    if stack is not None and not stack.holds:
        found.append(
            f"{candidate.container} bears {stack.allowed_n} N with the safety factor; {stack.above} like parcels on it press "
            f"with {stack.load_n} N. Take double wall, or keep it on top."
        )
    return found
