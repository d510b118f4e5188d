"""The kinds of packing supply and what one use of each costs and weighs (supplies; used by recipes, parcels).

Values only: no stock levels here (see ``ledger``), no database. Unit costs are Decimal with up to six places,
per stock unit: piece, square metre (wraps), metre (tapes), litre of loose stock (fills).
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.judgements import ORDINARY, Judgements
from core.units import Micrometres, Milligrams, Size

__all__ = [
    "GRADES",
    "OWN_GRADES",
    "Board",
    "BoardStrength",
    "Bond",
    "ClosureGrade",
    "Container",
    "CutDown",
    "Fill",
    "FillMeasure",
    "FillUnit",
    "Insert",
    "Liner",
    "Mailer",
    "OwnClosure",
    "PackKind",
    "Tape",
    "Telescope",
    "ThermalPack",
    "ToolCaution",
    "UnitBox",
    "Wrap",
    "outer_of",
    "spread_percent_of",
]

Board = Literal["single", "double", "none"]
ClosureGrade = Literal["none", "resistant", "evident"]
#: What is used with care when a supply is used: heat, tension, a blade (the job: cautions).
ToolCaution = Literal["hot_tool", "tension", "blade"]
#: What keeps goods cold or warm on their way (rules 15.4).
PackKind = Literal["gel", "bottle", "phase_change", "dry_ice", "heat"]
#: How hands measure a fill: by eye (litres, scoops, bags), by count (sheets, metres of a roll), on a scale (grams).
FillUnit = Literal["litre", "scoop", "bag", "sheet", "metre", "gram"]

#: Closure grades in their order: a higher one serves where a lower one is asked for (rules 7.2).
GRADES: dict[ClosureGrade, int] = {"none": 0, "resistant": 1, "evident": 2}
#: How a container closes by itself: a flap that is tucked in, tabs that lock, a strip that glues, a seal with a line to
#: tear it open by.
OwnClosure = Literal["flap", "tabs", "strip", "perforation"]
#: What each shows of tampering (rules 7.2).
OWN_GRADES: dict[OwnClosure, ClosureGrade] = {
    "flap": "none",
    "tabs": "resistant",
    "strip": "evident",
    "perforation": "evident",
}


def spread_percent_of(unit: FillUnit, judged: Judgements = ORDINARY) -> int:
    """Return one sigma of a fill's weight in percent by how it is measured: by eye, counted, weighed (rules 8.2)."""
    by_eye, counted, weighed = judged.fill_by_eye_percent, judged.fill_counted_percent, judged.fill_weighed_percent
    return {"sheet": counted, "metre": counted, "gram": weighed}.get(unit, by_eye)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bond:
    """What a glue asks for: until it is at its full strength it counts as no closure (rules 7.3)."""

    full_strength_minutes: int = 0  #: hot-melt 60, double-sided 2880; 0: it holds at once
    weak_above_percent: int | None = None  #: in air that is damper it holds less; None: damp does nothing to it


@dataclass(frozen=True, slots=True, kw_only=True)
class CutDown:
    """How a carton may be made lower: its walls are cut at the corners and folded down, which adds nothing inside."""

    heights_um: tuple[Micrometres, ...]  #: inside heights its score lines give; empty: any whole millimetre
    lowest_um: Micrometres  #: never lower than this
    minutes: Decimal  #: of hands, each time


@dataclass(frozen=True, slots=True, kw_only=True)
class Telescope:
    """Two of these tubes or open cartons slide over each other and make one long one (rules 3.4)."""

    overlap_um: Micrometres  #: at least so far into one another
    minutes: Decimal  #: of hands, each time


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardStrength:
    """What the board stands, for the stacking estimate (rules 16.1)."""

    ect_n_per_m: int  #: edge crush
    caliper_um: Micrometres
    safety_factor: Decimal = ORDINARY.safety_factor  #: so many times what it is to bear
    stack_um: Micrometres = ORDINARY.stack_um  #: how high like parcels are stacked


@dataclass(frozen=True, slots=True, kw_only=True)
class Container:
    """A rigid outer or inner carton."""

    code: str
    name: str
    inner: Size  #: usable inside, um
    outer: Size  #: outside as measured, or inside + walls, um
    tare_mg: Milligrams
    max_load_mg: Milligrams
    unit_cost: Decimal  #: per piece
    board: Board
    cut: CutDown | None = None  #: None: it cannot be cut lower
    strength: BoardStrength | None = None  #: None: the maker of the carton names none
    telescope: Telescope | None = None  #: None: two do not slide over each other
    closes: OwnClosure | None = None  #: by itself; None: it is closed with tape
    bond: Bond = Bond()  #: of its own strip
    old_marks: bool = False  #: it was sent before, or is printed: what stands on it is covered
    pieces: Decimal = Decimal(1)  #: so many off the shelf make this one
    kind: Literal["carton"] = "carton"


@dataclass(frozen=True, slots=True, kw_only=True)
class Mailer:
    """A soft or padded envelope: it has a flat inside, not a box."""

    code: str
    name: str
    flat_length_um: Micrometres  #: inside, flap open, um
    flat_width_um: Micrometres
    seal_um: Micrometres  #: taken off the length by the seal flap
    wall_um: Micrometres  #: thickness of one wall
    tare_mg: Milligrams
    max_load_mg: Milligrams
    unit_cost: Decimal
    halves: bool = False  #: may be cut across in two, each half closed with tape
    closes: OwnClosure = "flap"
    bond: Bond = Bond()  #: of its own strip
    old_marks: bool = False  #: it was sent before, or is printed: what stands on it is covered
    pieces: Decimal = Decimal(1)  #: so many off the shelf make this one
    kind: Literal["mailer"] = "mailer"


