"""Labels with a code to scan: A4, three by eight, cut apart; for the shelves, and for the keys of the bench."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.barcode import code128
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm

from server.formats.paper import paper, write_line

__all__ = ["KEY_CODES", "PlaceLabel", "key_codes_pdf", "place_labels_pdf"]

_COLUMNS, _ROWS = 3, 8
_WIDE, _HIGH = A4[0] / _COLUMNS, A4[1] / _ROWS


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceLabel:
    """What stands on one."""

    place: str
    name: str
    code: str


#: The keys of the bench as codes: what a scanner reads presses the key.
KEY_CODES = (
    PlaceLabel(place="Go", name="Next: what Space does", code="KEY-SPACE"),
    PlaceLabel(place="Bk", name="One step back", code="KEY-BACKSPACE"),
    PlaceLabel(place="W", name="To the scale", code="KEY-W"),
    PlaceLabel(place="L", name="To the label", code="KEY-L"),
    PlaceLabel(place="G", name="Weigh again", code="KEY-G"),
    PlaceLabel(place="Y", name="Checked: correct", code="KEY-Y"),
    PlaceLabel(place="P", name="Open the packing slip", code="KEY-P"),
    PlaceLabel(place="Esc", name="Leave the bench; the step is kept", code="KEY-ESCAPE"),
    *(
        PlaceLabel(place=str(number), name=f"Up to {number} done, or choice {number}", code=f"KEY-{number}")
        for number in range(1, 10)
    ),
)


def key_codes_pdf() -> bytes:
    """Return the sheet of codes for the bench as PDF bytes."""
    return place_labels_pdf(KEY_CODES, "Codes for the bench")


def place_labels_pdf(labels: Sequence[PlaceLabel], title: str = "Labels for the shelves") -> bytes:
    """Return the labels as PDF bytes, in the order given; a page without any says so."""
    canvas, out = paper(A4, title)
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
