"""What is odd in a tariff and may still be meant: told when it is imported, never corrected (rules 10.12). Pure.

Prices that fall as a parcel gets heavier or larger, weights within the limit that have no price, zones without prices,
places no rule names.
"""

from core.messages import Message, say
from core.tariffs.model import Format, Service, Tariff, WeightStep, ZoneTable

__all__ = ["oddities_of"]


def oddities_of(tariff: Tariff) -> tuple[Message, ...]:
    """Return everything odd, service by service."""
    found = [message for service in tariff.services for message in _of_service(tariff, service)]
    shared = [one for one in tariff.services if not one.zone_rules]
    countries = {rule.country for rule in tariff.zone_rules if not rule.prefix and not rule.first}
    named = sorted({rule.country for rule in tariff.zone_rules}) if shared else []
    if not tariff.default_zone:
        found += [say("country_not_whole", country=country) for country in named if country not in countries]
    used = {table.zone for service in shared for one in service.all_formats for table in one.zones}
    zones = dict.fromkeys(rule.zone for rule in tariff.zone_rules) if shared else {}
    found += [say("zone_unused", zone=zone) for zone in zones if zone not in used]
    return tuple(found)


def _of_service(tariff: Tariff, service: Service) -> list[Message]:
    found = []
    zones = list(dict.fromkeys(rule.zone for rule in service.zone_rules or tariff.zone_rules))
    priced = {table.zone for one in service.all_formats for table in one.zones}
    missing = tuple(zone for zone in zones if zone not in priced)
    if missing:
        found.append(say("zones_without_prices", service=service.name, zones=missing))
    for one in service.all_formats:
        for table in one.zones:
            found += _falls(service, one, table)
    found += _unpriced(service)
    found += _cheaper_formats(service)
    found += _never_due(service)
    return found


def _never_due(service: Service) -> list[Message]:
    """A discount so deep that nothing is left, and a group of one: both are usually slips."""
    groups = [one.group for one in service.surcharges if one.group]
    found = [
        say("group_of_one", service=service.name, group=group)
        for group in dict.fromkeys(groups)
        if groups.count(group) == 1
    ]
    if service.discount is not None and service.discount.percent == 100:
        found.append(say("all_taken_off", service=service.name))
    return found


def _called(service: Service, one: Format) -> str:
    return f"{service.name}, {one.name}" if one.name else service.name


def _falls(service: Service, one: Format, table: ZoneTable) -> list[Message]:
    return [
        say(
            "price_falls",
            called=_called(service, one),
            zone=table.zone,
            before_money=before.price,
            after_money=after.price,
            above_mg=before.up_to_mg,
        )
        for before, after in zip(table.steps, table.steps[1:], strict=False)
        if after.price < before.price
    ]


def _unpriced(service: Service) -> list[Message]:
    """A weight the service takes but no step reaches."""
    last = service.all_formats[-1]
    limit = last.limits.max_mg or service.limits.max_mg
    if limit is None:
        return []
    return [
        say("weight_without_price", called=_called(service, last), zone=table.zone, limit_mg=limit, top_mg=table.top_mg)
        for table in last.zones
        if table.top_mg < limit
    ]


def _looked_at(table: ZoneTable) -> tuple[WeightStep, ...]:
    """The steps of a table; of increments the ends: between them both tables rise evenly."""
    more = table.increment
    return (more.step(0), more.step(more.count)) if more else table.steps


def _cheaper_formats(service: Service) -> list[Message]:
    """A larger format that costs less than the smaller one at some weight."""
    found = []
    for small, large in zip(service.formats, service.formats[1:], strict=False):
        for table in small.zones:
            other = next((t for t in large.zones if t.zone == table.zone), None)
            if other is None:
                continue
            for step in _looked_at(table):
                above = other.step_for(step.up_to_mg)
                if above is not None and above.price < step.price:
                    found.append(
                        say(
                            "larger_format_cheaper",
                            service=service.name,
                            zone=table.zone,
                            large=large.name,
                            small=small.name,
                            at_mg=step.up_to_mg,
                            large_money=above.price,
                            small_money=step.price,
                        )
                    )
                    break
    return found
