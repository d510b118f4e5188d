"""An order as another program or a channel sends it: JSON (docs/formats/api.md). Step 4 of the work.

It becomes lines in our own columns and is checked as a file is, so that every way in has the same rules.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from server.formats.base import Day, FileModel, Money
from server.formats.matched_orders import Goods
from server.formats.orders import FileFault, ReadFile, from_lines
from server.words.faults import every_fault

#: Fields whose value is taken as it is.
_SAME = ("buyer", "company", "address", "address2", "town", "region", "postcode", "country", "note")

__all__ = ["IncomingFile", "IncomingOrder", "read_incoming", "read_values"]

_Line = Annotated[str, Field(max_length=120)]


class IncomingLine(FileModel):
    """So many of one product."""

    sku: Annotated[str, Field(max_length=120)] = ""
    title: Annotated[str, Field(max_length=120)] = ""
    quantity: Annotated[int, Field(ge=1, le=10_000, strict=True)]
    unit_price: Money = Decimal(0)


class IncomingOrder(FileModel):
    """One order."""

    number: Annotated[str, Field(min_length=1, max_length=40)]
    revision: Annotated[int, Field(ge=0, le=10**15, strict=True)] = 0
    status: Literal["open", "cancelled", "sent"] = "open"
    placed_on: Day
    buyer: Annotated[str, Field(min_length=1, max_length=80)]
    company: Annotated[str, Field(max_length=80)] = ""
    address: _Line = ""
    address2: _Line = ""
    town: Annotated[str, Field(min_length=1, max_length=60)]
    region: Annotated[str, Field(max_length=60)] = ""
    postcode: Annotated[str, Field(min_length=1, max_length=12)]
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    note: Annotated[str, Field(max_length=500)] = ""
    paid: bool = True
    risk: Literal["", "low", "medium", "high"] = ""
    gift: bool = False
    postage_charged: Money = Decimal(0)
    lines: Annotated[list[IncomingLine], Field(min_length=1, max_length=200)]


@dataclass(frozen=True, slots=True, kw_only=True)
class IncomingFile:
    """What was sent, as a file's lines; the line of an order is its place among those sent, from 1."""

    read: ReadFile
    numbers: tuple[str, ...]  #: by place


def read_incoming(orders: Sequence[IncomingOrder], goods: Goods, *, channel: str, today: date) -> IncomingFile:
    """Return the orders as lines in our own columns, each with its errors."""
    lines: list[tuple[int, dict[str, str]]] = []
    faults: list[FileFault] = []
    seen: set[str] = set()
    for at, order in enumerate(orders, start=1):
        if order.number in seen:
            faults.append(
                FileFault(line=at, column="number", value=order.number, allowed="each order once in a sending")
            )
        seen.add(order.number)
        lines += [(at, cells) for cells in _cells(order, goods, channel)]
        faults += [
            FileFault(line=at, column=name, value=f"{value:f}", allowed="an amount with at most two decimals")
            for name, value in [
                ("postage_charged", order.postage_charged),
                *(("unit_price", line.unit_price) for line in order.lines),
            ]
            if value != round(value, 2)
        ]
    read = from_lines(lines, today=today, encoding="utf-8", faults=faults)
    marks = {at: order.revision for at, order in enumerate(orders, start=1)}
    rows = tuple(row.marked(marks[row.line]) for row in read.rows)
    return IncomingFile(
        read=ReadFile(rows=rows, faults=read.faults, raw=read.raw), numbers=tuple(one.number for one in orders)
    )


def _cells(order: IncomingOrder, goods: Goods, channel: str) -> list[dict[str, str]]:
    head = {
        "order": order.number,
        "channel": channel,
        "placed_on": order.placed_on.isoformat(),
        "status": order.status,
        "paid": "yes" if order.paid else "no",
        "risk": order.risk,
        "gift": "yes" if order.gift else "no",
        "postage_charged": f"{order.postage_charged:.2f}",
        **{name: getattr(order, name) for name in _SAME},
    }
    return [
        {
            **head,
            "sku": goods.sku_of(line.sku, line.title) or (line.sku or line.title)[:40],
            "title": line.title,
            "quantity": str(line.quantity),
            "unit_price": f"{line.unit_price:.2f}",
        }
        for line in order.lines
    ]


def read_values(values: Sequence[Mapping[str, object]]) -> tuple[list[IncomingOrder], list[tuple[str, list[str]]]]:
    """Return the orders among JSON values, and those that are none: number and every error."""
    good: list[IncomingOrder] = []
    bad: list[tuple[str, list[str]]] = []
    for value in values:
        try:
            good.append(IncomingOrder.model_validate(value))
        except ValidationError as error:
            number = str(value.get("number", ""))[:40] if isinstance(value, dict) else ""
            told = [f"{path}: {message}" for path, message in every_fault(IncomingOrder, value, error)]
            bad.append((number, told))
    return good, bad
