"""The parcels of a plan as rows, for what looks at many at once: the day, its waves, what to prepare (plans)."""

from collections.abc import Iterable, Mapping
from decimal import Decimal

from core.messages import say
from core.parcels.candidate import PlannedParcel
from core.parcels.plan import PlannedOrder
from core.recipes.bodies import Shelf
from core.recipes.model import Recipe
from server.plans.mapping import texts_to_json
from server.plans.models import Plan, PlanPart
from server.words import METRIC
from server.workshops.models import Workshop

__all__ = ["alike_of", "parts_of", "save_parts"]

#: Nothing is packed in less, whatever a recipe says.
_LEAST_MINUTES = Decimal("0.1")


def alike_of(parcel: PlannedParcel) -> str:
    """Return what makes parcels alike: recipes and bands of their goods, and the container (rules 20.2)."""
    kinds = sorted({f"{piece.recipe} {piece.band.first}-{piece.band.last}" for piece in parcel.pieces})
    return f"{', '.join(kinds)} in {parcel.candidate.key}"[:200]


def parts_of(
    workshop: Workshop, plan: Plan, planned: PlannedOrder, recipes: Mapping[str, Recipe], shelf: Shelf
) -> list[PlanPart]:
    """Return the rows of a plan, not saved; ``recipes``: those it was made with."""
    found = []
    for part, parcel in enumerate(planned.chosen.parcels, start=1):
        mine = [recipes[code] for code in dict.fromkeys(piece.recipe for piece in parcel.pieces) if code in recipes]
        # What is done before is counted once an order, with its first parcel: it is no time at the table.
        before = max((sum((a.minutes for a in one.ahead), Decimal(0)) for one in mine), default=Decimal(0))
        minutes = parcel.candidate.minutes - (before if part == 1 else 0)
        quote = parcel.candidate.quote
        found.append(
            PlanPart(
                workshop=workshop,
                plan=plan,
                part=part,
                minutes=max(minutes, _LEAST_MINUTES),
                alike=alike_of(parcel),
                carrier=quote.carrier,
                service=quote.service,
                service_name=quote.service_name,
                cut_off=quote.cut_off,
                gross_mg=parcel.candidate.weight.gross_mg,
                price=quote.price,
                arrives_on=quote.arrives_on,
                zone=quote.zone[:30],
                container=texts_to_json((parcel.candidate.name,))[0],
                goods=dict(parcel.goods),
                supplies=sorted({use.supply for use in parcel.candidate.uses}),
                settle_minutes=parcel.candidate.closing.settle_minutes if parcel.candidate.closing else 0,
                ahead=[
                    *_frozen_ahead(parcel, shelf),
                    *(
                        {
                            "what": one.what,
                            "hours": f"{one.hours_before:f}",
                            "minutes": f"{one.minutes:f}",
                            "goods": _asking(parcel, recipe),
                        }
                        for recipe in mine
                        for one in recipe.ahead
                    ),
                ],
            )
        )
    return found


def _asking(parcel: PlannedParcel, recipe: Recipe) -> list[str]:
    """Return the names of the goods in the parcel that are packed by this recipe, each once."""
    return list(dict.fromkeys(piece.name for piece in parcel.pieces if piece.recipe == recipe.code))


def _frozen_ahead(parcel: PlannedParcel, shelf: Shelf) -> list[dict[str, object]]:
    """What must be in the freezer before: so many packs of a kind, so many hours."""
    counts: dict[str, int] = {}
    for carton in parcel.cartons:
        thermal = carton.candidate.thermal
        if thermal is not None and thermal.pack and thermal.kind != "heat":
            counts[thermal.pack] = counts.get(thermal.pack, 0) + thermal.count
    found: list[dict[str, object]] = []
    for code, count in counts.items():
        facts = shelf.inserts[code].pack if code in shelf.inserts else None
        if facts is not None and facts.freeze_hours > 0:
            what = METRIC.of(say("freeze_packs", pack=shelf.inserts[code].name))
            soaked = facts.freeze_hours + Decimal(facts.soak_minutes) / 60
            hours = f"{soaked.quantize(Decimal('0.01')).normalize():f}"
            found.append({"what": what, "hours": hours, "minutes": "0", "supply": code, "count": count})
    return found


def save_parts(workshop: Workshop, plans: Iterable[Plan], parts: Iterable[PlanPart]) -> None:
    """Put the rows in place of those these plans had."""
    PlanPart.objects.of(workshop).filter(plan__in=list(plans)).delete()
    PlanPart.objects.of(workshop).bulk_create(parts)
