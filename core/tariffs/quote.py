"""Quoting one parcel with one service or all (rules, 10).

Order of sums: base by billable weight, fixed surcharges, percentages, cover, tax; each is a line, rounded to
the minor unit where it is charged. A refusal names the limit, the value and by how much. Pure.
"""

from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal

from core.errors import OutsideTariff
from core.tariffs.billable import billable_weight
from core.tariffs.model import Place, Service, Surcharge, Tariff, WeightStep, ZoneTable
from core.tariffs.zones import arrival_date, zone_of
from core.units import Milligrams, Size, format_length, format_weight, round_money

__all__ = ["Quote", "QuoteLine", "Refusal", "quote_all", "quote_service", "tariff_in_force"]


@dataclass(frozen=True, slots=True, kw_only=True)
class QuoteLine:
    """One line of a price, with the rule it comes from."""

    label: str
    amount: Decimal
    rule: str


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
    steps: tuple[WeightStep, ...]  #: all base prices of the zone, for the ruler
    transit_days: int
    arrives_on: date
    cut_off: time
    cover_included: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Refusal:
    """Why a service does not take the parcel."""

    carrier_name: str
    service: str
    service_name: str
    limit_name: str
    message: str


def tariff_in_force(tariffs: tuple[Tariff, ...], carrier: str, ship_on: date) -> Tariff | None:
    """Return the carrier's tariff that holds on the ship date: the latest that has begun."""
    begun = [t for t in tariffs if t.carrier == carrier and t.valid_from <= ship_on]
    return max(begun, key=lambda t: t.valid_from) if begun else None


def quote_all(
    tariffs: tuple[Tariff, ...], *, outer: Size, gross_mg: Milligrams, destination: Place, ship_on: date
) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Return every quote, cheapest first, and every refusal, over all carriers' tariffs in force."""
    quotes: list[Quote] = []
    refusals: list[Refusal] = []
    for carrier in sorted({t.carrier for t in tariffs}):
        tariff = tariff_in_force(tariffs, carrier, ship_on)
        if tariff is None:
            continue
        for service in tariff.services:
            try:
                quotes.append(
                    quote_service(
                        tariff, service, outer=outer, gross_mg=gross_mg, destination=destination, ship_on=ship_on
                    )
                )
            except OutsideTariff as refusal:
                refusals.append(
                    Refusal(
                        carrier_name=tariff.carrier_name,
                        service=service.code,
                        service_name=service.name,
                        limit_name=refusal.limit_name,
                        message=refusal.message,
                    )
                )
    quotes.sort(key=lambda q: (q.price, q.arrives_on, q.service))
    return tuple(quotes), tuple(refusals)


def quote_service(
    tariff: Tariff, service: Service, *, outer: Size, gross_mg: Milligrams, destination: Place, ship_on: date
) -> Quote:
    """Return the service's price with its lines.

    Raises OutsideTariff naming the limit that the parcel or its destination is outside of.
    """
    table = _table_for(tariff, service, destination)
    _check_limits(service, outer, gross_mg)
    billable = billable_weight(outer, gross_mg, service.volumetric)
    step = _step_for(service, table, billable.billable_mg)
    lines = [
        QuoteLine(
            label=f"Base, zone {table.zone}",
            amount=round_money(step.price),
            rule=f"up to {format_weight(step.up_to_mg)}, billable {format_weight(billable.billable_mg)}",
        )
    ]
    lines += _surcharges(service, table.zone, outer, lines[0].amount)
    if service.tax_percent:
        net = sum((line.amount for line in lines), Decimal(0))
        tax = round_money(net * service.tax_percent / 100)
        lines.append(QuoteLine(label="Tax", amount=tax, rule=f"{service.tax_percent:f} % of {net:f}"))
    return Quote(
        carrier=tariff.carrier,
        carrier_name=tariff.carrier_name,
        service=service.code,
        service_name=service.name,
        tariff_version=tariff.version,
        zone=table.zone,
        price=sum((line.amount for line in lines), Decimal(0)),
        lines=tuple(lines),
        gross_mg=gross_mg,
        volumetric_mg=billable.volumetric_mg,
        billable_mg=billable.billable_mg,
        step_mg=step.up_to_mg,
        steps=table.steps,
        transit_days=table.transit_days,
        arrives_on=arrival_date(service, ship_on, table.transit_days),
        cut_off=service.cut_off,
        cover_included=service.cover_included,
    )


