"""The carrier's counter, simulated behind a plain interface; it can be told to misbehave.

Asked twice with the same key it sells once. ``Carrier`` is what the bench needs of any carrier. A real one that is
asked to misbehave: slow, refuses, refuses even to say what it sold, is down, answers twice, does the work and drops out
before it answers, asks more than its list says, measures the parcel again on the way and sends a bill, or is late.
"""

import time
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from typing import Literal, Protocol
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from server.standins.models import Behaviour, CarrierSale
from server.workshops.models import Workshop

__all__ = [
    "AGAIN_FIXED",
    "AGAIN_PERCENT",
    "CALENDAR_MODES",
    "CARRIER_MODES",
    "VOID_WITHIN_DAYS",
    "Carrier",
    "CarrierRefused",
    "Event",
    "EventKind",
    "NoAnswer",
    "Progress",
    "Sale",
    "SimulatedCarrier",
    "Standing",
]

CARRIER_MODES = (
    "well",
    "slow",
    "refuse",
    "down",
    "answer_twice",
    "drop_out_after",
    "asks_more",
    "measures_again",
    "refuse_all",
    "late",
)
#: The stand-in's own calendar: so many days from today.
CALENDAR_MODES = ("well", "plus_1", "plus_2", "plus_3", "plus_5", "plus_10")
#: A label is taken back for its price until so many days after it was sold.
VOID_WITHIN_DAYS = 2
_SLOW_SECONDS = 3.0
#: What is on the way while it is told to be late comes so many days later.
_LATE_DAYS = 2
_SUNDAY = 6
_MORE_PERCENT = Decimal("0.05")
AGAIN_PERCENT, AGAIN_FIXED = Decimal("0.12"), Decimal("1.50")


class NoAnswer(Exception):
    """The carrier did not answer: it may or may not have done the work."""


