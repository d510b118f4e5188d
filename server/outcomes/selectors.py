"""Reading arrivals: lists for the screen, and the core's values for rates (outcomes)."""

from collections.abc import Iterable
from datetime import date, timedelta
from typing import Literal, cast

from django.db.models import Exists, F, OuterRef, Q, QuerySet

from core.outcomes.model import HURT, Arrived, Harm, Outcome, PackedGoods
from server.bench.models import Parcel
from server.orders.searching import named_like
from server.outcomes.models import Arrival, ArrivalGoods, ArrivalHarm
from server.workshops.models import Workshop

__all__ = ["OVERDUE_DAYS", "Show", "arrivals", "arrived_values", "of_recipe"]

#: ask: it came, or should have, and nobody said how; way: on the way; told: somebody said; claims have their own list.
Show = Literal["ask", "way", "told", "all"]
#: So many days after it was promised one asks where it is (a judgement).
OVERDUE_DAYS = 3
#: Rates look at the newest so many parcels of a recipe: what is older was packed and carried otherwise.
_MOST = 1_000


def arrivals(workshop: Workshop, show: Show, day: date, find: str = "") -> "QuerySet[Arrival]":
    """Return a list of arrivals, in the order they are dealt with."""
    rows = (
        Arrival.objects.of(workshop)
        .select_related("parcel__order", "claim")
        .defer("parcel__weight_check", "parcel__order__came_as")
    )
    overdue = Q(delivered_on=None, promised_on__lt=day - timedelta(days=OVERDUE_DAYS))
    open_rows = Q(outcome="unknown")
    if show == "ask":
        rows = rows.filter(open_rows & (Q(delivered_on__isnull=False) | overdue)).order_by(
            F("whole_by").asc(nulls_first=True), "promised_on", "id"
        )
    elif show == "way":
        rows = rows.filter(open_rows & Q(delivered_on=None) & ~overdue).order_by("promised_on", "id")
    elif show == "told":
        rows = rows.exclude(source__in=("", Arrival.Source.ASSUMED)).order_by("-answered_at", "-id")
    if find:
        # Two questions that each have their index; put together with or, neither would be used.
        named = Parcel.objects.of(workshop).filter(order__in=named_like(workshop, find).order_by().values("pk"))
        tracked = Parcel.objects.of(workshop).filter(tracking__icontains=find)
        rows = rows.filter(parcel__in=named.order_by().values_list("pk").union(tracked.order_by().values_list("pk")))
    return rows


def of_recipe(workshop: Workshop, recipe_id: int) -> "QuerySet[Arrival]":
    """Return the parcels with goods of a recipe, newest first."""
    goods = ArrivalGoods.objects.of(workshop).filter(arrival=OuterRef("pk"), version__recipe_id=recipe_id)
    # Asked of each from the newest on, until there are enough: goods of all that ever left are not looked at.
    return Arrival.objects.of(workshop).filter(Exists(goods)).order_by("-sent_on", "-id")


def arrived_values(workshop: Workshop, rows: "QuerySet[Arrival]") -> tuple[Arrived, ...]:
    """Return parcels as the core counts them, the newest so many; in three queries."""
    chosen = list(
        rows.values_list("pk", "outcome", "source", "container", "carrier", "service", "zone", "sent_on")[:_MOST]
    )
    ids = [row[0] for row in chosen]
    goods = _goods(workshop, ids)
    harms = _harms(workshop, [row[0] for row in chosen if row[1] in HURT])
    return tuple(
        Arrived(
            parcel=str(pk),
            goods=goods.get(pk, ()),
            outcome=cast(Outcome, outcome),
            harms=harms.get(pk, ()),
            container=container,
            carrier=carrier,
            service=service,
            zone=zone,
            sent_on=sent_on,
            assumed=source == Arrival.Source.ASSUMED,
        )
        for pk, outcome, source, container, carrier, service, zone, sent_on in chosen
    )


def _goods(workshop: Workshop, ids: Iterable[int]) -> dict[int, tuple[PackedGoods, ...]]:
    found: dict[int, tuple[PackedGoods, ...]] = {}
    rows = ArrivalGoods.objects.of(workshop).filter(arrival_id__in=list(ids)).order_by("arrival_id", "id")
    names = ("arrival_id", "sku", "units", "version__recipe__code", "version__number", "band_first", "band_last")
    for arrival_id, sku, units, recipe, number, first, last in rows.values_list(*names):
        band = "" if not first else f"{first}" if first == last else f"{first}-{last}"
        one = PackedGoods(sku=sku, units=units, recipe=recipe or "", version=number or 0, band=band)
        found[arrival_id] = (*found.get(arrival_id, ()), one)
    return found


def _harms(workshop: Workshop, ids: Iterable[int]) -> dict[int, tuple[Harm, ...]]:
    found: dict[int, tuple[Harm, ...]] = {}
    rows = ArrivalHarm.objects.of(workshop).filter(arrival_id__in=list(ids)).order_by("arrival_id", "id")
    for row in rows:
        one = Harm(kind=row.kind, place=row.place or None, spot=row.spot, sku=row.sku, units=row.units)  # type: ignore[arg-type]
        found[row.arrival_id] = (*found.get(row.arrival_id, ()), one)
    return found
