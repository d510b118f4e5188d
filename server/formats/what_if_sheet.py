"""A change that was tried, as a paper to share (A4): what, on which orders, before and after (rules 22.1)."""

from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit

from server.formats.paper import paper, write_line

__all__ = ["WhatIfSheet", "what_if_pdf"]

_LEFT, _RIGHT, _FOOT = 20 * mm, A4[0] - 20 * mm, 20 * mm
_WIDE = _RIGHT - _LEFT


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatIfSheet:
    """What stands on the sheet; amounts are written already."""

    title: str
    workshop: str
    about: str  #: which orders, when it was tried
    changes: tuple[str, ...]
    sums: tuple[tuple[str, str, str, str], ...]  #: name, before, after, change
    tip: str  #: empty: none
    most: tuple[tuple[str, str, str], ...]  #: order and goods, how it is packed then, change
    refused: tuple[tuple[str, str], ...]  #: order and goods, why


def what_if_pdf(sheet: WhatIfSheet) -> bytes:
    """Return the sheet as PDF bytes, on as many pages as it needs."""
    canvas, out = paper(A4, sheet.title)
    y = A4[1] - 24 * mm

    def room(needed: float) -> None:
        nonlocal y
        if y - needed < _FOOT:
            canvas.showPage()
            y = A4[1] - 24 * mm

    def line(text: str, font: str = "Text", size: int = 10, step: float = 6 * mm, x: float = _LEFT) -> None:
        nonlocal y
        for part in simpleSplit(text, font, size, _RIGHT - x) or [""]:
            room(step)
            write_line(canvas, x, y, part, font, size, _RIGHT - x)
            y -= step

    def heading(text: str) -> None:
        nonlocal y
        y -= 3 * mm
        line(text, "Strong", 13, 8 * mm)

    line(sheet.title, "Strong", 18, 9 * mm)
    line(sheet.workshop)
    line(sheet.about)
    for change in sheet.changes:
        line(change)
    heading("Before and after")
    for name, before, after, change in (("", "before", "after", "change"), *sheet.sums):
        room(6 * mm)
        canvas.setFont("Strong" if name == "All in" else "Text", 10)
        canvas.drawString(_LEFT, y, name)
        for at, text in ((110, before), (140, after), (170, change)):
            canvas.drawRightString(_LEFT + at * mm, y, text)
        y -= 6 * mm
    if sheet.tip:
        line(sheet.tip)
    if sheet.most:
        heading("Most changed")
    for order, then, change in sheet.most:
        room(12 * mm)
        canvas.setFont("Text", 10)
        canvas.drawRightString(_RIGHT, y, change)
        write_line(canvas, _LEFT, y, order, "Strong", 10, _WIDE - 28 * mm)
        y -= 5 * mm
        line(then, "Text", 9, 6 * mm)
    if sheet.refused:
        heading("Could not be sent")
    for order, why in sheet.refused:
        line(order, "Strong", 10, 5 * mm)
        line(why, "Text", 9, 6 * mm)
    canvas.showPage()
    canvas.save()
    return out.getvalue()
