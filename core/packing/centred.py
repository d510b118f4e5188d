"""The goods in the middle of their container (packing; used by parcels).

A search pushes everything into one corner, as close to the walls as cushions allow. Hands put it in the middle, so
that what is left over cushions all sides alike. Everything moves together, so who stands on whom and all gaps stay
as they are.
"""

from dataclasses import replace

from core.packing.model import Box, Packing, PackUnit, Placement
from core.units import Micrometres

__all__ = ["centred"]

_WHOLE_UM = 1_000  #: nobody measures finer at the bench


def centred(box: Box, packing: Packing, units: tuple[PackUnit, ...]) -> Packing:
    """Return a valid packing moved along length and width until opposite sides have equal room to spare, to a
    millimetre.

    Room to spare is what is left beyond each unit's own clearance to the wall, so a valid packing stays one.
    """
    side_um = {unit.code: unit.clearance.side_um for unit in units}
    along, across = (_shift(box.inner_um[axis], axis, packing.placements, side_um) for axis in (0, 1))
    moved = tuple(
        Placement(unit=one.unit, size_um=one.size_um, at_um=(one.at_um[0] + along, one.at_um[1] + across, one.at_um[2]))
        for one in packing.placements
    )
    return replace(packing, placements=moved)


def _shift(
    inner_um: Micrometres, axis: int, placements: tuple[Placement, ...], side_um: dict[str, Micrometres]
) -> Micrometres:
    """Return how far everything moves along an axis: half of what the far side has more than the near one."""
    near = min(one.at_um[axis] - side_um[one.unit] for one in placements)
    far = min(inner_um - one.at_um[axis] - one.size_um[axis] - side_um[one.unit] for one in placements)
    more = far - near
    return (abs(more) // 2 // _WHOLE_UM * _WHOLE_UM) * (1 if more > 0 else -1)
