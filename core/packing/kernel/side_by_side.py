"""Whether units lie side by side on the floor: an exact search (packing kernel).

Every layout of rectangles can be pushed to the left and to the front until nothing moves any more, and its rectangles can
be taken in such an order that each goes into a corner of the staircase the earlier ones make, beyond which none of them
reaches (Martello, Pisinger & Vigo 2000, "The three-dimensional bin packing problem"). So each is tried in every corner.
What lies within the staircase is lost for those to come, and so is a corner at its ends that none of them has room in:
where they need more than is left, it is given up. Of two that could come one before the other or the other way round, the
one to the left comes first.
"""

from typing import NamedTuple

import numpy as np

from core.packing.kernel.compiled import ZERO, compiled, written_in
from core.packing.kernel.lending import lent
from core.packing.kernel.problem import Grid, Problem, Row

__all__ = ["FOUND", "NONE", "UNKNOWN", "SideBySide"]

#: What a search came to: a packing; proof that there is none; neither.
FOUND, NONE, UNKNOWN = 1, 0, -1

# Of each kind, from KIND * kind on: how many are left, how far it keeps from the border, its least area, how many ways it
# may lie; then of each way its length and width with the gap, and the number of that way in the problem.
_LEFT, _SIDE, _AREA, _WAYS, _SHAPE, _KIND = 0, 1, 2, 3, 4, 4 + 3 * 6

# The board, from LEVEL * depth on: the corners, two numbers each, from the back on the left to the front on the right; which
# is the first with room, and where they end; the next choice; where those end that lie to the left of the last one placed
# and were there before it; then what is placed here: its kind, its way, where it starts, and where its corner is. After
# the last level, how deep the search is.
_MOST_CORNERS = 64
_FIRST = 2 * _MOST_CORNERS
_END, _CHOICE, _EARLIER, _PLACED, _LEVEL = _FIRST + 1, _FIRST + 2, _FIRST + 3, _FIRST + 4, _FIRST + 9
#: More than any area there is; so many units may add up.
_FAR = 1 << 56


class _Frame(NamedTuple):
    """What the rectangles lie in."""

    length: int
    width: int
    border: int  #: the least any kind keeps from it
    kinds: int
    single: int  #: the first kind of which there is one, or -1: it keeps to the front left quarter, so that mirrors are seen once


class SideBySide:
    """The search in one container, which can be taken up again where it ended."""

    def __init__(self, p: Problem) -> None:
        """Begin with nothing placed. Fewer than 64 units; whether one could stand on another is not asked."""
        self._problem = p
        self._kinds = np.zeros(_KIND * len(p.kind), dtype=np.int64)
        self._board = np.zeros(_LEVEL * (len(p.kind) + 1) + 1, dtype=np.int64)
        self._frame, has_room = _begin(p, self._kinds, self._board)
        self._answer = UNKNOWN if has_room else NONE

    def search(self, most_tries: int, at: Grid, size: Grid) -> tuple[int, int]:
        """Search on; return FOUND, NONE (proven) or UNKNOWN, and the tries used. FOUND writes ``at`` and ``size``."""
        tries = 0
        if self._answer == UNKNOWN:
            self._answer, tries = _search(self._kinds, self._board, self._frame, len(self._problem.kind), most_tries)
        if self._answer == FOUND:
            _read_off(self._problem, self._kinds, self._board, at, size)
        return self._answer, tries


@compiled
def _begin(p: Problem, kinds: Row, board: Row) -> tuple[_Frame, bool]:
    """Write the kinds and the first corner; return the frame, and whether there is room for all by their areas."""
    many = _write_kinds(p, kinds)
    border, single = _FAR, -1
    for kind in range(many - 1, -1, -1):
        begin = _KIND * kind
        border = min(border, kinds[begin + _SIDE])
        if kinds[begin + _LEFT] == 1:
            single = kind
    board[0], board[1], board[_END] = border, border, 1
    frame = _Frame(p.inner[0] + p.gap, p.inner[1] + p.gap, border, many, single)
    return frame, _keep_room(lent(board), ZERO, lent(kinds), frame)


