"""Messages of the core into words, in the workshop's units: the one place where sentences are made.

A template stands in the catalogue under the message's code. ``{name}`` shows a fact as its ending says (``_um`` a
length, ``_mg`` a weight, ``_l``, ``_m``, ``_m2``, ``_money``, ``_percent``, ``_minutes``, ``_on`` a day). After a
colon:
``{n:order|orders}`` the word for that number, ``{list:and}`` and ``{list:or}`` joins, ``{text:cap}`` a capital first,
``{text:low}`` a small one, ``{thing:of owner}`` the owner first unless the name says it. May not decide anything:
no code is looked at here except to find its template.
"""

import string
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from functools import lru_cache
from typing import Any, TypeAlias

from django.conf import settings
from django.utils.translation import get_language, gettext

from core.messages import Fact, Message, Text
from core.units import Size, format_length, format_size, format_weight
from server.words.catalogue import CATALOGUE

__all__ = ["IMPERIAL", "METRIC", "Words", "day_words", "is_message", "words_of"]

#: Words, then a fact's name, how it is shown, and a conversion.
_Part: TypeAlias = tuple[str, str | None, str | None, str | None]

_CUBIC_FOOT_L = Decimal("28.316847")
_FOOT_M = Decimal("0.3048")
_CUBIC_INCH_CM3 = Decimal("16.387064")
_POUND_KG = Decimal("0.45359237")
_POUND_FORCE_N = Decimal("4.4482216")


class Words(string.Formatter):
    """Writes messages in one system of units."""

    def __init__(self, system: str, *, hide_money: bool = False) -> None:
        """Write in ``metric`` or ``imperial``; with a dash in place of money where that is hidden."""
        self.system = system
        self.hide_money = hide_money
        self._by_ending: dict[str, Callable[[Any], str]] = {
            "size_um": self._size,
            "um": lambda value: format_length(int(value), system),
            "mg": lambda value: format_weight(int(value), system),
            "l": self._litres,
            "m": self._metres,
            "m2": self._square,
            "percent": lambda value: _number(value, 1),
            "minutes": lambda value: _number(value, 1),
            "number": lambda value: _number(value, 2),
            "cm3": self._volume,
            "per_kg": self._divisor,
            "c": self._degrees,
            "kelvin": self._kelvin,
            "newton": self._force,
            "on": lambda value: day_words(date.fromisoformat(value)),
        }

    def of(self, text: Text | Sequence[Text]) -> str:
        """Return what a message says; a person's own words as they are; several, one after the other."""
        if isinstance(text, str):
            return text
        if isinstance(text, Message):
            return self._said(text)
        return " ".join(self.of(one) for one in text)

    def all(self, texts: Sequence[Text]) -> tuple[str, ...]:
        """Return each of several in words."""
        return tuple(self.of(text) for text in texts)

    def within(self, value: Any) -> Any:
        """Return a JSON value with every message in it written out."""
        if isinstance(value, dict):
            if is_message(value):
                return self._said(_message(value))
            return {key: self.within(one) for key, one in value.items()}
        if isinstance(value, list | tuple):
            return [self.within(one) for one in value]
        return self.of(value) if isinstance(value, Message) else value

    def _said(self, message: Message) -> str:
        own = CATALOGUE.get(f"{message.code}@{self.system}")  # where the units are words and not figures
        return self.vformat(_translated(own or CATALOGUE[message.code]), (), dict(message.facts))

    def parse(self, format_string: str) -> "Iterable[_Part]":
        """Take a template apart, each once."""
        return _parsed(format_string)

    # --- one placeholder ---

    def get_field(self, field_name: str, args: Sequence[Any], kwargs: Mapping[str, Any]) -> Any:
        """Return the fact with its name, whose ending tells how it is shown, and the other facts to compare it with."""
        return (field_name, kwargs[field_name], kwargs), field_name

    def convert_field(self, value: Any, conversion: Any) -> Any:
        """Take no conversions."""
        return value

    def format_field(self, value: Any, format_spec: str) -> str:
        """Show one fact."""
        name, fact, facts = value
        if format_spec.startswith("vs "):
            return self._apart(name, fact, facts[format_spec[3:]])
        if format_spec.startswith("of "):
            return _owned(str(fact), str(facts[format_spec.removeprefix("of ")]))
        if format_spec == "over":
            return self._slight(name, fact)
        if "|" in format_spec:
            one, many = format_spec.split("|")
            return one if Decimal(fact) == 1 else many
        if isinstance(fact, tuple | list) and not name.endswith("_size_um"):
            return _joined([self._shown(name, one) for one in fact], format_spec)
        shown = self._shown(name, fact)
        if format_spec == "cap":
            return shown[:1].upper() + shown[1:]
        return shown[:1].lower() + shown[1:] if format_spec == "low" else shown

    def _apart(self, name: str, fact: Any, other: Any) -> str:
        """Show a measure so that it can be told apart from another one that is not the same: with more digits if need
        be.
        """
        shown = self._shown(name, fact)
        if fact == other or shown != self._shown(name, other):
            return shown
        return _exact_length(int(fact), self.system) if name.endswith("_um") else _exact_weight(int(fact), self.system)

    def _slight(self, name: str, fact: Any) -> str:
        """Show by how much something is over, however little: never as nothing."""
        return self._apart(name, fact, 0)

    def _shown(self, name: str, fact: Fact) -> str:
        if isinstance(fact, Message):
            return self._said(fact)
        if self.hide_money and name.endswith("_money"):
            return "–"
        parts = name.split("_")
        for ending in ("_".join(parts[-2:]), parts[-1]):
            if len(parts) > 1 and ending in self._by_ending:
                return self._by_ending[ending](fact)
        return str(fact)

    def quantity(self, value: Decimal, unit: str) -> str:
        """Return an amount of a supply in words: pieces as they are, what is measured in the workshop's own unit."""
        if unit == "pieces" or self.system != "imperial":
            return f"{_number(value, 2)} {unit}"
        word, size = {"l": ("cu ft", _CUBIC_FOOT_L), "m": ("ft", _FOOT_M), "m2": ("sq ft", _FOOT_M**2)}[unit]
        return f"{_number(value / size, 2)} {word}"

    def _size(self, sides: Sequence[int]) -> str:
        length, width, height = (int(side) for side in sides)
        return format_size(Size(length_um=length, width_um=width, height_um=height), self.system)

    def _litres(self, value: Any) -> str:
        if self.system == "imperial":
            return f"{_number(Decimal(value) / _CUBIC_FOOT_L, 2)} cu ft"
        return f"{_places(value, 1)} l"

    def _metres(self, value: Any) -> str:
        if self.system == "imperial":
            return f"{_places(Decimal(value) / _FOOT_M, 1)} ft"
        return f"{_places(value, 2)} m"

    def _square(self, value: Any) -> str:
        if self.system == "imperial":
            return f"{_places(Decimal(value) / _FOOT_M**2, 1)} sq ft"
        return f"{_places(value, 2)} m2"

    def _volume(self, value: Any) -> str:
        if self.system == "imperial":
            return f"{_number(Decimal(value) / _CUBIC_INCH_CM3, 0)} cu in"
        return f"{value} cm3"

    def _divisor(self, value: Any) -> str:
        """cm3 per kg, or cubic inches per pound."""
        if self.system == "imperial":
            return f"{_number(Decimal(value) * _POUND_KG / _CUBIC_INCH_CM3, 0)} cu in per lb"
        return f"{value} cm3 per kg"

    def _degrees(self, value: Any) -> str:
        if self.system == "imperial":
            return f"{_number(Decimal(value) * 9 / 5 + 32, 0)} F"
        return f"{Decimal(value):f} C"

    def _kelvin(self, value: Any) -> str:
        """A difference of temperatures."""
        if self.system == "imperial":
            return f"{_number(Decimal(value) * 9 / 5, 0)} F"
        return f"{Decimal(value):f} C"

    def _force(self, value: Any) -> str:
        if self.system == "imperial":
            return f"{_number(Decimal(value) / _POUND_FORCE_N, 0)} lbf"
        return f"{value} N"


