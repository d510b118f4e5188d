"""What becomes known at one branch of the search, and why (packing kernel; used by ``relations``).

A fact is a change of one value on the desk: a start raised or lowered, a possibility struck out, or one fixed.
Facts are kept in the order they came to be known, each with the earlier facts it follows from, so that when
something has no room it can be told which choices that came from, and the last ones can be taken back.

A reason names a fact and how much of it was needed: of "starts at 80 or more" perhaps only "at 60 or more". Reasons are
written first, ``because_...``; the fact then takes those written since ``begin``.
"""

from core.packing.kernel.compiled import ZERO, compiled, written_in
from core.packing.kernel.desk import (
    BEGIN,
    CAUSE,
    DEPTH,
    FACT,
    FACTS,
    FULL,
    HIGH,
    LATEST,
    LEVEL,
    MOST_DEPTH,
    MOST_FACTS,
    MOST_REASONS,
    REASONS,
    SIZE,
    WAYS,
    WHY,
    measure,
)
from core.packing.kernel.problem import Row

__all__ = [
    "FIXED", "FROM", "KEY", "KNOWN_AT", "NEW", "OLD", "PREVIOUS", "TO", "because_absent", "because_high",
    "because_least", "because_low", "because_most", "because_of_choices", "because_settled", "choose", "fix",
    "is_nearer", "keep_distance", "lower_start", "raise_start", "reason", "refuse", "strike", "take_back",
]  # fmt: skip

#: Columns of a fact: what it is about, the value it gives and took away, the fact before it of the same key, whether it
#: fixes a possibility (of a start: whether it keeps a distance from the one that is its last reason), its reasons, and
#: the depth it came to be known at.
KEY, NEW, OLD, PREVIOUS, FIXED, FROM, TO, KNOWN_AT = 0, 1, 2, 3, 4, 5, 6, 7


@compiled
def reason(desk: Row, fact: int, needed: int) -> None:
    """Write down one reason of what is about to be known. What was known before any choice needs none.

    When there is no room for more, FULL is set: nothing may then be concluded from what is known.
    """
    if fact < 0 or desk[FACT + 8 * fact + KNOWN_AT] == 0:
        return
    at = desk[REASONS]
    if at == MOST_REASONS:
        desk[FULL] = 1
        return
    desk[WHY + 2 * at], desk[WHY + 2 * at + 1] = fact, needed
    desk[REASONS] = at + 1


@compiled
def because_low(desk: Row, i: int, axis: int, needed: int) -> None:
    """Give as reason that a unit starts at ``needed`` or more: the first fact that says as much."""
    fact = desk[LATEST + 6 * i + axis]
    while fact >= 0 and desk[FACT + 8 * fact + OLD] >= needed:
        fact = desk[FACT + 8 * fact + PREVIOUS]
    reason(desk, fact, needed)


@compiled
def because_high(desk: Row, i: int, axis: int, needed: int) -> None:
    """Give as reason that a unit starts at ``needed`` or less."""
    fact = desk[LATEST + 6 * i + HIGH + axis]
    while fact >= 0 and desk[FACT + 8 * fact + OLD] <= needed:
        fact = desk[FACT + 8 * fact + PREVIOUS]
    reason(desk, fact, needed)


@compiled
def because_absent(desk: Row, key: int, bit: int) -> None:
    """Give as reason that a possibility is struck out."""
    fact = desk[LATEST + key]
    while fact >= 0 and not desk[FACT + 8 * fact + OLD] & bit:
        fact = desk[FACT + 8 * fact + PREVIOUS]
    reason(desk, fact, ZERO)


@compiled
def because_settled(desk: Row, key: int) -> None:
    """Give as reason that only one possibility is left."""
    reason(desk, desk[LATEST + key], ZERO)


@compiled
def because_least(desk: Row, i: int, axis: int, needed: int) -> None:
    """Give as reason that no way is left in which the unit is shorter than ``needed``."""
    for way in range(6):
        size = desk[SIZE + 18 * i + 3 * way + axis]
        if 0 < size < needed:
            because_absent(desk, WAYS + i, 1 << way)


@compiled
def because_most(desk: Row, i: int, axis: int, needed: int) -> None:
    """Give as reason that no way is left in which the unit is longer than ``needed``."""
    for way in range(6):
        if desk[SIZE + 18 * i + 3 * way + axis] > needed:
            because_absent(desk, WAYS + i, 1 << way)


@compiled
def because_of_choices(desk: Row) -> None:
    """Give as reason everything that was chosen."""
    for depth in range(1, desk[DEPTH] + 1):
        fact = desk[BEGIN + depth]
        reason(desk, fact, desk[FACT + 8 * fact + NEW])


