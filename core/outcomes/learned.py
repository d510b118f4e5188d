"""What the bench taught: minutes, unit weights, bulge, fill really used; offered, never taken by itself
(outcomes; rules 17.5).

Each is a small least-squares fit with its count and spread. A value is offered when there is enough of it and when it
differs by more than its own uncertainty from what plans use now.
"""

import statistics
from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from math import sqrt

from core.parcels.outer_size import MAX_BULGE_UM
from core.recipes.model import Minutes, Recipe
from core.units import Micrometres, Milligrams, Size

__all__ = [
    "LEAST_COUNTS",
    "LEAST_MEASURED",
    "LEAST_TIMED",
    "LEAST_WEIGHED",
    "BulgeFit",
    "FillFit",
    "MinutesFit",
    "Timed",
    "Weighed",
    "WeightFit",
    "bulge_fit",
    "fill_fit",
    "minutes_fit",
    "weight_fit",
    "with_minutes",
]

#: Fewer parcels teach nothing (judgements; five for bulge: rules 17.5).
LEAST_TIMED = 8
LEAST_WEIGHED = 5
LEAST_MEASURED = 5
LEAST_COUNTS = 2
#: A parcel over so many times the median says nothing of hands: somebody went to the telephone (rules 17.5).
_PAUSE = 3
#: A difference smaller than this share is not worth a change (a judgement).
_WORTH = 0.08
_WORTH_WEIGHT = 0.01


@dataclass(frozen=True, slots=True, kw_only=True)
class Timed:
    """A finished parcel: units in it, minutes it took."""

    units: int
    minutes: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MinutesFit:
    """Minutes of hands as they were, with how many parcels say so."""

    per_unit: Decimal
    per_parcel: Decimal
    count: int
    left_out: int  #: pauses
    mean_before: Decimal  #: minutes of such a parcel as plans have them
    mean: Decimal
    spread: Decimal  #: one standard error of the mean


def minutes_fit(timed: Sequence[Timed], now: Minutes) -> MinutesFit | None:
    """Return minutes a unit and a parcel by least squares, None when too few parcels tell or it is as planned.

    A parcel over three times the median, against what was planned for its size, is left out. With one order size only
    both are scaled alike: nothing tells them apart.
    """

    def planned(units: int) -> float:
        return float(now.per_unit) * units + float(now.per_parcel)

    usable = [one for one in timed if planned(one.units) > 0]
    if len(usable) < LEAST_TIMED:
        return None
    middle = statistics.median(one.minutes / planned(one.units) for one in usable)
    kept = [one for one in usable if one.minutes / planned(one.units) <= _PAUSE * middle]
    if len(kept) < LEAST_TIMED:
        return None
    mean = statistics.fmean(one.minutes for one in kept)
    before = statistics.fmean(planned(one.units) for one in kept)
    each, once = _line([one.units for one in kept], [one.minutes for one in kept])
    if each is None or each < 0 or once < 0:
        each, once = float(now.per_unit) * mean / before, float(now.per_parcel) * mean / before
    rest = [one.minutes - (each * one.units + once) for one in kept]
    error = sqrt(sum(one * one for one in rest) / max(1, len(kept) - 2)) / sqrt(len(kept))
    if abs(mean - before) < max(_WORTH * before, 2 * error):
        return None
    return MinutesFit(
        per_unit=_places(each, 1), per_parcel=_places(once, 1), count=len(kept), left_out=len(usable) - len(kept),
        mean_before=_places(before, 2), mean=_places(mean, 2), spread=_places(error, 2),
    )  # fmt: skip


def _line(x: Sequence[float], y: Sequence[float]) -> tuple[float | None, float]:
    """Return slope and height of the least-squares line; no slope where x does not vary."""
    if len(set(x)) < 2:
        return None, statistics.fmean(y)
    slope, height = statistics.linear_regression(x, y)
    return slope, height


