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
    words: str  #: after the service's name: "takes 450 mm longest side; this parcel has 455 mm, 5 mm over."


def volume_cm3(outer: Size) -> int:
    """Return the volume in whole cm3, a begun one counts."""
    return ceil_div(outer.volume_um3, _UM3_PER_CM3)


def passed(limits: Limits, outer: Size, gross_mg: Milligrams) -> list[Passed]:
    """Return every limit the parcel is outside of, sizes first."""
    longest, second, shortest = outer.sorted_um
    found = [
        Passed(
            limit_name=name,
            unit="um",
            value=value,
            limit=limit,
            words=f"takes {format_length(limit)} {name}; this parcel has {format_length(value)}, {_over(value - limit)} over.",
        )
        for name, value, limit in (
            ("longest side", longest, limits.longest_um),
            ("second side", second, limits.second_um),
            ("thickness", shortest, limits.thickness_um),
            ("girth", outer.girth_um, limits.girth_um),
            ("length plus girth", longest + outer.girth_um, limits.length_plus_girth_um),
        )
        if limit is not None and value > limit
    ]
    if limits.volume_cm3 is not None and volume_cm3(outer) > limits.volume_cm3:
        value = volume_cm3(outer)
        words = f"takes {limits.volume_cm3} cm3; this parcel has {value} cm3, {value - limits.volume_cm3} cm3 over."
        found.append(Passed(limit_name="volume", unit="cm3", value=value, limit=limits.volume_cm3, words=words))
    if limits.max_mg is not None and gross_mg > limits.max_mg:
        over = format_weight(gross_mg - limits.max_mg)
        words = f"takes {format_weight(limits.max_mg)}; this parcel is {format_weight(gross_mg)}, {over} over."
        found.append(Passed(limit_name="weight", unit="mg", value=gross_mg, limit=limits.max_mg, words=words))
    if limits.min_mg is not None and gross_mg < limits.min_mg:
        short = format_weight(limits.min_mg - gross_mg)
        words = f"starts at {format_weight(limits.min_mg)}; this parcel is {format_weight(gross_mg)}, {short} short."
        found.append(Passed(limit_name="least weight", unit="mg", value=gross_mg, limit=limits.min_mg, words=words))
    return found


def _over(difference_um: int) -> str:
    """A part of a millimetre over a limit is still over: show it, not '0 mm'."""
    return format_length(difference_um) if difference_um >= 500 else "less than 1 mm"
