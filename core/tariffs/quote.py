"""Quoting one parcel with one service or all (rules 10.10).

Order of sums: base by billable weight, fixed surcharges, percentages, cover, tax; each is a line, rounded to
the minor unit where it is charged. A refusal names every limit, the value and by how much. Pure.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal

from core.errors import LimitName, MixedCurrencies, OutsideTariff
from core.messages import Message, Text, say
from core.tariffs.base_price import by_weight, flat_price
from core.tariffs.billable import Billed, billable_weight
from core.tariffs.lines import QuoteLine, cover_line, surcharge_lines
from core.tariffs.model import (
    LabelTape,
    Packaging,
    Sending,
    Service,
    Tariff,
    WeightStep,
)
from core.tariffs.surcharges import markings_of
from core.tariffs.zones import arrival_date, zone_of
from core.units import Milligrams, Size, round_money

__all__ = [
    "Quote",
    "QuoteLine",
    "Refusal",
    "least_price",
    "quote_all",
    "quote_service",
    "reasons_of",
    "service_of",
    "tariff_in_force",
    "tariffs_in_force",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Quote:
    """What one service asks for one parcel."""

    carrier: str
    carrier_name: str
    service: str
    service_name: str
    tariff_version: str
    zone: str
    price: Decimal  #: sum of the lines
    lines: tuple[QuoteLine, ...]
    gross_mg: Milligrams
    volumetric_mg: Milligrams | None
    billable_mg: Milligrams
    step_mg: Milligrams  #: the step it falls under
    steps: tuple[WeightStep, ...]  #: base prices of the zone, of many increments those near, for the ruler
    transit_days: int
    arrives_on: date
    cut_off: time
    cover_included: Decimal
    format_name: str = ""  #: "Large letter"; empty: the service knows no formats
    billed: Billed = "weight"  #: what the price goes by
    why: Text = ""  #: where the billable weight comes from
    cover: Decimal = Decimal(0)  #: what it is covered for, bought cover included
    notes: tuple[Text, ...] = ()  #: what the price does not hold
    markings: tuple[str, ...] = ()  #: what must stand on the parcel
    claim_days: int | None = None
    tape_over_label: LabelTape | None = None  #: None: priced before that was kept
    currency: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Refusal:
    """Why a service does not take the parcel."""

    carrier: str
    carrier_name: str
    service: str
    service_name: str
    limit_name: LimitName
    message: Text


def reasons_of(refusals: Iterable[Refusal]) -> tuple[Text, ...]:
    """Return why services refuse, each reason once; services that do not go to the place are told together."""
    refusals = tuple(refusals)
    nowhere = [one for one in refusals if isinstance(one.message, Message) and one.message.code == "no_zone"]
    if len(nowhere) < 2:
        return tuple(dict.fromkeys(one.message for one in refusals))
    place = dict(nowhere[0].message.facts)["place"]  # type: ignore[union-attr]
    names = tuple(dict.fromkeys(one.service_name for one in nowhere))
    others = dict.fromkeys(one.message for one in refusals if one not in nowhere)
    return (say("no_zone_of_any", place=place, services=names), *others)


def tariff_in_force(tariffs: tuple[Tariff, ...], carrier: str, ship_on: date) -> Tariff | None:
    """Return the carrier's tariff that holds on the ship date: the latest that has begun."""
    begun = [t for t in tariffs if t.carrier == carrier and t.valid_from <= ship_on]
    return max(begun, key=lambda t: t.valid_from) if begun else None


def tariffs_in_force(tariffs: tuple[Tariff, ...], ship_on: date) -> tuple[Tariff, ...]:
    """Return each carrier's tariff that holds on the ship date, carriers in order."""
    found = (tariff_in_force(tariffs, carrier, ship_on) for carrier in sorted({t.carrier for t in tariffs}))
    return tuple(tariff for tariff in found if tariff is not None)


