"""What follows from the relations chosen so far: tighter windows, fewer ways to stand, fewer relations (packing
kernel).

Relations of a pair are bits: the first before the second along axis 0, 1, 2, then the second before the first. A pair
apart along the length counts as that, else along the width; only a pair apart along neither is one under the other. So
one under the other means that both overlap along length and width. One before the other along the width would mean that
they overlap along the length as well, but to insist on it proves no more and finds less (decision 14). Everything
found is written down with its reasons (``facts``).
"""

from core.packing.kernel.chains import because_of_circle, chain
from core.packing.kernel.compiled import TWO, ZERO, compiled, written_in
from core.packing.kernel.desk import (
    CLEAR,
    END,
    FACT,
    FACTS,
    FLOOR,
    FLOOR_CHANGED,
    FOLLOWED,
    FULL,
    GAP,
    HIGH,
    KIND,
    LEAST,
    LEVEL,
    LIMIT_MG,
    MOST,
    MOST_UNITS,
    MOVED,
    OFF_FLOOR,
    ON_FLOOR,
    PAIR,
    REASONS,
    REST,
    SIZE,
    SUPPORT,
    TOUCHES,
    UNITS,
    WAYS,
)
from core.packing.kernel.facts import (
    KEY,
    because_high,
    because_least,
    because_low,
    because_most,
    because_of_choices,
    because_settled,
    fix,
    is_nearer,
    keep_distance,
    lower_start,
    raise_start,
    refuse,
    strike,
)
from core.packing.kernel.holding import hold
from core.packing.kernel.no_goods import recall
from core.packing.kernel.problem import Row

__all__ = ["follow"]

_MOST_LOOKS = 60


@compiled
def _keep_level(desk: Row, i: int) -> bool:
    """Keep a unit to the floor or off it."""
    key, low, high = LEVEL + i, 6 * i + 2, 6 * i + HIGH + 2
    begin = desk[REASONS]
    if desk[key] == ON_FLOOR:
        if desk[high] > desk[FLOOR]:
            because_settled(desk, key)
            return lower_start(desk, i, TWO, desk[FLOOR], begin)
    elif desk[key] == OFF_FLOOR:
        if desk[low] <= desk[FLOOR]:
            because_settled(desk, key)
            return raise_start(desk, i, TWO, desk[FLOOR] + 1, begin)
    elif desk[low] > desk[FLOOR]:
        because_low(desk, i, TWO, desk[FLOOR] + 1)
        return fix(desk, key, OFF_FLOOR, begin)
    elif desk[high] <= desk[FLOOR]:
        because_high(desk, i, TWO, desk[FLOOR])
        return fix(desk, key, ON_FLOOR, begin)
    return True


@compiled
def _fit_in(desk: Row, i: int) -> bool:
    """Keep a unit within its walls, and strike out the ways it has no room for."""
    for axis in range(3):
        end, least = desk[END + 3 * i + axis], desk[LEAST + 3 * i + axis]
        if desk[6 * i + HIGH + axis] > end - least:
            begin = desk[REASONS]
            because_least(desk, i, axis, least)
            if not lower_start(desk, i, axis, end - least, begin):
                return False
        if desk[6 * i + axis] + desk[MOST + 3 * i + axis] > end:
            for way in range(6):
                size = desk[SIZE + 18 * i + 3 * way + axis]
                if desk[WAYS + i] >> way & 1 and desk[6 * i + axis] + size > end:
                    begin = desk[REASONS]
                    because_low(desk, i, axis, end - size + 1)
                    if not strike(desk, WAYS + i, 1 << way, begin):
                        return False
    return True


@written_in
def _possible(desk: Row, i: int, j: int) -> int:
    """Return the relations there is room for, as bits: one before the other, overlapping along the axes before it."""
    bits = 0
    for axis in range(3):
        low_i, low_j = desk[6 * i + axis], desk[6 * j + axis]
        high_i, high_j = desk[6 * i + HIGH + axis], desk[6 * j + HIGH + axis]
        if low_i + desk[LEAST + 3 * i + axis] <= high_j:
            bits |= 1 << axis
        if low_j + desk[LEAST + 3 * j + axis] <= high_i:
            bits |= 8 << axis
        if high_i + desk[MOST + 3 * i + axis] <= low_j or high_j + desk[MOST + 3 * j + axis] <= low_i:
            break
    return bits


