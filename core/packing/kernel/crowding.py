"""Whether some plane is certainly crossed by more than its area (packing kernel; used by ``following``).

A unit whose highest start lies below where it ends at least crosses every plane between the two (cumulative timetable).
"""

from core.packing.kernel.compiled import compiled
from core.packing.kernel.desk import AREA, CROSS, HIGH, LEAST, REASONS, SIZE, UNITS, WAYS
from core.packing.kernel.facts import because_absent, because_high, because_least, because_low, refuse
from core.packing.kernel.problem import Row

__all__ = ["not_crowded"]


@compiled
def _crosses(desk: Row, k: int, axis: int, plane: int) -> bool:
    start = 6 * k + axis
    return bool(desk[start + HIGH] <= plane < desk[start] + desk[LEAST + 3 * k + axis])


@compiled
def not_crowded(desk: Row) -> bool:
    """Refuse when some plane across an axis is certainly crossed by more than its area."""
    n = desk[UNITS]
    for axis in range(3):
        for i in range(n):
            plane = desk[6 * i + HIGH + axis]
            if not _crosses(desk, i, axis, plane):
                continue
            total = 0
            for k in range(n):
                if _crosses(desk, k, axis, plane):
                    total += desk[AREA + 3 * k + axis]
            if total > desk[CROSS + axis]:
                return _refuse_plane(desk, axis, plane)
    return True


@compiled
def _refuse_plane(desk: Row, axis: int, plane: int) -> bool:
    begin = desk[REASONS]
    for k in range(desk[UNITS]):
        if not _crosses(desk, k, axis, plane):
            continue
        least = desk[LEAST + 3 * k + axis]
        because_high(desk, k, axis, plane)
        because_low(desk, k, axis, plane - least + 1)
        because_least(desk, k, axis, least)
        for way in range(6):
            at = SIZE + 18 * k + 3 * way
            if desk[at + (axis + 1) % 3] * desk[at + (axis + 2) % 3] < desk[AREA + 3 * k + axis]:
                because_absent(desk, WAYS + k, 1 << way)
    return refuse(desk, begin)
