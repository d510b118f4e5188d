"""The steps of one parcel at the bench, one sentence each, in the order of the hands (bench).

Papers first, then gathering, checking, cutting, wrapping, packing, testing with the flaps open, closing, turning over,
weighing, label, hand-over. Each step says what to take, how many to tick, and which layer of the drawing it is about; a
text of a recipe is for that recipe's goods and says so where there are several. Pure: a reading of the plan.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.judgements import ORDINARY
from core.messages import Fact, Message, Text, say
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.layers import PackLayer
from core.parcels.measured import amount_of
from core.recipes.expand import Piece, Use, UseRole
from core.recipes.model import Recipe
from core.recipes.wrap import Cut

__all__ = ["BenchStep", "StepKind", "Take", "amount_of_use", "marks_of", "steps_of", "steps_when_ready"]

StepKind = Literal[
    "print",
    "gather",
    "check",
    "out",
    "cut",
    "wrap",
    "pack",
    "do",
    "prove",
    "close",
    "prove_closed",
    "weigh",
    "label",
    "hand_over",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Take:
    """Something to take from the shelf: a supply or a product, and how much of it as hands measure it."""

    code: str
    name: str
    quantity: Decimal  #: in the stock unit
    amount: Text
    role: UseRole | Literal["goods"]
    detail: Text


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchStep:
    """One step, large."""

    kind: StepKind
    title: Text
    detail: Text
    takes: tuple[Take, ...] = ()
    tick_units: int = 0  #: how many to tick: units looked at, bodies wrapped or placed; 0: none
    layer: int | None = None  #: index of the layer it is about
    cautions: tuple[Text, ...] = ()
    limit_minutes: int | None = None  #: from here on, until it is closed: goods warm up


def steps_of(
    parcel: PlannedParcel,
    recipes: tuple[Recipe, ...],
    layers: tuple[PackLayer, ...],
    names: dict[str, str],
    note: str = "",
    out_minutes: int = ORDINARY.out_of_freezer_minutes,
) -> tuple[BenchStep, ...]:
    """Return the parcel's steps in order; a person's note for this order comes before all that is to be minded.

    ``layers`` are those of ``pack_layers``; frozen goods come out of the freezer last, for ``out_minutes`` at most. Two
    cartons are packed and closed one after the other, then strapped.
    """
    work = _Work(parcel=parcel, recipes={recipe.code: recipe for recipe in recipes}, layers=layers, names=names)
    steps = [work.papers(), *work.warming(), work.gathering(note)]
    if any(piece.frozen for piece in parcel.pieces):
        steps += [*work.cutting(), work.out(out_minutes), *work.checking(), *work.wrapping()]
    else:
        steps += [*work.checking(), *work.cutting(), *work.wrapping()]
    for number, carton in enumerate(parcel.cartons):
        steps += work.packing(carton, number)
    steps += work.strapping()
    steps += [
        BenchStep(kind="weigh", title=say("step_weigh"), detail=say("step_weigh_detail")),
        work.label(),
        work.hand_over(),
    ]
    return tuple(steps)


def marks_of(parcel: PlannedParcel, service: str | None = None) -> tuple[str, ...]:
    """Return what must stand on a parcel: its recipes' marks, and those of the carrier's service
    (none: the planned).
    """
    quotes = (parcel.candidate.quote, *parcel.candidate.quotes)
    wanted = service or parcel.candidate.quote.service
    quote = next((quote for quote in quotes if quote.service == wanted), quotes[0])
    own = (mark for piece in parcel.pieces for mark in piece.band.marks)
    return tuple(dict.fromkeys((*own, *parcel.marks, *quote.markings)))


def steps_when_ready(steps: tuple[BenchStep, ...], *, place: str, packed: Text) -> tuple[BenchStep, ...]:
    """Return the steps of a parcel that was packed ahead: papers, fetch it, test it once more, weigh, label, hand over.

    ``steps`` are those of packing it; ``place`` is where it stands, ``packed`` when and by whom it was packed.
    """
    cautions = tuple(dict.fromkeys(text for step in steps for text in step.cautions))
    fetch = BenchStep(kind="gather", title=say("step_take_ready", place=place), detail=packed, cautions=cautions)
    papers = tuple(replace(step, takes=()) for step in steps if step.kind == "print")
    return (*papers, fetch, *(s for s in steps if s.kind in ("prove_closed", "weigh", "label", "hand_over")))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Work:
    """One parcel being told, step by step."""

    parcel: PlannedParcel
    recipes: dict[str, Recipe]
    layers: tuple[PackLayer, ...]
    names: dict[str, str]

    @property
    def uses(self) -> tuple[Use, ...]:
        """Return what the whole parcel takes."""
        return self.parcel.candidate.uses

    def name(self, code: str) -> str:
        """Return what a supply is called."""
        return self.names.get(code, code)

    def take(self, use: Use) -> Take:
        """Return what to fetch for a use."""
        return Take(
            code=use.supply,
            name=self.name(use.supply),
            quantity=use.quantity,
            amount=amount_of_use(use),
            role=use.role,
            detail=use.detail,
        )

    def mine(self, pieces: tuple[Piece, ...]) -> list[Recipe]:
        """Return the recipes these goods are packed by, in their order."""
        codes = dict.fromkeys(piece.recipe for piece in pieces)
        return [self.recipes[code] for code in codes if code in self.recipes]

    def told(self, recipe: Recipe, text: str, among: list[Recipe]) -> Text:
        """Return a recipe's own words, marked with whose they are where there are several."""
        return text if len(among) == 1 else say("of_recipe", recipe=recipe.name, text=text)

    # --- before the carton ---

    def papers(self) -> BenchStep:
        """The slip is printed and the cards are fetched first: they go in long before the end."""
        inserts = tuple(self.take(use) for use in self.uses if use.role == "insert")
        detail = say("step_papers_detail") if inserts else ""
        return BenchStep(kind="print", title=say("step_papers"), detail=detail, takes=inserts)

    def gathering(self, note: str) -> BenchStep:
        """Everything is carried to the table before the first sheet is cut."""
        outers = tuple(self.take(use) for use in self.uses if use.role == "outer")
        own = [caution for recipe in self.mine(self.parcel.pieces) for caution in recipe.cautions]
        cautions = tuple(dict.fromkeys((*((note,) if note else ()), *self.parcel.cautions, *own)))
        return BenchStep(
            kind="gather",
            title=say("step_gather", boxes=len(outers)),
            detail=say("step_gather_detail"),
            takes=(*_goods(tuple(piece for piece in self.parcel.pieces if not piece.frozen)), *outers),
            cautions=cautions,
        )

    def warming(self) -> list[BenchStep]:
        """Heat packs are opened first of all: they take their time, and a dud must show before the box is closed."""
        found = []
        for carton in self.parcel.cartons:
            thermal = carton.candidate.thermal
            if thermal is not None and thermal.kind == "heat" and thermal.count:
                found.append(
                    BenchStep(
                        kind="check",
                        title=say("step_packs_heat"),
                        detail=say("step_packs_heat_detail", wait_minutes=thermal.activate_minutes),
                        takes=tuple(self.take(use) for use in carton.candidate.uses if use.role == "pack"),
                        tick_units=thermal.count,
                        cautions=(say("mind_heat_pack"),),
                    )
                )
        return found

    def out(self, out_minutes: int) -> BenchStep:
        """Frozen goods come out last (rules 15.4)."""
        frozen = tuple(piece for piece in self.parcel.pieces if piece.frozen)
        return BenchStep(
            kind="out",
            title=say("step_out"),
            detail=say("step_out_detail", limit_minutes=out_minutes),
            takes=_goods(frozen),
            limit_minutes=out_minutes,
        )

    def _cold_packs(self, candidate: Candidate) -> list[BenchStep]:
        """Each pack is felt before it goes in: one that was not frozen through cools nothing."""
        thermal = candidate.thermal
        if thermal is None or not thermal.count or thermal.kind == "heat":
            return []
        caution = say("mind_dry_ice" if thermal.kind == "dry_ice" else "mind_cold_pack")
        takes = tuple(self.take(use) for use in candidate.uses if use.role == "pack")
        return [
            BenchStep(
                kind="check",
                title=say("step_packs_cold"),
                detail=say("step_packs_cold_detail"),
                takes=takes,
                tick_units=thermal.count,
                cautions=(caution,),
            )
        ]

    def checking(self) -> list[BenchStep]:
        """Each recipe's goods are checked for what that recipe says."""
        recipes = self.mine(self.parcel.pieces)
        found = []
        for recipe in recipes:
            pieces = tuple(piece for piece in self.parcel.pieces if piece.recipe == recipe.code)
            if recipe.goods_checks:
                goods = tuple(dict.fromkeys(piece.name for piece in pieces))
                found.append(
                    BenchStep(
                        kind="check",
                        title=say("step_check") if len(recipes) == 1 else say("step_check_goods", goods=goods),
                        detail=say("after_each_other", texts=recipe.goods_checks),
                        takes=_goods(pieces),
                        tick_units=sum(piece.units for piece in pieces),
                    )
                )
        return found

    def cutting(self) -> list[BenchStep]:
        """One list of lengths for the whole parcel: equal lengths of one supply are cut together."""
        lengths: dict[tuple[str, int, int | None], list[Use]] = {}
        for use in self.uses:
            if use.cut is not None:
                lengths.setdefault((use.supply, use.cut.length_um, use.cut.across_um), []).append(use)
        takes = tuple(self._cut(uses) for uses in lengths.values())
        if not takes:
            return []
        return [BenchStep(kind="cut", title=say("step_cut"), detail=say("step_cut_detail"), takes=takes)]

    def _cut(self, uses: list[Use]) -> Take:
        cuts = [use.cut for use in uses if use.cut is not None]
        first = cuts[0]
        count = sum(cut.lengths for cut in cuts)
        return Take(
            code=uses[0].supply,
            name=self.name(uses[0].supply),
            quantity=sum((use.quantity for use in uses), Decimal(0)),
            amount=_lengths(count, first),
            role="wrap",
            detail=_across(cuts),
        )

    def wrapping(self) -> list[BenchStep]:
        """Layer by layer, each said of the product it goes round; what is wrapped is ticked."""
        by_code = {piece.code: piece for piece in self.parcel.pieces}
        noted: set[str] = set()
        found = []
        for use in self.uses:
            piece = by_code.get(use.goods)
            if use.role not in ("wrap", "unit box") or piece is None:
                continue
            detail: list[Text] = [use.detail] if use.role == "wrap" else []
            recipe = self.recipes.get(piece.recipe)
            if recipe is not None and recipe.wrap_note and recipe.code not in noted:
                noted.add(recipe.code)
                detail.append(recipe.wrap_note)
            if use.role == "unit box" and piece.band.unit_box_sealed:
                detail.append(say("seal_it"))
            how = "wrap" if use.role == "wrap" else "box"
            code = f"step_{how}_groups" if piece.holds > 1 else f"step_{how}"
            facts: dict[str, Fact] = {
                "bodies": use.bodies,
                "holds": piece.holds,
                "name": piece.name,
                "supply": self.name(use.supply),
            }
            found.append(
                BenchStep(
                    kind="wrap",
                    title=say(code, **facts),
                    detail=say("sentences", texts=tuple(detail)),
                    takes=() if use.cut is not None else (self.take(use),),
                    tick_units=use.bodies,
                )
            )
        return found

    # --- the carton ---

    def packing(self, carton: PlannedParcel, number: int) -> list[BenchStep]:
        """One carton from its first layer to the test after closing."""
        recipes = self.mine(carton.pieces)
        mailer = carton.candidate.kind == "mailer"
        steps = self._layers(carton.candidate, number)
        more = dict.fromkeys(
            self.told(recipe, text, recipes)
            for recipe in recipes
            for piece in carton.pieces
            if piece.recipe == recipe.code
            for text in piece.band.steps
        )
        steps += [BenchStep(kind="do", title=text, detail="") for text in more]
        if not mailer:
            steps += self._proof("prove", "proving_checks", recipes)
        steps += self._closing(carton.candidate, number)
        return steps + self._proof("prove_closed", "mailer_checks" if mailer else "closed_checks", recipes)

    def _proof(self, kind: Literal["prove", "prove_closed"], which: str, recipes: list[Recipe]) -> list[BenchStep]:
        texts: dict[str, list[Recipe]] = {}
        for recipe in recipes:
            for text in getattr(recipe, which):
                texts.setdefault(text, []).append(recipe)
        if not texts:
            return []
        # What every recipe asks for is said once, for all.
        told = tuple(text if len(of) == len(recipes) else self.told(of[0], text, recipes) for text, of in texts.items())
        return [BenchStep(kind=kind, title=say(f"step_{kind}"), detail=say("after_each_other", texts=told))]

    def _layers(self, candidate: Candidate, number: int) -> list[BenchStep]:
        fetched: set[tuple[str, str]] = set()
        inner = next((use for use in candidate.uses if use.role == "inner"), None)
        found: list[BenchStep] = []
        felt = False
        for index, layer in enumerate(self.layers):
            if layer.kind in ("close", "strap") or layer.carton != number:
                continue
            if layer.kind == "packs" and not felt:
                felt = True
                found += self._cold_packs(candidate)
                fetched.update((use.supply, "pack") for use in candidate.uses if use.role == "pack")
            takes = tuple(
                self.take(use)
                for use in candidate.uses
                if use.supply in layer.supplies
                and (use.supply, use.role) not in fetched
                and use.role in _FETCHED_WITH[layer.kind]
            )
            # The whole amount is fetched once; later layers come out of the same heap.
            fetched.update((take.code, take.role) for take in takes)
            if layer.kind == "units" and inner is not None:
                # What the first units are set in must be at hand by then.
                takes, inner = (self.take(inner),), None
            ticks = len(layer.placements) if layer.kind == "units" else 0
            title = say(f"step_{layer.kind}", what=layer.title) if layer.kind in _LED else layer.title
            found.append(
                BenchStep(kind="pack", title=title, detail=layer.detail, takes=takes, tick_units=ticks, layer=index)
            )
        return found

    def _closing(self, candidate: Candidate, number: int) -> list[BenchStep]:
        tapes = tuple(self.take(use) for use in candidate.uses if use.role == "tape")
        mine = [(i, layer) for i, layer in enumerate(self.layers) if layer.kind == "close" and layer.carton == number]
        return [
            BenchStep(kind="close", title=layer.title, detail=layer.detail, takes=tapes if n == 0 else (), layer=index)
            for n, (index, layer) in enumerate(mine)
        ]

    # --- the parcel ---

    def strapping(self) -> list[BenchStep]:
        """Two cartons become one parcel."""
        index = next((i for i, layer in enumerate(self.layers) if layer.kind == "strap"), None)
        if index is None:
            return []
        takes = tuple(self.take(use) for use in self.uses if use.role == "strap")
        layer = self.layers[index]
        return [BenchStep(kind="close", title=layer.title, detail=layer.detail, takes=takes, layer=index)]

    def label(self) -> BenchStep:
        """The label, bought at the measured weight: where it goes, what its carrier says of tape (rules 10.11)."""
        quote = self.parcel.candidate.quote
        closing = self.parcel.candidate.closing
        said = [
            say("step_label_detail", carrier=quote.carrier_name, zone=quote.zone),
            say(f"label_place_{self.parcel.candidate.kind}"),
        ]
        if quote.tape_over_label is not None:
            said.append(say(f"label_tape_{quote.tape_over_label}"))
        return BenchStep(
            kind="label",
            title=say("step_label", service=quote.service_name),
            detail=say("after_each_other", texts=tuple(said)),
            cautions=(say("cover_old_marks"),) if closing is not None and closing.old_marks else (),
        )

    def hand_over(self) -> BenchStep:
        """Marks, and where the parcel goes."""
        marks = marks_of(self.parcel)
        detail = say("mark_it", marks=marks) if marks else say("no_marks")
        return BenchStep(kind="hand_over", title=say("step_hand_over"), detail=detail)


