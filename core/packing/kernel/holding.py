"""Which tops can hold a unit that is off the floor, and what follows from it (packing kernel; used by ``following``)."""

from core.packing.kernel.compiled import NO_BOUND, ONE, TWO, ZERO, compiled
from core.packing.kernel.desk import (
    BASE,
    BASES,
    CARRIED_MG,
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
    PAIR,
    REASONS,
    REST,
    SUPPORT,
    TOP_AREA,
    TOUCHES,
    UNITS,
    WAYS,
    WEIGHT_MG,
    WIDE_BASE,
    under,
)
from core.packing.kernel.facts import (
    because_absent,
    because_high,
    because_least,
    because_low,
    because_most,
    because_settled,
    fix,
    is_nearer,
    keep_distance,
    lower_start,
    raise_start,
    refuse,
)
from core.packing.kernel.problem import Row

__all__ = ["hold", "open_rest"]

#: Why one cannot hold another: it can; it cannot be under it, or touch it; its top is too high, or too low; they lie apart.
_CAN, _NOT_UNDER, _NOT_TOUCHING, _TOO_HIGH, _TOO_LOW, _APART = 0, 1, 2, 3, 4, 5


@compiled
def _barred(desk: Row, k: int, j: int) -> int:
    """Return why k cannot hold j; from _APART on: along which axis they lie apart, and which comes first."""
    key, bit = under(k, j)
    if not desk[key] & bit:
        return _NOT_UNDER
    if desk[REST + MOST_UNITS * k + j] == CLEAR:
        return _NOT_TOUCHING
    # Its top must be able to lie exactly where j begins.
    if desk[6 * k + 2] + desk[LEAST + 3 * k + 2] > desk[6 * j + HIGH + 2]:
        return _TOO_HIGH
    if desk[6 * k + HIGH + 2] + desk[MOST + 3 * k + 2] < desk[6 * j + 2]:
        return _TOO_LOW
    for axis in range(2):
        if desk[6 * j + HIGH + axis] + desk[MOST + 3 * j + axis] - desk[GAP] <= desk[6 * k + axis]:
            return _APART + 2 * axis
        if desk[6 * k + HIGH + axis] + desk[MOST + 3 * k + axis] - desk[GAP] <= desk[6 * j + axis]:
            return _APART + 2 * axis + 1
    return _CAN


@compiled
def _because_barred(desk: Row, k: int, j: int) -> None:
    """Give as reasons why k cannot hold j."""
    why = _barred(desk, k, j)
    if why == _NOT_UNDER:
        key, bit = under(k, j)
        because_absent(desk, key, bit)
    elif why == _NOT_TOUCHING:
        because_settled(desk, REST + MOST_UNITS * k + j)
    elif why == _TOO_HIGH:
        least, latest = desk[LEAST + 3 * k + 2], desk[6 * j + HIGH + 2]
        because_least(desk, k, TWO, least)
        because_high(desk, j, TWO, latest)
        because_low(desk, k, TWO, latest - least + 1)
    elif why == _TOO_LOW:
        most, earliest = desk[MOST + 3 * k + 2], desk[6 * j + 2]
        because_most(desk, k, TWO, most)
        because_low(desk, j, TWO, earliest)
        because_high(desk, k, TWO, earliest - most - 1)
    elif why >= _APART:
        axis = (why - _APART) // 2
        first, then = (j, k) if (why - _APART) % 2 == 0 else (k, j)
        most, start = desk[MOST + 3 * first + axis], desk[6 * then + axis]
        because_most(desk, first, axis, most)
        because_low(desk, then, axis, start)
        because_high(desk, first, axis, start + desk[GAP] - most)


@compiled
def _because_only(desk: Row, j: int, holders: int) -> None:
    """Give as reasons why nothing but the holders (bits) can hold j."""
    for k in range(desk[UNITS]):
        if k != j and desk[LIMIT_MG + k] != 0 and not holders >> k & 1:
            _because_barred(desk, k, j)


@compiled
def _because_held_only_by(desk: Row, j: int, holders: int) -> None:
    """Give as reasons that j is off the floor and nothing but the holders (bits) can hold it."""
    because_settled(desk, LEVEL + j)
    _because_only(desk, j, holders)


