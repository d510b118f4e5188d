"""What the doors for scripts share: JSON in, every error by its path, nothing half answered."""

import json
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from server.words.faults import every_fault

__all__ = ["WrongRequest", "as_json", "twice", "validated"]

_Request = TypeVar("_Request", bound=BaseModel)


class WrongRequest(Exception):
    """A request that cannot be answered, with every error as ``path: what is wrong``."""

    def __init__(self, faults: list[str]) -> None:
        super().__init__("\n".join(faults))
        self.faults = faults


def as_json(text: str) -> Any:
    """Return the JSON value in a text. Raises WrongRequest when it is none."""
    try:
        return json.loads(text)
    except (ValueError, RecursionError) as error:
        raise WrongRequest([f"$: not JSON: {error}"]) from None


def validated(model: type[_Request], value: object, also: list[str]) -> _Request:
    """Return the value as a request; ``also`` are errors found in it besides.

    Raises WrongRequest with all of them.
    """
    try:
        request = model.model_validate(value)
    except ValidationError as error:
        single = [f"{path}: {message}" for path, message in every_fault(model, value, error)]
        raise WrongRequest(single + also) from None
    if also:
        raise WrongRequest(also)
    return request


def twice(value: object, name: str) -> list[str]:
    """Return an error for each code of a list that appears more than once."""
    parts = value.get(name) if isinstance(value, dict) else None
    codes = [part.get("code") if isinstance(part, dict) else None for part in parts] if isinstance(parts, list) else []
    return [
        f"{name}[{at}].code: {code} appears more than once"
        for at, code in enumerate(codes)
        if isinstance(code, str) and code in codes[:at]
    ]
