"""A what-if as a file to share: CSV, and what stands on its paper (money)."""

import csv
import io
from decimal import Decimal

from server.api.problems import Refused
from server.formats.text import safe_cell
from server.formats.what_if_sheet import WhatIfSheet
from server.money.models import WhatIf
from server.money.what_if_screens import WhatIfOut, WhatIfResult, what_if_out
from server.words import day_words, words_of
from server.workshops.models import Workshop

__all__ = ["what_if_csv", "what_if_sheet"]

_SUMS = (
    ("materials", "Materials"),
    ("labour", "Minutes"),
    ("postage", "Postage"),
    ("expected_loss", "Expected loss"),
    ("total", "All in"),
    ("charged", "Charged to buyers"),
)


def _shown(row: WhatIf) -> tuple[WhatIfOut, WhatIfResult]:
    shown = what_if_out(row)
    if shown.result is None:
        raise Refused("It was not tried to its end. Run it again, then share it.", code="not_done")
    return shown, shown.result


def _signed(amount: Decimal) -> str:
    return f"{amount:+}" if amount else str(amount)


def what_if_sheet(workshop: Workshop, row: WhatIf) -> WhatIfSheet:
    """Return what stands on the paper. Raises Refused (not_done)."""
    shown, result = _shown(row)
    words = words_of(workshop.unit_system)
    return WhatIfSheet(
        title=row.name or "What if",
        workshop=workshop.name,
        about=f"{result.orders} orders from {day_words(shown.since)} to {day_words(shown.until)}, "
        f"{result.both} sent both ways",
        changes=tuple(f"If {words.of(change)}" for change in shown.changes),
        sums=tuple(
            (name, str(before), str(after), _signed(after - before))
            for key, name in _SUMS
            for before, after in [(getattr(result.before, key), getattr(result.after, key))]
        ),
        tip=". ".join(map(words.of, shown.tip)) if shown.tip is not None else "",
        most=tuple(
            (f"{one.number} {one.buyer}, {one.goods}", one.then, _signed(one.change)) for one in result.most_changed
        ),
        refused=tuple((f"{one.number} {one.buyer}, {one.goods}", words.of(one.reasons)) for one in result.refused),
    )


def what_if_csv(workshop: Workshop, row: WhatIf) -> str:
    """Return sums and orders as CSV. Raises Refused (not_done)."""
    _, result = _shown(row)
    sheet = what_if_sheet(workshop, row)
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\r\n")
    for change in sheet.changes:
        table.writerow(["change", safe_cell(change)])
    table.writerow(["line", "before", "after", "change"])
    table.writerows(sheet.sums)
    table.writerow(["order", "buyer", "goods", "before", "after", "change", "was", "then"])
    for one in result.most_changed:
        about = map(safe_cell, (one.number, one.buyer, one.goods))
        table.writerow([*about, one.before, one.after, one.change, safe_cell(one.was), safe_cell(one.then)])
    for lost in result.refused:
        about = map(safe_cell, (lost.number, lost.buyer, lost.goods))
        table.writerow([*about, lost.cost, "", "", "", "could not be sent"])
    return out.getvalue()
