"""Templates of craft: how kinds of goods are packed, and why (designing).

Written from the rules: 2 for wraps, 3 for nesting, 4 and 6 for cushions and fill, 7 for closing, 15 for heat and time.
A craft names parts by what they must do; ``propose`` finds them in the cupboard.
"""

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.messages import Message, say
from core.recipes.goods import Product
from core.recipes.model import Ahead, School, TapePattern

__all__ = ["CRAFTS", "Craft", "Wrapping", "craft_for", "craft_named", "why_craft"]

Outers = Literal["carton", "mailer_or_carton"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Wrapping:
    """One layer: a thin sheet for looks or for food, or a soft one that protects."""

    kind: Literal["sheet", "soft"]
    turns: Decimal
    ends: int  #: thicknesses over top and bottom
    why: str
    together: int = 1  #: so many units in one wrap


@dataclass(frozen=True, slots=True, kw_only=True)
class Craft:
    """How one kind of goods is packed."""

    key: str
    name: str
    about: str
    wraps: tuple[Wrapping, ...]
    cushion_mm: tuple[int, int, int]  #: below, at the sides, on top
    cushion_why: str
    gap_mm: int
    gap_why: str
    school: School
    school_why: str
    outers: Outers
    pattern: TapePattern
    closing_why: str
    marks: tuple[str, ...]
    checks: tuple[str, ...]
    proofs: tuple[str, ...]  #: with the flaps open
    cautions: tuple[str, ...]
    minutes: tuple[str, str]  #: per unit, per parcel
    wrap_note: str = ""
    buyer_note: str = ""
    ahead: tuple[Ahead, ...] = ()
    closed_proofs: tuple[str, ...] = ()  #: after closing
    mailer_proofs: tuple[str, ...] = ("Press it flat: the seal holds.",)
    claims: tuple[str, ...] = ()  #: checks that say something of the goods: put in only when asked for
    two_cartons: bool = False  #: an inner carton floats in the outer
    fits: Callable[[Product], bool] = lambda _: False


_SHAKE = ("Shake it at your ear: no sound, no movement.", "Press the flaps: they push back a little.")
_FLIP = ("Turn it over once: nothing wobbles.",)
#: Baked and sent within so many days: a loaf, not a bar.
_FRESH_DAYS = 14
_FOOD = "Food: only food-contact material touches it. Allergens and dates follow local food rules."


def _shape(product: Product) -> tuple[int, int, int]:
    """Return shortest, middle and longest side in mm."""
    a, b, c = product.size.sorted_um if product.size else (0, 0, 0)
    short, middle, long = sorted((a, b, c))
    return short // 1000, middle // 1000, long // 1000


def _flat(product: Product) -> bool:
    short, middle, _ = _shape(product)
    return short * 3 <= middle


def _tall(product: Product) -> bool:
    size = product.size
    return size is not None and size.height_um * 5 >= 8 * max(size.length_um, size.width_um)


CRAFTS: tuple[Craft, ...] = (
    Craft(
        key="living-culture",
        name="Living culture",
        about="Alive in its jar: it needs air, an upright stand, and few days in transit.",
        wraps=(
            Wrapping(kind="sheet", turns=Decimal(1), ends=1, why="A food-contact sheet keeps what leaks off the card."),
            Wrapping(
                kind="soft", turns=Decimal(2), ends=2, why="Two turns keep the jar from knocks; paper lets it breathe."
            ),
        ),
        cushion_mm=(30, 25, 25),
        cushion_why="A jar that may seep wants thick dry fill below that drinks it up.",
        gap_mm=8,
        gap_why="Glass beside glass: a finger of fill between.",
        school="fill_tight",
        school_why="It must stay upright: nothing may shift.",
        outers="carton",
        pattern="h",
        closing_why="The H holds the long seam and both edges.",
        marks=("This way up", "Live"),
        checks=("Lid one turn loose, it must breathe.", "Fed today, date on the label."),
        claims=("Fed today, date on the label.",),
        proofs=_SHAKE,
        cautions=("Live: never airtight. Send it early in the week.",),
        minutes=("2", "3"),
        ahead=(Ahead(what="feed the culture and let it settle", hours_before=Decimal(12), minutes=Decimal(2)),),
        fits=lambda p: p.live,
    ),
    Craft(
        key="meltable",
        name="Frozen or meltable",
        about="Heat spoils it: close, insulated by its own fill, sent early in the week.",
        wraps=(
            Wrapping(kind="sheet", turns=Decimal(1), ends=1, why="A food-contact sheet touches it, nothing else."),
            Wrapping(
                kind="soft", turns=Decimal(1), ends=1, why="One soft turn keeps the cold in and the corners whole."
            ),
        ),
        cushion_mm=(15, 15, 15),
        cushion_why="The same all round: fill is the insulation.",
        gap_mm=0,
        gap_why="Side by side they keep each other cold.",
        school="fill_tight",
        school_why="Air that moves brings heat.",
        outers="carton",
        pattern="h",
        closing_why="Closed edges keep warm air out.",
        marks=("Keep cool",),
        checks=("Cold all through when it leaves the store.", "Date on it."),
        claims=("Date on it.",),
        proofs=_SHAKE,
        cautions=(_FOOD, "A perishable that sat too long is not to be eaten."),
        minutes=("0.7", "2.5"),
        ahead=(Ahead(what="cool it all through", hours_before=Decimal(12), minutes=Decimal(1)),),
        fits=lambda p: p.frozen or p.meltable,
    ),
    Craft(
        key="tall-fragile",
        name="Tall and fragile",
        about="Long and slender: it breaks across the middle and at the neck, so its length is held stiff.",
        wraps=(
            Wrapping(
                kind="sheet", turns=Decimal(1), ends=1, why="Soft sheet first: no print of the wrap on the glaze."
            ),
            Wrapping(
                kind="soft", turns=Decimal(3), ends=3, why="Three turns make a stiff sleeve along the whole length."
            ),
        ),
        cushion_mm=(40, 35, 35),
        cushion_why="It falls on its ends: most below and on top.",
        gap_mm=12,
        gap_why="Slender things swing; keep them a finger apart.",
        school="fill_tight",
        school_why="A long lever must not begin to move.",
        outers="carton",
        pattern="h",
        closing_why="The H holds the seam when it is stood on its end.",
        marks=("Fragile", "This way up"),
        checks=("No hairline along the neck: tap it, it rings.",),
        proofs=_SHAKE,
        closed_proofs=_FLIP,
        cautions=(),
        minutes=("3", "3.5"),
        wrap_note="Pad the neck to the width of the body first.",
        fits=lambda p: p.fragility != "sturdy" and _tall(p),
    ),
    Craft(
        key="flat-plate",
        name="Flat plate",
        about="Wide and thin: it snaps over an edge. It lies flat, stiff card over and under, and floats in "
        "a second carton.",
        wraps=(
            Wrapping(kind="sheet", turns=Decimal(1), ends=1, why="Soft sheet first keeps the glaze clean."),
            Wrapping(kind="soft", turns=Decimal(2), ends=3, why="Thick over the faces, where a plate is struck."),
        ),
        cushion_mm=(35, 30, 30),
        cushion_why="The rim is the weak place: room to every wall, more below.",
        gap_mm=10,
        gap_why="Plate on plate rubs at the foot ring.",
        school="fill_tight",
        school_why="A plate that tilts stands on its rim.",
        outers="carton",
        pattern="h",
        closing_why="A wide flap needs both edges held.",
        marks=("Fragile",),
        checks=("Rim whole all round, run a finger along it.", "It rings when tapped."),
        proofs=_SHAKE,
        closed_proofs=_FLIP,
        cautions=(),
        minutes=("3", "4"),
        two_cartons=True,
        fits=lambda p: p.fragility == "fragile" and _flat(p),
    ),
    Craft(
        key="glass-jar",
        name="Glass jar",
        about="Heavy for its size, strong when it stands: wrapped, upright, never glass on glass.",
        wraps=(
            Wrapping(
                kind="sheet", turns=Decimal(1), ends=1, why="A food-contact sheet first: food touches nothing else."
            ),
            Wrapping(
                kind="soft", turns=Decimal(2), ends=2, why="Two turns, folded over lid and base, where jars break."
            ),
        ),
        cushion_mm=(30, 20, 20),
        cushion_why="More below: a jar's base takes the fall.",
        gap_mm=8,
        gap_why="Jar against jar is how they break.",
        school="fill_tight",
        school_why="Heavy goods in loose fill work their way to the wall.",
        outers="carton",
        pattern="h",
        closing_why="Food needs a closure that shows when it was opened.",
        marks=("Fragile",),
        checks=("Lid tight, button down.", "Label straight, batch and date on it.", "No chip at the rim."),
        claims=("Label straight, batch and date on it.",),
        proofs=_SHAKE,
        closed_proofs=_FLIP,
        cautions=(_FOOD,),
        minutes=("1.5", "3"),
        wrap_note="Fold the ends over the lid and the base, so both are covered twice.",
        fits=lambda p: p.glass or (p.fragility != "sturdy" and p.food),
    ),
    Craft(
        key="stoneware",
        name="Stoneware, open form",
        about="An open form is strong below and weak at the rim and handle: its hollow is filled, its rim "
        "touches nothing hard.",
        wraps=(
            Wrapping(
                kind="sheet", turns=Decimal(1), ends=1, why="Soft sheet first: no print of the wrap on the glaze."
            ),
            Wrapping(kind="soft", turns=Decimal(3), ends=2, why="Three turns: handle and spout stand out of the body."),
        ),
        cushion_mm=(40, 30, 35),
        cushion_why="Heavy on its foot: most below; the rim wants more on top than at the sides.",
        gap_mm=12,
        gap_why="Two pots that touch break each other.",
        school="fill_tight",
        school_why="Weight that shifts once goes on shifting.",
        outers="carton",
        pattern="h",
        closing_why="Heavy goods press on the bottom seam: tape both faces.",
        marks=("Fragile",),
        checks=("No crack: tap it, it rings.", "Foot smooth, no glaze drip."),
        proofs=_SHAKE,
        closed_proofs=_FLIP,
        cautions=(),
        minutes=("3", "3.5"),
        wrap_note="Fill the hollow before you wrap it.",
        buyer_note="Take the paper out of the hollow before you use it.",
        fits=lambda p: p.fragility != "sturdy",
    ),
    Craft(
        key="textile",
        name="Textile, flat",
        about="Nothing to break, only wet and dirt to keep off: thin, in a mailer that goes as a letter or packet.",
        wraps=(
            Wrapping(
                kind="sheet", turns=Decimal(1), ends=1, why="A sheet keeps it clean and makes it look like a present."
            ),
        ),
        cushion_mm=(0, 0, 0),
        cushion_why="It is its own cushion.",
        gap_mm=0,
        gap_why="Cloth may touch cloth.",
        school="fill_tight",
        school_why="A mailer has no void.",
        outers="mailer_or_carton",
        pattern="centre",
        closing_why="The mailer's own seal is enough; a carton takes one strip.",
        marks=(),
        checks=("No stain, no loose thread.", "Folded to size."),
        proofs=(),
        cautions=(),
        minutes=("1", "1"),
        fits=lambda p: p.fragility == "sturdy" and _flat(p) and _shape(p)[0] <= 40,
    ),
    Craft(
        key="soft-bake",
        name="Soft bake",
        about="It crushes before it breaks and dries out: close wrap, no weight on it, few days in transit.",
        wraps=(Wrapping(kind="sheet", turns=Decimal(2), ends=2, why="Two food-contact turns keep it moist."),),
        cushion_mm=(15, 15, 20),
        cushion_why="More on top: nothing may press on it.",
        gap_mm=0,
        gap_why="Loaves hold each other.",
        school="fill_tight",
        school_why="It must not slide into a corner.",
        outers="carton",
        pattern="centre",
        closing_why="Light goods: one strip holds, and it shows when it was opened.",
        marks=(),
        checks=("Cooled all through.", "Baked today, date on it."),
        claims=("Baked today, date on it.",),
        proofs=_SHAKE,
        cautions=(_FOOD,),
        minutes=("1.5", "2.5"),
        buyer_note="Eat it within days; it freezes well.",
        fits=lambda p: p.food and not _flat(p) and p.keeps_days is not None and p.keeps_days <= _FRESH_DAYS,
    ),
    Craft(
        key="bars",
        name="Bar goods in groups",
        about="Small, sturdy, sold in numbers: three in one wrap save sheet and hands.",
        wraps=(
            Wrapping(
                kind="sheet", turns=Decimal(1), ends=1, why="One sheet round three: less paper, faster.", together=3
            ),
        ),
        cushion_mm=(10, 10, 10),
        cushion_why="Enough to keep edges off the board.",
        gap_mm=0,
        gap_why="Sturdy bars may touch.",
        school="fill_tight",
        school_why="Small things rattle.",
        outers="mailer_or_carton",
        pattern="centre",
        closing_why="Light goods: one strip holds.",
        marks=(),
        checks=("Edges whole, label on.",),
        proofs=_SHAKE[:1],
        cautions=(),
        minutes=("0.5", "1.5"),
        fits=lambda _: True,
    ),
)


def craft_for(product: Product) -> Craft:
    """Return the first craft that fits a product: alive, melting, tall, flat, glass, open form, cloth, bake, bars.

    By its nature (shape, fragility, glass, days it keeps, melting), never by the food tick alone: food that is flat and
    keeps is no bake.
    """
    return next(craft for craft in CRAFTS if craft.fits(product))


def why_craft(craft: Craft, product: Product) -> tuple[Message, ...]:
    """Return the facts of the product that speak for a craft, or that a person chose another than fits."""
    if craft_for(product).key != craft.key:
        return (say("craft_chosen"),)
    facts = [say(f"nature_{product.fragility}")]
    if _flat(product):
        facts.append(say("nature_flat"))
    if _tall(product):
        facts.append(say("nature_tall"))
    facts += [
        say(f"nature_{name}")
        for name, holds in (
            ("live", product.live),
            ("frozen", product.frozen),
            ("melts", product.meltable),
            ("glass", product.glass),
            ("food", product.food),
        )
        if holds
    ]
    if product.keeps_days is not None:
        facts.append(say("nature_keeps", days=product.keeps_days))
    return tuple(facts)


def craft_named(key: str) -> Craft | None:
    """Return the craft of that key, or None."""
    return next((craft for craft in CRAFTS if craft.key == key), None)
