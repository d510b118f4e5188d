"""The exact finish: which of each two units stands left of, behind or under the other (packing kernel).

Two boxes that do not overlap are apart along at least one axis, one before the other: six relations. So that every
packing is met once, a pair apart along the length counts as that, else along the width, and only a pair apart along
neither counts as one under the other. The search chooses how each unit stands and one relation for each pair, the
choice with the fewest possibilities first, and keeps for every unit the lowest start and the highest end that the
choices so far allow. A relation that would need more room than that is struck out; a pair with none left ends the
branch, and so does a unit off the floor that no tops below could hold even if all lay as well as their windows
allow. When all is chosen, the lowest starts (and the highest) are packings without overlap; one counts when supports
and loads hold. When every branch has ended and none was left in doubt, it is proven that nothing can be found.

Mirrors and equal units are seen once: equal units are ordered by their start along the length, and the first unit
keeps to one half of the width.
"""

import numpy as np

from core.packing.kernel.compiled import compiled
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import loads_hold, supported

__all__ = ["FOUND", "MOST_UNITS", "NONE", "UNKNOWN", "relate"]

FOUND, NONE, UNKNOWN = 1, 0, -1
MOST_UNITS = 16

#: Axis of each of the six relations, and whether the second unit comes first.
_BITS = np.array([0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4, 1, 2, 2, 3, 2, 3, 3, 4, 2, 3, 3, 4, 3, 4, 4, 5,
                  1, 2, 2, 3, 2, 3, 3, 4, 2, 3, 3, 4, 3, 4, 4, 5, 2, 3, 3, 4, 3, 4, 4, 5, 3, 4, 4, 5, 4, 5, 5, 6],
                 dtype=np.int64)  # fmt: skip


@compiled
def _overlap(i: int, j: int, axis: int, lo: Grid, hi: Grid, least: Grid, most: Grid) -> bool:
    """Tighten: i starts before j ends along the axis; return whether something changed."""
    changed = False
    if lo[i, axis] - most[j, axis] + 1 > lo[j, axis]:
        lo[j, axis] = lo[i, axis] - most[j, axis] + 1
        changed = True
    if hi[j, axis] - 1 + most[i, axis] < hi[i, axis]:
        hi[i, axis] = hi[j, axis] - 1 + most[i, axis]
        changed = True
    return changed


@compiled
def _under(pairs: Grid, k: int, j: int) -> bool:
    """Return whether k under j is settled or still possible."""
    if k == j:
        return False
    return bool(pairs[k, j] >> 2 & 1) if k < j else bool(pairs[j, k] >> 5 & 1)


@compiled
def _held(p: Problem, lo: Grid, hi: Grid, pairs: Grid, least: Grid, most: Grid) -> bool:
    """Return False when some unit off the floor cannot be held by any tops below, however well they lie."""
    n = len(p.kind)
    for j in range(n):
        if lo[j, 2] <= p.floor:
            continue
        wanted = (least[j, 0] - p.gap) * (least[j, 1] - p.gap)
        if most[j, 0] != least[j, 0] or most[j, 1] != least[j, 1]:
            wanted = 1 << 60
            for way in range(p.ways[j]):
                wanted = min(wanted, p.sizes[j, way, 0] * p.sizes[j, way, 1])
        area = 0
        room = 0
        endless = False
        for k in range(n):
            if k == j or p.limit[k] == 0:
                continue
            if not _under(pairs, k, j):
                continue
            # Its top must be able to lie exactly where j begins.
            if lo[k, 2] + least[k, 2] > hi[j, 2] - least[j, 2] or hi[k, 2] < lo[j, 2]:
                continue
            wide = min(most[j, 0], most[k, 0], hi[j, 0] - lo[k, 0], hi[k, 0] - lo[j, 0]) - p.gap
            deep = min(most[j, 1], most[k, 1], hi[j, 1] - lo[k, 1], hi[k, 1] - lo[j, 1]) - p.gap
            if wide > 0 and deep > 0:
                area += wide * deep
                if p.limit[k] < 0:
                    endless = True
                else:
                    room += p.limit[k]
        if area * 100 < p.support * wanted or area == 0:
            return False
        if not endless and room < p.weight[j]:
            return False
    return True


