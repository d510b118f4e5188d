"""A packaging recipe: what is done per order-size band (recipes; used by parcels and bench).

Values only, plus the check that bands neither overlap nor leave a hole. Supplies are named by code here and
met with their facts in ``expand``.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Literal

from core.errors import BadRecipe
from core.judgements import ORDINARY
from core.messages import Message, say
from core.recipes.damage import Arrivals
from core.supplies.items import ClosureGrade
from core.supplies.stock_asked import covers
from core.units import Micrometres

__all__ = [
    "TAPE_OVERHANG_UM",
    "Ahead",
    "Band",
    "BandThermal",
    "Closure",
    "Cushion",
    "InnerCarton",
    "InsertAmount",
    "Minutes",
    "MixItem",
    "Occasion",
    "Recipe",
    "Sample",
    "SampleChoice",
    "School",
    "TapePattern",
    "When",
    "WrapLayer",
    "band_for",
    "check_bands",
    "holds",
    "judged_units",
    "sample_for",
    "size_of",
]

TapePattern = Literal["centre", "h", "cross"]
#: How far tape reaches over the edge unless the recipe says otherwise (rules 7.1).
TAPE_OVERHANG_UM: Micrometres = ORDINARY.tape_overhang_um

InsertPer = Literal["unit", "group", "layer", "parcel", "order", "product"]
School = Literal["fill_tight", "base_fixed"]
InsertPlace = Literal["bottom", "between", "top", "outside"]


@dataclass(frozen=True, slots=True, kw_only=True)
class WrapLayer:
    """One layer of wrap round each unit, or round each group of ``per_units``."""

    wrap: str  #: supply code
    turns: Decimal  #: round the sides
    ends_top: int  #: thicknesses folded over the top
    ends_bottom: int
    compression: Decimal = ORDINARY.compression  #: k of rules 2.1
    overlap_um: Micrometres = ORDINARY.sheet_overlap_um
    per_units: int = 1  #: how many are wrapped together; a last group may be smaller


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
    clearance_um: Micrometres = ORDINARY.floating_um  #: rules 3.2: 25 mm to the outer on every face


@dataclass(frozen=True, slots=True, kw_only=True)
class Closure:
    """How the outer is closed."""

    tape: str
    pattern: TapePattern
    both_faces: bool  #: top and bottom, or the top only
    overhang_um: Micrometres = TAPE_OVERHANG_UM
    required_grade: ClosureGrade = "none"


@dataclass(frozen=True, slots=True, kw_only=True)
class When:
    """When an insert goes in (rules 12.2): everything that is set must hold."""

    first_order: bool | None = None
    gift: bool | None = None
    least_value: Decimal | None = None  #: of the goods
    with_goods: str | None = None  #: a sku that must be in the order
    without_goods: str | None = None  #: a sku that must not be
    countries: tuple[str, ...] = ()
    season: tuple[str, str] | None = None  #: first and last day as MM-DD; may run over the new year


@dataclass(frozen=True, slots=True, kw_only=True)
class Occasion:
    """What is known of an order besides its goods, for the conditions of inserts."""

    first_order: bool = False
    gift: bool = False
    value: Decimal = Decimal(0)
    skus: frozenset[str] = frozenset()
    country: str = ""
    day: str = ""  #: of shipping, MM-DD
    last_sent: Mapping[str, date] = field(default_factory=dict)  #: per sample insert: when one last went out


@dataclass(frozen=True, slots=True, kw_only=True)
class Sample:
    """A sample insert and the product it is a sample of."""

    insert: str
    sku: str


@dataclass(frozen=True, slots=True, kw_only=True)
class InsertAmount:
    """An insert with its amount rule and its place in the unboxing order."""

    insert: str
    amount: int
    per: InsertPer
    place: InsertPlace
    required: bool
    group_of: int = 1  #: for per group: one amount for each so many units, a last smaller group counts whole
    when: When | None = None  #: None: always
    samples: tuple[Sample, ...] = ()  #: one of these instead, of a variant the buyer did not order


@dataclass(frozen=True, slots=True, kw_only=True)
class SampleChoice:
    """What a choice among samples looks at."""

    ordered: frozenset[str]
    free: Mapping[str, Decimal]
    last_sent: Mapping[str, date]


def sample_for(rule: InsertAmount, choice: SampleChoice) -> str | None:
    """Return the insert to put in: the rule's own, or the sample of a variant that was not ordered (rules 12.3).

    Of those in stock the least recently sent, one never sent first; None when there is none.
    """
    if not rule.samples:
        return rule.insert
    fit = [s for s in rule.samples if s.sku not in choice.ordered and covers(choice.free, s.insert, Decimal(1))]
    best = min(fit, key=lambda s: choice.last_sent.get(s.insert, date.min), default=None)
    return best.insert if best else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Minutes:
    """Minutes of hands: per unit, per parcel and once an order."""

    per_unit: Decimal
    per_parcel: Decimal
    per_order: Decimal = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """Something to do before the packing: freeze, soak, cure, pre-cut."""

    what: str
    hours_before: Decimal  #: the packing
    minutes: Decimal = Decimal(0)  #: of hands, once an order


@dataclass(frozen=True, slots=True, kw_only=True)
class MixItem:
    """So many of one product in a named mix."""

    sku: str
    quantity: int


@dataclass(frozen=True, slots=True, kw_only=True)
class BandThermal:
    """What keeps goods of a band cold or warm; how many packs, the weather of the way decides (rules 15.4)."""

    liner: str = ""  #: insert code; empty: none
    packs: tuple[str, ...] = ()  #: insert codes, the recipe's own choice first
    when: Literal["always", "needed"] = "needed"  #: always: the liner and the least number go in whatever the weather
    least: int = 0  #: of packs, when they go in


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
    proud_percent: int  #: how far the top fill stands over the edge (rules 6.3: 5 %)
    closure: Closure | None
    inserts: tuple[InsertAmount, ...]
    marks: tuple[str, ...]
    minutes: Minutes
    school: School = "fill_tight"  #: base_fixed: the base is held, round and over the goods the air stays free
    divider: str | None = None  #: insert between layers
    fill_below: str | None = None  #: another fill for the cushion below; None: the band's fill
    fill_above: str | None = None  #: another fill on top; None: the band's fill
    unit_box_sealed: bool = False  #: a sealed box of its own shows tampering, so the outer need not
    steps: tuple[str, ...] = ()  #: more for the hands to do, before the parcel is closed
    thermal: BandThermal | None = None  #: None: nothing goes in against heat and cold


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
    closed_checks: tuple[str, ...] = ()  #: tests of the closed carton; ``proving_checks`` are done with the flaps open
    mailer_checks: tuple[str, ...] = ()  #: tests of a sealed mailer, in place of both
    buyer_note: str = ""  #: printed on the slip: "keep the paper collar, it is part of it"
    ahead: tuple[Ahead, ...] = ()
    tried: bool = False  #: a test of this version was passed
    trial_needed: bool = False  #: it is not ready before a test was passed
    arrivals: Arrivals | None = None  #: how parcels packed like this arrived; None: none is known yet
    mix: tuple[MixItem, ...] = ()  #: the order it is for, when it is for a named mix and not for single products


def check_bands(recipe: Recipe) -> None:
    """Check that bands start at 1, follow each other without hole or overlap, and can be packed.

    Raises BadRecipe with every error.
    """
    faults: list[Message] = []
    if not recipe.bands:
        faults.append(say("no_bands"))
    expected = 1
    for band in recipe.bands:
        facts = {"first": band.first, "last": band.last, "expected": expected}
        if band.last < band.first:
            faults.append(say("band_backwards", **facts))
        if band.first > expected:
            faults.append(say("band_hole", **facts, up_to=band.first - 1))
        if band.first < expected:
            faults.append(say("band_overlap", **facts))
        groups = {layer.per_units for layer in band.layers if layer.per_units > 1}
        if len(groups) > 1:
            faults.append(say("band_groups_differ", **facts))
        counts = [layer.per_units > 1 for layer in band.layers]
        if counts != sorted(counts):
            faults.append(say("band_unit_after_group", **facts))
        if groups and band.unit_box:
            faults.append(say("band_box_and_group", **facts))
        if not band.outers and not band.any_outer:
            faults.append(say("band_no_container", **facts))
        expected = band.last + 1
    if faults:
        raise BadRecipe(recipe.code, tuple(faults))


#: A band may be wide; it is judged by its largest order, up to so many units (a judgement).
_MOST_JUDGED_UNITS = 24


def judged_units(first: int, last: int) -> int:
    """Return the order a band from ``first`` to ``last`` units is worked out, compared and tried for."""
    return max(first, min(last, _MOST_JUDGED_UNITS))


def size_of(first: int, last: int) -> Message:
    """Return an order size as people say it: "1", "3 to 6"."""
    return say("size_one", units=first) if first == last else say("size_range", first=first, last=last)


def band_for(recipe: Recipe, units: int) -> Band | None:
    """Return the band that covers ``units``, or None when the recipe stops below."""
    return next((band for band in recipe.bands if band.first <= units <= band.last), None)


def holds(when: When | None, occasion: Occasion) -> bool:
    """Return whether an insert's conditions hold; every one that is set must (rules 12.2)."""
    if when is None:
        return True
    if when.season is not None:
        first, last = when.season
        inside = first <= occasion.day <= last if first <= last else occasion.day >= first or occasion.day <= last
        if not inside:
            return False
    return (
        (when.first_order is None or when.first_order == occasion.first_order)
        and (when.gift is None or when.gift == occasion.gift)
        and (when.least_value is None or occasion.value >= when.least_value)
        and (when.with_goods is None or when.with_goods in occasion.skus)
        and (when.without_goods is None or when.without_goods not in occasion.skus)
        and (not when.countries or occasion.country in when.countries)
    )
