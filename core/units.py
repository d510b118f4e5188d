"""Units and money: every length is a whole number of micrometres, every weight of milligrams.

Rules, section 1. One inch is exactly 25 400 um and one ounce exactly 28 349.523125 mg (international
yard and pound agreement, 1959). Text is rounded once, at entry, half away from zero; after that all
sums are exact. Money is ``Decimal``. Pure: no clock, no I/O, no locale.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction
from typing import TypeAlias

from core.errors import BadMeasure

__all__ = [
    "MG_PER_G",
    "MG_PER_KG",
    "UM_PER_MM",
    "Micrometres",
    "Milligrams",
    "Size",
    "ceil_div",
    "format_length",
    "format_sides",
    "format_size",
    "format_weight",
    "parse_length",
    "parse_number",
    "parse_weight",
    "round_half_away",
    "round_money",
    "whole_money",
]

Micrometres: TypeAlias = int
Milligrams: TypeAlias = int

UM_PER_MM = 1_000
MG_PER_G = 1_000
MG_PER_KG = 1_000_000

_LENGTH_UM: dict[str, Fraction] = {
    "um": Fraction(1),
    "mm": Fraction(1_000),
    "cm": Fraction(10_000),
    "m": Fraction(1_000_000),
    "in": Fraction(25_400),
    '"': Fraction(25_400),
    "ft": Fraction(304_800),
}
_OUNCE_MG = Fraction(28_349_523_125, 1_000_000)
_WEIGHT_MG: dict[str, Fraction] = {
    "mg": Fraction(1),
    "g": Fraction(1_000),
    "kg": Fraction(1_000_000),
    "oz": _OUNCE_MG,
    "lb": _OUNCE_MG * 16,
}
_NUMBER = r"(?:\d+\s+\d+/\d+|\d+/\d+|\d[\d.,]*|[.,]\d+)"
_PART = re.compile(rf"\s*({_NUMBER})\s*([a-zA-Z\"]*)\s*")
#: Thousands with a comma or a point between them, as both are written.
_THOUSANDS = (re.compile(r"\d{1,3}(?:,\d{3})+\.\d+|\d{1,3}(?:,\d{3}){2,}"), re.compile(r"\d{1,3}(?:\.\d{3})+,\d+"))
#: Either a thousand and two hundred or one and a fifth: nobody can say.
_AMBIGUOUS = re.compile(r"[1-9]\d{0,2},\d{3}")
_PLAIN = re.compile(r"\d+(?:[.,]\d+)?|[.,]\d+")
_MAX_TEXT = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Size:
    """Length, width, height in um. No order among them is implied."""

    length_um: Micrometres
    width_um: Micrometres
    height_um: Micrometres

    @property
    def sorted_um(self) -> tuple[int, int, int]:
        """The three sides, longest first, in um."""
        longest, second, shortest = sorted((self.length_um, self.width_um, self.height_um), reverse=True)
        return longest, second, shortest

    @property
    def sides_um(self) -> tuple[int, int, int]:
        """Length, width and height, in um."""
        return self.length_um, self.width_um, self.height_um

    @property
    def longest_um(self) -> Micrometres:
        """The longest side, in um."""
        return self.sorted_um[0]

    @property
    def girth_um(self) -> Micrometres:
        """The way round across the longest side: twice the sum of the other two, in um."""
        return 2 * (self.sorted_um[1] + self.sorted_um[2])

    @property
    def volume_um3(self) -> int:
        """Volume in cubic micrometres, exact."""
        return self.length_um * self.width_um * self.height_um

    def grown(self, length_um: int, width_um: int, height_um: int) -> "Size":
        """Return this size with each axis enlarged by so many um."""
        return Size(
            length_um=self.length_um + length_um,
            width_um=self.width_um + width_um,
            height_um=self.height_um + height_um,
        )


def round_half_away(value: Fraction | Decimal | int) -> int:
    """Return the nearest whole number, halves away from zero.

    >>> round_half_away(Fraction(3175, 2))
    1588
    >>> round_half_away(Fraction(-3175, 2))
    -1588
    """
    # Whole numbers alone: a plan rounds a few hundred times, and fractions are slow.
    numerator, denominator = value.as_integer_ratio()
    whole = (abs(numerator) * 2 + denominator) // (2 * denominator)
    return whole if numerator >= 0 else -whole


def ceil_div(value: int, divisor: int) -> int:
    """Return value / divisor rounded up, exactly. ``divisor`` must be positive."""
    return -(-value // divisor)


def round_money(amount: Decimal, digits: int = 2) -> Decimal:
    """Return an amount paid or charged, half up to the currency's minor unit (``digits`` places)."""
    return amount.quantize(Decimal(1).scaleb(-digits), rounding=ROUND_HALF_UP)


def whole_money(amount: Decimal, digits: int = 2) -> Decimal:
    """Return an amount as typed with at least the currency's digits: 22 is 22.00, a piece at 0.0465 stays as it is."""
    return amount if -int(amount.as_tuple().exponent) >= digits else amount.quantize(Decimal(1).scaleb(-digits))