@compiled
def _propagate(p: Problem, lo: Grid, hi: Grid, ways: Row, pairs: Grid, least: Grid, most: Grid) -> bool:
    """Tighten starts, ends, ways and pairs until nothing changes; False when something has no room left."""
    n = len(ways)
    changed = True
    rounds = 0
    while changed:
        changed = False
        # Starts that still rise after as many rounds as there are units go round in a circle: no room (Bellman).
        rounds += 1
        if rounds > n + 2:
            return False
        for i in range(n):
            mask = ways[i]
            for way in range(p.ways[i]):
                if mask >> way & 1:
                    for axis in range(3):
                        if lo[i, axis] + p.sizes[i, way, axis] + p.gap > hi[i, axis]:
                            mask &= ~(1 << way)
                            break
            if mask == 0:
                return False
            if mask != ways[i]:
                ways[i] = mask
                changed = True
                rounds = 0
                _extents(p, i, mask, least, most)
        for i in range(n):
            for j in range(i + 1, n):
                mask = pairs[i, j]
                for axis in range(3):
                    if mask >> axis & 1 and lo[i, axis] + least[i, axis] + least[j, axis] > hi[j, axis]:
                        mask &= ~(1 << axis)
                    if mask >> (axis + 3) & 1 and lo[j, axis] + least[j, axis] + least[i, axis] > hi[i, axis]:
                        mask &= ~(8 << axis)
                if mask == 0:
                    return False
                if mask != pairs[i, j]:
                    pairs[i, j] = mask
                    changed = True
                    rounds = 0
                if mask & (mask - 1) == 0:
                    axis, first, then = 0, i, j
                    while not (mask >> axis & 1 or mask >> (axis + 3) & 1):
                        axis += 1
                    if mask >> (axis + 3) & 1:
                        first, then = j, i
                    if lo[first, axis] + least[first, axis] > lo[then, axis]:
                        lo[then, axis] = lo[first, axis] + least[first, axis]
                        changed = True
                    if hi[then, axis] - least[then, axis] < hi[first, axis]:
                        hi[first, axis] = hi[then, axis] - least[then, axis]
                        changed = True
                    for across in range(axis):
                        one = _overlap(i, j, across, lo, hi, least, most)
                        other = _overlap(j, i, across, lo, hi, least, most)
                        changed = changed or one or other
                if p.kind[i] == p.kind[j]:
                    if lo[j, 0] < lo[i, 0]:
                        lo[j, 0] = lo[i, 0]
                        changed = True
                    if hi[j, 0] - least[j, 0] + most[i, 0] < hi[i, 0]:
                        hi[i, 0] = hi[j, 0] - least[j, 0] + most[i, 0]
                        changed = True
    return p.support == 0 or _held(p, lo, hi, pairs, least, most)


@compiled
def _extents(p: Problem, i: int, mask: int, least: Grid, most: Grid) -> None:
    for axis in range(3):
        smallest, largest = 1 << 60, 0
        for way in range(p.ways[i]):
            if mask >> way & 1:
                smallest = min(smallest, p.sizes[i, way, axis] + p.gap)
                largest = max(largest, p.sizes[i, way, axis] + p.gap)
        least[i, axis], most[i, axis] = smallest, largest


