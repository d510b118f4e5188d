"""Quoting one parcel with one service or all (rules, 10).

Order of sums: base by billable weight, fixed surcharges, percentages, cover, tax; each is a line, rounded to
the minor unit where it is charged. A refusal names every limit, the value and by how much. Pure.
"""

from dataclasses import dataclass
from datetime import date, time
from decimal import ROUND_CEILING, Decimal

from core.errors import LimitName, MixedCurrencies, OutsideTariff
from core.messages import Fact, Message, Text, say
from core.tariffs.billable import Billable, billable_weight
from core.tariffs.limits import Passed, passed
from core.tariffs.model import (
    FlatRate,
    Format,
    LabelTape,
    Packaging,
    Sending,
    Service,
    Tariff,
    WeightStep,
    ZoneTable,
)
from core.tariffs.surcharges import applies, conditions_of, markings_of
from core.tariffs.zones import arrival_date, zone_of
from core.units import Milligrams, Size, round_money

__all__ = [
    "Quote",
    "QuoteLine",
    "Refusal",
    "least_price",
    "quote_all",
    "quote_service",
    "service_of",
    "tariff_in_force",
    "tariffs_in_force",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class QuoteLine:
    """One line of a price, with the rule it comes from."""

    label: Text
    amount: Decimal
    rule: Text


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
    priced = (
        _flat(tariff, service, own, flat, zone, gross_mg, sending)
        if own is not None and flat is not None
        else _by_weight(tariff, service, zone, outer, billable, sending)
    )
    lines = [priced.line]
    lines += _surcharges(service, priced, outer, gross_mg, sending, flat=flat is not None)
    cover, notes = _covered(service, sending, lines)
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
        zone=priced.zone,
        price=sum((line.amount for line in lines), Decimal(0)),
        lines=tuple(lines),
        gross_mg=gross_mg,
        volumetric_mg=billable.volumetric_mg,
        billable_mg=billable.billable_mg,
        step_mg=priced.step_mg,
        steps=priced.steps,
        transit_days=priced.transit_days,
        arrives_on=arrival_date(service, sending.ship_on, priced.transit_days),
        cut_off=service.cut_off,
        cover_included=service.cover_included,
        format_name=priced.format_name,
        why=say("flat_rate") if flat is not None else billable.why,
        cover=cover,
        notes=notes,
        markings=markings_of(service, outer, gross_mg, sending),
        claim_days=service.claim_days,
        tape_over_label=service.tape_over_label,
        currency=tariff.currency,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Priced:
    """The base price and where it was found."""

    zone: str
    line: QuoteLine
    step_mg: Milligrams
    steps: tuple[WeightStep, ...]
    transit_days: int
    format_code: str = ""
    format_name: str = ""


def _check_goods(tariff: Tariff, service: Service, sending: Sending) -> None:
    refused = sorted(sending.goods.intersection(service.refuses))
    if refused:
        goods = tuple(say(f"goods_{word}") for word in refused)
        message = say("goods_refused", carrier=tariff.carrier_name, service=service.name, goods=goods)
        raise OutsideTariff(message, limit_name="goods", unit="text")


def _not_there(tariff: Tariff, service: Service, zone: str | None, sending: Sending) -> OutsideTariff:
    """A place no zone rule names is not served at all; in a zone without prices this service does not go."""
    where = f"{sending.destination.country} {sending.destination.postcode}".strip()
    facts = {"carrier": tariff.carrier_name, "service": service.name, "place": where}
    message = say("no_zone", **facts) if zone is None else say("zone_without_prices", **facts, zone=zone)
    return OutsideTariff(message, limit_name="destination", unit="text")


def _by_weight(
    tariff: Tariff, service: Service, zone: str | None, outer: Size, billable: Billable, sending: Sending
) -> _Priced:
    """Return the first format that takes the parcel and has a price for it; one um over a format is the next."""
    there = [
        (one, table) for one in service.all_formats if (table := next((t for t in one.zones if t.zone == zone), None))
    ]
    if not there:
        raise _not_there(tariff, service, zone, sending)
    over = passed(service.limits, outer, billable.gross_mg)
    refusal: OutsideTariff | None = None
    if not over:
        for one, table in there:
            over = passed(one.limits, outer, billable.gross_mg)
            step = table.step_for(billable.billable_mg)
            if over:
                continue
            if step is not None:
                return _in_step(one, table, step, billable)
            refusal = _no_step(tariff, service, table, billable)
    if refusal is not None:
        raise refusal
    messages = tuple(one.message(service.name, tariff.carrier_name) for one in over)
    first = over[0]
    message = messages[0] if len(messages) == 1 else say("several_limits", limits=messages)
    raise OutsideTariff(message, limit_name=first.limit_name, unit=first.unit, value=first.value, limit=first.limit)


def _in_step(one: Format, table: ZoneTable, step: WeightStep, billable: Billable) -> _Priced:
    facts: dict[str, Fact] = {"step_mg": step.up_to_mg, "billable_mg": billable.billable_mg, "why": billable.why}
    more = table.increment
    rule: Message
    if more is not None and step.up_to_mg > more.first_mg:
        rule = say(
            "step_of_increments",
            **facts,
            base_money=more.base,
            first_mg=more.first_mg,
            times=more.number_for(step.up_to_mg),
            each_money=more.each,
        )
    else:
        rule = say("step_by_size" if billable.why.code == "by_size" else "step_by_weight", **facts)
    label = say("named_price", name=one.name, zone=table.zone) if one.name else say("base_price", zone=table.zone)
    return _Priced(
        zone=table.zone,
        line=QuoteLine(label=label, amount=round_money(step.price), rule=rule),
        step_mg=step.up_to_mg,
        steps=table.steps_near(billable.billable_mg),
        transit_days=table.transit_days,
        format_code=one.code,
        format_name=one.name,
    )


def _no_step(tariff: Tariff, service: Service, table: ZoneTable, billable: Billable) -> OutsideTariff:
    top, counts = table.top_mg, billable.billable_mg
    message = say(
        "no_step",
        carrier=tariff.carrier_name,
        service=service.name,
        zone=table.zone,
        limit_mg=top,
        value_mg=counts,
        over_mg=counts - top,
    )
    return OutsideTariff(message, limit_name="billable weight", unit="mg", value=counts, limit=top)


def _flat(
    tariff: Tariff,
    service: Service,
    own: Packaging,
    flat: FlatRate,
    zone: str | None,
    gross_mg: Milligrams,
    sending: Sending,
) -> _Priced:
    """Return the flat price of the carrier's own package: its size is known, its weight only has a limit."""
    if own.services and service.code not in own.services:
        message = say("packaging_not_taken", carrier=tariff.carrier_name, service=service.name, name=own.name)
        raise OutsideTariff(message, limit_name="packaging", unit="text")
    table = next((t for one in service.all_formats for t in one.zones if t.zone == zone), None)
    named = next((p for p in flat.prices if zone in p.zones), None)
    priced = named or next((p for p in flat.prices if not p.zones), None)
    if table is None:
        raise _not_there(tariff, service, zone, sending)
    if priced is None:
        message = say("no_flat_price", carrier=tariff.carrier_name, name=own.name, zone=table.zone)
        raise OutsideTariff(message, limit_name="destination", unit="text")
    if gross_mg > flat.max_mg:
        over = Passed(limit_name="weight", unit="mg", value=gross_mg, limit=flat.max_mg)
        message = over.message(own.name, tariff.carrier_name)
        raise OutsideTariff(message, limit_name="weight", unit="mg", value=gross_mg, limit=flat.max_mg)
    return _Priced(
        zone=table.zone,
        line=QuoteLine(
            label=say("named_price", name=own.name, zone=table.zone),
            amount=round_money(priced.price),
            rule=say("one_price", up_to_mg=flat.max_mg),
        ),
        step_mg=flat.max_mg,
        steps=(WeightStep(up_to_mg=flat.max_mg, price=priced.price),),
        transit_days=table.transit_days,
    )


def _surcharges(
    service: Service, priced: _Priced, outer: Size, gross_mg: Milligrams, sending: Sending, *, flat: bool
) -> list[QuoteLine]:
    due = [
        one
        for one in service.surcharges
        if applies(
            one,
            zone=priced.zone,
            format_code=priced.format_code,
            outer=outer,
            gross_mg=gross_mg,
            sending=sending,
            flat=flat,
        )
    ]
    fixed = [
        QuoteLine(label=s.name, amount=round_money(s.amount), rule=conditions_of(s)) for s in due if s.kind == "fixed"
    ]
    so_far = priced.line.amount + sum((line.amount for line in fixed), Decimal(0))
    percent = [
        QuoteLine(
            label=s.name,
            amount=round_money(so_far * s.amount / 100),
            rule=say("percent_of", percent_percent=s.amount, of_money=so_far),
        )
        for s in due
        if s.kind == "percent"
    ]
    return fixed + percent


def _covered(service: Service, sending: Sending, lines: list[QuoteLine]) -> tuple[Decimal, tuple[Message, ...]]:
    """Return what the parcel is covered for and what to note; adds the line of bought cover to ``lines``."""
    excluded = sorted(sending.goods.intersection(service.cover_excludes))
    if excluded:
        goods = tuple(say(f"goods_{word}") for word in excluded)
        return Decimal(0), (say("cover_excluded", service=service.name, goods=goods),)
    included, extra = service.cover_included, service.extra_cover
    if sending.cover <= included:
        return included, ()
    if extra is None or extra.most <= included:
        return included, (_covers_less(service, included, sending),)
    wanted = min(sending.cover, extra.most)
    steps = ((wanted - included) / extra.each).to_integral_value(ROUND_CEILING)
    covered = min(included + steps * extra.each, extra.most)
    amount = round_money(steps * extra.price)
    rule = say("cover_rule", steps=int(steps), price_money=extra.price, included_money=included)
    lines.append(QuoteLine(label=say("cover_to", covered_money=covered), amount=amount, rule=rule))
    if covered < sending.cover:
        return covered, (_covers_less(service, extra.most, sending),)
    return covered, ()


def _covers_less(service: Service, most: Decimal, sending: Sending) -> Message:
    return say("covers_up_to", service=service.name, most_money=most, asked_money=sending.cover)
