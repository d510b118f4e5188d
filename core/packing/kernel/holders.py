"""What may hold a unit off the floor, how much of a top it can have, and why (packing kernel; used by ``holding``)."""

from core.packing.kernel.compiled import ONE, TWO, ZERO, compiled
from core.packing.kernel.desk import (
    BASES,
    CLEAR,
    GAP,
    HIGH,
    LEAST,
    LEVEL,
    LIMIT_MG,
    MOST,
    MOST_UNITS,
    REST,
    UNITS,
    WAYS,
    under,
)
from core.packing.kernel.facts import (
    because_absent,
    because_high,
    because_least,
    because_low,
    because_most,
    because_settled,
)
from core.packing.kernel.problem import Row

__all__ = [
    "CAN", "area_um2", "barred", "because_base", "because_held_only_by", "because_only", "because_shared",
    "shared_um",
]  # fmt: skip

#: Why one cannot hold another: it can; it cannot be under it, or touch it; its top is too high or low; they lie apart.
CAN, _NOT_UNDER, _NOT_TOUCHING, _TOO_HIGH, _TOO_LOW, _APART = 0, 1, 2, 3, 4, 5


@compiled
def barred(desk: Row, k: int, j: int) -> int:
    """Return why k cannot hold j; from _APART on: along which axis they lie apart, and which comes first."""
    key, bit = under(k, j)
    if not desk[key] & bit:
        return _NOT_UNDER
    if desk[REST + MOST_UNITS * k + j] == CLEAR:
        return _NOT_TOUCHING
    # Its top must be able to lie exactly where j begins.
    if desk[6 * k + 2] + desk[LEAST + 3 * k + 2] > desk[6 * j + HIGH + 2]:
        return _TOO_HIGH
    if desk[6 * k + HIGH + 2] + desk[MOST + 3 * k + 2] < desk[6 * j + 2]:
        return _TOO_LOW
    for axis in range(2):
        if desk[6 * j + HIGH + axis] + desk[MOST + 3 * j + axis] - desk[GAP] <= desk[6 * k + axis]:
            return _APART + 2 * axis
        if desk[6 * k + HIGH + axis] + desk[MOST + 3 * k + axis] - desk[GAP] <= desk[6 * j + axis]:
            return _APART + 2 * axis + 1
    return CAN


@compiled
def _because_barred(desk: Row, k: int, j: int) -> None:
    """Give as reasons why k cannot hold j."""
    why = barred(desk, k, j)
    if why == _NOT_UNDER:
        key, bit = under(k, j)
        because_absent(desk, key, bit)
    elif why == _NOT_TOUCHING:
        because_settled(desk, REST + MOST_UNITS * k + j)
    elif why == _TOO_HIGH:
        least, latest = desk[LEAST + 3 * k + 2], desk[6 * j + HIGH + 2]
        because_least(desk, k, TWO, least)
        because_high(desk, j, TWO, latest)
        because_low(desk, k, TWO, latest - least + 1)
    elif why == _TOO_LOW:
        most, earliest = desk[MOST + 3 * k + 2], desk[6 * j + 2]
        because_most(desk, k, TWO, most)
        because_low(desk, j, TWO, earliest)
        because_high(desk, k, TWO, earliest - most - 1)
    elif why >= _APART:
        axis = (why - _APART) // 2
        first, then = (j, k) if (why - _APART) % 2 == 0 else (k, j)
        most, start = desk[MOST + 3 * first + axis], desk[6 * then + axis]
        because_most(desk, first, axis, most)
        because_low(desk, then, axis, start)
        because_high(desk, first, axis, start + desk[GAP] - most)


@compiled
def because_only(desk: Row, j: int, holders: int) -> None:
    """Give as reasons why nothing but the holders (bits) can hold j."""
    for k in range(desk[UNITS]):
        if k != j and desk[LIMIT_MG + k] != 0 and not holders >> k & 1:
            _because_barred(desk, k, j)


@compiled
def because_held_only_by(desk: Row, j: int, holders: int) -> None:
    """Give as reasons that j is off the floor and nothing but the holders (bits) can hold it."""
    because_settled(desk, LEVEL + j)
    because_only(desk, j, holders)


@compiled
def shared_um(desk: Row, k: int, j: int, axis: int) -> int:
    """Return how far the two can overlap along an axis at most, gap included, um."""
    most_j, most_k = desk[MOST + 3 * j + axis], desk[MOST + 3 * k + axis]
    shared = min(most_j, most_k)
    shared = min(shared, desk[6 * j + HIGH + axis] + most_j - desk[6 * k + axis])
    return int(min(shared, desk[6 * k + HIGH + axis] + most_k - desk[6 * j + axis]))


@compiled
def because_shared(desk: Row, k: int, j: int, axis: int) -> None:
    """Give as reasons why the two cannot overlap further along an axis."""
    shared = shared_um(desk, k, j, axis)
    for turn in range(2):
        one, other = (j, k) if turn == 0 else (k, j)
        most, latest, earliest = desk[MOST + 3 * one + axis], desk[6 * one + HIGH + axis], desk[6 * other + axis]
        if most == shared:
            because_most(desk, one, axis, shared)
            return
        if latest + most - earliest == shared:
            because_most(desk, one, axis, most)
            because_high(desk, one, axis, latest)
            because_low(desk, other, axis, earliest)
            return


@compiled
def because_base(desk: Row, j: int, least: int, most: int) -> None:
    """Give as reasons that the unit stands on no base smaller than ``least`` or larger than ``most``."""
    for way in range(6):
        base = desk[BASES + 6 * j + way]
        if 0 < base < least or base > most:
            because_absent(desk, WAYS + j, 1 << way)


@compiled
def area_um2(desk: Row, k: int, j: int) -> int:
    """Return the area j can have on k's top at most, um2."""
    return int((shared_um(desk, k, j, ZERO) - desk[GAP]) * (shared_um(desk, k, j, ONE) - desk[GAP]))
