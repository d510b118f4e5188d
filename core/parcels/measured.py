"""Amounts of fill that hands can measure: sheets, metres, scoops, grams, part by part (parcels; rules 6.5).

What is fetched is told in the fill's own measure, in whole steps of it, and shared out to the faces so that the
parts add up to what is fetched. The ledger still draws the exact litres. Pure.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from core.messages import Message, say
from core.recipes.expand import FillFace, FillPart
from core.supplies.items import Fill, FillUnit, spread_percent_of
from core.units import MG_PER_G, Milligrams, round_half_away

__all__ = ["Heap", "amount_of", "heap_of"]

#: The least step hands measure by: half a litre, scoop, bag, sheet or metre, 5 g (judgements).
_STEP: dict[FillUnit, Decimal] = {
    "litre": Decimal("0.5"),
    "bag": Decimal("0.5"),
    "sheet": Decimal("0.5"),
    "scoop": Decimal("0.5"),
    "metre": Decimal("0.5"),
    "gram": Decimal(5),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Heap:
    """A fill as it is fetched: its parts, and one sigma of its weight."""

    parts: tuple[FillPart, ...]
    spread_mg: Milligrams


def heap_of(faces: Sequence[tuple[FillFace, Decimal]], loose_l: Decimal, weight_mg: Milligrams, fill: Fill) -> Heap:
    """Return ``loose_l`` of a fill, shared out by the litres of void on each face, in whole steps of its measure.

    Every face gets at least one step. The largest remainders are rounded up, so that the parts add up.
    """
    unit = fill.measure.unit
    whole = Decimal(weight_mg) / MG_PER_G if unit == "gram" else loose_l / fill.measure.loose_l
    void_l = sum((litres for _, litres in faces), Decimal(0))
    shares = [whole * litres / void_l / _STEP[unit] for _, litres in faces]
    steps = max(len(faces), round_half_away(whole / _STEP[unit]))
    counts = [max(1, math.floor(share)) for share in shares]
    by_rest = sorted(range(len(faces)), key=lambda n: (counts[n] - shares[n], n))
    for turn in range(max(0, steps - sum(counts))):
        counts[by_rest[turn % len(by_rest)]] += 1
    parts = tuple(
        FillPart(face=face, count=count * _STEP[unit], unit=unit)
        for (face, _), count in zip(faces, counts, strict=True)
    )
    return Heap(parts=parts, spread_mg=_spread_mg(weight_mg, whole, sum(counts) * _STEP[unit], fill))


@lru_cache(1024)
def amount_of(unit: FillUnit, count: Decimal) -> Message:
    """Return so much of a fill as hands measure it."""
    if unit == "gram":
        return say("fill_gram", count_mg=round_half_away(count * MG_PER_G))
    return say("fill_metre", count_m=count) if unit == "metre" else say(f"fill_{unit}", count_number=count)


def _spread_mg(weight_mg: Milligrams, whole: Decimal, told: Decimal, fill: Fill) -> Milligrams:
    """One sigma: the measure's own spread, and what rounding to steps does or may do, in squares (rules 8.2)."""
    unit = fill.measure.unit
    percent = spread_percent_of(unit) if fill.spread_percent is None else fill.spread_percent
    own = weight_mg * percent / 100
    if not whole or unit in ("litre", "scoop", "bag"):
        return round(own)
    steps = max(float(_STEP[unit]) / math.sqrt(12), float(abs(told - whole)))
    return round(math.sqrt(own**2 + (weight_mg * steps / float(whole)) ** 2))
