"""What a service takes: each limit by name, the value and by how much it is passed (rules 10.3). Pure."""

from dataclasses import dataclass
from typing import Literal

from core.errors import LimitName
from core.messages import Message, say
from core.tariffs.model import Limits
from core.units import Milligrams, Size, ceil_div

__all__ = ["Passed", "passed", "volume_cm3"]

_UM3_PER_CM3 = 10**12
#: Limits that are passed by being smaller, and the side each is of.
_LEAST_SIDES: dict[LimitName, str] = {
    "least longest side": "longest_side",
    "least second side": "second_side",
    "least thickness": "thickness",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Passed:
    """One limit that a parcel is outside of; value and limit in ``unit``."""

    limit_name: LimitName
    unit: Literal["um", "mg", "cm3"]
    value: int
    limit: int

    def message(self, service: str, carrier: str) -> Message:
        """Return what to say of a service; only said when a person is told, since it costs more than asking."""
        facts = {"service": service, "carrier": carrier}
        value, limit = self.value, self.limit
        if self.limit_name in _LEAST_SIDES:
            what = say(f"limit_{_LEAST_SIDES[self.limit_name]}")
            return say("under_length", **facts, what=what, limit_um=limit, value_um=value, short_um=limit - value)
        if self.unit == "um":
            what = say(f"limit_{self.limit_name.replace(' ', '_')}")
            return say("over_length", **facts, what=what, limit_um=limit, value_um=value, over_um=value - limit)
        if self.unit == "cm3":
            return say("over_volume", **facts, limit_cm3=limit, value_cm3=value, over_cm3=value - limit)
        if self.limit_name == "least weight":
            return say("under_weight", **facts, limit_mg=limit, value_mg=value, short_mg=limit - value)
        return say("over_weight", **facts, limit_mg=limit, value_mg=value, over_mg=value - limit)


def volume_cm3(outer: Size) -> int:
    """Return the volume in whole cm3, a begun one counts."""
    return ceil_div(outer.volume_um3, _UM3_PER_CM3)


def passed(limits: Limits, outer: Size, gross_mg: Milligrams) -> list[Passed]:
    """Return every limit the parcel is outside of, sizes first."""
    longest, second, shortest = outer.sorted_um
    girth = 2 * (second + shortest)
    lengths: tuple[tuple[LimitName, int, int | None], ...] = (
        ("longest side", longest, limits.longest_um),
        ("second side", second, limits.second_um),
        ("thickness", shortest, limits.thickness_um),
        ("girth", girth, limits.girth_um),
        ("length plus girth", longest + girth, limits.length_plus_girth_um),
        ("sum of sides", longest + second + shortest, limits.sum_of_sides_um),
    )
    found = [
        Passed(limit_name=name, unit="um", value=value, limit=limit)
        for name, value, limit in lengths
        if limit is not None and value > limit
    ]
    least: tuple[tuple[LimitName, int, int | None], ...] = (
        ("least longest side", longest, limits.longest_min_um),
        ("least second side", second, limits.second_min_um),
        ("least thickness", shortest, limits.thickness_min_um),
    )
    found += [
        Passed(limit_name=name, unit="um", value=value, limit=limit)
        for name, value, limit in least
        if limit is not None and value < limit
    ]
    if limits.volume_cm3 is not None and volume_cm3(outer) > limits.volume_cm3:
        found.append(Passed(limit_name="volume", unit="cm3", value=volume_cm3(outer), limit=limits.volume_cm3))
    if limits.max_mg is not None and gross_mg > limits.max_mg:
        found.append(Passed(limit_name="weight", unit="mg", value=gross_mg, limit=limits.max_mg))
    if limits.min_mg is not None and gross_mg < limits.min_mg:
        found.append(Passed(limit_name="least weight", unit="mg", value=gross_mg, limit=limits.min_mg))
    return found
