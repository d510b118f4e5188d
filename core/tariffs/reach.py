"""Whether a place is reached: its zone in each price list, remote or not, and a postcode that looks odd (rules 10.1).

Asked when an order comes in, before anything is planned, so that a slip in an address is found while the buyer can
still be asked. Pure.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from core.messages import Message, say
from core.tariffs.model import Place, Tariff
from core.tariffs.zones import all_zone_rules, zones_of

__all__ = ["PlaceCheck", "Reach", "check_place", "reach_of"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Reach:
    """What one carrier's list says of a place."""

    carrier_name: str
    zone: str | None  #: None: it does not go there
    remote: tuple[str, ...] = ()  #: names of the surcharges its list asks for postcodes like this one


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceCheck:
    """What all lists say together."""

    reached: bool  #: some carrier goes there
    reaches: tuple[Reach, ...]
    odd: Message | None  #: the postcode looks unlike those of its country

    @property
    def remote(self) -> bool:
        """Return whether every carrier that goes there asks more for it."""
        there = [one for one in self.reaches if one.zone is not None]
        return bool(there) and all(one.remote for one in there)

    @property
    def needs_a_look(self) -> bool:
        """Return whether somebody should look at the address."""
        return not self.reached or self.remote or self.odd is not None

    def messages(self) -> tuple[Message, ...]:
        """Return what to say of each carrier, then what is odd."""
        told = [
            say("place_not_reached", carrier=one.carrier_name)
            if one.zone is None
            else say("place_remote", carrier=one.carrier_name, zone=one.zone, names=one.remote)
            if one.remote
            else say("place_in_zone", carrier=one.carrier_name, zone=one.zone)
            for one in self.reaches
        ]
        return (*told, *([self.odd] if self.odd else []))


def reach_of(tariff: Tariff, place: Place, origin: Place | None) -> Reach:
    """Return what one list says of a place."""
    # A service with zones of its own may go where the others do not.
    zone = next((one for one in zones_of(tariff, place, origin) if one is not None), None)
    remote = {
        one.name: None
        for service in tariff.services
        for one in service.surcharges
        if one.prefixes and one.country == place.country and place.postcode.startswith(one.prefixes)
    }
    return Reach(carrier_name=tariff.carrier_name, zone=zone, remote=tuple(remote) if zone is not None else ())


def check_place(tariffs: Sequence[Tariff], place: Place, origin: Place | None) -> PlaceCheck:
    """Return what the lists in force say of a place.

    >>> check_place((), Place(country="ALM", postcode="HW32"), None).reached
    False
    """
    reaches = tuple(reach_of(tariff, place, origin) for tariff in tariffs)
    return PlaceCheck(
        reached=any(one.zone is not None for one in reaches), reaches=reaches, odd=_odd_postcode(tariffs, place)
    )


def _shape(postcode: str) -> str:
    """Letters as A, digits as 9: how a postcode begins."""
    return "".join("9" if ch.isdigit() else "A" if ch.isalpha() else ch for ch in postcode)


def _odd_postcode(tariffs: Sequence[Tariff], place: Place) -> Message | None:
    """Return what is odd: empty where lists tell places of the country apart, or begun unlike every one they name."""
    named = {
        end
        for tariff in tariffs
        for rule in all_zone_rules(tariff)
        if rule.country == place.country
        for end in (rule.prefix, rule.first, rule.last)
        if end
    }
    if not named:
        return None
    if not place.postcode:
        return say("postcode_missing", country=place.country)
    shapes = {_shape(one) for one in named}
    mine = _shape(place.postcode)
    if any(mine[: len(one)] == one[: len(mine)] for one in shapes):
        return None
    return say("postcode_unlike", postcode=place.postcode, country=place.country, example=min(named))
