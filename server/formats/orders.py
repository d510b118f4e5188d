"""The orders file, CSV or JSON: one line per product, lines of one order grouped (docs/formats/orders.md).

Reading never stops at the first error: every line comes back with all of its errors, each naming line, column,
value and what is allowed.
"""

import csv
import io
import json
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import cast, get_args

from core.intake.values import Risk, Standing
from server.formats.tables import Encoding, Table
from server.formats.text import file_text, table_faults

__all__ = [
    "COLUMNS",
    "MAX_LINES",
    "FileFault",
    "OrderRow",
    "ReadFile",
    "from_lines",
    "is_own_heading",
    "key_of",
    "own_lines",
    "read_orders",
]

COLUMNS = (
    "order",
    "channel",
    "placed_on",
    "buyer",
    "address",
    "town",
    "postcode",
    "country",
    "sku",
    "title",
    "quantity",
    "unit_price",
    "postage_charged",
    "paid",
    "gift",
    "note",
    "company",
    "address2",
    "region",
    "status",
    "risk",
)
_REQUIRED = frozenset({"order", "placed_on", "buyer", "town", "postcode", "country", "sku", "quantity", "unit_price"})
_LONGEST = {
    "order": 40,
    "channel": 30,
    "buyer": 80,
    "address": 120,
    "town": 60,
    "postcode": 12,
    "country": 3,
    "sku": 40,
    "title": 120,
    "note": 500,
    "company": 80,
    "address2": 120,
    "region": 60,
}
#: Columns that must be the same on every line of one order.
_OF_ORDER = (
    "channel",
    "placed_on",
    "buyer",
    "address",
    "town",
    "postcode",
    "country",
    "postage_charged",
    "paid",
    "gift",
    "note",
    "company",
    "address2",
    "region",
    "standing",
)
MAX_LINES = 20_000
_MAX_QUANTITY = 10_000
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")


@dataclass(frozen=True, slots=True, kw_only=True)
class FileFault:
    """One error: where, what was given, what is allowed. Line 0 is about the whole file."""

    line: int
    column: str
    value: str
    allowed: str


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderRow:
    """One valid line."""

    line: int
    order: str
    channel: str
    placed_on: date
    buyer: str
    address: str
    town: str
    postcode: str
    country: str
    sku: str
    title: str
    quantity: int
    unit_price: Decimal
    postage_charged: Decimal
    paid: bool
    gift: bool
    note: str
    company: str = ""
    address2: str = ""
    region: str = ""
    standing: Standing = "open"  #: where the order stands at its channel
    risk: str = ""  #: how risky the channel holds the payment to be: low, medium, high; empty: it does not say
    mark: int = 0  #: which change of the order this is at its channel; 0: the channel does not count them

    def marked(self, mark: int) -> "OrderRow":
        """Return the row with its channel's count of changes."""
        return replace(self, mark=mark)

    @property
    def address_lines(self) -> tuple[str, ...]:
        """Return the lines of the address between the buyer and the postcode, as they stand on a label."""
        street = ", ".join(part for part in (self.address, self.address2) if part)
        town = ", ".join(part for part in (self.town, self.region) if part)
        return tuple(part for part in (self.company, street, town) if part)


def key_of(cells: Mapping[str, str]) -> tuple[str, str]:
    """Return which order a line is of: its channel and number, as they stand there, errors or not."""
    return cells.get("channel") or "file", cells.get("order", "")


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadFile:
    """What was read: the valid rows, the errors, each line's raw cells for the preview, the encoding found."""

    rows: tuple[OrderRow, ...]
    faults: tuple[FileFault, ...]
    raw: tuple[tuple[int, dict[str, str]], ...]
    encoding: Encoding = "utf-8"
    left_out: tuple[int, ...] = ()  #: lines that are no orders: totals


def read_orders(content: bytes, *, today: date) -> ReadFile:
    """Return the rows and errors of an orders file; JSON when it begins with { or [, else CSV.

    ``today`` bounds the date an order may have been placed on.
    """
    try:
        file = file_text(content)
    except ValueError as error:
        return _whole("file", str(error), "a text file in UTF-8 or Windows-1252; save it again as UTF-8")
    text = file.text
    start = text[:10_000].lstrip()[:1]
    if not start:
        return _whole("file", "empty", "a file with a heading line and at least one order")
    lines = _json_lines(text) if start in "{[" else _csv_lines(text)
    if isinstance(lines, FileFault):
        return ReadFile(rows=(), faults=(lines,), raw=())
    return from_lines(lines, today=today, encoding=file.encoding)


