"""Which kinds of carton to keep: at most k of them, with the least cost of a period's contents (buying; rules 21.1).

Exactly, as a mixed-integer model: y says which kinds are kept, x which content goes into which, x at most y. Costs are
whole numbers (minor units or finer). A carton whose cost is another's or more in every content is left out first.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.buying.mip import Floats, Rows, minimise

__all__ = ["CartonChoice", "Chosen", "CostOfK", "Kept", "choose_cartons", "cost_by_k"]


@dataclass(frozen=True, slots=True, kw_only=True)
class CartonChoice:
    """What is chosen from. ``cost[content][carton]``: of one parcel; None: the carton does not take it."""

    counts: tuple[int, ...]  #: how often each content came
    cost: tuple[tuple[int | None, ...], ...]
    keeping: tuple[int, ...]  #: of each carton over the same period


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """One kind that is kept."""

    carton: int
    contents: tuple[int, ...]  #: what it is used for
    parcels: int
    without_it: int | None  #: what the rest would cost more without it; None: something would go into none


@dataclass(frozen=True, slots=True, kw_only=True)
class Chosen:
    """The kinds kept and what they come to."""

    kept: tuple[Kept, ...]
    total: int  #: of all contents any carton takes, and of keeping the kinds
    assigned: tuple[int | None, ...]  #: the carton of each content; None: no carton takes it
    in_none: tuple[int, ...]  #: contents no carton takes at all
    left_over: tuple[int, ...]  #: contents none of the chosen takes, since so few kinds take not all
    proven: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class CostOfK:
    """What the best k kinds cost."""

    kinds: int
    total: int
    left_over: int  #: parcels that go into none of them
    proven: bool


def choose_cartons(asked: CartonChoice, k: int, *, seconds: float = 45.0) -> Chosen:
    """Return the best at most k kinds; as many parcels as can be are taken first, then the cost counts.

    Raises ValueError when k is below 1.
    """
    if k < 1:
        raise ValueError(f"at least one kind is kept; given: {k}")
    work = _Work(asked)
    kinds, proven = work.exact(k, seconds)
    return work.told(kinds, proven)


def cost_by_k(asked: CartonChoice, most: int, *, known: Chosen | None = None) -> tuple[CostOfK, ...]:
    """Return the cost over k, found by exchanging kinds one by one; what is ``known`` stands as it is."""
    work = _Work(asked)
    found = []
    for k in range(1, most + 1):
        if known is not None and k == len(known.kept):
            left = sum(asked.counts[at] for at in known.left_over)
            found.append(CostOfK(kinds=k, total=known.total, left_over=left, proven=known.proven))
            continue
        told = work.told(work.exchanged(k), False)
        left = sum(asked.counts[at] for at in told.left_over)
        found.append(CostOfK(kinds=k, total=told.total, left_over=left, proven=False))
    return tuple(found)


class _Work:
    """The costs as arrays: all parcels of a content together; what a carton does not take costs more than all else."""

    def __init__(self, asked: CartonChoice) -> None:
        self.asked = asked
        counts = np.array(asked.counts, dtype=np.float64)
        plain = np.array([[np.inf if c is None else c for c in row] for row in asked.cost], dtype=np.float64)
        plain = plain.reshape(len(asked.cost), len(asked.keeping))
        self.taken = np.flatnonzero(np.isfinite(plain).any(axis=1))  #: contents some carton takes
        costs = plain[self.taken] * counts[self.taken, None]
        finite = costs[np.isfinite(costs)]
        # More than everything else together, a parcel: so as many parcels as can be go somewhere.
        self.penalty = float(finite.sum() + sum(asked.keeping) + 1) if finite.size else 1.0
        weight = counts[self.taken, None] * self.penalty
        self.costs: Floats = np.where(np.isfinite(costs), costs, weight)
        self.missing: Floats = weight[:, 0]
        self.keeping = np.array(asked.keeping, dtype=np.float64)
        self.open = self._undominated()

    def _undominated(self) -> list[int]:
        """Return the cartons that are not at least as expensive as another for everything."""
        found = []
        for one in range(len(self.keeping)):
            beaten = False
            for other in range(len(self.keeping)):
                if other == one or self.keeping[other] > self.keeping[one]:
                    continue
                if np.all(self.costs[:, other] <= self.costs[:, one]):
                    same = self.keeping[other] == self.keeping[one] and np.array_equal(
                        self.costs[:, other], self.costs[:, one]
                    )
                    if not same or other < one:
                        beaten = True
                        break
            if not beaten:
                found.append(one)
        return found

    def cost_of(self, kinds: Sequence[int]) -> float:
        """Return what the kinds cost, with the penalty of what they do not take."""
        if not kinds:
            return float(self.missing.sum())
        return float(self.costs[:, list(kinds)].min(axis=1).sum() + self.keeping[list(kinds)].sum())

    def exchanged(self, k: int) -> list[int]:
        """Return a good choice: the kind that saves most is added, then kinds are exchanged while that saves."""
        kinds: list[int] = []
        while len(kinds) < k:
            best = min(self._other(kinds), key=lambda one: (self.cost_of([*kinds, one]), one), default=None)
            if best is None or (kinds and self.cost_of([*kinds, best]) >= self.cost_of(kinds)):
                break
            kinds.append(best)
        while True:
            now = self.cost_of(kinds)
            tried = [
                (self.cost_of([*kinds[:at], other, *kinds[at + 1 :]]), at, other)
                for at in range(len(kinds))
                for other in self._other(kinds)
            ]
            best_swap = min(tried, default=None)
            if best_swap is None or best_swap[0] >= now:
                return sorted(kinds)
            kinds[best_swap[1]] = best_swap[2]

    def _other(self, kinds: Sequence[int]) -> list[int]:
        return [one for one in self.open if one not in kinds]

    def exact(self, k: int, seconds: float) -> tuple[list[int], bool]:
        """Return the best choice; what exchanging found when the time is over first."""
        known = self.exchanged(k)
        contents, kinds = len(self.taken), len(self.open)
        if not contents or not kinds:
            return known, True
        # A content goes into none of the chosen at the penalty of its own column.
        columns = kinds + contents * kinds + contents
        cost = np.zeros(columns)
        cost[:kinds] = self.keeping[self.open]
        cost[kinds : kinds + contents * kinds] = self.costs[:, self.open].ravel()
        cost[kinds + contents * kinds :] = self.missing
        answer = minimise(cost, self._rows(k), seconds=seconds, whole=range(kinds))
        if answer.values is None:
            return known, False
        found = [self.open[at] for at in range(kinds) if answer.values[at] > 0.5]
        found = self._used(found)
        if self.cost_of(known) < self.cost_of(found):
            return known, answer.proven and self.cost_of(known) >= self.cost_of(found) - 0.5
        return found, answer.proven

    def _rows(self, k: int) -> Rows:
        contents, kinds = len(self.taken), len(self.open)
        first, none = kinds, kinds + contents * kinds
        start, index, value, low, high = [0], [], [], [], []
        index += list(range(kinds))
        value += [1.0] * kinds
        start.append(len(index))
        low.append(-np.inf)
        high.append(float(k))
        for content in range(contents):
            index += [*range(first + content * kinds, first + (content + 1) * kinds), none + content]
            value += [1.0] * (kinds + 1)
            start.append(len(index))
            low.append(1.0)
            high.append(1.0)
        for content in range(contents):
            for kind in range(kinds):
                if self.costs[content, self.open[kind]] >= self.missing[content]:
                    index += [first + content * kinds + kind]
                    value += [1.0]
                    high.append(0.0)
                else:
                    index += [first + content * kinds + kind, kind]
                    value += [1.0, -1.0]
                    high.append(0.0)
                low.append(-np.inf)
                start.append(len(index))
        return Rows(
            start=np.array(start), index=np.array(index), value=np.array(value), low=np.array(low), high=np.array(high)
        )

    def _used(self, kinds: Sequence[int]) -> list[int]:
        """Return the kinds anything goes into."""
        if not kinds:
            return []
        best = np.array(kinds)[self.costs[:, list(kinds)].argmin(axis=1)]
        takes = self.costs[:, list(kinds)].min(axis=1) < self.missing
        return sorted({int(one) for one, taken in zip(best, takes, strict=True) if taken})

    def told(self, kinds: Sequence[int], proven: bool) -> Chosen:
        """Return a choice as it is told."""
        asked = self.asked
        assigned: list[int | None] = [None] * len(asked.counts)
        for place, content in enumerate(self.taken):
            options = [one for one in kinds if asked.cost[content][one] is not None]
            if options:
                assigned[int(content)] = min(options, key=lambda one: (self.costs[place, one], one))
        taken = {int(one) for one in self.taken}
        kept = []
        for kind in kinds:
            mine = tuple(at for at, one in enumerate(assigned) if one == kind)
            if not mine:
                continue
            rest = [one for one in kinds if one != kind]
            more = self.cost_of(rest) - self.cost_of(kinds)
            kept.append(
                Kept(
                    carton=kind,
                    contents=mine,
                    parcels=sum(asked.counts[at] for at in mine),
                    without_it=None if more >= self.penalty / 2 else round(more),
                )
            )
        used = {one.carton for one in kept}
        total = sum(asked.counts[at] * (asked.cost[at][one] or 0) for at, one in enumerate(assigned) if one is not None)
        return Chosen(
            kept=tuple(sorted(kept, key=lambda one: (-one.parcels, one.carton))),
            total=total + sum(asked.keeping[one] for one in used),
            assigned=tuple(assigned),
            in_none=tuple(at for at in range(len(asked.counts)) if at not in taken),
            left_over=tuple(at for at in sorted(taken) if assigned[at] is None),
            proven=proven,
        )
