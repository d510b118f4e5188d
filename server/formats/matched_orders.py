"""An orders file of another program, read by a matching of its columns (docs/formats/orders.md; step 4 of the work).

Every line becomes lines in our own columns, which are then checked as our own file is. An error names the file's own
column and what stands there. Empty cells on the further lines of an order mean the same as on its first.
"""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import ROUND_HALF_UP, Decimal

from core.intake.columns import Column, Knowledge, Matching
from core.intake.fields import FIELDS, Field
from core.intake.items import Item, read_items
from core.intake.values import (
    DAY_ORDERS,
    DECIMAL_MARKS,
    parted,
    read_amount,
    read_count,
    read_day,
    read_risk,
    read_standing,
    read_yes,
)
from server.formats.orders import FileFault, ReadFile, from_lines, key_of
from server.formats.tables import Table

__all__ = ["Goods", "MatchedFile", "Unknown", "columns_of", "read_matched"]

_GOODS: tuple[Field, ...] = ("sku", "title", "items")
_AN_AMOUNT = "an amount from 0, such as 6.50 or 1.234,50"
_CENT = Decimal("0.01")
_TOTALS = re.compile(
    r"\W*(grand |sub ?)?(totals?|sum|summe|gesamt|gesamtsumme|somme|totaal|totale|suma)\b.*", re.IGNORECASE
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Goods:
    """The workshop's products, and what other programs call them."""

    skus: frozenset[str] = frozenset()
    by_title: Mapping[str, str] = field(default_factory=dict)  #: name, lower case -> sku
    remembered: Mapping[str, str] = field(default_factory=dict)  #: a code or title a person matched once -> sku

    def sku_of(self, sku: str, title: str) -> str | None:
        """Return the product that is meant: by its code, by what was matched before, by its name. None: unknown."""
        if sku in self.skus:
            return sku
        for said in (sku, title):
            if said in self.remembered:
                return self.remembered[said]
        if sku.upper() in self.skus:
            return sku.upper()
        return self.by_title.get(title.lower()) or (None if sku else self.by_title.get(sku.lower()))


@dataclass(frozen=True, slots=True, kw_only=True)
class Unknown:
    """Goods of the file that are none of the workshop's products."""

    said: str  #: what the file calls them: their code, else their title
    title: str
    lines: int


@dataclass(frozen=True, slots=True, kw_only=True)
class MatchedFile:
    """The lines in our own columns with their errors, and goods that are not known."""

    read: ReadFile
    unknown: tuple[Unknown, ...]


def columns_of(table: Table) -> tuple[Column, ...]:
    """Return a table's columns as the core guesses with them."""
    return tuple(Column(name=name, values=table.values(at)) for at, name in enumerate(table.head))


@dataclass(frozen=True, slots=True)
class _Line:
    """One line of the file under a matching."""

    number: int
    cells: Mapping[str, str]  #: by the file's column
    matching: Matching

    def said(self, name: Field, joint: str = " ") -> str:
        """Return what stands in a field's columns, or its constant."""
        columns = self.matching.columns.get(name, ())
        if len(columns) <= 1:
            return (self.cells.get(columns[0], "") if columns else "") or self.matching.constants.get(name, "")
        parts = [self.cells.get(column, "") for column in columns]
        return joint.join(dict.fromkeys(part for part in parts if part)) or self.matching.constants.get(name, "")

    def word(self, name: Field) -> str | None:
        """Return what a person said a word of this field means."""
        return self.matching.words.get(name, {}).get(self.said(name))


def read_matched(table: Table, matching: Matching, known: Knowledge, goods: Goods, *, channel: str) -> MatchedFile:
    """Return the orders of a table. ``channel``: where they were sold, when no column says it."""
    reader = _Reader(matching, known, goods, channel, _blank_is_unpaid(table, matching))
    lines: list[tuple[int, dict[str, str]]] = []
    faults: list[FileFault] = []
    left_out: list[int] = []
    for number, cells in table.rows:
        line = _Line(number, dict(zip(table.head, cells, strict=True)), matching)
        if reader.is_total(line):
            left_out.append(number)
            continue
        made, wrong = reader.read(line)
        lines += [(number, one) for one in made]
        faults += wrong
    lines = _notes_joined(_prices_shared(lines, reader.goods_totals))
    read = from_lines(lines, today=known.latest, encoding=table.encoding, faults=faults)
    return MatchedFile(
        read=replace(read, faults=tuple(_named(fault, matching) for fault in read.faults), left_out=tuple(left_out)),
        unknown=reader.unknown(),
    )


def _blank_is_unpaid(table: Table, matching: Matching) -> bool:
    """An empty cell means "not paid" when nothing in the column says no: it holds days, or a tick."""
    columns = matching.columns.get("paid", ())
    values = [value for at, name in enumerate(table.head) if name in columns for value in table.values(at)]
    return bool(values) and all(read_yes(value) is not False for value in values)


class _Reader:
    """Reads one line after another; remembers the order the last one was of."""

    def __init__(self, matching: Matching, known: Knowledge, goods: Goods, channel: str, blank_is_unpaid: bool) -> None:
        self._matching, self._known, self._goods = matching, known, goods
        self._channel, self._blank_is_unpaid = channel, blank_is_unpaid
        self._of_order: dict[str, str] = {}
        self._unknown: dict[str, tuple[str, int]] = {}
        #: What all goods of an order cost together, by channel and number, where the file says only that.
        self.goods_totals: dict[tuple[str, str], Decimal] = {}

    def unknown(self) -> tuple[Unknown, ...]:
        """Return the goods that are none of the workshop's products, the most frequent first."""
        found = sorted(self._unknown.items(), key=lambda item: (-item[1][1], item[0]))
        return tuple(Unknown(said=said, title=title, lines=lines) for said, (title, lines) in found)

    def is_total(self, line: _Line) -> bool:
        """Return whether a line is the sum under a table: it names no goods, or says so where the order should be."""
        order = line.said("order")
        goods = any(map(line.said, _GOODS))
        first = next((text for text in line.cells.values() if text), "")
        return (not goods and bool(_TOTALS.fullmatch(order or first))) or (
            not goods and not order and not line.said("buyer") and not line.said("postcode")
        )

    def read(self, line: _Line) -> tuple[list[dict[str, str]], list[FileFault]]:
        """Return the lines in our own columns that a line of the file comes to, and what is wrong with it."""
        faults: list[FileFault] = []
        own = self._order_part(line, faults)
        items = list(self._items(line, faults))
        made = []
        for item in items:
            sku = self._goods.sku_of(item.sku, item.title)
            if sku is None:
                sku = (item.sku or item.title)[:40]
                title, count = self._unknown.get(item.sku or item.title, (item.title, 0))
                if item.sku or item.title:
                    self._unknown[item.sku or item.title] = (title, count + 1)
            made.append(
                {
                    **own,
                    "sku": sku,
                    "title": item.title,
                    "quantity": str(item.quantity),
                    "unit_price": "" if item.price is None else f"{_cents(item.price):f}",
                }
            )
        return made, faults

    def _order_part(self, line: _Line, faults: list[FileFault]) -> dict[str, str]:
        order = line.said("order")
        before = self._of_order if not order or order == self._of_order.get("order") else {}
        own = {
            "order": order,
            "channel": line.said("channel") or self._channel,
            "buyer": line.said("buyer") or " ".join(filter(None, (line.said("first_name"), line.said("last_name")))),
            "company": line.said("company"),
            "address": _on_one_line(line.said("address", ", ")),
            "address2": _on_one_line(line.said("address2", ", ")),
            "town": line.said("town"),
            "region": line.said("region"),
            "postcode": line.said("postcode"),
            "note": line.said("note", ". "),
            "placed_on": self._day(line, faults),
            "country": self._country(line),
            "postage_charged": self._amount(line, "postage_charged", faults),
        }
        if not own["buyer"]:
            own["buyer"], own["company"] = own["company"], ""
        # A company that is only the buyer's name again needs no line of its own.
        own["company"] = "" if own["company"] == own["buyer"] else own["company"]
        further = bool(before)
        own |= self._states(line, faults, further)
        for name, value in before.items():
            if not own.get(name) or (name == "postage_charged" and own[name] == "0.00"):
                own[name] = value
        if not own["placed_on"] and not line.said("placed_on") and "placed_on" not in self._matching.columns:
            own["placed_on"] = self._known.latest.isoformat()
        self._of_order = {name: value for name, value in own.items() if name != "note"}
        total = line.said("goods_total")
        if total:
            amount = self._read_amount(total)
            if amount is None:
                self._wrong(line, "goods_total", _AN_AMOUNT, faults)
            else:
                self.goods_totals[own["channel"], own["order"]] = _cents(amount)
        return own

    def _states(self, line: _Line, faults: list[FileFault], further: bool) -> dict[str, str]:
        found = {"paid": "", "gift": "", "status": "", "risk": ""}
        paid, gift, status = line.said("paid"), line.said("gift"), line.said("status")
        if paid:
            yes = line.word("paid") or _yes_no(read_yes(paid))
            found["paid"] = yes or self._wrong(line, "paid", "a word for paid or not paid", faults)
        elif self._blank_is_unpaid and not further:
            found["paid"] = "no"
        if gift:
            yes = line.word("gift") or _yes_no(read_yes(gift))
            found["gift"] = yes or self._wrong(line, "gift", "yes or no", faults)
        if status:
            standing = line.word("status") or read_standing(status)
            found["status"] = standing or self._wrong(line, "status", "a word whose meaning is known", faults)
        risk = line.said("risk")
        if risk:
            level = line.word("risk") or read_risk(risk)
            found["risk"] = level or self._wrong(line, "risk", "low, medium or high", faults)
        return found

    def _day(self, line: _Line, faults: list[FileFault]) -> str:
        text = line.said("placed_on")
        if not text:
            return ""
        order = self._matching.day_order
        days = {read_day(text, one, self._known.months) for one in ((order,) if order else DAY_ORDERS)} - {None}
        day = min((one for one in days if one), default=None)
        return (
            day.isoformat()
            if isinstance(day, date)
            else self._wrong(line, "placed_on", "a day, such as 2026-11-23 or 23.11.2026", faults)
        )

    def _country(self, line: _Line) -> str:
        text = line.said("country")
        return (line.word("country") or self._known.country_of(text) or text) if text else ""

    def _amount(self, line: _Line, name: Field, faults: list[FileFault], text: str | None = None) -> str:
        said = line.said(name) if text is None else text
        if not said:
            return ""
        amount = self._read_amount(said)
        if amount is None:
            return self._wrong(line, name, _AN_AMOUNT, faults, said)
        return f"{_cents(amount):f}"

    def _read_amount(self, text: str) -> Decimal | None:
        mark = self._matching.decimal_mark
        read = (read_amount(text, one) for one in ((mark,) if mark else DECIMAL_MARKS))
        return next((amount for amount in read if amount is not None), None)

    def _items(self, line: _Line, faults: list[FileFault]) -> Iterator[Item]:
        mark = self._matching.decimal_mark or "point"
        if self._matching.columns.get("items"):
            found = read_items(line.said("items", "; "), self._goods.skus, mark)
            if not found:
                self._wrong(line, "items", "at least one item, such as 2x MUG-BLU", faults)
            yield from found
            return
        skus, titles = parted(line.said("sku")), parted(line.said("title"))
        counts, prices = parted(line.said("quantity")), parted(line.said("unit_price"))
        many = max(len(skus), len(counts))
        if many > 1 and len(skus or titles) == len(counts) == many:
            titles = titles if len(titles) == many else [line.said("title")] * many if not skus else [""] * many
            prices = prices if len(prices) == many else []
        else:
            many, skus, titles = 1, [line.said("sku")], [line.said("title")]
            counts, prices = [line.said("quantity")], [line.said("unit_price")]
        for at in range(many):
            quantity = self._count(line, counts[at] if counts else "", faults)
            yield Item(
                sku=skus[at] if skus else "",
                title=titles[at] if titles else "",
                quantity=quantity,
                price=self._price(line, prices[at] if prices else "", quantity, faults, alone=many == 1),
            )

    def _count(self, line: _Line, text: str, faults: list[FileFault]) -> int:
        if not text:
            return 1 if not self._matching.columns.get("quantity") else 0
        count = read_count(text)
        if count is None:
            self._wrong(line, "quantity", "a whole number of units, such as 2 or 2x", faults, text)
        return count or 0

    def _price(self, line: _Line, text: str, quantity: int, faults: list[FileFault], *, alone: bool) -> Decimal | None:
        if text:
            amount = self._amount(line, "unit_price", faults, text)
            return Decimal(amount) if amount and _is_amount(amount) else None
        if alone and line.said("line_total") and quantity:
            amount = self._amount(line, "line_total", faults)
            return Decimal(amount) / quantity if amount and _is_amount(amount) else None
        return None

    def _wrong(self, line: _Line, name: Field, allowed: str, faults: list[FileFault], text: str | None = None) -> str:
        """Note an error of the file's own column; return what stands there."""
        said = line.said(name) if text is None else text
        column = ", ".join(self._matching.columns.get(name, ())) or name
        faults.append(FileFault(line=line.number, column=column[:80], value=said[:60], allowed=allowed))
        return said


def _is_amount(text: str) -> bool:
    return re.fullmatch(r"\d+\.\d\d", text) is not None


def _cents(amount: Decimal) -> Decimal:
    return amount.quantize(_CENT, rounding=ROUND_HALF_UP)


def _yes_no(found: bool | None) -> str:
    return "" if found is None else "yes" if found else "no"


def _on_one_line(text: str) -> str:
    return ", ".join(part.strip().rstrip(",") for part in text.splitlines() if part.strip())


def _prices_shared(
    lines: list[tuple[int, dict[str, str]]], totals: Mapping[tuple[str, str], Decimal]
) -> list[tuple[int, dict[str, str]]]:
    """Give units without a price their share of what the order's goods cost together; 0 when nothing says it."""
    units: dict[tuple[str, str], int] = {}
    rest = dict(totals)
    for _, cells in lines:
        key = key_of(cells)
        count = int(cells["quantity"]) if cells["quantity"].isdecimal() else 0
        if cells["unit_price"]:
            if _is_amount(cells["unit_price"]) and key in rest:
                rest[key] -= Decimal(cells["unit_price"]) * count
        else:
            units[key] = units.get(key, 0) + count
    for _, cells in lines:
        if not cells["unit_price"]:
            key = key_of(cells)
            share = max(Decimal(0), rest.get(key, Decimal(0))) / units[key] if units.get(key) else Decimal(0)
            cells["unit_price"] = f"{_cents(share):f}"
    return lines


def _notes_joined(lines: list[tuple[int, dict[str, str]]]) -> list[tuple[int, dict[str, str]]]:
    """Notes of an order's lines are about the order: each gets all of them once."""
    notes: dict[tuple[str, str], dict[str, None]] = {}
    for _, cells in lines:
        if cells["note"]:
            notes.setdefault(key_of(cells), {})[cells["note"]] = None
    return [(number, {**cells, "note": ". ".join(notes.get(key_of(cells), {}))}) for number, cells in lines]


def _named(fault: FileFault, matching: Matching) -> FileFault:
    """Say the file's own column instead of ours."""
    name = next((one for one in FIELDS if one == fault.column), None)
    columns = matching.columns.get(name) if name else None
    return replace(fault, column=", ".join(columns)[:80]) if columns else fault
