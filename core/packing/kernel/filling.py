"""Filling a container unit by unit (packing kernel).

Each unit of an order goes to the best corner of the maximal empty spaces by one of several scores; a unit that found
no place is tried again when others have made tops to stand on. ``improve`` begins from several sorted orders and then
disturbs the best one a bounded number of times: random numbers come from a counter, so equal input gives equal output.
"""

import numpy as np

from core.packing.kernel.burdens import Burdens, burdens_for, can_carry, holders_of, lies_under, set_down
from core.packing.kernel.chance import FIRST_SEED, shuffled
from core.packing.kernel.compiled import ONE, ZERO, compiled
from core.packing.kernel.problem import Grid, Problem, Row
from core.packing.kernel.resting import loads_hold
from core.packing.kernel.spaces import MOST_SPACES, carve

__all__ = ["SCORES", "fill", "improve"]

#: How places are compared: 0 low-back-left, 1 tightest fit, 2 most contact, 3 far corner nearest the origin corner,
#: 4 lowest top.
SCORES = 5
#: How high units stand that need less cushion below than the deepest: on the level of that one, as low as each may,
#: or so that tops are even.
LEVEL, LOW, EVEN = 0, 1, 2
#: Scores tried at first with units as low as each may stand.
_LOW_SCORES = 2


