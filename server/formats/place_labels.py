"""Labels for the places of the shelves: A4, three by eight, cut apart. The code to scan is the supply's."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.barcode import code128
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm

from server.formats.paper import paper, write_line

__all__ = ["PlaceLabel", "place_labels_pdf"]

_COLUMNS, _ROWS = 3, 8
_WIDE, _HIGH = A4[0] / _COLUMNS, A4[1] / _ROWS


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceLabel:
    """What stands on one."""

    place: str
    name: str
    code: str


def place_labels_pdf(labels: Sequence[PlaceLabel]) -> bytes:
    """Return the labels as PDF bytes, in the order given; a page without any says so."""
    canvas, out = paper(A4, "Labels for the shelves")
    if not labels:
        write_line(canvas, 20 * mm, A4[1] - 30 * mm, "There is no supply on any shelf yet.", "Text", 12, 160 * mm)
        canvas.showPage()
    for at, label in enumerate(labels):
        row, column = divmod(at % (_COLUMNS * _ROWS), _COLUMNS)
        if at and row == column == 0:
            canvas.showPage()
        x, y = column * _WIDE, A4[1] - (row + 1) * _HIGH
        canvas.setDash(1, 3)
        canvas.rect(x, y, _WIDE, _HIGH)
        canvas.setDash()
        write_line(canvas, x + 5 * mm, y + _HIGH - 11 * mm, label.place, "Strong", 22, 20 * mm)
        write_line(canvas, x + 26 * mm, y + _HIGH - 8 * mm, label.name, "Strong", 9, _WIDE - 30 * mm)
        write_line(canvas, x + 26 * mm, y + _HIGH - 12.5 * mm, label.code, "Text", 8, _WIDE - 30 * mm)
        bar = 0.33 * mm
        code = code128.Code128(label.code, barHeight=13 * mm, barWidth=bar, quiet=False)
        while code.width > _WIDE - 10 * mm and bar > 0.16 * mm:
            bar *= 0.9
            code = code128.Code128(label.code, barHeight=13 * mm, barWidth=bar, quiet=False)
        code.drawOn(canvas, x + (_WIDE - code.width) / 2, y + 4 * mm)
    if labels:
        canvas.showPage()
    canvas.save()
    return out.getvalue()
