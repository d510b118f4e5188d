"""Zones buyers can be told apart by before it is known who carries: those of the carrier that takes most (money)."""

from collections import Counter
from dataclasses import dataclass

from core.tariffs.model import Place, Tariff
from core.tariffs.quote import tariffs_in_force
from core.tariffs.zones import plain_postcode, zone_of
from server.carriers.models import Label
from server.carriers.selectors import core_tariffs
from server.orders.models import Order
from server.plans.facts import place_of
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["Zoning", "zoning_of"]

#: The carrier that takes most is counted from so many labels.
_NEWEST_LABELS = 1_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Zoning:
    """One carrier's zones, for every order."""

    tariff: Tariff | None
    origin: Place

    @property
    def carrier(self) -> str:
        """Return the carrier's name; empty: no carrier has a list."""
        return self.tariff.carrier_name if self.tariff is not None else ""

    def zone(self, place: Place) -> str:
        """Return the zone of a place, "-" where the carrier does not go."""
        return (zone_of(self.tariff, place, self.origin) if self.tariff is not None else None) or "-"

    def zone_of_order(self, order: Order) -> str:
        """Return the zone of where an order goes."""
        return self.zone(place_of(order))


def zoning_of(workshop: Workshop) -> Zoning:
    """Return the zones of the carrier that took most of the newest parcels."""
    tariffs = tariffs_in_force(core_tariffs(workshop), today(workshop))
    newest = Label.objects.of(workshop).filter(state=Label.State.BOUGHT).order_by("-id")
    taken = Counter(newest.values_list("carrier", flat=True)[:_NEWEST_LABELS])
    tariff = max(tariffs, key=lambda one: (taken[one.carrier], one.carrier), default=None)
    return Zoning(tariff=tariff, origin=Place(country=workshop.country, postcode=plain_postcode(workshop.postcode)))
