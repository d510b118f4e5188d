"""From a destination to a zone, and from a ship date to the arrival (tariffs)."""

from datetime import date, timedelta

from core.tariffs.model import Place, Service, Tariff

__all__ = ["arrival_date", "plain_postcode", "zone_of"]


def plain_postcode(text: str) -> str:
    """Return a postcode as it is compared: upper case, without spaces."""
    return "".join(text.upper().split())


def zone_of(tariff: Tariff, destination: Place) -> str | None:
    """Return the zone of a destination: the longest prefix that matches wins; None when none does."""
    matching = [
        rule
        for rule in tariff.zone_rules
        if rule.country == destination.country and destination.postcode.startswith(rule.prefix)
    ]
    return max(matching, key=lambda rule: len(rule.prefix)).zone if matching else None


def arrival_date(service: Service, shipped_on: date, transit_days: int) -> date:
    """Return the day the parcel arrives: only the days the service moves are counted.

    A parcel handed over on a day the service does not move starts on its next day.
    """
    day = shipped_on
    while day.weekday() not in service.days_moved:
        day += timedelta(days=1)
    left = transit_days
    while left > 0:
        day += timedelta(days=1)
        if day.weekday() in service.days_moved:
            left -= 1
    return day
