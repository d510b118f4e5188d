"""Quoting one parcel with one service or all (rules 10.10).

Order of sums: base by billable weight, discount on it, surcharges in money, percentages, discount on all, cover, tax,
rounding of the total; each is a line, rounded to the minor unit where it is charged. A refusal names every limit, the
value and by how much. Pure.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from functools import partial

from core.errors import LimitName, MixedCurrencies, OutsideTariff
from core.messages import Message, Text, say
from core.tariffs.base_price import by_weight, flat_price
from core.tariffs.billable import Billable, Billed, billable_weight, rule_for
from core.tariffs.lines import QuoteLine, cover_line, discount_line, rounding_line, surcharge_lines, tax_lines
from core.tariffs.model import (
    DeliversTo,
    LabelTape,
    Packaging,
    Sending,
    Service,
    Tariff,
    VolumetricRule,
    WeightStep,
)
from core.tariffs.surcharges import Met, markings_of
from core.tariffs.zones import arrival_date, zone_of
from core.units import Milligrams, Size

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
    delivers_to: DeliversTo = "door"
    further: bool = False  #: the price of a further parcel of the order


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

    A service that costs no less than the best so far even with all it takes off need not be asked.
    """
    in_force = tariffs_in_force(tariffs, sending.ship_on)
    if any(own.code in sending.packaging for tariff in in_force for own in tariff.packaging):
        quotes, _ = quote_all(tariffs, outer=outer, gross_mg=gross_mg, sending=sending)
        return quotes[0].price if quotes else None
    best: Decimal | None = None
    for tariff in in_force:
        for service in tariff.services:
            if best is not None and _at_the_least(service, tariff, sending) >= best:
                continue
            try:
                price = quote_service(tariff, service, outer=outer, gross_mg=gross_mg, sending=sending).price
            except OutsideTariff:
                continue
            best = price if best is None else min(best, price)
    return best


def _at_the_least(service: Service, tariff: Tariff, sending: Sending) -> Decimal:
    """Return less than which the service never costs."""
    least = min((table.least for one in service.all_formats for table in one.zones), default=Decimal(0))
    if service.further is not None and sending.further_of is not None:
        least = max(Decimal(0), least * service.further.percent / 100 - service.further.off)
    if service.discount is not None:
        least = least * (100 - service.discount.percent) / 100
    if service.round_total is not None and service.round_total.rounding != "up":
        least -= service.round_total.to
    # Rounding to the minor unit may take off half of one, twice.
    return least - Decimal("0.01")


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
    zone = zone_of(tariff, sending.destination, sending.origin, service)
    _check_goods(tariff, service, sending)
    own = next((p for p in tariff.packaging if p.code in sending.packaging and p.flat_rate), None)
    if own is not None and own.flat_rate is not None:
        base = flat_price(tariff, service, own, own.flat_rate, zone, gross_mg, sending)
        billable = _billable(service, None, zone or "", outer, gross_mg)
    else:
        base, billable = by_weight(
            tariff,
            service,
            zone,
            outer,
            partial(_billable_in, service, zone or "", outer, gross_mg),
            gross_mg,
            sending,
        )
    flat = own is not None
    arrives_on = arrival_date(service, sending.ship_on, base.transit_days, tariff.holidays)
    met = Met(
        zone=base.zone,
        format_code=base.format_code,
        outer=outer,
        gross_mg=gross_mg,
        billable_mg=billable.billable_mg,
        sending=sending,
        flat=flat,
        arrives_on=arrives_on,
    )
    cover, bought, notes = cover_line(service, sending)
    lines = _lines(service, base.line, bought, met)
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
        arrives_on=arrives_on,
        cut_off=service.cut_off,
        cover_included=service.cover_included,
        format_name=base.format_name,
        billed="flat_rate" if flat else billable.billed,
        why=say("flat_rate") if flat else billable.why,
        cover=cover,
        notes=(*notes, *_place_note(service)),
        markings=markings_of(service, outer, gross_mg, sending),
        claim_days=service.claim_days,
        tape_over_label=service.tape_over_label,
        currency=tariff.currency,
        delivers_to=service.delivers_to,
        further=base.further,
    )


def _billable_in(service: Service, zone: str, outer: Size, gross_mg: Milligrams, format_code: str) -> Billable:
    """Return the weight that counts in one format."""
    return _billable(service, rule_for(service.volumetric, zone, format_code), zone, outer, gross_mg)


def _billable(service: Service, rule: VolumetricRule | None, zone: str, outer: Size, gross_mg: Milligrams) -> Billable:
    return billable_weight(
        outer,
        gross_mg,
        rule,
        zone,
        round_mg=service.weight_round_mg,
        rounding=service.weight_rounding,
        least_mg=service.least_billable_mg,
    )


def _lines(service: Service, base: QuoteLine, bought: QuoteLine | None, met: Met) -> list[QuoteLine]:
    """Return all lines: base, discount, surcharges, cover, tax, rounding (rules 10.10)."""
    on_base = service.discount is not None and service.discount.of == "base"
    off = discount_line(service, base.amount) if on_base else None
    lines = [base, *([off] if off else [])]
    lines += surcharge_lines(service, sum((line.amount for line in lines), Decimal(0)), met)
    if not on_base:
        off = discount_line(service, sum((line.amount for line in lines), Decimal(0)))
        lines += [off] if off else []
    lines += [bought] if bought else []
    lines += tax_lines(service, lines, country=met.sending.destination.country, zone=met.zone)
    rounding = rounding_line(service.round_total, sum((line.amount for line in lines), Decimal(0)))
    return [*lines, *([rounding] if rounding else [])]


def _place_note(service: Service) -> tuple[Message, ...]:
    """Where the buyer fetches the parcel, they have to say where."""
    if service.delivers_to == "door":
        return ()
    return (say(f"fetched_at_{service.delivers_to}", service=service.name),)


def _check_goods(tariff: Tariff, service: Service, sending: Sending) -> None:
    refused = sorted(sending.goods.intersection(service.refuses))
    if "dry_ice" in sending.goods and not service.takes_dry_ice:
        refused = sorted({*refused, "dry_ice"})
    if refused:
        goods = tuple(say(f"goods_{word}") for word in refused)
        message = say("goods_refused", carrier=tariff.carrier_name, service=service.name, goods=goods)
        raise OutsideTariff(message, limit_name="goods", unit="text")
