"""What the core has to say: a code and its facts, never a sentence (all rooms).

A refusal, a reason, a step or a warning leaves the core as a ``Message``. Words are made from it in one place at the
edge (``server/words``), in the workshop's units. A fact's name carries its unit and so tells how it is shown:
``room_mg`` is a weight, ``gap_um`` a length, ``saves_money`` an amount. Pure.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from functools import cache
from typing import TypeAlias

__all__ = ["Fact", "Message", "Text", "say"]

#: Values are plain, so that a message written down and read again is the same: decimals and dates are kept as text.
Fact: TypeAlias = "int | str | Message | tuple[int | str | Message, ...]"


@dataclass(frozen=True, slots=True, kw_only=True)
class Message:
    """One thing said: which, and what about."""

    code: str
    facts: tuple[tuple[str, Fact], ...] = ()  #: by name; the ending is the unit

    def fact(self, name: str) -> Fact:
        """Return one fact. Raises KeyError when the message has none of that name."""
        return dict(self.facts)[name]

    def __str__(self) -> str:
        """Refuse: a message put into a sentence would show its code. Words are made in ``server/words``."""
        raise TypeError(f"{self.code} is a message; its words are made by server.words")


#: Something said, or a person's own words as they wrote them.
Text: TypeAlias = Message | str


def say(code: str, **facts: Fact | Decimal | date) -> Message:
    """Return a message with these facts.

    >>> say("room_left", room_mg=800).fact("room_mg")
    800
    """
    if not facts:
        return _bare(code)
    return Message(
        code=code,
        # Nearly all facts are plain already; a plan says a hundred things.
        facts=tuple([(name, value if type(value) in _PLAIN else _plain(value)) for name, value in facts.items()]),  # type: ignore[misc]
    )


@cache
def _bare(code: str) -> Message:
    return Message(code=code)


_PLAIN = frozenset((int, str, Message, tuple))


def _plain(value: Fact | Decimal | date) -> Fact:
    if isinstance(value, Decimal):
        return f"{value:f}"
    return value.isoformat() if isinstance(value, date) else value
