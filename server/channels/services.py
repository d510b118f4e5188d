"""Asking channels for orders and telling them tracking numbers; taking what other programs send (channels).

A channel is asked outside any transaction, for it may be slow; what it said is then taken in with its mark in one
transaction. Whoever asked from a mark that is not the one kept any more throws its answer away: another took it in. A
tracking number is written down with a key before it is told, and told with that key until the channel says it has it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from django.db import transaction
from django.db.models import Exists, F, OuterRef, Q
from django.utils import timezone

from core.tariffs.quote import tariffs_in_force
from core.tariffs.reach import check_place
from server.api.problems import Refused
from server.bench.models import Parcel
from server.carriers.selectors import core_tariffs
from server.channels.models import ChannelLink, IncomingRequest, TrackingTold
from server.formats.incoming import IncomingOrder, read_incoming, read_values
from server.orders.intake import Taken, accept, group
from server.orders.models import Order
from server.orders.reading import goods_of
from server.plans.facts import place_of, settings_of
from server.plans.services import plan_later
from server.standins.channel import ChannelSilent, SalesChannel, SimulatedChannel
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["CHANNEL", "ask_channel", "connect", "disconnect", "receive", "tell_channel"]

CHANNEL: SalesChannel = SimulatedChannel()
#: Answers taken in one after another in one run; the rest is taken in by the next.
_MOST_ANSWERS = 20
_MOST_UNREAD = 50
#: A parcel's tracking number is told to the channel for so long; then the channel would not take it any more.
_TELL_DAYS = 30
_MOST_TOLD = 200


@transaction.atomic
def connect(*, by: Member, name: str) -> ChannelLink:
    """Connect a channel under a name, or switch it on again: the worker asks it for orders from now on."""
    lock_workshop(by.workshop)
    link, _ = ChannelLink.objects.of(by.workshop).get_or_create(
        name=name, defaults={"workshop": by.workshop, "name": name}
    )
    link.on, link.problem = True, ""
    link.save(update_fields=["on", "problem"])
    return link


@transaction.atomic
def disconnect(*, by: Member, link_id: int) -> ChannelLink:
    """Stop asking a channel; its orders stay, and it goes on from its mark when it is connected again."""
    link = ChannelLink.objects.of(by.workshop).select_for_update().filter(pk=link_id).first()
    if link is None:
        raise Refused("There is no such channel in your workshop.", code="not_found", status=404)
    link.on = False
    link.save(update_fields=["on"])
    return link


def ask_channel(workshop: Workshop, link_id: int, *, channel: SalesChannel = CHANNEL) -> Taken:
    """Ask a channel until it has nothing new, and take it in. What it answered badly is noted on the link."""
    new: list[int] = []
    known = changed = cancelled = 0
    for _ in range(_MOST_ANSWERS):
        link = ChannelLink.objects.of(workshop).get(pk=link_id)
        try:
            delivery = channel.new_since(workshop, mark=link.mark)
        except ChannelSilent as error:
            ChannelLink.objects.of(workshop).filter(pk=link_id).update(
                asked_at=timezone.now(), problem=str(error)[:300]
            )
            break
        taken = _take_in(workshop, link, delivery.orders, delivery.mark)
        if taken is None:
            break
        new += taken.new
        known, changed, cancelled = known + taken.known, changed + taken.changed, cancelled + taken.cancelled
        if not delivery.more:
            break
    if new:
        plan_later(workshop)
    return Taken(new=tuple(new), known=known, changed=changed, cancelled=cancelled)


@transaction.atomic
def _take_in(workshop: Workshop, asked: ChannelLink, values: Sequence[Mapping[str, Any]], mark: int) -> Taken | None:
    """Take in one answer with its mark; None when somebody took it in meanwhile."""
    lock_workshop(workshop)
    link = ChannelLink.objects.of(workshop).select_for_update().get(pk=asked.pk)
    if link.mark != asked.mark:
        return None
    good, bad = read_values(list(_newest(values)))
    incoming = read_incoming(good, goods_of(workshop), channel=link.name, today=today(workshop))
    taken = accept(workshop=workshop, intake=group(workshop, incoming.read))
    unread = [{"number": number, "faults": faults[:5]} for number, faults in bad]
    unread += [
        {
            "number": incoming.numbers[fault.line - 1],
            "faults": [f"{fault.column}: {fault.value}; allowed: {fault.allowed}"],
        }
        for fault in incoming.read.faults
    ]
    link.mark, link.problem = mark, ""
    link.asked_at = link.answered_at = timezone.now()
    sent = {one["number"] for one in unread}
    link.unread = [*(one for one in link.unread if one["number"] not in sent), *unread][-_MOST_UNREAD:]
    link.save()
    return taken


def _newest(values: Sequence[Mapping[str, Any]]) -> list[Mapping[str, Any]]:
    """Of several messages about one order the last revision counts, in whatever order they came."""
    best: dict[str, Mapping[str, Any]] = {}
    rest = []
    for value in values:
        number, revision = value.get("number"), value.get("revision", 0)
        if not isinstance(number, str) or not isinstance(revision, int):
            rest.append(value)  # told as an error
        elif number not in best or revision > best[number].get("revision", 0):
            best[number] = value
    return [*best.values(), *rest]


def tell_channel(workshop: Workshop, link_id: int, *, channel: SalesChannel = CHANNEL) -> int:
    """Tell a channel the tracking numbers of its orders that have left. Returns how many it has taken now."""
    link = ChannelLink.objects.of(workshop).get(pk=link_id)
    _write_down(workshop, link)
    told = 0
    waiting = TrackingTold.objects.of(workshop).filter(
        told_at=None, parcel__tracking=F("tracking"), parcel__handed_over_at__isnull=False, link=link
    )
    # A parcel that was opened again since has no number or another: that one is told.
    # What the channel refused again and again stands behind what it was not told yet.
    rows = waiting.select_related("order", "parcel").prefetch_related("parcel__labels").order_by("tries", "id")
    for row in rows[:_MOST_TOLD]:
        try:
            channel.tell_tracking(
                workshop, number=row.order.number, tracking=row.tracking, carrier=_carrier(row.parcel), key=row.key
            )
        except ChannelSilent as error:
            TrackingTold.objects.of(workshop).filter(pk=row.pk).update(tries=F("tries") + 1, problem=str(error)[:300])
            continue
        TrackingTold.objects.of(workshop).filter(pk=row.pk).update(
            tries=F("tries") + 1, told_at=timezone.now(), problem=""
        )
        told += 1
    return told


def _write_down(workshop: Workshop, link: ChannelLink) -> None:
    """Write down each tracking number of the channel's orders that is to be told, those packed with another, too."""
    since = timezone.now() - timedelta(days=_TELL_DAYS)
    written = TrackingTold.objects.of(workshop).filter(link=link, parcel=OuterRef("pk"), tracking=OuterRef("tracking"))
    parcels = list(
        Parcel.objects.of(workshop)
        .filter(state=Parcel.State.CLOSED, handed_over_at__gte=since)
        .filter(Q(order__channel=link.name) | Q(order__joined__channel=link.name))
        .exclude(tracking="")
        .exclude(Exists(written))
        .distinct()
        .values_list("pk", "order_id", "tracking")
    )
    leads = {order_id for _, order_id, _ in parcels}
    orders: dict[int, list[int]] = {}
    rows = Order.objects.of(workshop).filter(Q(pk__in=leads) | Q(joined_into__in=leads), channel=link.name)
    for pk, lead in rows.values_list("pk", "joined_into_id"):
        orders.setdefault(lead or pk, []).append(pk)
    TrackingTold.objects.of(workshop).bulk_create(
        [
            TrackingTold(
                workshop=workshop, link=link, order_id=order_id, parcel_id=parcel_id, tracking=tracking, key=uuid4()
            )
            for parcel_id, lead, tracking in parcels
            for order_id in orders.get(lead, [])
        ],
        ignore_conflicts=True,
    )


