"""The products file as CSV, as people keep it: one line a product, sizes and weights with their units
(docs/formats/products.md).
"""

import csv
import io
import re
from collections.abc import Callable, Iterable
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from core.errors import BadMeasure
from core.units import parse_length, parse_weight
from server.api.refused import Fault, Refused, validation_faults
from server.formats.products import ProductItem, ProductsFile
from server.formats.text import file_text, safe_cell, table_faults

__all__ = ["COLUMNS", "read_products", "write_products"]

_PLAIN = ("sku", "name", "recipe", "shelf", "goods_cost", "orientation", "fragility", "delicate_place", "family")
_SIDES = ("length", "width", "height")
_WEIGHTS = ("weight", "weight_spread", "load_on_top")
_FLAGS = ("food", "scented", "frozen", "live", "glass", "meltable", "restricted")
_NUMBERS = ("lowest_c", "highest_c", "longest_days", "keeps_days")
COLUMNS = (*_PLAIN, *_SIDES, *_WEIGHTS, *_FLAGS, *_NUMBERS, "holds", "not_with", "contents")
_MOST_LINES = 5_000
_YES = {"yes": True, "no": False, "": False}
_SET = re.compile(r"^([A-Za-z0-9][A-Za-z0-9._-]*)\*([1-9][0-9]{0,2})$")


class _Bad(ValueError):
    """A cell that cannot be read; says what is allowed."""


def read_products(content: bytes) -> ProductsFile:
    """Return the products of a CSV file.

    Raises Refused with every error, each named by its line and column; then nothing is imported.
    """
    try:
        text = file_text(content).text
    except ValueError as error:
        raise Refused(f"This file is not text: {error}. Save it as CSV, UTF-8.", code="not_text", status=422) from None
    if "\x00" in text:
        raise Refused("This file holds a NUL character; it is no CSV.", code="not_text", status=422)
    unfit = table_faults(text, most_lines=_MOST_LINES)
    if unfit is not None:
        raise Refused(f"This file has {unfit[0]}; allowed: {unfit[1]}.", code="too_large", status=422, field="content")
    try:
        table = csv.DictReader(io.StringIO(text), strict=True)
        lines = list(table)
    except csv.Error as error:
        raise Refused(f"This is not CSV: {error}.", code="not_csv", status=422) from None
    faults = _head_faults(lines, list(table.fieldnames or []))
    items: list[ProductItem] = []
    stands: dict[str, int] = {}
    for number, line in enumerate(lines, start=2):
        if not faults or faults[0].path != "line 1":
            item, wrong = _item(number, line)
            faults += wrong
            items += [item] if item else []
            sku = (line.get("sku") or "").strip()
            if sku and sku in stands:
                faults.append(Fault(path=f"line {number}, sku", message=f"{sku} stands on line {stands[sku]} already"))
            stands.setdefault(sku, number)
    if faults:
        many = f"{len(faults)} error{'' if len(faults) == 1 else 's'}"
        detail = f"This products file has {many}: {faults[0].path}: {faults[0].message}. Nothing was imported."
        raise Refused(detail, code="file_faults", status=422, field="content", faults=faults)
    return ProductsFile(format="calm-cupboard/products", version=1, products=items)


