"""What is to be minded when a parcel at the bench is shut: when it holds, against the hand-over, and damp air (day)."""

from dataclasses import dataclass

from core.day.hand_overs import HandOver, leaves_with
from core.parcels.closing import Closing
from server.bench.screens import found_parcel
from server.bench.selectors import part_of
from server.carriers.models import Label
from server.day.models import SendOff
from server.day.times import Clock, Times, clock_of, times_of
from server.standins.humidity import HumiditySensor, SimulatedHumidity
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = ["Air", "ClosingTime", "air_of", "closing_time"]

_SENSOR: HumiditySensor = SimulatedHumidity()


@dataclass(frozen=True, slots=True, kw_only=True)
class Air:
    """How damp the workshop's air is, and who says so."""

    humidity_percent: int
    from_sensor: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ClosingTime:
    """A parcel's closing as it would be if it were shut now."""

    clock: Clock
    times: Times
    closing: Closing
    full_strength_s: int  #: at full strength then
    hand_over: HandOver | None  #: the one it would leave with if it held at once
    leaves_with: HandOver | None  #: the first one at which it holds
    air: Air


def air_of(workshop: Workshop) -> Air:
    """Return the humidity: the sensor's where there is one that answers, else the workshop's setting."""
    read = _SENSOR.read_percent(workshop)
    if read is not None:
        return Air(humidity_percent=read, from_sensor=True)
    return Air(humidity_percent=judgements_of(workshop).humidity_percent, from_sensor=False)


#: Of a parcel that was planned before its closing was kept: nothing is known to mind.
_NOT_KEPT = Closing(held_by=(), grade="none", wanted="none")


def closing_time(workshop: Workshop, parcel_id: int) -> ClosingTime:
    """Return what a parcel's closing asks for. Raises Http404."""
    parcel = found_parcel(workshop, parcel_id)
    candidate = part_of(parcel).candidate
    closing = candidate.closing or _NOT_KEPT
    clock = clock_of(workshop)
    times = times_of(workshop, clock)
    label = Label.objects.of(workshop).filter(parcel=parcel, state=Label.State.BOUGHT).order_by("-id").first()
    carrier = label.carrier if label is not None else candidate.quote.carrier
    done = frozenset(SendOff.objects.of(workshop).filter(day=clock.today, undone_at=None).values_list("key", flat=True))
    begins_s = clock.seconds(parcel.closed_at) if parcel.closed_at is not None else clock.now_s
    holds_s = begins_s + closing.full_strength_minutes * 60
    return ClosingTime(
        clock=clock,
        times=times,
        closing=closing,
        full_strength_s=holds_s,
        hand_over=leaves_with(carrier, times.hand_overs, done=done, now_s=clock.now_s),
        leaves_with=leaves_with(carrier, times.hand_overs, done=done, now_s=clock.now_s, holds_s=holds_s),
        air=air_of(workshop),
    )
