"""A sheet to count a shelf on, with a pencil: places, names, codes to scan, an empty box for each (A4)."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.barcode import code128
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm

from server.formats.paper import paper, write_line

__all__ = ["CountRow", "count_sheet_pdf"]

_LEFT, _RIGHT = 18 * mm, A4[0] - 18 * mm
_ROW = 12 * mm


@dataclass(frozen=True, slots=True, kw_only=True)
class CountRow:
    """One slot. What the ledger says is left out: it would be copied."""

    place: str
    name: str
    code: str
    unit: str


def count_sheet_pdf(title: str, rows: Sequence[CountRow]) -> bytes:
    """Return the sheet as PDF bytes, as many pages as the shelf needs."""
    canvas, out = paper(A4, title)
    a_page = int((A4[1] - 60 * mm) // _ROW)
    pages = [rows[at : at + a_page] for at in range(0, len(rows), a_page)] or [[]]
    for number, mine in enumerate(pages, start=1):
        write_line(canvas, _LEFT, A4[1] - 24 * mm, title, "Strong", 18, 120 * mm)
        write_line(
            canvas, _LEFT, A4[1] - 31 * mm, "Counted by                                 on", "Text", 10, 120 * mm
        )
        y = A4[1] - 46 * mm
        for row in mine:
            write_line(canvas, _LEFT, y, row.place, "Strong", 13, 16 * mm)
            write_line(canvas, _LEFT + 18 * mm, y, row.name, "Text", 10, 70 * mm)
            bar = code128.Code128(row.code, barHeight=7 * mm, barWidth=0.25 * mm, quiet=False)
            if bar.width < 50 * mm:
                bar.drawOn(canvas, _LEFT + 92 * mm, y - 2 * mm)
            canvas.rect(_RIGHT - 30 * mm, y - 3 * mm, 22 * mm, 9 * mm)
            write_line(canvas, _RIGHT - 7 * mm, y, row.unit, "Text", 8, 10 * mm)
            y -= _ROW
        canvas.setFont("Text", 8)
        canvas.drawRightString(_RIGHT, 12 * mm, f"{number} of {len(pages)}")
        canvas.showPage()
    canvas.save()
    return out.getvalue()
