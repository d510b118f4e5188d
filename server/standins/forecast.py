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
_HEAT_C, _FROST_C, _WRONG_C = 17.0, -16.0, 6.0


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
        more = 0.0
        if mode in ("heat", "frost") and 1 <= ahead <= _WAVE_DAYS:
            # A wave brings a hot day in any season: so it can be tried in November, too.
            if mode == "heat":
                more = max(_HEAT_C, 33.0 - usual.high_c)
            else:
                more = min(_FROST_C, -10.0 - usual.low_c)
        elif mode == "wrong" and ahead > 0:
            more = _WRONG_C
        moved = _chance(place) * 2 + _chance(f"{place} {day.toordinal() // 3}") * 3 + more
        return Foretold(
            place=place, day=day, low_c=round(usual.low_c + moved, 1), high_c=round(usual.high_c + moved, 1)
        )


def _chance(seed: str) -> float:
    """Return a number from -1 to 1 that looks like chance and is the same for the same seed."""
    return int.from_bytes(hashlib.sha256(seed.encode()).digest()[:4], "big") / 2**31 - 1
