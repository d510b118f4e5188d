"""Where a parcel is from the hand-over to the buyer's hands, hour by hour, and how warm it is there (care; rules 15.1
and 15.2).

Handed over in the afternoon it rides to a depot; by night it travels; days on which its carrier moves nothing it spends
in a depot, the last morning in a van, then at the door. A van by day is warmer than the air, a depot as the workshop
judges. Days on the road are those between the day it ships and the day it arrives, weekends and holidays counted.
"""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Literal

from core.care.weather import Source, Weather
from core.judgements import ORDINARY, Judgements

__all__ = [
    "Hour",
    "Leg",
    "LegKind",
    "days_on_the_road",
    "hours_of",
    "hub_of",
    "legs_of",
    "place_key",
]

#: van: on wheels by day; night: between depots; waiting: in a depot on a day without traffic; depot; doorstep.
LegKind = Literal["van", "night", "depot", "waiting", "doorstep"]

_EVENING, _MORNING, _DELIVERED = time(20), time(6), time(13)


@dataclass(frozen=True, slots=True, kw_only=True)
class Leg:
    """One part of the way."""

    kind: LegKind
    place: str
    begins: datetime
    ends: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Hour:
    """One hour of the way."""

    begins: datetime
    kind: LegKind
    place: str
    outside_c: float
    source: Source


def place_key(country: str, postcode: str) -> str:
    """Return the region a forecast is for: a country's postcodes that begin with the same two signs."""
    return f"{country}-{postcode[:2]}" if postcode else country


def hub_of(carrier: str) -> str:
    """Return the place a carrier's parcels pass."""
    return f"hub of {carrier}"


def days_on_the_road(ship_on: date, arrives_on: date) -> int:
    """Return how many days lie between the day it ships and the day it arrives (rules 15.1)."""
    return (arrives_on - ship_on).days


def legs_of(
    ship_at: datetime,
    arrives_on: date,
    *,
    moves_on: Collection[int],
    holidays: Collection[date],
    origin: str,
    hub: str,
    destination: str,
    judged: Judgements = ORDINARY,
) -> tuple[Leg, ...]:
    """Return the way as it is likely to be; ``moves_on``: weekdays the service travels on, Monday 0.

    Raises ValueError when it would arrive before it leaves.
    """
    zone, shipped = ship_at.tzinfo, ship_at.date()
    if arrives_on < shipped:
        raise ValueError(f"it arrives on {arrives_on}, before it ships on {shipped}")

    def at(day: date, clock: time) -> datetime:
        return datetime.combine(day, clock, tzinfo=zone)

    door = timedelta(hours=judged.doorstep_hours)
    if arrives_on == shipped:
        there = ship_at + timedelta(hours=4)
        return _kept([Leg(kind="van", place=origin, begins=ship_at, ends=there), _door(destination, there, door)])
    legs = [Leg(kind="van", place=origin, begins=ship_at, ends=max(at(shipped, _EVENING), ship_at))]
    legs.append(Leg(kind="depot", place=origin, begins=legs[-1].ends, ends=at(shipped + timedelta(days=1), time(0))))
    day = shipped + timedelta(days=1)
    near = hub if day < arrives_on else destination
    legs.append(Leg(kind="night", place=near, begins=at(day, time(0)), ends=at(day, _MORNING)))
    while day < arrives_on:
        moves = day.weekday() in moves_on and day not in holidays
        after = day + timedelta(days=1)
        legs.append(
            Leg(kind="depot" if moves else "waiting", place=hub, begins=at(day, _MORNING), ends=at(day, _EVENING))
        )
        then = destination if after == arrives_on else hub
        legs.append(
            Leg(kind="night" if moves else "waiting", place=then, begins=at(day, _EVENING), ends=at(after, _MORNING))
        )
        day = after
    there = at(arrives_on, _DELIVERED)
    legs.append(Leg(kind="van", place=destination, begins=at(arrives_on, _MORNING), ends=there))
    legs.append(_door(destination, there, door))
    return _kept(legs)


def _door(place: str, since: datetime, door: timedelta) -> Leg:
    return Leg(kind="doorstep", place=place, begins=since, ends=since + door)


def _kept(legs: list[Leg]) -> tuple[Leg, ...]:
    return tuple(leg for leg in legs if leg.ends > leg.begins)


def hours_of(legs: Collection[Leg], weather: Weather, judged: Judgements = ORDINARY) -> tuple[Hour, ...]:
    """Return the way by the hour, with the temperature round the parcel."""
    found = []
    for leg in legs:
        moment = leg.begins
        while moment < leg.ends:
            outside, source = weather.at(leg.place, moment)
            found.append(
                Hour(
                    begins=moment,
                    kind=leg.kind,
                    place=leg.place,
                    outside_c=outside + _warmer(leg.kind, moment, judged),
                    source=source,
                )
            )
            moment += timedelta(hours=1)
    return tuple(found)


def _warmer(kind: LegKind, moment: datetime, judged: Judgements) -> int:
    """A van stands in the sun by day; a depot is as the workshop judges."""
    if kind == "van":
        return judged.van_warmer_c if 8 <= moment.hour < 20 else 0
    return judged.depot_warmer_c if kind in ("depot", "waiting") else 0
