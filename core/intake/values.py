"""Reading values as people and programs write them: days, amounts, counts, yes and no (intake; step 4 of the work).

Days and amounts can be read in more than one way ("03/04/2026", "1,234"). A reading is one way for a whole column:
``day_orders`` and ``decimal_marks`` return every reading under which all of the column makes sense. One is left: it is
certain. Several are left and say different things: the person is asked. Pure; no clock: the latest day is given.

Worked cases: "27.11.2026" can only be day first. "11/27/2026" can only be month first. "03/04/2026" can be both, unless
another line says 27/04. "1.234,50" can only have a decimal comma; "1,234" can be a thousand or one and a bit.
"""

import re
from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from functools import lru_cache
from typing import Literal, get_args

from core.intake.fields import plain_words

__all__ = [
    "DAY_ORDERS",
    "DECIMAL_MARKS",
    "ENGLISH_MONTHS",
    "DayOrder",
    "DecimalMark",
    "Risk",
    "Standing",
    "day_orders",
    "decimal_marks",
    "differs_by_day_order",
    "differs_by_mark",
    "parted",
    "read_amount",
    "read_count",
    "read_day",
    "read_risk",
    "read_standing",
    "read_yes",
]  # fmt: skip

#: Which part of a day of three numbers comes first; a year first is always a year, a month, a day.
DayOrder = Literal["day_first", "month_first"]
DecimalMark = Literal["point", "comma"]
#: Where an order stands at its channel.
Standing = Literal["open", "cancelled", "sent"]
DAY_ORDERS: tuple[DayOrder, ...] = get_args(DayOrder)
DECIMAL_MARKS: tuple[DecimalMark, ...] = get_args(DecimalMark)

ENGLISH_MONTHS: dict[str, int] = {
    name: number
    for number, names in enumerate(
        ("january jan", "february feb", "march mar", "april apr", "may", "june jun", "july jul", "august aug",
         "september sep sept", "october oct", "november nov", "december dec"),
        start=1,
    )
    for name in names.split()
}  # fmt: skip

#: No day, amount or count is written longer; what is longer is not looked into.
_LONGEST = 60
_TIME = re.compile(
    r"[T ,]+(?:at )?\d{1,2}:\d{2}(?::\d{2}(?:[.,]\d+)?)?(?: ?[apAP]\.?[mM]\.?)?"
    r"(?: ?(?:Z|[A-Z]{2,5}|(?:UTC|GMT)?[+-]\d{2}:?\d{2}))*$"
)
_WEEKDAY = re.compile(r"^[^\W\d]{2,10}\.?,\s*(?=\d|[^\W\d]+\.?\s+\d)")
_YEAR_FIRST = re.compile(r"(\d{4})([-/.])(\d{1,2})\2(\d{1,2})")
_COMPACT = re.compile(r"(20\d{2})(\d{2})(\d{2})")
_NUMBERS = re.compile(r"(\d{1,2})([-/.])(\d{1,2})\2(\d{4}|\d{2})")
_DAY_NAME = re.compile(r"(\d{1,2})(?:st|nd|rd|th)?[.\s-]+([^\W\d]+)\.?,?[\s-]+(\d{4}|\d{2})")
_NAME_DAY = re.compile(r"([^\W\d]+)\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})")


def read_day(text: str, order: DayOrder, months: Mapping[str, int] = ENGLISH_MONTHS) -> date | None:
    """Return the day a text says, times left out; None when it says none under that order.

    >>> read_day("27.11.2026", "day_first") == read_day("11/27/2026 14:05", "month_first")
    True
    >>> read_day("Nov 27, 2026", "day_first")
    datetime.date(2026, 11, 27)
    >>> read_day("27.11.2026", "month_first") is None
    True
    """
    if len(text) > _LONGEST:
        return None
    bare = _WEEKDAY.sub("", _TIME.sub("", " ".join(text.split())))
    if found := _YEAR_FIRST.fullmatch(bare):
        return _day(found[1], found[3], found[4])
    if found := _COMPACT.fullmatch(bare):
        return _day(found[1], found[2], found[3])
    if found := _NUMBERS.fullmatch(bare):
        first, mark, second, year = found.groups()
        if order == "month_first":
            return None if mark == "." else _day(year, first, second)  # with points the day always comes first
        return _day(year, second, first)
    if found := _DAY_NAME.fullmatch(bare):
        return _day(found[3], months.get(plain_words(found[2]), 0), found[1])
    if found := _NAME_DAY.fullmatch(bare):
        return _day(found[3], months.get(plain_words(found[1]), 0), found[2])
    return None


