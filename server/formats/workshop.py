"""The workshop file: who and where, currency, wage, scale (docs/formats/workshop.md)."""

from decimal import Decimal
from typing import Annotated, Literal
from zoneinfo import available_timezones

from pydantic import Field, field_validator

from core.designing.policies import Policy
from server.formats.base import Code, FileModel, Money, Quantity, Text

__all__ = ["WorkshopFile"]


class WorkshopFile(FileModel):
    """The whole file."""

    format: Literal["calm-cupboard/workshop"]
    version: Literal[1]
    code: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
    name: Text
    currency: Annotated[str, Field(min_length=1, max_length=8)]
    money_digits: Annotated[int, Field(ge=0, le=3, strict=True)] = 2
    time_zone: str = "UTC"
    unit_system: Literal["metric", "imperial"] = "metric"
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    postcode: Annotated[str, Field(min_length=1, max_length=12)]
    address: Annotated[list[Text], Field(max_length=6)]
    wage_per_hour: Money
    scale_division_mg: Annotated[int, Field(gt=0, le=1_000_000, strict=True)] = 1_000
    support_percent: Annotated[int, Field(ge=0, le=100, strict=True)] = 75
    label_supply: Code
    slip_one_in: Annotated[int, Field(ge=2, le=100_000, strict=True)] = 200
    look_minutes: Annotated[Quantity, Field(gt=0, le=60)] = Decimal("0.5")
    unprotected_factor: Annotated[Quantity, Field(ge=1, le=100)] = Decimal(3)
    policies: Annotated[list[Policy], Field(max_length=10)] = []

    @field_validator("time_zone")
    @classmethod
    def _known_zone(cls, value: str) -> str:
        if value not in available_timezones():
            raise ValueError("is not a time zone, such as UTC")
        return value
