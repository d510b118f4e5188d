"""A weather forecast behind a plain interface, and the simulated one that ships with the app; it can misbehave.

The weather of the simulation comes from the season, the place and a seed: the same place has the same day whenever it
is asked. Told otherwise it is slow, silent, wrong by some degrees, or a heat wave or a frost comes over night.
"""

import hashlib
import time
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Protocol

from core.care.weather import ANYWHERE
from server.standins.models import Behaviour
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["FORECAST_MODES", "ForecastFeed", "ForecastSilent", "Foretold", "SimulatedForecast"]

#: heat, frost: from tomorrow on for six days; wrong: foretold warmer than it will be.
FORECAST_MODES = ("well", "slow", "silent", "wrong", "heat", "frost")
_SLOW_SECONDS = 2.0
_WAVE_DAYS = 6
#: Low and high of a hot and of a cold day, in any season: so each can be tried whenever.
_HEAT_C, _FROST_C, _WRONG_C = (17.0, 32.0), (-5.0, 1.0), 6.0


class ForecastSilent(Exception):
    """The forecast did not answer."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Foretold:
    """One day at one place."""

    place: str
    day: date
    low_c: float
    high_c: float


class ForecastFeed(Protocol):
    """What the workshop needs of a forecast."""

    def foretell(self, workshop: Workshop, places: Collection[str], days: int) -> Sequence[Foretold]:
        """Return so many days from today on for each place. Raises ForecastSilent."""


class SimulatedForecast:
    """The stand-in."""

    def foretell(self, workshop: Workshop, places: Collection[str], days: int) -> Sequence[Foretold]:
        """Foretell. See ``ForecastFeed.foretell``."""
        behaviour = Behaviour.objects.of(workshop).filter(device="forecast").first()
        mode = behaviour.mode if behaviour else "well"
        if mode == "slow":
            time.sleep(_SLOW_SECONDS)
        if mode == "silent":
            raise ForecastSilent("The forecast did not answer.")
        first = today(workshop)
        return [
            self._day(place, first + timedelta(days=ahead), ahead, mode)
            for place in sorted(places)
            for ahead in range(days)
        ]

    def _day(self, place: str, day: date, ahead: int, mode: str) -> Foretold:
        usual = ANYWHERE.on(day)
        low, high = usual.low_c, usual.high_c
        more = _WRONG_C if mode == "wrong" and ahead > 0 else 0.0
        if mode == "heat" and 1 <= ahead <= _WAVE_DAYS:
            low, high = max(low, _HEAT_C[0]), max(high, _HEAT_C[1])
        elif mode == "frost" and 1 <= ahead <= _WAVE_DAYS:
            low, high = min(low, _FROST_C[0]), min(high, _FROST_C[1])
        moved = _chance(place) * 2 + _chance(f"{place} {day.toordinal() // 3}") * 3 + more
        return Foretold(place=place, day=day, low_c=round(low + moved, 1), high_c=round(high + moved, 1))


def _chance(seed: str) -> float:
    """Return a number from -1 to 1 that looks like chance and is the same for the same seed."""
    return int.from_bytes(hashlib.sha256(seed.encode()).digest()[:4], "big") / 2**31 - 1
