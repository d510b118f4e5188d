"""The quote request and its result: a script interface (docs/formats/quote-request.md). No database."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from core.recipes.goods import GoodsWord
from core.tariffs.base_price import ANY_SERVICE
from core.tariffs.model import Place, Sending
from core.tariffs.quote import Quote, Refusal
from core.tariffs.zones import plain_postcode
from core.units import Size
from server.formats.base import Day
from server.formats.script_interface import as_json, validated
from server.formats.tariff import TariffFile
from server.formats.text import exact_number
from server.words import METRIC

__all__ = ["QuoteRequest", "read_request", "result_document"]

_Length = Annotated[int, Field(gt=0, le=10_000_000, strict=True)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class QuotedParcel(_Part):
    """One parcel: outside as the carrier measures it, and gross weight."""

    code: Annotated[str, Field(min_length=1, max_length=60, strict=True)]
    outer_um: Annotated[list[_Length], Field(min_length=3, max_length=3)]
    gross_weight_mg: Annotated[int, Field(gt=0, le=1_000_000_000, strict=True)]

    packaging: Annotated[list[Annotated[str, Field(min_length=1, max_length=30)]], Field(max_length=2)] = []
    rigid: bool = True
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    cover: Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, max_digits=12, decimal_places=6)] = Decimal(0)
    signature: bool = False
    further: bool = False  #: the second or a later parcel of one order, by the same service as the first

    def size(self) -> Size:
        """Return the outside as the core wants it."""
        length, width, height = self.outer_um
        return Size(length_um=length, width_um=width, height_um=height)


class Destination(_Part):
    """Where the parcels go, or come from."""

    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    postcode: Annotated[str, Field(max_length=12)] = ""

    def core(self) -> Place:
        """Return the core's place."""
        return Place(country=self.country, postcode=plain_postcode(self.postcode))


class QuoteRequest(_Part):
    """The whole request."""

    format: Literal["calm-cupboard/quote-request"]
    version: Annotated[Literal[1], BeforeValidator(exact_number)]
    tariffs: Annotated[list[TariffFile], Field(min_length=1, max_length=50)]
    parcels: Annotated[list[QuotedParcel], Field(min_length=1, max_length=200)]
    destination: Destination
    origin: Destination | None = None
    home: bool = False
    ship_on: Day

    def sending(self, parcel: QuotedParcel) -> Sending:
        """Return what a carrier asks of one of the parcels besides size and weight."""
        return Sending(
            destination=self.destination.core(),
            ship_on=self.ship_on,
            origin=self.origin.core() if self.origin else None,
            packaging=tuple(parcel.packaging),
            rigid=parcel.rigid,
            home=self.home,
            signature=parcel.signature,
            cover=parcel.cover,
            goods=frozenset(parcel.goods),
            further_of=ANY_SERVICE if parcel.further else None,
        )


def read_request(text: str) -> QuoteRequest:
    """Return the request in a text.

    Raises WrongRequest with every error: of single fields, and of fields against each other.
    """
    value = as_json(text)
    return validated(QuoteRequest, value, [*_codes_twice(value), *_dates_twice(value)])


def _parts(value: object, name: str) -> list[dict[str, Any]]:
    parts = value.get(name) if isinstance(value, dict) else None
    return [part if isinstance(part, dict) else {} for part in parts] if isinstance(parts, list) else []


def _codes_twice(value: object) -> list[str]:
    codes = [part.get("code") for part in _parts(value, "parcels")]
    return [
        f"parcels[{at}].code: {code} appears more than once"
        for at, code in enumerate(codes)
        if isinstance(code, str) and code in codes[:at]
    ]


def _dates_twice(value: object) -> list[str]:
    """Two versions of one carrier from the same day: nobody could say which holds."""
    keys = [(part.get("carrier"), part.get("valid_from")) for part in _parts(value, "tariffs")]
    return [
        f"tariffs[{at}].valid_from: {carrier} has two versions from {day}"
        for at, (carrier, day) in enumerate(keys)
        if carrier is not None and (carrier, day) in keys[:at]
    ]


def result_document(
    request: QuoteRequest, quoted: Sequence[tuple[str, tuple[Quote, ...], tuple[Refusal, ...]]]
) -> dict[str, object]:
    """Return the result as it is written: each parcel's quotes, cheapest first, and refusals; the sum of the
    cheapest.
    """
    cheapest = [quotes[0].price if quotes else None for _, quotes, _ in quoted]
    known = [price for price in cheapest if price is not None]
    return {
        "format": "calm-cupboard/quote-result",
        "version": 1,
        "ship_on": request.ship_on.isoformat(),
        "cheapest_total": f"{sum(known, Decimal(0)):f}" if len(known) == len(cheapest) else None,
        "parcels": [
            {
                "code": code,
                "quotes": [_quote(quote) for quote in quotes],
                "refusals": [
                    {
                        "carrier": one.carrier,
                        "service": one.service,
                        "limit": one.limit_name,
                        "message": METRIC.of(one.message),
                    }
                    for one in refusals
                ],
            }
            for code, quotes, refusals in quoted
        ],
    }


def _quote(quote: Quote) -> dict[str, object]:
    return {
        "carrier": quote.carrier,
        "service": quote.service,
        "tariff_version": quote.tariff_version,
        "zone": quote.zone,
        "price": f"{quote.price:f}",
        "currency": quote.currency,
        "lines": [
            {"label": METRIC.of(line.label), "amount": f"{line.amount:f}", "rule": METRIC.of(line.rule)}
            for line in quote.lines
        ],
        "gross_weight_mg": quote.gross_mg,
        "volumetric_weight_mg": quote.volumetric_mg,
        "billable_weight_mg": quote.billable_mg,
        "step_mg": quote.step_mg,
        "transit_days": quote.transit_days,
        "arrives_on": quote.arrives_on.isoformat(),
        "format": quote.format_name,
        "why": METRIC.of(quote.why),
        "cover_included": f"{quote.cover_included:f}",
        "cover": f"{quote.cover:f}",
        "notes": list(METRIC.all(quote.notes)),
        "markings": list(quote.markings),
        "claim_days": quote.claim_days,
    }
