"""Outside temperature of a place by the hour, from a forecast or from what is usual then (care; rules 15.2).

A day lies on a cosine between its low at 5:00 and its high at 15:00. Where there is no forecast for a day, the usual
low and high of that month stand in its place, and each hour says which of the two it is.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from math import cos, pi
from typing import Literal

__all__ = ["DayWeather", "Source", "Usual", "Weather"]

#: forecast: somebody foretold it; usual: what such a month ordinarily has.
Source = Literal["forecast", "usual"]

_LOW_HOUR, _HIGH_HOUR = 5, 15


@dataclass(frozen=True, slots=True, kw_only=True)
class DayWeather:
    """Lowest and highest temperature of one day at one place, degrees Celsius; by the hour where it is known so."""

    low_c: float
    high_c: float
    hours_c: tuple[float, ...] = ()  #: 24 of them from 0:00 on; empty: the cosine holds


@dataclass(frozen=True, slots=True, kw_only=True)
class Usual:
    """What a place ordinarily has, a low and a high for each month, January first."""

    lows_c: tuple[float, ...]
    highs_c: tuple[float, ...]

    def on(self, day: date) -> DayWeather:
        """Return an ordinary day of that month."""
        return DayWeather(low_c=self.lows_c[day.month - 1], high_c=self.highs_c[day.month - 1])


#: Where nothing at all is known of a place: a mild inland climate, a judgement.
ANYWHERE = Usual(
    lows_c=(-2, -2, 1, 4, 8, 11, 13, 13, 9, 6, 2, -1),
    highs_c=(3, 5, 10, 15, 19, 23, 25, 25, 20, 14, 8, 4),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Weather:
    """All that is known: forecasts by place and day, what is usual by place."""

    days: Mapping[tuple[str, date], DayWeather] = field(default_factory=dict)
    usual: Mapping[str, Usual] = field(default_factory=dict)
    silent: bool = False  #: nothing was heard for so long that no forecast is believed

    def on(self, place: str, day: date) -> tuple[DayWeather, Source]:
        """Return a day's weather at a place, and where it comes from."""
        known = None if self.silent else self.days.get((place, day))
        if known is not None:
            return known, "forecast"
        return self.usual.get(place, ANYWHERE).on(day), "usual"

    def at(self, place: str, moment: datetime) -> tuple[float, Source]:
        """Return the temperature at a moment (its own clock's hour), and where it comes from."""
        day = moment.date()
        mine, source = self.on(place, day)
        hour = moment.hour + moment.minute / 60
        if mine.hours_c:
            return mine.hours_c[moment.hour], source
        if hour < _LOW_HOUR:
            before, _ = self.on(place, day - timedelta(days=1))
            return _between(before.high_c, mine.low_c, (hour + 24 - _HIGH_HOUR) / 14), source
        if hour <= _HIGH_HOUR:
            return _between(mine.low_c, mine.high_c, (hour - _LOW_HOUR) / 10), source
        after, _ = self.on(place, day + timedelta(days=1))
        return _between(mine.high_c, after.low_c, (hour - _HIGH_HOUR) / 14), source


def _between(first: float, last: float, share: float) -> float:
    return (first + last) / 2 + (first - last) / 2 * cos(pi * share)
