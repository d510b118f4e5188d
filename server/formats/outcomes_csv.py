"""How parcels arrived, as a table: one line a parcel, by its order or tracking number (docs/formats/arrivals.md)."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from core.outcomes.model import OUTCOMES, PLACES
from server.api.refused import Refused
from server.formats.tables import NotATable, read_table

__all__ = ["COLUMNS", "ToldLine", "read_outcomes"]

#: Names of the columns; order or tracking, and outcome, must be there.
COLUMNS = (
    "order", "part", "tracking", "outcome", "place", "spot", "sku", "units", "note", "gave_back", "gave_amount",
    "delivered_on",
)  # fmt: skip
_MOST_LINES = 5_000
_GAVE = ("", "refund", "part_refund", "replacement")


@dataclass(frozen=True, slots=True, kw_only=True)
class ToldLine:
    """One line as it was read: what it says, or what is wrong with it."""

    line: int
    values: dict[str, str]
    part: int | None
    units: int
    gave_amount: Decimal
    delivered_on: date | None
    problems: tuple[str, ...]


def read_outcomes(content: bytes) -> tuple[ToldLine, ...]:
    """Return the lines of a file. Raises Refused (not_a_table, unknown_columns) when it is none of this kind."""
    try:
        table = read_table(content, most_lines=_MOST_LINES)
    except NotATable as error:
        where = f" Line {error.line}:" if error.line else ""
        raise Refused(
            f"This file:{where} {error.value}; allowed: {error.allowed}. Nothing was imported.",
            code="not_a_table", status=422, field="content",
        ) from None  # fmt: skip
    head = [name.strip().lower().replace(" ", "_") for name in table.head]
    lacks = [name for name in ("outcome",) if name not in head]
    if not {"order", "tracking"} & set(head):
        lacks.append("order or tracking")
    if lacks:
        raise Refused(
            f"This file has no column {' and none '.join(lacks)}; it has {', '.join(table.head)[:200]}. Known columns: "
            f"{', '.join(COLUMNS)}. Nothing was imported.",
            code="unknown_columns", status=422, field="content",
        )  # fmt: skip
    return tuple(
        _line(number, {name: cell.strip() for name, cell in zip(head, cells, strict=True) if name in COLUMNS})
        for number, cells in table.rows
    )


def _line(number: int, values: dict[str, str]) -> ToldLine:
    problems: list[str] = []

    def read(name: str, kind: Any, empty: Any, allowed: str) -> Any:
        text = values.get(name, "")
        if not text:
            return empty
        try:
            found = kind(text)
        except (ValueError, ArithmeticError):
            problems.append(f"{name}: {text[:40]}; allowed: {allowed}")
            return empty
        return found

    if not values.get("order") and not values.get("tracking"):
        problems.append("order: empty; allowed: an order's number, or a tracking number in tracking")
    outcome = values.get("outcome", "").lower()
    if outcome not in OUTCOMES:
        problems.append(f"outcome: {outcome[:40] or 'empty'}; allowed: {', '.join(OUTCOMES)}")
    place = values.get("place", "").lower()
    if place and place not in PLACES:
        problems.append(f"place: {place[:40]}; allowed: {', '.join(PLACES)}")
    if values.get("gave_back", "") not in _GAVE:
        problems.append(f"gave_back: {values['gave_back'][:40]}; allowed: {', '.join(_GAVE[1:])}")
    amount = read("gave_amount", Decimal, Decimal(0), "an amount such as 6.80")
    if not amount.is_finite() or amount < 0:
        problems.append(f"gave_amount: {values['gave_amount'][:40]}; allowed: an amount such as 6.80")
        amount = Decimal(0)
    return ToldLine(
        line=number,
        values={**values, "outcome": outcome, "place": place},
        part=read("part", int, None, "which of the order's parcels, 1, 2, ..."),
        units=read("units", int, 1, "a whole number"),
        gave_amount=amount,
        delivered_on=read("delivered_on", date.fromisoformat, None, "a day such as 2026-11-30"),
        problems=tuple(problems),
    )
