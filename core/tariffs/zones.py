"""From a destination to a zone, and from a ship date to the arrival (tariffs)."""

from datetime import date, timedelta

from core.tariffs.model import Place, Service, Tariff

__all__ = ["arrival_date", "next_ship_day", "plain_postcode", "zone_of"]


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


#: Weekdays on which a workshop hands parcels over, Monday 0; a default until it is a setting.
SHIP_DAYS = (0, 1, 2, 3, 4)


def next_ship_day(day: date, ship_days: tuple[int, ...] = SHIP_DAYS) -> date:
    """Return the day itself when parcels are handed over on it, else the next one that is."""
    while day.weekday() not in ship_days:
        day += timedelta(days=1)
    return day


def arrival_date(service: Service, shipped_on: date, transit_days: int) -> date:
    """Return the day the parcel arrives: only the days the service moves are counted.

    A parcel handed over on a day the service does not move starts on its next day.
    """
    day = next_ship_day(shipped_on, service.days_moved)
    left = transit_days
    while left > 0:
        day += timedelta(days=1)
        if day.weekday() in service.days_moved:
            left -= 1
    return day
