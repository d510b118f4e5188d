"""A scale behind a plain interface, and the simulated one that ships with the app.

``Scale`` is what the bench knows; a real driver would implement it. The simulation swings before it settles and
can be told to misbehave: slow, drop_out, restless, over_capacity, or to weigh a parcel packed wrongly.
"""

import math
import random
from dataclasses import dataclass
from typing import Protocol

from django.db import transaction

from core.bench.weighing import Reading
from server.standins.models import Behaviour, ScalePan
from server.workshops.models import Workshop

__all__ = ["SCALE_MODES", "Load", "Scale", "SimulatedScale"]

SCALE_MODES = ("well", "slow", "drop_out", "restless", "over_capacity", "one_missing", "one_extra", "insert_missing")
_CAPACITY_MG = 30_000_000
_KEPT = 12


@dataclass(frozen=True, slots=True, kw_only=True)
class Load:
    """What a parcel put on the scale would weigh, and what mistakes would change; mg."""

    parcel_id: int
    expected_mg: int
    sigma_mg: int
    unit_mg: int  #: one unit with its wraps
    insert_mg: int  #: the heaviest insert; 0: none


class Scale(Protocol):
    """What the bench needs of a scale."""

    def read(self, workshop: Workshop, load: Load, *, again: bool) -> Reading:
        """Return the readings so far with a new one at the end; none when the scale is absent.

        ``again``: the parcel was taken off and put on once more.
        """


class SimulatedScale:
    """The stand-in: a damped swing round the true weight, in whole divisions."""

    @transaction.atomic
    def read(self, workshop: Workshop, load: Load, *, again: bool) -> Reading:
        """Take one reading. See ``Scale.read``."""
        behaviour = Behaviour.objects.of(workshop).filter(device="scale").first()
        mode = behaviour.mode if behaviour else "well"
        division_mg = workshop.scale_division_mg
        if mode == "drop_out":
            return Reading(readings_mg=(), division_mg=division_mg, capacity_mg=_CAPACITY_MG)
        pan, _ = ScalePan.objects.of(workshop).select_for_update().get_or_create(workshop=workshop)
        if again or pan.parcel_id != load.parcel_id:
            pan.parcel_id, pan.readings_mg = load.parcel_id, []
            pan.true_mg = _true_weight(load, mode)
        shown = _swing(pan.true_mg, len(pan.readings_mg), mode)
        pan.readings_mg = [*pan.readings_mg, round(shown / division_mg) * division_mg][-_KEPT * 4 :]
        pan.save()
        return Reading(readings_mg=tuple(pan.readings_mg[-_KEPT:]), division_mg=division_mg, capacity_mg=_CAPACITY_MG)


def _true_weight(load: Load, mode: str) -> int:
    """The parcel's own weight: near the expected one, the same each time it is put on."""
    drawn = random.Random(load.parcel_id).gauss(0, 0.6)
    true_mg = load.expected_mg + round(drawn * load.sigma_mg)
    changed = {
        "one_missing": -load.unit_mg,
        "one_extra": load.unit_mg,
        "insert_missing": -load.insert_mg,
        "over_capacity": _CAPACITY_MG * 2,
    }
    return max(0, true_mg + changed.get(mode, 0))


def _swing(true_mg: int, turn: int, mode: str) -> float:
    if mode == "restless":
        return true_mg * (1 + 0.05 * math.sin(turn * 1.7))
    damping = 7.0 if mode == "slow" else 0.9
    return true_mg * (1 - 0.3 * math.exp(-turn / damping) * math.cos(turn * 1.3))
