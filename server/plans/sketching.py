"""What would come of an order that is being typed: planned in full, nothing saved, nothing locked (plans)."""

from copy import copy
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from core.messages import Text
from core.parcels.plan import Blocked, PlannedOrder
from core.tariffs.zones import zones_of
from server.carriers.selectors import core_tariffs
from server.orders.by_hand import TypedOrder, sketched
from server.orders.models import Order
from server.plans.facts import place_of, settings_of
from server.plans.mapping import plan_of
from server.plans.models import Plan
from server.plans.writing import draft
from server.workshops.models import Workshop

__all__ = ["Changed", "Sketch", "sketch", "sketch_of"]

#: The key of an order that is not saved yet.
_UNSAVED = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Sketch:
    """How an order would go; without a plan only ``missing`` tells something."""

    planned: bool
    containers: tuple[Text, ...]
    gross_mg: int
    service: str
    arrives_on: date | None
    postage: Decimal
    total: Decimal
    missing: tuple[Text, ...]
    zone_known: bool

    def __add__(self, other: "Sketch") -> "Sketch":
        """Return how two orders would go, one after the other."""
        days = [day for day in (self.arrives_on, other.arrives_on) if day is not None]
        services = (*self.service.split(", "), *other.service.split(", "))
        return Sketch(
            planned=self.planned and other.planned,
            containers=(*self.containers, *other.containers),
            gross_mg=self.gross_mg + other.gross_mg,
            service=", ".join(dict.fromkeys(name for name in services if name)),
            arrives_on=max(days, default=None),
            postage=self.postage + other.postage,
            total=self.total + other.total,
            missing=(*self.missing, *other.missing),
            zone_known=self.zone_known and other.zone_known,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Changed:
    """The plan as it is, and as it would be."""

    before: Sketch | None
    after: Sketch


def sketch(workshop: Workshop, typed: TypedOrder, old: Order | None) -> Changed:
    """Plan what was typed. ``old``: the order it changes. Raises Refused (unknown_product)."""
    plan = Plan.objects.of(workshop).filter(order=old).select_related("kept").first() if old is not None else None
    order, lines = sketched(workshop, typed, copy(old) if old is not None else Order(pk=_UNSAVED))
    made = draft(workshop, [order], typed={order.pk: lines}).orders[0].result
    known = _zone_known(workshop, order)
    before = sketch_of(plan_of(plan.kept), zone_known=True) if plan is not None else None
    return Changed(before=before, after=sketch_of(made, zone_known=known))


def _zone_known(workshop: Workshop, order: Order) -> bool:
    origin, place = settings_of(workshop).origin, place_of(order)
    return any(zone is not None for tariff in core_tariffs(workshop) for zone in zones_of(tariff, place, origin))


def sketch_of(plan: PlannedOrder | Blocked, *, zone_known: bool) -> Sketch:
    """Return what is shown of a plan."""
    if isinstance(plan, Blocked):
        return Sketch(
            planned=False,
            containers=(),
            gross_mg=0,
            service="",
            arrives_on=None,
            postage=Decimal(0),
            total=Decimal(0),
            missing=tuple(one.message for one in plan.missing),
            zone_known=zone_known,
        )
    way = plan.chosen
    quotes = [parcel.candidate.quote for parcel in way.parcels]
    return Sketch(
        planned=True,
        containers=way.containers,
        gross_mg=sum(parcel.candidate.weight.gross_mg for parcel in way.parcels),
        service=", ".join(dict.fromkeys(quote.service_name for quote in quotes)),
        arrives_on=max(quote.arrives_on for quote in quotes),
        postage=sum((quote.price for quote in quotes), Decimal(0)),
        total=way.costs.total,
        missing=(),
        zone_known=zone_known,
    )
