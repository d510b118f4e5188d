"""A packaging recipe: what is done per order-size band (recipes; used by parcels and bench).

Values only, plus the check that bands neither overlap nor leave a hole. Supplies are named by code here and
met with their facts in ``expand``.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.errors import BadRecipe
from core.supplies.items import ClosureGrade
from core.units import Micrometres

__all__ = [
    "Band",
    "Closure",
    "Cushion",
    "InnerCarton",
    "InsertAmount",
    "Minutes",
    "Recipe",
    "TapePattern",
    "WrapLayer",
    "band_for",
    "check_bands",
]

TapePattern = Literal["centre", "h", "cross"]
InsertPer = Literal["unit", "parcel"]
InsertPlace = Literal["bottom", "between", "top", "outside"]


@dataclass(frozen=True, slots=True, kw_only=True)
class WrapLayer:
    """One layer of wrap round each unit, or round each group of ``per_units``."""

    wrap: str  #: supply code
    turns: Decimal  #: round the sides
    ends_top: int  #: thicknesses folded over the top
    ends_bottom: int
    compression: Decimal = Decimal("0.9")  #: k of rules, 2
    overlap_um: Micrometres = 50_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Cushion:
    """Least distance of a wrapped unit from each face of the container, um."""

    bottom_um: Micrometres
    side_um: Micrometres
    top_um: Micrometres


@dataclass(frozen=True, slots=True, kw_only=True)
class InnerCarton:
    """An inner carton that takes all the units and floats in the outer with clearance on every face."""

    container: str
    clearance_um: Micrometres = 25_000  #: rules, 3: 25 mm to the outer on every face


@dataclass(frozen=True, slots=True, kw_only=True)
class Closure:
    """How the outer is closed."""

    tape: str
    pattern: TapePattern
    both_faces: bool  #: top and bottom, or the top only
    overhang_um: Micrometres = 65_000
    required_grade: ClosureGrade = "none"


@dataclass(frozen=True, slots=True, kw_only=True)
class InsertAmount:
    """An insert with its amount rule and its place in the unboxing order."""

    insert: str
    amount: int
    per: InsertPer
    place: InsertPlace
    required: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Minutes:
    """Minutes of hands: per unit and per parcel."""

    per_unit: Decimal
    per_parcel: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """One order-size band: from so many units to so many, inclusive."""

    first: int
    last: int
    layers: tuple[WrapLayer, ...]
    unit_box: str | None
    inner: InnerCarton | None
    outers: tuple[str, ...]  #: container codes, the recipe's own choice first
    any_outer: bool  #: after those, any carton that fits
    gap_um: Micrometres
    cushion: Cushion
    fill: str | None
    proud_percent: int  #: how far the top fill stands over the edge (rules, 6: 5 %)
    closure: Closure | None
    inserts: tuple[InsertAmount, ...]
    marks: tuple[str, ...]
    minutes: Minutes


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """How one product, or a family of products, is packed."""

    code: str
    name: str
    version: int
    goods_checks: tuple[str, ...]
    wrap_note: str
    proving_checks: tuple[str, ...]
    cautions: tuple[str, ...]
    bands: tuple[Band, ...]


def check_bands(recipe: Recipe) -> None:
    """Check that bands start at 1, follow each other without hole or overlap, and can be packed.

    Raises BadRecipe with every fault.
    """
    faults: list[str] = []
    if not recipe.bands:
        faults.append("There is no order-size band; add one that starts at 1.")
    expected = 1
    for band in recipe.bands:
        name = f"{band.first} to {band.last}"
        if band.last < band.first:
            faults.append(f"Band {name} ends before it starts.")
        if band.first > expected:
            faults.append(f"No band covers {expected} to {band.first - 1}; let band {name} start at {expected}.")
        if band.first < expected:
            faults.append(f"Band {name} overlaps the one before it; let it start at {expected}.")
        if not band.outers and not band.any_outer:
            faults.append(f"Band {name} names no outer container; name one, or allow any that fits.")
        expected = band.last + 1
    if faults:
        raise BadRecipe(recipe.code, tuple(faults))


def band_for(recipe: Recipe, units: int) -> Band | None:
    """Return the band that covers ``units``, or None when the recipe stops below."""
    return next((band for band in recipe.bands if band.first <= units <= band.last), None)
