"""Which surcharges and markings a parcel meets, and why (rules 10.8). Pure."""

from dataclasses import dataclass
from datetime import date

from core.messages import Message, say
from core.tariffs.charges import Surcharge
from core.tariffs.limits import volume_cm3
from core.tariffs.model import Marking, Sending, Service
from core.units import Milligrams, Size

__all__ = ["Met", "applies", "conditions_of", "markings_of"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Met:
    """The parcel as a service meets it: what conditions ask for."""

    zone: str
    format_code: str
    outer: Size
    gross_mg: Milligrams
    billable_mg: Milligrams
    sending: Sending
    flat: bool  #: in the carrier's own package at a flat rate
    arrives_on: date


def applies(one: Surcharge, met: Met) -> bool:
    """Return whether every condition of the surcharge holds. In a flat-rate package size and weight do not count."""
    sending = met.sending
    if one.zones and met.zone not in one.zones:
        return False
    if one.formats and met.format_code not in one.formats:
        return False
    if (one.from_on and sending.ship_on < one.from_on) or (one.until_on and sending.ship_on > one.until_on):
        return False
    if one.arrives_on_days and met.arrives_on.weekday() not in one.arrives_on_days:
        return False
    if (
        (one.rigid and not sending.rigid)
        or (one.home and not sending.home)
        or (one.signature and not sending.signature)
    ):
        return False
    if one.goods and not sending.goods.intersection(one.goods):
        return False
    if one.country and not (
        sending.destination.country == one.country
        and (not one.prefixes or sending.destination.postcode.startswith(one.prefixes))
    ):
        return False
    return all(value > limit and not met.flat for value, limit in _measured(one, met.outer, met.gross_mg))


def _measured(one: Surcharge, outer: Size, gross_mg: Milligrams) -> list[tuple[int, int]]:
    """Return value and limit of each size or weight the surcharge names."""
    longest, second, shortest = outer.sorted_um
    pairs = (
        (longest, one.longest_above_um),
        (second, one.second_above_um),
        (shortest, one.thickness_above_um),
        (outer.girth_um, one.girth_above_um),
        (longest + outer.girth_um, one.length_plus_girth_above_um),
        (longest + second + shortest, one.sum_of_sides_above_um),
        (volume_cm3(outer), one.volume_above_cm3),
        (gross_mg, one.weight_above_mg),
    )
    return [(value, limit) for value, limit in pairs if limit is not None]


def conditions_of(one: Surcharge) -> Message:
    """Return when the surcharge is due: each condition, all of which must hold; ``always`` without any."""
    lengths = (
        ("longest_side", one.longest_above_um),
        ("second_side", one.second_above_um),
        ("thickness", one.thickness_above_um),
        ("girth", one.girth_above_um),
        ("length_plus_girth", one.length_plus_girth_above_um),
        ("sum_of_sides", one.sum_of_sides_above_um),
    )
    told = [say("length_above", what=say(f"limit_{name}"), limit_um=um) for name, um in lengths if um is not None]
    if one.volume_above_cm3 is not None:
        told.append(say("volume_above", limit_cm3=one.volume_above_cm3))
    if one.weight_above_mg is not None:
        told.append(say("weight_above", limit_mg=one.weight_above_mg))
    if one.rigid:
        told.append(say("does_not_bend"))
    if one.formats:
        told.append(say("as_format", formats=one.formats))
    if one.home:
        told.append(say("to_a_home"))
    if one.signature:
        told.append(say("signed_for"))
    if one.goods:
        told.append(say("with_goods", goods=tuple(say(f"goods_{word}") for word in one.goods)))
    if one.country:
        told.append(say("to_places", country=one.country, prefixes=one.prefixes))
    if one.zones:
        told.append(say("in_zones", zones=one.zones))
    if one.from_on and one.until_on:
        told.append(say("sent_between", from_on=one.from_on, until_on=one.until_on))
    elif one.from_on:
        told.append(say("sent_from", from_on=one.from_on))
    elif one.until_on:
        told.append(say("sent_until", until_on=one.until_on))
    if one.arrives_on_days:
        told.append(say("arrives_on_days", days=tuple(say(f"weekday_{day}") for day in one.arrives_on_days)))
    return say("all_of", conditions=tuple(told)) if told else say("always")


def markings_of(service: Service, outer: Size, gross_mg: Milligrams, sending: Sending) -> tuple[str, ...]:
    """Return what must stand on this parcel."""
    return tuple(mark.text for mark in service.markings if _marked(mark, outer, gross_mg, sending))


def _marked(mark: Marking, outer: Size, gross_mg: Milligrams, sending: Sending) -> bool:
    if mark.goods and not sending.goods.intersection(mark.goods):
        return False
    if mark.weight_above_mg is not None and gross_mg <= mark.weight_above_mg:
        return False
    return mark.longest_above_um is None or outer.longest_um > mark.longest_above_um