def _places(value: float, digits: int) -> Decimal:
    return Decimal(f"{value:.{digits}f}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighed:
    """A closed parcel with one product in it: its units, what the rest weighs as planned, what the scale said."""

    units: int
    rest_mg: Milligrams
    measured_mg: Milligrams


@dataclass(frozen=True, slots=True, kw_only=True)
class WeightFit:
    """What a unit weighs as the scale had it."""

    unit_mg: Milligrams
    spread_mg: Milligrams  #: one standard deviation of a unit
    error_mg: Milligrams  #: one standard error of the weight
    count: int
    units: int


def weight_fit(weighed: Sequence[Weighed], now_mg: Milligrams, division_mg: Milligrams) -> WeightFit | None:
    """Return a unit's weight by least squares over weighed parcels with it as the one unknown.

    Each parcel says units x weight = measured - rest. None with fewer than five, or when the weight in use is within
    two standard errors, a division of the scale or 1 %.
    """
    rows = [(one.units, one.measured_mg - one.rest_mg) for one in weighed if one.units > 0]
    if len(rows) < LEAST_WEIGHED:
        return None
    squares = sum(units * units for units, _ in rows)
    weight = sum(units * goods for units, goods in rows) / squares
    rest = sum((goods - units * weight) ** 2 for units, goods in rows) / (len(rows) - 1)
    error = sqrt(rest / squares)
    if weight <= 0 or abs(weight - now_mg) <= max(2 * error, division_mg, _WORTH_WEIGHT * now_mg):
        return None
    units = sum(units for units, _ in rows)
    return WeightFit(
        unit_mg=round(weight),
        spread_mg=round(sqrt(rest * len(rows) / units)),
        error_mg=round(error),
        count=len(rows),
        units=units,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class BulgeFit:
    """How far a fill really pushes the flaps outwards, mean of measured parcels."""

    bulge_um: Micrometres
    error_um: Micrometres
    count: int


def bulge_fit(measured: Sequence[tuple[Size, Size]], now_um: Micrometres) -> BulgeFit | None:
    """Return the bulge of closed cartons: mean of measured less nominal height, at least five of them (rules 17.5).

    ``measured``: nominal and measured outside. None with fewer, or within two standard errors of what is used now.
    """
    found = [real.height_um - nominal.height_um for nominal, real in measured]
    if len(found) < LEAST_MEASURED:
        return None
    mean = statistics.fmean(found)
    error = statistics.stdev(found) / sqrt(len(found))
    bulge = round(min(max(mean, 0), MAX_BULGE_UM))
    # Nobody reads a rule to less than half a millimetre.
    if abs(bulge - now_um) <= max(2 * error, 500):
        return None
    return BulgeFit(bulge_um=bulge, error_um=round(error), count=len(found))


@dataclass(frozen=True, slots=True, kw_only=True)
class FillFit:
    """Fill really used against what plans said, between counts."""

    factor: Decimal  #: real / planned
    packing_factor: Decimal  #: litres of loose stock per litre of void, as it would be
    counts: int
    planned: Decimal  #: litres
    real: Decimal


def fill_fit(spans: Sequence[tuple[Decimal, Decimal]], packing_factor: Decimal) -> FillFit | None:
    """Return the factor of a fill over the spans between two counts: (litres planned, litres really gone).

    None with fewer than two spans with use, or when it differs by less than 8 %.
    """
    used = [(planned, real) for planned, real in spans if planned > 0]
    if len(used) < LEAST_COUNTS:
        return None
    planned, real = (sum((span[at] for span in used), Decimal(0)) for at in (0, 1))
    factor = real / planned
    if real <= 0 or abs(factor - 1) < Decimal(str(_WORTH)):
        return None
    return FillFit(
        factor=factor.quantize(Decimal("0.001")),
        packing_factor=(packing_factor * factor).quantize(Decimal("0.01")),
        counts=len(used),
        planned=planned,
        real=real,
    )


def with_minutes(recipe: Recipe, before: tuple[Decimal, Decimal], after: tuple[Decimal, Decimal]) -> Recipe:
    """Return the recipe with other minutes in the bands that have these now: (each unit, each parcel)."""
    bands = tuple(
        replace(band, minutes=replace(band.minutes, per_unit=after[0], per_parcel=after[1]))
        if (band.minutes.per_unit, band.minutes.per_parcel) == before
        else band
        for band in recipe.bands
    )
    return replace(recipe, bands=bands)
