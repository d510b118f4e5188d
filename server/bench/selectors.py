"""Reading a parcel at the bench: its plan, its part of it, its steps, its weighing."""

from collections.abc import Mapping, Sequence

from django.db.models import QuerySet
from pydantic import TypeAdapter

from core.bench.slips import slips_of
from core.bench.steps import BenchStep, steps_of, steps_when_ready
from core.bench.weighing import Slip, WeightCheck, check_weight
from core.messages import say
from core.parcels.candidate import PlannedParcel
from core.parcels.facts import Settings
from core.parcels.layers import pack_layers
from core.parcels.plan import PlannedOrder
from core.recipes.model import Recipe
from server.bench.models import Parcel
from server.plans.mapping import plan_of
from server.recipes.mapping import core_recipe
from server.recipes.models import RecipeVersion
from server.supplies.models import Supply
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = [
    "CHECK",
    "checked",
    "names_of",
    "parcels_of",
    "part_of",
    "planned",
    "recipes_of",
    "slips_for",
    "steps_for",
    "steps_of_part",
    "weight_check_of",
]

CHECK: TypeAdapter[WeightCheck] = TypeAdapter(WeightCheck)


def parcels_of(workshop: Workshop, order_id: int) -> "QuerySet[Parcel]":
    """Return the order's parcels in turn, without those that were undone."""
    rows = Parcel.objects.of(workshop).filter(order_id=order_id).exclude(state=Parcel.State.UNDONE)
    return rows.select_related("kept").order_by("part")


def planned(parcel: Parcel) -> PlannedOrder:
    """Return the plan the parcel was begun with."""
    plan = plan_of(parcel.kept)
    if not isinstance(plan, PlannedOrder):
        raise TypeError(f"parcel {parcel.pk} was begun without a plan")
    return plan


def part_of(parcel: Parcel) -> PlannedParcel:
    """Return what this parcel of its order holds and how it is packed."""
    return planned(parcel).chosen.parcels[parcel.part - 1]


def weight_check_of(parcel: Parcel) -> WeightCheck | None:
    """Return the last weighing's verdict."""
    return CHECK.validate_python(parcel.weight_check) if parcel.weight_check else None


def names_of(workshop: Workshop, mine: PlannedParcel) -> dict[str, str]:
    """Return the names of the supplies a parcel uses, by code."""
    codes = {use.supply for use in mine.candidate.uses}
    return dict(Supply.objects.of(workshop).filter(code__in=codes).values_list("code", "name"))


def recipes_of(workshop: Workshop, mine: PlannedParcel, versions: Mapping[str, int]) -> tuple[Recipe, ...]:
    """Return the parcel's recipes in the versions it was begun with, not the ones current now."""
    codes = {piece.recipe for piece in mine.pieces} & set(versions)
    rows = RecipeVersion.objects.of(workshop).filter(recipe__code__in=codes).select_related("recipe")
    return tuple(core_recipe(row) for row in rows if versions[row.recipe.code] == row.number)


def steps_of_part(
    workshop: Workshop, mine: PlannedParcel, versions: Mapping[str, int], names: dict[str, str], note: str = ""
) -> tuple[BenchStep, ...]:
    """Return the steps of packing a parcel of a plan, by these recipe versions."""
    recipes = recipes_of(workshop, mine, versions)
    minutes = judgements_of(workshop).out_of_freezer_minutes
    return steps_of(mine, recipes, pack_layers(mine, names), names, note, minutes)


def steps_for(parcel: Parcel, names: dict[str, str]) -> tuple[BenchStep, ...]:
    """Return the parcel's steps, from the plan and the recipe versions it was begun with."""
    steps = steps_of_part(parcel.workshop, part_of(parcel), parcel.recipe_versions, names, planned(parcel).note)
    if parcel.ready is None:
        return steps
    packed = say(
        "packed_ahead",
        day_on=parcel.ready.packed_at.date(),
        by=parcel.ready.packed_by,
        container=parcel.ready.container,
    )
    return steps_when_ready(steps, place=parcel.ready.place, packed=packed)


def slips_for(workshop: Workshop, plan: PlannedOrder, mine: PlannedParcel) -> tuple[Slip, ...]:
    """Return every single slip that may have happened to one parcel of a plan."""
    return slips_of(mine, names_of(workshop, mine), _tares(workshop, plan, mine))


def _tares(workshop: Workshop, plan: PlannedOrder, mine: PlannedParcel) -> dict[str, int]:
    """Return what containers weigh that the plan knows to take the goods: nobody packed six jars in
    a bag by mistake.
    """
    codes = plan.would_take(mine.goods)
    rows = Supply.objects.of(workshop).filter(kind__in=("carton", "mailer"), code__in=codes)
    return {code: facts["tare_mg"] for code, facts in rows.values_list("code", "facts")}


def checked(mine: PlannedParcel, measured_mg: int, slips: Sequence[Slip], settings: Settings) -> WeightCheck:
    """Return the verdict on a parcel's weight."""
    weight = mine.candidate.weight
    return check_weight(
        expected_mg=weight.gross_mg,
        sigma_mg=weight.sigma_mg,
        measured_mg=measured_mg,
        slips=slips,
        look_cost=settings.look_cost,
        slip_one_in=settings.slip_one_in,
    )
