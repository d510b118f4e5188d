"""The core's plan to JSON and back: exact, so a packed parcel keeps its plan for ever."""

from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from core.parcels.plan import Blocked, PlannedOrder
from core.units import format_length

__all__ = ["AnyPlan", "plan_from_json", "plan_to_json"]

AnyPlan = Annotated[PlannedOrder | Blocked, Field(discriminator="status")]
_PLAN: TypeAdapter[PlannedOrder | Blocked] = TypeAdapter(AnyPlan)


def plan_to_json(plan: PlannedOrder | Blocked) -> Any:
    """Return the plan as JSON values; Decimals become text, nothing is rounded."""
    return _PLAN.dump_python(plan, mode="json")


def plan_from_json(document: Any) -> PlannedOrder | Blocked:
    """Return the plan a JSON document stands for.

    Older documents are read as well: from before orders could go in several parcels, with their one parcel's goods beside
    it, and from before parcels knew what to mind.
    """
    if document["status"] == "planned" and "parcels" not in document["chosen"]:
        document = _as_ways(document)
    if "cautions" in document:
        document = _each_minding(document)
    return _PLAN.validate_python(document)


def _each_minding(document: dict[str, Any]) -> dict[str, Any]:
    """What to mind was told once for the whole order: each parcel is given all of it."""
    cautions = document["cautions"]

    def way(one: dict[str, Any]) -> dict[str, Any]:
        return {**one, "parcels": [{"cautions": cautions, **parcel} for parcel in one["parcels"]]}

    return {**document, "chosen": way(document["chosen"]), "others": [way(one) for one in document["others"]]}


def _cut(container: str, height_um: int) -> dict[str, Any]:
    """What was told of a carton that was cut down, before other changes were known; its minutes are in the plan."""
    height = format_length(height_um)
    return {
        "key": f"{height_um // 1_000}",
        "words": f"cut to {height}",
        "title": f"Cut {container} down to {height} inside",
        "detail": "cut the corners down to the line, fold the walls over",
        "minutes": "0",
        "cut_to_um": height_um,
    }


def _as_ways(document: dict[str, Any]) -> dict[str, Any]:
    pieces = document["pieces"]
    units: dict[str, int] = {}
    for piece in pieces:
        units[piece["sku"]] = units.get(piece["sku"], 0) + piece["quantity"] * piece.get("holds", 1)
    goods = list(units.items())

    def way(candidate: dict[str, Any]) -> dict[str, Any]:
        keyed = {**candidate, "key": candidate.get("key") or candidate["container"]}
        if candidate.get("cut_to_um"):
            keyed["change"] = _cut(candidate["container"], candidate["cut_to_um"])
        return {"parcels": [{"goods": goods, "pieces": pieces, "candidate": keyed}]}

    rest = {name: value for name, value in document.items() if name != "pieces"}
    return {**rest, "chosen": way(document["chosen"]), "others": [way(one) for one in document["others"]]}
