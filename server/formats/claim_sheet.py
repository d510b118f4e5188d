"""The claim to a carrier (A4): what was sent, how it arrived, what is asked for, the photos (rules 17.6)."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfgen.canvas import Canvas

from server.formats.paper import paper, write_line

__all__ = ["ClaimSheet", "claim_pdf"]

_LEFT, _RIGHT, _FOOT = 20 * mm, A4[0] - 20 * mm, 20 * mm
_WIDE = _RIGHT - _LEFT
_PHOTO = 82 * mm


@dataclass(frozen=True, slots=True, kw_only=True)
class ClaimSheet:
    """What stands on the sheet: facts as name and value, in their order."""

    title: str
    workshop: str
    sender: tuple[str, ...]
    facts: tuple[tuple[str, str], ...]
    goods: tuple[tuple[int, str, str], ...]  #: units, name, price each
    happened: str
    message: str  #: the buyer's own words; empty: none
    missing: tuple[str, ...]
    photos: tuple[bytes, ...]


def claim_pdf(sheet: ClaimSheet) -> bytes:
    """Return the sheet as PDF bytes; photos two in a row, on as many pages as they need."""
    canvas, out = paper(A4, sheet.title)
    y = A4[1] - 24 * mm
    write_line(canvas, _LEFT, y, sheet.title, "Strong", 18, _WIDE)
    y -= 7 * mm
    write_line(canvas, _LEFT, y, ", ".join((sheet.workshop, *sheet.sender)), "Text", 10, _WIDE)
    y -= 10 * mm
    for name, value in sheet.facts:
        write_line(canvas, _LEFT, y, name, "Text", 10, 48 * mm)
        write_line(canvas, _LEFT + 50 * mm, y, value, "Strong", 10, _WIDE - 50 * mm)
        y -= 6 * mm
    y -= 3 * mm
    for units, name, price in sheet.goods:
        y = _room(canvas, y)
        write_line(canvas, _LEFT, y, f"{units} x {name}", "Text", 10, _WIDE - 40 * mm)
        canvas.drawRightString(_RIGHT, y, price)
        y -= 6 * mm
    y = _text(canvas, sheet.happened, y - 3 * mm)
    if sheet.message:
        y = _text(canvas, f"The buyer wrote: {sheet.message}", y - 3 * mm)
    if sheet.missing:
        y = _text(canvas, f"Still missing: {', '.join(sheet.missing)}.", y - 3 * mm)
    _photos(canvas, sheet.photos, y - 6 * mm)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _room(canvas: Canvas, y: float) -> float:
    if y > _FOOT:
        return y
    canvas.showPage()
    return float(A4[1] - 24 * mm)


def _text(canvas: Canvas, text: str, y: float) -> float:
    for part in text.splitlines() or [""]:
        for line in simpleSplit(part, "Text", 10, _WIDE):
            y = _room(canvas, y)
            write_line(canvas, _LEFT, y, line, "Text", 10, _WIDE)
            y -= 5 * mm
    return y


def _photos(canvas: Canvas, photos: Sequence[bytes], y: float) -> None:
    for at, content in enumerate(photos):
        if at % 2 == 0:
            y = _room(canvas, y - _PHOTO) + _PHOTO if y - _PHOTO > _FOOT else _room(canvas, 0)
        x = _LEFT + (at % 2) * (_PHOTO + 6 * mm)
        canvas.drawImage(
            ImageReader(io.BytesIO(content)), x, y - _PHOTO, _PHOTO, _PHOTO, preserveAspectRatio=True, anchor="nw"
        )
        if at % 2:
            y -= _PHOTO + 6 * mm
