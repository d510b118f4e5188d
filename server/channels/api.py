"""Channels, orders from other programs, and tracking numbers for them, over HTTP: thin."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from django.db.models import Count, F, Q
from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.bench.models import Parcel
from server.channels import services
from server.channels.models import ChannelLink
from server.formats.incoming import IncomingOrder
from server.workshops.models import Workshop

__all__ = ["AskChannelView", "ChannelLinkView", "ChannelLinksView", "IncomingView", "TrackingView"]


class UnreadOut(BaseModel):
    """An order the channel sent that cannot be read."""

    number: str
    faults: list[str]


class ChannelLinkOut(BaseModel):
    """A connected channel and how it fares."""

    id: int
    name: str
    on: bool
    asked_at: datetime | None
    answered_at: datetime | None
    problem: str
    unread: list[UnreadOut]
    told: int  #: tracking numbers it has
    waiting: int  #: tracking numbers it has not taken yet


class ChannelLinksOut(BaseModel):
    """All connected channels."""

    links: list[ChannelLinkOut]


class ConnectIn(Body):
    """The name its orders are listed under."""

    name: Annotated[str, Field(min_length=1, max_length=30, pattern=r"^[^\s].*$")]


class AskedOut(BaseModel):
    """What asking a channel brought."""

    new_orders: int
    known_orders: int
    changed_orders: int
    cancelled_orders: int
    told: int
    problem: str


class IncomingIn(Body):
    """Orders of one channel. Sent again with the same key, the same is answered."""

    request_key: UUID
    channel: Annotated[str, Field(min_length=1, max_length=30)]
    orders: Annotated[list[IncomingOrder], Field(min_length=1, max_length=200)]


class IncomingFaultOut(BaseModel):
    """One error of an order."""

    field: str
    value: str
    allowed: str


class IncomingOrderOut(BaseModel):
    """What became of one order."""

    number: str
    result: Literal["new", "known", "changed", "cancelled", "void", "fault"]
    order_id: int | None
    reached: bool | None  #: a price list has a zone for its place
    faults: list[IncomingFaultOut]


class IncomingOut(BaseModel):
    """What became of the orders, in the order they were sent."""

    orders: list[IncomingOrderOut]


class SentParcelOut(BaseModel):
    """A parcel that was packed and closed."""

    order: str
    channel: str
    also: list[str]  #: numbers of other orders in it
    parcel: int  #: which of the order's parcels, from 1
    parcels: int
    tracking: str
    service: str
    closed_at: datetime


class TrackingOut(BaseModel):
    """Parcels closed after a mark, the oldest first, and the mark to ask from next time."""

    parcels: list[SentParcelOut]
    mark: str
    more: bool


def _links(workshop: Workshop) -> ChannelLinksOut:
    rows = ChannelLink.objects.of(workshop).annotate(
        told_now=Count("told", filter=Q(told__told_at__isnull=False)),
        waiting=Count("told", filter=Q(told__told_at=None, told__parcel__tracking=F("told__tracking"))),
    )
    return ChannelLinksOut(
        links=[
            ChannelLinkOut(
                id=row.pk,
                name=row.name,
                on=row.on,
                asked_at=row.asked_at,
                answered_at=row.answered_at,
                problem=row.problem,
                unread=[UnreadOut(**one) for one in row.unread],
                told=row.told_now,
                waiting=row.waiting,
            )
            for row in rows.order_by("name")[:50]
        ]
    )


class ChannelLinksView(MemberView):
    """GET, POST /api/channel-links"""

    owner_only = frozenset({"POST"})

    @operation("channel_links")
    def get(self) -> ChannelLinksOut:
        """Channels the worker asks for orders."""
        return _links(self.workshop)

    @operation("connect_channel", status=201)
    def post(self, body: ConnectIn) -> ChannelLinksOut:
        """Connect a channel, or switch it on again."""
        services.connect(by=self.member, name=body.name)
        return _links(self.workshop)


class ChannelLinkView(MemberView):
    """POST /api/channel-links/{id}/off"""

    owner_only = frozenset({"POST"})

    @operation("disconnect_channel")
    def post(self, link_id: int) -> ChannelLinksOut:
        """Stop asking a channel."""
        services.disconnect(by=self.member, link_id=link_id)
        return _links(self.workshop)


class AskChannelView(MemberView):
    """POST /api/channel-links/{id}/ask"""

    @operation("ask_channel")
    def post(self, link_id: int) -> AskedOut:
        """Ask a channel now instead of within the minute."""
        link = ChannelLink.objects.of(self.workshop).filter(pk=link_id).first()
        if link is None:
            raise Refused("There is no such channel in your workshop.", code="not_found", status=404)
        taken = services.ask_channel(self.workshop, link.pk)
        told = services.tell_channel(self.workshop, link.pk)
        link.refresh_from_db()
        return AskedOut(
            new_orders=len(taken.new),
            known_orders=taken.known,
            changed_orders=taken.changed,
            cancelled_orders=taken.cancelled,
            told=told,
            problem=link.problem,
        )


class IncomingView(MemberView):
    """POST /api/incoming/orders"""

    token_scopes = {"POST": "orders_in"}

    @operation("send_orders")
    def post(self, body: IncomingIn) -> IncomingOut:
        """Take in orders another program sends."""
        sent = services.Sent(key=body.request_key, channel=body.channel.strip(), orders=body.orders)
        return IncomingOut.model_validate(services.receive(workshop=self.workshop, sent=sent))


_MOST_PARCELS = 200


class TrackingView(MemberView):
    """GET /api/tracking"""

    token_scopes = {"GET": "tracking_out"}

    @operation(
        "tracking",
        parameters=[
            OpenApiParameter("since", str, description="The mark of the last answer; without it from the beginning"),
            OpenApiParameter("channel", str, description="Only of this channel"),
        ],
    )
    def get(self) -> TrackingOut:
        """Parcels that were closed after a mark, with their tracking numbers."""
        since = self.request.query_params.get("since", "")
        rows = Parcel.objects.of(self.workshop).filter(state=Parcel.State.CLOSED).select_related("order")
        if since:
            at, pk = _read_mark(since)
            rows = rows.filter(Q(closed_at__gt=at) | Q(closed_at=at, pk__gt=pk))
        if channel := self.request.query_params.get("channel", ""):
            rows = rows.filter(Q(order__channel=channel) | Q(order__joined__channel=channel)).distinct()
        found = list(rows.order_by("closed_at", "pk").prefetch_related("order__joined", "labels")[: _MOST_PARCELS + 1])
        page = found[:_MOST_PARCELS]
        last = page[-1] if page else None
        return TrackingOut(
            parcels=[_sent(row) for row in page],
            mark=f"{last.closed_at.isoformat()}|{last.pk}" if last is not None and last.closed_at else since,
            more=len(found) > _MOST_PARCELS,
        )


def _read_mark(text: str) -> tuple[datetime, int]:
    at, _, pk = text.replace(" ", "+").partition("|")
    try:
        found = datetime.fromisoformat(at)
        if found.tzinfo is None:
            raise ValueError
        return found, int(pk)
    except ValueError:
        raise Refused(
            "since is the mark of the answer before, as it was given.", code="not_valid", status=400, field="since"
        ) from None


def _sent(row: Parcel) -> SentParcelOut:
    label = next((one for one in row.labels.all() if one.tracking == row.tracking), None)
    closed_at = row.closed_at
    if closed_at is None:  # pragma: no cover - a closed parcel has its time
        raise ValueError(f"parcel {row.pk} is closed without a time")
    return SentParcelOut(
        order=row.order.number,
        channel=row.order.channel,
        also=[one.number for one in row.order.joined.all()],
        parcel=row.part,
        parcels=row.parts,
        tracking=row.tracking,
        service=label.service_name if label else "",
        closed_at=closed_at,
    )