@compiled
def _settle(p: Problem, lo: Grid, hi: Grid, ways: Row, pairs: Grid, at: Grid, size: Grid) -> int:
    """Try the packings at the ends of the windows; return FOUND, NONE when supports or loads can never hold, or UNKNOWN."""
    n = len(ways)
    for i in range(n):
        way = 0
        while not ways[i] >> way & 1:
            way += 1
        size[i] = p.sizes[i, way]
    done = np.arange(n)
    upwards = np.argsort(lo[:, 2], kind="mergesort")
    for corner in range(8):
        # The cushion is level, so the floor's level comes first; then each unit at its own lowest.
        if corner >= 4 and np.min(p.bottom) == p.floor:
            break
        for i in upwards:
            at[i, 2] = p.bottom[i] if corner >= 4 else p.floor
            for axis in range(2):
                at[i, axis] = hi[i, axis] - p.gap - size[i, axis] if corner >> axis & 1 else lo[i, axis]
            for k in range(n):
                if _under(pairs, k, i):
                    at[i, 2] = max(at[i, 2], at[k, 2] + size[k, 2] + p.gap)
        held = True
        for i in range(n):
            if at[i, 2] + size[i, 2] + p.gap > hi[i, 2]:
                held = False
                break
            if not supported(p, done, n, at, size, at[i, 0], at[i, 1], at[i, 2], size[i, 0], size[i, 1]):
                held = False
                break
        if held and (p.support == 0 or loads_hold(p, done, n, at, size)):
            return FOUND
    return UNKNOWN if _could_hold(p, lo, hi, pairs, size) else NONE


@compiled
def _could_hold(p: Problem, lo: Grid, hi: Grid, pairs: Grid, size: Grid) -> bool:
    """Return False when no shifting within the windows can give every unit its support and every load its limit.

    All relations are settled, so what stands off the floor begins at the highest top under it; only how high a unit
    stands on the floor's cushion is open, which leaves a range of levels for it and for what it carries.
    """
    n = len(size)
    order = np.argsort(lo[:, 2], kind="mergesort")
    latest = np.zeros(n, dtype=np.int64)
    for j in order:
        if lo[j, 2] <= p.floor:
            latest[j] = p.floor
        for k in range(n):
            if _under(pairs, k, j):
                latest[j] = max(latest[j], latest[k] + size[k, 2] + p.gap)
    carried = np.zeros(n, dtype=np.float64)
    for j in order[::-1]:
        if lo[j, 2] <= p.floor:
            continue
        area, holders, holder, room, endless = 0, 0, -1, 0.0, False
        for k in range(n):
            if not _under(pairs, k, j) or latest[k] + size[k, 2] + p.gap < lo[j, 2]:
                continue
            if p.limit[k] == 0:
                exact = latest[k] == lo[k, 2] and latest[j] == lo[j, 2] and lo[k, 2] + size[k, 2] + p.gap == lo[j, 2]
                if p.gap == 0 and exact:
                    return False
                continue
            wide = min(size[j, 0], size[k, 0], hi[j, 0] - p.gap - lo[k, 0], hi[k, 0] - p.gap - lo[j, 0])
            deep = min(size[j, 1], size[k, 1], hi[j, 1] - p.gap - lo[k, 1], hi[k, 1] - p.gap - lo[j, 1])
            if wide > 0 and deep > 0:
                area += wide * deep
                holders += 1
                holder = k
                if p.limit[k] < 0:
                    endless = True
                else:
                    room += p.limit[k]
        if area * 100 < p.support * size[j, 0] * size[j, 1] or holders == 0:
            return False
        if not endless and room < p.weight[j] + carried[j]:
            return False
        if holders == 1:
            carried[holder] += p.weight[j] + carried[j]
            if 0 <= p.limit[holder] < carried[holder]:
                return False
    return True


@compiled
def _most_urgent(ways: Row, pairs: Grid, least: Grid) -> tuple[int, int]:
    """Return the choice with the fewest possibilities: (i, i) for a way to stand, (i, j) for a pair; (-1, -1): none."""
    n = len(ways)
    best, one, other = 1 << 60, -1, -1
    for i in range(n):
        count = _BITS[ways[i] & 63]
        if count > 1:
            score = count * (n * n) + i
            if score < best:
                best, one, other = score, i, i
        for j in range(i + 1, n):
            count = _BITS[pairs[i, j]]
            if count > 1:
                # The rows come largest first: settle pairs of large units before small ones.
                score = count * (n * n) + j * n // 2 + i
                if score < best:
                    best, one, other = score, i, j
    return one, other


