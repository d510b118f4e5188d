"""The exact finish: which of each two units stands left of, behind or under the other (packing kernel).

Two boxes that do not overlap are apart along at least one axis, one before the other: six relations. The search chooses
how each unit stands, whether on the floor, and one relation for each pair, and writes down what follows
(``propagation``). What has no room is traced back to the few facts that bring it about; such a set is kept, never met
again (``no_goods``). When all is chosen, the lowest starts (and the highest) are packings without overlap; one counts
when supports and loads hold (``settling``). When nothing is left to choose from, and no branch was left in doubt, it is
proven that nothing can be found.

Mirrors and equal units are seen once: of equal units those on the floor come first, on one level they are ordered by
their start along the length; one unit without an equal keeps to half of the length, the first to half of the width.
"""

import numpy as np

from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.compiled import ZERO, compiled
from core.packing.kernel.desk import (
    BLAME,
    DOUBTS,
    END,
    FACTS,
    FOLLOWED,
    FULL,
    HABIT,
    HIGH,
    KEYS,
    LEAST,
    LENGTH,
    LEVEL,
    LIMIT_MG,
    MOST_UNITS,
    MOVED,
    OFF_FLOOR,
    PAIR,
    REASONS,
    REST,
    RUN,
    RUN_LEFT,
    SUPPORT,
    TOUCHES,
    UNITS,
    WAYS,
    lay_out,
    write,
)
from core.packing.kernel.facts import because_of_choices, choose, refuse, take_back
from core.packing.kernel.ground import Ground, floor_suffices, ground_of
from core.packing.kernel.holding import open_rest
from core.packing.kernel.lending import lent
from core.packing.kernel.no_goods import AT_ONCE, NO_WAY_OUT, learn
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.propagation import follow
from core.packing.kernel.settling import settle, widest

__all__ = ["FOUND", "MOST_UNITS", "NONE", "UNKNOWN", "Relations"]

#: What a search answers: a packing, none for certain, or neither so far.
FOUND, NONE, UNKNOWN = 1, 0, -1

#: Contradictions of the first run; the next ones are so many times as long (Luby, Sinclair & Zuckerman 1993).
_FIRST_RUN = 60
#: In each run after the first so many units are chosen about early: what has to do with them weighs as much more as
#: so many contradictions add.
_STANDING_OUT, _WEIGHT = 2, 4
#: The choice between floor and tops counts as one of so many possibilities.
_FLOOR_COUNTS_AS = 0.6
#: To try the packings at the ends of the windows takes about as long as so many nodes, and so many places tried in
#: shifting them as one more.
_SETTLING, _LOOKS_PER_NODE = 3, 64

#: Desks of ended searches, for the next ones.
_SPARE: list[Row] = []
_MOST_SPARE = 8

_BITS = np.array([0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4, 1, 2, 2, 3, 2, 3, 3, 4, 2, 3, 3, 4, 3, 4, 4, 5,
                  1, 2, 2, 3, 2, 3, 3, 4, 2, 3, 3, 4, 3, 4, 4, 5, 2, 3, 3, 4, 3, 4, 4, 5, 3, 4, 4, 5, 4, 5, 5, 6],
                 dtype=np.int64)  # fmt: skip


