"""Paper to print on: the app's own fonts, and lines that fit."""

import io
from functools import lru_cache
from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

__all__ = ["paper", "write_line"]

_FONTS = Path(__file__).resolve().parent / "fonts"


@lru_cache(maxsize=1)
def _fonts() -> tuple[str, str]:
    pdfmetrics.registerFont(TTFont("Text", str(_FONTS / "Figtree-Regular.ttf")))
    pdfmetrics.registerFont(TTFont("Strong", str(_FONTS / "Figtree-Bold.ttf")))
    return "Text", "Strong"


def paper(size: tuple[float, float], title: str) -> tuple[Canvas, io.BytesIO]:
    """Return a page to draw on and where its bytes go: the same drawing gives the same bytes."""
    _fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=size, invariant=1)
    canvas.setTitle(title)
    return canvas, out


def _fit(text: str, font: str, size: float, width: float, least: float = 6) -> tuple[str, float]:
    """Return the text and the size at which it fits; shrinks first, then cuts with a mark."""
    while size > least and pdfmetrics.stringWidth(text, font, size) > width:
        size -= 0.5
    while len(text) > 1 and pdfmetrics.stringWidth(text, font, size) > width:
        text = text[:-2].rstrip() + "\u2026"
    return text, size


def write_line(canvas: Canvas, x: float, y: float, text: str, font: str, size: float, width: float) -> None:
    """Write one line, smaller or cut when it is too wide."""
    shown, fitted = _fit(text, font, size, width)
    canvas.setFont(font, fitted)
    canvas.drawString(x, y, shown)
