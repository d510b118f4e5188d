"""Billable weight: the weight a carrier charges for (rules, 10).

Worked case: 31 x 24 x 16 cm at 5000 cm3/kg is 11 904 / 5000 = 2.3808 kg; against steps of half a kilogram it
pays the price up to 2.5 kg.
"""

from dataclasses import dataclass

from core.tariffs.model import VolumetricRule
from core.units import Milligrams, Size, ceil_div

__all__ = ["Billable", "billable_weight", "volumetric_mg"]

_UM_PER_CM = 10_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Billable:
    """The weight charged before it meets the steps, and where it came from."""

    gross_mg: Milligrams
    volumetric_mg: Milligrams | None  #: None: size does not count for this parcel
    billable_mg: Milligrams  #: the larger of both


def volumetric_mg(outer: Size, rule: VolumetricRule) -> Milligrams | None:
    """Return L x W x H / divisor on sizes rounded up, in mg rounded up; None below the rule's volume."""
    sides_um = [ceil_div(side, rule.round_up_um) * rule.round_up_um for side in outer.sorted_um]
    volume_um3 = sides_um[0] * sides_um[1] * sides_um[2]
    if volume_um3 <= rule.above_cm3 * _UM_PER_CM**3:
        return None
    # um3 / (cm3/kg) -> mg: 1 cm3 = 1e12 um3 and 1 kg = 1e6 mg, so the factor is 1e6.
    return ceil_div(volume_um3, rule.divisor_cm3_per_kg * 1_000_000)


def billable_weight(outer: Size, gross_mg: Milligrams, rule: VolumetricRule | None) -> Billable:
    """Return the larger of gross and volumetric weight, mg."""
    by_size = volumetric_mg(outer, rule) if rule is not None else None
    return Billable(gross_mg=gross_mg, volumetric_mg=by_size, billable_mg=max(gross_mg, by_size or 0))
