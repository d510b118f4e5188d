"""Step tables of a tariff as CSV, since that is how people get them (docs/formats/tariff.md).

``service,format,zone,above,up_to,price``: one step a line. Written and read back it is the same tables.
"""

import csv
import io
from decimal import Decimal, InvalidOperation
from typing import Any

from core.errors import BadMeasure
from core.tariffs.model import WeightStep, ZoneTable
from core.units import format_weight, parse_weight
from server.api.refused import Fault, Refused
from server.formats.tariff import TariffFile
from server.formats.text import file_text, table_faults
from server.words import METRIC

__all__ = ["COLUMNS", "steps_csv", "with_steps"]

COLUMNS = ("service", "format", "zone", "above", "up_to", "price")
_MOST_ROWS = 20_000


def steps_csv(file: TariffFile) -> str:
    """Return every step table of a tariff; increments are written as the steps they come to."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for service in file.services:
        for code, tables in [("", service.zones), *((one.code, one.zones) for one in service.formats)]:
            for table in tables:
                above = 0
                for step in _steps(table.core()):
                    writer.writerow(
                        [service.code, code, table.zone, _weight(above), _weight(step.up_to_mg), step.price]
                    )
                    above = step.up_to_mg
    return out.getvalue()


def _steps(table: ZoneTable) -> tuple[WeightStep, ...]:
    more = table.increment
    return tuple(more.step(number) for number in range(more.count + 1)) if more else table.steps


def _weight(mg: int) -> str:
    """Return a weight that reads back as the same number of mg."""
    words = format_weight(mg)
    return words if parse_weight(words) == mg else f"{mg} mg"


def with_steps(file: TariffFile, content: bytes) -> dict[str, Any]:
    """Return the tariff's document with the tables that the CSV names replaced.

    Raises Refused with every error by line and column.
    """
    rows, faults = _rows(content)
    document = file.model_dump(mode="json", exclude_unset=True)
    tables = _tables(document)
    steps: dict[tuple[str, str, str], list[dict[str, Any]]] = {}
    for line, row in rows:
        key = (row["service"], row["format"], row["zone"])
        if key not in tables:
            faults.append(
                _fault(line, "zone", f"there is no table {' '.join(part for part in key if part)} in this tariff")
            )
            continue
        mine = steps.setdefault(key, [])
        end = mine[-1]["up_to_mg"] if mine else 0
        above = row["above"] if row["above"] is not None else end
        if above != end:
            kind = "gap" if above > end else "overlap"
            faults.append(
                _fault(
                    line,
                    "above",
                    f"{kind}: the step before ends at {_weight(end)}, this one begins above {_weight(above)}",
                )
            )
        if row["up_to"] <= end:
            faults.append(_fault(line, "up_to", f"{_weight(row['up_to'])} does not come after {_weight(end)}"))
        mine.append({"up_to_mg": row["up_to"], "price": str(row["price"])})
    if not rows and not faults:
        faults.append(_fault(1, "up_to", "there is no step in this file"))
    if faults:
        detail = f"The step table has {len(faults)} error{'' if len(faults) == 1 else 's'}. Nothing was imported."
        raise Refused(detail, code="file_faults", status=422, field="content", faults=faults[:200])
    for key, found in steps.items():
        tables[key].pop("increment", None)
        tables[key]["steps"] = found
    return document


def _tables(document: dict[str, Any]) -> dict[tuple[str, str, str], dict[str, Any]]:
    found = {}
    for service in document["services"]:
        for code, tables in [
            ("", service.get("zones", [])),
            *((one["code"], one["zones"]) for one in service.get("formats", [])),
        ]:
            found.update({(service["code"], code, table["zone"]): table for table in tables})
    return found


def _fault(line: int, column: str, message: str) -> Fault:
    return Fault(path=f"line {line}, {column}", message=message)


def _rows(content: bytes) -> tuple[list[tuple[int, dict[str, Any]]], list[Fault]]:
    try:
        text = file_text(content).text
    except ValueError as error:
        raise Refused(
            f"The step table is not text: {error}. Save it as CSV, UTF-8.",
            code="not_text",
            status=422,
            field="content",
        ) from None
    if "\x00" in text:
        raise Refused("The step table holds a NUL character.", code="not_text", status=422, field="content")
    unfit = table_faults(text, most_lines=_MOST_ROWS)
    if unfit is not None:
        raise Refused(
            f"The step table has {unfit[0]}; allowed: {unfit[1]}.", code="too_large", status=422, field="content"
        )
    try:
        lines = list(csv.reader(io.StringIO(text), strict=True))
    except csv.Error as error:
        raise Refused(f"The step table is not CSV: {error}.", code="not_csv", status=422, field="content") from None
    head = [name.strip().lower() for name in lines[0]] if lines else []
    missing = [name for name in ("service", "zone", "up_to", "price") if name not in head]
    unknown = [name for name in head if name not in COLUMNS]
    if missing or unknown or len(set(head)) < len(head) or len(lines) > _MOST_ROWS:
        told = [f"column {name} is missing" for name in missing] + [
            f"column {name[:30]} is not known" for name in unknown
        ]
        told += ["a column appears twice"] if len(set(head)) < len(head) else []
        told += [f"more than {_MOST_ROWS} lines"] if len(lines) > _MOST_ROWS else []
        raise Refused(
            f"The step table: {'; '.join(told[:20])}. Columns are {', '.join(COLUMNS)}.",
            code="not_csv",
            status=422,
            field="content",
        )
    rows, faults = [], []
    for number, cells in enumerate(lines[1:], start=2):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(head):
            faults.append(_fault(number, "line", f"{len(cells)} cells, the first line has {len(head)}"))
            continue
        row, wrong = _row(number, {name: cell.strip() for name, cell in zip(head, cells, strict=True)})
        faults += wrong
        if not wrong:
            rows.append((number, row))
    return rows, faults


def _row(number: int, cells: dict[str, str]) -> tuple[dict[str, Any], list[Fault]]:
    faults: list[Fault] = []
    row: dict[str, Any] = {"service": cells["service"], "format": cells.get("format", ""), "zone": cells["zone"]}
    for name in ("above", "up_to"):
        text = cells.get(name, "")
        if name == "above" and not text:
            row[name] = None
            continue
        try:
            row[name] = parse_weight(text, "kg")
        except BadMeasure as error:
            faults.append(_fault(number, name, METRIC.of(error.message)))
    try:
        price = Decimal(cells["price"])
        if not price.is_finite() or price < 0 or price != price.quantize(Decimal("0.000001")):
            raise InvalidOperation
        row["price"] = price
    except InvalidOperation:
        faults.append(
            _fault(number, "price", f"'{cells['price'][:30]}' is not an amount from 0 with at most six places")
        )
    return row, faults