@compiled
def _score(
    how: int, x: int, y: int, z: int, dx: int, dy: int, dz: int, slack_x: int, slack_y: int, slack_z: int, flush: int
) -> int:
    """Return one number, smaller is better, for a place in a space; lengths are cut to tenths of a millimetre.

    ``slack``: what the space has left along each axis; ``flush``: bits, the unit touches the space's end across 0, 1.
    """
    if how == 0:
        return ((z // 100) << 40) + ((y // 100) << 20) + x // 100
    if how == 1:
        return ((z // 100) << 40) + ((min(slack_x, slack_y) // 100) << 20) + (slack_x + slack_y) // 100
    if how == 2:
        touch = 0
        if slack_x == 0:
            touch += 2 * dy * dz // 10000
        elif flush & 1:
            touch += dy * dz // 10000
        if slack_y == 0:
            touch += 2 * dx * dz // 10000
        elif flush & 2:
            touch += dx * dz // 10000
        touch += dx * dy // 10000
        if slack_z == 0:
            touch += dx * dy // 10000
        return -touch
    if how == 3:
        a, b, c = (x + dx) // 100, (y + dy) // 100, (z + dz) // 100
        return a * a + b * b + c * c
    return (((z + dz) // 100) << 40) + (((y + dy) // 100) << 20) + (x + dx) // 100


@compiled
def _even_with_others(low: int, floor: int, dz: int, done: Row, count: int, at: Grid, size: Grid) -> int:
    """Return the least height on the floor's cushion at which the top is level with a placed unit's, else ``low``."""
    best = floor + 1
    for index in range(count):
        k = done[index]
        z = at[k, 2] + size[k, 2] - dz
        if low <= z < best and at[k, 2] <= floor:
            best = z
    return best if best <= floor else low


@compiled
def _best_place(
    p: Problem,
    i: int,
    how: int,
    level: int,
    corners: int,
    spaces: Grid,
    space_count: int,
    done: Row,
    count: int,
    at: Grid,
    size: Grid,
    loaded: bool,
    allowed: Row,
    b: Burdens,
) -> bool:
    """Place unit i at its best valid corner; return whether there is one. ``at`` and ``size`` of i are written."""
    found = False
    best = 0
    keep_at, keep_size = np.zeros(3, dtype=np.int64), np.zeros(3, dtype=np.int64)
    # Handing the whole problem to a compiled function costs more than the sums in it: plain numbers inside the loops.
    gap, floor, support, side, bottom, top = p.gap, p.floor, p.support, p.side[i], p.bottom[i], p.top[i]
    long, wide, high = p.inner[0], p.inner[1], p.inner[2]
    sizes = p.sizes[i]
    for way in range(p.ways[i]):
        if not allowed[i] >> way & 1:
            continue
        dx, dy, dz = sizes[way, 0], sizes[way, 1], sizes[way, 2]
        for s in range(space_count):
            x1, y1, z = spaces[s, 0], spaces[s, 1], spaces[s, 2]
            x2, y2, z2 = spaces[s, 3], spaces[s, 4], spaces[s, 5]
            if z <= floor:
                # The cushion is level: a unit that needs less below stands lower only where it must.
                z = max(z, floor)
                if level != LEVEL or z + dz + gap > z2 or z + dz + top > high:
                    z = max(spaces[s, 2], bottom)
                    if level == EVEN:
                        z = _even_with_others(z, floor, dz, done, count, at, size)
            if z + dz + gap > z2 or z + dz + top > high:
                continue
            x_low, x_high = max(x1, side), min(x2 - gap, long - side) - dx
            y_low, y_high = max(y1, side), min(y2 - gap, wide - side) - dy
            if x_low > x_high or y_low > y_high:
                continue
            slack_x, slack_y, slack_z = x2 - x1 - dx - gap, y2 - y1 - dy - gap, z2 - spaces[s, 2] - dz - gap
            for corner in range(corners):
                if (corner & 1 and x_high == x_low) or (corner & 2 and y_high == y_low):
                    continue
                x = x_high if corner & 1 else x_low
                y = y_high if corner & 2 else y_low
                flush = (1 if x == x1 or x + dx + gap == x2 else 0) | (2 if y == y1 or y + dy + gap == y2 else 0)
                score = _score(how, x, y, z, dx, dy, dz, slack_x, slack_y, slack_z, flush)
                if found and score >= best:
                    continue
                if z > floor and (support > 0 or loaded):
                    holders, held = holders_of(gap, p.limit, done, count, at, size, b, x, y, z, dx, dy)
                    if held < 0 or held * 100 < support * dx * dy:
                        continue
                    if loaded and not can_carry(p.limit, p.weight[i], holders, held, b, False):
                        continue
                if loaded and lies_under(gap, floor, done, count, at, size, x, y, z + dz, dx, dy):
                    # It would come to lie under a unit that is placed already: all loads are handed down anew.
                    at[i, 0], at[i, 1], at[i, 2] = x, y, z
                    size[i, 0], size[i, 1], size[i, 2] = dx, dy, dz
                    done[count] = i
                    if not loads_hold(p, done, count + 1, at, size):
                        continue
                found = True
                best = score
                keep_at[0], keep_at[1], keep_at[2] = x, y, z
                keep_size[0], keep_size[1], keep_size[2] = dx, dy, dz
    if found:
        at[i] = keep_at
        size[i] = keep_size
    return found


@compiled
def _write_rest(p: Problem, placed: Row, least: Row, rest: Grid) -> int:
    """Write the sizes units not placed yet can have, and the least along each axis; return how many sizes."""
    least[:] = 1 << 60
    kind, count = -1, 0
    for i in range(len(placed)):
        if placed[i] or p.kind[i] == kind:
            continue
        kind = p.kind[i]
        for way in range(p.ways[i]):
            for axis in range(3):
                rest[count, axis] = p.sizes[i, way, axis] + p.gap
                least[axis] = min(least[axis], rest[count, axis])
            count += 1
    return count


@compiled
def _volume(p: Problem, i: int) -> int:
    """Return a unit's volume in thousands of um3, never nought."""
    volume: int = p.sizes[i, 0, 0] * p.sizes[i, 0, 1] // 1000 * p.sizes[i, 0, 2] // 1000 + 1
    return volume


@compiled
def fill(
    p: Problem,
    order: Row,
    how: int,
    level: int,
    corners: int,
    at: Grid,
    size: Grid,
    placed: Row,
    allowed: Row,
    most_left: int,
    work: Row,
) -> int:
    """Place the units in the order given; return the volume left out, um3 in thousandths of a litre steps.

    Nought means all are placed: ``at`` and ``size`` then hold every unit. Where nothing has to rest on anything a unit
    that found no place finds none later: the filling ends as soon as more than ``most_left`` (-1: any) is left out.
    """
    n = len(order)
    spaces = np.zeros((MOST_SPACES, 6), dtype=np.int64)
    spaces[0, 3], spaces[0, 4], spaces[0, 5] = p.inner[0] + p.gap, p.inner[1] + p.gap, p.inner[2] + p.gap
    space_count = ONE
    done = np.zeros(n + 1, dtype=np.int64)
    count = ZERO
    placed[:] = 0
    loaded = bool(np.max(p.limit) >= 0)
    burdens = burdens_for(n if loaded or p.support > 0 else 0)
    failed, rest = np.zeros(n, dtype=np.int64), np.empty((6 * n, 3), dtype=np.int64)
    low, high, least = np.zeros(3, dtype=np.int64), np.zeros(3, dtype=np.int64), np.zeros(3, dtype=np.int64)
    again = True
    while again and count < n:
        again = False
        failed[:] = 0
        lost = 0
        for i in order:
            if placed[i] or failed[p.kind[i]]:
                continue
            # Places looked at and spaces compared with each other: what a filling costs.
            work[0] += 8 + p.ways[i] * space_count
            if not _best_place(
                p, i, how, level, corners, spaces, space_count, done, count, at, size, loaded, allowed, burdens
            ):
                failed[p.kind[i]] = 1
                lost += _volume(p, i)
                if p.support == 0 and 0 <= most_left < lost:
                    return lost
                continue
            placed[i] = 1
            done[count] = i
            count += 1
            if loaded:
                set_down(p, i, done, count, at, size, burdens)
            again = True
            for axis in range(3):
                low[axis], high[axis] = at[i, axis], at[i, axis] + size[i, axis] + p.gap
            rest_count = _write_rest(p, placed, least, rest)
            space_count = carve(spaces, space_count, low, high, least, rest, rest_count, work)
        again = again and p.support > 0
    left = 0
    for i in range(n):
        if not placed[i]:
            left += _volume(p, i)
    return left


@compiled
def improve(p: Problem, orders: Grid, scores: int, tries: int, most_work: int, at: Grid, size: Grid) -> tuple[int, int]:
    """Fill from every order with the first ``scores`` scores, then disturb the best order ``tries`` times; return the volume left out.

    Nought means all units are placed in ``at`` and ``size``.
    """
    n = orders.shape[1]
    placed = np.zeros(n, dtype=np.int64)
    best_left = -1
    work = np.zeros(1, dtype=np.int64)
    every = np.full(n, 63, dtype=np.int64)
    best_order, best_how = orders[0].copy(), 0
    best_placed = placed.copy()
    levels = 3 if np.min(p.bottom) < p.floor else 1
    best_level = LEVEL
    for level in range(min(levels, EVEN)):
        for how in range(scores if level == LEVEL else min(scores, _LOW_SCORES)):
            for row in range(orders.shape[0]):
                left = fill(p, orders[row], how, level, ONE, at, size, placed, every, -ONE, work)
                if left == 0:
                    return 0, work[0]
                if best_left < 0 or left < best_left:
                    best_left, best_how, best_level = left, how, level
                    best_order[:] = orders[row]
                    best_placed[:] = placed
    seed = FIRST_SEED
    here, here_left, here_how, here_placed = best_order.copy(), best_left, best_how, best_placed.copy()
    here_level = best_level
    allowed, here_allowed = every.copy(), every.copy()
    order = here.copy()
    idle = 0
    for _ in range(tries):
        if work[0] > most_work:
            break
        order[:] = here
        allowed[:] = here_allowed
        seed = shuffled(seed)
        how = here_how if seed % 2 else (seed >> 8) % SCORES
        corners = 4 if (seed >> 20) % 3 == 0 else 1
        level = here_level if (seed >> 24) % 3 else (seed >> 28) % levels
        seed = shuffled(seed)
        moves = 1 + seed % 3
        for _ in range(moves):
            seed = shuffled(seed)
            a = (seed >> 4) % n
            if p.support > 0 and (seed >> 40) % 4 == 0:
                # Let a unit stand one way only, or any way again.
                unit = order[a]
                ways = p.ways[unit]
                allowed[unit] = 63 if allowed[unit] != 63 else 1 << ((seed >> 44) % ways)
            elif (seed >> 30) % 2:
                # Bring a unit that was left out forward.
                for step in range(n):
                    if not here_placed[order[(a + step) % n]]:
                        a = (a + step) % n
                        break
                b = (seed >> 36) % (a + 1)
                unit = order[a]
                for place in range(a, b, -1):
                    order[place] = order[place - 1]
                order[b] = unit
            else:
                b = (seed >> 36) % n
                order[a], order[b] = order[b], order[a]
        left = fill(p, order, how, level, corners, at, size, placed, allowed, here_left, work)
        if left == 0:
            return 0, work[0]
        idle += 1
        if left <= here_left:
            if left < here_left:
                idle = 0
            here_left, here_how, here_level = left, how, level
            here[:] = order
            here_allowed[:] = allowed
            here_placed[:] = placed
        elif idle > 60:
            idle = 0
            seed = shuffled(seed)
            row = seed % orders.shape[0]
            here[:] = orders[row]
            here_allowed[:] = 63
            here_how = (seed >> 10) % SCORES
            here_level = (seed >> 14) % levels
            here_left = fill(p, here, here_how, here_level, ONE, at, size, here_placed, here_allowed, -ONE, work)
            if here_left == 0:
                return 0, work[0]
    return here_left, work[0]
