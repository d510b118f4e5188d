"""What tops can hold together, in a row and for several units (packing kernel; used by ``holding``)."""

from core.packing.kernel.compiled import NO_BOUND, ONE, ZERO, compiled
from core.packing.kernel.desk import (
    BASE,
    GAP,
    HOLDERS,
    LIMIT_MG,
    MOST,
    MOST_UNITS,
    PAIR,
    REASONS,
    SUPPORT,
    TOP_AREA,
    UNITS,
    WEIGHT_MG,
    WIDE_BASE,
)
from core.packing.kernel.facts import (
    because_most,
    because_settled,
    refuse,
)
from core.packing.kernel.holders import because_base, because_held_only_by, because_shared, shared_um
from core.packing.kernel.problem import Row

__all__ = ["rows_reach", "tops_suffice"]


@compiled
def rows_reach(desk: Row, j: int, holders: int, wanted: int, area: int, axis: int) -> bool:
    """Refuse when j is held on too little since some of its holders lie one after the other along the axis.

    Together they can have no more of j's length than it is long, less the gaps between them; the others count in
    full. As much of it as it can have goes to the holder that reaches furthest across, then to the next.
    """
    row, count = _row_of(desk, holders, axis)
    if count < 2:
        return True
    long = desk[MOST + 3 * j + axis] - count * desk[GAP]
    left = row
    for k in range(desk[UNITS]):
        if row >> k & 1:
            area -= desk[TOP_AREA + k]
    while left and long > 0:
        widest, across = -1, -1
        for k in range(desk[UNITS]):
            if left >> k & 1 and shared_um(desk, k, j, 1 - axis) > across:
                widest, across = k, shared_um(desk, k, j, 1 - axis)
        left &= ~(1 << widest)
        part = min(long, shared_um(desk, widest, j, axis) - desk[GAP])
        area += part * (across - desk[GAP])
        long -= part
    if area >= wanted:
        return True
    begin = desk[REASONS]
    because_held_only_by(desk, j, holders)
    because_base(desk, j, desk[BASE + j], NO_BOUND)
    because_most(desk, j, axis, desk[MOST + 3 * j + axis])
    for k in range(desk[UNITS]):
        if holders >> k & 1:
            because_shared(desk, k, j, ZERO)
            because_shared(desk, k, j, ONE)
            for other in range(k + 1, desk[UNITS]):
                if row >> k & 1 and row >> other & 1:
                    because_settled(desk, PAIR + MOST_UNITS * k + other)
    return refuse(desk, begin)


@compiled
def _row_of(desk: Row, holders: int, axis: int) -> tuple[int, int]:
    """Return holders that certainly lie one after the other along the axis, as bits, and how many they are."""
    row, count = ZERO, ZERO
    for k in range(desk[UNITS]):
        if not holders >> k & 1:
            continue
        apart = True
        for other in range(k):
            if row >> other & 1:
                relation = desk[PAIR + MOST_UNITS * other + k]
                apart = apart and (relation == 1 << axis or relation == 8 << axis)
        if apart:
            row |= 1 << k
            count += 1
    return row, count


@compiled
def tops_suffice(desk: Row) -> bool:
    """Refuse when the tops that can hold some units are together too small or too weak for them (Hall).

    Each spot of a top holds one unit only. HOLDERS are those of each unit off the floor. Looked
    at are the holders of every one and of every two.
    """
    n = desk[UNITS]
    for one in range(n):
        if desk[HOLDERS + one] == 0:
            continue
        for two in range(one, n):
            if desk[HOLDERS + two] == 0:
                continue
            holders = desk[HOLDERS + one] | desk[HOLDERS + two]
            if two > one and (holders == desk[HOLDERS + one] or holders == desk[HOLDERS + two]):
                continue
            asked, weight, tops, room = 0, 0, 0, 0
            for j in range(n):
                if desk[HOLDERS + j] and desk[HOLDERS + j] & ~holders == 0:
                    asked += -(-desk[SUPPORT] * desk[BASE + j] // 100)
                    weight += desk[WEIGHT_MG + j]
                if holders >> j & 1:
                    tops += desk[WIDE_BASE + j]
                    if desk[LIMIT_MG + j] < 0:
                        room = -1
                    elif room >= 0:
                        room += desk[LIMIT_MG + j]
            if asked > tops or 0 <= room < weight:
                return _refuse_tops(desk, holders)
    return True


@compiled
def _refuse_tops(desk: Row, holders: int) -> bool:
    begin = desk[REASONS]
    for j in range(desk[UNITS]):
        if desk[HOLDERS + j] and desk[HOLDERS + j] & ~holders == 0:
            because_held_only_by(desk, j, holders)
            because_base(desk, j, desk[BASE + j], NO_BOUND)
        if holders >> j & 1:
            because_base(desk, j, ZERO, desk[WIDE_BASE + j])
    return refuse(desk, begin)