def from_lines(
    lines: Sequence[tuple[int, dict[str, str]]], *, today: date, encoding: Encoding, faults: Sequence[FileFault] = ()
) -> ReadFile:
    """Return the rows and errors of lines in our own columns. ``faults``: what is known to be wrong already."""
    wrong = {fault.line for fault in faults}
    rows: list[OrderRow] = []
    found = list(faults)
    for number, cells in lines:
        mine = list(_line_faults(number, cells, today)) if number not in wrong else []
        found += mine
        if not mine and number not in wrong:
            rows.append(_row(number, cells))
    found += _disagreements(rows)
    return ReadFile(rows=tuple(rows), faults=tuple(found), raw=tuple(lines), encoding=encoding)


def is_own_heading(head: Sequence[str]) -> bool:
    """Return whether a file's columns are our own: then nothing needs to be matched."""
    return _heading_fault([_own_name(name) for name in head]) is None


def own_lines(table: Table) -> list[tuple[int, dict[str, str]]]:
    """Return the lines of a table with our own heading."""
    head = [_own_name(name) for name in table.head]
    return [(line, dict(zip(head, cells, strict=True))) for line, cells in table.rows]


def _own_name(name: str) -> str:
    return name.strip().lower().replace(" ", "_")


def _whole(column: str, value: str, allowed: str) -> ReadFile:
    return ReadFile(rows=(), faults=(FileFault(line=0, column=column, value=value, allowed=allowed),), raw=())


def _csv_lines(text: str) -> list[tuple[int, dict[str, str]]] | FileFault:
    wrong = table_faults(text, most_lines=MAX_LINES)
    if wrong is not None:
        return FileFault(line=0, column="file", value=wrong[0], allowed=wrong[1])
    head = text.split("\n", 1)[0]
    delimiter = ";" if head.count(";") > head.count(",") else "\t" if head.count("\t") > head.count(",") else ","
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        heading = [_own_name(name) for name in next(reader)]
        fault = _heading_fault(heading)
        if fault is not None:
            return fault
        found = []
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            line = reader.line_num
            if len(cells) > len(heading):
                return FileFault(
                    line=line,
                    column="line",
                    value=f"{len(cells)} cells",
                    allowed=f"{len(heading)} cells, as in the heading; put text with {delimiter!r} in quotes",
                )
            found.append((line, dict(zip(heading, (cell.strip() for cell in cells), strict=False))))
            if len(found) > MAX_LINES:
                return FileFault(
                    line=0,
                    column="file",
                    value=f"more than {MAX_LINES} lines",
                    allowed=f"{MAX_LINES} lines at most; split the file",
                )
    except csv.Error as error:
        return FileFault(
            line=reader.line_num, column="line", value=str(error), allowed="a well-formed CSV line; check the quotes"
        )
    return found or FileFault(line=0, column="file", value="no lines", allowed="at least one line under the heading")


def _heading_fault(heading: list[str]) -> FileFault | None:
    unknown = [name for name in heading if name not in COLUMNS]
    twice = [name for name in COLUMNS if heading.count(name) > 1]
    lacking = sorted(_REQUIRED - set(heading))
    if lacking:
        return FileFault(
            line=1,
            column="heading",
            value="without " + ", ".join(lacking),
            allowed="a heading with " + ", ".join(sorted(_REQUIRED)),
        )
    if unknown or twice:
        return FileFault(
            line=1,
            column="heading",
            value=", ".join(unknown + twice)[:80],
            allowed="each of these once: " + ", ".join(COLUMNS),
        )
    return None


def _json_lines(text: str) -> list[tuple[int, dict[str, str]]] | FileFault:
    """The same columns as JSON: {"format": "calm-cupboard/orders", "version": 1, "lines": [{...}]}."""
    try:
        document = json.loads(text, parse_float=str, parse_int=str)
    except (ValueError, RecursionError) as error:
        return FileFault(
            line=getattr(error, "lineno", 0), column="file", value=str(error)[:80], allowed="well-formed JSON"
        )
    lines = document.get("lines") if isinstance(document, dict) else None
    if (
        not isinstance(lines, list)
        or document.get("format") != "calm-cupboard/orders"
        or document.get("version") != "1"
    ):
        return FileFault(
            line=0,
            column="file",
            value="another shape",
            allowed='{"format": "calm-cupboard/orders", "version": 1, "lines": [...]}',
        )
    if not lines or len(lines) > MAX_LINES:
        return FileFault(line=0, column="lines", value=f"{len(lines)} lines", allowed=f"1 to {MAX_LINES} lines")
    found: list[tuple[int, dict[str, str]]] = []
    for number, item in enumerate(lines, start=1):
        if not isinstance(item, dict):
            return FileFault(
                line=number, column="line", value=str(item)[:40], allowed="an object with the columns as names"
            )
        unknown = sorted(set(item) - set(COLUMNS))
        if unknown:
            return FileFault(
                line=number, column=str(unknown[0])[:40], value="unknown name", allowed="one of " + ", ".join(COLUMNS)
            )
        nested = next((name for name, value in item.items() if isinstance(value, dict | list)), None)
        if nested:
            return FileFault(
                line=number, column=nested, value="a list or object", allowed="text, a number, true or false"
            )
        found.append((number, {name: _cell(value) for name, value in item.items()}))
    return found


