"""A sales channel behind a plain interface, and the simulated one that ships with the app; it can misbehave.

``SalesChannel`` is what the worker knows of any channel: what is new since a mark, and telling it a tracking number.
The simulation keeps a book of made-up orders. Told to misbehave it is slow, down, refuses, sends everything twice,
sends out of order and old revisions after new ones, or does the work and drops out before it answers.
"""

import random
import time
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, Protocol
from uuid import UUID

from django.db import transaction
from django.db.models import Max

from server.orders.models import Order
from server.recipes.models import Product
from server.standins.models import Behaviour, ChannelOrder
from server.workshops.clock import today
from server.workshops.models import Workshop, lock_workshop

__all__ = ["CHANNEL_MODES", "ChannelSilent", "Delivery", "Happening", "SalesChannel", "SimulatedChannel", "happen"]

CHANNEL_MODES = ("well", "slow", "down", "refuse", "answer_twice", "out_of_order", "drop_out_after")
_SLOW_SECONDS = 3.0
_AT_ONCE = 100

#: What may happen at the simulated channel.
Happening = Literal["order", "change", "cancel"]
_BUYERS = ("Hedda Lorn", "Piers Oakley", "Sunniva Brack", "Tomas Wend", "Yara Finch", "Ebba Stroud")
_STREETS = ("Tanner Row", "Lower Quay", "Chapel Hill", "Ropewalk", "Mill End")
_NOTES = ("", "", "", "Please ring twice.", "A present for my sister.")


class ChannelSilent(Exception):
    """The channel did not answer, or answered no."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Delivery:
    """What is new: orders as JSON values (docs/formats/api.md), and the mark to ask from next time."""

    orders: tuple[Mapping[str, Any], ...]
    mark: int
    more: bool = False  #: there is more to be asked for at once


class SalesChannel(Protocol):
    """What the worker needs of a channel."""

    def new_since(self, workshop: Workshop, *, mark: int) -> Delivery:
        """Return what is new or changed after a mark. Raises ChannelSilent."""

    def tell_tracking(self, workshop: Workshop, *, number: str, tracking: str, carrier: str, key: UUID) -> None:
        """Tell how an order was sent; told again with the same key, it counts once. Raises ChannelSilent."""


class SimulatedChannel:
    """The stand-in."""

    def new_since(self, workshop: Workshop, *, mark: int) -> Delivery:
        """Return what is new. See ``SalesChannel.new_since``."""
        mode = _mode(workshop)
        rows = list(ChannelOrder.objects.of(workshop).filter(seq__gt=mark).order_by("seq")[: _AT_ONCE + 1])
        more, rows = len(rows) > _AT_ONCE, rows[:_AT_ONCE]
        orders = [row.document for row in rows]
        if mode == "answer_twice":
            orders = [one for document in orders for one in (document, document)]
        if mode == "out_of_order":
            # Newest first, then what it said of each before: an old message comes after the new one.
            orders = [*reversed(orders), *(row.before for row in rows if row.before is not None)]
        if mode == "drop_out_after":
            raise ChannelSilent("The line dropped before the answer came.")
        return Delivery(orders=tuple(orders), mark=rows[-1].seq if rows else mark, more=more)

    def tell_tracking(self, workshop: Workshop, *, number: str, tracking: str, carrier: str, key: UUID) -> None:
        """Write it into the book. See ``SalesChannel.tell_tracking``."""
        mode = _mode(workshop)
        with transaction.atomic():
            row = ChannelOrder.objects.of(workshop).select_for_update().filter(number=number).first()
            if row is None:
                raise ChannelSilent(f"We have no order {number}.")
            if str(key) not in {one["key"] for one in row.tracking}:
                row.tracking = [*row.tracking, {"key": str(key), "tracking": tracking, "carrier": carrier}]
            row.times_told += 1
            row.save(update_fields=["tracking", "times_told"])
        if mode == "drop_out_after":
            raise ChannelSilent("The line dropped before the answer came.")


def _mode(workshop: Workshop) -> str:
    behaviour = Behaviour.objects.of(workshop).filter(device="channel").first()
    mode = behaviour.mode if behaviour else "well"
    if mode == "down":
        raise ChannelSilent("The channel does not answer.")
    if mode == "refuse":
        raise ChannelSilent("The channel refuses: too many requests, come back later.")
    if mode == "slow":
        time.sleep(_SLOW_SECONDS)
    return mode


@transaction.atomic
def happen(workshop: Workshop, what: Happening, *, count: int = 1) -> list[str]:
    """Let buyers order, change or cancel at the simulated channel. Returns the numbers of the orders."""
    lock_workshop(workshop)
    last = ChannelOrder.objects.of(workshop).aggregate(seq=Max("seq"))["seq"] or 0
    if what == "order":
        made = [_made_up(workshop, last + at) for at in range(1, count + 1)]
        ChannelOrder.objects.of(workshop).bulk_create(made)
        return [row.number for row in made]
    rows = list(
        ChannelOrder.objects.of(workshop)
        .select_for_update()
        .exclude(document__status="cancelled")
        .order_by("-seq")[:count]
    )
    for at, row in enumerate(rows, start=1):
        row.before = row.document
        document = {**row.document, "revision": row.document["revision"] + 1}
        if what == "cancel":
            document["status"] = "cancelled"
        else:
            lines = [dict(line) for line in document["lines"]]
            lines[0]["quantity"] += 1
            document["lines"] = lines
        row.document, row.seq = document, last + at
        row.save(update_fields=["before", "document", "seq"])
    return [row.number for row in rows]


def _made_up(workshop: Workshop, seq: int) -> ChannelOrder:
    """An order of a buyer who does not exist, the same each time for the same number."""
    rng = random.Random(f"{workshop.code} {seq}")
    number = f"M-{1000 + seq}"
    return ChannelOrder(
        workshop=workshop,
        number=number,
        seq=seq,
        document={
            "number": number,
            "revision": 1,
            "status": "open",
            "placed_on": _day(workshop).isoformat(),
            "buyer": rng.choice(_BUYERS),
            "address": f"{rng.randint(1, 80)} {rng.choice(_STREETS)}",
            **_place(workshop, rng),
            "note": rng.choice(_NOTES),
            "paid": True,
            "gift": rng.random() < 0.1,
            "postage_charged": "4.50",
            "lines": _lines(workshop, rng),
        },
    )


def _day(workshop: Workshop) -> date:
    return today(workshop)


def _place(workshop: Workshop, rng: random.Random) -> dict[str, str]:
    """A place buyers live at: one of orders before, else the workshop's own."""
    rows = Order.objects.of(workshop).filter(country=workshop.country).order_by("-id")
    places = sorted(
        {(address[-1] if address else "", code) for address, code in rows.values_list("address", "postcode")[:50]}
    )
    town, postcode = rng.choice(places) if places else (workshop.name, workshop.postcode)
    return {"town": town[:60] or "Town", "postcode": postcode or "1", "country": workshop.country}


def _lines(workshop: Workshop, rng: random.Random) -> list[dict[str, object]]:
    products = list(Product.objects.of(workshop).filter(retired_at=None, contents=[]).order_by("sku")[:40])
    chosen = rng.sample(products, min(len(products), rng.choice((1, 1, 2))))
    found: list[dict[str, object]] = [
        {"sku": one.sku, "title": one.name, "quantity": rng.choice((1, 1, 2, 3)), "unit_price": "12.00"}
        for one in chosen
    ]
    return found or [{"sku": "SAMPLE", "title": "Sample", "quantity": 1, "unit_price": "12.00"}]
