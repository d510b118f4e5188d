"""What follows from units that come one after the other along an axis (packing kernel; used by ``propagation``).

Windows alone would tell, but late and with more reasons than it takes: that three come one after the other settles
how the first and the last may lie, whatever their sizes; and starts that push each other on in a circle have no room
anywhere.
"""

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.desk import FACT, FACTS, MOST_UNITS, PAIR, REASONS, UNITS, WAYS, WHY
from core.packing.kernel.facts import FIXED, FROM, KEY, TO, because_settled, reason, strike
from core.packing.kernel.problem import Row

__all__ = ["because_of_circle", "chain"]

#: So far back a circle is looked for, in facts, and so many links are followed.
_BACK, _MOST_LINKS = 40, 40


@written_in
def _key(i: int, j: int) -> int:
    return PAIR + MOST_UNITS * i + j if i < j else PAIR + MOST_UNITS * j + i


@written_in
def _comes_before(desk: Row, i: int, j: int, axis: int) -> bool:
    """Return whether it is settled that i comes before j along the axis."""
    return bool(desk[_key(i, j)] == (1 if i < j else 8) << axis)


@written_in
def _can_be(i: int, j: int, axis: int) -> int:
    """Return what two can be when i ends before j starts along the axis: that, or apart along one before it."""
    if axis == 0:
        bits = 1 if i < j else 8
    elif axis == 1:
        bits = 9 | (2 if i < j else 16)
    else:
        bits = 27 | (4 if i < j else 32)
    return bits


@compiled
def chain(desk: Row, key: int) -> bool:
    """When it is settled that one comes before another, strike out what that bars for a third before or after both."""
    bits = desk[key]
    if bits & (bits - 1):
        return True
    one, other, axis = (key - PAIR) // MOST_UNITS, (key - PAIR) % MOST_UNITS, 0
    while bits >> axis & 1 == 0:
        axis += 1
    if axis > 2:
        one, other, axis = other, one, axis - 3
    for third in range(desk[UNITS]):
        if third in (one, other):
            continue
        if _comes_before(desk, other, third, axis) and not _link(desk, one, third, axis, key, _key(other, third)):
            return False
        if _comes_before(desk, third, one, axis) and not _link(desk, third, other, axis, key, _key(third, one)):
            return False
    return True


@compiled
def _link(desk: Row, first: int, last: int, axis: int, key: int, other_key: int) -> bool:
    """Strike out the relations of two that others between them bar."""
    about = _key(first, last)
    gone = desk[about] & ~_can_be(first, last, axis)
    for place in range(6):
        if gone >> place & 1:
            begin = desk[REASONS]
            because_settled(desk, key)
            because_settled(desk, other_key)
            if not strike(desk, about, 1 << place, begin):
                return False
    return True


@compiled
def _pushed_by(desk: Row, fact: int) -> int:
    """Return the fact about another start at the same end that a start keeps its distance from; or -1."""
    row = FACT + 8 * fact
    if desk[row + KEY] >= WAYS or desk[row + FIXED] == 0:
        return -1
    return int(desk[WHY + 2 * (desk[row + TO] - 1)])


@compiled
def because_of_circle(desk: Row) -> bool:
    """Give as reasons the distances by which starts push each other on in a circle; False when no circle is found."""
    for last in range(desk[FACTS] - 1, max(-1, desk[FACTS] - 1 - _BACK), -1):
        first = _pushed_by(desk, last)
        links = 1
        while first >= 0 and desk[FACT + 8 * first + KEY] != desk[FACT + 8 * last + KEY] and links < _MOST_LINKS:
            first = _pushed_by(desk, first)
            links += 1
        if first < 0 or links == _MOST_LINKS:
            continue
        fact = last
        while fact != first:
            row = FACT + 8 * fact
            for at in range(WHY + 2 * desk[row + FROM], WHY + 2 * (desk[row + TO] - 1), 2):
                reason(desk, desk[at], desk[at + 1])
            fact = _pushed_by(desk, fact)
        return True
    return False
