"""Billable weight: the weight a carrier charges for (rules 10.5).

Worked case: 31 x 24 x 16 cm at 5000 cm3/kg is 11 904 / 5000 = 2.3808 kg; against steps of half a kilogram it
pays the price up to 2.5 kg.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from core.messages import Message, say
from core.tariffs.model import Rounding, VolumetricRule
from core.units import Milligrams, Size, ceil_div

__all__ = ["Billable", "Billed", "billable_weight", "rounded", "rule_for", "volumetric_mg"]

_UM_PER_CM = 10_000

#: What a price goes by.
Billed = Literal["weight", "size", "flat_rate"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Billable:
    """The weight charged before it meets the steps, and where it came from."""

    gross_mg: Milligrams
    volumetric_mg: Milligrams | None  #: None: size does not count for this parcel
    billable_mg: Milligrams  #: the larger of both, rounded as the service says
    billed: Literal["weight", "size"]
    why: Message
    raised: bool = False  #: to the least the service bills


def rounded(value: int, step: int, rounding: Rounding) -> int:
    """Return a value on a multiple of ``step``: up, or to the nearest and halves up; never to nothing."""
    if rounding == "up":
        return ceil_div(value, step) * step
    return max(step, (2 * value + step) // (2 * step) * step)


def _rounded_sides(outer: Size, rule: VolumetricRule) -> list[int]:
    return [rounded(side, rule.round_up_um, rule.rounding) for side in outer.sorted_um]


def volumetric_mg(outer: Size, rule: VolumetricRule, zone: str = "") -> Milligrams | None:
    """Return L x W x H / divisor on rounded sizes, in mg rounded up; None below the rule's volume or outside its
    zones.
    """
    if rule.zones and zone not in rule.zones:
        return None
    sides_um = _rounded_sides(outer, rule)
    volume_um3 = sides_um[0] * sides_um[1] * sides_um[2]
    if volume_um3 <= rule.above_cm3 * _UM_PER_CM**3:
        return None
    # um3 / (cm3/kg) -> mg: 1 cm3 = 1e12 um3 and 1 kg = 1e6 mg, so the factor is 1e6.
    return ceil_div(volume_um3, rule.divisor_cm3_per_kg * 1_000_000)


def rule_for(rules: Sequence[VolumetricRule], zone: str, format_code: str) -> VolumetricRule | None:
    """Return the first rule that is for the zone and the format; None: size does not count there."""
    return next(
        (
            one
            for one in rules
            if (not one.zones or zone in one.zones) and (not one.formats or format_code in one.formats)
        ),
        None,
    )


def billable_weight(
    outer: Size,
    gross_mg: Milligrams,
    rule: VolumetricRule | None,
    zone: str = "",
    *,
    round_mg: Milligrams = 1,
    rounding: Rounding = "up",
    least_mg: Milligrams = 0,
) -> Billable:
    """Return the larger of gross, volumetric and least weight, mg, rounded to a multiple of ``round_mg``."""
    by_size = volumetric_mg(outer, rule, zone) if rule is not None else None
    charged = rounded(max(gross_mg, by_size or 0), round_mg, rounding)
    if charged < least_mg:
        why = say("least_billable", least_mg=least_mg)
        return Billable(
            gross_mg=gross_mg, volumetric_mg=by_size, billable_mg=least_mg, billed="weight", why=why, raised=True
        )
    if rule is not None and by_size is not None and by_size > gross_mg:
        sides = tuple(_rounded_sides(outer, rule))
        why = say("by_size", sides_size_um=sides, divisor_per_kg=rule.divisor_cm3_per_kg)
        return Billable(gross_mg=gross_mg, volumetric_mg=by_size, billable_mg=charged, billed="size", why=why)
    return Billable(
        gross_mg=gross_mg, volumetric_mg=by_size, billable_mg=charged, billed="weight", why=say("by_weight")
    )