def write_products(items: Iterable[ProductItem]) -> str:
    """Return the CSV file that reads back as these products."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(COLUMNS)
    for item in items:
        table.writerow([safe_cell(_cell(item, column)) for column in COLUMNS])
    return out.getvalue()


def _head_faults(lines: list[dict[str, Any]], head: list[str]) -> list[Fault]:
    if not lines:
        return [Fault(path="line 1", message=f"there is no product; the columns are {', '.join(COLUMNS)}")]
    if len(lines) > _MOST_LINES:
        return [Fault(path="line 1", message=f"{len(lines)} products; a file takes {_MOST_LINES}, divide it")]
    twice = sorted({name for name in head if head.count(name) > 1})
    if twice:
        return [Fault(path="line 1", message=f"column {name} appears twice; leave one of them out") for name in twice]
    given = [name for name in lines[0] if name is not None]
    unknown = [name for name in given if name not in COLUMNS]
    missing = [name for name in ("sku", "name") if name not in given]
    found = [
        Fault(path="line 1", message=f"there is no column {name}; there are {', '.join(COLUMNS)}") for name in unknown
    ]
    return found + [Fault(path="line 1", message=f"column {name} is missing") for name in missing]


def _item(number: int, line: dict[str, Any]) -> tuple[ProductItem | None, list[Fault]]:
    faults: list[Fault] = []
    if None in line or None in line.values():
        return None, [Fault(path=f"line {number}", message="it has not as many cells as line 1 has columns")]
    cells = {name: text.strip().removeprefix("'") if text[:1] == "'" else text.strip() for name, text in line.items()}
    values: dict[str, Any] = {name: cells[name] for name in _PLAIN if cells.get(name)}
    readers: list[tuple[str, str, Callable[[str], Any]]] = [
        *((name, f"{name}_mg", _weight) for name in _WEIGHTS),
        *((name, name, _flag) for name in _FLAGS),
        *((name, name, _whole) for name in _NUMBERS),
        ("holds", "holds", str.split),
        ("not_with", "not_with", str.split),
        ("contents", "contents", _contents),
    ]
    for column, field, read in readers:
        if cells.get(column):
            try:
                values[field] = read(cells[column])
            except (_Bad, BadMeasure) as error:
                faults.append(Fault(path=f"line {number}, {column}", message=str(error).rstrip(".")))
    faults += _size(number, cells, values)
    if faults:
        return None, faults
    try:
        return ProductItem.model_validate(values), []
    except ValidationError as error:
        return None, [
            Fault(path=f"line {number}{', ' + fault.path if fault.path else ''}", message=fault.message)
            for fault in validation_faults(error)
        ]


def _size(number: int, cells: dict[str, str], values: dict[str, Any]) -> list[Fault]:
    given = [side for side in _SIDES if cells.get(side)]
    if not given:
        return []
    faults = [
        Fault(path=f"line {number}, {side}", message="is empty; give all three sides or none")
        for side in _SIDES if side not in given
    ]  # fmt: skip
    sides = {}
    for side in given:
        try:
            sides[f"{side}_um"] = parse_length(cells[side], "mm")
        except BadMeasure as error:
            faults.append(Fault(path=f"line {number}, {side}", message=str(error).rstrip(".")))
    values["size"] = sides
    return faults


def _weight(text: str) -> int:
    return parse_weight(text, "g")


def _flag(text: str) -> bool:
    if text.lower() not in _YES:
        raise _Bad(f"{text[:20]}: allowed are yes and no")
    return _YES[text.lower()]


def _whole(text: str) -> int:
    if not re.fullmatch(r"-?\d{1,5}", text):
        raise _Bad(f"{text[:20]} is not a whole number")
    return int(text)


def _contents(text: str) -> list[dict[str, Any]]:
    found = []
    for part in text.split():
        match = _SET.match(part)
        if match is None:
            raise _Bad(f"{part[:40]}: a set is written sku*number, with spaces between")
        found.append({"sku": match[1], "quantity": int(match[2])})
    return found


def _cell(item: ProductItem, column: str) -> str:
    if column in _SIDES:
        return f"{_thousandths(getattr(item.size, f'{column}_um'))} mm" if item.size else ""
    if column in _WEIGHTS:
        value = getattr(item, f"{column}_mg")
        return "" if value is None else f"{_thousandths(value)} g"
    value = getattr(item, column)
    if column in _FLAGS:
        return "yes" if value else "no"
    if column == "contents":
        return " ".join(f"{one.sku}*{one.quantity}" for one in value)
    if column in ("holds", "not_with"):
        return " ".join(value)
    return "" if value is None else f"{value:f}" if isinstance(value, Decimal) else str(value)


def _thousandths(value: int) -> str:
    return f"{(Decimal(value) / 1000).normalize():f}"