@compiled
def _strike_before(desk: Row, i: int, j: int, key: int, bit: int, axis: int) -> bool:
    """Strike out that i is before j along the axis, which it may not be."""
    begin = desk[REASONS]
    latest, least = desk[6 * j + HIGH + axis], desk[LEAST + 3 * i + axis]
    if desk[6 * i + axis] + least > latest:
        because_least(desk, i, axis, least)
        because_low(desk, i, axis, latest - least + 1)
        because_high(desk, j, axis, latest)
        return strike(desk, key, bit, begin)
    for across in range(axis):
        for turn in range(2):
            one, other = (i, j) if turn == 0 else (j, i)
            # One certainly ends before the other starts.
            ends = desk[6 * one + HIGH + across] + desk[MOST + 3 * one + across]
            if ends <= desk[6 * other + across]:
                because_most(desk, one, across, desk[MOST + 3 * one + across])
                because_high(desk, one, across, desk[6 * one + HIGH + across])
                because_low(desk, other, across, ends)
                return strike(desk, key, bit, begin)
    return True


@compiled
def _strike_all(desk: Row, i: int, j: int, key: int, gone: int) -> bool:
    """Strike out the relations of two for which there is no room, down to the last."""
    for place in range(6):
        if gone >> place & 1 and desk[key] & (desk[key] - 1):
            first, then, axis = (i, j, place) if place < 3 else (j, i, place - 3)
            if not _strike_before(desk, first, then, key, 1 << place, axis):
                return False
    return True


@compiled
def _keep_before(desk: Row, first: int, then: int, key: int, axis: int) -> bool:
    """Tighten what follows when it is settled that one comes before the other along the axis."""
    least = desk[LEAST + 3 * first + axis]
    if is_nearer(desk, first, then, axis, least):
        begin = desk[REASONS]
        because_settled(desk, key)
        because_least(desk, first, axis, least)
        if not keep_distance(desk, first, then, axis, least, begin):
            return False
    latest = desk[6 * then + HIGH + axis]
    if desk[6 * first + axis] + desk[MOST + 3 * first + axis] > latest:
        for way in range(6):
            size = desk[SIZE + 18 * first + 3 * way + axis]
            if desk[WAYS + first] >> way & 1 and desk[6 * first + axis] + size > latest:
                begin = desk[REASONS]
                because_settled(desk, key)
                because_low(desk, first, axis, latest - size + 1)
                because_high(desk, then, axis, latest)
                if not strike(desk, WAYS + first, 1 << way, begin):
                    return False
    for across in range(2 if axis == 2 else 0):
        if not (_overlap(desk, first, then, key, across) and _overlap(desk, then, first, key, across)):
            return False
    return axis < 2 or desk[SUPPORT] == 0 or _keep_rest(desk, first, then, key)


@compiled
def _keep_rest(desk: Row, below: int, above: int, key: int) -> bool:
    """Tighten what follows for one under another when they touch, and when they do not or must not."""
    rest = REST + MOST_UNITS * below + above
    begin = desk[REASONS]
    if desk[rest] == TOUCHES:
        most = desk[MOST + 3 * below + 2]
        if not is_nearer(desk, above, below, TWO, -most):
            return True
        because_settled(desk, rest)
        because_most(desk, below, TWO, most)
        return keep_distance(desk, above, below, TWO, -most, begin)
    # With no gap between them one under another that touches it carries it.
    bare = desk[LIMIT_MG + below] == 0 and desk[GAP] == 0 and desk[LEVEL + above] == OFF_FLOOR
    least = desk[LEAST + 3 * below + 2]
    if (desk[rest] != CLEAR and not bare) or not is_nearer(desk, below, above, TWO, least + 1):
        return True
    because_settled(desk, key)
    because_settled(desk, LEVEL + above if bare else rest)
    because_least(desk, below, TWO, least)
    return keep_distance(desk, below, above, TWO, least + 1, begin)


@compiled
def _overlap(desk: Row, one: int, other: int, key: int, axis: int) -> bool:
    """Tighten: ``other`` ends after ``one`` starts."""
    most = desk[MOST + 3 * other + axis]
    if not is_nearer(desk, one, other, axis, 1 - most):
        return True
    begin = desk[REASONS]
    because_settled(desk, key)
    because_most(desk, other, axis, most)
    return keep_distance(desk, one, other, axis, 1 - most, begin)


@compiled
def _keep_apart(desk: Row, moved: int) -> bool:
    """Strike out relations that would need more room than there is, and tighten where one is left."""
    n = desk[UNITS]
    for i in range(n):
        for j in range(i + 1, n):
            if not (moved >> i | moved >> j) & 1:
                continue
            key = PAIR + MOST_UNITS * i + j
            mask = desk[key]
            if mask & (mask - 1):
                gone = mask & ~_possible(desk, i, j)
                if gone and not _strike_all(desk, i, j, key, gone):
                    return False
                mask = desk[key]
            if mask & (mask - 1):
                continue
            if mask < 8:
                if not _keep_before(desk, i, j, key, mask >> 1):
                    return False
            elif not _keep_before(desk, j, i, key, mask >> 4):
                return False
    return True


