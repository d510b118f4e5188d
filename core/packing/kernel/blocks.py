"""Joining units to blocks and blocks to larger blocks, the fullest first (packing kernel).

Two blocks put side by side make a larger one, as large as the box round both; what that wastes must fit in the slack of
the container. A block that leaves less beside it than the thinnest unit still outside wastes that as well. Level by
level (two units, three, ...) the fullest blocks are kept, up to a number that bounds the work, until one holds all
units and fits. Of blocks with the same units only those count that are not as long as another on every axis. Finds
packings that saw cuts right through could take apart; proves nothing.
Where every unit may lie on any side, blocks are joined in any of the 18 ways two boxes can be; otherwise each unit enters
once for each way it may stand, and blocks are joined along the three axes only.
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from core.packing.kernel.compiled import compiled, written_in
from core.packing.kernel.lending import lent, lent_sixes, lent_threes
from core.packing.kernel.problem import Grid, Problem, Row

__all__ = ["build_blocks"]

_Volumes = npt.NDArray[np.float64]

#: Columns of ``meta``: the two blocks joined (or -1 and the unit), the axis of the first they are joined along, and
#: which own axis of the second lies along each axis of the first.
_ONE, _OTHER, _AXIS, _TURNED, _COLUMNS = 0, 1, 2, 3, 6
#: Blocks of the same units that are kept at most: the next ones are nearly always the same with another waste.
_MOST_ALIKE = 4
_WHOLE = 1 << 40


class _Blocks(NamedTuple):
    """All blocks, those of one unit first, then of two, and so on; columns of ``meta`` see above."""

    dims: Grid  #: lengths, gap included
    units: Row  #: the units in it, as bits
    meta: Grid
    full: Row  #: content over the volume taken in the window, in parts of _WHOLE
    held: _Volumes  #: content
    starts: Row  #: where the blocks of so many units begin


class _Goods(NamedTuple):
    """The units, and what ``_outside`` writes."""

    volume: _Volumes
    shortest: Row
    by_length: Row
    thin: Row
    thin_volume: _Volumes
    many: int


@written_in
def _ordered(a: int, b: int, c: int, free: bool) -> tuple[int, int, int]:
    """Return the lengths shortest first where a block may be turned, else as they are."""
    if not free:
        return a, b, c
    least, most = min(a, b, c), max(a, b, c)
    return least, a + b + c - least - most, most


@written_in
def _up_to(gap: int, thin: Row, thin_volume: _Volumes) -> float:
    """Return the volume of the units that could lie in a gap."""
    k = 0
    while thin[k] <= gap:
        k += 1
    volume: float = thin_volume[k]
    return volume


@written_in
def _filled(
    a: int, b: int, c: int, w0: int, w1: int, w2: int, thin: Row, thin_volume: _Volumes, most: float, free: bool
) -> float:
    """Return the volume a block takes in the window at its best, with what nothing can fill beside it; 0: does not fit.

    The window's lengths are ordered as the block's; ``thin`` has the least lengths of the units outside the block,
    shortest first, ``thin_volume`` the volume of those up to each.
    """
    best = 0.0
    for way in range(6 if free else 1):
        x, y, z = a, b, c
        if way == 1:
            x, y, z = a, c, b
        elif way == 2:
            x, y, z = b, a, c
        elif way == 3:
            x, y, z = b, c, a
        elif way == 4:
            x, y, z = c, a, b
        elif way == 5:
            x, y, z = c, b, a
        if x > w0 or y > w1 or z > w2:
            continue
        if w0 - x < thin[0]:
            x = w0
        if w1 - y < thin[0]:
            y = w1
        if w2 - z < thin[0]:
            z = w2
        taken = float(x) * float(y) * float(z)
        if best > 0.0 and taken >= best:
            continue
        waste = 0.0
        if x < w0:
            waste += max(0.0, float(w0 - x) * float(y) * float(z) - _up_to(w0 - x, thin, thin_volume))
        if y < w1:
            waste += max(0.0, float(w1 - y) * float(x) * float(z) - _up_to(w1 - y, thin, thin_volume))
        if z < w2:
            waste += max(0.0, float(w2 - z) * float(x) * float(y) - _up_to(w2 - z, thin, thin_volume))
        if taken + waste > most:
            continue
        best = taken
    return best


@compiled
def _join_ways(free: bool) -> Grid:
    """Return the ways two blocks can be joined: axes a, a1, a2 of the first, b, b1, b2 of the second beside them."""
    ways = np.zeros((18 if free else 3, 6), dtype=np.int64)
    for way in range(len(ways)):
        a = way % 3
        b = way // 3 % 3 if free else a
        ways[way, 0], ways[way, 1], ways[way, 2] = a, (a + 1) % 3, (a + 2) % 3
        ways[way, 3], ways[way, 4], ways[way, 5] = b, (b + 1) % 3, (b + 2) % 3
        if way >= 9:
            ways[way, 4], ways[way, 5] = (b + 2) % 3, (b + 1) % 3
    return ways


@compiled
def _keep_fullest(blocks: _Blocks, start: int, count: int, most: int, free: bool) -> int:
    """Keep the fullest ``most`` of the blocks from ``start`` on, without what others make needless; return the new count."""
    dims, meta, units_of, full = blocks.dims, blocks.meta, blocks.units, blocks.full
    order = np.argsort(-full[start:count], kind="mergesort")
    new_dims, new_meta = dims[start:count][order], meta[start:count][order]
    new_units, new_full = units_of[start:count][order], full[start:count][order]
    kept = start
    for k in range(count - start):
        units = new_units[k]
        a, b, c = _ordered(new_dims[k, 0], new_dims[k, 1], new_dims[k, 2], free)
        alike = 0
        for back in range(start, kept):
            if units_of[back] != units:
                continue
            alike += 1
            x, y, z = _ordered(dims[back, 0], dims[back, 1], dims[back, 2], free)
            if alike >= _MOST_ALIKE or (x <= a and y <= b and z <= c):
                alike = _MOST_ALIKE
                break
        if alike >= _MOST_ALIKE:
            continue
        for axis in range(3):
            dims[kept, axis] = new_dims[k, axis]
        for column in range(_COLUMNS):
            meta[kept, column] = new_meta[k, column]
        units_of[kept], full[kept] = units, new_full[k]
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
        if meta[b, _ONE] < 0:
            i = meta[b, _OTHER]
            for t in range(3):
                at[i, t] = here[4 + t]
                size[i, t] = dims[b, here[1 + t]] - p.gap
            continue
        left, right, axis = meta[b, _ONE], meta[b, _OTHER], meta[b, _AXIS]
        stack[height] = here
        stack[height, 0] = left
        height += 1
        stack[height, 0] = right
        for t in range(3):
            own = here[1 + t]
            stack[height, 1 + t] = meta[b, _TURNED + own]
            stack[height, 4 + t] = here[4 + t] + (dims[left, axis] if own == axis else 0)
        height += 1


@compiled
def _content(units: int, volume: _Volumes) -> float:
    total = 0.0
    for i in range(len(volume)):
        if units >> i & 1:
            total += volume[i]
    return total


@compiled
def _outside(units: int, goods: _Goods) -> None:
    """Write the least lengths of the units outside a block, shortest first, and the volume of those before each."""
    count, total = 0, 0.0
    for place in range(goods.many):
        i = goods.by_length[place]
        if not units >> i & 1:
            goods.thin[count], goods.thin_volume[count] = goods.shortest[i], total
            total += goods.volume[i]
            count += 1
    goods.thin[count], goods.thin_volume[count] = 1 << 60, total


@compiled
def _lent_goods(goods: _Goods) -> _Goods:
    """Return the arrays as lent ones; ``goods`` must outlive them."""
    return _Goods(
        lent(goods.volume), lent(goods.shortest), lent(goods.by_length), lent(goods.thin), lent(goods.thin_volume),
        goods.many,
    )  # fmt: skip


@compiled
def _begin(p: Problem, free: bool, most: int) -> tuple[_Blocks, _Goods]:
    """Return room for the blocks, with the single units in it, once for each way that makes a difference."""
    n = len(p.kind)
    total = 8 * most + most * (n + 1) + 6 * n
    blocks = _Blocks(
        np.zeros((total, 3), dtype=np.int64),
        np.zeros(total, dtype=np.int64),
        np.zeros((total, _COLUMNS), dtype=np.int64),
        np.zeros(total, dtype=np.int64),
        np.zeros(total, dtype=np.float64),
        np.zeros(n + 2, dtype=np.int64),
    )
    volume, shortest = np.zeros(n, dtype=np.float64), np.zeros(n, dtype=np.int64)
    count = 0
    for i in range(n):
        volume[i] = float(p.sizes[i, 0, 0] + p.gap) * float(p.sizes[i, 0, 1] + p.gap) * float(p.sizes[i, 0, 2] + p.gap)
        shortest[i] = np.min(p.sizes[i, 0]) + p.gap
        for way in range(1 if free else p.ways[i]):
            for axis in range(3):
                blocks.dims[count, axis] = p.sizes[i, way, axis] + p.gap
            blocks.units[count], blocks.meta[count, _ONE], blocks.meta[count, _OTHER] = 1 << i, -1, i
            blocks.full[count], blocks.held[count] = _WHOLE, volume[i]
            count += 1
    blocks.starts[2] = count
    thin, thin_volume = np.zeros(n + 1, dtype=np.int64), np.zeros(n + 1, dtype=np.float64)
    return blocks, _Goods(volume, shortest, np.argsort(shortest), thin, thin_volume, n)


@compiled
def _note(blocks: _Blocks, place: int, one: int, other: int, way: Row, taken: float) -> None:
    """Write down that two blocks are joined this way."""
    dims, meta = blocks.dims, blocks.meta
    a, a1, a2, b, b1, b2 = way
    dims[place, a] = dims[one, a] + dims[other, b]
    dims[place, a1] = max(dims[one, a1], dims[other, b1])
    dims[place, a2] = max(dims[one, a2], dims[other, b2])
    blocks.units[place] = blocks.units[one] | blocks.units[other]
    meta[place, _ONE], meta[place, _OTHER], meta[place, _AXIS] = one, other, a
    meta[place, _TURNED + a], meta[place, _TURNED + a1], meta[place, _TURNED + a2] = b, b1, b2
    blocks.full[place] = np.int64((blocks.held[one] + blocks.held[other]) / taken * _WHOLE)


@compiled
def _join_level(
    level: int, window: Row, slack: float, most: int, most_joins: int, free: bool, blocks: _Blocks, goods: _Goods
) -> tuple[int, int]:
    """Join blocks to such of ``level`` units; return where the kept ones end and the pairs looked at.

    The level of all units ends with its first block. ``window`` is ordered as the blocks are.
    """
    dims, units_of, held, starts = lent_threes(blocks.dims), lent(blocks.units), lent(blocks.held), lent(blocks.starts)
    told_of = _lent_goods(goods)
    w0, w1, w2 = window
    ways = _join_ways(free)
    join_ways, way_count, last = lent_sixes(ways), len(ways), level == goods.many
    start = count = starts[level]
    bar, joins = 0, 0
    for small in range(1, level // 2 + 1):
        for one in range(starts[level - small], starts[level - small + 1]):
            units = units_of[one]
            for other in range(starts[small] if 2 * small != level else one + 1, starts[small + 1]):
                if units & units_of[other]:
                    continue
                joins += 1
                if joins > most_joins:
                    return start, joins
                content = held[one] + held[other]
                largest = content + slack
                if bar > 0:
                    largest = min(largest, content * _WHOLE / bar)
                told = False
                for way in range(way_count):
                    a, a1, a2 = join_ways[way, 0], join_ways[way, 1], join_ways[way, 2]
                    b, b1, b2 = join_ways[way, 3], join_ways[way, 4], join_ways[way, 5]
                    x = dims[one, a] + dims[other, b]
                    y = max(dims[one, a1], dims[other, b1])
                    z = max(dims[one, a2], dims[other, b2])
                    if float(x) * float(y) * float(z) > largest:
                        continue
                    if not told:
                        _outside(units | units_of[other], told_of)
                        told = True
                    if not free:
                        # Turned back to the axes of the container.
                        if a == 1:
                            x, y, z = z, x, y
                        elif a == 2:
                            x, y, z = y, z, x
                    taken = _filled(x, y, z, w0, w1, w2, told_of.thin, told_of.thin_volume, content + slack, free)
                    if taken == 0.0 or (taken > largest and not last):
                        continue
                    if count == len(blocks.full):
                        count = _keep_fullest(blocks, start, count, most, free)
                        if count - start == most:
                            bar = blocks.full[count - 1]
                    _note(blocks, count, one, other, ways[way], taken)
                    count += 1
                    if last:
                        return count, joins
    count = _keep_fullest(blocks, start, count, most, free)
    for k in range(start, count):
        held[k] = _content(units_of[k], goods.volume)
    return count, joins


@compiled
def build_blocks(p: Problem, free: bool, most: int, most_joins: int, at: Grid, size: Grid) -> tuple[bool, int]:
    """Return whether all units were joined into one block that fits, and the pairs looked at; writes ``at`` and ``size``.

    ``most`` is how many blocks each level keeps, ``most_joins`` how many pairs are looked at in all. At most 62 units.
    """
    n = len(p.kind)
    low = np.array([np.max(p.side), np.max(p.side), np.max(p.bottom)], dtype=np.int64)
    window = np.array(
        [p.inner[0] - 2 * low[0] + p.gap, p.inner[1] - 2 * low[1] + p.gap, p.inner[2] - low[2] - np.max(p.top) + p.gap],
        dtype=np.int64,
    )
    if n < 2 or np.min(window) <= 0:
        return False, 0
    blocks, goods = _begin(p, free, most)
    whole = float(window[0]) * float(window[1]) * float(window[2])
    slack = whole * (1.0 + 1e-12) - np.sum(goods.volume)
    if slack < 0:
        return False, 0
    ordered = np.array(_ordered(window[0], window[1], window[2], free), dtype=np.int64)
    joins, end = 0, 0
    for level in range(2, n + 1):
        end, used = _join_level(level, ordered, slack, most, most_joins - joins, free, blocks, goods)
        joins += used
        if joins > most_joins:
            return False, joins
        blocks.starts[level + 1] = end
    if end == blocks.starts[n]:
        return False, joins
    turned = np.zeros(3, dtype=np.int64)
    _stand(blocks.dims[end - 1], window, free, turned)
    _place(p, end - 1, blocks.dims, blocks.meta, free, turned, low, at, size)
    return True, joins


@compiled
def _stand(dims: Row, window: Row, free: bool, turned: Row) -> None:
    """Write which own axis of a block goes along each axis of the window it fits in."""
    for t in range(3):
        turned[t] = t
    if free:
        a, b = np.argsort(dims), np.argsort(window)
        for k in range(3):
            turned[b[k]] = a[k]