@compiled
def _write_kinds(p: Problem, kinds: Row) -> int:
    """Write what kinds of units there are; return how many. Ways that do not fit or are no better than another are left out."""
    many = 0
    for i in range(len(p.kind)):
        if i == 0 or p.kind[i] != p.kind[i - 1]:
            begin = _KIND * many
            many += 1
            kinds[begin + _SIDE], kinds[begin + _AREA] = p.side[i], _FAR
            for way in range(p.ways[i]):
                if _is_of_use(p, i, way):
                    at = begin + _SHAPE + 3 * kinds[begin + _WAYS]
                    kinds[at], kinds[at + 1], kinds[at + 2] = (
                        p.sizes[i, way, 0] + p.gap,
                        p.sizes[i, way, 1] + p.gap,
                        way,
                    )
                    kinds[begin + _AREA] = min(kinds[begin + _AREA], kinds[at] * kinds[at + 1])
                    kinds[begin + _WAYS] += 1
        kinds[_KIND * (many - 1) + _LEFT] += 1
    return many


@compiled
def _is_of_use(p: Problem, i: int, way: int) -> bool:
    """Return whether a unit fits that way and no other way is as short and as narrow."""
    if not _fits(p, i, way):
        return False
    long, wide = p.sizes[i, way, 0], p.sizes[i, way, 1]
    for other in range(p.ways[i]):
        a, b = p.sizes[i, other, 0], p.sizes[i, other, 1]
        if a <= long and b <= wide and (a < long or b < wide or other < way) and _fits(p, i, other):
            return False
    return True


@compiled
def _fits(p: Problem, i: int, way: int) -> bool:
    for axis in range(2):
        if p.sizes[i, way, axis] + 2 * p.side[i] > p.inner[axis]:
            return False
    return bool(p.sizes[i, way, 2] + p.bottom[i] + p.top[i] <= p.inner[2])


@compiled
def _search(numbers: Row, whole: Row, frame: _Frame, total: int, most_tries: int) -> tuple[int, int]:
    kinds, board = lent(numbers), lent(whole)
    reached = _LEVEL * (total + 1)
    depth, tries = board[reached], 0
    while tries < most_tries:
        if not _next_place(board, depth, kinds, frame):
            if depth == 0:
                return NONE, tries
            depth -= 1
            kinds[_KIND * board[_LEVEL * depth + _PLACED] + _LEFT] += 1
            continue
        tries += 1
        if depth + 1 == total:
            return FOUND, tries
        kind = _KIND * board[_LEVEL * depth + _PLACED]
        kinds[kind + _LEFT] -= 1
        if _go_deeper(board, depth, kinds, frame):
            depth += 1
        else:
            kinds[kind + _LEFT] += 1
    board[reached] = depth
    return UNKNOWN, tries


@compiled
def _next_place(board: Row, depth: int, kinds: Row, frame: _Frame) -> bool:
    """Write what to place at this depth next: each kind, each way, in each corner; False when all have been."""
    here = _LEVEL * depth
    first, end = board[here + _FIRST], board[here + _END]
    while board[here + _CHOICE] < 6 * frame.kinds * (end - first):
        choice = board[here + _CHOICE]
        corner, kind, way = first + choice // (6 * frame.kinds), choice // 6 % frame.kinds, choice % 6
        at = _KIND * kind
        if kinds[at + _LEFT] == 0 or way >= kinds[at + _WAYS]:
            board[here + _CHOICE] += 6 - way
            continue
        board[here + _CHOICE] += 1
        step, side, shape = here + 2 * corner, kinds[at + _SIDE], at + _SHAPE + 3 * way
        x, y = max(board[step], side), max(board[step + 1], side)
        # So far from the border it is in the next corner, or in the one before.
        if (corner + 1 < end and board[step + 2] <= x) or (corner > first and board[step - 1] <= y):
            continue
        x_end, y_end = x + kinds[shape], y + kinds[shape + 1]
        if x_end > frame.length - side or y_end > frame.width - side:
            continue
        if depth and corner < board[here + _EARLIER] and x_end <= board[here - _LEVEL + _PLACED + 4]:
            continue
        if kind == frame.single and (x + x_end > frame.length or y + y_end > frame.width):
            continue
        placed = here + _PLACED
        board[placed], board[placed + 1], board[placed + 2], board[placed + 3] = kind, way, x, y
        board[placed + 4] = board[step]
        return True
    return False


