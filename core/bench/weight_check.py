"""Comparing the scale with the plan, and explaining a difference (rules, 8).

Within three sigma, or two percent plus one division: fine. Otherwise every single change that could have
happened (a unit missing, one too many, an insert left out, no fill, another container) is tried, and the ones
that come nearest are offered; the packer settles it. Pure.
"""

from dataclasses import dataclass
from typing import Literal

from core.units import Milligrams, ceil_div, format_weight

__all__ = ["Change", "Explanation", "Reading", "ScaleState", "WeightCheck", "check_weight", "settle"]

ScaleState = Literal["empty", "settling", "settled", "over_capacity", "too_light", "absent"]
ChangeKind = Literal["unit_missing", "unit_extra", "insert_missing", "no_fill", "other_container"]

#: A reading counts when this many in a row lie within one division (rules, 8).
STABLE_READINGS = 5
#: Below this many divisions a scale is too coarse for the load (rules, 8).
LEAST_DIVISIONS = 20
_OFFERED = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What the scale shows now: the last readings, oldest first."""

    readings_mg: tuple[Milligrams, ...]
    division_mg: Milligrams
    capacity_mg: Milligrams


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One thing that may have happened to the parcel, and what it does to the weight."""

    kind: ChangeKind
    what: str
    effect_mg: Milligrams  #: measured - expected, if it alone happened


@dataclass(frozen=True, slots=True, kw_only=True)
class Explanation:
    """A change that may explain the difference and what it leaves unexplained."""

    change: Change
    left_over_mg: Milligrams
    within_tolerance: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WeightCheck:
    """The verdict of one weighing."""

    expected_mg: Milligrams
    measured_mg: Milligrams
    sigma_mg: Milligrams
    tolerance_mg: Milligrams
    difference_mg: Milligrams  #: measured - expected
    fine: bool
    explanations: tuple[Explanation, ...]  #: best first; empty when fine
    message: str


def settle(reading: Reading) -> ScaleState:
    """Return what the readings amount to: five within one division, in range, are a weight."""
    if not reading.readings_mg:
        return "absent"
    last = reading.readings_mg[-1]
    if last > reading.capacity_mg:
        return "over_capacity"
    recent = reading.readings_mg[-STABLE_READINGS:]
    if len(recent) < STABLE_READINGS or max(recent) - min(recent) > reading.division_mg:
        return "settling"
    if abs(last) < reading.division_mg:
        return "empty"
    return "too_light" if last < LEAST_DIVISIONS * reading.division_mg else "settled"


def check_weight(
    *,
    expected_mg: Milligrams,
    sigma_mg: Milligrams,
    measured_mg: Milligrams,
    division_mg: Milligrams,
    changes: tuple[Change, ...],
) -> WeightCheck:
    """Return whether the weight is as planned, and if not what single change explains it best."""
    tolerance_mg = max(3 * sigma_mg, ceil_div(expected_mg * 2, 100) + division_mg)
    difference_mg = measured_mg - expected_mg
    fine = abs(difference_mg) <= tolerance_mg
    found = [] if fine else sorted(changes, key=lambda c: abs(difference_mg - c.effect_mg))
    explanations = tuple(
        Explanation(
            change=change,
            left_over_mg=difference_mg - change.effect_mg,
            within_tolerance=abs(difference_mg - change.effect_mg) <= tolerance_mg,
        )
        for change in found[:_OFFERED]
        # A change that points the other way explains nothing.
        if change.effect_mg * difference_mg > 0
    )
    return WeightCheck(
        expected_mg=expected_mg,
        measured_mg=measured_mg,
        sigma_mg=sigma_mg,
        tolerance_mg=tolerance_mg,
        difference_mg=difference_mg,
        fine=fine,
        explanations=explanations,
        message=_say(difference_mg, tolerance_mg, fine, explanations),
    )


def _say(difference_mg: int, tolerance_mg: int, fine: bool, explanations: tuple[Explanation, ...]) -> str:
    way = "heavier" if difference_mg > 0 else "lighter"
    by = format_weight(abs(difference_mg))
    if fine:
        return f"As planned: {by} {way} than expected, {format_weight(tolerance_mg)} is allowed."
    best = next((e for e in explanations if e.within_tolerance), None)
    if best is None:
        return f"{by} {way} than expected, and no single thing explains it. Look in the parcel."
    return f"{by} {way} than expected. Most likely: {best.change.what}."
