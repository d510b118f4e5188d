"""The core's plan to JSON and back: exact, so a packed parcel keeps its plan for ever."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from core.care.planning import Cared, Proposal
from core.care.report import CareReport
from core.messages import Text
from core.parcels.facts import Overrides
from core.parcels.plan import Blocked, PlannedOrder
from server.plans.models import PlanDocument, unpacked

__all__ = [
    "AnyPlan",
    "KeptCare",
    "care_from_json",
    "care_to_json",
    "kept_care_to_json",
    "overrides_from_json",
    "overrides_to_json",
    "plan_from_json",
    "plan_of",
    "plan_to_json",
    "texts_from_json",
    "texts_to_json",
]

AnyPlan = Annotated[PlannedOrder | Blocked, Field(discriminator="status")]
_PLAN: TypeAdapter[PlannedOrder | Blocked] = TypeAdapter(AnyPlan)


_OVERRIDES: TypeAdapter[Overrides] = TypeAdapter(Overrides)
_TEXTS: TypeAdapter[tuple[Text, ...]] = TypeAdapter(tuple[Text, ...])


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptCare:
    """What is kept of the weather's part in a plan."""

    report: CareReport
    proposals: tuple[Proposal, ...] = ()


_CARE: TypeAdapter[KeptCare] = TypeAdapter(KeptCare)


def care_to_json(cared: Cared) -> Any:
    """Return what the way does to a plan as JSON values, None when no goods have a limit."""
    if cared.report is None:
        return None
    return kept_care_to_json(KeptCare(report=cared.report, proposals=cared.proposals))


def kept_care_to_json(kept: KeptCare) -> Any:
    """Return what is kept as JSON values."""
    return _CARE.dump_python(kept, mode="json")


def care_from_json(document: Any) -> KeptCare | None:
    """Return what the way does to a plan."""
    return None if document is None else _CARE.validate_python(document)


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
    """Return the plan a JSON document stands for."""
    return _PLAN.validate_python(document)


def plan_of(kept: PlanDocument) -> PlannedOrder | Blocked:
    """Return a kept plan. It is a frozen value, so every row with the same content is read once a process."""
    return _read(bytes(kept.content))


@lru_cache(maxsize=48)
def _read(content: bytes) -> PlannedOrder | Blocked:
    """A whole plan is a tree of some thousand values, up to a megabyte; closing a parcel looks at it in five places."""
    return plan_from_json(unpacked(content))
