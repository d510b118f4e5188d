"""Weight of a parcel: net + tare = gross, with its uncertainty (rules 8.1).

Uncertainty is added in squares: the scale's division / sqrt(12), each fill's by how it is measured, each unit's
own spread.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from core.recipes.expand import Piece, Use
from core.units import Milligrams, round_half_away

__all__ = ["ParcelWeight", "parcel_weight"]


@dataclass(frozen=True, slots=True, kw_only=True)
class ParcelWeight:
    """Expected weight of a packed parcel, all mg."""

    net_mg: Milligrams
    tare_mg: Milligrams
    gross_mg: Milligrams
    sigma_mg: Milligrams  #: one standard deviation of the gross weight
    sigma_scale_mg: Milligrams
    sigma_fill_mg: Milligrams
    sigma_units_mg: Milligrams


def parcel_weight(pieces: Iterable[Piece], uses: Iterable[Use], *, division_mg: Milligrams) -> ParcelWeight:
    """Return the parcel's weight from its goods and everything used on it."""
    goods, used = tuple(pieces), tuple(uses)
    net_mg = sum(piece.net_mg * piece.units for piece in goods)
    tare_mg = sum(use.weight_mg for use in used)
    scale = division_mg / math.sqrt(12)
    fill = math.sqrt(sum(use.spread_mg**2 for use in used))
    units = math.sqrt(sum(piece.units * piece.spread_mg**2 for piece in goods))
    return ParcelWeight(
        net_mg=net_mg,
        tare_mg=tare_mg,
        gross_mg=net_mg + tare_mg,
        sigma_mg=_whole(math.sqrt(scale**2 + fill**2 + units**2)),
        sigma_scale_mg=_whole(scale),
        sigma_fill_mg=_whole(fill),
        sigma_units_mg=_whole(units),
    )


def _whole(value: float) -> int:
    # The square root is the only inexact step; a milligram is far coarser than its error.
    return round_half_away(Decimal(repr(value)))
