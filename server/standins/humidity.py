"""A humidity sensor behind a plain interface, and the simulated one that ships with the app.

Most workshops have none: the stand-in is absent until somebody connects it. It can be told to read a damp or a dry
room, or to drop out.
"""

from typing import Protocol

from server.standins.models import Behaviour
from server.workshops.models import Workshop

__all__ = ["HUMIDITY_MODES", "HumiditySensor", "SimulatedHumidity"]

HUMIDITY_MODES = ("absent", "well", "damp", "dry", "drop_out")
_READS = {"well": 52, "damp": 78, "dry": 31}


class HumiditySensor(Protocol):
    """What the workshop needs of a humidity sensor."""

    def read_percent(self, workshop: Workshop) -> int | None:
        """Return the relative humidity; None when there is no sensor, or it does not answer."""


class SimulatedHumidity:
    """The stand-in."""

    def read_percent(self, workshop: Workshop) -> int | None:
        """Read it. See ``HumiditySensor.read_percent``."""
        behaviour = Behaviour.objects.of(workshop).filter(device="humidity").first()
        return _READS.get(behaviour.mode if behaviour else "absent")