def _table_for(tariff: Tariff, service: Service, destination: Place) -> ZoneTable:
    zone = zone_of(tariff, destination)
    table = next((t for t in service.zones if t.zone == zone), None)
    if table is None:
        where = f"{destination.country} {destination.postcode}".strip()
        raise OutsideTariff(f"{service.name} does not go to {where}.", limit_name="destination", unit="text")
    return table


def _check_limits(service: Service, outer: Size, gross_mg: Milligrams) -> None:
    limits, (longest, second, shortest) = service.limits, outer.sorted_um
    for name, value, limit in (
        ("longest side", longest, limits.longest_um),
        ("second side", second, limits.second_um),
        ("thickness", shortest, limits.thickness_um),
        ("girth", outer.girth_um, limits.girth_um),
        ("length plus girth", longest + outer.girth_um, limits.length_plus_girth_um),
    ):
        if limit is not None and value > limit:
            text = f"{service.name} takes {format_length(limit)} {name}; this parcel has {format_length(value)}, {_over(value - limit)} over."
            raise OutsideTariff(text, limit_name=name, unit="um", value=value, limit=limit)
    volume_cm3 = -(-outer.volume_um3 // 10**12)
    if limits.volume_cm3 is not None and volume_cm3 > limits.volume_cm3:
        text = f"{service.name} takes {limits.volume_cm3} cm3; this parcel has {volume_cm3} cm3."
        raise OutsideTariff(text, limit_name="volume", unit="cm3", value=volume_cm3, limit=limits.volume_cm3)
    if limits.max_mg is not None and gross_mg > limits.max_mg:
        over = format_weight(gross_mg - limits.max_mg)
        text = f"{service.name} takes {format_weight(limits.max_mg)}; this parcel is {format_weight(gross_mg)}, {over} over."
        raise OutsideTariff(text, limit_name="weight", unit="mg", value=gross_mg, limit=limits.max_mg)
    if limits.min_mg is not None and gross_mg < limits.min_mg:
        text = f"{service.name} starts at {format_weight(limits.min_mg)}; this parcel is {format_weight(gross_mg)}."
        raise OutsideTariff(text, limit_name="least weight", unit="mg", value=gross_mg, limit=limits.min_mg)


def _over(difference_um: int) -> str:
    """A part of a millimetre over a limit is still over: show it, not '0 mm'."""
    return format_length(difference_um) if difference_um >= 500 else "less than 1 mm"


def _step_for(service: Service, table: ZoneTable, billable_mg: Milligrams) -> WeightStep:
    for step in table.steps:
        if billable_mg <= step.up_to_mg:
            return step
    top = table.steps[-1].up_to_mg
    text = f"{service.name} has prices up to {format_weight(top)} in zone {table.zone}; this parcel counts as {format_weight(billable_mg)}."
    raise OutsideTariff(text, limit_name="billable weight", unit="mg", value=billable_mg, limit=top)


def _surcharges(service: Service, zone: str, outer: Size, base: Decimal) -> list[QuoteLine]:
    due = [s for s in service.surcharges if _applies(s, zone, outer)]
    fixed = [
        QuoteLine(label=s.name, amount=round_money(s.amount), rule=_condition(s)) for s in due if s.kind == "fixed"
    ]
    so_far = base + sum((line.amount for line in fixed), Decimal(0))
    percent = [
        QuoteLine(label=s.name, amount=round_money(so_far * s.amount / 100), rule=f"{s.amount:f} % of {so_far:f}")
        for s in due
        if s.kind == "percent"
    ]
    return fixed + percent


def _applies(surcharge: Surcharge, zone: str, outer: Size) -> bool:
    if surcharge.zones and zone not in surcharge.zones:
        return False
    return surcharge.longest_above_um is None or outer.longest_um > surcharge.longest_above_um


def _condition(surcharge: Surcharge) -> str:
    if surcharge.longest_above_um is not None:
        return f"longest side above {format_length(surcharge.longest_above_um)}"
    return f"zone {', '.join(surcharge.zones)}" if surcharge.zones else "always"