@compiled
def relate(p: Problem, most_nodes: int, at: Grid, size: Grid) -> tuple[int, int]:
    """Search all ways to stand and all relations; return FOUND, NONE (proven) or UNKNOWN, and the nodes used.

    The rows of ``p`` should come largest first. FOUND writes ``at`` and ``size``.
    """
    n = len(p.kind)
    depth_max = n + n * (n - 1) // 2 + 2
    los, his = np.zeros((depth_max, n, 3), dtype=np.int64), np.zeros((depth_max, n, 3), dtype=np.int64)
    leasts, mosts = np.zeros((depth_max, n, 3), dtype=np.int64), np.zeros((depth_max, n, 3), dtype=np.int64)
    all_ways, all_pairs = np.zeros((depth_max, n), dtype=np.int64), np.zeros((depth_max, n, n), dtype=np.int64)
    ones, others = np.full(depth_max, -1, dtype=np.int64), np.full(depth_max, -1, dtype=np.int64)
    tried = np.zeros(depth_max, dtype=np.int64)
    lone = True
    for i in range(n):
        los[0, i, 0], los[0, i, 1], los[0, i, 2] = p.side[i], p.side[i], p.bottom[i]
        his[0, i, 0], his[0, i, 1] = p.inner[0] - p.side[i] + p.gap, p.inner[1] - p.side[i] + p.gap
        his[0, i, 2] = p.inner[2] - p.top[i] + p.gap
        all_ways[0, i] = (1 << p.ways[i]) - 1
        _extents(p, i, all_ways[0, i], leasts[0], mosts[0])
        if i and p.kind[i] == p.kind[0]:
            lone = False
        for j in range(i + 1, n):
            all_pairs[0, i, j] = 63 if p.kind[i] != p.kind[j] else 63 & ~8
    # Mirror images are seen once: the first unit starts in the first half of its window.
    his[0, 0, 1] = min(his[0, 0, 1], (p.inner[1] + _longest(p, 0, 1) + 1) // 2 + p.gap)
    if lone:
        his[0, 0, 0] = min(his[0, 0, 0], (p.inner[0] + _longest(p, 0, 0) + 1) // 2 + p.gap)
    nodes, in_doubt, depth = 0, 0, 0
    if not _propagate(p, los[0], his[0], all_ways[0], all_pairs[0], leasts[0], mosts[0]):
        return NONE, 1
    ones[0], others[0] = _most_urgent(all_ways[0], all_pairs[0], leasts[0])
    if ones[0] < 0:
        return _settle(p, los[0], his[0], all_ways[0], all_pairs[0], at, size), 1
    while depth >= 0:
        i, j = ones[depth], others[depth]
        left = (all_ways[depth, i] if i == j else all_pairs[depth, i, j]) & ~tried[depth]
        if left == 0:
            depth -= 1
            continue
        nodes += 1
        if nodes > most_nodes:
            return UNKNOWN, nodes
        bit = left & -left
        tried[depth] |= bit
        below = depth + 1
        los[below], his[below], leasts[below], mosts[below] = los[depth], his[depth], leasts[depth], mosts[depth]
        all_ways[below], all_pairs[below] = all_ways[depth], all_pairs[depth]
        if i == j:
            all_ways[below, i] = bit
            _extents(p, i, bit, leasts[below], mosts[below])
        else:
            all_pairs[below, i, j] = bit
        if not _propagate(p, los[below], his[below], all_ways[below], all_pairs[below], leasts[below], mosts[below]):
            continue
        ones[below], others[below] = _most_urgent(all_ways[below], all_pairs[below], leasts[below])
        if ones[below] < 0:
            answer = _settle(p, los[below], his[below], all_ways[below], all_pairs[below], at, size)
            if answer == FOUND:
                return FOUND, nodes
            if answer == UNKNOWN:
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
