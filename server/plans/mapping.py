"""The core's plan to JSON and back: exact, so a packed parcel keeps its plan for ever."""

from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from core.messages import Text
from core.parcels.facts import Overrides
from core.parcels.plan import Blocked, PlannedOrder

__all__ = [
    "AnyPlan",
    "overrides_from_json",
    "overrides_to_json",
    "plan_from_json",
    "plan_to_json",
    "texts_from_json",
    "texts_to_json",
]

AnyPlan = Annotated[PlannedOrder | Blocked, Field(discriminator="status")]
_PLAN: TypeAdapter[PlannedOrder | Blocked] = TypeAdapter(AnyPlan)


_OVERRIDES: TypeAdapter[Overrides] = TypeAdapter(Overrides)
_TEXTS: TypeAdapter[tuple[Text, ...]] = TypeAdapter(tuple[Text, ...])


def overrides_to_json(overrides: Overrides) -> Any:
    """Return what a person decided as JSON values, without what is as it would be anyway."""
    return _OVERRIDES.dump_python(overrides, mode="json", exclude_defaults=True)


def overrides_from_json(document: Any) -> Overrides:
    """Return the decisions a JSON document stands for."""
    return _OVERRIDES.validate_python(document)


def texts_to_json(texts: tuple[Text, ...]) -> Any:
    """Return messages as JSON values."""
    return _TEXTS.dump_python(texts, mode="json")


def texts_from_json(document: Any) -> tuple[Text, ...]:
    """Return the messages a JSON document stands for."""
    return _TEXTS.validate_python(document)


def plan_to_json(plan: PlannedOrder | Blocked) -> Any:
    """Return the plan as JSON values; Decimals become text, nothing is rounded."""
    return _PLAN.dump_python(plan, mode="json")


def plan_from_json(document: Any) -> PlannedOrder | Blocked:
    """Return the plan a JSON document stands for.

    Older documents are read as well: from before orders could go in several parcels, with their one parcel's goods
    beside
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


def _as_ways(document: dict[str, Any]) -> dict[str, Any]:
    pieces = document["pieces"]
    units: dict[str, int] = {}
    for piece in pieces:
        units[piece["sku"]] = units.get(piece["sku"], 0) + piece["quantity"] * piece.get("holds", 1)
    goods = list(units.items())

    def way(candidate: dict[str, Any]) -> dict[str, Any]:
        keyed = {**candidate, "key": candidate.get("key") or candidate["container"]}
        return {"parcels": [{"goods": goods, "pieces": pieces, "candidate": keyed}]}

    rest = {name: value for name, value in document.items() if name != "pieces"}
    return {**rest, "chosen": way(document["chosen"]), "others": [way(one) for one in document["others"]]}
