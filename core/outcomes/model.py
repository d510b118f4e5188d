"""What is known of a parcel that was sent: how it arrived, which goods, where they were hurt (outcomes; rules 17.1).

Values only. A parcel nobody complained of counts as whole, and says that this was assumed.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from typing import Literal, get_args

__all__ = [
    "DAMAGE",
    "HURT",
    "KNOWN",
    "OUTCOMES",
    "PLACES",
    "Arrived",
    "Group",
    "Harm",
    "HarmKind",
    "Outcome",
    "PackedGoods",
    "Place",
    "keys_of",
    "season_of",
]

#: How a parcel arrived. Late and whole are both known not to be damaged; of a lost one nobody knows.
Outcome = Literal["whole", "marked", "broken", "spoiled", "late", "lost", "unknown"]
OUTCOMES: tuple[Outcome, ...] = get_args(Outcome)
HarmKind = Literal["marked", "broken", "spoiled"]

#: Broken and spoiled count as damage; marked, late and lost are told apart (rules 17.3).
DAMAGE: frozenset[Outcome] = frozenset({"broken", "spoiled"})
#: Outcomes that tell whether the goods were damaged.
KNOWN: frozenset[Outcome] = frozenset({"whole", "marked", "broken", "spoiled", "late"})
#: Outcomes with which it is said what was hurt.
HURT: frozenset[Outcome] = frozenset({"marked", "broken", "spoiled"})

#: Where goods are hurt: the six faces, edges, corners, one unit against another, a unit's own lid or handle.
Place = Literal[
    "bottom", "top", "front", "back", "left", "right", "edge", "corner", "between_units", "lid", "handle"
]  # fmt: skip
PLACES: tuple[Place, ...] = get_args(Place)


@dataclass(frozen=True, slots=True, kw_only=True)
class Harm:
    """Something that was hurt."""

    kind: HarmKind
    place: Place | None = None  #: None: nobody said where; always so for what was spoiled
    spot: str = ""  #: which of the edges or corners: "bottom-front-left"; empty: not said
    sku: str = ""  #: which goods; empty: not said
    units: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class PackedGoods:
    """Goods of a parcel and how they were packed."""

    sku: str
    units: int
    recipe: str = ""  #: code; empty: packed without one
    version: int = 0
    band: str = ""  #: order sizes of the band: "1", "3-6"


@dataclass(frozen=True, slots=True, kw_only=True)
class Arrived:
    """A parcel that was sent, and what is known of it."""

    parcel: str  #: what it is called
    goods: tuple[PackedGoods, ...]
    outcome: Outcome
    harms: tuple[Harm, ...] = ()
    container: str = ""
    carrier: str = ""
    service: str = ""
    zone: str = ""
    sent_on: date | None = None
    assumed: bool = False  #: nobody wrote within the days: counted as whole

    @property
    def known(self) -> bool:
        """Return whether it is known if the goods were damaged."""
        return self.outcome in KNOWN

    @property
    def damaged(self) -> bool:
        """Return whether goods were broken or spoiled."""
        return self.outcome in DAMAGE

    def damaged_goods(self) -> tuple[PackedGoods, ...]:
        """Return the goods that were damaged: all of them when nobody said which."""
        if not self.damaged:
            return ()
        named = {harm.sku for harm in self.harms if harm.kind != "marked" and harm.sku}
        return tuple(one for one in self.goods if one.sku in named) or self.goods

    @property
    def places(self) -> tuple[Place, ...]:
        """Return where things broke, each place once."""
        if self.outcome != "broken":
            return ()
        found = (harm.place for harm in self.harms if harm.kind == "broken" and harm.place is not None)
        return tuple(dict.fromkeys(found))


#: What rates are told by.
Group = Literal["version", "product", "band", "carrier", "service", "zone", "season", "container", "month"]

_SEASONS: tuple[tuple[str, frozenset[int]], ...] = (
    ("12-02", frozenset({12, 1, 2})),
    ("03-05", frozenset({3, 4, 5})),
    ("06-08", frozenset({6, 7, 8})),
    ("09-11", frozenset({9, 10, 11})),
)


def season_of(day: date) -> str:
    """Return the quarter of the year a day is in, by its first and last month: "12-02".

    Months and no names: what is summer depends on where one is.
    """
    return next(name for name, months in _SEASONS if day.month in months)


def keys_of(parcel: Arrived, group: Group) -> Iterable[tuple[str, bool]]:
    """Return under what a parcel counts in a group, and whether as damaged there.

    By version, product and band only the goods that were hurt count as damaged; by what moves the whole parcel it
    counts as one.
    """
    hurt = parcel.damaged_goods()
    match group:
        case "version":
            return _of_goods(parcel, hurt, lambda one: f"{one.recipe}/{one.version}" if one.recipe else "")
        case "product":
            return _of_goods(parcel, hurt, lambda one: one.sku)
        case "band":
            return _of_goods(parcel, hurt, lambda one: f"{one.recipe}/{one.band}" if one.band else "")
        case "season":
            key = season_of(parcel.sent_on) if parcel.sent_on else ""
        case "month":
            key = f"{parcel.sent_on:%Y-%m}" if parcel.sent_on else ""
        case "zone":
            key = f"{parcel.carrier}/{parcel.zone}" if parcel.zone else ""
        case "service":
            key = f"{parcel.carrier}/{parcel.service}" if parcel.service else ""
        case "carrier":
            key = parcel.carrier
        case "container":
            key = parcel.container
    return [(key, parcel.damaged)] if key else []


def _of_goods(
    parcel: Arrived, hurt: tuple[PackedGoods, ...], name: Callable[[PackedGoods], str]
) -> list[tuple[str, bool]]:
    damaged = {name(one) for one in hurt}
    return [(key, key in damaged) for key in dict.fromkeys(name(one) for one in parcel.goods) if key]