def _carrier(parcel: Parcel) -> str:
    return next((label.carrier for label in parcel.labels.all() if label.tracking == parcel.tracking), "")


@dataclass(frozen=True, slots=True, kw_only=True)
class Sent:
    """What other programs sent: orders of one channel under one key."""

    key: UUID
    channel: str
    orders: Sequence[IncomingOrder]


def receive(*, workshop: Workshop, sent: Sent) -> dict[str, Any]:
    """Take in what another program sent; sent again with the same key, the same is answered and nothing is done.

    Each valid order is taken in whole; one with errors is left out and named. Returns the answer as JSON values.
    """
    answer, new = _receive(workshop, sent)
    if new:
        plan_later(workshop)
    return answer


@transaction.atomic
def _receive(workshop: Workshop, sent: Sent) -> tuple[dict[str, Any], Sequence[int]]:
    lock_workshop(workshop)
    done = IncomingRequest.objects.of(workshop).filter(key=sent.key).first()
    if done is not None:
        return done.answer, ()
    incoming = read_incoming(sent.orders, goods_of(workshop), channel=sent.channel, today=today(workshop))
    intake = group(workshop, incoming.read)
    verdicts = {one.number: one.verdict for one in intake.orders}
    taken = accept(workshop=workshop, intake=intake)
    here = {
        row.number: row for row in Order.objects.of(workshop).filter(channel=sent.channel, number__in=incoming.numbers)
    }
    tariffs = tariffs_in_force(core_tariffs(workshop), today(workshop))
    origin = settings_of(workshop).origin
    answer = {
        "orders": [
            {
                "number": number,
                "result": verdicts.get(number, "fault"),
                "order_id": here[number].pk if number in here else None,
                "reached": check_place(tariffs, place_of(here[number]), origin).reached if number in here else None,
                "faults": [
                    {"field": fault.column, "value": fault.value, "allowed": fault.allowed}
                    for fault in incoming.read.faults
                    if fault.line == at
                ],
            }
            for at, number in enumerate(incoming.numbers, start=1)
        ]
    }
    IncomingRequest.objects.of(workshop).create(workshop=workshop, key=sent.key, answer=answer, at=timezone.now())
    return answer, taken.new
