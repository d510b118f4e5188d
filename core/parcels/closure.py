"""Closing the outer: how much tape a pattern takes (rules 7.1).

Worked case, 305 x 229 mm with 65 mm overhang: centre 435, H 1153, cross 794 mm; H on top and bottom 2306 mm.
"""

from core.recipes.model import Closure
from core.units import Micrometres, Size

__all__ = ["tape_length_um"]


def tape_length_um(outer: Size, closure: Closure) -> Micrometres:
    """Return the tape one parcel takes, um, over all closed faces."""
    centre = outer.length_um + 2 * closure.overhang_um
    across = outer.width_um + 2 * closure.overhang_um
    one_face = {"centre": centre, "h": centre + 2 * across, "cross": centre + across}[closure.pattern]
    return one_face * (2 if closure.both_faces else 1)
