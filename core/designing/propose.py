"""A first recipe from what a product is and what the cupboard holds, each line with its reason (designing)."""

from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.designing.bands import SizeStep, bands_of, cheapest_per_size
from core.designing.crafts import Craft, Wrapping
from core.designing.cupboard import Desk
from core.recipes.goods import Product
from core.recipes.model import Band, Closure, Cushion, InsertAmount, Minutes, Recipe, WrapLayer, size_words
from core.supplies.items import ClosureGrade, Fill, Mailer, Tape, Wrap
from core.units import Micrometres, format_length, round_money

__all__ = ["Line", "Materials", "Proposal", "proposed"]

#: Paper and plant-based first, or the soft plastic wraps first.
Materials = Literal["paper", "bubble"]
#: A wrap at most so thick is a sheet: it goes round for looks or for food.
_SHEET_UM: Micrometres = 1_000
_GRADES: dict[ClosureGrade, int] = {"none": 0, "resistant": 1, "evident": 2}


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One part of a proposal: what, and why. A part may be left out by its name."""

    part: str
    words: str
    why: str
    may_go: bool = True  #: False: there is no recipe without it


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """A first recipe, ready to plan; no bands when no container takes even one."""

    recipe: Recipe | None
    craft: str
    lines: tuple[Line, ...]
    sizes: tuple[SizeStep, ...]
    lacks: tuple[str, ...]  #: what the cupboard has not got for it


@dataclass(slots=True)
class _Draft:
    """Parts gathered one after another."""

    desk: Desk
    product: Product
    materials: Materials
    without: Collection[str]
    lines: list[Line]
    lacks: list[str]

    def takes(self, part: str, words: str, why: str) -> bool:
        """Note a part that may be left out; return whether it stays."""
        self.lines.append(Line(part=part, words=words, why=why))
        return part not in self.without


def proposed(
    product: Product,
    craft: Craft,
    desk: Desk,
    *,
    code: str,
    usual_inserts: tuple[InsertAmount, ...] = (),
    materials: Materials = "paper",
    without: Collection[str] = (),
) -> Proposal:
    """Return a first recipe for a product of known size and weight.

    ``usual_inserts``: what goes into the workshop's parcels anyway. Raises ValueError when size or weight is unknown.
    """
    if product.size is None or product.weight_mg is None:
        raise ValueError(f"{product.sku} has no size or weight")
    draft = _Draft(desk=desk, product=product, materials=materials, without=without, lines=[], lacks=[])
    layers = _layers(craft, draft)
    cushion = _cushion(craft, draft)
    fill = _fill(draft) if craft.cushion_mm != (0, 0, 0) else None
    closure = _closure(craft, draft)
    inserts = _inserts(usual_inserts, draft)
    marks = (
        craft.marks
        if craft.marks and draft.takes("marks", ", ".join(craft.marks), "What carrier and buyer must see.")
        else ()
    )
    gap = craft.gap_mm * 1000
    if gap and not draft.takes("gap", f"{craft.gap_mm} mm between units", craft.gap_why):
        gap = 0
    minutes = Minutes(per_unit=Decimal(craft.minutes[0]), per_parcel=Decimal(craft.minutes[1]))
    words = f"{minutes.per_unit.normalize():f} min each and {minutes.per_parcel.normalize():f} for the parcel"
    draft.lines.append(
        Line(
            part="minutes",
            words=words,
            why="A judgement for this craft; change it when you have timed it.",
            may_go=False,
        )
    )
    ahead = craft.ahead
    if ahead and not draft.takes(
        "ahead", "; ".join(one.what for one in ahead), "It must be done hours before the packing."
    ):
        ahead = ()
    sketch = _sketch(craft, desk, layers, cushion, fill, closure, inserts, marks, gap, minutes)
    recipe = Recipe(
        code=code, name=product.name, version=0, goods_checks=craft.checks, wrap_note=craft.wrap_note,
        proving_checks=craft.proofs, cautions=craft.cautions, bands=(), buyer_note=craft.buyer_note, ahead=ahead,
    )  # fmt: skip
    two = craft.two_cartons and draft.takes(
        "inner", "an inner carton that floats in the outer", "Two cartons: the rim stays 25 mm from every wall."
    )
    sizes = cheapest_per_size(sketch, recipe, product, desk, two_cartons=two)
    bands = bands_of(sizes, sketch)
    for band in bands:
        draft.lines.append(_band_line(band, sizes, desk.facts.settings.money_digits))
    if not bands:
        draft.lacks.append(
            f"No container takes one {product.name} packed like this. Put a larger carton in the cupboard."
        )
    return Proposal(
        recipe=replace(recipe, bands=bands) if bands else None,
        craft=craft.key, lines=tuple(draft.lines), sizes=sizes, lacks=tuple(draft.lacks),
    )  # fmt: skip


def _sketch(
    craft: Craft, desk: Desk, layers: tuple[WrapLayer, ...], cushion: Cushion, fill: str | None,
    closure: Closure | None, inserts: tuple[InsertAmount, ...], marks: tuple[str, ...], gap_um: int, minutes: Minutes,
) -> Callable[[int], Band]:  # fmt: skip
    mailers = tuple(o.code for o in desk.facts.containers if isinstance(o, Mailer))

    def band(units: int) -> Band:
        return Band(
            first=1, last=units, layers=layers, unit_box=None, inner=None,
            outers=mailers if craft.outers == "mailer_or_carton" else (), any_outer=True, gap_um=gap_um,
            cushion=cushion, fill=fill, proud_percent=5, closure=closure, inserts=inserts, marks=marks,
            minutes=minutes, school=craft.school,
        )  # fmt: skip

    return band


def _band_line(band: Band, sizes: tuple[SizeStep, ...], money_digits: int) -> Line:
    mine = [size for size in sizes if band.first <= size.units <= band.last]
    container = band.outers[0]
    name = size_words(band.first, band.last)
    inner = f", {mine[0].inner} inside" if mine[0].inner else ""
    each = [round_money(size.total_in(container) / size.units, money_digits) for size in mine]
    told = f"{each[0]:f}" if len(mine) == 1 else f"{each[0]:f} down to {each[-1]:f}"
    apart = sorted({size.container for size in mine if size.container != container})
    why = f"The cheapest all in: {told} each, postage and minutes counted."
    if apart:
        why += f" {', '.join(apart)} would be cheaper for some of these, by less than a column of its own is worth."
    return Line(part=f"band-{band.first}", words=f"{name}: {container}{inner}", why=why, may_go=False)


def _layers(craft: Craft, draft: _Draft) -> tuple[WrapLayer, ...]:
    found = []
    for number, wrapping in enumerate(craft.wraps):
        food = draft.product.food and number == 0
        wrap = _wrap_for(wrapping, draft, food=food)
        if wrap is None:
            kind = "food-contact sheet" if food else "thin sheet" if wrapping.kind == "sheet" else "soft wrap"
            draft.lacks.append(f"There is no {kind} in the cupboard: {wrapping.why}")
            continue
        together = wrapping.together
        turns = f"{wrapping.turns.normalize():f} turn{'' if wrapping.turns == 1 else 's'}"
        round_what = f" round {together} together" if together > 1 else ""
        if draft.takes(f"wrap-{number}", f"{wrap.name}, {turns}{round_what}", wrapping.why):
            ends = wrapping.ends
            found.append(
                WrapLayer(wrap=wrap.code, turns=wrapping.turns, ends_top=ends, ends_bottom=ends, per_units=together)
            )
    return tuple(found)


def _wrap_for(wrapping: Wrapping, draft: _Draft, *, food: bool) -> Wrap | None:
    wraps = [wrap for wrap in draft.desk.facts.shelf.wraps.values() if not food or wrap.food_contact]
    thin = wrapping.kind == "sheet"
    fit = [wrap for wrap in wraps if (wrap.thickness_um <= _SHEET_UM) == thin]
    wanted = draft.materials == "bubble" and not thin
    # The school first, then what costs least for the same thickness.
    return min(
        fit, default=None,
        key=lambda w: (draft.desk.plastic(w.code) != wanted, w.unit_cost / (1 if thin else w.thickness_um), w.code),
    )  # fmt: skip


def _cushion(craft: Craft, draft: _Draft) -> Cushion:
    below, side, top = (mm * 1000 for mm in craft.cushion_mm)
    words = f"{format_length(below)} below, {format_length(side)} at the sides, {format_length(top)} on top"
    draft.lines.append(Line(part="cushion", words=words, why=craft.cushion_why, may_go=False))
    return Cushion(bottom_um=below, side_um=side, top_um=top)


def _fill(draft: _Draft) -> str | None:
    fills: list[Fill] = list(draft.desk.facts.shelf.fills.values())
    paper = [fill for fill in fills if not draft.desk.plastic(fill.code)]
    best = min(paper or fills, key=lambda f: (f.unit_cost * f.packing_factor, f.code), default=None)
    if best is None:
        draft.lacks.append("There is no fill in the cupboard: the void stays open.")
        return None
    cost = (best.unit_cost * best.packing_factor).quantize(Decimal("0.001"))
    return best.code if draft.takes("fill", best.name, f"The cheapest a litre of void: {cost:f}.") else None


def _closure(craft: Craft, draft: _Draft) -> Closure | None:
    required: ClosureGrade = "evident" if draft.product.food else "none"
    tapes: list[Tape] = [t for t in draft.desk.facts.shelf.tapes.values() if _GRADES[t.grade] >= _GRADES[required]]
    heavy = draft.product.fragility != "sturdy" and required == "none"
    best = min(
        tapes,
        key=lambda t: (draft.desk.plastic(t.code), -_GRADES[t.grade] if heavy else 0, t.unit_cost, t.code),
        default=None,
    )
    if best is None:
        draft.lacks.append(f"There is no tape that gives a tamper-{required} closure.")
        return None
    pattern = "the H" if craft.pattern == "h" else "one strip" if craft.pattern == "centre" else "the cross"
    draft.lines.append(
        Line(part="closure", words=f"{best.name}, {pattern}, both faces", why=craft.closing_why, may_go=False)
    )
    return Closure(tape=best.code, pattern=craft.pattern, both_faces=True, required_grade=required)


def _inserts(usual: tuple[InsertAmount, ...], draft: _Draft) -> tuple[InsertAmount, ...]:
    found = []
    for insert in usual:
        if insert.insert not in draft.desk.facts.shelf.inserts:
            continue
        name = draft.desk.name(insert.insert)
        if insert.required:
            draft.lines.append(
                Line(part=f"insert-{insert.insert}", words=name, why="Every parcel must have it.", may_go=False)
            )
            found.append(insert)
        elif draft.takes(f"insert-{insert.insert}", name, "It goes into most of your parcels."):
            found.append(insert)
    return tuple(found)
