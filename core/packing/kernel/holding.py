"""Which tops can hold a unit off the floor, and what follows (packing kernel; used by ``propagation``)."""

from core.packing.kernel.bearing import rows_reach, tops_suffice
from core.packing.kernel.compiled import NO_BOUND, ONE, TWO, ZERO, compiled
from core.packing.kernel.desk import (
    BASE,
    CLEAR,
    GAP,
    HIGH,
    HOLDERS,
    LEAST,
    LEVEL,
    LIMIT_MG,
    MOST,
    MOST_UNITS,
    OFF_FLOOR,
    ON_FLOOR,
    REASONS,
    REST,
    SUPPORT,
    TOP_AREA,
    TOUCHES,
    UNITS,
    WEIGHT_MG,
    under,
)
from core.packing.kernel.facts import (
    because_high,
    because_least,
    because_low,
    because_most,
    fix,
    is_nearer,
    keep_distance,
    lower_start,
    raise_start,
    refuse,
)
from core.packing.kernel.holders import (
    CAN,
    area_um2,
    barred,
    because_base,
    because_held_only_by,
    because_only,
    because_shared,
    shared_um,
)
from core.packing.kernel.problem import Row

__all__ = ["hold", "open_rest"]


@compiled
def hold(desk: Row) -> bool:
    """Keep on the floor what no tops below could hold, and others to the tops that could; False on a contradiction."""
    n, off = desk[UNITS], 0
    for j in range(n):
        desk[HOLDERS + j] = 0
        if desk[LEVEL + j] == ON_FLOOR:
            continue
        wanted = -(-desk[SUPPORT] * desk[BASE + j] // 100)
        area, room, holders = ZERO, ZERO, ZERO
        for k in range(n):
            if k == j or desk[LIMIT_MG + k] == 0 or barred(desk, k, j) != CAN:
                continue
            desk[TOP_AREA + k] = area_um2(desk, k, j)
            area += desk[TOP_AREA + k]
            holders |= 1 << k
            if desk[LIMIT_MG + k] < 0:
                room = -1
            elif room >= 0:
                room += desk[LIMIT_MG + k]
        if area < wanted or holders == 0 or 0 <= room < desk[WEIGHT_MG + j]:
            if not _keep_on_floor(desk, j, holders, area < wanted):
                return False
        elif desk[LEVEL + j] == OFF_FLOOR:
            desk[HOLDERS + j] = holders
            off += 1
            if holders & (holders - 1):
                for axis in range(2):
                    if not rows_reach(desk, j, holders, wanted, area, axis):
                        return False
            if not _begin_on_tops(desk, j, holders):
                return False
            if not _needed_ones(desk, j, holders, wanted, area):
                return False
    return off < 2 or tops_suffice(desk)


@compiled
def _keep_on_floor(desk: Row, j: int, holders: int, too_small: bool) -> bool:
    """Put on the floor what the holders could not hold, since they are too small or too weak."""
    begin = desk[REASONS]
    because_only(desk, j, holders)
    if holders and too_small:
        because_base(desk, j, desk[BASE + j], NO_BOUND)
        for k in range(desk[UNITS]):
            if holders >> k & 1:
                because_shared(desk, k, j, ZERO)
                because_shared(desk, k, j, ONE)
    return fix(desk, LEVEL + j, ON_FLOOR, begin)


@compiled
def _begin_on_tops(desk: Row, j: int, holders: int) -> bool:
    """Let j begin no lower than the lowest top of what can hold it, and no higher than the highest."""
    n = desk[UNITS]
    lowest, highest = NO_BOUND, ZERO
    for k in range(n):
        if holders >> k & 1:
            lowest = min(lowest, desk[6 * k + 2] + desk[LEAST + 3 * k + 2])
            highest = max(highest, desk[6 * k + HIGH + 2] + desk[MOST + 3 * k + 2])
    if lowest > desk[6 * j + 2]:
        begin = desk[REASONS]
        because_held_only_by(desk, j, holders)
        for k in range(n):
            if holders >> k & 1:
                because_least(desk, k, TWO, desk[LEAST + 3 * k + 2])
                because_low(desk, k, TWO, lowest - desk[LEAST + 3 * k + 2])
        if not raise_start(desk, j, TWO, lowest, begin):
            return False
    if highest < desk[6 * j + HIGH + 2]:
        begin = desk[REASONS]
        because_held_only_by(desk, j, holders)
        for k in range(n):
            if holders >> k & 1:
                because_most(desk, k, TWO, desk[MOST + 3 * k + 2])
                because_high(desk, k, TWO, highest - desk[MOST + 3 * k + 2])
        if not lower_start(desk, j, TWO, highest, begin):
            return False
    return True


@compiled
def _needed_ones(desk: Row, j: int, holders: int, wanted: int, area: int) -> bool:
    """Tighten what follows for each unit without which j is held on too little: of ``area`` each gives TOP_AREA."""
    for k in range(desk[UNITS]):
        if holders >> k & 1:
            without = area - desk[TOP_AREA + k]
            if wanted > without and not _must_hold(desk, j, k, holders, wanted - without):
                return False
    return True


@compiled
def _because_needed(desk: Row, j: int, k: int, holders: int) -> None:
    """Give as reasons that j is off the floor, its least base, and what the holders but k give at most."""
    because_held_only_by(desk, j, holders)
    because_base(desk, j, desk[BASE + j], NO_BOUND)
    for other in range(desk[UNITS]):
        if other != k and holders >> other & 1:
            because_shared(desk, other, j, ZERO)
            because_shared(desk, other, j, ONE)


@compiled
def _must_hold(desk: Row, j: int, k: int, holders: int, needed: int) -> bool:
    """Tighten what follows when j must rest on k, on at least the area needed."""
    key, bit = under(k, j)
    if desk[key] != bit:
        begin = desk[REASONS]
        _because_needed(desk, j, k, holders)
        if not fix(desk, key, bit, begin):
            return False
    if desk[REST + MOST_UNITS * k + j] != TOUCHES:
        begin = desk[REASONS]
        _because_needed(desk, j, k, holders)
        if not fix(desk, REST + MOST_UNITS * k + j, TOUCHES, begin):
            return False
    for axis in range(2):
        across = shared_um(desk, k, j, 1 - axis) - desk[GAP]
        reach = -(-needed // max(1, across))
        if reach > shared_um(desk, k, j, axis) - desk[GAP]:
            begin = desk[REASONS]
            _because_needed(desk, j, k, holders)
            because_shared(desk, k, j, ZERO)
            because_shared(desk, k, j, ONE)
            return refuse(desk, begin)
        if not (_reach(desk, j, k, j, k, axis, reach, holders) and _reach(desk, k, j, j, k, axis, reach, holders)):
            return False
    return True


@compiled
def _reach(desk: Row, one: int, other: int, j: int, k: int, axis: int, reach: int, holders: int) -> bool:
    """Tighten: of j and k that holds it, one reaches so far into the other along the axis from below."""
    most = desk[MOST + 3 * one + axis]
    distance = reach + desk[GAP] - most
    if not is_nearer(desk, other, one, axis, distance):
        return True
    begin = desk[REASONS]
    _because_needed(desk, j, k, holders)
    because_shared(desk, k, j, 1 - axis)
    because_most(desk, one, axis, most)
    return keep_distance(desk, other, one, axis, distance, begin)


@compiled
def open_rest(desk: Row) -> int:
    """Return the key of whether one touches what it may hold, where that is open; -1 when it is settled everywhere."""
    n = desk[UNITS]
    for j in range(n):
        if desk[LEVEL + j] != OFF_FLOOR:
            continue
        for k in range(n):
            key = REST + MOST_UNITS * k + j
            if k == j or desk[LIMIT_MG + k] == 0 or desk[key] != TOUCHES | CLEAR or barred(desk, k, j) != CAN:
                continue
            # Where both heights are fixed they touch, since nothing bars it.
            if desk[6 * j + 2] < desk[6 * j + HIGH + 2] or desk[6 * k + 2] < desk[6 * k + HIGH + 2]:
                return key
    return -1
