"""Equal units set side by side and on each other, moved as one (packing; used by ``clustering``).

A search among fifteen units is long, among eight it is short. Of equal units some stand in a regular cluster in most
packings anyhow, or can be moved together into one, so a packing of clusters is a packing of the units; that there is
none says nothing. Fanslau & Bortfeldt 2010 and others build such blocks for large loads; here they only make an order
smaller.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

from core.packing.kernel.chance import shuffled
from core.packing.model import Box, PackUnit, Placement, Triple
from core.units import Micrometres, Milligrams

__all__ = ["Cluster", "Clustered", "clustered", "clusters_of"]

#: Units in a cluster at most.
_MOST_IN_ONE = 8
#: Choices in a row that fit nowhere before it is left at that.
_PATIENCE = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class Cluster:
    """Equal units as one, all standing the same way."""

    number: Triple  #: how many along the length, along the width and upwards
    unit_um: Triple  #: one of them as it stands
    size_um: Triple  #: all, with the gaps between them
    load_on_top_mg: Milligrams | None  #: what the whole may carry, wherever it lies

    @property
    def count(self) -> int:
        """How many units it holds."""
        return self.number[0] * self.number[1] * self.number[2]

    def units_of(self, placed: Placement, code: str, gap_um: Micrometres) -> list[Placement]:
        """Return its units under their code where the cluster was placed, turned about the vertical or not."""
        number, one = self.number, self.unit_um
        if placed.size_um != self.size_um:
            number, one = (number[1], number[0], number[2]), (one[1], one[0], one[2])
        x, y, z = placed.at_um
        return [
            Placement(
                unit=code, size_um=one,
                at_um=(x + i * (one[0] + gap_um), y + j * (one[1] + gap_um), z + k * (one[2] + gap_um)),
            )
            for k in range(number[2]) for j in range(number[1]) for i in range(number[0])
        ]  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Clustered:
    """The same goods in fewer pieces: ``units`` are clusters and what stays single, ``parts`` what their codes stand for."""

    units: tuple[PackUnit, ...]
    parts: dict[str, tuple[str, Cluster | None]]

    def taken_apart(self, placements: tuple[Placement, ...], gap_um: Micrometres) -> tuple[Placement, ...]:
        """Return every single unit of placed clusters."""
        found: list[Placement] = []
        for placed in placements:
            code, cluster = self.parts[placed.unit]
            found += [replace(placed, unit=code)] if cluster is None else cluster.units_of(placed, code, gap_um)
        return tuple(found)


@lru_cache(maxsize=512)
def clusters_of(unit: PackUnit, gap_um: Micrometres) -> tuple[Cluster, ...]:
    """Return all clusters of two to eight of a unit; those that stand on each other only where they may carry it."""
    most = min(_MOST_IN_ONE, unit.quantity)
    found = []
    for up in unit.up_axes:
        one, other = (unit.size_um[axis] for axis in range(3) if axis != up)
        stands = (one, other, unit.size_um[up])
        for across in range(1, most + 1):
            for along in range(1, most // across + 1):
                for high in range(1, min(unit.most_high, most // (across * along)) + 1):
                    if across * along * high > 1:
                        found.append(_cluster(unit, (across, along, high), stands, gap_um))
    return tuple(found)


def _cluster(unit: PackUnit, number: Triple, stands: Triple, gap_um: Micrometres) -> Cluster:
    x, y, z = (n * (one + gap_um) - gap_um for n, one in zip(number, stands, strict=True))
    limit = unit.load_on_top_mg
    # Wherever a load lies on it, the lowest of one stack bears it beside what stands in the stack.
    left = None if limit is None else limit - (number[2] - 1) * unit.weight_mg
    return Cluster(number=number, unit_um=stands, size_um=(x, y, z), load_on_top_mg=left)


def clustered(box: Box, units: tuple[PackUnit, ...], gap_um: Micrometres, target: int, seed: int) -> Clustered:
    """Return the goods in about ``target`` pieces, by clusters chosen at random that fit in the container one by one.

    Equal input and seed give equal clusters. The more units are alike, the likelier some of them are chosen.
    """
    left = [unit.quantity for unit in units]
    fitting = _fitting(box.inner_um, units, gap_um)
    chosen: dict[tuple[int, Cluster], int] = {}
    pieces, misses = sum(left), 0
    while pieces > target and misses < _PATIENCE:
        seed = shuffled(seed)
        number = _one_of([max(0, n - 1) for n in left], seed)
        choice = [cluster for cluster in fitting[number] if cluster.count <= left[number]]
        if not choice:
            misses += 1
            continue
        seed = shuffled(seed)
        cluster = choice[seed % len(choice)]
        chosen[number, cluster] = chosen.get((number, cluster), 0) + 1
        left[number] -= cluster.count
        pieces -= cluster.count - 1
    return _joined(units, left, chosen)


@lru_cache(maxsize=64)
def _fitting(inner_um: Triple, units: tuple[PackUnit, ...], gap_um: Micrometres) -> tuple[tuple[Cluster, ...], ...]:
    """Return for each unit its clusters that fit in a container one by one."""
    return tuple(tuple(c for c in clusters_of(unit, gap_um) if _fits(c, inner_um)) for unit in units)


def _one_of(weights: list[int], seed: int) -> int:
    """Return a place, likelier the greater its weight; the last when all are nought."""
    at = seed % max(1, sum(weights))
    for place, weight in enumerate(weights):
        if at < weight:
            return place
        at -= weight
    return len(weights) - 1


def _fits(cluster: Cluster, inner_um: Triple) -> bool:
    (a, b, c), (d, e, f) = cluster.size_um, inner_um
    return c <= f and ((a <= d and b <= e) or (a <= e and b <= d))


def _by_size(one: tuple[tuple[int, Cluster], int]) -> tuple[int, Triple, Triple]:
    (number, cluster), _ = one
    return number, cluster.size_um, cluster.number


def _joined(units: tuple[PackUnit, ...], left: list[int], chosen: dict[tuple[int, Cluster], int]) -> Clustered:
    parts: dict[str, tuple[str, Cluster | None]] = {
        unit.code: (unit.code, None) for unit, count in zip(units, left, strict=True) if count
    }
    found = [replace(unit, quantity=count) for unit, count in zip(units, left, strict=True) if count]
    # However they were come upon, equal clusters are told alike.
    for (number, cluster), quantity in sorted(chosen.items(), key=_by_size):
        unit, code = units[number], f"{units[number].code}/{len(found)}"
        parts[code] = (unit.code, cluster)
        found.append(
            replace(
                unit, code=code, name=code, quantity=quantity, size_um=cluster.size_um, up_axes=(2,),
                weight_mg=cluster.count * unit.weight_mg, load_on_top_mg=cluster.load_on_top_mg,
            )
        )  # fmt: skip
    # The relation search wants the largest first.
    found.sort(key=lambda unit: (-unit.size_um[0] * unit.size_um[1] * unit.size_um[2], unit.code))
    return Clustered(units=tuple(found), parts=parts)
