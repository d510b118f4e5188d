"""Tight packings: fill the lowest corner, or give it up, as long as what is given up fits in the slack (packing kernel).

The container is seen as a ground plan with heights. The lowest place, furthest back and left, is a corner: only a
unit standing exactly in it can use it. So each unit and way that fits there is tried, those that end flush first; or the
corner is given up and filled to its lowest neighbour. The volume still free above the ground must hold the units left:
with little slack this ends most branches early. Finds packings; proves nothing.
"""

import numpy as np

from core.packing.kernel.compiled import ONE, ZERO, compiled
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import loads_hold, supported

__all__ = ["fill_corners"]


@compiled
def _volume(sizes: Row) -> float:
    return float(sizes[0]) * float(sizes[1]) * float(sizes[2])


@compiled
def _free(xs: Row, nx: int, ys: Row, ny: int, h: Grid, top: int, least: int) -> float:
    """Return the volume above the ground that the thinnest unit left could still use."""
    total = 0.0
    for a in range(nx):
        for b in range(ny):
            if top - h[a, b] >= least:
                total += float(xs[a + 1] - xs[a]) * float(ys[b + 1] - ys[b]) * float(top - h[a, b])
    return total


@compiled
def _lowest(nx: int, ny: int, h: Grid) -> tuple[int, int]:
    ia, ib = 0, 0
    for b in range(ny):
        for a in range(nx):
            if h[a, b] < h[ia, ib]:
                ia, ib = a, b
    return ia, ib


@compiled
def _cut(edges: Row, count: int, value: int) -> tuple[int, int]:
    """Put an edge in; return its place and 1 when it is new."""
    place = 0
    while edges[place] < value:
        place += 1
    if edges[place] == value:
        return place, 0
    for k in range(count + 1, place, -1):
        edges[k] = edges[k - 1]
    edges[place] = value
    return place, 1


@compiled
def _options(
    p: Problem,
    axes: Row,
    window: Row,
    used: Row,
    xs: Row,
    nx: int,
    ys: Row,
    ny: int,
    h: Grid,
    ia: int,
    ib: int,
    out: Grid,
    seed: int,
) -> int:
    """List unit and way for the corner, the flush ones first; return how many."""
    here = h[ia, ib]
    run = ia
    while run < nx and h[run, ib] == here:
        run += 1
    wide = xs[run] - xs[ia]
    left = h[ia - 1, ib] if ia else window[2]
    back = h[ia, ib - 1] if ib else window[2]
    count = 0
    last_kind = -1
    for i in range(len(used)):
        if used[i] or p.kind[i] == last_kind:
            continue
        last_kind = p.kind[i]
        for way in range(p.ways[i]):
            dx, dy, dz = (
                p.sizes[i, way, axes[0]] + p.gap,
                p.sizes[i, way, axes[1]] + p.gap,
                p.sizes[i, way, axes[2]] + p.gap,
            )
            if dx > wide or here + dz > window[2] or ys[ib] + dy > window[1]:
                continue
            flat = True
            end = ib
            a = ia
            while a < nx and xs[a] < xs[ia] + dx and flat:
                b = ib
                while b < ny and ys[b] < ys[ib] + dy:
                    if h[a, b] != here:
                        flat = False
                        break
                    b += 1
                end = b
                a += 1
            if not flat:
                continue
            flush = 0
            if dx == wide:
                flush += 1
            if ys[ib] + dy == window[1] or (end < ny and ys[end] == ys[ib] + dy and h[ia, end] > here):
                flush += 1
            if here + dz == window[2] or here + dz == left or here + dz == back:
                flush += 1
            score = float(flush) * 1e21 + _volume(p.sizes[i, 0])
            if seed:
                score *= 1.0 + float((seed * (i * 31 + way * 7 + here % 1009 + 13)) % 1000) / 1500.0
            place = count
            while place > 0 and out[place - 1, 2] < score / 1e6:
                out[place] = out[place - 1]
                place -= 1
            out[place, 0], out[place, 1], out[place, 2] = i, way, np.int64(score / 1e6)
            count += 1
    return count