#: Layers whose title is what goes in; the step says what the hands do with it.
_LED = frozenset({"units", "insert", "divider"})
#: What is fetched with each kind of layer; inserts lie on the table since the papers.
_FETCHED_WITH: dict[str, tuple[str, ...]] = {
    "cut": ("joint",),
    "liner": ("liner",),
    "packs": ("pack",),
    "cushion": ("fill",),
    "fill": ("fill",),
    "inner_fill": ("inner fill",),
    "divider": ("divider",),
    "units": (),
    "inner": (),
    "insert": (),
}


def amount_of_use(use: Use) -> Message:
    """Return how much of a supply is fetched, as hands measure it."""
    if use.parts:
        total = sum((part.count for part in use.parts), Decimal(0))
        return amount_of(use.parts[0].unit, total)
    if use.role in ("tape", "strap", "joint"):
        return say("stock_m", amount_m=use.quantity)
    if use.cut is not None:
        return _lengths(use.cut.lengths, use.cut)
    return say("stock_number", amount_number=use.quantity)


def _lengths(count: int, cut: Cut) -> Message:
    return say("sheets", count=count) if cut.ready else say("lengths", count=count, length_um=cut.length_um)


def _across(cuts: list[Cut]) -> Text:
    """Return what is done to the lengths: strips joined, sheets cut out side by side, or trimmed to their width."""
    first = cuts[0]
    widths = tuple(dict.fromkeys(cut.keep_um for cut in cuts))
    if first.joined > 1:
        return say("joined_strips", strips=first.joined)
    if first.ready:
        return ""
    if len(widths) > 1:
        return say("sheet_widths")
    if first.sheets_each > 1:
        return say("sheets_each", sheets=first.sheets_each, width_um=first.keep_um)
    if first.across_um is None:
        return say("so_wide", width_um=first.keep_um)
    return say("trimmed", width_um=first.keep_um) if first.across_um > first.keep_um else say("full_width")


def _goods(pieces: tuple[Piece, ...]) -> tuple[Take, ...]:
    units: dict[str, int] = {}
    for piece in pieces:
        units[piece.sku] = units.get(piece.sku, 0) + piece.units
    names = {piece.sku: piece.name for piece in pieces}
    return tuple(
        Take(
            code=sku,
            name=names[sku],
            quantity=Decimal(count),
            amount=say("stock_number", amount_number=count),
            role="goods",
            detail="",
        )
        for sku, count in units.items()
    )