@compiled
def _shared(desk: Row, k: int, j: int, axis: int) -> int:
    """Return how far the two can overlap along an axis at most, gap included, um."""
    most_j, most_k = desk[MOST + 3 * j + axis], desk[MOST + 3 * k + axis]
    shared = min(most_j, most_k)
    shared = min(shared, desk[6 * j + HIGH + axis] + most_j - desk[6 * k + axis])
    return int(min(shared, desk[6 * k + HIGH + axis] + most_k - desk[6 * j + axis]))


@compiled
def _because_shared(desk: Row, k: int, j: int, axis: int) -> None:
    """Give as reasons why the two cannot overlap further along an axis."""
    shared = _shared(desk, k, j, axis)
    for turn in range(2):
        one, other = (j, k) if turn == 0 else (k, j)
        most, latest, earliest = desk[MOST + 3 * one + axis], desk[6 * one + HIGH + axis], desk[6 * other + axis]
        if most == shared:
            because_most(desk, one, axis, shared)
            return
        if latest + most - earliest == shared:
            because_most(desk, one, axis, most)
            because_high(desk, one, axis, latest)
            because_low(desk, other, axis, earliest)
            return


@compiled
def _because_base(desk: Row, j: int, least: int, most: int) -> None:
    """Give as reasons that the unit stands on no base smaller than ``least`` or larger than ``most``."""
    for way in range(6):
        base = desk[BASES + 6 * j + way]
        if 0 < base < least or base > most:
            because_absent(desk, WAYS + j, 1 << way)


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
            if k == j or desk[LIMIT_MG + k] == 0 or _barred(desk, k, j) != _CAN:
                continue
            desk[TOP_AREA + k] = _area(desk, k, j)
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
                    if not _rows_reach(desk, j, holders, wanted, area, axis):
                        return False
            if not _begin_on_tops(desk, j, holders):
                return False
            if not _needed_ones(desk, j, holders, wanted, area):
                return False
    return off == 0 or (_loads_bearable(desk) and (off < 2 or _tops_suffice(desk)))


@compiled
def _keep_on_floor(desk: Row, j: int, holders: int, too_small: bool) -> bool:
    """Put on the floor what the holders could not hold, since they are too small or too weak."""
    begin = desk[REASONS]
    _because_only(desk, j, holders)
    if holders and too_small:
        _because_base(desk, j, desk[BASE + j], NO_BOUND)
        for k in range(desk[UNITS]):
            if holders >> k & 1:
                _because_shared(desk, k, j, ZERO)
                _because_shared(desk, k, j, ONE)
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
        _because_held_only_by(desk, j, holders)
        for k in range(n):
            if holders >> k & 1:
                because_least(desk, k, TWO, desk[LEAST + 3 * k + 2])
                because_low(desk, k, TWO, lowest - desk[LEAST + 3 * k + 2])
        if not raise_start(desk, j, TWO, lowest, begin):
            return False
    if highest < desk[6 * j + HIGH + 2]:
        begin = desk[REASONS]
        _because_held_only_by(desk, j, holders)
        for k in range(n):
            if holders >> k & 1:
                because_most(desk, k, TWO, desk[MOST + 3 * k + 2])
                because_high(desk, k, TWO, highest - desk[MOST + 3 * k + 2])
        if not lower_start(desk, j, TWO, highest, begin):
            return False
    return True


@compiled
def _area(desk: Row, k: int, j: int) -> int:
    """Return the area j can have on k's top at most, um2."""
    return int((_shared(desk, k, j, ZERO) - desk[GAP]) * (_shared(desk, k, j, ONE) - desk[GAP]))