@dataclass(frozen=True, slots=True, kw_only=True)
class Wrap:
    """Sheet or roll stock that goes round a unit."""

    code: str
    name: str
    thickness_um: Micrometres
    mg_per_m2: Milligrams
    unit_cost: Decimal  #: per m2
    food_contact: bool
    roll_width_um: Micrometres | None  #: None: sheets
    offcut_from_um: Micrometres | None = None  #: an offcut so wide is put back; None: offcuts are thrown away
    sheet_um: tuple[Micrometres, Micrometres] | None = None  #: length and width of pre-cut sheets, used whole
    fold_um: Micrometres = ORDINARY.fold_um  #: folded over each side of a cut sheet (rules 2.2)
    caution: ToolCaution | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class FillMeasure:
    """The amount hands take of a fill at a time: a sheet, a scoop, a metre."""

    unit: FillUnit = "litre"
    loose_l: Decimal = Decimal(1)  #: litres of loose stock in one of them; not used for grams


@dataclass(frozen=True, slots=True, kw_only=True)
class Fill:
    """Loose stock that takes up void."""

    code: str
    name: str
    packing_factor: Decimal  #: litres of loose stock per litre of void (rules 6.2)
    packed_mg_per_l: Milligrams  #: weight of one litre of filled void
    unit_cost: Decimal  #: per litre of loose stock
    bulge_um: Micrometres  #: how far this fill pushes each pair of faces outwards (rules 9.2)
    measure: FillMeasure = FillMeasure()
    holds_mg: Milligrams | None = None  #: heaviest unit it holds in place; None: no limit
    sinks: bool = False  #: goods work their way down in it
    bursts: bool = False  #: it may burst under goods and hold nothing then
    spread_percent: int | None = None  #: one sigma of its weight (rules 8.2); None: as such a measure ordinarily has

    def holds(self, unit_mg: Milligrams) -> bool:
        """Return whether it holds a unit of that weight in place."""
        return self.holds_mg is None or unit_mg <= self.holds_mg

    def serves_for(self, other: "Fill") -> bool:
        """Return whether it keeps goods as dependably: it sinks or bursts only where the other does, too."""
        return (other.bursts or not self.bursts) and (other.sinks or not self.sinks)


@dataclass(frozen=True, slots=True, kw_only=True)
class Tape:
    """Tape or strip that closes a carton."""

    code: str
    name: str
    mg_per_m: Milligrams
    unit_cost: Decimal  #: per m
    grade: ClosureGrade
    caution: ToolCaution | None = None
    bond: Bond = Bond()


@dataclass(frozen=True, slots=True, kw_only=True)
class Liner:
    """What an insert is when it lines a carton on all six sides; as thick as the insert (rules 15.3)."""

    conductivity_mw_per_mk: int = 36  #: of its foam or wool
    tested_hours: Decimal | None = None  #: in which 1 kg of ice melted in it; None: not measured
    tested_room_c: Decimal = Decimal(20)  #: at so warm a room
    tested_inner: Size | None = None  #: its inside then
    fits: tuple[str, ...] = ()  #: cartons it is made for; empty: it is cut for any
    minutes: Decimal = Decimal(1)  #: of hands, to put it in


@dataclass(frozen=True, slots=True, kw_only=True)
class ThermalPack:
    """What an insert is when it keeps goods cold or warm; it weighs and is as thick as the insert (rules 15.4)."""

    kind: PackKind
    length_um: Micrometres
    width_um: Micrometres
    melts_c: Decimal = Decimal(0)  #: or turns to gas; of a heat pack of no use
    latent_j_per_g: int = 334  #: heat it takes up while it melts
    start_c: Decimal = Decimal(-18)  #: as it comes out of the freezer
    padded: bool = False  #: it is in a sleeve: it gives its cold off slowly and does not freeze what it touches
    freeze_hours: Decimal = Decimal(12)  #: until it is hard; 0: it is bought frozen
    soak_minutes: int = 0  #: before it is frozen for the first time
    power_mw: int = 0  #: of a heat pack
    rated_hours: Decimal = Decimal(0)  #: so long it gives that
    activate_minutes: int = 20  #: opened so long before it is packed, to see that it grows warm
    air_um: Micrometres = 10_000  #: a heat pack needs so much air
    minutes: Decimal = Decimal("0.2")  #: of hands, each


@dataclass(frozen=True, slots=True, kw_only=True)
class Insert:
    """A card, slip, label or other piece that goes in or on the parcel."""

    code: str
    name: str
    weight_mg: Milligrams
    unit_cost: Decimal
    thickness_um: Micrometres
    caution: ToolCaution | None = None
    liner: Liner | None = None  #: it lines a carton
    pack: ThermalPack | None = None  #: it keeps goods cold or warm


@dataclass(frozen=True, slots=True, kw_only=True)
class UnitBox:
    """A rigid box or tin round one unit: its own outside replaces the growth of the wraps (rules 2.5)."""

    code: str
    name: str
    inner: Size
    outer: Size
    tare_mg: Milligrams
    unit_cost: Decimal


def outer_of(inner: Size, board: Board, judged: Judgements = ORDINARY) -> Size:
    """Return the outside of a carton that was not measured: inside plus both walls (rules 9.1), um."""
    walls_um = {"single": judged.single_walls_um, "double": judged.double_walls_um, "none": 0}[board]
    return inner.grown(walls_um, walls_um, walls_um)
