"""What all open files share: a format name, a version, no unknown fields, exact numbers.

Lengths are whole um, weights whole mg, money and quantities text or numbers read as Decimal.
"""

import json
from datetime import date
from decimal import Decimal
from typing import Annotated, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError

from server.api.refused import Fault, Refused
from server.formats.text import exact_number, iso_day, no_nul
from server.words.faults import every_fault

__all__ = ["Code", "Day", "FileModel", "LengthUm", "Money", "Quantity", "Text", "WeightMg", "read_file", "read_value"]

#: Longest side that any file may give: 10 m. Heaviest weight: 1 t. More is a slip of units.
_MOST_UM = 10_000_000
_MOST_MG = 1_000_000_000


class FileModel(BaseModel):
    """Base of every part of a file: unknown fields are errors, values cannot be changed."""

    model_config = ConfigDict(extra="forbid", frozen=True, str_strip_whitespace=True)


Code = Annotated[str, Field(min_length=1, max_length=30, pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]*$")]
Text = Annotated[str, Field(min_length=1, max_length=80)]
LengthUm = Annotated[int, Field(ge=0, le=_MOST_UM, strict=True)]
WeightMg = Annotated[int, Field(ge=0, le=_MOST_MG, strict=True)]
#: Days of prices and shipping: others are a slip, and far ones cannot be counted on from.
Day = Annotated[date, Field(ge=date(2000, 1, 1), le=date(2199, 12, 31)), BeforeValidator(iso_day)]
Money = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, max_digits=12, decimal_places=6)]
Quantity = Annotated[Decimal, BeforeValidator(exact_number), Field(max_digits=14, decimal_places=6)]

F = TypeVar("F", bound=FileModel)


def read_file(model: type[F], content: str | bytes, *, what: str) -> F:
    """Return the file's value.

    Raises Refused with every error named by its path in the file.
    """
    try:
        value = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise Refused(f"This {what} is not JSON: {error}.", code="not_json", status=422, field="content") from None
    return read_value(model, value, what=what)


def read_value(model: type[F], value: object, *, what: str) -> F:
    """Return the file's value out of a JSON value.

    Raises Refused with every error named by its path in the file.
    """
    try:
        no_nul(value)
    except ValueError as error:
        raise Refused(f"This {what}: {error}.", code="file_faults", status=422, field="content") from None
    try:
        return model.model_validate(value)
    except ValidationError as error:
        faults = [Fault(path=path, message=message) for path, message in every_fault(model, value, error)]
        detail = f"This {what} has {len(faults)} error{'' if len(faults) == 1 else 's'}. Nothing was saved."
        raise Refused(detail, code="file_faults", status=422, field="content", faults=faults) from None
