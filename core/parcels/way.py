"""One way to send a whole order: one parcel, or several (parcels; rules 3.1 and 5.1)."""

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from core.messages import Message, say
from core.parcels.candidate import Candidate, Costs, PlannedParcel
from core.recipes.expand import Use

__all__ = ["PlannedParcel", "Way", "called", "way_rank"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """All parcels of an order; their costs add up."""

    parcels: tuple[PlannedParcel, ...]

    @property
    def only(self) -> Candidate:
        """Return the one parcel of an order that is not divided.

        Raises ValueError when there are several.
        """
        (parcel,) = self.parcels
        return parcel.candidate

    def as_sent(self) -> "Way":
        """Return the way without what its parcels were weighed against."""
        return Way(parcels=tuple(replace(one, candidate=one.candidate.as_sent()) for one in self.parcels))

    @property
    def candidates(self) -> tuple[Candidate, ...]:
        """Return the parcels as packed."""
        return tuple(parcel.candidate for parcel in self.parcels)

    @property
    def key(self) -> str:
        """Return what names this way among the others."""
        return "+".join(candidate.key for candidate in self.candidates)

    @property
    def containers(self) -> tuple[str, ...]:
        """Return every outer container's code, strapped ones too."""
        return tuple(
            code
            for one in self.candidates
            for code in ([c.candidate.container for c in one.strapped.cartons] if one.strapped else [one.container])
        )

    @property
    def in_recipe(self) -> bool:
        """Return whether recipes name every container."""
        return all(candidate.in_recipe for candidate in self.candidates)

    @property
    def uses(self) -> tuple[Use, ...]:
        """Return what all the parcels take from the shelf."""
        return tuple(use for candidate in self.candidates for use in candidate.uses)

    @property
    def minutes(self) -> Decimal:
        """Return the minutes of hands for all parcels."""
        return sum((candidate.minutes for candidate in self.candidates), Decimal(0))

    @property
    def costs(self) -> Costs:
        """Return what all parcels cost together, line by line."""
        costs = [candidate.costs for candidate in self.candidates]
        return Costs(
            materials=sum((c.materials for c in costs), Decimal(0)),
            labour=sum((c.labour for c in costs), Decimal(0)),
            postage=sum((c.postage for c in costs), Decimal(0)),
            expected_loss=sum((c.expected_loss for c in costs), Decimal(0)),
            total=sum((c.total for c in costs), Decimal(0)),
        )

    @property
    def arrives_on(self) -> date:
        """Return the day the last parcel arrives."""
        return max(candidate.quote.arrives_on for candidate in self.candidates)


def way_rank(way: Way) -> tuple[Decimal, date, int, str]:
    """Cost, then earlier arrival, then smaller volume (rules 5.4)."""
    volume = sum(candidate.outer.volume_um3 for candidate in way.candidates)
    return way.costs.total, way.arrives_on, volume, way.key


def called(way: Way) -> Message:
    """Return how a way is called in a sentence: "C-14 cut to 120 mm and C-08"."""
    counts: dict[str, int] = {}
    first: dict[str, Candidate] = {}
    for candidate in way.candidates:
        first.setdefault(candidate.key, candidate)
        counts[candidate.key] = counts.get(candidate.key, 0) + 1
    names = tuple(
        _called(first[key]) if count == 1 else say("so_many_of", count=count, name=_called(first[key]))
        for key, count in counts.items()
    )
    return names[0] if len(names) == 1 else say("these", names=names)


def _called(candidate: Candidate) -> Message:
    if candidate.strapped is not None:
        one, other = (_called(carton.candidate) for carton in candidate.strapped.cartons)
        return say("strapped_to", one=one, other=other)
    if candidate.change is None:
        return say("named_container", container=candidate.container, name=candidate.name)
    return say("changed_container", container=candidate.container, change=candidate.change.words)
