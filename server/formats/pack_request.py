"""The pack request and its result: a script interface (docs/formats/pack-request.md). No database, no settings."""

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.packing.cheapest import Cheapest, Offered
from core.packing.model import Box, PackRules, PackUnit, Triple
from core.recipes.model import Cushion
from server.formats.script_interface import as_json, validated
from server.formats.text import exact_number
from server.words import METRIC

__all__ = ["PackRequest", "read_request", "result_document"]

_Length = Annotated[int, Field(gt=0, le=10_000_000, strict=True)]
_Distance = Annotated[int, Field(ge=0, le=10_000_000, strict=True)]
_Weight = Annotated[int, Field(ge=0, le=1_000_000_000, strict=True)]
_Code = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Sides = Annotated[list[_Length], Field(min_length=3, max_length=3)]
_MOST_UNITS = 2_000


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class RulesIn(_Part):
    """Rules between units."""

    gap_um: _Distance = 0
    support_percent: Annotated[int, Field(ge=0, le=100, strict=True)] = 75


class ContainerIn(_Part):
    """A container that may be used, once."""

    code: _Code
    inner_um: _Sides
    max_load_mg: Annotated[int, Field(gt=0, le=1_000_000_000_000, strict=True)]
    cost: Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, max_digits=14, decimal_places=6)]


class ClearanceIn(_Part):
    """Least distance to walls, floor and lid."""

    side: _Distance = 0
    bottom: _Distance = 0
    top: _Distance = 0


class UnitIn(_Part):
    """Equal units."""

    code: _Code
    quantity: Annotated[int, Field(ge=1, le=_MOST_UNITS, strict=True)]
    size_um: _Sides
    weight_mg: _Weight
    up_axes: Annotated[list[Annotated[int, Field(ge=0, le=2, strict=True)]], Field(min_length=1, max_length=3)]
    clearance_um: ClearanceIn = ClearanceIn()
    max_load_on_top_mg: Annotated[int, Field(ge=0, le=1_000_000_000_000, strict=True)] | None = None

    @model_validator(mode="after")
    def _axes_once(self) -> "UnitIn":
        if len(set(self.up_axes)) != len(self.up_axes):
            raise ValueError("up_axes names an axis twice")
        return self


class PackRequest(_Part):
    """The whole request."""

    format: Literal["calm-cupboard/pack-request"]
    version: Annotated[Literal[1], BeforeValidator(exact_number)]
    rules: RulesIn = RulesIn()
    containers: Annotated[list[ContainerIn], Field(min_length=1, max_length=500)]
    units: Annotated[list[UnitIn], Field(min_length=1, max_length=200)]

    def core(self) -> tuple[tuple[Offered, ...], tuple[PackUnit, ...], PackRules]:
        """Return containers, units and rules as the core wants them."""
        offered = tuple(
            Offered(box=Box(code=c.code, inner_um=_triple(c.inner_um), max_load_mg=c.max_load_mg), cost=c.cost)
            for c in self.containers
        )
        units = tuple(
            PackUnit(
                code=u.code,
                name=u.code,
                quantity=u.quantity,
                size_um=_triple(u.size_um),
                weight_mg=u.weight_mg,
                up_axes=tuple(u.up_axes),
                clearance=Cushion(
                    bottom_um=u.clearance_um.bottom, side_um=u.clearance_um.side, top_um=u.clearance_um.top
                ),
                load_on_top_mg=u.max_load_on_top_mg,
            )
            for u in self.units
        )
        return offered, units, PackRules(gap_um=self.rules.gap_um, support_percent=self.rules.support_percent)


def read_request(text: str) -> PackRequest:
    """Return the request in a text.

    Raises WrongRequest with every error: of single fields, and of fields against each other.
    """
    value = as_json(text)
    return validated(
        PackRequest, value, [*_codes_twice(value, "containers"), *_codes_twice(value, "units"), *_too_many(value)]
    )


def _parts(value: object, name: str) -> list[object]:
    parts = value.get(name) if isinstance(value, dict) else None
    return parts if isinstance(parts, list) else []


def _codes_twice(value: object, name: str) -> list[str]:
    codes = [part.get("code") if isinstance(part, dict) else None for part in _parts(value, name)]
    return [
        f"{name}[{at}].code: {code} appears more than once"
        for at, code in enumerate(codes)
        if isinstance(code, str) and code in codes[:at]
    ]


def _too_many(value: object) -> list[str]:
    counts = [part.get("quantity") for part in _parts(value, "units") if isinstance(part, dict)]
    total = sum(count for count in counts if isinstance(count, int) and not isinstance(count, bool) and count > 0)
    return [f"units: {total} pieces in all; at most {_MOST_UNITS}"] if total > _MOST_UNITS else []


def _triple(values: list[int]) -> Triple:
    return values[0], values[1], values[2]


def result_document(result: Cheapest) -> dict[str, object]:
    """Return the result as it is written to the file."""
    packing = result.packing
    return {
        "format": "calm-cupboard/pack-result",
        "version": 1,
        "container": packing.box if packing else None,
        "proven": result.proven,
        "placements": [
            {"unit": p.unit, "at_um": list(p.at_um), "size_um": list(p.size_um)}
            for p in (packing.placements if packing else ())
        ],
        "considered": [
            {
                "container": c.container,
                "outcome": c.outcome,
                "reason": METRIC.of(c.reason),
            }
            for c in result.considered
        ],
    }
