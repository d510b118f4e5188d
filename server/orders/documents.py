"""An order as its channel sent it: kept, so that a later file can be compared with it (orders). Pure values.

A person may change an order here (an address put right); that is no change of the channel's. So what comes is compared
with what came before, not with what is here now.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal

from server.formats.orders import OrderRow
from server.orders.models import OrderLine

__all__ = ["Difference", "Part", "differences", "document_of", "lines_alike", "lines_of"]

#: What can be different between two deliveries of one order.
Part = Literal[
    "goods", "buyer", "address", "postcode", "country", "note", "paid", "gift", "postage_charged", "cancelled"
]
_PARTS: tuple[Part, ...] = (
    "cancelled", "buyer", "address", "postcode", "country", "note", "paid", "gift", "postage_charged",
)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One thing that is otherwise now; goods one by one, with the product's code as ``of``."""

    part: Part
    of: str
    before: str
    after: str


def document_of(rows: Sequence[OrderRow]) -> dict[str, Any]:
    """Return an order as JSON values, its lines in order."""
    lead = rows[0]
    return {
        "lines": sorted([row.sku, row.quantity, f"{row.unit_price:.2f}", row.title] for row in rows),
        "buyer": lead.buyer,
        "address": list(lead.address_lines),
        "postcode": lead.postcode,
        "country": lead.country,
        "note": lead.note,
        "paid": lead.paid,
        "gift": lead.gift,
        "postage_charged": f"{lead.postage_charged:.2f}",
    }


def lines_alike(document: Mapping[str, Any], lines: Iterable[OrderLine]) -> bool:
    """Return whether an order's own lines are those of a document: so many of each."""
    here = sorted((line.sku, line.quantity) for line in lines if line.of_order_id is None)
    return here == sorted((sku, quantity) for sku, quantity, *_ in document["lines"])


def lines_of(document: Mapping[str, Any]) -> list[tuple[str, int, Decimal, str]]:
    """Return the lines of a document: code, units, price, title; lines of one product are one."""
    found: dict[str, tuple[str, int, Decimal, str]] = {}
    for sku, quantity, price, title in document["lines"]:
        before = found.get(sku)
        found[sku] = (sku, quantity + (before[1] if before else 0), Decimal(price), title)
    return list(found.values())


def differences(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[Difference]:
    """Return what is otherwise in ``after``."""
    found = []
    old = {sku: quantity for sku, quantity, *_ in lines_of(before)}
    new = {sku: quantity for sku, quantity, *_ in lines_of(after)}
    for sku in dict.fromkeys([*old, *new]):
        if old.get(sku, 0) != new.get(sku, 0):
            found.append(Difference(part="goods", of=sku, before=str(old.get(sku, 0)), after=str(new.get(sku, 0))))
    for part in _PARTS:
        if before.get(part) != after.get(part):
            found.append(Difference(part=part, of="", before=_text(before.get(part)), after=_text(after.get(part))))
    return found


def _text(value: object) -> str:
    if isinstance(value, bool | None):
        return "yes" if value else "no"
    return ", ".join(map(str, value)) if isinstance(value, list) else str(value or "")
