"""A what-if as a file to share: words, CSV, and what stands on its paper (money)."""

import csv
import io
from decimal import Decimal
from typing import Any

from core.messages import Message
from server.api.problems import Refused
from server.formats.text import safe_cell
from server.formats.what_if_sheet import WhatIfSheet
from server.money.models import WhatIf
from server.money.what_ifs import ChangeSaid, WhatIfResult, what_if_out
from server.words import day_words, words_of
from server.workshops.models import Workshop

__all__ = ["change_words", "what_if_csv", "what_if_sheet"]

_DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
_SUMS = (
    ("materials", "Materials"),
    ("labour", "Minutes"),
    ("postage", "Postage"),
    ("expected_loss", "Expected loss"),
    ("total", "All in"),
    ("charged", "Charged to buyers"),
)


def change_words(said: ChangeSaid, workshop: Workshop) -> str:
    """Return a change in words."""
    money = f"{said.number} {workshop.currency}" if said.number is not None else ""
    match said.kind:
        case "wage":
            return f"A wage of {money} an hour"
        case "without":
            return f"Without {said.name}"
        case "new_carton":
            return f"With a carton of {said.name} mm{f' for {money}' if money else ''}"
        case "price_list":
            return f"{said.name}, price list {said.to}"
        case "version":
            return f"{said.name}, version {said.number}"
        case "instead":
            return f"{said.to} instead of {said.name}"
        case "damage":
            return f"{said.name}: {said.number} % arrive damaged"
        case "minutes":
            return f"{said.name}: {said.number} % of its minutes"
        case "supply_price":
            return f"{said.name} for {money}"
        case "send_days":
            return f"Sent on {', '.join(_DAYS[int(one)] for one in said.to.split(','))}"
        case "services":
            return f"Only {said.to}" if said.to else "All services"
        case _:
            return f"Charged by {said.name}" if said.name else f"Charged {money} for every order"


def _done(row: WhatIf) -> WhatIfResult:
    result = what_if_out(row).result
    if result is None:
        raise Refused("It was not tried to its end. Run it again, then share it.", code="not_done")
    return result


def _signed(amount: Decimal) -> str:
    return f"{amount:+}" if amount else str(amount)


def tip_words(result: WhatIfResult, workshop: Workshop) -> str:
    """Return where it tips, in words; empty: nowhere."""
    tip, currency = result.tip, workshop.currency
    if tip is None:
        return ""
    if tip.kind == "wage_even":
        return f"At a wage of {tip.at} {currency} an hour both cost the same; it is {tip.now} now."
    if tip.kind == "packed_otherwise":
        return f"From {tip.at} on the first order is packed otherwise; it is {tip.now} now."
    if tip.kind == "flat_fee":
        return f"One fee of {tip.at} {currency} for all covers the postage; buyers pay {tip.now} on average now."
    orders = "order" if tip.at == 1 else "orders"
    return f"It pays from {tip.at} {orders} a month; there are {tip.now}."


def what_if_sheet(workshop: Workshop, row: WhatIf) -> WhatIfSheet:
    """Return what stands on the paper. Raises Refused (not_done)."""
    result, shown = _done(row), what_if_out(row)
    words = words_of(workshop.unit_system)

    def said(reason: Any) -> str:
        return words.of(reason) if isinstance(reason, Message) else str(reason)

    before, after = result.before, result.after
    return WhatIfSheet(
        title=row.name or "What if",
        workshop=workshop.name,
        about=f"{result.orders} orders from {day_words(shown.since)} to {day_words(shown.until)}, "
        f"{result.both} sent both ways",
        changes=tuple(change_words(one, workshop) for one in shown.changes),
        sums=(
            ("", "before", "after", "change"),
            *(
                (
                    name, str(getattr(before, key)), str(getattr(after, key)),
                    _signed(getattr(after, key) - getattr(before, key)),
                )
                for key, name in _SUMS
            ),
        ),
        tip=tip_words(result, workshop),
        most=tuple(
            (f"{one.number} {one.buyer}, {one.goods}", one.then, _signed(one.change)) for one in result.most_changed
        ),
        refused=tuple(
            (f"{one.number} {one.buyer}, {one.goods}", " ".join(said(reason) for reason in one.reasons))
            for one in result.refused
        ),
    )  # fmt: skip


def what_if_csv(workshop: Workshop, row: WhatIf) -> str:
    """Return sums and orders as CSV. Raises Refused (not_done)."""
    sheet = what_if_sheet(workshop, row)
    result = _done(row)
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\r\n")
    for change in sheet.changes:
        table.writerow(["change", safe_cell(change)])
    table.writerow(["line", "before", "after", "change"])
    for name, before, after, change in sheet.sums[1:]:
        table.writerow([name, before, after, change])
    table.writerow(["order", "buyer", "goods", "before", "after", "change", "was", "then"])
    for one in result.most_changed:
        table.writerow([safe_cell(one.number), safe_cell(one.buyer), safe_cell(one.goods), one.before, one.after,
                        one.change, safe_cell(one.was), safe_cell(one.then)])  # fmt: skip
    for lost in result.refused:
        table.writerow([safe_cell(lost.number), safe_cell(lost.buyer), safe_cell(lost.goods), lost.cost, "", "", "",
                        "could not be sent"])  # fmt: skip
    return out.getvalue()
