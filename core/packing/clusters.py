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

__all__ = ["Choice", "Cluster", "Pieces", "chosen", "clusters_of", "pieces_of"]

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


#: What goods became: the places of pieces in ``Pieces.kinds``, and how many of each; in that order.
Choice = tuple[tuple[int, int], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Pieces:
    """All that goods can be made of in a container: single units, and clusters of them that fit in it one by one."""

    kinds: tuple[PackUnit, ...]  #: one of each, largest first
    parts: tuple[tuple[str, Cluster | None], ...]  #: what each stands for: the code of its units, and how they stand
    singles: tuple[int, ...]  #: of each unit of the goods its place among the kinds
    clusters: tuple[tuple[int, ...], ...]  #: and the places of its clusters
    counts: tuple[int, ...]  #: how many units each kind holds

    def units_of(self, choice: Choice) -> tuple[PackUnit, ...]:
        """Return the goods as these pieces."""
        return tuple(replace(self.kinds[place], quantity=many) for place, many in choice)

    def taken_apart(self, placements: tuple[Placement, ...], gap_um: Micrometres) -> tuple[Placement, ...]:
        """Return every single unit of placed pieces."""
        parts = {kind.code: part for kind, part in zip(self.kinds, self.parts, strict=True)}
        found: list[Placement] = []
        for placed in placements:
            code, cluster = parts[placed.unit]
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


def pieces_of(box: Box, units: tuple[PackUnit, ...], gap_um: Micrometres) -> Pieces:
    """Return all that the goods can be made of in the container."""
    made: list[tuple[PackUnit, int, Cluster | None]] = []
    for number, unit in enumerate(units):
        made.append((replace(unit, quantity=1), number, None))
        fitting = [cluster for cluster in clusters_of(unit, gap_um) if _fits(cluster, box.inner_um)]
        made += [(_as_one(unit, cluster, f"{unit.code}/{n}"), number, cluster) for n, cluster in enumerate(fitting)]
    # The relation search wants the largest first.
    made.sort(key=lambda one: (-one[0].size_um[0] * one[0].size_um[1] * one[0].size_um[2], one[0].code))
    numbers = range(len(units))
    return Pieces(
        kinds=tuple(kind for kind, _, _ in made),
        parts=tuple((units[number].code, cluster) for _, number, cluster in made),
        singles=tuple(next(k for k, (_, n, c) in enumerate(made) if n == number and c is None) for number in numbers),
        clusters=tuple(tuple(k for k, (_, n, c) in enumerate(made) if n == number and c) for number in numbers),
        counts=tuple(1 if cluster is None else cluster.count for _, _, cluster in made),
    )


def _fits(cluster: Cluster, inner_um: Triple) -> bool:
    (a, b, c), (d, e, f) = cluster.size_um, inner_um
    return c <= f and ((a <= d and b <= e) or (a <= e and b <= d))


def _as_one(unit: PackUnit, cluster: Cluster, code: str) -> PackUnit:
    return replace(
        unit, code=code, name=code, quantity=1, size_um=cluster.size_um, up_axes=(2,),
        weight_mg=cluster.count * unit.weight_mg, load_on_top_mg=cluster.load_on_top_mg,
    )  # fmt: skip


def chosen(pieces: Pieces, quantities: list[int], target: int, seed: int) -> Choice:
    """Return goods of so many units each as about ``target`` pieces, by clusters chosen at random.

    Equal input and seed give equal clusters. The more units are alike, the likelier some of them are chosen.
    """
    left = list(quantities)
    many: dict[int, int] = {}
    count, misses = sum(left), 0
    while count > target and misses < _PATIENCE:
        seed = shuffled(seed)
        number = _one_of([max(0, n - 1) for n in left], seed)
        choice = [place for place in pieces.clusters[number] if pieces.counts[place] <= left[number]]
        if not choice:
            misses += 1
            continue
        seed = shuffled(seed)
        place = choice[seed % len(choice)]
        many[place] = many.get(place, 0) + 1
        left[number] -= pieces.counts[place]
        count -= pieces.counts[place] - 1
    many.update((place, n) for place, n in zip(pieces.singles, left, strict=True) if n)
    # However they were come upon, equal clusters are told alike.
    return tuple(sorted(many.items()))


def _one_of(weights: list[int], seed: int) -> int:
    """Return a place, likelier the greater its weight; the last when all are nought."""
    at = seed % max(1, sum(weights))
    for place, weight in enumerate(weights):
        if at < weight:
            return place
        at -= weight
    return len(weights) - 1
