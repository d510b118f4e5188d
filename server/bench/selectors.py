"""Reading a parcel at the bench: its plan, its part of it, its weighing."""

from django.db.models import QuerySet
from pydantic import TypeAdapter

from core.bench.weighing import WeightCheck
from core.parcels.candidate import PlannedParcel
from core.parcels.plan import PlannedOrder
from server.bench.models import Parcel
from server.plans.mapping import plan_of
from server.workshops.models import Workshop

__all__ = ["CHECK", "parcels_of", "part_of", "planned", "weight_check_of"]

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
