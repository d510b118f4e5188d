"""An order to a supplier: on paper (A4, black and white), as CSV, and as plain text for a mail."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from server.formats.paper import paper, write_line

__all__ = ["PurchaseRow", "PurchaseSheet", "purchase_csv", "purchase_pdf", "purchase_text"]

_LEFT, _RIGHT = 18 * mm, A4[0] - 18 * mm
_ROW = 7 * mm
_FOOT = 40 * mm


@dataclass(frozen=True, slots=True, kw_only=True)
class PurchaseRow:
    """One line."""

    their_code: str
    code: str
    name: str
    amount: str  #: "4 packs of 25 (100 pieces)"
    quantity: Decimal
    unit: str
    price: Decimal
    goods: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class PurchaseSheet:
    """The whole order."""

    number: int
    supplier: str
    contact: str
    workshop: str
    address: Sequence[str]
    currency: str
    ordered_on: date
    expected_on: date
    note: str
    rows: tuple[PurchaseRow, ...]
    delivery: Decimal

    @property
    def goods(self) -> Decimal:
        """Return the sum of the lines."""
        return sum((row.goods for row in self.rows), Decimal(0))


def purchase_pdf(sheet: PurchaseSheet) -> bytes:
    """Return the order as PDF bytes, as many pages as its lines need."""
    canvas, out = paper(A4, f"Order P-{sheet.number}")
    y = _head(canvas, sheet)
    for row in sheet.rows:
        if y < _FOOT:
            canvas.showPage()
            y = _columns(canvas, A4[1] - 25 * mm)
        y = _line(canvas, row, y)
    _sum(canvas, sheet, y)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _head(canvas: Canvas, sheet: PurchaseSheet) -> float:
    top: float = A4[1] - 24 * mm
    write_line(canvas, _LEFT, top, f"Order P-{sheet.number}", "Strong", 20, 110 * mm)
    write_line(canvas, _LEFT, top - 9 * mm, sheet.supplier, "Strong", 12, 100 * mm)
    write_line(canvas, _LEFT, top - 14.5 * mm, sheet.contact, "Text", 10, 100 * mm)
    for at, text in enumerate((sheet.workshop, *sheet.address)):
        write_line(canvas, 125 * mm, top - at * 5 * mm, text, "Strong" if at == 0 else "Text", 10, 67 * mm)
    dates = f"Ordered {sheet.ordered_on.isoformat()}, expected {sheet.expected_on.isoformat()}"
    write_line(canvas, _LEFT, top - 26 * mm, dates, "Text", 10, 120 * mm)
    if sheet.note:
        write_line(canvas, _LEFT, top - 31.5 * mm, sheet.note, "Text", 10, 170 * mm)
    return _columns(canvas, top - 42 * mm)


def _columns(canvas: Canvas, y: float) -> float:
    for x, title in ((0, "Your code"), (32, "Item"), (104, "Amount")):
        write_line(canvas, _LEFT + x * mm, y, title, "Text", 8.5, 40 * mm)
    canvas.drawRightString(_RIGHT, y, "Sum")
    canvas.line(_LEFT, y - 2 * mm, _RIGHT, y - 2 * mm)
    return float(y - 8 * mm)


def _line(canvas: Canvas, row: PurchaseRow, y: float) -> float:
    write_line(canvas, _LEFT, y, row.their_code or row.code, "Strong", 10, 30 * mm)
    write_line(canvas, _LEFT + 32 * mm, y, row.name, "Text", 10, 70 * mm)
    write_line(canvas, _LEFT + 104 * mm, y, row.amount, "Text", 10, 48 * mm)
    canvas.setFont("Text", 10)
    canvas.drawRightString(_RIGHT, y, f"{row.goods:.2f}")
    return float(y - _ROW)


def _sum(canvas: Canvas, sheet: PurchaseSheet, y: float) -> None:
    canvas.line(_LEFT, y + 3 * mm, _RIGHT, y + 3 * mm)
    for at, (title, amount) in enumerate(
        (("Goods", sheet.goods), ("Delivery", sheet.delivery), ("Total", sheet.goods + sheet.delivery))
    ):
        canvas.setFont("Strong" if title == "Total" else "Text", 10)
        canvas.drawString(_LEFT + 104 * mm, y - (3 + 6 * at) * mm, title)
        canvas.drawRightString(_RIGHT, y - (3 + 6 * at) * mm, f"{sheet.currency} {amount:.2f}")


def purchase_csv(sheet: PurchaseSheet) -> str:
    """Return the order as CSV, a line a supply."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["order", "supplier", "their_code", "code", "name", "quantity", "unit", "price", "sum"])
    for row in sheet.rows:
        writer.writerow(
            [f"P-{sheet.number}", sheet.supplier, row.their_code, row.code, row.name, f"{row.quantity.normalize():f}",
             row.unit, f"{row.price.normalize():f}", f"{row.goods:.2f}"]
        )  # fmt: skip
    return out.getvalue()


def purchase_text(sheet: PurchaseSheet) -> str:
    """Return the order as words to put into a mail."""
    lines = [f"Order P-{sheet.number} from {sheet.workshop}", ""]
    lines += [f"- {row.amount} {row.name} ({row.their_code or row.code})" for row in sheet.rows]
    lines += ["", f"Needed by {sheet.expected_on.isoformat()}."]
    if sheet.note:
        lines += [sheet.note]
    return "\n".join([*lines, "", "Deliver to:", sheet.workshop, *sheet.address])
