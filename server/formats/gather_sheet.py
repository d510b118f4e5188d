"""The list of a wave on paper: A4, or 100 x 150 mm for the label printer. Black and white, a box at each line."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from server.formats.paper import paper, write_line

__all__ = ["GatherSection", "GatherSheetOut", "SheetLine", "gather_pdf"]


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetLine:
    """One thing to carry up. ``spots``: number of the parcel on the list, and how much is for it."""

    place: str
    name: str
    detail: str
    amount: str
    spots: tuple[tuple[int, str], ...]
    short: tuple[int, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class GatherSection:
    """Lines of one kind, in the order of the shelves."""

    title: str
    lines: tuple[SheetLine, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class GatherSheetOut:
    """What stands on the list. ``parcels``: number on the list, order, buyer, container."""

    title: str
    workshop: str
    parcels: tuple[tuple[int, str, str, str], ...]
    sections: tuple[GatherSection, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Form:
    """How the list is set on one size of paper."""

    size: tuple[float, float]
    edge: float
    text: float  #: size of the names, pt
    small: float
    row: float  #: of a line without the second


_A4 = _Form(size=A4, edge=16 * mm, text=11, small=8, row=9.5 * mm)
_SMALL = _Form(size=(100 * mm, 150 * mm), edge=6 * mm, text=9, small=6.5, row=8.2 * mm)


class _Page:
    """Where the next line stands."""

    def __init__(self, canvas: Canvas, form: _Form, title: str) -> None:
        self.canvas, self.form, self.title = canvas, form, title
        self.number = 0
        self.y = 0.0
        self.fresh()

    @property
    def right(self) -> float:
        return self.form.size[0] - self.form.edge

    def fresh(self) -> None:
        if self.number:
            self.canvas.showPage()
        self.number += 1
        self.y = self.form.size[1] - self.form.edge - self.form.text
        write_line(self.canvas, self.form.edge, self.y, self.title, "Strong", self.form.text + 3, self.right * 0.7)
        self.canvas.setFont("Text", self.form.small)
        self.canvas.drawRightString(self.right, self.y, f"page {self.number}")
        self.y -= self.form.row

    def room(self, height: float) -> None:
        if self.y - height < self.form.edge:
            self.fresh()


def gather_pdf(sheet: GatherSheetOut, *, small: bool) -> bytes:
    """Return the list as PDF bytes, as many pages as it needs."""
    form = _SMALL if small else _A4
    canvas, out = paper(form.size, sheet.title)
    page = _Page(canvas, form, sheet.title)
    for number, order, buyer, container in sheet.parcels:
        page.room(form.row)
        canvas.setFont("Strong", form.text)
        canvas.drawString(form.edge, page.y, str(number))
        write_line(canvas, form.edge + 7 * mm, page.y, order, "Strong", form.text, 24 * mm)
        wide = page.right - form.edge - 33 * mm
        write_line(canvas, form.edge + 33 * mm, page.y, f"{buyer}, {container}", "Text", form.small + 1, wide)
        page.y -= form.row * 0.62
    for section in sheet.sections:
        page.room(form.row * 2.4)
        page.y -= form.row * 0.6
        canvas.setFont("Strong", form.text + 1)
        canvas.drawString(form.edge, page.y, section.title)
        canvas.line(form.edge, page.y - 1.4 * mm, page.right, page.y - 1.4 * mm)
        page.y -= form.row * 0.85
        for line in section.lines:
            _line(page, line)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _line(page: _Page, line: SheetLine) -> None:
    form, canvas = page.form, page.canvas
    second = _second(line)
    page.room(form.row)
    canvas.rect(form.edge, page.y - 0.6 * mm, 3.6 * mm, 3.6 * mm)
    write_line(canvas, form.edge + 6 * mm, page.y, line.place, "Strong", form.text, 10 * mm)
    amount = page.right - form.edge - 17 * mm
    write_line(canvas, form.edge + 17 * mm, page.y, line.name, "Text", form.text, amount * 0.68)
    canvas.setFont("Strong", form.text)
    canvas.drawRightString(page.right, page.y, line.amount[:34])
    write_line(canvas, form.edge + 17 * mm, page.y - form.text * 0.95, second, "Text", form.small, amount)
    page.y -= form.row


def _second(line: SheetLine) -> str:
    """Return what stands below the name: its code, which parcel gets how many, and who goes without."""
    parts: list[str] = [line.detail]
    if len(line.spots) > 1 or (line.spots and line.spots[0][1] != line.amount):
        parts.append(_shares(line.spots))
    if line.short:
        parts.append(f"too little for {', '.join(str(spot) for spot in line.short)}")
    return "  \u00b7  ".join(part for part in parts if part)


def _shares(spots: Sequence[tuple[int, str]]) -> str:
    return "parcel " + ", ".join(f"{spot}: {amount}" for spot, amount in spots)
