"""Lengths to cut from rolls for several parcels at once: fewest cuts, least waste (day; rules 20.6, 2.3).

Sheets of one roll are laid side by side across it: each cut makes one length of the roll's whole width. The longest
sheets come first; one goes into the first length that has room beside, else a new length is cut off. A shorter sheet
may lie in the room beside a longer one. Of equal sheets no sharing out needs fewer cuts; of different ones the least
number is known only as a bound (their area over that of the longest lengths), which is told with it.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from core.units import Micrometres

__all__ = ["CutOff", "SheetNeed", "cut_offs"]


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetNeed:
    """So many equal sheets for one parcel."""

    parcel: str
    count: int
    along_um: Micrometres
    across_um: Micrometres


@dataclass(frozen=True, slots=True, kw_only=True)
class CutOff:
    """Equal lengths cut off one roll, and what comes out of each."""

    count: int
    length_um: Micrometres
    sheets: tuple[tuple[Micrometres, Micrometres, int], ...]  #: along, across, how many out of one length
    waste_um2: int  #: of all these lengths


def cut_offs(needs: Sequence[SheetNeed], roll_width_um: Micrometres) -> tuple[CutOff, ...]:
    """Return the lengths to cut off a roll, longest first. No sheet is wider than the roll.

    >>> two = SheetNeed(parcel="1", count=3, along_um=680_000, across_um=200_000)
    >>> [(one.count, one.length_um) for one in cut_offs([two, two], 500_000)]  # 3 for six sheets, not 2 + 2
    [(3, 680000)]
    """
    sheets = sorted(((need.along_um, need.across_um) for need in needs for _ in range(need.count)), reverse=True)
    lengths: list[tuple[int, list[tuple[int, int]]]] = []
    room: list[int] = []
    for along, across in sheets:
        at = next((n for n, free in enumerate(room) if free >= across), None)
        if at is None:
            lengths.append((along, [(along, across)]))
            room.append(roll_width_um - across)
        else:
            lengths[at][1].append((along, across))
            room[at] -= across
    patterns: dict[tuple[int, tuple[tuple[int, int], ...]], int] = {}
    for length_um, on in lengths:
        patterns[length_um, tuple(on)] = patterns.get((length_um, tuple(on)), 0) + 1
    return tuple(
        CutOff(
            count=count,
            length_um=length_um,
            sheets=tuple((*sheet, on.count(sheet)) for sheet in dict.fromkeys(on)),
            waste_um2=count * (length_um * roll_width_um - sum(along * across for along, across in on)),
        )
        for (length_um, on), count in patterns.items()
    )