def service_of(tariffs: tuple[Tariff, ...], quote: Quote, ship_on: date) -> tuple[Tariff, Service] | None:
    """Return the list and service a quote would come from on a day; None when there is none any more."""
    tariff = tariff_in_force(tariffs, quote.carrier, ship_on)
    service = next((one for one in tariff.services if one.code == quote.service), None) if tariff else None
    return (tariff, service) if tariff is not None and service is not None else None


def quote_all(
    tariffs: tuple[Tariff, ...], *, outer: Size, gross_mg: Milligrams, sending: Sending
) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Return every quote, cheapest first, and every refusal, over all carriers' current tariffs.

    Raises MixedCurrencies when two of them are in different currencies: their prices cannot be compared.
    """
    quotes: list[Quote] = []
    refusals: list[Refusal] = []
    in_force = tariffs_in_force(tariffs, sending.ship_on)
    _one_currency(in_force)
    owned = _owners(in_force, sending)
    for tariff in in_force:
        for service in tariff.services:
            try:
                for owners in owned:
                    _check_packaging(tariff, service, owners)
                quotes.append(quote_service(tariff, service, outer=outer, gross_mg=gross_mg, sending=sending))
            except OutsideTariff as refusal:
                refusals.append(
                    Refusal(
                        carrier=tariff.carrier,
                        carrier_name=tariff.carrier_name,
                        service=service.code,
                        service_name=service.name,
                        limit_name=refusal.limit_name,
                        message=refusal.message,
                    )
                )
    quotes.sort(key=lambda q: (q.price, q.arrives_on, q.service))
    return tuple(quotes), (*refusals, *_not_begun(tariffs, sending.ship_on))


def _not_begun(tariffs: tuple[Tariff, ...], ship_on: date) -> list[Refusal]:
    """Return a refusal for each service of a carrier none of whose lists has begun on the ship date."""
    found = []
    for carrier in sorted({t.carrier for t in tariffs}):
        lists = [t for t in tariffs if t.carrier == carrier]
        first = min(lists, key=lambda t: t.valid_from)
        if first.valid_from > ship_on:
            found += [
                Refusal(
                    carrier=carrier,
                    carrier_name=first.carrier_name,
                    service=service.code,
                    service_name=service.name,
                    limit_name="ship date",
                    message=say(
                        "list_not_begun",
                        carrier=first.carrier_name,
                        service=service.name,
                        version=first.version,
                        from_on=first.valid_from,
                        ship_on=ship_on,
                    ),
                )
                for service in first.services
            ]
    return found


def least_price(tariffs: tuple[Tariff, ...], *, outer: Size, gross_mg: Milligrams, sending: Sending) -> Decimal | None:
    """Return the price of the cheapest service, None when there is none: as ``quote_all``, for questions asked often.

    A service none of whose steps is cheaper than the best so far need not be asked: nothing takes anything off.
    """
    in_force = tariffs_in_force(tariffs, sending.ship_on)
    if any(own.code in sending.packaging for tariff in in_force for own in tariff.packaging):
        quotes, _ = quote_all(tariffs, outer=outer, gross_mg=gross_mg, sending=sending)
        return quotes[0].price if quotes else None
    best: Decimal | None = None
    for tariff in in_force:
        for service in tariff.services:
            if best is not None and _at_the_least(service) >= best:
                continue
            try:
                price = quote_service(tariff, service, outer=outer, gross_mg=gross_mg, sending=sending).price
            except OutsideTariff:
                continue
            best = price if best is None else min(best, price)
    return best


def _at_the_least(service: Service) -> Decimal:
    return min((table.least for one in service.all_formats for table in one.zones), default=Decimal(0))


def _one_currency(tariffs: tuple[Tariff, ...]) -> None:
    for other in tariffs[1:]:
        if other.currency != tariffs[0].currency:
            raise MixedCurrencies((tariffs[0].carrier_name, tariffs[0].currency), (other.carrier_name, other.currency))


def _owners(tariffs: tuple[Tariff, ...], sending: Sending) -> list[dict[str, tuple[Tariff, Packaging]]]:
    """Return, for each of the parcel's containers that is a carrier's own, whose it is; two may call theirs alike."""
    found = []
    for code in sending.packaging:
        owners = {t.carrier: (t, own) for t in tariffs for own in t.packaging if own.code == code}
        if owners:
            found.append(owners)
    return found


def _check_packaging(tariff: Tariff, service: Service, owners: dict[str, tuple[Tariff, Packaging]]) -> None:
    owner, own = owners.get(tariff.carrier) or next(iter(owners.values()))
    if owner.carrier == tariff.carrier and service.code in own.services:
        return
    names = tuple(one.name for one in owner.services if one.code in own.services)
    message = say(
        "packaging_elsewhere",
        carrier=tariff.carrier_name,
        service=service.name,
        container=own.code,
        name=own.name,
        services=names,
    )
    raise OutsideTariff(message, limit_name="packaging", unit="text")


def quote_service(tariff: Tariff, service: Service, *, outer: Size, gross_mg: Milligrams, sending: Sending) -> Quote:
    """Return the service's price with its lines.

    Raises OutsideTariff naming each limit that the parcel, its goods or its destination is outside of.
    """
    zone = zone_of(tariff, sending.destination, sending.origin)
    _check_goods(tariff, service, sending)
    own = next((p for p in tariff.packaging if p.code in sending.packaging and p.flat_rate), None)
    flat = own.flat_rate if own is not None else None
    billable = billable_weight(
        outer,
        gross_mg,
        service.volumetric if flat is None else None,
        zone or "",
        round_mg=service.weight_round_mg,
        rounding=service.weight_rounding,
    )
    base = (
        flat_price(tariff, service, own, flat, zone, gross_mg, sending)
        if own is not None and flat is not None
        else by_weight(tariff, service, zone, outer, billable, sending)
    )
    cover, bought, notes = cover_line(service, sending)
    added = surcharge_lines(
        service,
        base.line,
        zone=base.zone,
        format_code=base.format_code,
        outer=outer,
        gross_mg=gross_mg,
        sending=sending,
        flat=flat is not None,
    )
    lines = [base.line, *added, *([bought] if bought else [])]
    if service.tax_percent:
        net = sum((line.amount for line in lines), Decimal(0))
        tax = round_money(net * service.tax_percent / 100)
        rule = say("percent_of", percent_percent=service.tax_percent, of_money=net)
        lines.append(QuoteLine(label=say("tax"), amount=tax, rule=rule))
    return Quote(
        carrier=tariff.carrier,
        carrier_name=tariff.carrier_name,
        service=service.code,
        service_name=service.name,
        tariff_version=tariff.version,
        zone=base.zone,
        price=sum((line.amount for line in lines), Decimal(0)),
        lines=tuple(lines),
        gross_mg=gross_mg,
        volumetric_mg=billable.volumetric_mg,
        billable_mg=billable.billable_mg,
        step_mg=base.step_mg,
        steps=base.steps,
        transit_days=base.transit_days,
        arrives_on=arrival_date(service, sending.ship_on, base.transit_days),
        cut_off=service.cut_off,
        cover_included=service.cover_included,
        format_name=base.format_name,
        billed="flat_rate" if flat is not None else billable.billed,
        why=say("flat_rate") if flat is not None else billable.why,
        cover=cover,
        notes=notes,
        markings=markings_of(service, outer, gross_mg, sending),
        claim_days=service.claim_days,
        tape_over_label=service.tape_over_label,
        currency=tariff.currency,
    )


def _check_goods(tariff: Tariff, service: Service, sending: Sending) -> None:
    refused = sorted(sending.goods.intersection(service.refuses))
    if refused:
        goods = tuple(say(f"goods_{word}") for word in refused)
        message = say("goods_refused", carrier=tariff.carrier_name, service=service.name, goods=goods)
        raise OutsideTariff(message, limit_name="goods", unit="text")
