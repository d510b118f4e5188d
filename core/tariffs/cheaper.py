"""The next cheaper step in weight and in each measure of size, and how near the next more expensive one is (rules
11.1).

Asked of the quote itself, so every rule of the service counts: formats, rounding, volumetric weight, surcharges,
limits.
A price never falls when a measure grows, so each edge is found by halving, exact to the milligram or micrometre. Pure.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.messages import Message, say
from core.tariffs.limits import volume_cm3
from core.tariffs.model import Limits, Sending, Service, Tariff
from core.tariffs.price_step import chance_to_pass
from core.tariffs.probing import PriceAt, last_alike, price_of
from core.units import Milligrams, Size

__all__ = ["CheaperStep", "Measure", "StepRisk", "cheaper_steps", "measured", "risks_of"]

Measure = Literal["weight", "length", "width", "height", "thickness", "girth", "volume"]

#: How far below the parcel's own measure a cheaper step is looked for, percent: less than that no packing takes away.
_REACH_PERCENT = 60
#: How many sigma above its expected value a measure is looked at: beyond, nobody need mind.
_SIGMAS = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class CheaperStep:
    """So much less of one measure, all else as it is, and the parcel costs less."""

    measure: Measure
    now: int  #: mg for weight, cm3 for volume, um for the others
    at: int  #: the most at which the lower price holds
    less_by: int
    price: Decimal
    saves: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class StepRisk:
    """How likely the true measure passes the step it stands under, and what the carrier would then ask."""

    measure: Measure
    room: int  #: left under the step; mg or um
    chance: Decimal  #: 0 to 1
    price: Decimal | None  #: beyond the step; None: the service does not take it
    costs: Decimal | None  #: more than now
    near: bool  #: closer than two sigma, or than the bulge


def measured(measure: Measure, value: int) -> Message:
    """Return a value with its unit."""
    if measure == "weight":
        return say("so_heavy", weight_mg=value)
    return say("so_large", volume_cm3=value) if measure == "volume" else say("so_long", length_um=value)


def cheaper_steps(
    tariff: Tariff, service: Service, *, outer: Size, gross_mg: Milligrams, sending: Sending
) -> tuple[CheaperStep, ...]:
    """Return the next cheaper step of each measure the service asks for, those with less to lose first.

    A measure no shrinking of which lowers the price is left out.
    """
    price = price_of(tariff, service, sending)
    now = price(outer, gross_mg)
    if now is None:
        return ()
    found = []
    for measure, value, shrunk in _measures(service, outer, gross_mg):

        def at(one: int, shrunk: Callable[[int], tuple[Size, int]] = shrunk) -> Decimal | None:
            return price(*shrunk(one))

        low = max(1, value * (100 - _REACH_PERCENT) // 100)
        edge = _most_below(at, now, low, value)
        if edge is None:
            continue
        cheaper = at(edge)
        if cheaper is not None:
            found.append(
                CheaperStep(
                    measure=measure, now=value, at=edge, less_by=value - edge, price=cheaper, saves=now - cheaper
                )
            )
    return tuple(sorted(found, key=lambda step: (step.less_by / step.now, step.measure)))


def risks_of(
    tariff: Tariff,
    service: Service,
    *,
    outer: Size,
    bulge: Size,
    gross_mg: Milligrams,
    sigma_mg: Milligrams,
    sending: Sending,
) -> tuple[StepRisk, ...]:
    """Return for weight and each side how likely the next more expensive step is reached, likely ones first.

    ``outer`` is with its bulge, ``bulge`` the allowance of each axis: half of it is taken as one sigma of the side.
    """
    price = price_of(tariff, service, sending)
    now = price(outer, gross_mg)
    if now is None:
        return ()
    sigmas = {
        "weight": sigma_mg,
        "length": bulge.length_um // 2,
        "width": bulge.width_um // 2,
        "height": bulge.height_um // 2,
    }
    found = []
    for measure, value, grown in _measures(service, outer, gross_mg):
        sigma = sigmas.get(measure, 0)
        if sigma <= 0:
            continue

        def at(one: int, grown: Callable[[int], tuple[Size, int]] = grown) -> Decimal | None:
            return price(*grown(one))

        top = value + _SIGMAS * sigma
        if at(top) == now:
            continue
        edge = last_alike(at, value, top)
        beyond = at(edge + 1)
        found.append(
            StepRisk(
                measure=measure,
                room=edge - value,
                chance=chance_to_pass(expected_mg=value, sigma_mg=sigma, step_mg=edge),
                price=beyond,
                costs=beyond - now if beyond is not None else None,
                near=edge - value < 2 * sigma,
            )
        )
    return tuple(sorted(found, key=lambda risk: (-risk.chance, risk.measure)))


def _measures(
    service: Service, outer: Size, gross_mg: Milligrams
) -> list[tuple[Measure, int, Callable[[int], tuple[Size, int]]]]:
    """Return each measure, its value, and the parcel with that measure changed and the rest as it is."""
    found: list[tuple[Measure, int, Callable[[int], tuple[Size, int]]]] = [
        ("weight", gross_mg, lambda mg: (outer, mg)),
        ("length", outer.length_um, lambda um: (replace(outer, length_um=um), gross_mg)),
        ("width", outer.width_um, lambda um: (replace(outer, width_um=um), gross_mg)),
        ("height", outer.height_um, lambda um: (replace(outer, height_um=um), gross_mg)),
    ]
    asked = _asked_for(service)
    longest, second, shortest = outer.sorted_um
    if "thickness" in asked:
        found.append(("thickness", shortest, lambda um: (_sized(longest, second, um), gross_mg)))
    if "girth" in asked:
        girth = outer.girth_um

        def narrowed(um: int) -> tuple[Size, int]:
            one = second * um // girth
            return _sized(longest, one, um // 2 - one), gross_mg

        found.append(("girth", girth, narrowed))
    if "volume" in asked:
        volume = volume_cm3(outer)
        found.append(("volume", volume, lambda cm3: (_scaled(outer, (cm3 / volume) ** (1 / 3)), gross_mg)))
    return found


def _sized(longest: int, second: int, shortest: int) -> Size:
    return Size(length_um=max(1, longest), width_um=max(1, second), height_um=max(1, shortest))


def _scaled(outer: Size, factor: float) -> Size:
    # The cube root cannot be exact; rounding down keeps the volume at or below what was asked.
    return _sized(*(math.floor(side * min(factor, 1.0)) for side in outer.sorted_um))


def _asked_for(service: Service) -> set[str]:
    """Return which measures besides weight and the three sides the service's rules speak of."""
    limits: list[Limits] = [service.limits, *(one.limits for one in service.formats)]
    asked = set()
    extra = service.surcharges
    if any(one.thickness_um for one in limits) or any(one.thickness_above_um for one in extra):
        asked.add("thickness")
    if any(one.girth_um or one.length_plus_girth_um for one in limits) or any(
        one.girth_above_um or one.length_plus_girth_above_um for one in extra
    ):
        asked.add("girth")
    if service.volumetric or any(one.volume_cm3 for one in limits) or any(one.volume_above_cm3 for one in extra):
        asked.add("volume")
    return asked


def _least_taken(at: PriceAt, low: int, value: int) -> int:
    """Return the least value the service takes, between one it refuses and one it takes."""
    while value - low > 1:
        middle = (low + value) // 2
        if at(middle) is None:
            low = middle
        else:
            value = middle
    return value


def _most_below(at: PriceAt, now: Decimal, low: int, value: int) -> int | None:
    """Return the largest value from ``low`` on at which it costs less than ``now``; None when it never does.

    What is too small for the service is refused: then it is looked from the least it takes.
    """
    first = at(low)
    if first is None:
        low = _least_taken(at, low, value)
        first = at(low)
    if first is None or first >= now:
        return None
    high = value
    while high - low > 1:
        middle = (low + high) // 2
        price = at(middle)
        if price is not None and price < now:
            low = middle
        else:
            high = middle
    return low