@compiled
def _most_urgent(desk: Row) -> int:
    """Return the key with the fewest possibilities for the weight it has; -1 when nothing is left to choose."""
    n = desk[UNITS]
    best, urgent = 1e300, -1
    for i in range(n):
        bits = _BITS[desk[WAYS + i] & 63]
        if bits > 1:
            score = (bits + i / (n * n)) / (desk[BLAME + KEYS] + desk[BLAME + WAYS + i])
            if score < best:
                best, urgent = score, WAYS + i
        if desk[SUPPORT] > 0 and desk[LEVEL + i] == 3:
            score = (_FLOOR_COUNTS_AS + i / (n * n)) / (desk[BLAME + KEYS] + desk[BLAME + LEVEL + i])
            if score < best:
                best, urgent = score, LEVEL + i
        for j in range(i + 1, n):
            key = PAIR + MOST_UNITS * i + j
            bits = _BITS[desk[key] & 63]
            if bits > 1:
                score = (bits + (j * n // 2 + i) / (n * n)) / (desk[BLAME + KEYS] + desk[BLAME + key])
                if score < best:
                    best, urgent = score, key
    return urgent


@compiled
def _keep_habits(desk: Row) -> None:
    """Remember which possibility each key has: it is tried first next time (Pipatsrisawat & Darwiche 2007)."""
    for key in range(WAYS, REST):
        if desk[key] and desk[key] & (desk[key] - 1) == 0:
            desk[HABIT + key] = desk[key]


@compiled
def _pick(desk: Row, key: int) -> int:
    """Return the possibility to try: the one it had last, or the lowest.

    In every second run what may carry nothing is first tried off the floor, where it is in most packings.
    """
    left = desk[key]
    habit = desk[HABIT + key] & left
    if habit == 0 and LEVEL <= key < PAIR and desk[RUN] % 2 == 1 and desk[LIMIT_MG + key - LEVEL] == 0:
        return OFF_FLOOR
    return int(habit if habit else left & -left)


@compiled
def _luby(turn: int) -> int:
    """Return the length of a run in the order 1 1 2 1 1 2 4 ..."""
    while True:
        power = 1
        while 2 * power - 1 < turn:
            power *= 2
        if 2 * power - 1 == turn:
            return power
        turn -= power - 1


@compiled
def _see_mirrors_once(p: Problem, desk: Row) -> None:
    """Keep one unit to the first half of each axis whose mirror image is as good.

    Along the length equal units are in order, which a mirror turns round: there it is one that has no equal.
    """
    n = len(p.kind)
    _first_half(desk, 0, 1)
    even = np.max(p.bottom) == np.min(p.bottom) == np.max(p.top) == np.min(p.top)
    if p.support == 0 and np.max(p.limit) < 0 and even:
        _first_half(desk, 0, 2)
    for i in range(n):
        if (i == 0 or p.kind[i - 1] != p.kind[i]) and (i == n - 1 or p.kind[i + 1] != p.kind[i]):
            _first_half(desk, i, 0)
            break


@compiled
def _first_half(desk: Row, i: int, axis: int) -> None:
    """Keep a unit's middle to the first half of its window."""
    highest = (desk[6 * i + axis] + desk[END + 3 * i + axis] - desk[LEAST + 3 * i + axis] + 1) // 2
    desk[6 * i + HIGH + axis] = min(desk[6 * i + HIGH + axis], highest)


@compiled
def _try_ends(p: Problem, desk: Row, at: Grid, size: Grid, looks: Row) -> int:
    """All is chosen: try the packings at the ends of the windows. FOUND; UNKNOWN: a finer choice was made; or NONE."""
    if settle(p, desk, at, size, looks):
        return FOUND
    rest = open_rest(desk)
    if rest >= 0:
        choose(desk, rest, TOUCHES)
        return UNKNOWN
    low = widest(p, desk, at, size)
    if low >= 0:
        choose(desk, low + HIGH, (desk[low] + desk[low + HIGH]) // 2)
        return UNKNOWN
    desk[DOUBTS] += 1
    begin = desk[REASONS]
    because_of_choices(desk)
    refuse(desk, begin)
    return NONE


class Relations:
    """The search in one container, which can be taken up again with what it has learned so far."""

    def __init__(self, p: Problem) -> None:
        """Begin with nothing chosen. The rows of ``p`` should come largest first, at most MOST_UNITS.

        ``desk`` is all that is known and learned (``kernel.desk``).
        """
        self._problem, self._ground = p, ground_of(p)
        # Fresh memory is handed out page by page, which takes longer than many a search.
        self.desk: Row = _SPARE.pop() if _SPARE else np.empty(LENGTH, dtype=np.int64)
        _begin(p, self.desk)

    def __del__(self) -> None:
        """Leave the desk for the next search."""
        if len(_SPARE) < _MOST_SPARE:
            _SPARE.append(self.desk)

    def search(self, most_nodes: int, at: Grid, size: Grid) -> tuple[int, int]:
        """Search on; return FOUND, NONE (proven) or UNKNOWN, and the nodes used. FOUND writes ``at`` and ``size``."""
        return _search(self._problem, most_nodes, self.desk, self._ground, at, size)


@compiled
def _begin(p: Problem, whole: Row) -> None:
    desk = lent(whole)
    lay_out(p, desk)
    _see_mirrors_once(p, desk)


@compiled
def _search(p: Problem, most_nodes: int, whole: Row, ground: Ground, at: Grid, size: Grid) -> tuple[int, int]:
    desk = lent(whole)
    looks = np.zeros(1, dtype=np.int64)
    desk[MOVED] = (1 << desk[UNITS]) - 1 if desk[RUN] == 0 else 0
    nodes = 0
    while True:
        fine = follow(desk)
        if fine and p.support > 0:
            fine = floor_suffices(desk, ground)
        if desk[FULL]:
            return UNKNOWN, nodes
        if fine:
            if nodes >= most_nodes:
                return UNKNOWN, nodes
            if desk[RUN_LEFT] <= 0:
                _begin_anew(desk)
            key = _most_urgent(desk)
            if key >= 0:
                choose(desk, key, _pick(desk, key))
            else:
                looks[0] = 0
                answer = _try_ends(p, desk, at, size, looks)
                nodes += _SETTLING + looks[0] // _LOOKS_PER_NODE
                if answer == FOUND:
                    return FOUND, nodes
                fine = answer == UNKNOWN
        nodes += 1
        if not fine:
            desk[RUN_LEFT] -= 1
            _keep_habits(desk)
            outcome = AT_ONCE
            while outcome == AT_ONCE:
                outcome = learn(desk)
            # What had no room to be written down is no ground for a no.
            if outcome == NO_WAY_OUT:
                return (UNKNOWN if desk[DOUBTS] or desk[FULL] else NONE), nodes
        desk[MOVED] = 0


@compiled
def _begin_anew(desk: Row) -> None:
    """Take back all choices and begin the next run.

    What was learned stays; the habits go, and a few units by chance are chosen about early. Runs that go on where
    the last one was find a packing soon or hardly ever (decision 14).
    """
    desk[RUN] += 1
    desk[RUN_LEFT] = _FIRST_RUN * _luby(desk[RUN])
    take_back(desk, 0)
    write(desk, HABIT, HABIT + KEYS, ZERO)
    seed = shuffled(FIRST_SEED + desk[RUN])
    for _ in range(_STANDING_OUT):
        seed = shuffled(seed)
        _weigh_more(desk, (seed >> 8) % desk[UNITS])
    desk[FOLLOWED] = desk[FACTS]


@compiled
def _weigh_more(desk: Row, i: int) -> None:
    """Let what has to do with a unit be chosen early."""
    weight = _WEIGHT * desk[BLAME + KEYS]
    desk[BLAME + WAYS + i] += weight
    desk[BLAME + LEVEL + i] += weight
    for j in range(desk[UNITS]):
        if j != i:
            desk[BLAME + PAIR + MOST_UNITS * min(i, j) + max(i, j)] += weight
