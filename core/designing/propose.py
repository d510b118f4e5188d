"""A first recipe from what a product is and what the cupboard holds, each line with its reason (designing)."""

from collections.abc import Callable, Collection
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.designing.bands import SizeStep, bands_of, cheapest_per_size
from core.designing.crafts import Craft, Wrapping, why_craft
from core.designing.cupboard import Desk
from core.messages import Fact, Text, say
from core.recipes.goods import Product
from core.recipes.model import Band, BandThermal, Closure, Cushion, InsertAmount, Minutes, Recipe, WrapLayer, size_of
from core.supplies.items import GRADES, ClosureGrade, Fill, Mailer, Tape, Wrap
from core.units import Micrometres, round_money

__all__ = ["Line", "Materials", "Proposal", "proposed", "thermal_of"]

#: Paper and plant-based first, or the soft plastic wraps first.
Materials = Literal["paper", "bubble"]
#: A wrap at most so thick is a sheet: it goes round for looks or for food.
_SHEET_UM: Micrometres = 1_000


#: Works out the order sizes; see ``core.designing.bands.cheapest_per_size``.
SizesOf = Callable[..., tuple[SizeStep, ...]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One part of a proposal: what, and why. A part may be left out by its name."""

    part: str
    words: Text
    why: Text
    may_go: bool = True  #: False: there is no recipe without it
    claim: bool = False  #: it says something about the goods: a person must ask for it


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """A first recipe, ready to plan; no bands when no container takes even one."""

    recipe: Recipe | None
    craft: str
    craft_why: tuple[Text, ...]  #: the facts of the product it was chosen by
    lines: tuple[Line, ...]
    sizes: tuple[SizeStep, ...]
    lacks: tuple[Text, ...]  #: what the cupboard has not got for it


@dataclass(slots=True)
class _Draft:
    """Parts gathered one after another."""

    desk: Desk
    product: Product
    materials: Materials
    without: Collection[str]
    claims: Collection[str]
    lines: list[Line]
    lacks: list[Text]

    def takes(self, part: str, words: Text, why: Text) -> bool:
        """Note a part that may be left out; return whether it stays."""
        self.lines.append(Line(part=part, words=words, why=why))
        return part not in self.without

    def claims_that(self, part: str, words: Text) -> bool:
        """Note a text that says something of the goods; return whether a person asked for it."""
        self.lines.append(Line(part=part, words=words, why=say("why_claim"), claim=True))
        return part in self.claims


def proposed(
    product: Product,
    craft: Craft,
    desk: Desk,
    *,
    code: str,
    usual_inserts: tuple[InsertAmount, ...] = (),
    materials: Materials = "paper",
    without: Collection[str] = (),
    claims: Collection[str] = (),
    sizes: SizesOf = cheapest_per_size,
) -> Proposal:
    """Return a first recipe for a product of known size and weight.

    ``usual_inserts``: what goes into the workshop's parcels anyway. ``claims``: parts that make a claim about the goods
    and that a person asked for; none is put in unasked. ``sizes`` works the order sizes out (a test or a job gives
    its own).
    Raises ValueError when size or weight is unknown.
    """
    if product.size is None or product.weight_mg is None:
        raise ValueError(f"{product.sku} has no size or weight")
    draft = _Draft(desk=desk, product=product, materials=materials, without=without, claims=claims, lines=[], lacks=[])
    layers = _layers(craft, draft)
    cushion = _cushion(craft, draft)
    fill = _fill(draft) if craft.cushion_mm != (0, 0, 0) else None
    closure = _closure(craft, draft)
    inserts = _inserts(usual_inserts, draft)
    thermal = _thermal(draft)
    marks = (
        craft.marks if craft.marks and draft.takes("marks", say("list", items=craft.marks), say("why_marks")) else ()
    )
    gap = craft.gap_mm * 1000
    if gap and not draft.takes("gap", say("gap_between", gap_um=gap), craft.gap_why):
        gap = 0
    minutes = Minutes(per_unit=Decimal(craft.minutes[0]), per_parcel=Decimal(craft.minutes[1]))
    words = say("minutes_of", each_minutes=minutes.per_unit, parcel_minutes=minutes.per_parcel)
    draft.lines.append(
        Line(
            part="minutes",
            words=words,
            why=say("why_minutes"),
            may_go=False,
        )
    )
    ahead = craft.ahead
    if ahead and not draft.takes("ahead", say("list", items=tuple(one.what for one in ahead)), say("why_ahead")):
        ahead = ()
    checks = tuple(
        check
        for check in craft.checks
        if check not in craft.claims or draft.claims_that(f"check-{craft.checks.index(check)}", check)
    )
    buyer_note = craft.buyer_note if craft.buyer_note and draft.claims_that("buyer-note", craft.buyer_note) else ""
    sketch = _sketch(craft, desk, layers, cushion, fill, closure, inserts, marks, gap, minutes, thermal)
    recipe = Recipe(
        code=code, name=product.name, version=0, goods_checks=checks, wrap_note=craft.wrap_note,
        proving_checks=craft.proofs, closed_checks=craft.closed_proofs, mailer_checks=craft.mailer_proofs,
        cautions=craft.cautions, bands=(), buyer_note=buyer_note, ahead=ahead,
    )  # fmt: skip
    two = craft.two_cartons and draft.takes("inner", say("inner_floats"), say("why_inner"))
    steps = sizes(sketch, recipe, product, desk, two_cartons=two)
    bands = bands_of(steps, sketch, floating_um=desk.facts.settings.judgements.floating_um)
    for band in bands:
        draft.lines.append(_band_line(band, steps, desk.facts.settings.money_digits))
    if not bands:
        # Without a price list no parcel can be costed, so none is chosen.
        lack = say("lack_container", name=product.name) if desk.facts.tariffs else say("lack_price_list")
        draft.lacks.append(lack)
    return Proposal(
        recipe=replace(recipe, bands=bands) if bands else None,
        craft=craft.key,
        craft_why=why_craft(craft, product),
        lines=tuple(draft.lines),
        sizes=steps,
        lacks=tuple(draft.lacks),
    )


def _sketch(
    craft: Craft, desk: Desk, layers: tuple[WrapLayer, ...], cushion: Cushion, fill: str | None,
    closure: Closure | None, inserts: tuple[InsertAmount, ...], marks: tuple[str, ...], gap_um: int, minutes: Minutes,
    thermal: BandThermal | None,
) -> Callable[[int], Band]:  # fmt: skip
    mailers = tuple(o.code for o in desk.facts.containers if isinstance(o, Mailer))

    def band(units: int) -> Band:
        return Band(
            first=1, last=units, layers=layers, unit_box=None, inner=None,
            outers=mailers if craft.outers == "mailer_or_carton" else (), any_outer=True, gap_um=gap_um,
            cushion=cushion, fill=fill, closure=closure, inserts=inserts, marks=marks, minutes=minutes,
            proud_percent=desk.facts.settings.judgements.proud_percent, school=craft.school, thermal=thermal,
        )  # fmt: skip

    return band


def _band_line(band: Band, sizes: tuple[SizeStep, ...], money_digits: int) -> Line:
    mine = [size for size in sizes if band.first <= size.units <= band.last]
    container = band.outers[0]
    each = [round_money(size.total_in(container) / size.units, money_digits) for size in mine]
    apart = tuple(sorted({size.container for size in mine if size.container != container}))
    facts: dict[str, Fact] = {"size": size_of(band.first, band.last), "container": container}
    words = say("band_in_two", **facts, inner=mine[0].inner) if mine[0].inner else say("band_in", **facts)
    told: list[Text] = [
        say("why_band_one", each_money=each[0])
        if len(mine) == 1
        else say("why_band", first_money=each[0], last_money=each[-1])
    ]
    if apart:
        told.append(say("why_band_others", containers=apart))
    why = say("after_each_other", texts=tuple(told))
    return Line(part=f"band-{band.first}", words=words, why=why, may_go=False)


def _layers(craft: Craft, draft: _Draft) -> tuple[WrapLayer, ...]:
    found = []
    judged = draft.desk.facts.settings.judgements
    for number, wrapping in enumerate(craft.wraps):
        food = draft.product.food and number == 0
        wrap = _wrap_for(wrapping, draft, food=food)
        if wrap is None:
            kind = "food" if food else wrapping.kind
            draft.lacks.append(say(f"lack_wrap_{kind}", why=wrapping.why))
            continue
        together = wrapping.together
        facts: dict[str, Fact] = {"wrap": wrap.name, "turns_number": f"{wrapping.turns:f}", "together": together}
        if draft.takes(f"wrap-{number}", say("wrap_group" if together > 1 else "wrap_unit", **facts), wrapping.why):
            ends = wrapping.ends
            found.append(
                WrapLayer(
                    wrap=wrap.code,
                    turns=wrapping.turns,
                    ends_top=ends,
                    ends_bottom=ends,
                    per_units=together,
                    compression=judged.compression,
                    overlap_um=judged.sheet_overlap_um,
                )
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
    words = say("cushion_of", below_um=below, side_um=side, top_um=top)
    draft.lines.append(Line(part="cushion", words=words, why=craft.cushion_why, may_go=False))
    return Cushion(bottom_um=below, side_um=side, top_um=top)


def _fill(draft: _Draft) -> str | None:
    """The cheapest that holds the goods: for what may break one that neither bursts nor lets them sink, where there
    is one.
    """
    weight = draft.product.weight_mg or 0
    fills: list[Fill] = [fill for fill in draft.desk.facts.shelf.fills.values() if fill.holds(weight)]
    if draft.product.fragility != "sturdy":
        fills = [fill for fill in fills if not (fill.sinks or fill.bursts)] or fills
    paper = [fill for fill in fills if not draft.desk.plastic(fill.code)]
    best = min(paper or fills, key=lambda f: (f.unit_cost * f.packing_factor, f.code), default=None)
    if best is None:
        draft.lacks.append(say("lack_fill"))
        return None
    return best.code if draft.takes("fill", best.name, say("why_fill")) else None


def thermal_of(product: Product, desk: Desk) -> BandThermal | None:
    """A liner and packs for goods with a limit of heat or cold: the cheapest liner, packs of the right sort.

    Cold packs that melt below the upper limit, those in a sleeve first where goods must not freeze; heat packs for a
    lower limit. Always for frozen goods, else when the weather of the way asks for them (rules 15.4). None: the goods
    have no limit, or the cupboard nothing for them.
    """
    low, high = product.limits_c(desk.facts.settings.judgements)
    if low is None and high is None:
        return None
    inserts = list(desk.facts.shelf.inserts.values())
    liner = min((one for one in inserts if one.liner is not None), key=lambda one: one.unit_cost, default=None)
    packs = [one for one in inserts if one.pack is not None]
    cold = [
        one
        for one in packs
        if one.pack and one.pack.kind not in ("heat", "dry_ice") and one.pack.melts_c < (high or -99)
    ]
    heat = [one for one in packs if one.pack and one.pack.kind == "heat" and low is not None]
    cold.sort(key=lambda one: (low is not None and not (one.pack and one.pack.padded), one.unit_cost, one.code))
    heat.sort(key=lambda one: (one.unit_cost, one.code))
    chosen = [*cold[:2], *heat[:1]]
    if liner is None and not chosen:
        return None
    return BandThermal(
        liner=liner.code if liner is not None else "",
        packs=tuple(one.code for one in chosen),
        when="always" if product.frozen else "needed",
        least=1 if product.frozen and chosen else 0,
    )


def _thermal(draft: _Draft) -> BandThermal | None:
    product, desk = draft.product, draft.desk
    if product.limits_c(desk.facts.settings.judgements) == (None, None):
        return None
    found = thermal_of(product, desk)
    if found is None:
        draft.lacks.append(say("lack_thermal"))
        return None
    names = tuple(desk.facts.shelf.inserts[code].name for code in (found.liner, *found.packs) if code)
    why = say("why_thermal_frozen" if product.frozen else "why_thermal")
    return found if draft.takes("thermal", say(f"thermal_{found.when}", what=names), why) else None


def _closure(craft: Craft, draft: _Draft) -> Closure | None:
    required: ClosureGrade = "evident" if draft.product.food else "none"
    tapes: list[Tape] = [t for t in draft.desk.facts.shelf.tapes.values() if GRADES[t.grade] >= GRADES[required]]
    heavy = draft.product.fragility != "sturdy" and required == "none"
    best = min(
        tapes,
        key=lambda t: (draft.desk.plastic(t.code), -GRADES[t.grade] if heavy else 0, t.unit_cost, t.code),
        default=None,
    )
    if best is None:
        draft.lacks.append(say("lack_tape", grade=say(f"grade_{required}")))
        return None
    words = say("closed_with", tape=best.name, pattern=say(f"pattern_{craft.pattern}"))
    draft.lines.append(Line(part="closure", words=words, why=craft.closing_why, may_go=False))
    return Closure(
        tape=best.code, pattern=craft.pattern, both_faces=True, required_grade=required,
        overhang_um=draft.desk.facts.settings.judgements.tape_overhang_um,
    )  # fmt: skip


def _inserts(usual: tuple[InsertAmount, ...], draft: _Draft) -> tuple[InsertAmount, ...]:
    found = []
    for insert in usual:
        if insert.insert not in draft.desk.facts.shelf.inserts:
            continue
        name = draft.desk.name(insert.insert)
        if insert.required:
            draft.lines.append(
                Line(part=f"insert-{insert.insert}", words=name, why=say("why_required_insert"), may_go=False)
            )
            found.append(insert)
        elif draft.takes(f"insert-{insert.insert}", name, say("why_usual_insert")):
            found.append(insert)
    return tuple(found)
