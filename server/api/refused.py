"""How a service or a format says no: needs no Django, so that the doors for scripts can refuse as well.

`problems.py` makes the answer over HTTP of it.
"""

from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel, ValidationError

from core.messages import Text
from server.words.faults import faults_of

__all__ = ["Fault", "Refused", "validation_faults"]


class Fault(BaseModel):
    """One thing wrong in what was sent."""

    path: str
    message: str


class Refused(Exception):
    """A service refuses: status, stable code, words for people, the field it is about, and facts."""

    def __init__(
        self,
        detail: Text | Sequence[Text],
        *,
        code: str,
        status: int = 409,
        field: str | None = None,
        faults: list[Fault] | None = None,
        facts: dict[str, Any] | None = None,
    ) -> None:
        super().__init__(detail if isinstance(detail, str) else code)
        self.detail = detail
        self.code = code
        self.status = status
        self.field = field
        self.faults = faults or []
        self.facts = facts or {}


def validation_faults(error: ValidationError) -> list[Fault]:
    """Return every error of a validation as path and words."""
    return [Fault(path=path, message=message) for path, message in faults_of(error)]
