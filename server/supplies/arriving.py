"""What is on its way of which supply, for whoever waits for it (supplies)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import F, QuerySet

from server.supplies.models import Purchase, PurchaseLine
from server.workshops.models import Workshop

__all__ = ["OnTheWay", "codes_in", "on_the_way", "open_lines"]


@dataclass(frozen=True, slots=True, kw_only=True)
class OnTheWay:
    """So much of a supply is expected on a day."""

    code: str
    name: str
    day: date
    quantity: Decimal


def open_lines(workshop: Workshop) -> QuerySet[Any]:
    """Return the lines of orders to suppliers that are still to come, with ``open`` of each, the next first."""
    return (
        PurchaseLine.objects.of(workshop)
        .filter(closed=False, purchase__state=Purchase.State.ORDERED)
        .annotate(open=F("quantity") - F("received"))
        .order_by("purchase__expected_on", "id")
    )


def on_the_way(workshop: Workshop) -> dict[str, OnTheWay]:
    """Return the next arrival of each supply that is on its way, by its code."""
    found: dict[str, OnTheWay] = {}
    rows = open_lines(workshop).values_list("supply__code", "supply__name", "purchase__expected_on", "open")
    for code, name, day, many in rows:
        found.setdefault(code, OnTheWay(code=code, name=name, day=day, quantity=many))
    return found


def codes_in(value: Any, known: Iterable[str]) -> list[str]:
    """Return the codes of supplies a message as it is written down names, each once."""
    texts = set(_texts(value))
    return sorted(code for code in known if code in texts)


def _texts(value: Any) -> list[str]:
    if isinstance(value, str):
        return [value]
    inside = value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
    return [text for one in inside for text in _texts(one)]