@compiled
def _know(desk: Row, key: int, new: int, fixed: bool, begin: int) -> None:
    """Write down a fact, whether it fixes a possibility; its reasons are those written since ``begin``."""
    fact = desk[FACTS]
    if fact == MOST_FACTS:
        desk[FULL] = 1
        return
    row = FACT + 8 * fact
    desk[row + KEY], desk[row + NEW], desk[row + OLD] = key, new, desk[key]
    desk[row + PREVIOUS], desk[row + FIXED] = desk[LATEST + key], fixed
    desk[row + FROM], desk[row + TO], desk[row + KNOWN_AT] = begin, desk[REASONS], desk[DEPTH]
    desk[key], desk[LATEST + key] = new, fact
    desk[FACTS] = fact + 1
    if WAYS <= key < LEVEL:
        measure(desk, key - WAYS)


@compiled
def refuse(desk: Row, begin: int) -> bool:
    """Say that what is known contradicts itself, for the reasons written since ``begin``; return False."""
    desk[CAUSE] = begin
    return False


@compiled
def raise_start(desk: Row, i: int, axis: int, start: int, begin: int) -> bool:
    """Raise a lowest start, for the reasons since ``begin``; False when it has no room."""
    if start > desk[6 * i + HIGH + axis]:
        because_high(desk, i, axis, start - 1)
        return refuse(desk, begin)
    _know(desk, 6 * i + axis, start, False, begin)
    return True


@compiled
def lower_start(desk: Row, i: int, axis: int, start: int, begin: int) -> bool:
    """Lower a highest start, for the reasons since ``begin``; False when it has no room."""
    if start < desk[6 * i + axis]:
        because_low(desk, i, axis, start + 1)
        return refuse(desk, begin)
    _know(desk, 6 * i + HIGH + axis, start, False, begin)
    return True


@written_in
def is_nearer(desk: Row, one: int, other: int, axis: int, distance: int) -> bool:
    """Return whether the windows still let ``other`` start less than a distance after ``one``."""
    low, high = 6 * one + axis, 6 * other + axis
    return bool(desk[low] + distance > desk[high] or desk[high + HIGH] - distance < desk[low + HIGH])


@compiled
def keep_distance(desk: Row, one: int, other: int, axis: int, distance: int, begin: int) -> bool:
    """Let ``other`` start at least a distance after ``one`` (at most before it, when negative); False when it has no
    room.

    The reasons for the distance are those since ``begin``; that of each window comes to them here.
    """
    end = desk[REASONS]
    low, high = desk[6 * one + axis], desk[6 * other + HIGH + axis]
    if low + distance > desk[6 * other + axis]:
        because_low(desk, one, axis, low)
        linked = desk[REASONS] > end
        if not raise_start(desk, other, axis, low + distance, begin):
            return False
        desk[FACT + 8 * (desk[FACTS] - 1) + FIXED] = linked
    if high - distance < desk[6 * one + HIGH + axis]:
        again = desk[REASONS]
        for at in range(WHY + 2 * begin, WHY + 2 * end, 2):
            reason(desk, desk[at], desk[at + 1])
        so_far = desk[REASONS]
        because_high(desk, other, axis, high)
        linked = desk[REASONS] > so_far
        if not lower_start(desk, one, axis, high - distance, again):
            return False
        desk[FACT + 8 * (desk[FACTS] - 1) + FIXED] = linked
    return True


@compiled
def strike(desk: Row, key: int, bit: int, begin: int) -> bool:
    """Strike out a possibility that is there, for the reasons since ``begin``; False when it was the last."""
    left = desk[key] & ~bit
    if left == 0:
        because_settled(desk, key)
        return refuse(desk, begin)
    _know(desk, key, left, False, begin)
    if left & (left - 1) == 0:
        begin = desk[REASONS]
        for place in range(6):
            if left != 1 << place:
                because_absent(desk, key, 1 << place)
        _know(desk, key, left, True, begin)
    return True


@compiled
def fix(desk: Row, key: int, bit: int, begin: int) -> bool:
    """Fix one possibility, for the reasons since ``begin``; False when it is struck out."""
    if not desk[key] & bit:
        because_absent(desk, key, bit)
        return refuse(desk, begin)
    if desk[key] != bit:
        _know(desk, key, bit, True, begin)
    return True


@compiled
def choose(desk: Row, key: int, new: int) -> None:
    """Make a choice: one possibility, or the lower half of a window. It is a fact without reasons, one deeper."""
    if desk[DEPTH] + 1 == MOST_DEPTH:
        desk[FULL] = 1
        return
    desk[DEPTH] += 1
    desk[BEGIN + desk[DEPTH]] = desk[FACTS]
    _know(desk, key, new, key >= WAYS, desk[REASONS])


@compiled
def take_back(desk: Row, depth: int) -> None:
    """Forget every choice deeper than ``depth`` and what followed from it."""
    if desk[DEPTH] <= depth:
        return
    first = desk[BEGIN + depth + 1]
    for fact in range(desk[FACTS] - 1, first - 1, -1):
        row = FACT + 8 * fact
        key = desk[row + KEY]
        desk[key], desk[LATEST + key] = desk[row + OLD], desk[row + PREVIOUS]
        if WAYS <= key < LEVEL:
            measure(desk, key - WAYS)
    desk[REASONS] = desk[FACT + 8 * first + FROM]
    desk[FACTS] = first
    desk[DEPTH] = depth
