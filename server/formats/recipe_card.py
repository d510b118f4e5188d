"""The recipe card: how one product is packed, on paper for the wall, and the recipe itself inside the file (A4, lying).

The open recipe stands in the PDF's subject, so that a card read back gives the same recipe.
"""

import base64
import re
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from core.messages import Text, say
from core.parcels.candidate import Candidate
from core.recipes.model import size_of
from core.units import format_size, format_weight
from server.api.refused import Refused
from server.formats.base import read_file
from server.formats.pack_card import draw_section
from server.formats.paper import paper, write_line
from server.formats.recipe import BandDoc, RecipeFile
from server.words import words_of

__all__ = ["CardBand", "RecipeCard", "read_recipe_card", "recipe_card_pdf"]

_WIDE, _HIGH = landscape(A4)
_LEFT, _RIGHT, _FOOT = 14 * mm, _WIDE - 14 * mm, 14 * mm
_MARK = "calm-cupboard-recipe:"
#: The largest card that was made has 90 kB.
_MOST_BYTES = 4_000_000
_INSIDE = re.compile(rb"calm-cupboard-recipe:([A-Za-z0-9_=-]+)")


@dataclass(frozen=True, slots=True, kw_only=True)
class CardBand:
    """One column: the order sizes, and what they take. ``amounts``: supply and amount; ``candidate`` None: why not."""

    first: int
    last: int
    units: int
    candidate: Candidate | None
    amounts: tuple[tuple[str, str], ...]
    problem: Text


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeCard:
    """What stands on the card."""

    recipe: RecipeFile
    version: int
    made: str  #: when, by whom and why
    goods: str
    bands: tuple[CardBand, ...]
    unit_system: str


def recipe_card_pdf(card: RecipeCard) -> bytes:
    """Return the card as PDF bytes; bands that do not fit one sheet go on the next."""
    canvas, out = paper((_WIDE, _HIGH), f"Recipe card {card.recipe.name}")
    text = card.recipe.model_dump_json().encode()
    canvas.setSubject(_MARK + base64.urlsafe_b64encode(text).decode())
    for at in range(0, len(card.bands), 5):
        _page(canvas, card, card.bands[at : at + 5])
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def read_recipe_card(content: bytes) -> RecipeFile:
    """Return the recipe inside a card.

    Raises Refused when the file is no recipe card, or what is in it has errors.
    """
    if len(content) > _MOST_BYTES:
        raise Refused(
            f"This PDF has {len(content) / 1e6:.1f} MB; a recipe card has less than {_MOST_BYTES / 1e6:.0f} MB.",
            code="too_large",
            status=422,
            field="content",
        )
    found = _INSIDE.search(content)
    if not content.startswith(b"%PDF") or found is None:
        raise Refused("This PDF is no recipe card of this program.", code="not_a_card", status=422, field="content")
    try:
        text = base64.urlsafe_b64decode(found[1])
    except ValueError:
        raise Refused(
            "The recipe inside this card is damaged.", code="not_a_card", status=422, field="content"
        ) from None
    return read_file(RecipeFile, text, what="recipe card")


def _page(canvas: Canvas, card: RecipeCard, bands: Sequence[CardBand]) -> None:
    y = _HIGH - 18 * mm
    write_line(canvas, _LEFT, y, card.recipe.name, "Strong", 20, 180 * mm)
    write_line(
        canvas,
        _LEFT,
        y - 6.5 * mm,
        f"Version {card.version}, {card.made}. Packs {card.goods}.",
        "Text",
        9.5,
        _RIGHT - _LEFT,
    )
    y -= 14 * mm
    words = words_of(card.unit_system)
    drawn = next((band for band in bands if band.candidate is not None), None)
    if drawn is not None and drawn.candidate is not None:
        draw_section(canvas, drawn.candidate, _LEFT, y - 52 * mm, 62 * mm, 52 * mm)
        write_line(
            canvas,
            _LEFT,
            y - 60 * mm,
            words.of(say("card_drawing", size=size_of(drawn.first, drawn.last), name=drawn.candidate.name)),
            "Text",
            8,
            66 * mm,
        )
    _words(canvas, card.recipe, _LEFT, y - 68 * mm)
    _table(canvas, card, bands, _LEFT + 74 * mm, y)


def _table(canvas: Canvas, card: RecipeCard, bands: Sequence[CardBand], x: float, y: float) -> None:
    label = 44 * mm
    words = words_of(card.unit_system)
    wide = (_RIGHT - x - label) / max(1, len(bands))
    columns = [x + label + at * wide for at in range(len(bands))]
    rows: list[tuple[str, list[str]]] = [("Order of", [words.of(size_of(band.first, band.last)) for band in bands])]
    if any(band.problem for band in bands):
        rows.append(("Not yet", [words.of(band.problem) for band in bands]))
    good = [band.candidate for band in bands]
    system = card.unit_system
    rows.append(("Container", [words.of(one.name) if one else "" for one in good]))
    for name in dict.fromkeys(name for band in bands for name, _ in band.amounts):
        rows.append((name, [dict(band.amounts).get(name, "none") if band.candidate else "" for band in bands]))
    rows.append(("Outside", [format_size(one.outer_bulged, system) if one else "" for one in good]))
    rows.append(("Should weigh", [format_weight(one.weight.gross_mg, system) if one else "" for one in good]))
    rows.append(("Minutes", [f"{one.minutes.normalize():f}" if one else "" for one in good]))
    rows.append(("Marks", [", ".join(band.marks) or "none" for band in _docs(card, bands)]))
    rows.append(("More steps", ["; ".join(band.steps) for band in _docs(card, bands)]))
    for number, (name, cells) in enumerate(rows):
        if not any(cells):
            continue
        strong = "Strong" if number == 0 else "Text"
        write_line(canvas, x, y, name, strong, 9.5, label - 3 * mm)
        for at, cell in enumerate(cells):
            write_line(canvas, columns[at], y, cell, strong, 9.5, wide - 2 * mm)
        canvas.line(x, y - 1.6 * mm, _RIGHT, y - 1.6 * mm)
        y -= 6.2 * mm


def _docs(card: RecipeCard, bands: Sequence[CardBand]) -> list[BandDoc]:
    by_size = {(b.first, b.last): b for b in card.recipe.bands}
    return [by_size[band.first, band.last] for band in bands]


def _words(canvas: Canvas, recipe: RecipeFile, x: float, y: float) -> None:
    ahead = [f"{one.hours_before.normalize():f} h before: {one.what}" for one in recipe.ahead]
    parts = (
        ("Before packing", ahead),
        ("Check the goods", recipe.goods_checks),
        ("Wrapping", [recipe.wrap_note] if recipe.wrap_note else []),
        ("Test before closing", recipe.proving_checks),
        ("Test after closing", recipe.closed_checks),
        ("Test of a mailer", recipe.mailer_checks),
        ("Cautions", recipe.cautions),
        ("For the buyer", [recipe.buyer_note] if recipe.buyer_note else []),
    )
    for name, lines in parts:
        if not lines:
            continue
        write_line(canvas, x, y, name, "Strong", 9, 66 * mm)
        for line in lines:
            for part in _broken(line, 46):
                y -= 4.2 * mm
                write_line(canvas, x, y, part, "Text", 9, 68 * mm)
        y -= 6 * mm
        if y < _FOOT:
            return


def _broken(text: str, most: int) -> list[str]:
    """Return the text in lines of at most so many letters."""
    lines = [""]
    for word in text.split():
        if len(lines[-1]) + len(word) + 1 > most and lines[-1]:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return lines
