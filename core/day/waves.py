"""Waves: parcels gathered in one walk and packed one after another (day; rules 20.6).

A wave is for one hand-over and holds at most so many parcels as one carries. What is saved by gathering together is
walks, and fetching a thing once for several parcels; so waves are chosen that need the fewest: each counts WALK things
for the walk and one for each different product, container and supply fetched. Up to MOST_SURE parcels of a hand-over
every sharing out is looked through. Beyond, waves are filled one after another, each beginning with the first parcel to
be packed and taking those that add the fewest things; then parcels change places while that needs less.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.day.kernel import best_waves

__all__ = ["MOST_A_WAVE", "MOST_SURE", "WALK", "Gathered", "Wave", "needed_by", "waves_of"]

#: What one person carries (rules 20.6; a judgement).
MOST_A_WAVE = 6
#: A walk to the shelves and back takes about as long as picking four things (a judgement).
WALK = 4
#: Parcels of one hand-over of which every sharing out is looked through.
MOST_SURE = 12
#: Rounds of changing places.
_ROUNDS = 3
#: Waves further apart than this change no parcels: who is packed soon stays soon.
_NEAR = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Gathered:
    """A parcel to be gathered for: what it needs from the shelves."""

    code: str
    hand_over: str
    things: frozenset[str]  #: products, containers, supplies


@dataclass(frozen=True, slots=True, kw_only=True)
class Wave:
    """Parcels gathered together, in the order they are packed."""

    hand_over: str
    parcels: tuple[str, ...]
    exact: bool  #: no other sharing out of its hand-over's parcels needs fewer walks and things


def waves_of(parcels: Sequence[Gathered], *, most: int = MOST_A_WAVE) -> tuple[Wave, ...]:
    """Return the waves in the order they are gathered: by the first of their parcels, which are in packing order."""
    found: list[Wave] = []
    for hand_over in dict.fromkeys(one.hand_over for one in parcels):
        mine = [one for one in parcels if one.hand_over == hand_over]
        sure = len(mine) <= MOST_SURE
        groups = _every(mine, most) if sure else _filled(mine, most)
        found += [
            Wave(hand_over=hand_over, parcels=tuple(one.code for one in group), exact=sure) for group in groups if group
        ]
    rank = {one.code: number for number, one in enumerate(parcels)}
    return tuple(sorted(found, key=lambda wave: rank[wave.parcels[0]]))


def needed_by(parcels: Sequence[Gathered]) -> int:
    """Return what a wave costs: a walk, and each different thing once."""
    return WALK + len(frozenset().union(*(one.things for one in parcels))) if parcels else 0


def _every(parcels: list[Gathered], most: int) -> list[list[Gathered]]:
    names = sorted(frozenset().union(*(one.things for one in parcels)))
    things = np.array([[name in one.things for name in names] for one in parcels], dtype=np.int64)
    wave_of = np.zeros(len(parcels), dtype=np.int64)
    best_waves(things.reshape(len(parcels), len(names)), most, WALK, wave_of)
    return [
        [one for one, wave in zip(parcels, wave_of, strict=True) if wave == number]
        for number in range(int(wave_of.max()) + 1)
    ]


def _filled(parcels: list[Gathered], most: int) -> list[list[Gathered]]:
    """Fill wave after wave. Parcels are numbers in packing order here, and what each needs the bits of a number."""
    bits = {name: 1 << n for n, name in enumerate(sorted(frozenset().union(*(one.things for one in parcels))))}
    needs = [sum(bits[name] for name in one.things) for one in parcels]
    left = list(range(len(parcels)))
    groups: list[list[int]] = []
    while left:
        group = [left.pop(0)]
        have = needs[group[0]]
        while left and len(group) < most:
            best = min(left, key=lambda n: ((needs[n] & ~have).bit_count() - (needs[n] & have).bit_count(), n))
            group.append(best)
            left.remove(best)
            have |= needs[best]
        groups.append(group)
    for _ in range(_ROUNDS):
        if not _changed_places(groups, needs):
            break
    return [[parcels[n] for n in sorted(group)] for group in groups]


def _changed_places(groups: list[list[int]], needs: list[int]) -> bool:
    """Let two parcels of waves near each other change places wherever that needs less; return whether any did."""
    changed = False
    for first, second in ((a, b) for a in range(len(groups)) for b in range(a + 1, min(a + _NEAR, len(groups)))):
        for one in list(groups[first]):
            for other in list(groups[second]):
                here = _with(groups[first], one, other)
                there = _with(groups[second], other, one)
                now = _things(groups[first], needs) + _things(groups[second], needs)
                if _things(here, needs) + _things(there, needs) < now:
                    groups[first], groups[second] = here, there
                    changed = True
                    break
    return changed


def _with(group: list[int], out: int, into: int) -> list[int]:
    return [into if one == out else one for one in group]


def _things(group: list[int], needs: list[int]) -> int:
    """Return how many different things a wave needs."""
    have = 0
    for one in group:
        have |= needs[one]
    return have.bit_count()
