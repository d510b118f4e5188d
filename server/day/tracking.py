"""Tracking files: what went with a hand-over, for each sales channel in the columns its orders came in (day)."""

from pydantic import TypeAdapter

from core.intake.columns import Matching
from server.api.problems import Refused
from server.bench.models import Parcel
from server.carriers.models import Label
from server.day.models import SendOff
from server.day.times import Clock
from server.formats.orders import COLUMNS
from server.formats.tracking_file import Tracked, tracking_csv
from server.orders.models import ChannelFile, Order
from server.workshops.models import Workshop

__all__ = ["sent_with", "tracking_of"]

_MATCHING = TypeAdapter(Matching)
#: Our own columns that tell of an order as a whole.
_OF_ORDER = ("order", "channel", "placed_on", "buyer", "postcode", "country")


def sent_with(workshop: Workshop, send_off_id: int) -> tuple[SendOff, list[Parcel]]:
    """Return a hand-over and its parcels, in the order they were scanned. Raises Refused (404)."""
    record = SendOff.objects.of(workshop).filter(pk=send_off_id).first()
    if record is None:
        raise Refused("There is no such hand-over in your workshop.", code="not_found", status=404)
    rows = record.parcels.select_related("parcel__order").order_by("at", "id")
    return record, [one.parcel for one in rows]


def tracking_of(workshop: Workshop, clock: Clock, send_off_id: int, channel: str) -> str:
    """Return the file of one channel. Raises Refused (404) when nothing of it went with the hand-over."""
    record, parcels = sent_with(workshop, send_off_id)
    mine = [one for one in parcels if one.order.channel == channel]
    # What was packed with an order goes under its own number, too.
    joined = Order.objects.of(workshop).filter(joined_into__in=[one.order_id for one in parcels], channel=channel)
    with_others: dict[int, list[Order]] = {}
    for order in joined:
        with_others.setdefault(order.joined_into_id or 0, []).append(order)
    if not mine and not with_others:
        raise Refused(f"Nothing of {channel[:30]} went with this hand-over.", code="not_found", status=404)
    labels = {
        label.parcel_id: label
        for label in Label.objects.of(workshop).filter(parcel__in=parcels, state=Label.State.BOUGHT)
    }
    sent_on = record.at.astimezone(clock.now.tzinfo).date()
    found = []
    for parcel in parcels:
        orders = [parcel.order] if parcel.order.channel == channel else []
        for order in [*orders, *with_others.get(parcel.order_id, [])]:
            label = labels.get(parcel.pk)
            found.append(
                Tracked(
                    order=order.number,
                    placed_on=order.placed_on,
                    buyer=order.buyer,
                    address=tuple(order.address),
                    postcode=order.postcode,
                    country=order.country,
                    channel=order.channel,
                    tracking=parcel.tracking,
                    carrier=label.carrier if label else "",
                    service=label.service_name if label else "",
                    sent_on=sent_on,
                )
            )
    kept = ChannelFile.objects.of(workshop).filter(name=channel).first()
    if kept is not None:
        return tracking_csv(kept.head, _MATCHING.validate_python(kept.matching).columns, found)
    own = [name for name in COLUMNS if name in _OF_ORDER]
    return tracking_csv(
        own,
        {
            "order": ("order",),
            "channel": ("channel",),
            "placed_on": ("placed_on",),
            "buyer": ("buyer",),
            "postcode": ("postcode",),
            "country": ("country",),
        },
        found,
    )
