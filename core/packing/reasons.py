"""Why a container cannot take an order: which limit, and by how much (packing)."""

from decimal import Decimal

from core.messages import Message, say
from core.packing.model import NoPacking, PackUnit
from core.units import Milligrams

__all__ = ["no_packing_reason"]

_UM3_PER_LITRE = 10**15


def no_packing_reason(no: NoPacking, container: str, max_load_mg: Milligrams, units: tuple[PackUnit, ...]) -> Message:
    """Return the reason: the limit, the value and what it is about."""
    total = sum(unit.quantity for unit in units)
    match no.reason:
        case "too_heavy":
            return say(
                "wrapped_too_heavy", container=container, takes_mg=max_load_mg, holds_mg=max_load_mg + no.short_by
            )
        case "unit_too_big":
            unit = next(unit for unit in units if unit.code == no.unit)
            keep = unit.clearance
            room = (
                say("keeping_below_and_top", below_um=keep.bottom_um, top_um=keep.top_um)
                if no.axis == "height"
                else say("keeping_sides", side_um=keep.side_um)
            )
            small = "_slightly" if no.short_by < 1_000 else ""
            code = f"too_small_{no.axis}{small}"
            return say(code, container=container, short_um=no.short_by, name=unit.name, room=room)
        case "volume":
            litres = Decimal(no.short_by) / _UM3_PER_LITRE
            return say("volume_too_small", container=container, short_l=litres.quantize(Decimal("0.000001")))
        case "too_many":
            return say("too_many", container=container, most=total - no.short_by, total=total)
        case "no_arrangement":
            return say("no_arrangement", container=container)
        case _:
            return say("arrangement_not_found", container=container)
