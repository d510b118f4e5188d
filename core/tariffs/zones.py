"""From origin and destination to a zone, and from a ship date to the arrival (tariffs)."""

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Collection, Hashable, Sequence
from datetime import date, timedelta
from itertools import accumulate

from core.tariffs.model import Place, Service, Tariff, ZoneRule

__all__ = [
    "SHIP_DAYS", "all_zone_rules", "arrival_date", "next_ship_day", "overlaps", "plain_postcode", "seen_alike",
    "zone_of", "zones_of",
]  # fmt: skip


def plain_postcode(text: str) -> str:
    """Return a postcode as it is compared: upper case, without spaces."""
    return "".join(text.upper().split())


def zone_of(
    tariff: Tariff, destination: Place, origin: Place | None = None, service: Service | None = None
) -> str | None:
    """Return the zone of a destination: the rule that says most about it wins; None when none speaks of it.

    A longer beginning says more than a shorter one, and of two alike the one that also names the origin.
    A ``service`` with zone rules of its own is asked for those and no others.
    """
    own = service is not None and bool(service.zone_rules)
    index = _index_of(service.zone_rules if service is not None and own else tariff.zone_rules)
    asked = (destination, origin)
    zone = index.answers.get(asked)
    if zone is None:
        if len(index.answers) >= _MOST_ANSWERS:
            index.answers.clear()
        zone = index.answers[asked] = _named_zone(index, destination, origin)
    return zone or (service.default_zone if service is not None and own else tariff.default_zone) or None


def all_zone_rules(tariff: Tariff) -> tuple[ZoneRule, ...]:
    """Return the zone rules of a list and those of its services that have their own."""
    return (*tariff.zone_rules, *(rule for one in tariff.services for rule in one.zone_rules))


def zones_of(tariff: Tariff, destination: Place, origin: Place | None = None) -> tuple[str | None, ...]:
    """Return the zones of a destination in a list: its own, then that of each service with rules of its own."""
    own = (zone_of(tariff, destination, origin, one) for one in tariff.services if one.zone_rules)
    return (zone_of(tariff, destination, origin), *own)


def _named_zone(index: "_Index", destination: Place, origin: Place | None) -> str:
    """Return the zone that the rules name for a place, "" when none does."""
    for length in range(len(destination.postcode), -1, -1):
        best: tuple[int, int] | None = None
        zone = ""
        for rule in index.speaking(destination.country, destination.postcode[:length]):
            says = _says(rule, destination, origin)
            if says is not None and (best is None or says > best):
                best, zone = says, rule.zone
        if best is not None:
            return zone
    return ""


class _Index:
    """Zone rules by how they begin, so that a list of forty thousand is asked as fast as one of four."""

    def __init__(self, rules: Sequence[ZoneRule]) -> None:
        #: Zones found before: a plan asks every service for the same place.
        self.answers: dict[tuple[Place, Place | None], str] = {}
        self.rules = rules  # kept, so that nothing else gets their place in memory while this stands
        self._by_prefix: dict[tuple[str, str], list[int]] = defaultdict(list)
        ranges: dict[tuple[str, int], list[tuple[str, str, int]]] = defaultdict(list)
        for place, rule in enumerate(rules):
            if rule.first:
                ranges[rule.country, len(rule.first)].append((rule.first, rule.last, place))
            else:
                self._by_prefix[rule.country, rule.prefix].append(place)
        self._ranges = {key: sorted(found) for key, found in ranges.items()}
        #: The highest end of all ranges up to each: looking back stops where none reaches so far.
        self._reach = {
            key: list(accumulate((last for _, last, _ in found), max)) for key, found in self._ranges.items()
        }

    def speaking(self, country: str, beginning: str) -> list[ZoneRule]:
        """Return the rules for postcodes that begin so, in the order of the file."""
        places = list(self._by_prefix.get((country, beginning), ()))
        key = (country, len(beginning))
        found, reach = self._ranges.get(key, []), self._reach.get(key, [])
        at = bisect_right(found, (beginning, _LAST, 0)) - 1
        while at >= 0 and reach[at] >= beginning:
            if found[at][1] >= beginning:
                places.append(found[at][2])
            at -= 1
        return [self.rules[place] for place in sorted(places)]


