"""The send-off sheet (A4): what is handed over, count and weight, where to sign (rules 20.7). Black and white."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.barcode import code128
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.units import format_weight
from server.formats.paper import paper, write_line

__all__ = ["SendOffSheet", "SheetRow", "send_off_pdf"]

_LEFT, _RIGHT = 18 * mm, A4[0] - 18 * mm
_ROW = 6.4 * mm
#: Below this stand the sum and the signatures of the last page.
_FOOT = 66 * mm
#: Where each column begins and how wide it is.
_COLUMNS = (("No", 0.0, 30.0), ("For", 31.0, 43.0), ("Place", 75.0, 42.0), ("Tracking", 140.0, 34.0))


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetRow:
    """One parcel."""

    number: str
    name: str
    place: str
    weight_mg: int
    tracking: str
    service: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SendOffSheet:
    """What stands on the sheet. ``code`` is what a scanner reads to find it."""

    title: str
    workshop: str
    sender: str
    code: str
    taken_by: str
    note: str  #: "Not handed over yet", or when and by whom
    rows: tuple[SheetRow, ...]
    unit_system: str


def send_off_pdf(sheet: SendOffSheet) -> bytes:
    """Return the sheet as PDF bytes, as many pages as the parcels need; each page says which of how many."""
    canvas, out = paper(A4, sheet.title)
    pages = _pages(sheet.rows)
    for number, rows in enumerate(pages, start=1):
        y = _head(canvas, sheet)
        for row in rows:
            y = _line(canvas, row, y, sheet.unit_system)
        if number == len(pages):
            _foot(canvas, sheet, y)
        canvas.setFont("Text", 8)
        canvas.drawString(_LEFT, 12 * mm, sheet.note)
        canvas.drawRightString(_RIGHT, 12 * mm, f"{number} of {len(pages)}")
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _pages(rows: Sequence[SheetRow]) -> list[list[SheetRow]]:
    """Share the rows out to pages; on the last there is room for the sum and the signatures."""
    room = int((A4[1] - 62 * mm - 20 * mm) // _ROW)
    last = int((A4[1] - 62 * mm - _FOOT) // _ROW)
    pages: list[list[SheetRow]] = []
    left = list(rows)
    while len(left) > last:
        pages.append(left[: min(room, len(left) - 1)])
        left = left[len(pages[-1]) :]
    return [*pages, left]


def _head(canvas: Canvas, sheet: SendOffSheet) -> float:
    top = A4[1] - 24 * mm
    write_line(canvas, _LEFT, top, sheet.title, "Strong", 17, 118 * mm)
    write_line(canvas, _LEFT, top - 6 * mm, f"{sheet.workshop}, {sheet.sender}", "Text", 9, 118 * mm)
    bar = 0.33 * mm
    code = code128.Code128(sheet.code, barHeight=11 * mm, barWidth=bar, quiet=False)
    while code.width > 52 * mm and bar > 0.16 * mm:
        bar *= 0.9
        code = code128.Code128(sheet.code, barHeight=11 * mm, barWidth=bar, quiet=False)
    code.drawOn(canvas, _RIGHT - code.width, top - 6 * mm)
    y = top - 18 * mm
    canvas.setFont("Strong", 8)
    for name, begin, _ in _COLUMNS:
        canvas.drawString(_LEFT + begin * mm, y, name)
    canvas.drawRightString(_LEFT + 136 * mm, y, "Weight")
    canvas.line(_LEFT, y - 2 * mm, _RIGHT, y - 2 * mm)
    return float(y - 7 * mm)


def _line(canvas: Canvas, row: SheetRow, y: float, unit_system: str) -> float:
    texts = (row.number, row.name, row.place, row.tracking)
    for at, (text, (_, begin, wide)) in enumerate(zip(texts, _COLUMNS, strict=True)):
        write_line(canvas, _LEFT + begin * mm, y, text, "Strong" if at == 0 else "Text", 9, wide * mm)
    canvas.setFont("Text", 9)
    canvas.drawRightString(_LEFT + 136 * mm, y, format_weight(row.weight_mg, unit_system))
    canvas.setLineWidth(0.3)
    canvas.line(_LEFT, y - 2 * mm, _RIGHT, y - 2 * mm)
    canvas.setLineWidth(1)
    return float(y - _ROW)


def _foot(canvas: Canvas, sheet: SendOffSheet, y: float) -> None:
    count = len(sheet.rows)
    canvas.setFont("Strong", 11)
    canvas.drawString(_LEFT, y - 2 * mm, f"{count} parcel" if count == 1 else f"{count} parcels")
    total = format_weight(sum(row.weight_mg for row in sheet.rows), sheet.unit_system)
    canvas.drawRightString(_LEFT + 136 * mm, y - 2 * mm, total)
    canvas.line(_LEFT, y - 5 * mm, _RIGHT, y - 5 * mm)
    for row, (left, right) in enumerate((("Taken over, name", "Time"), ("Signature, carrier", "Signature, workshop"))):
        at = y - (24 + 18 * row) * mm
        canvas.line(_LEFT, at, _LEFT + 100 * mm, at)
        canvas.line(_LEFT + 110 * mm, at, _RIGHT, at)
        canvas.setFont("Text", 8)
        canvas.drawString(_LEFT, at - 4 * mm, left)
        canvas.drawString(_LEFT + 110 * mm, at - 4 * mm, right)
    if sheet.taken_by:
        write_line(canvas, _LEFT, y - 22 * mm, sheet.taken_by, "Text", 11, 98 * mm)
