"""Forgetting what was learned and is seldom of use, so that a long search does not get slower and slower (packing
kernel).

Each set that is kept is looked at again and again. When many have come together, those stay that are short, that
have led to a conclusion since it was last cleared up, or that are new; the others are dropped (Eén & Sörensson
2003). They follow from what
is known, so nothing is lost but the way. Done between two runs, when nothing is chosen.
"""

from core.packing.kernel.compiled import compiled
from core.packing.kernel.desk import (
    CLEARED,
    FIRST_WATCH,
    KEYS,
    PART,
    PARTS,
    SET_BEGIN,
    SETS,
    SETS_TO_CLEAR,
    USED,
    write,
)
from core.packing.kernel.learned import is_false, is_true, watch_part
from core.packing.kernel.problem import Row

__all__ = ["clear_up"]

#: So many sets more than are kept come together before it is cleared up again; each time a little more.
_TOGETHER, _MORE = 600, 150
#: Sets of so few parts stay, and so many of the newest, in percent.
_SHORT, _NEWEST_PERCENT = 4, 10


@compiled
def clear_up(desk: Row) -> None:
    """Drop what is seldom of use, when there is enough of it. Nothing may be chosen, and all must be followed up."""
    if desk[SETS] < desk[SETS_TO_CLEAR]:
        return
    write(desk, FIRST_WATCH, FIRST_WATCH + KEYS, -1)
    count, newest = desk[SETS], desk[SETS] * (100 - _NEWEST_PERCENT) // 100
    desk[SETS], desk[PARTS] = 0, 0
    begin = desk[SET_BEGIN]
    for which in range(count):
        end = desk[SET_BEGIN + which + 1]
        used = desk[USED + which] == desk[CLEARED]
        if which >= newest or used or end - begin <= _SHORT:
            _move(desk, begin, end, desk[USED + which])
        begin = end
    desk[CLEARED] += 1
    desk[SETS_TO_CLEAR] = desk[SETS] + _TOGETHER + _MORE * desk[CLEARED]


@compiled
def _move(desk: Row, begin: int, end: int, used: int) -> None:
    """Move a set down to where the next one goes, without what is true whatever is chosen; drop it when it never can
    be.
    """
    which, first = desk[SETS], desk[PARTS]
    to = first
    for part in range(begin, end):
        if is_false(desk, PART + 3 * part):
            return
        if not is_true(desk, PART + 3 * part):
            for column in range(3):
                desk[PART + 3 * to + column] = desk[PART + 3 * part + column]
            to += 1
    # With one part left it has been concluded already.
    if to - first < 2:
        return
    desk[SETS], desk[PARTS] = which + 1, to
    desk[SET_BEGIN + which + 1], desk[USED + which] = to, used
    watch_part(desk, 2 * which, first)
    watch_part(desk, 2 * which + 1, first + 1)
