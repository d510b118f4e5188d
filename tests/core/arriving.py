"""Parcels that arrived, for the tests of outcomes, and seeded worlds with a true cause."""

import random
from dataclasses import replace
from datetime import date
from typing import Any

from core.outcomes.model import PLACES, Arrived, Harm, PackedGoods, Place
from core.outcomes.places import Cause

__all__ = ["WORLDS", "arrived", "broken_at", "world"]

GOODS = (PackedGoods(sku="SALT-PIG", units=1, recipe="stone", version=4, band="1"),)


def arrived(name: int, **facts: Any) -> Arrived:
    """Return a whole parcel of the small carton, changed by what is given."""
    plain = Arrived(
        parcel=str(name), goods=GOODS, outcome="whole", container="C-11", carrier="oxgang", service="box", zone="near",
        sent_on=date(2026, 10, 5),
    )  # fmt: skip
    return replace(plain, **facts)


def broken_at(name: int, place: Place, spot: str = "") -> Arrived:
    """Return a parcel in which something broke at a place."""
    return arrived(name, outcome="broken", harms=(Harm(kind="broken", place=place, spot=spot),))


#: True causes of the seeded worlds: bottom drops, corner crush, unit against unit, heat; None: nothing but chance.
WORLDS: tuple[Cause | None, ...] = ("bottom", "corner", "between_units", "spoiled", None)
#: Of 100 parcels: harmed by the world's cause, and by mishap anywhere.
_BY_CAUSE, _BY_CHANCE = 0.04, 0.008
#: Of 100 breakages: told without a place.
_UNPLACED = 0.15


def world(cause: Cause | None, seed: int, parcels: int = 400) -> list[Arrived]:
    """Return a seeded world of parcels. Without a cause, what breaks breaks anywhere, as often as elsewhere in all."""
    draw = random.Random(f"{cause}-{seed}")
    found = []
    chance = _BY_CHANCE if cause is not None else _BY_CHANCE + _BY_CAUSE
    for name in range(parcels):
        if cause is not None and draw.random() < _BY_CAUSE:
            hit: Cause | None = cause
        else:
            hit = draw.choice(PLACES) if draw.random() < chance else None
        if hit is None:
            found.append(arrived(name))
        elif hit == "spoiled":
            found.append(arrived(name, outcome="spoiled", harms=(Harm(kind="spoiled"),)))
        elif draw.random() < _UNPLACED:
            found.append(arrived(name, outcome="broken"))
        else:
            found.append(broken_at(name, hit))
    return found
