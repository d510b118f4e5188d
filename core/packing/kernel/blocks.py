"""Joining units to blocks and blocks to larger blocks, the fullest first (packing kernel).

Two blocks put side by side make a larger one, as large as the box round both; what that wastes must fit in the slack of
the container. Level by level (two units, three, ...) the fullest blocks are kept, up to a number that bounds the
work, until one holds all units and fits. Finds packings that saw cuts right through could take apart; proves nothing.
Where every unit may lie on any side, blocks are joined in any of the 18 ways two boxes can be; otherwise each unit enters
once for each way it may stand, and blocks are joined along the three axes only.
"""

import numpy as np

from core.packing.kernel.compiled import compiled
from core.packing.kernel.problem import Grid, Problem, Row

__all__ = ["build_blocks"]


@compiled
def _fits(dims: Row, window: Row, free: bool) -> bool:
    if not free:
        return bool(dims[0] <= window[0] and dims[1] <= window[1] and dims[2] <= window[2])
    a, b = np.sort(dims), np.sort(window)
    return bool(a[0] <= b[0] and a[1] <= b[1] and a[2] <= b[2])


@compiled
def _keep_fullest(dims: Grid, meta: Grid, full: Row, start: int, count: int, most: int) -> int:
    """Keep the fullest ``most`` of the blocks from ``start`` on, dropping equal ones; return the new count."""
    order = np.argsort(-full[start:count], kind="mergesort")
    new_dims, new_meta, new_full = dims[start:count][order], meta[start:count][order], full[start:count][order]
    kept = start
    for k in range(count - start):
        same = False
        back = kept - 1
        while back >= start and full[back] == new_full[k]:
            if meta[back, 0] == new_meta[k, 0] and np.prod(dims[back] // 1000) == np.prod(new_dims[k] // 1000):
                a, b = np.sort(dims[back]), np.sort(new_dims[k])
                if a[0] == b[0] and a[1] == b[1]:
                    same = True
                    break
            back -= 1
        if same:
            continue
        dims[kept], meta[kept], full[kept] = new_dims[k], new_meta[k], new_full[k]
        kept += 1
        if kept - start >= most:
            break
    return kept


@compiled
def _place(
    p: Problem, block: int, dims: Grid, meta: Grid, free: bool, turned: Row, low: Row, at: Grid, size: Grid
) -> None:
    """Write the places of all units of a block that stands at ``low``, its own axis ``turned[t]`` along axis t."""
    stack = np.zeros((200, 7), dtype=np.int64)
    stack[0, 0] = block
    stack[0, 1:4] = turned
    stack[0, 4:7] = low
    height = 1
    while height:
        height -= 1
        here = stack[height].copy()
        b = here[0]
        if meta[b, 1] < 0:
            i = meta[b, 2]
            for t in range(3):
                at[i, t] = here[4 + t]
                size[i, t] = dims[b, here[1 + t]] - p.gap
            continue
        left, right, axis = meta[b, 1], meta[b, 2], meta[b, 3]
        stack[height] = here
        stack[height, 0] = left
        height += 1
        stack[height, 0] = right
        for t in range(3):
            own = here[1 + t]
            stack[height, 1 + t] = meta[b, 4 + own]
            stack[height, 4 + t] = here[4 + t] + (dims[left, axis] if own == axis else 0)
        height += 1


@compiled
def build_blocks(p: Problem, free: bool, most: int, most_joins: int, at: Grid, size: Grid) -> bool:
    """Return whether all units were joined into one block that fits; ``at`` and ``size`` are written then.

    ``most`` is how many blocks each level keeps, ``most_joins`` how many pairs are looked at in all. At most 62 units.
    """
    n = len(p.kind)
    low = np.array([np.max(p.side), np.max(p.side), np.max(p.bottom)], dtype=np.int64)
    window = np.array(
        [p.inner[0] - 2 * low[0] + p.gap, p.inner[1] - 2 * low[1] + p.gap, p.inner[2] - low[2] - np.max(p.top) + p.gap],
        dtype=np.int64,
    )
    if np.min(window) <= 0:
        return False
    room = 8 * most
    total = room + most * (n + 1) + 6 * n
    dims, full = np.zeros((total, 3), dtype=np.int64), np.zeros(total, dtype=np.int64)
    meta, volume = np.zeros((total, 7), dtype=np.int64), np.zeros(n, dtype=np.float64)
    starts = np.zeros(n + 2, dtype=np.int64)
    count = 0
    slack = float(window[0]) * float(window[1]) * float(window[2])
    for i in range(n):
        volume[i] = float(p.sizes[i, 0, 0] + p.gap) * float(p.sizes[i, 0, 1] + p.gap) * float(p.sizes[i, 0, 2] + p.gap)
        slack -= volume[i]
        for way in range(1 if free else p.ways[i]):
            for axis in range(3):
                dims[count, axis] = p.sizes[i, way, axis] + p.gap
            meta[count, 0], meta[count, 1], meta[count, 2] = 1 << i, -1, i
            full[count] = 1 << 40
            count += 1
    if slack < 0:
        return False
    starts[2] = count
    joined, turned = np.zeros(3, dtype=np.int64), np.zeros(3, dtype=np.int64)
    joins = 0
    for level in range(2, n + 1):
        start = starts[level]
        count = start
        bar = 0
        for small in range(1, level // 2 + 1):
            for one in range(starts[level - small], starts[level - small + 1]):
                held = 0.0
                for i in range(n):
                    if meta[one, 0] >> i & 1:
                        held += volume[i]
                for other in range(starts[small], starts[small + 1]):
                    if meta[one, 0] & meta[other, 0]:
                        continue
                    joins += 1
                    if joins > most_joins:
                        return False
                    more = 0.0
                    for i in range(n):
                        if meta[other, 0] >> i & 1:
                            more += volume[i]
                    for way in range(18 if free else 3):
                        a = way % 3
                        b = way // 3 % 3 if free else a
                        flip = way >= 9
                        a1, a2 = (a + 1) % 3, (a + 2) % 3
                        b1, b2 = (b + 1) % 3, (b + 2) % 3
                        if flip:
                            b1, b2 = b2, b1
                        joined[a] = dims[one, a] + dims[other, b]
                        joined[a1] = max(dims[one, a1], dims[other, b1])
                        joined[a2] = max(dims[one, a2], dims[other, b2])
                        outer = float(joined[0]) * float(joined[1]) * float(joined[2])
                        if outer - held - more > slack or not _fits(joined, window, free):
                            continue
                        fullness = np.int64((held + more) / outer * (1 << 40))
                        if fullness < bar and level < n:
                            continue
                        if count == total:
                            count = _keep_fullest(dims, meta, full, start, count, most)
                            if count - start == most:
                                bar = full[count - 1]
                        dims[count] = joined
                        meta[count, 0] = meta[one, 0] | meta[other, 0]
                        meta[count, 1], meta[count, 2], meta[count, 3] = one, other, a
                        meta[count, 4 + a], meta[count, 4 + a1], meta[count, 4 + a2] = b, b1, b2
                        full[count] = fullness
                        count += 1
                        if level == n:
                            _stand(dims[count - 1], window, free, turned)
                            _place(p, count - 1, dims, meta, free, turned, low, at, size)
                            return True
        count = _keep_fullest(dims, meta, full, start, count, most)
        starts[level + 1] = count
    return False


@compiled
def _stand(dims: Row, window: Row, free: bool, turned: Row) -> None:
    """Write which own axis of a block goes along each axis of the window it fits in."""
    for t in range(3):
        turned[t] = t
    if free:
        a, b = np.argsort(dims), np.argsort(window)
        for k in range(3):
            turned[b[k]] = a[k]
