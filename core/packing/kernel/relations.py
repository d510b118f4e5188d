"""The exact finish: which of each two units stands left of, behind or under the other (packing kernel).

Two boxes that do not overlap are apart along at least one axis, one before the other: six relations. So that every
packing is met once, a pair apart along the length counts as that, else along the width, and only a pair apart along
neither counts as one under the other. The search chooses how each unit stands and one relation for each pair, the
choice with the fewest possibilities first, and keeps for every unit the lowest start and the highest end that the
choices so far allow. A relation that would need more room than that is struck out; a pair with none left ends the
branch, and so does a unit off the floor that no tops below could hold even if all lay as well as their windows
allow. When all is chosen, the lowest starts (and the highest) are packings without overlap; one counts when supports
and loads hold. When every branch has ended and none was left in doubt, it is proven that nothing can be found.

Where units need support, which of them stand on the floor is a choice like the others and mostly comes early: what is
left then is nearly a packing of rectangles, with bounds of its own (``ground``).

Mirrors and equal units are seen once: of equal units those on the floor come first, on one level they are ordered by
their start along the length; one unit without an equal keeps to half of the length, the first to half of the width.
"""

from typing import NamedTuple

import numpy as np

from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.ground import Table, ground_tables, overfull
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.propagation import State, extents, propagate
from core.packing.kernel.settling import FOUND, NONE, UNKNOWN, halve, settle, widest

__all__ = ["FOUND", "MOST_UNITS", "NONE", "UNKNOWN", "relate"]

#: Nodes of the first run; each next one is two and a half times as long.
_FIRST_RUN = 60
MOST_UNITS = 16
#: The choice between floor and tops counts as one of so many possibilities.
_FLOOR_COUNTS_AS = 1.2
#: Where support is in doubt though all relations are settled, windows are halved so many times.
_MOST_HALVED = 40
#: To try the packings at the ends of the windows takes about as long as so many nodes.
_SETTLING = 10

#: Axis of each of the six relations, and whether the second unit comes first.
_BITS = np.array([0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4, 1, 2, 2, 3, 2, 3, 3, 4, 2, 3, 3, 4, 3, 4, 4, 5,
                  1, 2, 2, 3, 2, 3, 3, 4, 2, 3, 3, 4, 3, 4, 4, 5, 2, 3, 3, 4, 3, 4, 4, 5, 3, 4, 4, 5, 4, 5, 5, 6],
                 dtype=np.int64)  # fmt: skip