@compiled
def _go_deeper(board: Row, depth: int, kinds: Row, frame: _Frame) -> bool:
    """Write the corners there are with what is placed at this depth; False when the rest cannot have room."""
    here, deeper = _LEVEL * depth, _LEVEL * (depth + 1)
    placed, end = here + _PLACED, board[here + _END]
    shape = _KIND * board[placed] + _SHAPE + 3 * board[placed + 1]
    x_end, y_end = board[placed + 2] + kinds[shape], board[placed + 3] + kinds[shape + 1]
    corner, made = board[here + _FIRST], 0
    while corner < end and board[here + 2 * corner + 1] >= y_end:
        made = _add_corner(board, deeper, made, board[here + 2 * corner], board[here + 2 * corner + 1])
        corner += 1
    board[deeper + _EARLIER] = made
    if made == 0 or board[deeper + 2 * made - 1] > y_end:
        made = _add_corner(board, deeper, made, board[here + 2 * corner], y_end)
    while corner < end and board[here + 2 * corner] <= x_end:
        corner += 1
    made = _add_corner(board, deeper, made, x_end, board[here + 2 * corner - 1])
    while corner < end:
        made = _add_corner(board, deeper, made, board[here + 2 * corner], board[here + 2 * corner + 1])
        corner += 1
    board[deeper + _CHOICE], board[deeper + _FIRST], board[deeper + _END] = 0, 0, made
    return _keep_room(board, deeper, kinds, frame)


@written_in
def _add_corner(board: Row, here: int, made: int, x: int, y: int) -> int:
    board[here + 2 * made], board[here + 2 * made + 1] = x, y
    return made + 1


@compiled
def _keep_room(board: Row, here: int, kinds: Row, frame: _Frame) -> bool:
    """Drop corners at both ends that none of the rest has room in; False when the rest needs more than is left then."""
    shortest, narrowest, area = _FAR, _FAR, 0
    for kind in range(frame.kinds):
        at = _KIND * kind
        if kinds[at + _LEFT]:
            area += kinds[at + _AREA] * kinds[at + _LEFT]
            for way in range(kinds[at + _WAYS]):
                shape = at + _SHAPE + 3 * way
                shortest = min(shortest, kinds[shape] + kinds[at + _SIDE])
                narrowest = min(narrowest, kinds[shape + 1] + kinds[at + _SIDE])
    first, end = board[here + _FIRST], board[here + _END]
    while first < end and board[here + 2 * first + 1] + narrowest > frame.width:
        first += 1
    while end > first and board[here + 2 * end - 2] + shortest > frame.length:
        end -= 1
    board[here + _FIRST], board[here + _END] = first, end
    room, back = 0, frame.width - frame.border
    for corner in range(first, end):
        step = here + 2 * corner
        until = board[step + 2] if corner + 1 < end else frame.length - frame.border
        room += (until - board[step]) * (back - board[step + 1])
    return bool(room >= area)


@compiled
def _read_off(p: Problem, kinds: Row, board: Row, at: Grid, size: Grid) -> None:
    """Write where every unit stands: of each kind one after the other."""
    n = len(p.kind)
    first = np.zeros(n, dtype=np.int64)
    many = 0
    for i in range(n):
        if i == 0 or p.kind[i] != p.kind[i - 1]:
            first[many] = i
            many += 1
    for depth in range(n):
        placed = _LEVEL * depth + _PLACED
        kind, way = board[placed], board[placed + 1]
        i = first[kind]
        first[kind] += 1
        at[i, 0], at[i, 1], at[i, 2] = board[placed + 2], board[placed + 3], p.bottom[i]
        size[i] = p.sizes[i, kinds[_KIND * kind + _SHAPE + 3 * way + 2]]
