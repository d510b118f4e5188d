"""What to mind with goods, for a whole order or for one of its parcels (parcels; shown where the hands are)."""

from dataclasses import replace

from core.messages import Text, say
from core.parcels.way import Way
from core.recipes.expand import OrderLine, Shelf
from core.recipes.goods import cautions_of
from core.supplies.items import Insert, Tape, Wrap

__all__ = ["cautions_for", "with_tools"]


def cautions_for(lines: tuple[OrderLine, ...]) -> tuple[Text, ...]:
    """Return what to mind with the goods, what their recipes say, and what is done before the packing; each once."""
    told: list[Text] = [caution for line in lines if line.product for caution in cautions_of(line.product)]
    told += [caution for line in lines if line.recipe for caution in line.recipe.cautions]
    ahead = [one for line in lines if line.recipe for one in line.recipe.ahead]
    told += [say("hours_before_packing", hours_number=one.hours_before, what=one.what) for one in ahead]
    return tuple(dict.fromkeys(told))


def with_tools(way: Way, shelf: Shelf) -> Way:
    """Return a way whose parcels also say what to mind with the tools their supplies ask for (the job: cautions)."""
    known: dict[str, Wrap | Tape | Insert] = {**shelf.wraps, **shelf.tapes, **shelf.inserts}
    parcels = []
    for parcel in way.parcels:
        items = (known.get(use.supply) for use in parcel.candidate.uses)
        told = [say(f"mind_{item.caution}", supply=item.name) for item in items if item is not None and item.caution]
        parcels.append(replace(parcel, cautions=tuple(dict.fromkeys((*parcel.cautions, *told)))) if told else parcel)
    return replace(way, parcels=tuple(parcels))
