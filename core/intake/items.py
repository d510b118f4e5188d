"""Several items in one cell: "2x MUG-BLU; 1x CAN-ROS" (intake; step 4 of the work). Pure.

Items are parted by line ends, semicolons, bars, or commas when every part between them has a count. In each part the
count is told from what it counts: "2 x MUG", "MUG x 2", "MUG (2)", "MUG: 2", "2 MUG"; without one it is 1. A code in
brackets, or one of the workshop's own at either end, is the product's code.
"""

import re
from collections.abc import Collection
from dataclasses import dataclass
from decimal import Decimal

from core.intake.values import DecimalMark, parted, read_amount

__all__ = ["Item", "looks_like_items", "read_items"]

_COUNTED = (
    re.compile(r"(?P<count>\d{1,5}) ?[x\u00d7*] ?(?P<what>.+)", re.IGNORECASE),
    re.compile(r"(?P<what>.+?) ?(?:[,:]? ?\b[x\u00d7*] ?|\u00d7 ?)(?P<count>\d{1,5})", re.IGNORECASE),
    re.compile(r"(?P<what>.+?) ?\((?:qty:? ?)?x?(?P<count>\d{1,5})x?\)", re.IGNORECASE),
    re.compile(r"(?P<what>.+?) ?[:=] ?(?P<count>\d{1,5})"),
    re.compile(r"(?P<what>.+?),? (?:qty|quantity|menge|qte):? ?(?P<count>\d{1,5})", re.IGNORECASE),
    re.compile(r"(?P<count>\d{1,4}) (?P<what>[^\W\d].+)"),
)
#: A longer part of a cell is no item with a count; looking into it would take long.
_LONGEST = 250
_PRICE = re.compile(r"\s*(?:@|\bat\b|\ba\b|je)\s*(?P<price>[^@\s]{0,4} ?\d[\d.,' ]*[^@\s\d]{0,4})$", re.IGNORECASE)
_CODE = re.compile(r"(?P<title>.+?)\s*[\[(](?:sku:? ?)?(?P<sku>[A-Za-z0-9][A-Za-z0-9._/-]{1,39})[\])]", re.IGNORECASE)


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """So many of one thing."""

    sku: str
    title: str
    quantity: int
    price: Decimal | None = None  #: for one, when the cell says it


def read_items(text: str, known: Collection[str] = (), mark: DecimalMark = "point") -> tuple[Item, ...]:
    """Return what a cell lists. ``known``: the workshop's product codes, which tell a code from a title.

    >>> [(one.quantity, one.sku) for one in read_items("2x MUG-BLU; CAN-ROS (3)")]
    [(2, 'MUG-BLU'), (3, 'CAN-ROS')]
    >>> [(one.quantity, one.sku, one.title) for one in read_items("1 x Blue mug [MUG-BLU]")]
    [(1, 'MUG-BLU', 'Blue mug')]
    """
    return tuple(_item(part, known, mark) for part in _parts(text))


def looks_like_items(text: str) -> bool:
    """Return whether a cell lists counted things.

    >>> looks_like_items("2x MUG; 1x CAN"), looks_like_items("A mug, blue")
    (True, False)
    """
    parts = _parts(text)
    return bool(parts) and all(_counted(part) is not None for part in parts)


def _parts(text: str) -> list[str]:
    parts = parted(text)
    if len(parts) == 1:
        listed = [one.strip() for one in parts[0].split(", ") if one.strip()]
        if len(listed) > 1 and all(_counted(one) is not None for one in listed):
            return listed
    return parts


def _counted(part: str) -> tuple[str, int] | None:
    if len(part) > _LONGEST:
        return None
    bare = _PRICE.sub("", part)
    for form in _COUNTED:
        found = form.fullmatch(bare)
        if found:
            return found["what"].strip(), int(found["count"])
    return None


def _item(part: str, known: Collection[str], mark: DecimalMark) -> Item:
    if len(part) > _LONGEST:
        return Item(sku="", title=part, quantity=1)
    priced = _PRICE.search(part)
    price = read_amount(priced["price"], mark) if priced else None
    bare = _PRICE.sub("", part).strip() if price is not None else part
    if bare in known:
        return Item(sku=bare, title="", quantity=1, price=price)
    what, quantity = _counted(bare) or (bare, 1)
    if what in known:
        return Item(sku=what, title="", quantity=quantity, price=price)
    coded = _CODE.fullmatch(what)
    if coded:
        return Item(sku=coded["sku"], title=coded["title"].strip(), quantity=quantity, price=price)
    for end in (what.split()[0], what.split()[-1]):
        if end in known:
            return Item(sku=end, title=what.replace(end, "").strip(" -,:"), quantity=quantity, price=price)
    # One word is a code; several are what the buyer saw.
    return Item(sku=what if " " not in what else "", title=what if " " in what else "", quantity=quantity, price=price)
