"""Proofs that units cannot be in a container, without looking for places (packing kernel).

Dual feasible functions (Fekete and Schepers 2004, "A general framework for bounds for higher-dimensional orthogonal
packing problems"): a function f from [0, 1] to [0, 1] with f(x1) + ... + f(xk) <= 1 whenever x1 + ... + xk <= 1
turns sizes into sizes that fit together whenever the old ones did. So if the volumes of f(length) x g(width) x
h(height), each unit standing the way that makes its own least, add to more than 1, nothing can be found. The functions:
the identity; the steps u(k); the threshold that rounds sizes over 1 - e up to 1 and under e down to 0; and the
one that counts how many of e fit beside a size. Sums are floats; a proof needs a margin far above their error.
"""

import numpy as np
import numpy.typing as npt

from core.packing.kernel.compiled import ONE, TWO, ZERO, compiled
from core.packing.kernel.problem import Problem, Row

__all__ = ["function_value", "function_widths", "ruled_out_by_volumes"]

#: Distinct sizes per axis that serve as e: bounds the number of functions per axis to 1 + 4 + 2 x 8.
_MOST_SIZES = 8
_MARGIN = 1e-9
_Values = npt.NDArray[np.float64]


@compiled
def function_value(which: int, size: int, whole: int, epsilons: Row, epsilon_count: int) -> float:
    """Return f(size / whole) for function number ``which``."""
    if size > whole:
        return 2.0
    if which == 0:
        return size / whole
    if which <= 4:
        k = which
        if (k + 1) * size % whole == 0:
            return size / whole
        return ((k + 1) * size // whole) / k
    e: int = epsilons[(which - 5) % epsilon_count]
    if which < 5 + epsilon_count:
        if size > whole - e:
            return 1.0
        return 0.0 if size < e else size / whole
    most = whole // e
    if 2 * size > whole:
        return 1.0 - float((whole - size) // e) / most
    return 0.0 if size < e else 1.0 / most


@compiled
def function_widths(sizes: Row, whole: int) -> Row:
    """Return the distinct sizes, and what they leave, up to half of the whole; largest first, at most so many."""
    found = np.zeros(2 * len(sizes), dtype=np.int64)
    count = 0
    for size in sizes:
        for e in (size, whole - size + 1):
            if e > 0 and 2 * e <= whole:
                found[count] = e
                count += 1
    return np.unique(found[:count])[::-1][:_MOST_SIZES]


@compiled
def _tables(p: Problem, firsts: Row, axis: int, whole: int, fits: npt.NDArray[np.bool_]) -> _Values:
    """Return the values of every function along an axis, for each kind and way that fits; equal ones once."""
    kinds = len(firsts)
    sizes = np.zeros(6 * kinds, dtype=np.int64)
    count = 0
    for kind in range(kinds):
        for way in range(p.ways[firsts[kind]]):
            sizes[count] = p.sizes[firsts[kind], way, axis] + p.gap
            count += 1
    epsilons = function_widths(np.unique(sizes[:count]), whole)
    table = np.zeros((5 + 2 * len(epsilons), kinds, 6))
    kept = 0
    for which in range(len(table)):
        for kind in range(kinds):
            for way in range(p.ways[firsts[kind]]):
                if fits[kind, way]:
                    size = p.sizes[firsts[kind], way, axis] + p.gap
                    table[kept, kind, way] = function_value(which, size, whole, epsilons, len(epsilons))
        new = True
        for other in range(kept):
            if np.all(table[other] == table[kept]):
                new = False
                break
        if new:
            kept += 1
    return table[:kept]


@compiled
def _most(table: _Values) -> _Values:
    """Return the greatest value any function has, for each kind and way."""
    most: _Values = table[0].copy()
    for which in range(1, len(table)):
        most = np.maximum(most, table[which])
    return most


@compiled
def _total(values: _Values, other: _Values, ways: Row, quantities: Row) -> float:
    """Return the sum over all units of the product of both, each unit standing the way that makes its own least."""
    total = 0.0
    for kind in range(len(quantities)):
        best = 100.0
        for way in range(ways[kind]):
            best = min(best, values[kind, way] * other[kind, way])
        total += best * quantities[kind]
    return total


@compiled
def _exceeds(both: _Values, last: _Values, ways: Row, quantities: Row, total: _Values, least: _Values) -> bool:
    """Return whether with some function along the last axis all units, each standing as makes its own least, add to
    more than 1.

    ``last`` is kind, way, function: so that the sums over all functions run side by side. The last two are room to
    work.
    """
    functions = last.shape[2]
    total[:] = 0.0
    for kind in range(len(quantities)):
        for c in range(functions):
            least[c] = both[kind, 0] * last[kind, 0, c]
        for way in range(1, ways[kind]):
            for c in range(functions):
                least[c] = min(least[c], both[kind, way] * last[kind, way, c])
        for c in range(functions):
            total[c] += least[c] * quantities[kind]
    return bool(np.max(total) > 1.0 + _MARGIN)


@compiled
def ruled_out_by_volumes(p: Problem, firsts: Row, quantities: Row) -> bool:
    """Return True when it is certain that the units cannot all be in the container.

    ``firsts`` is one row number for each kind, ``quantities`` how many there are of it.
    """
    least_side, least_bottom, least_top = np.min(p.side), np.min(p.bottom), np.min(p.top)
    whole = np.zeros(3, dtype=np.int64)
    whole[0] = p.inner[0] - 2 * least_side + p.gap
    whole[1] = p.inner[1] - 2 * least_side + p.gap
    whole[2] = p.inner[2] - least_bottom - least_top + p.gap
    kinds = len(firsts)
    fits, ways = np.zeros((kinds, 6), dtype=np.bool_), np.zeros(kinds, dtype=np.int64)
    for kind in range(kinds):
        ways[kind] = p.ways[firsts[kind]]
        for way in range(ways[kind]):
            fits[kind, way] = True
            for axis in range(3):
                if p.sizes[firsts[kind], way, axis] + p.gap > whole[axis]:
                    fits[kind, way] = False
    one, two, three = (
        _tables(p, firsts, ZERO, whole[0], fits),
        _tables(p, firsts, ONE, whole[1], fits),
        _tables(p, firsts, TWO, whole[2], fits),
    )
    # A way that is too long for the window is no way at all.
    for kind in range(kinds):
        for way in range(ways[kind]):
            if not fits[kind, way]:
                one[:, kind, way] = 1e6
                two[:, kind, way] = 1.0
                three[:, kind, way] = 1.0
    most_three = _most(three)
    most_both = _most(two) * most_three
    last = np.ascontiguousarray(three.transpose((1, 2, 0)))
    total, least = np.empty(len(three), dtype=np.float64), np.empty(len(three), dtype=np.float64)
    for a in range(len(one)):
        # Where even the greatest values of the other axes do not add to more than 1, none does.
        if _total(one[a], most_both, ways, quantities) <= 1.0 + _MARGIN:
            continue
        for b in range(len(two)):
            both = one[a] * two[b]
            if _total(both, most_three, ways, quantities) <= 1.0 + _MARGIN:
                continue
            if _exceeds(both, last, ways, quantities, total, least):
                return True
    return False
