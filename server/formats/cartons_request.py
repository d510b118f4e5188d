"""The cartons request and its result: which kinds to keep (docs/formats/cartons-request.md). No database."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.buying.cartons import CartonChoice, Chosen, CostOfK, choose_cartons, cost_by_k
from server.formats.script_interface import as_json, twice, validated
from server.formats.text import exact_number

__all__ = ["CartonsRequest", "CartonsWork", "read_request", "result_document", "worked_out"]

#: Costs are worked out in hundredths of a minor unit of two digits.
_PARTS = Decimal(10_000)
_Code = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Money = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, le=1_000_000, decimal_places=4)]
_Whole = Annotated[int, Field(strict=True)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class KindDoc(_Part):
    """A kind of carton, and what keeping it costs over the period."""

    code: _Code
    keeping: _Money = Decimal(0)


class ContentDoc(_Part):
    """One distinct content: how often it came, what a parcel of it costs in each kind that takes it."""

    code: _Code
    count: Annotated[_Whole, Field(ge=1, le=1_000_000)]
    costs: Annotated[dict[_Code, _Money], Field(max_length=200)]


class CartonsRequest(_Part):
    """The whole request."""

    format: Literal["calm-cupboard/cartons-request"]
    version: Annotated[Literal[1], BeforeValidator(exact_number)]
    kinds: Annotated[list[KindDoc], Field(max_length=200)]
    contents: Annotated[list[ContentDoc], Field(max_length=2000)]
    at_most: Annotated[_Whole, Field(ge=1, le=200)]
    curve_to: Annotated[_Whole, Field(ge=0, le=60)] = 12

    @model_validator(mode="after")
    def _known_kinds(self) -> "CartonsRequest":
        known = {kind.code for kind in self.kinds}
        for at, content in enumerate(self.contents):
            unknown = sorted(set(content.costs) - known)
            if unknown:
                raise ValueError(f"contents[{at}].costs: {', '.join(unknown[:5])}: not among the kinds")
        return self


@dataclass(frozen=True, slots=True, kw_only=True)
class CartonsWork:
    """What was worked out."""

    request: CartonsRequest
    chosen: Chosen
    curve: tuple[CostOfK, ...]


def read_request(text: str) -> CartonsRequest:
    """Return the request in a text. Raises WrongRequest with every error."""
    value = as_json(text)
    return validated(CartonsRequest, value, [*twice(value, "kinds"), *twice(value, "contents")])


def worked_out(request: CartonsRequest) -> CartonsWork:
    """Return the kinds to keep."""
    asked = CartonChoice(
        counts=tuple(content.count for content in request.contents),
        cost=tuple(
            tuple(_parts(content.costs[kind.code]) if kind.code in content.costs else None for kind in request.kinds)
            for content in request.contents
        ),
        keeping=tuple(_parts(kind.keeping) for kind in request.kinds),
    )
    chosen = choose_cartons(asked, request.at_most)
    most = min(request.curve_to, len(request.kinds))
    return CartonsWork(request=request, chosen=chosen, curve=cost_by_k(asked, most, known=chosen))


def _parts(money: Decimal) -> int:
    return int((money * _PARTS).to_integral_value())


def result_document(work: CartonsWork) -> dict[str, object]:
    """Return the result as it is written."""
    request, chosen = work.request, work.chosen
    contents = [one.code for one in request.contents]
    kinds = [one.code for one in request.kinds]
    return {
        "format": "calm-cupboard/cartons-result",
        "version": 1,
        "proven": chosen.proven,
        "total": _money(chosen.total),
        "kept": [
            {
                "kind": kinds[one.carton],
                "parcels": one.parcels,
                "contents": [contents[at] for at in one.contents],
                "without_it": _money(one.without_it) if one.without_it is not None else None,
            }
            for one in chosen.kept
        ],
        "assigned": {
            code: kinds[at] if at is not None else None for code, at in zip(contents, chosen.assigned, strict=True)
        },
        "in_none": [contents[at] for at in chosen.in_none],
        "left_over": [contents[at] for at in chosen.left_over],
        "curve": [
            {"kinds": one.kinds, "total": _money(one.total), "left_over": one.left_over, "proven": one.proven}
            for one in work.curve
        ],
    }


def _money(parts: int) -> str:
    return f"{Decimal(parts) / _PARTS:f}"
