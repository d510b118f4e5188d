"""The record as a file: every line of a month, CSV or JSON (docs/formats/record.md)."""

import csv
import io
import json

from core.money.months import month_of
from server.formats.text import safe_cell
from server.money.months import orders_with_lines
from server.money.reading import records_of
from server.workshops.models import Workshop

__all__ = ["record_csv", "record_json"]

_HEAD = ("month", "order", "channel", "buyer", "packed_on", "kind", "amount", "on", "source", "reference")


def _rows(workshop: Workshop, month: str) -> list[dict[str, str]]:
    return [
        {
            "month": month,
            "order": one.order.number,
            "channel": one.order.channel,
            "buyer": one.order.buyer,
            "packed_on": one.packed_on.isoformat() if one.packed_on else "",
            "kind": line.kind,
            "amount": str(line.amount),
            "on": line.on.isoformat(),
            "source": line.source,
            "reference": line.reference,
        }
        for one in records_of(workshop, orders_with_lines(workshop, month, month))
        for line in one.record.lines
        if month_of(line.on) == month
    ]


def record_csv(workshop: Workshop, month: str) -> str:
    """Return a month's lines as CSV; text a spreadsheet would run is neutralised (rules 19.2)."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\r\n")
    table.writerow(_HEAD)
    for row in _rows(workshop, month):
        # An amount is a number, also below zero: only text can be a formula.
        table.writerow([row[name] if name == "amount" else safe_cell(row[name]) for name in _HEAD])
    return out.getvalue()


def record_json(workshop: Workshop, month: str) -> str:
    """Return a month's lines as JSON."""
    document = {
        "format": "calm-cupboard/record",
        "version": 1,
        "workshop": workshop.name,
        "currency": workshop.currency,
        "month": month,
        "lines": _rows(workshop, month),
    }
    return json.dumps(document, indent=1, ensure_ascii=False)