def parse_length(text: str, shown_unit: str = "mm") -> Micrometres:
    """Return the length written in ``text``, in um; a bare number takes ``shown_unit``.

    >>> parse_length("10 1/4 in"), parse_length("26cm"), parse_length("98")
    (260350, 260000, 98000)

    Raises BadMeasure naming the text and what is accepted.
    """
    return _parse(text, _LENGTH_UM, shown_unit, "length")


def parse_weight(text: str, shown_unit: str = "g") -> Milligrams:
    """Return the weight written in ``text``, in mg; a bare number takes ``shown_unit``.

    >>> parse_weight("1 lb 7.8 oz"), parse_weight("420 g"), parse_weight("0.42kg")
    (674719, 420000, 420000)

    Raises BadMeasure naming the text and what is accepted.
    """
    return _parse(text, _WEIGHT_MG, shown_unit, "weight")


def _parse(text: str, units: dict[str, Fraction], shown_unit: str, what: str) -> int:
    given = text.strip()
    if not given or len(given) > _MAX_TEXT:
        raise BadMeasure(given[:_MAX_TEXT], what=what)
    total, at, smallest = Fraction(0), 0, None
    while at < len(given):
        match = _PART.match(given, at)
        if match is None:
            raise BadMeasure(given, what=what)
        number, unit = match.groups()
        bare = not unit
        # "1 lb 7.8": a bare number is only clear when it stands alone.
        if bare and (at > 0 or match.end() < len(given)):
            raise BadMeasure(given, what=what)
        factor = units.get(shown_unit if bare else unit.lower())
        # Compound entries go from the larger unit to the smaller: "7 oz 1 lb" is a slip.
        if factor is None or (smallest is not None and factor >= smallest):
            raise BadMeasure(given, what=what)
        total += _number(number) * factor
        smallest, at = factor, match.end()
    return round_half_away(total)


def _number(text: str) -> Fraction:
    whole, _, rest = text.rpartition(" ") if "/" in text else ("", "", text)
    if "/" not in text:
        return parse_number(text)
    try:
        return (Fraction(whole.strip()) if whole.strip() else Fraction(0)) + Fraction(rest)
    except ZeroDivisionError:
        raise BadMeasure(text, what="number") from None


def parse_number(text: str) -> Fraction:
    """Return the number written in ``text``, with a decimal point or comma.

    >>> parse_number("1.5"), parse_number("1,5"), parse_number("1,234.5"), parse_number("0,420")
    (Fraction(3, 2), Fraction(3, 2), Fraction(2469, 2), Fraction(21, 50))

    Raises BadMeasure; for ``1,200``, which may be either, it asks.
    """
    given = text.strip()
    if _AMBIGUOUS.fullmatch(given):
        as_point, as_thousands = given.replace(",", ".").rstrip("0"), given.replace(",", "")
        raise BadMeasure(given, what="number", why="ambiguous_number", one=as_point, other=as_thousands)
    english, continental = _THOUSANDS
    if english.fullmatch(given):
        return Fraction(given.replace(",", ""))
    if continental.fullmatch(given):
        return Fraction(given.replace(".", "").replace(",", "."))
    if not _PLAIN.fullmatch(given):
        raise BadMeasure(given[:_MAX_TEXT], what="number")
    return Fraction(given.replace(",", "."))


def format_length(length_um: Micrometres, system: str = "metric") -> str:
    """Return a length for people: whole mm, or 0.1 in. Never with false precision."""
    if system == "imperial":
        return f"{_one_place(Fraction(length_um, 25_400))} in"
    return f"{_whole(length_um, UM_PER_MM)} mm"


def format_size(size: Size, system: str = "metric") -> str:
    """Return ``320 x 230 x 150 mm``, in the order length, width, height."""
    return format_sides((size.length_um, size.width_um, size.height_um), system)


def format_sides(sides_um: Sequence[Micrometres], system: str = "metric") -> str:
    """Return ``320 x 230 mm``: one side or several with their unit once."""
    parts = [format_length(side, system).split(" ") for side in sides_um]
    return " x ".join(number for number, _ in parts) + f" {parts[0][1]}"


def format_weight(weight_mg: Milligrams, system: str = "metric") -> str:
    """Return a weight for people: whole g below 1 kg, kg with three places above, or lb and 0.1 oz."""
    if system == "imperial":
        pounds, ounces = divmod(round_half_away(Fraction(weight_mg * 10) / _OUNCE_MG), 160)
        shown = f"{ounces // 10}.{ounces % 10} oz"
        return f"{pounds} lb {shown}" if pounds else shown
    grams = _whole(weight_mg, MG_PER_G)
    if abs(grams) < 1_000:
        return f"{grams} g"
    sign, kilos = ("-", -grams) if grams < 0 else ("", grams)
    return f"{sign}{kilos // 1000}.{kilos % 1000:03d} kg"


def _whole(value: int, unit: int) -> int:
    """As ``round_half_away`` of value / unit, without a fraction: thousands of texts are written for one plan."""
    whole = (2 * abs(value) + unit) // (2 * unit)
    return whole if value >= 0 else -whole


def _one_place(value: Fraction) -> str:
    tenths = round_half_away(value * 10)
    sign = "-" if tenths < 0 else ""
    return f"{sign}{abs(tenths) // 10}.{abs(tenths) % 10}"
