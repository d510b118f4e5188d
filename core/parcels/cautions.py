"""What to mind with goods, for a whole order or for one of its parcels (parcels; shown where the hands are)."""

from dataclasses import replace

from core.judgements import Judgements
from core.messages import Text, say
from core.parcels.facts import CareChoice
from core.parcels.way import Way
from core.recipes.expand import OrderLine, Shelf
from core.recipes.goods import cautions_of
from core.supplies.items import Insert, Tape, Wrap

__all__ = ["cautions_for", "with_agreed", "with_handling"]


def cautions_for(lines: tuple[OrderLine, ...]) -> tuple[Text, ...]:
    """Return what to mind with the goods, what their recipes say, and what is done before the packing; each once."""
    told: list[Text] = [caution for line in lines if line.product for caution in cautions_of(line.product)]
    told += [caution for line in lines if line.recipe for caution in line.recipe.cautions]
    ahead = [one for line in lines if line.recipe for one in line.recipe.ahead]
    told += [say("hours_before_packing", hours_number=one.hours_before, what=one.what) for one in ahead]
    return tuple(dict.fromkeys(told))


def with_agreed(way: Way, care: CareChoice | None) -> Way:
    """Return a way whose parcels say what the buyer agreed to about heat and cold: on the card and at the bench."""
    if care is None or care.agreed_on is None:
        return way
    told = say("buyer_agreed", agreed_on=care.agreed_on, words=care.agreed_words)
    return replace(way, parcels=tuple(replace(one, cautions=(*one.cautions, told)) for one in way.parcels))


def with_handling(way: Way, shelf: Shelf, judged: Judgements) -> Way:
    """Return a way whose parcels also say what to mind with tools, and how to lift what is heavy (rules 16.3)."""
    known: dict[str, Wrap | Tape | Insert] = {**shelf.wraps, **shelf.tapes, **shelf.inserts}
    parcels = []
    for parcel in way.parcels:
        items = (known.get(use.supply) for use in parcel.candidate.uses)
        told = [say(f"mind_{item.caution}", supply=item.name) for item in items if item is not None and item.caution]
        gross_mg = parcel.candidate.weight.gross_mg
        heavy = gross_mg >= judged.lift_mg
        if heavy:
            told.append(say("lift_two" if gross_mg >= judged.lift_two_mg else "lift_heavy", gross_mg=gross_mg))
        if told:
            cautions = tuple(dict.fromkeys((*parcel.cautions, *told)))
            parcel = replace(parcel, cautions=cautions, marks=("Heavy",) if heavy else ())
        parcels.append(parcel)
    return replace(way, parcels=tuple(parcels))
