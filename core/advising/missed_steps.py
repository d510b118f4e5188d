"""Which step each order-size band of a recipe sits just above, over the orders of the last months (advising; rules
11.4).

Every distinct order (so many units, to such a place) is planned once and counts as often as it came. Pure.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal

from core.messages import Message, say
from core.parcels.candidate import Candidate
from core.recipes.model import Band, size_of
from core.tariffs.cheaper import CheaperStep, Measure, cheaper_steps, measured
from core.tariffs.model import Tariff
from core.tariffs.quote import service_of

__all__ = ["BandStep", "PastOrder", "band_steps"]

#: A measure is just above a step when it must lose no more than this: percent of a weight, and um of a side.
_JUST_PERCENT = 5
_JUST_UM = 30_000


@dataclass(frozen=True, slots=True, kw_only=True)
class PastOrder:
    """One kind of order that came so often, as it would be packed now."""

    units: int
    times: int
    candidate: Candidate


@dataclass(frozen=True, slots=True, kw_only=True)
class BandStep:
    """A step that many orders of a band just miss."""

    first: int
    last: int
    measure: Measure
    step: int  #: mg or um: at it the lower price holds
    over: int  #: what would have to go, at the most, for all these orders
    orders: int
    of: int  #: orders of the band
    percent: int
    saves: Decimal  #: over all these orders
    sentence: Message


def band_steps(
    name: str, bands: Sequence[Band], orders: Iterable[PastOrder], tariffs: tuple[Tariff, ...]
) -> tuple[BandStep, ...]:
    """Return for each band the step just missed that costs most, dearest first; bands that miss none are left out."""
    past = list(orders)
    found = []
    for band in bands:
        mine = [one for one in past if band.first <= one.units <= band.last]
        step = _worst(name, band, mine, tariffs)
        if step is not None:
            found.append(step)
    return tuple(sorted(found, key=lambda one: (-one.saves, one.first)))


def _worst(name: str, band: Band, mine: list[PastOrder], tariffs: tuple[Tariff, ...]) -> BandStep | None:
    missed: dict[tuple[Measure, int], list[tuple[PastOrder, CheaperStep]]] = {}
    for one in mine:
        for step in _just_missed(one.candidate, tariffs):
            # Sides have their steps wherever the other two put them: they are told by the measure alone.
            key = (step.measure, step.at if step.measure == "weight" else 0)
            missed.setdefault(key, []).append((one, step))
    if not missed:
        return None
    saved = {key: sum((step.saves * one.times for one, step in pairs), Decimal(0)) for key, pairs in missed.items()}
    worst = max(saved, key=lambda key: (saved[key], key))
    measure, saves, pairs = worst[0], saved[worst], missed[worst]
    orders, of = sum(one.times for one, _ in pairs), sum(one.times for one in mine)
    over, under = max(step.less_by for _, step in pairs), max(step.at for _, step in pairs)
    percent = round(100 * orders / of)
    what = (
        say("over_the_step", over=measured(measure, over), step=measured(measure, under))
        if measure == "weight"
        else say(f"too_much_{measure}", over=measured(measure, over))
    )
    sentence = say(
        "band_misses_step",
        size=size_of(band.first, band.last),
        recipe=name,
        what=what,
        percent_percent=percent,
        orders=orders,
        of=of,
        saves_money=saves,
    )
    return BandStep(
        first=band.first,
        last=band.last,
        measure=measure,
        step=under,
        over=over,
        orders=orders,
        of=of,
        percent=percent,
        saves=saves,
        sentence=sentence,
    )


def _just_missed(candidate: Candidate, tariffs: tuple[Tariff, ...]) -> list[CheaperStep]:
    if candidate.sending is None:
        return []
    found = service_of(tariffs, candidate.quote, candidate.sending.ship_on)
    if found is None:
        return []
    tariff, service = found
    steps = cheaper_steps(
        tariff,
        service,
        outer=candidate.outer_bulged,
        gross_mg=candidate.weight.gross_mg,
        sending=candidate.sending,
    )
    return [step for step in steps if _just(step)]


def _just(step: CheaperStep) -> bool:
    if step.measure == "weight":
        return step.less_by * 100 <= step.at * _JUST_PERCENT
    return step.measure in ("length", "width", "height") and step.less_by <= _JUST_UM
