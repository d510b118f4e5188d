"""Void and fill: what is left in the container and how much loose stock takes it up (rules 6.1).

Worked case: a 320 x 230 x 150 mm inside is 11.04 l; four wrapped jars of 86.4 x 86.4 x 112.4 mm are 3.356 l; the
void is 7.684 l. In crumpled kraft (factor 1.0, 35 g/l) that is 7.684 l of loose stock and 268.9 g.
"""

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from core.packing.model import Packing, Triple
from core.supplies.items import Fill
from core.units import Milligrams, round_half_away

__all__ = ["FillAmount", "VoidShare", "fill_amount", "void_of"]

_UM3_PER_LITRE = 10**15
_PLACES = Decimal("0.000001")


@dataclass(frozen=True, slots=True, kw_only=True)
class VoidShare:
    """Void by face, litres: below the goods, round and between them, above them."""

    below_l: Decimal
    round_l: Decimal
    above_l: Decimal
    proud_l: Decimal  #: what stands over the edge so that the flaps push back
    free_l: Decimal = Decimal(0)  #: air left free on purpose: round and over goods whose base is fixed

    @property
    def void_l(self) -> Decimal:
        """Void of the container, without what stands proud."""
        return self.below_l + self.round_l + self.above_l

    @property
    def filled_l(self) -> Decimal:
        """Void to fill: the void and what stands proud."""
        return self.void_l + self.proud_l


@dataclass(frozen=True, slots=True, kw_only=True)
class FillAmount:
    """How much loose stock a void takes, and what it weighs there."""

    loose_l: Decimal
    weight_mg: Milligrams


def void_of(
    inner_um: Triple, packing: Packing, *, floor_um: int, proud_percent: int, base_fixed: bool = False
) -> VoidShare:
    """Return the void of a packed container by face.

    With ``base_fixed`` only the part below is filled, the rest is air that stays free.

    Cushion space is void too. The top is left slightly proud: its part is enlarged by ``proud_percent``.
    """
    base = inner_um[0] * inner_um[1]
    goods = sum(p.size_um[0] * p.size_um[1] * p.size_um[2] for p in packing.placements)
    below, above = base * floor_um, base * (inner_um[2] - packing.top_um)
    between = base * inner_um[2] - goods - below - above
    if base_fixed:
        none = Decimal(0)
        free = _litres(between + above)
        return VoidShare(below_l=_litres(below), round_l=none, above_l=none, proud_l=none, free_l=free)
    return VoidShare(
        below_l=_litres(below),
        round_l=_litres(between),
        above_l=_litres(above),
        proud_l=_litres(Fraction(above * proud_percent, 100)),
    )


def fill_amount(void_l: Decimal, fill: Fill) -> FillAmount:
    """Return loose stock = void x packing factor, and weight = void x packed density (rules 6.2)."""
    return FillAmount(
        loose_l=(void_l * fill.packing_factor).quantize(_PLACES),
        weight_mg=round_half_away(void_l * fill.packed_mg_per_l),
    )


def _litres(volume_um3: int | Fraction) -> Decimal:
    numerator, denominator = volume_um3.as_integer_ratio()
    um3, per_micro_l = abs(numerator) * 2, denominator * (_UM3_PER_LITRE // 10**6)
    micro_l = (um3 + per_micro_l) // (2 * per_micro_l)
    return Decimal(micro_l if numerator >= 0 else -micro_l) / 10**6