class CarrierRefused(Exception):
    """The carrier answered no, in its words."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sale:
    """A label sold."""

    tracking: str
    price: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """What the carrier has under a key: nothing, a label, or one it took back."""

    state: Literal["unknown", "sold", "cancelled"]
    tracking: str = ""


#: What happened to a parcel, whatever words a carrier has for it.
EventKind = Literal["label", "cancelled", "collected", "moving", "measured", "delivered"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """One thing that happened to the parcel."""

    on: date
    kind: EventKind
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """How a parcel fares: what happened so far, and what the carrier measured and charged since."""

    events: tuple[Event, ...]
    measured_mg: int | None
    charged_more: Decimal


class Carrier(Protocol):
    """What the bench needs of a carrier."""

    def check(self, workshop: Workshop, *, service: str, price: Decimal) -> Decimal:
        """Return what the carrier would charge for a label that its list prices so. Raises NoAnswer, CarrierRefused."""

    def buy(
        self, workshop: Workshop, *, key: UUID, service: str, price: Decimal, weight_mg: int, transit_days: int
    ) -> tuple[Sale, ...]:
        """Return the answers to one asking (a carrier may answer twice; both tell of the same sale).

        Raises NoAnswer, CarrierRefused. Asked again with the same key, it sells nothing new.
        """

    def status(self, workshop: Workshop, *, key: UUID) -> Standing:
        """Return what the carrier has under a key; changes nothing. Raises NoAnswer, CarrierRefused."""

    def void(self, workshop: Workshop, *, key: UUID) -> None:
        """Take a label back for its price; done twice it is done once. Raises NoAnswer, CarrierRefused."""

    def track(self, workshop: Workshop, *, key: UUID) -> Progress:
        """Return how the parcel fares. Raises NoAnswer, CarrierRefused."""


class SimulatedCarrier:
    """The stand-in."""

    def check(self, workshop: Workshop, *, service: str, price: Decimal) -> Decimal:
        """Return the price asked. See ``Carrier.check``."""
        mode = _before_work(workshop)
        return price + _cents(price * _MORE_PERCENT) if mode == "asks_more" else price

    def buy(
        self, workshop: Workshop, *, key: UUID, service: str, price: Decimal, weight_mg: int, transit_days: int
    ) -> tuple[Sale, ...]:
        """Sell a label. See ``Carrier.buy``."""
        mode = _before_work(workshop)
        sale = self._sell(workshop, key, service, price, weight_mg, transit_days)
        _after_work(mode)
        return (sale, sale) if mode == "answer_twice" else (sale,)

    @transaction.atomic
    def _sell(
        self, workshop: Workshop, key: UUID, service: str, price: Decimal, weight_mg: int, transit_days: int
    ) -> Sale:
        row, new = (
            CarrierSale.objects.of(workshop)
            .select_for_update()
            .get_or_create(
                key=key,
                defaults={
                    "workshop": workshop,
                    "tracking": _tracking(service, key),
                    "service": service,
                    "price": price,
                    "weight_mg": weight_mg,
                    "transit_days": transit_days,
                    "sold_on": _today(workshop),
                },
            )
        )
        if not new:
            row.times_asked += 1
            row.save(update_fields=["times_asked"])
        return Sale(tracking=row.tracking, price=row.price)

    def status(self, workshop: Workshop, *, key: UUID) -> Standing:
        """Tell what was sold under a key. See ``Carrier.status``. An account on hold is still told what it bought."""
        mode = _before_work(workshop, also_on_hold=True)
        row = CarrierSale.objects.of(workshop).filter(key=key).first()
        _after_work(mode)
        if row is None:
            return Standing(state="unknown")
        return Standing(state="sold" if row.void_on is None else "cancelled", tracking=row.tracking)

    def void(self, workshop: Workshop, *, key: UUID) -> None:
        """Take a label back. See ``Carrier.void``."""
        mode = _before_work(workshop)
        with transaction.atomic():
            row = CarrierSale.objects.of(workshop).select_for_update().filter(key=key).first()
            if row is None:
                raise CarrierRefused("We sold no label under that number.")
            if row.void_on is None:
                day = _today(workshop)
                if row.sold_on is not None and (day - row.sold_on).days > VOID_WITHIN_DAYS:
                    raise CarrierRefused(f"Labels are cancelled within {VOID_WITHIN_DAYS} days only.")
                row.void_on = day
                row.save(update_fields=["void_on"])
        _after_work(mode)

    def track(self, workshop: Workshop, *, key: UUID) -> Progress:
        """Tell how the parcel fares. See ``Carrier.track``."""
        mode = _before_work(workshop)
        with transaction.atomic():
            row = CarrierSale.objects.of(workshop).select_for_update().filter(key=key).first()
            if row is None:
                raise CarrierRefused("We know of no parcel under that number.")
            day = _today(workshop)
            if mode == "measures_again" and row.measured_mg is None and row.sold_on and day > row.sold_on:
                row.measured_mg = row.weight_mg + row.weight_mg // 8
                row.charged_more = _cents(row.price * AGAIN_PERCENT) + AGAIN_FIXED
                row.save(update_fields=["measured_mg", "charged_more"])
            if mode == "late" and not row.late_days and not any(e.kind == "delivered" for e in _events(row, day)):
                row.late_days = _LATE_DAYS
                row.save(update_fields=["late_days"])
            progress = Progress(events=_events(row, day), measured_mg=row.measured_mg, charged_more=row.charged_more)
        _after_work(mode)
        return progress


def _before_work(workshop: Workshop, *, also_on_hold: bool = False) -> str:
    """Return how the carrier behaves today; when it is down or refuses, nothing is done."""
    mode = _mode(workshop, "carrier")
    if mode == "down":
        raise NoAnswer("The carrier's counter does not answer.")
    if mode == "refuse_all" or (mode == "refuse" and not also_on_hold):
        raise CarrierRefused("Account on hold: call us before the next label.")
    if mode == "slow":
        time.sleep(_SLOW_SECONDS)
    return mode


def _after_work(mode: str) -> None:
    if mode == "drop_out_after":
        raise NoAnswer("The line dropped before the answer came.")


def _mode(workshop: Workshop, device: str) -> str:
    behaviour = Behaviour.objects.of(workshop).filter(device=device).first()
    return behaviour.mode if behaviour else "well"


def _today(workshop: Workshop) -> date:
    ahead = _mode(workshop, "calendar").removeprefix("plus_")
    return timezone.now().date() + timedelta(days=int(ahead) if ahead.isdigit() else 0)


def _events(row: CarrierSale, day: date) -> tuple[Event, ...]:
    """One event a day but Sundays: label, collection, on the way, delivered after its days and those it is late."""
    if row.sold_on is None:
        return ()
    if row.void_on is not None:
        return (
            Event(on=row.sold_on, kind="label", words="label made"),
            Event(on=row.void_on, kind="cancelled", words="label cancelled"),
        )
    found = [Event(on=row.sold_on, kind="label", words="label made")]
    days = [
        on for n in range(1, 2 * row.transit_days + 14) if (on := row.sold_on + timedelta(days=n)).weekday() != _SUNDAY
    ]
    last = max(1, row.transit_days) + row.late_days
    if last == 1:
        found.append(Event(on=row.sold_on, kind="collected", words="collected"))
    for number, on in enumerate(days[:last], start=1):
        kind: EventKind = "delivered" if number == last else "collected" if number == 1 else "moving"
        found.append(Event(on=on, kind=kind, words="on the way" if kind == "moving" else kind))
    if row.measured_mg is not None:
        found.append(Event(on=row.sold_on + timedelta(days=1), kind="measured", words="measured again"))
    return tuple(sorted((event for event in found if event.on <= day), key=lambda event: event.on))


def _cents(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)


def _tracking(service: str, key: UUID) -> str:
    """A number of the stand-in's own: letters of the service, ten digits, one check digit."""
    digits = f"{key.int % 10**10:010d}"
    check = sum(int(d) * (3 if i % 2 else 1) for i, d in enumerate(digits)) % 10
    letters = "".join(ch for ch in service.upper() if ch.isalpha())[:2].ljust(2, "X")
    return f"{letters}{digits}{check}"
