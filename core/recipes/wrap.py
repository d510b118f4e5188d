"""Wrapping a unit: how it grows, how much sheet it takes, what that weighs (rules, 2).

Worked case, a jar 72 x 72 x 98 mm in 4 mm wrap, 2 turns, 2 ends on each face, k 0.9: the sides grow by
2 x 2 x 4 x 0.9 = 14.4 mm, the height by (2 + 2) x 4 x 0.9 = 14.4 mm, giving 86.4 x 86.4 x 112.4 mm. Its sheet
is 683.6 x 210 mm = 0.1436 m2. Sums are kept as fractions and rounded once at the end.
"""

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from core.recipes.model import WrapLayer
from core.supplies.items import Wrap
from core.units import Micrometres, Milligrams, Size, round_half_away

__all__ = ["FOLD_UM", "WrapSheet", "grow", "sheet_for", "sheets_per_roll", "wrap_weight_mg"]

#: What the sheet stands over the unit at each end, to fold (rules, 2).
FOLD_UM = 20_000


@dataclass(frozen=True, slots=True, kw_only=True)
class WrapSheet:
    """The sheet one unit takes."""

    length_um: Micrometres  #: the way round, with the overlap
    width_um: Micrometres  #: along the unit's height, with the folds

    @property
    def area_m2(self) -> Decimal:
        """Area in m2, six places."""
        return (Decimal(self.length_um * self.width_um) / Decimal(10) ** 12).quantize(Decimal("0.000001"))


def grow(bare: Size, layer: WrapLayer, wrap: Wrap) -> Size:
    """Return the size of a unit with this layer round it, um."""
    pressed = Fraction(wrap.thickness_um) * Fraction(layer.compression)
    sides_um = round_half_away(2 * Fraction(layer.turns) * pressed)
    height_um = round_half_away((layer.ends_top + layer.ends_bottom) * pressed)
    return bare.grown(sides_um, sides_um, height_um)


def sheet_for(bare: Size, layer: WrapLayer, wrap: Wrap) -> WrapSheet:
    """Return the sheet for this layer round a unit of the given size.

    Each turn lies on the one before, so turn i is longer by 8 t k (i - 1/2); a part turn takes its share.
    """
    pressed = Fraction(wrap.thickness_um) * Fraction(layer.compression)
    length = Fraction(layer.overlap_um)
    left, turn = Fraction(layer.turns), 1
    while left > 0:
        share = min(left, Fraction(1))
        length += share * (2 * (bare.length_um + bare.width_um) + 8 * pressed * Fraction(2 * turn - 1, 2))
        left -= share
        turn += 1
    width_um = bare.height_um + min(bare.length_um, bare.width_um) + 2 * FOLD_UM
    return WrapSheet(length_um=round_half_away(length), width_um=width_um)


def sheets_per_roll(sheet: WrapSheet, *, roll_width_um: Micrometres, roll_length_um: Micrometres) -> int:
    """Return how many such sheets one roll gives, in the better of both orientations."""
    along = (roll_width_um // sheet.width_um) * (roll_length_um // sheet.length_um)
    across = (roll_width_um // sheet.length_um) * (roll_length_um // sheet.width_um)
    return max(along, across)


def wrap_weight_mg(area_m2: Decimal, wrap: Wrap) -> Milligrams:
    """Return the weight of so much wrap, mg."""
    return round_half_away(area_m2 * wrap.mg_per_m2)
