"""Outer size as a carrier measures it: nominal plus bulge (rules 9.2)."""

from core.supplies.items import Fill
from core.units import Size, round_half_away

__all__ = ["MAX_BULGE_UM", "bulge_allowance", "bulged"]

#: Most that a default allowance may be (rules 9.2: 0 to 25 mm by fill tightness).
MAX_BULGE_UM = 25_000


def bulge_allowance(fill: Fill | None) -> Size:
    """Return the allowance per axis, um: the fill's own push upwards, half of it on each side axis.

    A carton bulges most where its flaps meet; its side walls are held by four edges. A judgement; a learned
    allowance replaces it once there are measurements.
    """
    up = min(fill.bulge_um, MAX_BULGE_UM) if fill else 0
    side = round_half_away(up) // 2
    return Size(length_um=side, width_um=side, height_um=up)


def bulged(nominal: Size, allowance: Size) -> Size:
    """Return the outside with its bulge, um."""
    return nominal.grown(allowance.length_um, allowance.width_um, allowance.height_um)
