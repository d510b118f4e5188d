"""Trying a parcel out: from how high it is dropped, and on what (designing; rules 16.2)."""

from typing import Literal

from core.units import Micrometres, Milligrams

__all__ = ["DropPlace", "drop_height_um"]

#: Above each gross weight (kg) the drop is lower: under 10 kg 760 mm, under 19 610, under 28 460, under 45 310, else
#: 200.
_HEIGHTS: tuple[tuple[Milligrams, Micrometres], ...] = (
    (10_000_000, 760_000), (19_000_000, 610_000), (28_000_000, 460_000), (45_000_000, 310_000),
)  # fmt: skip
_LOWEST_UM: Micrometres = 200_000

#: Faces, the edge and the corner that are dropped on, most telling first.
DropPlace = Literal["bottom", "corner at the bottom", "edge at the bottom", "long side", "short side", "top"]


def drop_height_um(gross_mg: Milligrams) -> Micrometres:
    """Return the drop height of a test for a parcel of this weight.

    Raises ValueError for a weight that is not positive.
    """
    if gross_mg <= 0:
        raise ValueError("a parcel weighs something")
    return next((height for below, height in _HEIGHTS if gross_mg < below), _LOWEST_UM)
