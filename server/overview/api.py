"""The rail's counts, and finding anything: over all rooms, over HTTP."""

from django.db.models import Count, Q
from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel

from server.api.operation import operation
from server.api.views import MemberView
from server.beginning.first_parcel import first_parcel
from server.bench.models import Parcel
from server.orders.models import Order
from server.orders.searching import named_like
from server.outcomes.selectors import arrivals
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["FindView", "RailView"]


class RailOut(BaseModel):
    """Where the work stands."""

    orders: int  #: imported, not packed: new and held
    held: int
    plan: int  #: planned, waiting for the bench
    bench: int
    packed: int
    send_off: int  #: parcels that are closed and not handed over
    arrivals: int  #: came, or should have, and nobody said how
    #: things still needed for the first parcel; None: one was packed
    first_parcel_left: int | None


class Found(BaseModel):
    """One thing found."""

    kind: str
    title: str
    detail: str
    path: str


class FoundOut(BaseModel):
    """What was found."""

    results: list[Found]


class RailView(MemberView):
    """GET /api/rail"""

    @operation("rail")
    def get(self) -> RailOut:
        """The counts of the rail; what the first parcel still needs until it is packed."""
        orders = Order.objects.of(self.workshop).order_by()
        states = dict(orders.exclude(state__in=Order.ENDED).values_list("state").annotate(n=Count("id")))
        packed = orders.filter(state=Order.State.PACKED).count()
        return RailOut(
            orders=states.get("new", 0) + states.get("held", 0) + states.get("planned", 0),
            held=states.get("held", 0),
            plan=states.get("planned", 0),
            bench=states.get("bench", 0),
            packed=packed,
            send_off=Parcel.objects.of(self.workshop).filter(state=Parcel.State.CLOSED, handed_over_at=None).count(),
            arrivals=arrivals(self.workshop, "ask", today(self.workshop)).count(),
            first_parcel_left=None if packed else _left(self.workshop),
        )


def _left(workshop: Workshop) -> int | None:
    found = first_parcel(workshop)
    return None if found.packed else found.left


class FindView(MemberView):
    """GET /api/find"""

    @operation("find", parameters=[OpenApiParameter("q", str)])
    def get(self) -> FoundOut:
        """Orders, supplies, shelf places, recipes and products that hold the text."""
        text = self.request.query_params.get("q", "").strip().replace("\x00", "")[:60]
        return FoundOut(results=_find(self.workshop, text) if text else [])


_EACH = 6


def _find(workshop: Workshop, text: str) -> list[Found]:
    orders = named_like(workshop, text).order_by("-placed_on", "-id")[:_EACH]
    place = Q(shelf__iexact=text[:1], slot=int(text[1:])) if text[1:].isdecimal() and len(text) < 4 else Q(pk=None)
    supplies = Supply.objects.of(workshop).filter(
        Q(retired_at=None), Q(code__icontains=text) | Q(name__icontains=text) | place
    )[:_EACH]
    recipes = Recipe.objects.of(workshop).filter(Q(retired_at=None), Q(name__icontains=text) | Q(code__icontains=text))[
        :_EACH
    ]
    products = Product.objects.of(workshop).filter(
        Q(retired_at=None), Q(name__icontains=text) | Q(sku__icontains=text)
    )[:_EACH]
    return [
        *(Found(kind="order", title=f"{o.number}, {o.buyer}", detail=o.state, path=_order_path(o)) for o in orders),
        *(
            Found(kind="supply", title=s.name, detail=f"{s.code}, shelf {s.place}", path=f"/cupboard?supply={s.pk}")
            for s in supplies
        ),
        *(Found(kind="recipe", title=r.name, detail=r.code, path=f"/recipes/{r.pk}") for r in recipes),
        *(
            Found(
                kind="product",
                title=p.name,
                detail=p.sku,
                path=f"/products?product={p.pk}",
            )
            for p in products
        ),
    ]


def _order_path(order: Order) -> str:
    if order.state in (Order.State.PACKED, Order.State.BENCH):
        return f"/orders?state={order.state}&find={order.number}"
    return f"/plan/{order.pk}"
