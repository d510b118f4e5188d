"""A tracking file for a sales channel: CSV in the columns its orders came in, and four of ours (rules 20.7)."""

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from core.intake.fields import Field
from server.formats.text import safe_cell

__all__ = ["OWN_COLUMNS", "Tracked", "tracking_csv"]

#: What is added behind a channel's own columns.
OWN_COLUMNS = ("Tracking number", "Carrier", "Service", "Sent on")


@dataclass(frozen=True, slots=True, kw_only=True)
class Tracked:
    """One parcel that was handed over."""

    order: str
    placed_on: date
    buyer: str
    address: tuple[str, ...]
    postcode: str
    country: str
    channel: str
    tracking: str
    carrier: str
    service: str
    sent_on: date


def tracking_csv(head: Sequence[str], columns: Mapping[Field, tuple[str, ...]], parcels: Sequence[Tracked]) -> str:
    """Return the file: one line a parcel. ``columns``: which of the channel's columns hold what.

    A column that tells nothing of a whole order stays empty; of several that were joined the first is filled.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([*head, *OWN_COLUMNS])
    for one in parcels:
        cells = _cells(one, columns)
        own = (one.tracking, one.carrier, one.service, one.sent_on.isoformat())
        writer.writerow([*(safe_cell(cells.get(name, "")) for name in head), *own])
    return out.getvalue()


def _cells(one: Tracked, columns: Mapping[Field, tuple[str, ...]]) -> dict[str, str]:
    lines = [*one.address, "", "", ""]
    values: dict[Field, str] = {
        "order": one.order,
        "placed_on": one.placed_on.isoformat(),
        "buyer": one.buyer,
        "address": lines[0],
        "town": one.address[-1] if len(one.address) > 1 else "",
        "address2": lines[1] if len(one.address) > 2 else "",
        "postcode": one.postcode,
        "country": one.country,
        "channel": one.channel,
    }
    first, _, last = one.buyer.rpartition(" ")
    if "buyer" not in columns:
        values |= {"first_name": first, "last_name": last}
    return {names[0]: values[field] for field, names in columns.items() if names and field in values}
