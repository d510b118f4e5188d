"""Why a container cannot take an order, in words: which limit, and by how much."""

from core.packing.model import NoPacking, PackUnit
from core.units import Milligrams, format_length, format_weight

__all__ = ["no_packing_reason"]

_TOO = {"length": "too short", "width": "too narrow", "height": "too low"}


def no_packing_reason(no: NoPacking, max_load_mg: Milligrams, units: tuple[PackUnit, ...]) -> str:
    """Return the reason without the container's code, for example "is 12 mm too low for one jar ..."."""
    names = {unit.code: unit.name for unit in units}
    keeps = {unit.code: unit.clearance for unit in units}
    total = sum(unit.quantity for unit in units)
    if no.reason == "too_heavy":
        load = format_weight(max_load_mg + no.short_by)
        return f"takes {format_weight(max_load_mg)}; these goods are {load} wrapped."
    if no.reason == "unit_too_big":
        keep = keeps[no.unit]
        room = (
            f"with {format_length(keep.bottom_um)} below and {format_length(keep.top_um)} on top"
            if no.axis == "height"
            else f"with {format_length(keep.side_um)} at each side"
        )
        short = format_length(no.short_by) if no.short_by >= 1_000 else "less than 1 mm"
        return f"is {short} {_TOO[no.axis]} for {names[no.unit]} {room}."
    if no.reason == "volume":
        return f"is {no.short_by / 10**15:.1f} l too small for the wrapped goods alone."
    if no.reason == "too_many":
        return f"holds at most {total - no.short_by} of {total} standing this way."
    if no.reason == "no_arrangement":
        return "has the volume, but no arrangement of these sizes goes in: proven."
    return "has room, but no arrangement was found; it is not proven that there is none."
