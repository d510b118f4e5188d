"""What a service takes: each limit by name, the value and by how much it is passed (rules, 10). Pure."""

from dataclasses import dataclass

from core.tariffs.model import Limits
from core.units import Milligrams, Size, ceil_div, format_length, format_weight

__all__ = ["Passed", "passed", "volume_cm3"]

_UM3_PER_CM3 = 10**12


@dataclass(frozen=True, slots=True, kw_only=True)
class Passed:
    """One limit that a parcel is outside of; value and limit in ``unit``."""

    limit_name: str
    unit: str  #: um, mg or cm3
    value: int
    limit: int

    def words(self) -> str:
        """Return what to say after the service's name; only said when a person is told, since it costs more than asking.

        >>> Passed(limit_name="longest side", unit="um", value=455_000, limit=450_000).words()
        'takes 450 mm longest side; this parcel has 455 mm, 5 mm over.'
        """
        value, limit = self.value, self.limit
        if self.unit == "um":
            over = _over(value - limit)
            return (
                f"takes {format_length(limit)} {self.limit_name}; this parcel has {format_length(value)}, {over} over."
            )
        if self.unit == "cm3":
            return f"takes {limit} cm3; this parcel has {value} cm3, {value - limit} cm3 over."
        if self.limit_name == "least weight":
            short = format_weight(limit - value)
            return f"starts at {format_weight(limit)}; this parcel is {format_weight(value)}, {short} short."
        over = format_weight(value - limit)
        return f"takes {format_weight(limit)}; this parcel is {format_weight(value)}, {over} over."


def volume_cm3(outer: Size) -> int:
    """Return the volume in whole cm3, a begun one counts."""
    return ceil_div(outer.volume_um3, _UM3_PER_CM3)


def passed(limits: Limits, outer: Size, gross_mg: Milligrams) -> list[Passed]:
    """Return every limit the parcel is outside of, sizes first."""
    longest, second, shortest = outer.sorted_um
    girth = 2 * (second + shortest)
    found = [
        Passed(limit_name=name, unit="um", value=value, limit=limit)
        for name, value, limit in (
            ("longest side", longest, limits.longest_um),
            ("second side", second, limits.second_um),
            ("thickness", shortest, limits.thickness_um),
            ("girth", girth, limits.girth_um),
            ("length plus girth", longest + girth, limits.length_plus_girth_um),
        )
        if limit is not None and value > limit
    ]
    if limits.volume_cm3 is not None and volume_cm3(outer) > limits.volume_cm3:
        found.append(Passed(limit_name="volume", unit="cm3", value=volume_cm3(outer), limit=limits.volume_cm3))
    if limits.max_mg is not None and gross_mg > limits.max_mg:
        found.append(Passed(limit_name="weight", unit="mg", value=gross_mg, limit=limits.max_mg))
    if limits.min_mg is not None and gross_mg < limits.min_mg:
        found.append(Passed(limit_name="least weight", unit="mg", value=gross_mg, limit=limits.min_mg))
    return found


def _over(difference_um: int) -> str:
    """A part of a millimetre over a limit is still over: show it, not '0 mm'."""
    return format_length(difference_um) if difference_um >= 500 else "less than 1 mm"