@compiled
def _most_urgent(p: Problem, ways: Row, pairs: Grid, level: Row, blame: Grid) -> tuple[int, int]:
    """Return the choice with the fewest possibilities for the blame it has: (i, i) a way to stand, (i, j) a pair.

    (i, n) is whether i stands on the floor, asked only where units need support; it weighs more than a choice of two
    others. (-1, -1) when nothing is left to choose. At a tie pairs of large units are settled first, since rows come
    largest first.
    """
    n = len(ways)
    best, one, other = 1e30, -1, -1
    if p.support > 0:
        for i in range(n):
            if level[i] == 0:
                score = (_FLOOR_COUNTS_AS + i / (n * n)) / blame[i, i]
                if score < best:
                    best, one, other = score, i, n
    for i in range(n):
        count = _BITS[ways[i] & 63]
        if count > 1:
            score = (count + i / (n * n)) / blame[i, i]
            if score < best:
                best, one, other = score, i, i
        for j in range(i + 1, n):
            count = _BITS[pairs[i, j]]
            if count > 1:
                score = (count + (j * n // 2 + i) / (n * n)) / blame[i, j]
                if score < best:
                    best, one, other = score, i, j
    return one, other


@compiled
def _pick(left: int, seed: int) -> int:
    """Return one of the bits that are left: the lowest, or with a seed any."""
    if seed == 0:
        return left & -left
    skip = (seed >> 7) % _BITS[left & 63]
    for _ in range(skip):
        left &= left - 1
    return left & -left


class _Tree(NamedTuple):
    """The branch the search is at: one row for each choice on the way down, with what was possible before it."""

    lo: Grid
    hi: Grid
    ways: Grid
    pairs: Grid
    level: Grid
    least: Grid
    most: Grid
    one: Row  #: the choice, as ``_most_urgent`` and ``widest`` tell it
    other: Row
    tried: Row  #: its possibilities tried so far, as bits


@compiled
def _room_for_tree(n: int) -> _Tree:
    deep = 2 * n + n * (n - 1) // 2 + 2 + _MOST_HALVED
    return _Tree(
        np.zeros((deep, n, 3), dtype=np.int64),
        np.zeros((deep, n, 3), dtype=np.int64),
        np.zeros((deep, n), dtype=np.int64),
        np.zeros((deep, n, n), dtype=np.int64),
        np.zeros((deep, n), dtype=np.int64),
        np.zeros((deep, n, 6), dtype=np.int64),
        np.zeros((deep, n, 3), dtype=np.int64),
        np.full(deep, -1, dtype=np.int64),
        np.full(deep, -1, dtype=np.int64),
        np.zeros(deep, dtype=np.int64),
    )


@written_in
def _state(t: _Tree, depth: int) -> State:
    return State(t.lo[depth], t.hi[depth], t.ways[depth], t.pairs[depth], t.level[depth], t.least[depth], t.most[depth])


@compiled
def relate(p: Problem, most_nodes: int, at: Grid, size: Grid) -> tuple[int, int]:
    """Search all ways to stand and all relations; return FOUND, NONE (proven) or UNKNOWN, and the nodes used.

    The rows of ``p`` should come largest first. FOUND writes ``at`` and ``size``. The search begins anew, each time
    longer, with what it failed on before settled first.
    """
    n = len(p.kind)
    tree = _room_for_tree(n)
    root = _state(tree, 0)
    blame = np.ones((n, n), dtype=np.int64)
    root.pairs[:] = 63
    for i in range(n):
        for axis in range(2):
            root.lo[i, axis], root.hi[i, axis] = p.side[i], p.inner[axis] - p.side[i] + p.gap
        root.lo[i, 2], root.hi[i, 2] = p.bottom[i], p.inner[2] - p.top[i] + p.gap
        root.ways[i] = (1 << p.ways[i]) - 1
        extents(p, i, root.ways[i], root.least, root.most)
    _see_mirrors_once(p, root.hi)
    moved = np.ones(n, dtype=np.int64)
    if not propagate(p, root, blame, moved):
        return NONE, 1
    nodes, seed, limit = 0, 0, _FIRST_RUN
    ground = ground_tables(p)
    while True:
        allowed = min(limit, most_nodes - nodes)
        answer, used = _run(p, allowed, seed, tree, blame, ground, at, size)
        nodes += used
        if answer != UNKNOWN or used <= allowed or nodes >= most_nodes:
            return answer, nodes
        limit = limit * 5 // 2
        seed = shuffled(seed + FIRST_SEED)


@compiled
def _see_mirrors_once(p: Problem, hi: Grid) -> None:
    """Keep one unit to the first half of each axis whose mirror image is as good.

    Along the length equal units are in order, which a mirror turns round: there it is one that has no equal.
    """
    n = len(p.kind)
    hi[0, 1] = min(hi[0, 1], (p.inner[1] + _longest(p, 0, 1) + 1) // 2 + p.gap)
    even = np.max(p.bottom) == np.min(p.bottom) == np.max(p.top) == np.min(p.top)
    if p.support == 0 and np.max(p.limit) < 0 and even:
        hi[0, 2] = min(hi[0, 2], (p.inner[2] + _longest(p, 0, 2) + 1) // 2 + p.gap)
    for i in range(n):
        if (i == 0 or p.kind[i - 1] != p.kind[i]) and (i == n - 1 or p.kind[i + 1] != p.kind[i]):
            hi[i, 0] = min(hi[i, 0], (p.inner[0] + _longest(p, i, 0) + 1) // 2 + p.gap)
            break


@compiled
def _run(
    p: Problem, most_nodes: int, seed: int, t: _Tree, blame: Grid, ground: tuple[Table, Table], at: Grid, size: Grid
) -> tuple[int, int]:
    """Go through the tree once, down to ``most_nodes``: UNKNOWN with more nodes than that means it was cut off."""
    # Taken apart once: to reach into the tuple at every node costs as much as the node.
    los, his, all_ways, all_pairs, levels, leasts, mosts, ones, others, tried = t
    nodes, in_doubt, depth, n = 0, 0, 0, len(p.kind)
    along, across = ground
    moved = np.zeros(n, dtype=np.int64)
    tried[0] = 0
    ones[0], others[0] = _most_urgent(p, all_ways[0], all_pairs[0], levels[0], blame)
    if ones[0] < 0:
        return settle(p, _state(t, 0), at, size), 1
    while depth >= 0:
        i, j = ones[depth], others[depth]
        left = ~tried[depth] & (3 if j >= n else all_ways[depth, i] if i == j else all_pairs[depth, i, j])
        if left == 0:
            depth -= 1
            continue
        nodes += 1
        if nodes > most_nodes:
            return UNKNOWN, nodes
        if seed:
            seed = shuffled(seed)
        bit = _pick(left, seed)
        tried[depth] |= bit
        below = depth + 1
        los[below], his[below], leasts[below], mosts[below] = los[depth], his[depth], leasts[depth], mosts[depth]
        all_ways[below], all_pairs[below], levels[below] = all_ways[depth], all_pairs[depth], levels[depth]
        moved[:] = 0
        moved[i] = 1
        if j < n:
            moved[j] = 1
        if j == n:
            levels[below, i] = bit
        elif j > n:
            halve(los[below], his[below], leasts[below], i, j - n - 1, bit)
        elif i == j:
            all_ways[below, i] = bit
            extents(p, i, bit, leasts[below], mosts[below])
        else:
            all_pairs[below, i, j] = bit
        here = _state(t, below)
        if not propagate(p, here, blame, moved):
            if i == j:
                blame[i, i] += 1
            continue
        if p.support > 0 and (j == n or i == j) and overfull(p, all_ways[below], levels[below], along, across):
            continue
        ones[below], others[below] = _most_urgent(p, all_ways[below], all_pairs[below], levels[below], blame)
        if ones[below] < 0:
            nodes += _SETTLING
            answer = settle(p, here, at, size)
            if answer == FOUND:
                return FOUND, nodes
            if answer == NONE:
                continue
            ones[below], others[below] = widest(p, here, at, size)
            if ones[below] < 0 or below + 2 >= len(ones):
                in_doubt += 1
                continue
        tried[below] = 0
        depth = below
    return (UNKNOWN if in_doubt else NONE), nodes


@compiled
def _longest(p: Problem, i: int, axis: int) -> int:
    longest = 0
    for way in range(p.ways[i]):
        longest = max(longest, p.sizes[i, way, axis])
    return longest