def _day(year: str, month: str | int, day: str) -> date | None:
    try:
        return date(int(year) + (2000 if len(year) == 2 else 0), int(month), int(day))
    except ValueError:
        return None


def _readings(texts: Iterable[str], latest: date, months: Mapping[str, int]) -> dict[DayOrder, list[date | None]]:
    texts = list(texts)
    read = {order: [read_day(text, order, months) for text in texts] for order in DAY_ORDERS}
    # No order was placed tomorrow: a reading that says so is wrong.
    return {order: [day if day and day <= latest else None for day in days] for order, days in read.items()}


def day_orders(texts: Iterable[str], latest: date, months: Mapping[str, int] = ENGLISH_MONTHS) -> tuple[DayOrder, ...]:
    """Return the orders under which most of the texts are days not after ``latest``; () when none reads any.

    >>> day_orders(["03/04/2026", "27/04/2026"], date(2026, 11, 29)), day_orders(["03/04/2026"], date(2026, 11, 29))
    (('day_first',), ('day_first', 'month_first'))
    """
    good = {order: sum(day is not None for day in days) for order, days in _readings(texts, latest, months).items()}
    most = max(good.values())
    return tuple(order for order in DAY_ORDERS if most and good[order] == most)


def differs_by_day_order(texts: Iterable[str], latest: date, months: Mapping[str, int] = ENGLISH_MONTHS) -> bool:
    """Return whether the orders of day and month say different days."""
    read = _readings(texts, latest, months)
    return read["day_first"] != read["month_first"]


_AROUND = r"(?:[^\W\d]{1,4}\.?|[\$\u00a2-\u00a5\u0e3f\u20a0-\u20cf])?"
_GROUPED = {
    "point": r"\d{1,3}(?:[,' ]\d{3})+|\d+",
    "comma": r"\d{1,3}(?:[.' ]\d{3})+|\d+",
}
_AMOUNT = {
    mark: re.compile(rf"{_AROUND} ?({_GROUPED[mark]})(?:{point}(\d{{1,6}}|-|\u2013))? ?{_AROUND}")
    for mark, point in (("point", r"\."), ("comma", ","))
}
_SPACES = re.compile(r"[\s\u00a0\u2009\u202f]+")


@lru_cache(maxsize=8_192)  # a file says the same few thousand amounts again and again
def read_amount(text: str, mark: DecimalMark) -> Decimal | None:
    """Return an amount from 0 on, currency signs left out; None when the text is none under that decimal mark.

    >>> read_amount("€ 1.234,50", "comma"), read_amount("1,234.50 USD", "point"), read_amount("1.234,50", "point")
    (Decimal('1234.50'), Decimal('1234.50'), None)
    """
    if len(text) > _LONGEST:
        return None
    found = _AMOUNT[mark].fullmatch(_SPACES.sub(" ", text.strip()).replace("\u2019", "'"))
    if found is None:
        return None
    whole = re.sub(r"\D", "", found[1])
    part = found[2] if found[2] and found[2].isdigit() else ""
    return Decimal(f"{whole}.{part}" if part else whole) if len(whole) <= 12 else None


def decimal_marks(texts: Iterable[str]) -> tuple[DecimalMark, ...]:
    """Return the decimal marks under which most of the texts are amounts; () when none reads any.

    >>> decimal_marks(["1.234,50"]), decimal_marks(["1,234"]), decimal_marks(["6.80", "1,234"])
    (('comma',), ('point', 'comma'), ('point',))
    """
    texts = list(texts)
    good = {mark: sum(read_amount(text, mark) is not None for text in texts) for mark in DECIMAL_MARKS}
    most = max(good.values())
    return tuple(mark for mark in DECIMAL_MARKS if most and good[mark] == most)


def differs_by_mark(texts: Iterable[str]) -> bool:
    """Return whether the two decimal marks say different amounts."""
    texts = list(texts)
    return [read_amount(text, "point") for text in texts] != [read_amount(text, "comma") for text in texts]