def _cell(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else str(value).strip()


def _line_faults(line: int, cells: dict[str, str], today: date) -> Iterator[FileFault]:
    def fault(column: str, allowed: str) -> FileFault:
        return FileFault(line=line, column=column, value=cells.get(column, "")[:60], allowed=allowed)

    for column in COLUMNS:
        value = cells.get(column, "")
        if not value and column in _REQUIRED:
            yield fault(column, "something; it may not be empty")
        elif len(value) > _LONGEST.get(column, 40):
            yield fault(column, f"at most {_LONGEST.get(column, 40)} letters; this has {len(value)}")
        elif _CONTROL.search(value):
            yield fault(column, "text without control characters")
    if cells.get("placed_on") and not _is_date(cells["placed_on"]):
        yield fault("placed_on", "a date such as 2026-11-23")
    elif cells.get("placed_on") and not date(2000, 1, 1) <= date.fromisoformat(cells["placed_on"]) <= today:
        yield fault("placed_on", f"a date from 2000-01-01 to today, {today.isoformat()}")
    if cells.get("quantity") and not _is_quantity(cells["quantity"]):
        yield fault("quantity", f"a whole number from 1 to {_MAX_QUANTITY}")
    for column in ("unit_price", "postage_charged"):
        if cells.get(column) and _money(cells[column]) is None:
            yield fault(column, "an amount such as 6.50, from 0 to 99999.99")
    if cells.get("country") and not re.fullmatch(r"[A-Za-z]{2,3}", cells["country"]):
        yield fault("country", "a country of two or three letters")
    for column in ("paid", "gift"):
        if cells.get(column, "").lower() not in ("", "yes", "no"):
            yield fault(column, "yes or no")
    if cells.get("status", "").lower() not in ("", *get_args(Standing)):
        yield fault("status", "open, cancelled or sent")
    if cells.get("risk", "").lower() not in ("", *get_args(Risk)):
        yield fault("risk", "low, medium or high")


def _is_date(text: str) -> bool:
    try:
        date.fromisoformat(text)
    except ValueError:
        return False
    return bool(re.fullmatch(r"\d{4}-\d{2}-\d{2}", text))


def _is_quantity(text: str) -> bool:
    return bool(re.fullmatch(r"[0-9]{1,5}", text)) and 1 <= int(text) <= _MAX_QUANTITY


def _money(text: str) -> Decimal | None:
    if not re.fullmatch(r"[0-9]{1,5}([.,][0-9]{1,2})?", text):
        return None
    try:
        return Decimal(text.replace(",", "."))
    except InvalidOperation:
        return None


def _row(line: int, cells: dict[str, str]) -> OrderRow:
    return OrderRow(
        line=line,
        order=cells["order"],
        channel=cells.get("channel") or "file",
        placed_on=date.fromisoformat(cells["placed_on"]),
        buyer=cells["buyer"],
        address=cells.get("address", ""),
        town=cells["town"],
        postcode=" ".join(cells["postcode"].upper().split()),
        country=cells["country"].upper(),
        sku=cells["sku"],
        title=cells.get("title", ""),
        quantity=int(cells["quantity"]),
        unit_price=_money(cells["unit_price"]) or Decimal(0),
        postage_charged=_money(cells.get("postage_charged") or "0") or Decimal(0),
        paid=cells.get("paid", "").lower() != "no",
        gift=cells.get("gift", "").lower() == "yes",
        note=cells.get("note", ""),
        company=cells.get("company", ""),
        address2=cells.get("address2", ""),
        region=cells.get("region", ""),
        standing=cast(Standing, cells.get("status", "").lower() or "open"),
        risk=cells.get("risk", "").lower(),
    )


def _disagreements(rows: list[OrderRow]) -> list[FileFault]:
    """Lines of one order that contradict each other about the order itself."""
    first: dict[tuple[str, str], OrderRow] = {}
    found = []
    for row in rows:
        lead = first.setdefault((row.channel, row.order), row)
        for column in _OF_ORDER:
            mine, its = getattr(row, column), getattr(lead, column)
            if mine != its:
                found.append(
                    FileFault(
                        line=row.line,
                        column=column,
                        value=str(mine)[:60],
                        allowed=f"the same as on line {lead.line} of order {row.order}: {its}",
                    )
                )
    return found