@compiled
def _keep_order(desk: Row, moved: int) -> bool:
    """Of equal units the first comes first: on the floor before off it, and on one level in order along the length.

    Only on one level: one on the floor and one off it lie as they like.
    """
    n, leveled = desk[UNITS], desk[SUPPORT] > 0
    for i in range(n):
        for j in range(i + 1, n):
            if desk[KIND + i] != desk[KIND + j]:
                break
            if not (moved >> i | moved >> j) & 1:
                continue
            begin = desk[REASONS]
            one, other = desk[LEVEL + i], desk[LEVEL + j]
            if leveled and other == ON_FLOOR and one != ON_FLOOR:
                because_settled(desk, LEVEL + j)
                if not fix(desk, LEVEL + i, ON_FLOOR, begin):
                    return False
            elif leveled and one == OFF_FLOOR and other != OFF_FLOOR:
                because_settled(desk, LEVEL + i)
                if not fix(desk, LEVEL + j, OFF_FLOOR, begin):
                    return False
            elif (not leveled or (one == other and one != ON_FLOOR | OFF_FLOOR)) and not _in_order(desk, i, j):
                return False
    return True


@compiled
def _in_order(desk: Row, i: int, j: int) -> bool:
    key = PAIR + MOST_UNITS * i + j
    if desk[key] & 8:
        begin = desk[REASONS]
        _because_level(desk, i, j)
        if not strike(desk, key, 8, begin):
            return False
    if not is_nearer(desk, i, j, ZERO, ZERO):
        return True
    begin = desk[REASONS]
    _because_level(desk, i, j)
    return keep_distance(desk, i, j, ZERO, ZERO, begin)


@compiled
def _because_level(desk: Row, i: int, j: int) -> None:
    if desk[SUPPORT] > 0:
        because_settled(desk, LEVEL + i)
        because_settled(desk, LEVEL + j)


@written_in
def _about(key: int) -> int:
    """Return the units a value is about, as bits."""
    if key < WAYS:
        bits = 1 << key // 6
    elif key < PAIR:
        bits = 1 << (key - WAYS) % MOST_UNITS
    else:
        bits = 1 << (key - PAIR) // MOST_UNITS % MOST_UNITS | 1 << (key - PAIR) % MOST_UNITS
    return bits


@compiled
def _recall_all(desk: Row) -> int:
    """Take up the facts not yet followed up; 0: on a contradiction, 1: only starts have moved, 2: more has changed."""
    more = 1
    while desk[FOLLOWED] < desk[FACTS]:
        key = desk[FACT + 8 * desk[FOLLOWED] + KEY]
        desk[FOLLOWED] += 1
        desk[MOVED] |= _about(key)
        if WAYS <= key < PAIR:
            desk[FLOOR_CHANGED] = 1
        before = desk[FACTS]
        if not recall(desk, key) or (PAIR <= key < REST and not chain(desk, key)):
            return 0
        if key >= WAYS or desk[FACTS] > before:
            more = 2
    return more


@compiled
def follow(desk: Row) -> bool:
    """Write down all that follows from the facts from FOLLOWED on; False on a contradiction (its reasons from CAUSE
    on).

    Units marked as MOVED are looked at besides.
    """
    n = desk[UNITS]
    rounds, looks = 0, 0
    while True:
        more = _recall_all(desk)
        if more == 0 or desk[FULL]:
            return False
        if more == 2:
            rounds = 0
        if desk[MOVED]:
            # Starts that still rise after as many rounds as there are units go round in a circle: no room (Bellman). A
            # possibility struck out begins the count again.
            rounds += 1
            if rounds > n + 2:
                begin = desk[REASONS]
                if not because_of_circle(desk):
                    because_of_choices(desk)
                return refuse(desk, begin)
            now, desk[MOVED] = desk[MOVED], 0
            for i in range(n):
                if now >> i & 1 and not ((desk[SUPPORT] == 0 or _keep_level(desk, i)) and _fit_in(desk, i)):
                    return False
            if not (_keep_apart(desk, now) and _keep_order(desk, now)):
                return False
            continue
        # What holds whom may creep on by a micrometre a time: after so many looks it is left, which proves less.
        if desk[SUPPORT] > 0 and looks < _MOST_LOOKS:
            looks += 1
            if not hold(desk):
                return False
            if desk[FOLLOWED] < desk[FACTS]:
                rounds = 0
                continue
        return True