def parted(text: str) -> list[str]:
    """Return what stands in one cell for several items: parted by line ends, semicolons or bars, the first there is.

    >>> parted("2; 3"), parted("2"), parted("")
    (['2', '3'], ['2'], [])
    """
    bare = text.strip()
    mark = next((one for one in ("\n", ";", "|") if one in bare), None)
    parts = bare.split(mark) if mark else [bare]
    return [one for part in parts if (one := part.strip())]


_COUNT = re.compile(
    r"(?:x|\u00d7)? ?(\d{1,6})(?:[.,]0+)? ?(?:x|\u00d7|pcs?|pieces?|units?|st(?:k|uck)?|ea)?\.?", re.IGNORECASE
)


def read_count(text: str) -> int | None:
    """Return a number of units.

    >>> read_count("2x"), read_count("x 3"), read_count("4,00"), read_count("4 pcs"), read_count("2.5")
    (2, 3, 4, 4, None)
    """
    found = None if len(text) > _LONGEST else _COUNT.fullmatch(text.strip().replace("\u00fc", "u"))
    return int(found[1]) if found else None


def _words(text: str) -> frozenset[str]:
    return frozenset(text.split())


_YES = _words(
    """yes y true 1 x paid settled completed complete captured received gift ja wahr bezahlt oui vrai paye si verdadero
    pagado betaald"""
)
_NO = _words(
    "no n false 0 unpaid pending open due awaiting authorized authorised failed nein falsch offen non faux nee"
) | {"not paid", "awaiting payment", "on hold", "part paid", "partially paid", "nicht bezahlt", "non paye", "no pagado"}
_CANCELLED = _words("cancelled canceled refunded void voided returned storniert annule annulee cancelado geannuleerd")
_SENT = _words(
    """sent done shipped dispatched despatched delivered fulfilled versendet verschickt geliefert expedie envoye livre
    enviado spedito verzonden"""
)
_OPEN = _words(
    """open new paid processing unfulfilled unshipped pending received confirmed ordered offen neu bezahlt nouveau nuevo
    nuovo nieuw"""
) | {
    "on hold",
    "to ship",
    "to send",
    "to pack",
    "not sent",
    "not shipped",
    "ready to ship",
    "in progress",
    "in bearbeitung",
}


def read_yes(text: str) -> bool | None:
    """Return yes or no; a day means yes, since it is when it was paid. None: not understood.

    >>> read_yes("Paid"), read_yes("Awaiting payment"), read_yes("2026-11-02"), read_yes("perhaps")
    (True, False, True, None)
    """
    words = plain_words(text)
    if words in _YES:
        return True
    if words in _NO:
        return False
    return True if any(read_day(text, order) for order in DAY_ORDERS) else None


#: How risky a channel holds a payment to be.
Risk = Literal["low", "medium", "high"]
_RISKS: dict[Risk, frozenset[str]] = {
    "low": frozenset({"low", "none", "normal", "safe", "ok", "niedrig", "gering", "faible", "bajo", "basso", "laag"}),
    "medium": frozenset({"medium", "moderate", "elevated", "review", "mittel", "moyen", "medio", "gemiddeld"}),
    "high": frozenset({"high", "very high", "severe", "fraud", "hoch", "eleve", "alto", "hoog"}),
}


def read_risk(text: str) -> Risk | None:
    """Return how risky a channel holds a payment to be; None: not understood.

    >>> read_risk("LOW"), read_risk("Elevated"), read_risk("High risk"), read_risk("purple")
    ('low', 'medium', 'high', None)
    """
    words = plain_words(text).removesuffix(" risk")
    return next((level for level, known in _RISKS.items() if words in known), None)


def read_standing(text: str) -> Standing | None:
    """Return where an order stands at its channel; None: not understood.

    >>> read_standing("Cancelled"), read_standing("Unfulfilled"), read_standing("SHIPPED"), read_standing("purple")
    ('cancelled', 'open', 'sent', None)
    """
    words = plain_words(text)
    if words in _CANCELLED:
        return "cancelled"
    if words in _SENT:
        return "sent"
    return "open" if words in _OPEN else None
