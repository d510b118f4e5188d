"""Trials: which of two or more ways of packing arrives better, decided once and fairly (outcomes; rules 17.4).

How many of each are needed is fixed before: a pooled two-proportion z test at 5 % with power 80 %; 8 % against 2 %
needs 206 of each. There is one look, at the end. Looking every ten parcels would name a winner between equals in one
trial of five, so before the end the numbers are shown and no winner is. With more than two versions each pair is tested
at its share of the 5 %.

Which order is packed which way is nobody's choice: within each carrier and zone, versions come in shuffled blocks of
two of each, so none gets the far zones or the careful carrier.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from hashlib import sha256
from itertools import combinations
from math import ceil, sqrt
from statistics import NormalDist
from typing import Literal

from core.outcomes.rates import Counted

__all__ = ["POWER", "SIGNIFICANCE", "Arm", "Verdict", "needed_each", "p_value", "picked", "verdict_of"]

SIGNIFICANCE = 0.05
POWER = 0.80
#: Of each version in a block: with one, the last of a block could be foretold.
_OF_EACH = 2
_NORMAL = NormalDist()


@dataclass(frozen=True, slots=True, kw_only=True)
class Arm:
    """One version in a trial, and how its parcels arrived."""

    version: int
    counted: Counted


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """What a trial says.

    ``not_yet``: too few are known. ``leads``: one version is better than every other. ``no_difference``: at the end
    none is; ``p``: of the best against the next, as a share.
    """

    code: Literal["not_yet", "leads", "no_difference"]
    version: int | None = None
    more: tuple[tuple[int, int], ...] = ()  #: per version: how many more must be known
    p: Decimal | None = None


def _level(versions: int) -> float:
    return SIGNIFICANCE / (versions * (versions - 1) / 2)


def needed_each(rate: Decimal, other: Decimal, versions: int = 2) -> int:
    """Return how many of each version must be known to tell two rates apart.

    >>> needed_each(Decimal("0.08"), Decimal("0.02")), needed_each(Decimal("0.04"), Decimal("0.015"))
    (206, 671)

    Raises ValueError when the rates are equal, are no shares, or there are fewer than two versions.
    """
    p, q = float(rate), float(other)
    if p == q or not (0 <= p <= 1 and 0 <= q <= 1) or versions < 2:
        raise ValueError(f"{rate} against {other}, {versions} versions")
    a = _NORMAL.inv_cdf(1 - _level(versions) / 2)
    b = _NORMAL.inv_cdf(POWER)
    middle = (p + q) / 2
    top = a * sqrt(2 * middle * (1 - middle)) + b * sqrt(p * (1 - p) + q * (1 - q))
    return ceil(round((top / (p - q)) ** 2, 9))


def p_value(one: Counted, other: Counted) -> float:
    """Return how often so large a difference comes by chance: pooled two-proportion z test, two-sided; 1 with nothing
    to tell apart.
    """
    if not one.known or not other.known:
        return 1.0
    pooled = (one.damaged + other.damaged) / (one.known + other.known)
    spread = sqrt(pooled * (1 - pooled) * (1 / one.known + 1 / other.known))
    if spread == 0:
        return 1.0
    z = abs(one.damaged / one.known - other.damaged / other.known) / spread
    return 2 * (1 - _NORMAL.cdf(z))


def verdict_of(arms: Sequence[Arm], each: int) -> Verdict:
    """Return what a trial of ``each`` known parcels a version says; no winner before every version has them.

    Raises ValueError with fewer than two versions.
    """
    if len(arms) < 2:
        raise ValueError("a trial compares two versions or more")
    more = tuple((arm.version, max(0, each - arm.counted.known)) for arm in arms)
    if any(left for _, left in more):
        return Verdict(code="not_yet", more=more)
    by_rate = sorted(arms, key=lambda arm: (arm.counted.damaged / arm.counted.known, arm.version))
    best = by_rate[0]
    level = _level(len(arms))
    chances = [p_value(best.counted, arm.counted) for arm in by_rate[1:]]
    p = Decimal(f"{chances[0]:.6f}")
    if all(chance < level for chance in chances):
        return Verdict(code="leads", version=best.version, p=p)
    return Verdict(code="no_difference", p=p)


def picked(versions: Sequence[int], stratum: str, had: int, seed: str) -> int:
    """Return the version the next order of a stratum is packed as, when ``had`` of the stratum are picked already.

    ``stratum``: carrier and zone. Deterministic by ``seed``, so that nobody draws again.

    >>> sorted(picked((3, 4), "oxgang/near", n, "t1") for n in range(4))
    [3, 3, 4, 4]
    """
    size = len(versions) * _OF_EACH
    block, at = divmod(had, size)
    slots = [version for version in versions for _ in range(_OF_EACH)]

    def drawn(slot: int) -> bytes:
        return sha256(f"{seed}|{stratum}|{block}|{slot}".encode()).digest()

    return slots[sorted(range(size), key=drawn)[at]]


def balance_of(picks: Sequence[tuple[str, int]]) -> Mapping[str, Mapping[int, int]]:
    """Return how many of each version every stratum has: (stratum, version) as they were picked."""
    found: dict[str, dict[int, int]] = {}
    for stratum, version in picks:
        row = found.setdefault(stratum, {})
        row[version] = row.get(version, 0) + 1
    return found


def most_apart(picks: Sequence[tuple[str, int]], versions: Sequence[int]) -> int:
    """Return by how many two versions differ at most within one stratum."""
    worst = 0
    for row in balance_of(picks).values():
        worst = max([worst, *(abs(row.get(a, 0) - row.get(b, 0)) for a, b in combinations(versions, 2))])
    return worst
