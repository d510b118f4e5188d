"""What is odd in a tariff and may still be meant: told when it is taken in, never corrected (rules, 10). Pure.

Prices that fall as a parcel gets heavier or larger, weights within the limit that have no price, zones without prices,
places no rule names.
"""

from core.tariffs.model import Format, Service, Tariff, ZoneTable
from core.units import format_weight

__all__ = ["oddities_of"]


def oddities_of(tariff: Tariff) -> tuple[str, ...]:
    """Return everything odd in words, service by service."""
    found = [words for service in tariff.services for words in _of_service(tariff, service)]
    countries = {rule.country for rule in tariff.zone_rules if not rule.prefix and not rule.first}
    named = sorted({rule.country for rule in tariff.zone_rules})
    if not tariff.default_zone:
        found += [
            f"Places in {country} that no zone rule names are not served: there is no rule for the whole country."
            for country in named
            if country not in countries
        ]
    used = {table.zone for service in tariff.services for one in service.all_formats for table in one.zones}
    zones = dict.fromkeys(rule.zone for rule in tariff.zone_rules)
    found += [f"Zone {zone} has no prices in any service." for zone in zones if zone not in used]
    return tuple(found)


def _of_service(tariff: Tariff, service: Service) -> list[str]:
    found = []
    zones = list(dict.fromkeys(rule.zone for rule in tariff.zone_rules))
    priced = {table.zone for one in service.all_formats for table in one.zones}
    missing = [zone for zone in zones if zone not in priced]
    if missing:
        found.append(f"{service.name} has no prices for zone {', '.join(missing)}: it does not go there.")
    for one in service.all_formats:
        for table in one.zones:
            found += _falls(service, one, table)
    found += _unpriced(service)
    found += _cheaper_formats(service)
    return found


def _called(service: Service, one: Format) -> str:
    return f"{service.name}, {one.name}" if one.name else service.name


def _falls(service: Service, one: Format, table: ZoneTable) -> list[str]:
    return [
        f"{_called(service, one)}, zone {table.zone}: the price falls from {before.price:f} to {after.price:f} "
        f"above {format_weight(before.up_to_mg)}; a heavier parcel costs less."
        for before, after in zip(table.steps, table.steps[1:], strict=False)
        if after.price < before.price
    ]


def _unpriced(service: Service) -> list[str]:
    """A weight the service takes but no step reaches."""
    last = service.all_formats[-1]
    limit = last.limits.max_mg or service.limits.max_mg
    if limit is None:
        return []
    return [
        f"{_called(service, last)}, zone {table.zone}: gap, the limit is {format_weight(limit)} but prices end at "
        f"{format_weight(table.steps[-1].up_to_mg)}."
        for table in last.zones
        if table.steps[-1].up_to_mg < limit
    ]


def _cheaper_formats(service: Service) -> list[str]:
    """A larger format that costs less than the smaller one at some weight."""
    found = []
    for small, large in zip(service.formats, service.formats[1:], strict=False):
        for table in small.zones:
            other = next((t for t in large.zones if t.zone == table.zone), None)
            if other is None:
                continue
            for step in table.steps:
                above = next((s for s in other.steps if s.up_to_mg >= step.up_to_mg), None)
                if above is not None and above.price < step.price:
                    found.append(
                        f"{service.name}, zone {table.zone}: {large.name} costs less than {small.name} "
                        f"at {format_weight(step.up_to_mg)}, {above.price:f} against {step.price:f}."
                    )
                    break
    return found
