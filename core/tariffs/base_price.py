"""The base price of a parcel: of the step its billable weight falls under, or flat in the carrier's own package
(tariffs;
rules 10.6). Pure.
"""

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal

from core.errors import OutsideTariff
from core.messages import Fact, Message, say
from core.tariffs.billable import Billable
from core.tariffs.charges import Further
from core.tariffs.limits import Passed, passed
from core.tariffs.lines import QuoteLine
from core.tariffs.model import FlatRate, Format, Packaging, Sending, Service, Tariff, WeightStep, ZoneTable
from core.units import Milligrams, Size, round_money

__all__ = ["ANY_SERVICE", "BasePrice", "by_weight", "flat_price"]

#: As if a parcel were a further one of every service: for what it costs at the least.
ANY_SERVICE = ("*", "*")


@dataclass(frozen=True, slots=True, kw_only=True)
class BasePrice:
    """The base price and where it was found."""

    zone: str
    line: QuoteLine
    step_mg: Milligrams
    steps: tuple[WeightStep, ...]
    transit_days: int
    format_code: str = ""
    format_name: str = ""
    further: bool = False  #: the price of a further parcel of the order


def by_weight(
    tariff: Tariff,
    service: Service,
    zone: str | None,
    outer: Size,
    billable_in: Callable[[str], Billable],
    gross_mg: Milligrams,
    sending: Sending,
) -> tuple[BasePrice, Billable]:
    """Return the price of the first format that takes the parcel and has one for it; one um over a format is the next.

    ``billable_in``: the weight that counts in a format; formats may turn size into weight differently.
    Raises OutsideTariff naming each limit it is outside of, or that the service does not go there.
    """
    there = [
        (one, table) for one in service.all_formats if (table := next((t for t in one.zones if t.zone == zone), None))
    ]
    if not there:
        raise _not_there(tariff, service, zone, sending)
    over = passed(service.limits, outer, gross_mg)
    refusal: OutsideTariff | None = None
    if not over:
        for one, table in there:
            over = passed(one.limits, outer, gross_mg)
            if over:
                continue
            billable = billable_in(one.code)
            step = table.step_for(billable.billable_mg)
            if step is not None:
                return _in_step(one, table, step, billable, _further_of(service, tariff, sending)), billable
            refusal = _no_step(tariff, service, table, billable)
    if refusal is not None:
        raise refusal
    messages = tuple(one.message(service.name, tariff.carrier_name) for one in over)
    first = over[0]
    message = messages[0] if len(messages) == 1 else say("several_limits", limits=messages)
    raise OutsideTariff(message, limit_name=first.limit_name, unit=first.unit, value=first.value, limit=first.limit)


def _further_of(service: Service, tariff: Tariff, sending: Sending) -> Further | None:
    """Return what a further parcel costs, when this is one by the same service."""
    if sending.further_of in ((tariff.carrier, service.code), ANY_SERVICE):
        return service.further
    return None


def _in_step(one: Format, table: ZoneTable, step: WeightStep, billable: Billable, further: Further | None) -> BasePrice:
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
        by = "step_by_least" if billable.raised else "step_by_size" if billable.billed == "size" else "step_by_weight"
        rule = say(by, **facts)
    price = round_money(step.price)
    if further is not None:
        price = max(Decimal(0), round_money(step.price * further.percent / 100 - further.off))
        told: dict[str, Fact | Decimal] = {"what": rule, "percent_percent": further.percent, "of_money": step.price}
        if further.off:
            rule = say("further_parcel_off", **told, off_money=further.off)
        else:
            rule = say("further_parcel", **told)
    label = say("named_price", name=one.name, zone=table.zone) if one.name else say("base_price", zone=table.zone)
    return BasePrice(
        zone=table.zone,
        line=QuoteLine(label=label, amount=price, rule=rule),
        further=further is not None,
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


def flat_price(
    tariff: Tariff,
    service: Service,
    own: Packaging,
    flat: FlatRate,
    zone: str | None,
    gross_mg: Milligrams,
    sending: Sending,
) -> BasePrice:
    """Return the flat price of the carrier's own package: its size is known, its weight only has a limit.

    Raises OutsideTariff when the package is not for this service, the place has no price, or it is too heavy.
    """
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
    return BasePrice(
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


def _not_there(tariff: Tariff, service: Service, zone: str | None, sending: Sending) -> OutsideTariff:
    """A place no zone rule names is not served at all; in a zone without prices this service does not go."""
    where = f"{sending.destination.country} {sending.destination.postcode}".strip()
    facts = {"carrier": tariff.carrier_name, "service": service.name, "place": where}
    message = say("no_zone", **facts) if zone is None else say("zone_without_prices", **facts, zone=zone)
    return OutsideTariff(message, limit_name="destination", unit="text")
