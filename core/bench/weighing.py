"""Comparing the scale with the plan by likelihood, and saying what explains a difference best (bench; rules 8.3).

'Nothing is wrong' (normal, with the parcel's sigma) stands against each single slip that could have happened: a unit
missing, one too many, an insert left out, another container, no fill. A slip happens in one parcel of 200; that
chance is shared equally over the five kinds, and within a kind over its members. A look is asked for when, for the
likeliest slip,
its chance times what it would cost unnoticed is more than a look costs and the reading made it likelier than it was, or
beyond three sigma.

Worked cases: jar 430 g, sigma 146.3 g, prior 1 in 1 000, cost 15.00, a look 0.125: 430 g light is 7.0 %, 350 g 1.5
%: look;
250 g is 0.20 %: fine. Pure.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.messages import Message, Text, say
from core.units import Milligrams

__all__ = [
    "Explanation",
    "Reading",
    "ScaleState",
    "Slip",
    "SlipKind",
    "WeightCheck",
    "check_weight",
    "median_mg",
    "settle",
    "share_noticed",
]

ScaleState = Literal["empty", "settling", "settled", "over_capacity", "too_light", "absent"]
SlipKind = Literal["unit_missing", "unit_extra", "insert_missing", "no_fill", "other_container"]
_KINDS = 5

#: A reading counts when this many in a row lie within one division (rules 8.4).
STABLE_READINGS = 5
#: Below this many divisions a scale is too coarse for the load (rules 8.4).
LEAST_DIVISIONS = 20
_OFFERED = 3
#: Beyond so many sigma a look is asked for whatever explains it.
_SIGMAS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What the scale shows now: the last readings, oldest first."""

    readings_mg: tuple[Milligrams, ...]
    division_mg: Milligrams
    capacity_mg: Milligrams


@dataclass(frozen=True, slots=True, kw_only=True)
class Slip:
    """One thing that may have happened to the parcel, what it does to the weight, what it costs when nobody notices."""

    kind: SlipKind
    what: Text
    effect_mg: Milligrams  #: measured - expected, if it alone happened
    unnoticed_cost: Decimal = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Explanation:
    """A slip that may explain the difference, how likely it is now, and what it leaves unexplained."""

    slip: Slip
    left_over_mg: Milligrams
    within_tolerance: bool  #: what is left is within three sigma
    chance: Decimal = Decimal(0)  #: 0 to 1, four places


@dataclass(frozen=True, slots=True, kw_only=True)
class WeightCheck:
    """The verdict of one weighing."""

    expected_mg: Milligrams
    measured_mg: Milligrams
    sigma_mg: Milligrams
    tolerance_mg: Milligrams  #: three sigma
    difference_mg: Milligrams  #: measured - expected
    fine: bool
    explanations: tuple[Explanation, ...]  #: likeliest first; empty when fine
    message: Text


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


def median_mg(reading: Reading) -> Milligrams:
    """Return the weight of a settled reading: the median of the stable five (rules 8.4)."""
    return sorted(reading.readings_mg[-STABLE_READINGS:])[STABLE_READINGS // 2]


def check_weight(
    *,
    expected_mg: Milligrams,
    sigma_mg: Milligrams,
    measured_mg: Milligrams,
    slips: Sequence[Slip],
    look_cost: Decimal,
    slip_one_in: int,
) -> WeightCheck:
    """Return the verdict on a reading, with the likeliest explanations when a look is asked for.

    One parcel in ``slip_one_in`` has a slip, ``look_cost`` is what a look into it costs, ``sigma_mg`` one standard
    deviation of the expected weight.
    """
    sigma = max(1, sigma_mg)
    difference = measured_mg - expected_mg
    chances = _chances(difference, sigma, slips, slip_one_in)
    by_chance = sorted(zip(slips, chances, strict=True), key=lambda one: (-one[1], abs(difference - one[0].effect_mg)))
    beyond = abs(difference) > _SIGMAS * sigma
    asks = beyond or any(
        chance * float(slip.unnoticed_cost) > float(look_cost) and chance > _prior(slip, slips, slip_one_in)
        for slip, chance in by_chance[:1]
    )
    explanations = tuple(_explained(slip, chance, difference, sigma) for slip, chance in by_chance[:_OFFERED])
    return WeightCheck(
        expected_mg=expected_mg,
        measured_mg=measured_mg,
        sigma_mg=sigma_mg,
        tolerance_mg=_SIGMAS * sigma,
        difference_mg=difference,
        fine=not asks,
        explanations=explanations if asks else (),
        message=_message(difference, explanations) if asks else say("weight_as_planned"),
    )


def share_noticed(
    slip: Slip,
    slips: Sequence[Slip],
    *,
    sigma_mg: Milligrams,
    look_cost: Decimal,
    slip_one_in: int,
) -> float:
    """Return in which share of parcels with this slip the scale asks for a look, 0 to 1.

    The reading is normal about the changed weight; its curve is cut into equal steps out to four sigma.
    """
    sigma = max(1, sigma_mg)
    noticed = total = 0.0
    for step in range(-_STEPS, _STEPS + 1):
        z = 4 * step / _STEPS
        weight = math.exp(-z * z / 2)
        check = check_weight(
            expected_mg=0,
            sigma_mg=sigma,
            measured_mg=slip.effect_mg + round(z * sigma),
            slips=slips,
            look_cost=look_cost,
            slip_one_in=slip_one_in,
        )
        total += weight
        noticed += 0.0 if check.fine else weight
    return noticed / total


_STEPS = 40


def _prior(slip: Slip, slips: Sequence[Slip], slip_one_in: int) -> float:
    members = sum(1 for other in slips if other.kind == slip.kind)
    return 1 / slip_one_in / _KINDS / members


def _chances(difference: int, sigma: int, slips: Sequence[Slip], slip_one_in: int) -> list[float]:
    """Return how likely each slip is after the reading; exponents are shifted by the largest, so that none is lost."""
    priors = [_prior(slip, slips, slip_one_in) for slip in slips]
    exponents = [-(((difference - slip.effect_mg) / sigma) ** 2) / 2 for slip in slips]
    nothing = -((difference / sigma) ** 2) / 2
    top = max([nothing, *exponents])
    weights = [prior * math.exp(exponent - top) for prior, exponent in zip(priors, exponents, strict=True)]
    total = sum(weights) + (1 - sum(priors)) * math.exp(nothing - top)
    return [weight / total for weight in weights]


def _explained(slip: Slip, chance: float, difference: int, sigma: int) -> Explanation:
    left = difference - slip.effect_mg
    return Explanation(
        slip=slip,
        left_over_mg=left,
        within_tolerance=abs(left) <= _SIGMAS * sigma,
        chance=Decimal(str(chance)).quantize(Decimal("0.0001")),
    )


def _message(difference: int, explanations: tuple[Explanation, ...]) -> Message:
    side = "heavier" if difference > 0 else "lighter"
    best = explanations[0] if explanations else None
    if best is None or not best.within_tolerance:
        return say(f"weight_{side}_unexplained", off_mg=abs(difference))
    return say(f"weight_{side}", off_mg=abs(difference), what=best.slip.what)