@compiled
def fill_corners(p: Problem, up: int, seed: int, most_nodes: int, at: Grid, size: Grid) -> tuple[bool, int]:
    """Search with axis ``up`` of the container taken as the height; return whether all units were placed, and nodes used.

    With ``up`` other than 2 the supports are not kept in sight while searching: the caller checks them afterwards.
    """
    n = len(p.kind)
    axes = np.array([(up + 1) % 3, (up + 2) % 3, up], dtype=np.int64)
    low = np.array([np.max(p.side), np.max(p.side), np.max(p.bottom)], dtype=np.int64)
    high = np.array([np.max(p.side), np.max(p.side), np.max(p.top)], dtype=np.int64)
    window = np.array([p.inner[a] - low[a] - high[a] + p.gap for a in axes], dtype=np.int64)
    if window[0] <= 0 or window[1] <= 0 or window[2] <= 0:
        return False, 0
    m = n + 3
    depth_max = 6 * n + 8
    xs, ys = np.zeros((depth_max, m), dtype=np.int64), np.zeros((depth_max, m), dtype=np.int64)
    nx, ny = np.ones(depth_max, dtype=np.int64), np.ones(depth_max, dtype=np.int64)
    h = np.zeros((depth_max, m, m), dtype=np.int64)
    used = np.zeros(n, dtype=np.int64)
    options = np.zeros((depth_max, 6 * n + 1, 3), dtype=np.int64)
    option_count, chosen = np.zeros(depth_max, dtype=np.int64), np.zeros(depth_max, dtype=np.int64)
    unit = np.full(depth_max, -1, dtype=np.int64)
    done = np.zeros(n + 1, dtype=np.int64)
    count = 0
    need = 0.0
    for i in range(n):
        need += float(p.sizes[i, 0, 0] + p.gap) * float(p.sizes[i, 0, 1] + p.gap) * float(p.sizes[i, 0, 2] + p.gap)
    xs[0, 1], ys[0, 1] = window[0], window[1]
    option_count[0] = _options(p, axes, window, used, xs[0], ONE, ys[0], ONE, h[0], ZERO, ZERO, options[0], seed)
    depth, nodes = 0, 0
    limited = False
    for i in range(n):
        if p.limit[i] >= 0:
            limited = True
    while depth >= 0:
        if unit[depth] >= 0:
            i = unit[depth]
            used[i] = 0
            count -= 1
            need += float(p.sizes[i, 0, 0] + p.gap) * float(p.sizes[i, 0, 1] + p.gap) * float(p.sizes[i, 0, 2] + p.gap)
            unit[depth] = -1
        # One choice more than there are options: giving the corner up.
        if chosen[depth] > option_count[depth] or depth + 1 >= depth_max:
            depth -= 1
            continue
        nodes += 1
        if nodes > most_nodes:
            return False, nodes
        choice = chosen[depth]
        chosen[depth] += 1
        ia, ib = _lowest(nx[depth], ny[depth], h[depth])
        below = depth + 1
        xs[below], ys[below], h[below] = xs[depth], ys[depth], h[depth]
        nx[below], ny[below] = nx[depth], ny[depth]
        here = h[depth, ia, ib]
        if choice < option_count[depth]:
            i, way = options[depth, choice, 0], options[depth, choice, 1]
            for k in range(3):
                start = xs[depth, ia] if k == 0 else (ys[depth, ib] if k == 1 else here)
                at[i, axes[k]] = low[axes[k]] + start
                size[i, axes[k]] = p.sizes[i, way, axes[k]]
            if up == 2:
                if not supported(p, done, count, at, size, at[i, 0], at[i, 1], at[i, 2], size[i, 0], size[i, 1]):
                    continue
                done[count] = i
                if limited and not loads_hold(p, done, count + 1, at, size):
                    continue
            done[count] = i
            x2 = xs[depth, ia] + size[i, axes[0]] + p.gap
            y2 = ys[depth, ib] + size[i, axes[1]] + p.gap
            ea, new = _cut(xs[below], nx[below], x2)
            if new:
                for a in range(nx[below], ea - 1, -1):
                    h[below, a] = h[below, a - 1]
                nx[below] += 1
            eb, new = _cut(ys[below], ny[below], y2)
            if new:
                for b in range(ny[below], eb - 1, -1):
                    for a in range(nx[below]):
                        h[below, a, b] = h[below, a, b - 1]
                ny[below] += 1
            for a in range(ia, ea):
                for b in range(ib, eb):
                    h[below, a, b] = here + size[i, axes[2]] + p.gap
            used[i] = 1
            unit[depth] = i
            count += 1
            need -= float(p.sizes[i, 0, 0] + p.gap) * float(p.sizes[i, 0, 1] + p.gap) * float(p.sizes[i, 0, 2] + p.gap)
            if count == n:
                return True, nodes
        else:
            run = ia + 1
            if option_count[depth] == 0:
                while run < nx[depth] and h[depth, run, ib] == here:
                    run += 1
            rise = window[2]
            if ia:
                rise = min(rise, h[depth, ia - 1, ib])
            if run < nx[depth] and h[depth, run, ib] > here:
                rise = min(rise, h[depth, run, ib])
            for a in range(ia, run):
                if ib and h[depth, a, ib - 1] > here:
                    rise = min(rise, h[depth, a, ib - 1])
                if ib + 1 < ny[depth] and h[depth, a, ib + 1] > here:
                    rise = min(rise, h[depth, a, ib + 1])
            for a in range(ia, run):
                h[below, a, ib] = rise
        least = 1 << 60
        for i in range(n):
            if not used[i]:
                for way in range(p.ways[i]):
                    least = min(least, p.sizes[i, way, axes[2]] + p.gap)
        if _free(xs[below], nx[below], ys[below], ny[below], h[below], window[2], least) * (1.0 + 1e-12) < need:
            continue
        ia, ib = _lowest(nx[below], ny[below], h[below])
        if h[below, ia, ib] >= window[2]:
            continue
        option_count[below] = _options(
            p, axes, window, used, xs[below], nx[below], ys[below], ny[below], h[below], ia, ib, options[below], seed
        )
        chosen[below] = 0
        depth = below
    return False, nodes
