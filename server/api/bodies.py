"""``Body``, the base of everything that is sent in: unknown fields, NUL characters and true for a number are errors."""

from collections.abc import Iterator
from decimal import Decimal
from functools import lru_cache
from typing import Any, get_args

from pydantic import BaseModel, ConfigDict, model_validator

from server.formats.text import no_nul

__all__ = ["Body"]


class Body(BaseModel):
    """Base of everything that is sent in: unknown fields are errors, not silence."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _no_nul(cls, value: Any) -> Any:
        return no_nul(value)

    @model_validator(mode="before")
    @classmethod
    def _no_yes_for_a_number(cls, value: Any) -> Any:
        # Left to itself, true would be read as 1. As a word it is refused where it stands.
        if not isinstance(value, dict):
            return value
        numbers = _numbers_of(cls)
        return {name: _as_words(one) if name in numbers else one for name, one in value.items()}


def _as_words(value: Any) -> Any:
    if isinstance(value, list):
        return [_as_words(one) for one in value]
    if isinstance(value, dict):
        return {name: _as_words(one) for name, one in value.items()}
    return str(value).lower() if isinstance(value, bool) else value


@lru_cache(maxsize=2_000)
def _numbers_of(model: type[BaseModel]) -> frozenset[str]:
    """Return the fields that take numbers, and neither true nor false."""
    kinds = {name: set(_kinds(field.annotation)) for name, field in model.model_fields.items()}
    return frozenset(name for name, found in kinds.items() if found & {int, float, Decimal} and bool not in found)


def _kinds(annotation: Any) -> Iterator[type]:
    """Return the plain types an annotation is made of."""
    inner = get_args(annotation)
    if isinstance(annotation, type) and not inner:
        yield annotation
    for one in inner:
        yield from _kinds(one)
