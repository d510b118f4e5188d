"""The weather as the core wants it: forecasts of some places, and how old they are (weather)."""

from collections.abc import Collection
from datetime import date, timedelta

from django.utils import timezone

from core.care.weather import DayWeather, Weather
from server.weather.models import ForecastDay, Heard
from server.workshops.models import Workshop

__all__ = ["SILENT_AFTER", "heard", "is_silent", "weather_at"]

#: A forecast that was not heard for so long is not believed any more (rules 15.2).
SILENT_AFTER = timedelta(hours=24)
#: No way takes longer.
_DAYS = 30


def heard(workshop: Workshop) -> Heard | None:
    """Return when the forecast was last heard, None when it was never asked for."""
    return Heard.objects.of(workshop).first()


def is_silent(workshop: Workshop) -> bool:
    """Return whether nothing was heard for more than a day, or ever."""
    row = heard(workshop)
    return row is None or row.heard_at is None or row.heard_at < timezone.now() - SILENT_AFTER


def weather_at(workshop: Workshop, places: Collection[str], first: date) -> Weather:
    """Return what is foretold of these places from the day before ``first`` on."""
    rows = ForecastDay.objects.of(workshop).filter(
        place__in=places, day__gte=first - timedelta(days=1), day__lte=first + timedelta(days=_DAYS)
    )
    days = {
        (place, day): DayWeather(low_c=float(low), high_c=float(high))
        for place, day, low, high in rows.values_list("place", "day", "low_c", "high_c")
    }
    return Weather(days=days, silent=is_silent(workshop))
