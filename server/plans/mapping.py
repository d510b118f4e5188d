"""The core's plan to JSON and back: exact, so a packed parcel keeps its plan for ever."""

from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from core.parcels.plan import Blocked, PlannedOrder

__all__ = ["AnyPlan", "plan_from_json", "plan_to_json"]

AnyPlan = Annotated[PlannedOrder | Blocked, Field(discriminator="status")]
_PLAN: TypeAdapter[PlannedOrder | Blocked] = TypeAdapter(AnyPlan)


def plan_to_json(plan: PlannedOrder | Blocked) -> Any:
    """Return the plan as JSON values; Decimals become text, nothing is rounded."""
    return _PLAN.dump_python(plan, mode="json")


def plan_from_json(document: Any) -> PlannedOrder | Blocked:
    """Return the plan a JSON document stands for."""
    return _PLAN.validate_python(document)
