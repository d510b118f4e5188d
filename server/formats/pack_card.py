"""The pack card: a plan on paper for the bench, layer by layer, with its drawings and amounts (A4).

Each layer of goods is drawn from above to scale, with the units numbered; beside them the parcel cut from the side.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.packing.model import Placement
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer
from core.units import Size, format_length, format_size, format_weight
from server.formats.paper import paper, write_line
from server.words import words_of

__all__ = ["PackCard", "draw_section", "pack_card_pdf"]

_LEFT, _RIGHT, _FOOT = 16 * mm, A4[0] - 16 * mm, 18 * mm
_DRAWN = 52 * mm  #: the longest side of a drawing from above


@dataclass(frozen=True, slots=True, kw_only=True)
class PackCard:
    """What stands on the card. Goods are quantity, name, sku; amounts are name, place, amount, how it is used."""

    order: str
    buyer: str
    ship_on: str
    goods: tuple[tuple[int, str, str], ...]
    candidate: Candidate
    layers: tuple[PackLayer, ...]
    amounts: tuple[tuple[str, str, str, str], ...]
    cautions: tuple[str, ...]
    unit_system: str


def pack_card_pdf(cards: Sequence[PackCard]) -> bytes:
    """Return the cards of one order as PDF bytes: one a carton, as many pages as its layers need."""
    canvas, out = paper(A4, f"Pack card {cards[0].order}")
    for card in cards:
        _card(canvas, card)
    canvas.save()
    return out.getvalue()


def _card(canvas: Canvas, card: PackCard) -> None:
    y = _head(canvas, card)
    y = _amounts(canvas, card, y)
    names = {sku: name for _, name, sku in card.goods}
    for number, layer in enumerate(card.layers, start=1):
        high = _DRAWN + 12 * mm if layer.placements else 8 * mm
        if y - high < _FOOT:
            canvas.showPage()
            y = A4[1] - 20 * mm
        y = _layer(canvas, card, number, layer, names, y)
    canvas.showPage()


def _head(canvas: Canvas, card: PackCard) -> float:
    one, units = card.candidate, card.unit_system
    words = words_of(units)
    y = A4[1] - 20 * mm
    write_line(canvas, _LEFT, y, f"Pack card, order {card.order}", "Strong", 18, 120 * mm)
    write_line(canvas, _LEFT, y - 7 * mm, f"{card.buyer}, leaves {card.ship_on}", "Text", 10, 120 * mm)
    goods = ", ".join(f"{quantity} {name}" for quantity, name, _ in card.goods)
    write_line(canvas, _LEFT, y - 13 * mm, goods, "Text", 11, 120 * mm)
    facts = (
        words.of(one.name),
        f"inside {format_size(one.inner, units)}",
        f"outside {format_size(one.outer_bulged, units)}",
        f"expected {format_weight(one.weight.gross_mg, units)}",
        f"{one.quote.service_name}, {one.minutes.normalize():f} minutes",
    )
    for row, text in enumerate(facts):
        write_line(canvas, _LEFT, y - (20 + 5 * row) * mm, text, "Strong" if row == 0 else "Text", 11, 100 * mm)
    draw_section(canvas, one, _RIGHT - 60 * mm, y - 44 * mm, 60 * mm, 40 * mm)
    y -= 54 * mm
    for text in card.cautions:
        write_line(canvas, _LEFT, y, f"Note: {text}", "Strong", 10, _RIGHT - _LEFT)
        y -= 5 * mm
    return float(y - 3 * mm)


def draw_section(canvas: Canvas, one: Candidate, x: float, y: float, wide: float, high: float) -> None:
    """Draw the parcel cut from the side: cushion below, goods, what is on top."""
    scale = min(wide / one.inner.length_um, high / one.inner.height_um)
    canvas.setLineWidth(1.2)
    canvas.rect(x, y, one.inner.length_um * scale, one.inner.height_um * scale)
    canvas.setFillGray(0.9)
    canvas.rect(x, y, one.inner.length_um * scale, one.floor_um * scale, stroke=0, fill=1)
    canvas.setLineWidth(0.6)
    for placed in sorted(one.placements, key=lambda p: -p.at_um[1]):
        canvas.setFillGray(1)
        canvas.rect(
            x + placed.at_um[0] * scale,
            y + placed.at_um[2] * scale,
            placed.size_um[0] * scale,
            placed.size_um[2] * scale,
            fill=1,
        )
    canvas.setFillGray(0)
    canvas.setFont("Text", 7)
    canvas.drawString(x, y - 3.5 * mm, "cut from the side, front units before those behind")


def _amounts(canvas: Canvas, card: PackCard, y: float) -> float:
    canvas.setFont("Strong", 11)
    canvas.drawString(_LEFT, y, "Take")
    y -= 5.5 * mm
    for name, place, amount, detail in card.amounts:
        if y < _FOOT:
            canvas.showPage()
            y = A4[1] - 20 * mm
        canvas.rect(_LEFT, y - 0.5 * mm, 3 * mm, 3 * mm)
        write_line(canvas, _LEFT + 6 * mm, y, place, "Strong", 10, 12 * mm)
        canvas.setFont("Strong", 10)
        write_line(canvas, _LEFT + 20 * mm, y, amount, "Strong", 10, 34 * mm)
        write_line(canvas, _LEFT + 56 * mm, y, name, "Text", 10, 50 * mm)
        write_line(canvas, _LEFT + 108 * mm, y, detail, "Text", 9, _RIGHT - _LEFT - 108 * mm)
        y -= 5 * mm
    return float(y - 4 * mm)


def _layer(canvas: Canvas, card: PackCard, number: int, layer: PackLayer, names: dict[str, str], y: float) -> float:
    words = words_of(card.unit_system)
    canvas.setFillGray(0)
    canvas.setFont("Strong", 12)
    canvas.drawString(_LEFT, y, str(number))
    write_line(canvas, _LEFT + 8 * mm, y, words.of(layer.title), "Strong", 11, 90 * mm)
    write_line(canvas, _LEFT + 100 * mm, y, words.of(layer.detail), "Text", 9, _RIGHT - _LEFT - 100 * mm)
    if not layer.placements:
        return float(y - 7 * mm)
    nested = card.candidate.nested
    placements = nested.placements if nested else card.candidate.placements
    inner = nested.inner if nested else card.candidate.inner
    low = _from_above(canvas, inner, [placements[k] for k in layer.placements], names, y - 4 * mm, card.unit_system)
    return float(low - 8 * mm)


def _from_above(
    canvas: Canvas, inner: Size, placed: list[Placement], names: dict[str, str], top: float, units: str
) -> float:
    """Draw one layer from above, each unit numbered, and the key of numbers to goods; return where it ends."""
    scale = min(_DRAWN * 1.6 / inner.length_um, _DRAWN / inner.width_um)
    x, wide, deep = _LEFT + 8 * mm, inner.length_um * scale, inner.width_um * scale
    y = top - deep
    canvas.setLineWidth(1.2)
    canvas.rect(x, y, wide, deep)
    canvas.setLineWidth(0.6)
    numbers: dict[str, list[int]] = {}
    for number, one in enumerate(placed, start=1):
        numbers.setdefault(one.unit, []).append(number)
        # The back of the box is at the top of the drawing.
        left, front = x + one.at_um[0] * scale, y + deep - (one.at_um[1] + one.size_um[1]) * scale
        canvas.rect(left, front, one.size_um[0] * scale, one.size_um[1] * scale)
        canvas.setFont("Strong", 9)
        canvas.drawCentredString(left + one.size_um[0] * scale / 2, front + one.size_um[1] * scale / 2 - 3, str(number))
    for row, (kind, own) in enumerate(numbers.items()):
        words = f"{', '.join(map(str, own))}: {names.get(kind, kind)}"
        write_line(canvas, _LEFT + 100 * mm, top - (5 + 5 * row) * mm, words, "Text", 10, _RIGHT - _LEFT - 100 * mm)
    size = f"{format_length(inner.length_um, units)} x {format_length(inner.width_um, units)} inside, seen from above"
    canvas.setFont("Text", 7)
    canvas.drawString(x, y - 3.5 * mm, size)
    return float(y - 3.5 * mm)
