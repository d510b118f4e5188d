"""Printed papers: the shipping label (100 x 150 mm) and the packing slip (A5). Black and white, codes to scan.

The carriers are made up, so every label says SAMPLE. Bytes are repeatable: the same values give the same file.
"""

from dataclasses import dataclass

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode import code128, qr
from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A5
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from core.units import format_weight
from server.formats.paper import paper, write_line

__all__ = ["LabelSheet", "SlipSheet", "label_pdf", "slip_pdf"]

_LABEL = (100 * mm, 150 * mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class LabelSheet:
    """What stands on a label."""

    service: str
    sender: tuple[str, ...]
    buyer: str
    address: tuple[str, ...]
    postcode: str
    country: str
    tracking: str
    order_number: str
    weight_mg: int
    unit_system: str
    marks: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SlipSheet:
    """What stands on a packing slip. Lines are quantity, title, sku."""

    workshop: str
    sender: tuple[str, ...]
    order_number: str
    placed_on: str
    buyer: str
    address: tuple[str, ...]
    lines: tuple[tuple[int, str, str], ...]
    note: str
    buyer_notes: tuple[str, ...]  #: what the recipes say to the buyer
    part: str  #: which of several parcels this is; empty for the only one
    buyer_page: str = ""  #: address at which the buyer says how it arrived; empty: there is none


def label_pdf(sheet: LabelSheet, *, copy: int = 1) -> bytes:
    """Return the label as PDF bytes: Code 128 of the tracking number and a QR of tracking and place.

    ``copy`` from 2 on: it says so, large, so that two labels of one parcel are never both used.
    """
    canvas, out = paper(_LABEL, f"Label {sheet.tracking}")
    wide, left = _LABEL[0] - 12 * mm, 6 * mm
    canvas.setFillGray(0)
    canvas.rect(0, 136 * mm, _LABEL[0], 14 * mm, stroke=0, fill=1)
    canvas.setFillGray(1)
    write_line(canvas, left, 141 * mm, sheet.service, "Strong", 15, 62 * mm)
    canvas.setFont("Strong", 15)
    canvas.drawRightString(_LABEL[0] - left, 141 * mm, "SAMPLE")
    canvas.setFillGray(0)
    for row, text in enumerate(("From", *sheet.sender[:4])):
        write_line(canvas, left, (131 - 3.6 * row) * mm, text, "Strong" if row == 0 else "Text", 8, 58 * mm)
    canvas.setFont("Text", 8)
    canvas.drawRightString(_LABEL[0] - left, 131 * mm, f"Order {sheet.order_number}"[:40])
    canvas.drawRightString(_LABEL[0] - left, 127.4 * mm, format_weight(sheet.weight_mg, sheet.unit_system))
    canvas.line(left, 112 * mm, _LABEL[0] - left, 112 * mm)
    write_line(canvas, left, 105 * mm, sheet.buyer, "Strong", 15, wide)
    # Four lines stand closer than three: none is left out.
    step, size = (5.5, 13) if len(sheet.address) <= 3 else (4.6, 11)
    for row, text in enumerate(sheet.address[:4]):
        write_line(canvas, left, (98.5 - step * row) * mm, text, "Text", size, wide)
    write_line(canvas, left, 78 * mm, f"{sheet.postcode}  {sheet.country}", "Strong", 22, wide - 34 * mm)
    _qr(canvas, f"{sheet.tracking} {sheet.country} {sheet.postcode}", _LABEL[0] - left - 30 * mm, 62 * mm, 30 * mm)
    if sheet.marks:
        write_line(canvas, left, 66 * mm, " \u00b7 ".join(sheet.marks).upper(), "Strong", 11, wide - 34 * mm)
    canvas.line(left, 59 * mm, _LABEL[0] - left, 59 * mm)
    _code128(canvas, sheet.tracking, 22 * mm, 26 * mm)
    canvas.setFont("Strong", 13)
    canvas.drawCentredString(_LABEL[0] / 2, 15 * mm, " ".join(_fours(sheet.tracking)))
    if copy > 1:
        canvas.setFont("Strong", 11)
        canvas.drawString(left, 52.5 * mm, f"COPY {copy}: destroy the other")
    canvas.setFont("Text", 7)
    canvas.drawCentredString(_LABEL[0] / 2, 8 * mm, "A sample for a made-up carrier. Not valid for posting.")
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def slip_pdf(sheet: SlipSheet) -> bytes:
    """Return the packing slip as PDF bytes, as many pages as the lines need."""
    canvas, out = paper(A5, f"Packing slip {sheet.order_number}")
    left, right, wide = 14 * mm, A5[0] - 14 * mm, A5[0] - 28 * mm
    y = _slip_head(canvas, sheet, left, right)
    for quantity, title, sku in sheet.lines:
        if y < 40 * mm:
            canvas.showPage()
            y = A5[1] - 20 * mm
        canvas.rect(left, y - 1 * mm, 4 * mm, 4 * mm)
        canvas.setFont("Strong", 11)
        canvas.drawRightString(left + 16 * mm, y, str(quantity))
        write_line(canvas, left + 20 * mm, y, title, "Text", 11, wide - 52 * mm)
        canvas.setFont("Text", 8)
        canvas.drawRightString(right, y, sku[:24])
        y -= 8 * mm
    if sheet.part:
        y = _paragraph(canvas, sheet.part, left, y - 3 * mm, wide)
    if sheet.note:
        y = _paragraph(canvas, f"Your note: {sheet.note}", left, y - 3 * mm, wide)
    for text in sheet.buyer_notes:
        y = _paragraph(canvas, text, left, y - 3 * mm, wide)
    if sheet.buyer_page:
        if y < 52 * mm:
            canvas.showPage()
        _qr(canvas, sheet.buyer_page, right - 24 * mm, 20 * mm, 24 * mm)
        canvas.setFont("Strong", 10)
        canvas.drawString(left, 38 * mm, "Did it arrive whole? Tell us, it takes a moment:")
        write_line(canvas, left, 33 * mm, sheet.buyer_page, "Text", 8.5, wide - 28 * mm)
    canvas.setFont("Text", 9)
    canvas.drawString(left, 16 * mm, "Please look through everything before you throw the packing away.")
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _slip_head(canvas: Canvas, sheet: SlipSheet, left: float, right: float) -> float:
    top = A5[1] - 20 * mm
    write_line(canvas, left, top, sheet.workshop, "Strong", 17, 80 * mm)
    for row, text in enumerate(sheet.sender[:3]):
        write_line(canvas, left, top - (6 + 4 * row) * mm, text, "Text", 8.5, 80 * mm)
    _code128(canvas, sheet.order_number, top - 8 * mm, 9 * mm, right=right, bar=0.33 * mm)
    canvas.setFont("Text", 9)
    canvas.drawRightString(right, top - 12 * mm, f"Order {sheet.order_number}, {sheet.placed_on}")
    y = top - 26 * mm
    write_line(canvas, left, y, sheet.buyer, "Strong", 12, 100 * mm)
    for text in sheet.address[:5]:  # four lines and the postcode
        y -= 5 * mm
        write_line(canvas, left, y, text, "Text", 10, 100 * mm)
    y -= 10 * mm
    canvas.line(left, y + 6 * mm, right, y + 6 * mm)
    return float(y)


def _paragraph(canvas: Canvas, text: str, x: float, y: float, width: float) -> float:
    """Write a text in as many lines as it takes, on the next page where this one is full; return where it ends."""
    for line in simpleSplit(text, "Text", 10, width):
        if y < 24 * mm:
            canvas.showPage()
            y = A5[1] - 20 * mm
        write_line(canvas, x, y, line, "Text", 10, width)
        y -= 5 * mm
    return y


def _fours(text: str) -> list[str]:
    return [text[at : at + 4] for at in range(0, len(text), 4)]


def _code128(
    canvas: Canvas, text: str, y: float, height: float, *, right: float | None = None, bar: float = 0.42 * mm
) -> None:
    """Draw a Code 128, centred on the label or ending at ``right``; its own text is drawn by the caller."""
    plain = "".join(ch for ch in text if 32 <= ord(ch) < 127)
    code = code128.Code128(plain, barHeight=height, barWidth=bar, humanReadable=False, quiet=False)
    while code.width > 84 * mm and bar > 0.18 * mm:
        bar *= 0.9
        code = code128.Code128(plain, barHeight=height, barWidth=bar, humanReadable=False, quiet=False)
    code.drawOn(canvas, (_LABEL[0] - code.width) / 2 if right is None else right - code.width, y)


def _qr(canvas: Canvas, text: str, x: float, y: float, side: float) -> None:
    widget = qr.QrCodeWidget(text, barLevel="M")
    x0, y0, x1, y1 = widget.getBounds()
    drawing = Drawing(side, side, transform=[side / (x1 - x0), 0, 0, side / (y1 - y0), 0, 0])
    drawing.add(widget)
    renderPDF.draw(drawing, canvas, x, y)