@compiled
def _rows_reach(desk: Row, j: int, holders: int, wanted: int, area: int, axis: int) -> bool:
    """Refuse when j is held on too little since some of its holders lie one after the other along the axis.

    Together they can have no more of j's length than it is long, less the gaps between them; the others count in full. As
    much of it as it can have goes to the holder that reaches furthest across, then to the next.
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
            if left >> k & 1 and _shared(desk, k, j, 1 - axis) > across:
                widest, across = k, _shared(desk, k, j, 1 - axis)
        left &= ~(1 << widest)
        part = min(long, _shared(desk, widest, j, axis) - desk[GAP])
        area += part * (across - desk[GAP])
        long -= part
    if area >= wanted:
        return True
    begin = desk[REASONS]
    _because_held_only_by(desk, j, holders)
    _because_base(desk, j, desk[BASE + j], NO_BOUND)
    because_most(desk, j, axis, desk[MOST + 3 * j + axis])
    for k in range(desk[UNITS]):
        if holders >> k & 1:
            _because_shared(desk, k, j, ZERO)
            _because_shared(desk, k, j, ONE)
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
def _needed_ones(desk: Row, j: int, holders: int, wanted: int, area: int) -> bool:
    """Tighten what follows for each unit without which j is held on too little: of all the ``area``, each gives TOP_AREA."""
    for k in range(desk[UNITS]):
        if holders >> k & 1:
            without = area - desk[TOP_AREA + k]
            if wanted > without and not _must_hold(desk, j, k, holders, wanted - without):
                return False
    return True


@compiled
def _because_needed(desk: Row, j: int, k: int, holders: int) -> None:
    """Give as reasons that j is off the floor, how large its base is at least, and what the holders but k give at most."""
    _because_held_only_by(desk, j, holders)
    _because_base(desk, j, desk[BASE + j], NO_BOUND)
    for other in range(desk[UNITS]):
        if other != k and holders >> other & 1:
            _because_shared(desk, other, j, ZERO)
            _because_shared(desk, other, j, ONE)


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
        across = _shared(desk, k, j, 1 - axis) - desk[GAP]
        reach = -(-needed // max(1, across))
        if reach > _shared(desk, k, j, axis) - desk[GAP]:
            begin = desk[REASONS]
            _because_needed(desk, j, k, holders)
            _because_shared(desk, k, j, ZERO)
            _because_shared(desk, k, j, ONE)
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
    _because_shared(desk, k, j, 1 - axis)
    because_most(desk, one, axis, most)
    return keep_distance(desk, other, one, axis, distance, begin)


@compiled
def _tops_suffice(desk: Row) -> bool:
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
            _because_held_only_by(desk, j, holders)
            _because_base(desk, j, desk[BASE + j], NO_BOUND)
        if holders >> j & 1:
            _because_base(desk, j, ZERO, desk[WIDE_BASE + j])
    return refuse(desk, begin)


@compiled
def _loads_bearable(desk: Row) -> bool:
    """Refuse when what can only rest on one unit, and all that rests on that alone, is too heavy for what is below."""
    n = desk[UNITS]
    for i in range(n):
        desk[CARRIED_MG + i] = 0
    counted = 0
    for _ in range(n):
        j = -1
        for i in range(n):
            if desk[HOLDERS + i] and not counted >> i & 1 and (j < 0 or desk[6 * i + 2] > desk[6 * j + 2]):
                j = i
        if j < 0:
            break
        counted |= 1 << j
        load, room, holders = desk[WEIGHT_MG + j] + desk[CARRIED_MG + j], 0, desk[HOLDERS + j]
        for k in range(n):
            if holders >> k & 1:
                if desk[LIMIT_MG + k] < 0:
                    room = -1
                elif room >= 0:
                    room += desk[LIMIT_MG + k]
                if holders == 1 << k:
                    desk[CARRIED_MG + k] += load
                    if room >= 0:
                        load = desk[CARRIED_MG + k]
        if 0 <= room < load:
            return _refuse_load(desk, j)
    return True


@compiled
def _refuse_load(desk: Row, heavy: int) -> bool:
    """Refuse what rests on the holders of ``heavy``: of one holder all that rests on it alone, and on that."""
    n, begin = desk[UNITS], desk[REASONS]
    above = 1 << heavy
    grown = True
    while grown:
        grown = False
        for j in range(n):
            holders = desk[HOLDERS + j]
            alone = holders != 0 and holders & (holders - 1) == 0
            if not above >> j & 1 and alone and (holders & above or holders == desk[HOLDERS + heavy]):
                above |= 1 << j
                grown = True
    for j in range(n):
        if above >> j & 1:
            _because_held_only_by(desk, j, desk[HOLDERS + j])
    return refuse(desk, begin)


@compiled
def open_rest(desk: Row) -> int:
    """Return the key of whether one touches what it may hold, where that is open; -1 when it is settled everywhere."""
    n = desk[UNITS]
    for j in range(n):
        if desk[LEVEL + j] != OFF_FLOOR:
            continue
        for k in range(n):
            key = REST + MOST_UNITS * k + j
            if k == j or desk[LIMIT_MG + k] == 0 or desk[key] != TOUCHES | CLEAR or _barred(desk, k, j) != _CAN:
                continue
            # Where both heights are fixed they touch, since nothing bars it.
            if desk[6 * j + 2] < desk[6 * j + HIGH + 2] or desk[6 * k + 2] < desk[6 * k + HIGH + 2]:
                return key
    return -1
