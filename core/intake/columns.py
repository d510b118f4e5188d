"""Guessing which column of an unknown file is which field, by its name and by what is in it (intake; step 4).

Every pair of field and column gets points: for its name, and for how many of its values can be read as that field. A
column whose values cannot be read so is out, whatever it is called. The best pair is taken first, then the best of the
rest: so it does not depend on the order of the columns. What stays unclear is asked (``Question``), never assumed.
Pure.
"""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from functools import partial
from typing import Literal

from core.intake.fields import FIELDS, Field, in_full, plain_words
from core.intake.items import looks_like_items
from core.intake.values import (
    DECIMAL_MARKS,
    ENGLISH_MONTHS,
    DayOrder,
    DecimalMark,
    day_orders,
    decimal_marks,
    differs_by_day_order,
    differs_by_mark,
    parted,
    read_amount,
    read_count,
    read_risk,
    read_standing,
    read_yes,
)

__all__ = ["Column", "Guess", "Guessed", "Knowledge", "Matching", "Question", "guess", "questions_of", "same_header"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Column:
    """One column of a file: its name as it stands there, made unique, and its values that are not empty."""

    name: str
    values: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Knowledge:
    """What is known besides the file."""

    latest: date  #: no order was placed later
    skus: Collection[str] = ()  #: codes of the workshop's products
    titles: Collection[str] = ()  #: their names, lower case
    country_of: Callable[[str], str | None] = field(default=lambda _: None)  #: a country's code from a name or code
    months: Mapping[str, int] = field(default_factory=lambda: ENGLISH_MONTHS)


@dataclass(frozen=True, slots=True, kw_only=True)
class Matching:
    """How a channel's file is read: kept under the channel's name."""

    columns: Mapping[Field, tuple[str, ...]]  #: names of columns; several are joined
    day_order: DayOrder | None = None  #: None: not needed, or not decided
    decimal_mark: DecimalMark | None = None
    constants: Mapping[Field, str] = field(default_factory=dict)  #: for fields the file has no column of
    words: Mapping[Field, Mapping[str, str]] = field(default_factory=dict)  #: what a channel's words mean, by field


@dataclass(frozen=True, slots=True, kw_only=True)
class Guessed:
    """Why a column was taken for a field."""

    by: Literal["name", "content", "both"]
    read: int  #: so many of 100 values can be read as it


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """What only a person can say."""

    about: Literal["missing", "day_order", "decimal_mark", "word"]
    field: Field
    sample: str = ""  #: a value it is about


@dataclass(frozen=True, slots=True, kw_only=True)
class Guess:
    """A matching that looks right, and why."""

    matching: Matching
    why: Mapping[Field, Guessed]


_NAME_EXACT, _NAME_HOLDS, _LEAST = 10, 6, 5
_FOR_DELIVERY = frozenset(("shipping", "ship", "delivery", "deliver", "to", "recipient", "lieferung", "livraison"))
_FOR_BILLING = frozenset(("billing", "bill", "invoice", "rechnung", "rechnungs", "facturation", "factura"))
_OF_PLACE: frozenset[Field] = frozenset(
    {"buyer", "first_name", "last_name", "company", "address", "address2", "town", "region", "postcode", "country"}
)
#: Fields whose content alone tells them, so that they are found under any name.
_BY_CONTENT: frozenset[Field] = frozenset({"sku", "placed_on", "country", "items"})
_MOST_LOOKED_AT = 300
#: Of files with more columns than this fewer values of each are looked at.
_MANY_COLUMNS = 60
_FEW = 40
_REQUIRED: tuple[Field, ...] = ("order", "postcode", "town", "country")
_AMOUNTS: tuple[Field, ...] = ("unit_price", "line_total", "goods_total", "postage_charged")


def guess(columns: Sequence[Column], known: Knowledge) -> Guess:
    """Return the likeliest matching of a file's columns."""
    points: list[tuple[int, int, int, Field, Guessed]] = []
    for at, column in enumerate(columns):
        values = column.values[: _MOST_LOOKED_AT if len(columns) <= _MANY_COLUMNS else _FEW]
        for place, name in enumerate(FIELDS):
            by_name = _points_for_name(name, column.name)
            if by_name <= 0 and name not in _BY_CONTENT:
                continue
            by_content = _points_for_content(name, values, known)
            if by_content is None:
                continue
            total = by_name + by_content[0]
            if total >= _LEAST:
                by: Literal["name", "content", "both"] = (
                    "both" if by_name > 0 and by_content[0] > 0 else "name" if by_name > 0 else "content"
                )
                points.append((-total, at, place, name, Guessed(by=by, read=by_content[1])))
    taken: set[int] = set()
    found: dict[Field, tuple[str, ...]] = {}
    why: dict[Field, Guessed] = {}
    for _, at, _, name, reason in sorted(points, key=lambda one: one[:3]):
        if at in taken or name in found:
            continue
        taken.add(at)
        found[name], why[name] = (columns[at].name,), reason
    _settle(found, why)
    matching = Matching(columns=found)
    by_column = {column.name: column for column in columns}
    return Guess(matching=_with_readings(matching, by_column, known), why=why)


def _settle(found: dict[Field, tuple[str, ...]], why: dict[Field, Guessed]) -> None:
    """Take out what would be said twice."""
    if "first_name" in found and "last_name" in found:
        _drop(found, why, "buyer")
    elif "buyer" in found:
        _drop(found, why, "first_name", "last_name")
    if "sku" in found:
        _drop(found, why, "items")
    elif "items" in found:
        _drop(found, why, "title", "quantity", "unit_price", "line_total")


def _drop(found: dict[Field, tuple[str, ...]], why: dict[Field, Guessed], *names: Field) -> None:
    for name in names:
        found.pop(name, None)
        why.pop(name, None)


def _points_for_name(name: Field, column: str) -> int:
    said = in_full(plain_words(column))
    # A second column of the same name is called "Name (2)" here: the first is likelier.
    later = -1 if said.split()[-1:] == ["2"] and column.endswith("(2)") else 0
    words = set(said.split())
    # "Shipping name" is the name for the delivery; alone, the word is what it costs.
    prefix = words & (_FOR_DELIVERY | _FOR_BILLING) if name in _OF_PLACE else set()
    bare = " ".join(word for word in said.split() if word not in prefix) or said
    best = 0
    for place, alias in enumerate(FIELDS[name].names):
        early = 1 if place < 3 else 0
        if alias in (bare, said):
            best = max(best, _NAME_EXACT + early)
        elif set(alias.split()) <= words:
            best = max(
                best, _NAME_HOLDS + early + min(2, len(alias.split()) - 1) - min(3, len(words) - len(alias.split()))
            )
    if best and name in _OF_PLACE:
        best += 2 * bool(words & _FOR_DELIVERY) - 5 * bool(words & _FOR_BILLING)
    return best + later if best else 0


def _share(values: Sequence[str], good: Callable[[str], bool]) -> int:
    return 100 * sum(good(value) for value in values) // len(values)


def _points_for_content(name: Field, values: Sequence[str], known: Knowledge) -> tuple[int, int] | None:
    """Return points and the share of values that can be read, of 100; None: it cannot be this field."""
    if not values:
        return 0, 100  # an empty column may be anything its name says
    kind = FIELDS[name].kind
    if kind == "day":
        read = day_orders(values, known.latest, known.months)
        share = _share(values, lambda text: any(day_orders([text], known.latest, known.months))) if read else 0
        return (6, share) if share >= 90 else None
    if kind == "amount":
        each = [one for text in values for one in parted(text)] or [""]
        share = max(_share(each, partial(_is_amount, mark=mark)) for mark in DECIMAL_MARKS)
        return (1, share) if share >= 60 else None
    if kind == "count":
        share = _share(values, lambda text: all(read_count(one) is not None for one in parted(text)))
        return (2, share) if share >= 80 else None
    if kind == "place":
        share = _share(values, lambda text: known.country_of(text) is not None)
        return (6, share) if share >= 80 else (0, share)
    if kind == "postcode":
        share = _share(values, lambda text: len(text) <= 12 and any(ch.isdigit() for ch in text))
        return (2, share) if share >= 60 else None
    if kind == "yes_no":
        share = _share(values, lambda text: read_yes(text) is not None)
        return (2, share) if share >= 60 else (-4, share)
    if kind == "items":
        share = _share(values, looks_like_items)
        mixed = _share(values, lambda text: len(text) > 3)
        return (6, share) if share >= 60 and mixed >= 60 and not _share(values, _is_number) else (-3, share)
    if kind == "number_text":
        if all(len(value) > 40 for value in values) or (len(set(values)) == 1 and len(values) > 3):
            return None
        return (2, 100) if _share(values, lambda text: any(ch.isdigit() for ch in text)) >= 80 else (-2, 100)
    return _points_for_text(name, values, known)


def _points_for_text(name: Field, values: Sequence[str], known: Knowledge) -> tuple[int, int] | None:
    if name == "sku":
        share = _share(values, lambda text: any(one in known.skus for one in parted(text)))
        return (8, share) if share >= 30 else (0, share)
    if name == "title":
        if _share(values, lambda text: text in known.skus) >= 30:
            return None  # codes, whatever the column is called
        share = _share(values, lambda text: text.lower() in known.titles)
        return (4 if share >= 30 else 0, 100)
    if name == "status":
        share = _share(values, lambda text: read_standing(text) is not None)
        return (3 if share >= 60 else -4, share)
    if name == "risk":
        share = _share(values, lambda text: read_risk(text) is not None)
        return (3 if share >= 60 else -4, share)
    if name in ("buyer", "first_name", "last_name", "town"):
        share = _share(values, lambda text: any(ch.isalpha() for ch in text) and not _is_number(text))
        return (1, share) if share >= 60 else None
    if name == "region" and _share(values, lambda text: read_standing(text) is not None) >= 60:
        return None
    if name == "note":
        return (1, 100) if len(set(values)) > 1 else (0, 100)
    return 0, 100


def _is_amount(text: str, mark: DecimalMark) -> bool:
    return read_amount(text, mark) is not None


def _is_number(text: str) -> bool:
    return any(_is_amount(text, mark) for mark in DECIMAL_MARKS)


def _with_readings(matching: Matching, columns: Mapping[str, Column], known: Knowledge) -> Matching:
    """Decide the order of day and month and the decimal mark where the file leaves only one."""
    days, amounts = _values(matching, columns, ("placed_on",)), _amounts(matching, columns)
    orders, marks = day_orders(days, known.latest, known.months), decimal_marks(amounts)
    return replace(
        matching,
        day_order=orders[0] if len(orders) == 1 else None,
        decimal_mark=marks[0] if len(marks) == 1 else None,
    )


def _values(matching: Matching, columns: Mapping[str, Column], names: Sequence[Field]) -> list[str]:
    return [
        value
        for name in names
        for column in matching.columns.get(name, ())
        if column in columns
        for value in columns[column].values
    ]


def _amounts(matching: Matching, columns: Mapping[str, Column]) -> list[str]:
    return [one for value in _values(matching, columns, _AMOUNTS) for one in parted(value)]


def questions_of(matching: Matching, columns: Sequence[Column], known: Knowledge) -> tuple[Question, ...]:
    """Return what must be answered before the file can be read: nothing is assumed."""
    by_name = {column.name: column for column in columns}
    has = {name for name, wanted in matching.columns.items() if wanted} | set(matching.constants)
    found: list[Question] = [Question(about="missing", field=name) for name in _REQUIRED if name not in has]
    if not has & {"buyer", "last_name", "company"}:
        found.append(Question(about="missing", field="buyer"))
    if not has & {"sku", "title", "items"}:
        found.append(Question(about="missing", field="sku"))
    days, amounts = _values(matching, by_name, ("placed_on",)), _amounts(matching, by_name)
    if matching.day_order is None and differs_by_day_order(days, known.latest, known.months):
        sample = next((text for text in days if differs_by_day_order([text], known.latest, known.months)), days[0])
        found.append(Question(about="day_order", field="placed_on", sample=sample))
    if matching.decimal_mark is None and differs_by_mark(amounts):
        sample = next((text for text in amounts if differs_by_mark([text])), amounts[0])
        priced: Field = next((name for name in _AMOUNTS if matching.columns.get(name)), "unit_price")
        found.append(Question(about="decimal_mark", field=priced, sample=sample))
    return (*found, *_words_asked(matching, by_name, known))


def _words_asked(matching: Matching, columns: Mapping[str, Column], known: Knowledge) -> list[Question]:
    """Words of the file whose meaning is not known: countries, whether it is paid, where it stands."""
    readers: tuple[tuple[Field, Callable[[str], object]], ...] = (
        ("country", known.country_of), ("paid", read_yes), ("status", read_standing), ("gift", read_yes),
        ("risk", read_risk),
    )  # fmt: skip
    found = []
    for name, read in readers:
        said = matching.words.get(name, {})
        for text in dict.fromkeys(_values(matching, columns, (name,))):
            if text not in said and read(text) is None:
                found.append(Question(about="word", field=name, sample=text))
    return found[:_FEW]


def same_header(one: Sequence[str], other: Sequence[str]) -> bool:
    """Return whether two files have the same columns, whatever their order: then they are read alike.

    >>> same_header(["Order No.", "Date"], ["date", "order no"])
    True
    """
    return sorted(map(plain_words, one)) == sorted(map(plain_words, other))
