"""The workshop file: who and where, currency, wage, scale (docs/formats/workshop.md)."""

from typing import Annotated, Literal
from zoneinfo import available_timezones

from pydantic import Field, field_validator

from server.formats.base import Code, FileModel, Money, Text

__all__ = ["WorkshopFile"]


Policy = Literal[
    "plant_based",
    "no_plastic_tape",
    "two_cartons_for_glass",
    "fragile_marks_always",
    "fragile_marks_never",
    "evident_for_food",
]


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
    policies: Annotated[list[Policy], Field(max_length=10)] = []

    @field_validator("time_zone")
    @classmethod
    def _known_zone(cls, value: str) -> str:
        if value not in available_timezones():
            raise ValueError("is not a time zone, such as UTC")
        return value