#: After every postcode.
_LAST = chr(0x10FFFF)
#: Indexes kept: a workshop has a few lists, a server some workshops.
_MOST_INDEXES = 64
#: Places remembered for each.
_MOST_ANSWERS = 4_096
_indexes: dict[int, _Index] = {}


def _index_of(rules: Sequence[ZoneRule]) -> _Index:
    index = _indexes.get(id(rules))
    if index is None or index.rules is not rules:
        if len(_indexes) >= _MOST_INDEXES:
            _indexes.clear()
        index = _indexes[id(rules)] = _Index(rules)
    return index


def _says(rule: ZoneRule, destination: Place, origin: Place | None) -> tuple[int, int] | None:
    """Return how much a rule says of the two places, None when it does not speak of them."""
    if rule.country != destination.country:
        return None
    if rule.first:
        said = len(rule.first)
        if len(destination.postcode) < said or not rule.first <= destination.postcode[:said] <= rule.last:
            return None
    elif destination.postcode.startswith(rule.prefix):
        said = len(rule.prefix)
    else:
        return None
    if not rule.origin_country:
        return said, 0
    if origin is None or origin.country != rule.origin_country or not origin.postcode.startswith(rule.origin_prefix):
        return None
    return said, 1 + len(rule.origin_prefix)


def seen_alike(place: Place, tariffs: Sequence[Tariff], origin: Place | None = None) -> Hashable:
    """Return what tariffs see of a destination: they ask the same for any two places of which this is equal.

    Where one of them does not go, the place is told by name: only the same one is alike then.
    """
    zones = tuple(zones_of(tariff, place, origin) for tariff in tariffs)
    if any(None in of_list for of_list in zones):
        return place
    named = tuple(
        place.country == one.country and place.postcode.startswith(one.prefixes)
        for tariff in tariffs
        for service in tariff.services
        for one in service.surcharges
        if one.prefixes
    )
    return place.country, zones, named


#: Weekdays on which a workshop hands parcels over, Monday 0, unless its own choice says otherwise.
SHIP_DAYS = (0, 1, 2, 3, 4)


def next_ship_day(day: date, ship_days: tuple[int, ...] = SHIP_DAYS) -> date:
    """Return the day itself when parcels are handed over on it, else the next one that is."""
    while day.weekday() not in ship_days:
        day += timedelta(days=1)
    return day


def arrival_date(service: Service, shipped_on: date, transit_days: int, holidays: Collection[date] = ()) -> date:
    """Return the day the parcel arrives: only the days the service moves are counted, holidays not.

    A parcel handed over on a day the service does not move starts on its next day. Where it is handed over on certain
    weekdays only, it waits for the next of those.
    """
    closed = frozenset(holidays)

    def moves(day: date, weekdays: tuple[int, ...]) -> bool:
        return day.weekday() in weekdays and day not in closed

    day = shipped_on
    while not moves(day, service.days_moved):
        day += timedelta(days=1)
    left = transit_days
    while left > 0:
        day += timedelta(days=1)
        if moves(day, service.days_moved):
            left -= 1
    while not moves(day, service.delivery_days or service.days_moved):
        day += timedelta(days=1)
    return day


def overlaps(rules: Sequence[ZoneRule]) -> list[tuple[ZoneRule, ZoneRule, str]]:
    """Return each two rules that say equally much of one postcode and lead to different zones, with where they meet.

    Nobody could say which of them holds. The earlier rule comes first; "" is the whole country.
    """
    alike: dict[tuple[str, str, str, int], list[int]] = defaultdict(list)
    for place, rule in enumerate(rules):
        length = len(rule.first or rule.prefix)
        alike[rule.country, rule.origin_country, rule.origin_prefix, length].append(place)
    found: list[tuple[int, int, str]] = []
    for places in alike.values():
        reaching: list[int] = []
        for place in sorted(places, key=lambda place: _ends(rules[place])):
            first = _ends(rules[place])[0]
            reaching = [other for other in reaching if _ends(rules[other])[1] >= first]
            found += [
                (min(place, other), max(place, other), first)
                for other in reaching
                if rules[other].zone != rules[place].zone
            ]
            reaching.append(place)
    return [(rules[one], rules[other], where) for one, other, where in sorted(found)]


def _ends(rule: ZoneRule) -> tuple[str, str]:
    return (rule.first, rule.last) if rule.first else (rule.prefix, rule.prefix)
