"""Will the carton stand under others? An estimate by McKee's formula (rules 16.1).

McKee, Gander and Wachuta 1963 (Paperboard Packaging): BCT = 5.874 x ECT x sqrt(perimeter x caliper). Worked case:
5.6 kN/m, perimeter 1068 mm, caliper 4.0 mm: 2150 N. A fifth of it (the safety factor, a judgement: damp and time
weaken board) must bear the same parcels stacked on it to 1.5 m.
"""

import math
from dataclasses import dataclass

from core.supplies.items import BoardStrength
from core.units import Milligrams, Size

__all__ = ["Stacking", "box_compression_n", "stacking"]

_G = 9.80665


@dataclass(frozen=True, slots=True, kw_only=True)
class Stacking:
    """What the lowest parcel of a stack must bear and what its carton stands, newtons."""

    compression_n: int  #: box compression, before the safety factor
    allowed_n: int
    load_n: int
    above: int  #: parcels stacked on it

    @property
    def holds(self) -> bool:
        """Return whether the carton bears the stack."""
        return self.load_n <= self.allowed_n


def box_compression_n(strength: BoardStrength, outer: Size) -> int:
    """Return the box compression strength, N, rounded to whole newtons."""
    perimeter_m = 2 * (outer.length_um + outer.width_um) / 10**6
    return round(5.874 * strength.ect_n_per_m * math.sqrt(perimeter_m * strength.caliper_um / 10**6))


def stacking(strength: BoardStrength, outer: Size, gross_mg: Milligrams) -> Stacking:
    """Return the stacking estimate of a parcel among its like, stacked to 1.5 m."""
    above = max(0, strength.stack_um // max(1, outer.height_um) - 1)
    compression = box_compression_n(strength, outer)
    return Stacking(
        compression_n=compression,
        allowed_n=int(compression / strength.safety_factor),
        load_n=round(above * gross_mg / 10**6 * _G),
        above=above,
    )