METRIC, IMPERIAL = Words("metric"), Words("imperial")
_WITHOUT_MONEY = {system: Words(system, hide_money=True) for system in ("metric", "imperial")}


def words_of(unit_system: str, *, hide_money: bool = False) -> Words:
    """Return the writer for a workshop's units."""
    if hide_money:
        return _WITHOUT_MONEY["imperial" if unit_system == "imperial" else "metric"]
    return IMPERIAL if unit_system == "imperial" else METRIC


def is_message(value: Any) -> bool:
    """Return whether a JSON value is a message written down."""
    return isinstance(value, dict) and value.keys() == {"code", "facts"} and isinstance(value["facts"], list)


def _message(value: Mapping[str, Any]) -> Message:
    return Message(code=value["code"], facts=tuple((name, _fact(fact)) for name, fact in value["facts"]))


def _fact_in_list(value: Any) -> int | str | Message:
    return _message(value) if is_message(value) else value


def _fact(value: Any) -> Fact:
    if isinstance(value, list):
        return tuple(_fact_in_list(one) for one in value)
    return _message(value) if is_message(value) else value


def day_words(day: date) -> str:
    """Return a day for people: ``Tue 1 Dec``."""
    return f"{day:%a} {day.day} {day:%b}"


def _exact_length(um: int, system: str) -> str:
    """Every digit there is, in mm or thousandths of an inch."""
    if system == "imperial":
        return f"{_number(Decimal(um) / 25_400, 4)} in"
    return f"{_number(Decimal(um) / 1_000, 3)} mm"


def _exact_weight(mg: int, system: str) -> str:
    if system == "imperial":
        return f"{_number(Decimal(mg) / Decimal('28349.523125'), 4)} oz"
    return f"{_number(Decimal(mg) / 1_000, 3)} g"


@lru_cache(maxsize=4_096)
def _parsed(template: str) -> "tuple[_Part, ...]":
    return tuple(string.Formatter().parse(template))


def _translated(template: str) -> str:
    # The doors for scripts run without settings: they write as the catalogue stands.
    return _in_language(template, get_language()) if settings.configured else template


@lru_cache(maxsize=4_096)
def _in_language(template: str, language: str | None) -> str:
    """Each template is looked up once in each language."""
    return gettext(template)


def _places(value: Any, places: int) -> str:
    return f"{Decimal(value).quantize(Decimal(1).scaleb(-places), rounding=ROUND_HALF_UP):f}"


def _number(value: Any, places: int) -> str:
    shown = _places(value, places)
    return shown.rstrip("0").rstrip(".") if "." in shown else shown


def _joined(parts: Sequence[str], how: str) -> str:
    if how in ("and", "or") and len(parts) > 1:
        return f"{', '.join(parts[:-1])} {_translated(how)} {parts[-1]}"
    if how == "sentences":  # each ends as one; a single remark needs no full stop
        whole = [part for part in parts if part]
        return " ".join(p if len(whole) == 1 or p.endswith((".", "!", "?")) else f"{p}." for p in whole)
    between = {"after": " ", "words": " ", "semicolons": "; "}.get(how, ", ")
    return between.join(part for part in parts if part)


def _owned(name: str, owner: str) -> str:
    """Return a thing with whose it is, unless its own name says so: "Larkline Packet", "Wending Post, Wending
    Parcel".
    """
    return name if name.startswith(owner) else f"{owner}, {name}"
