"""One parcel against every service: prices, refusals, the stairs over one measure, where the cheapest changes."""

from dataclasses import replace
from decimal import Decimal

from pydantic import BaseModel

from core.errors import OutsideTariff
from core.messages import Text
from core.tariffs.cheaper import CheaperStep, cheaper_steps
from core.tariffs.model import Packaging, Sending, Service, Tariff
from core.tariffs.probing import Over, price_over
from core.tariffs.quote import Quote, quote_service, tariffs_in_force
from core.tariffs.stairs import Stair, cheapest_runs, fits_inside, stairs_of
from core.units import Size
from server.carriers.selectors import core_tariffs
from server.workshops.models import Workshop

__all__ = ["ComparedRates", "compare"]

#: The stairs go from next to nothing to twice the parcel, and at least so far: 5 kg, 300 mm.
_LEAST_MG, _LEAST_UM = 5_000_000, 300_000
_FROM_MG, _FROM_UM = 1_000, 5_000


class Offered(BaseModel):
    """One service, or one flat-rate package of it, that takes the parcel."""

    key: str
    name: str
    quote: Quote
    flat: bool
    stairs: tuple[Stair, ...]
    cheaper: tuple[CheaperStep, ...]


class NotTaken(BaseModel):
    """One service that does not take the parcel, and its stairs: it may take a smaller one."""

    key: str
    name: str
    limit_name: str
    message: Text
    stairs: tuple[Stair, ...]


class Crossing(BaseModel):
    """From this measure on another service is the cheapest."""

    above: int
    key: str
    name: str
    cheaper_by: Decimal | None


class ComparedRates(BaseModel):
    """Every service for one parcel, cheapest first."""

    over: Over
    low: int
    high: int
    offers: list[Offered]
    refusals: list[NotTaken]
    crossings: list[Crossing]
    currency: str
    versions: list[str]


def compare(workshop: Workshop, *, outer: Size, gross_mg: int, sending: Sending, over: Over) -> ComparedRates:
    """Return the parcel quoted everywhere; ``over`` is the measure the stairs are drawn for."""
    in_force = tariffs_in_force(core_tariffs(workshop), sending.ship_on)
    value = gross_mg if over == "weight" else getattr(outer, f"{over}_um")
    low, high = (_FROM_MG, max(2 * value, _LEAST_MG)) if over == "weight" else (_FROM_UM, max(2 * value, _LEAST_UM))
    offers: list[Offered] = []
    refusals: list[NotTaken] = []
    stairs: dict[str, tuple[Stair, ...]] = {}
    names: dict[str, str] = {}
    for tariff, service, item in _ways(in_force, outer):
        key = f"{service.code}/{item.code}" if item else service.code
        name = f"{item.name}, {service.name}" if item else service.name
        asked = replace(sending, packaging=(item.code,)) if item else sending
        price = price_over(tariff, service, over, outer=outer, gross_mg=gross_mg, sending=asked)
        steps = stairs_of(price, low, high)
        stairs[key], names[key] = steps, name
        try:
            quote = quote_service(tariff, service, outer=outer, gross_mg=gross_mg, sending=asked)
        except OutsideTariff as error:
            refusals.append(
                NotTaken(key=key, name=name, limit_name=error.limit_name, message=error.message, stairs=steps)
            )
            continue
        cheaper = cheaper_steps(tariff, service, outer=outer, gross_mg=gross_mg, sending=asked)
        offers.append(
            Offered(key=key, name=name, quote=quote, flat=item is not None, stairs=steps, cheaper=cheaper[:3])
        )
    offers.sort(key=lambda one: (one.quote.price, one.quote.arrives_on, one.key))
    runs = cheapest_runs(stairs, low, high)
    return ComparedRates(
        over=over,
        low=low,
        high=high,
        offers=offers,
        refusals=refusals,
        crossings=[
            Crossing(above=run.above, key=run.key, name=names.get(run.key, ""), cheaper_by=run.cheaper_by)
            for run in runs
        ],
        currency=workshop.currency,
        versions=[f"{one.carrier_name} {one.version}" for one in in_force],
    )


def _ways(in_force: tuple[Tariff, ...], outer: Size) -> list[tuple[Tariff, Service, Packaging | None]]:
    """Return every service, and each flat-rate package the parcel as it is would go into."""
    found: list[tuple[Tariff, Service, Packaging | None]] = []
    for tariff in in_force:
        for service in tariff.services:
            found.append((tariff, service, None))
            found += [
                (tariff, service, item)
                for item in tariff.packaging
                if item.flat_rate and service.code in item.services and fits_inside(outer, item)
            ]
    return found
