"""A carrier's counter behind a plain interface, and the simulated one that ships with the app.

Buying is idempotent by key: asked twice, it sells once. It can be told to be slow, to refuse, to be down, to
answer twice, or to drop out after doing the work.
"""

import time
from dataclasses import dataclass
from decimal import Decimal
from typing import Protocol
from uuid import UUID

from django.db import transaction

from server.standins.models import Behaviour, CarrierSale
from server.workshops.models import Workshop

__all__ = ["CARRIER_MODES", "Carrier", "CarrierRefused", "NoAnswer", "Sale", "SimulatedCarrier"]

CARRIER_MODES = ("well", "slow", "refuse", "down", "answer_twice", "drop_out_after")
_SLOW_SECONDS = 3.0


class NoAnswer(Exception):
    """The carrier did not answer: it may or may not have done the work."""


class CarrierRefused(Exception):
    """The carrier answered no, in its words."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sale:
    """A label sold."""

    tracking: str
    price: Decimal


class Carrier(Protocol):
    """What the bench needs of a carrier."""

    def buy(self, workshop: Workshop, *, key: UUID, service: str, price: Decimal) -> tuple[Sale, ...]:
        """Return the answers to one asking (a carrier may answer twice; both tell of the same sale).

        Raises NoAnswer, CarrierRefused. Asked again with the same key, it sells nothing new.
        """


class SimulatedCarrier:
    """The stand-in."""

    def buy(self, workshop: Workshop, *, key: UUID, service: str, price: Decimal) -> tuple[Sale, ...]:
        """Sell a label. See ``Carrier.buy``."""
        behaviour = Behaviour.objects.of(workshop).filter(device="carrier").first()
        mode = behaviour.mode if behaviour else "well"
        if mode == "down":
            raise NoAnswer("The carrier's counter does not answer.")
        if mode == "refuse":
            raise CarrierRefused("Account on hold: call us before the next label.")
        if mode == "slow":
            time.sleep(_SLOW_SECONDS)
        sale = self._sell(workshop, key, service, price)
        if mode == "drop_out_after":
            raise NoAnswer("The line dropped before the answer came.")
        return (sale, sale) if mode == "answer_twice" else (sale,)

    @transaction.atomic
    def _sell(self, workshop: Workshop, key: UUID, service: str, price: Decimal) -> Sale:
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
                },
            )
        )
        if not new:
            row.times_asked += 1
            row.save(update_fields=["times_asked"])
        return Sale(tracking=row.tracking, price=row.price)


def _tracking(service: str, key: UUID) -> str:
    """A number of the stand-in's own: letters of the service, ten digits, one check digit."""
    digits = f"{key.int % 10**10:010d}"
    check = sum(int(d) * (3 if i % 2 else 1) for i, d in enumerate(digits)) % 10
    letters = "".join(ch for ch in service.upper() if ch.isalpha())[:2].ljust(2, "X")
    return f"{letters}{digits}{check}"
