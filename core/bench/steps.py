"""The steps of one parcel at the bench, one sentence each, in the order of the hands (bench).

From gathering to marking; each step says what to take, how many units to tick, and which layer of the drawing
it is about. Pure: a reading of the plan and its recipes.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.bench.weight_check import Change
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.layers import PackLayer
from core.recipes.expand import Piece, Use
from core.recipes.model import Recipe
from core.tariffs.model import LabelTape

__all__ = ["BenchStep", "StepKind", "Take", "changes_of", "marks_of", "steps_of", "steps_when_ready"]

StepKind = Literal["gather", "check", "wrap", "pack", "do", "prove", "close", "weigh", "label", "hand_over"]
#: What a carrier says of tape and its label (rules, 10).
_TAPE_WORDS: dict[LabelTape, str] = {
    "over": "Clear tape may go over the label.",
    "edges": "Tape on the edges of the label only, never over the code.",
    "never": "No tape on the label.",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Take:
    """Something to take from the shelf: a supply or a product, and how much."""

    code: str
    name: str
    quantity: Decimal
    role: str  #: the use's role, or "goods"
    detail: str
    sheets: int = 0  #: how many to cut, of what is cut


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchStep:
    """One step, large."""

    kind: StepKind
    title: str  #: one sentence
    detail: str
    takes: tuple[Take, ...]
    tick_units: int  #: how many single units to tick; 0: none
    layer: int | None  #: index of the layer it is about
    cautions: tuple[str, ...]


def steps_of(
    parcel: PlannedParcel,
    recipes: tuple[Recipe, ...],
    layers: tuple[PackLayer, ...],
    names: dict[str, str],
    note: str = "",
) -> tuple[BenchStep, ...]:
    """Return the parcel's steps in order; a person's note for this order comes before all that is to be minded.

    ``layers`` are those of ``pack_layers``. Two cartons are packed and closed one after the other, then strapped.
    """
    candidate, pieces = parcel.candidate, parcel.pieces
    told = (note,) if note else ()
    cautions = tuple(dict.fromkeys((*told, *parcel.cautions, *(c for recipe in recipes for c in recipe.cautions))))
    checks = tuple(dict.fromkeys(c for recipe in recipes for c in recipe.goods_checks))
    proofs = tuple(dict.fromkeys(c for recipe in recipes for c in recipe.proving_checks))
    outers = tuple(_take(use, names) for use in candidate.uses if use.role == "outer")
    steps = [
        _step(
            "gather",
            "Gather the goods and the box" if len(outers) == 1 else "Gather the goods and both boxes",
            "Carry everything to the table before you start.",
            takes=(*_goods(pieces), *outers),
            cautions=cautions,
        )
    ]
    if checks:
        steps.append(_step("check", "Look at each piece", " ".join(checks), takes=_goods(pieces), ticks=_units(pieces)))
    steps += _wrapping(candidate, pieces, recipes, names)
    for number, carton in enumerate(parcel.cartons):
        steps += _packing(carton.candidate, number, layers, names)
        more = dict.fromkeys(text for piece in carton.pieces for text in piece.band.steps)
        steps += [_step("do", text, "") for text in more]
        if proofs:
            steps.append(_step("prove", "Prove it before you close", " ".join(proofs)))
        steps += _closing(carton.candidate, number, layers, names)
    steps += _strapping(candidate, layers, names)
    steps.append(_step("weigh", "Put the parcel on the scale", "Wait until the figure settles."))
    steps.append(
        _step(
            "label",
            f"Buy the label: {candidate.quote.service_name}",
            f"{candidate.quote.carrier_name}, zone {candidate.quote.zone}.",
        )
    )
    marks = marks_of(parcel)
    said = f"Mark it: {', '.join(marks)}." if marks else "No marks on this one."
    tape = candidate.quote.tape_over_label
    said += f" {_TAPE_WORDS[tape]}" if tape is not None else ""
    steps.append(_step("hand_over", "Label on, slip in, parcel to the shelf", said))
    return tuple(steps)


def marks_of(parcel: PlannedParcel, service: str | None = None) -> tuple[str, ...]:
    """Return what must stand on a parcel: its recipes' marks, and those of the carrier's service (none: the planned)."""
    quotes = (parcel.candidate.quote, *parcel.candidate.quotes)
    quote = next((one for one in quotes if one.service == (service or parcel.candidate.quote.service)), quotes[0])
    own = (mark for piece in parcel.pieces for mark in piece.band.marks)
    return tuple(dict.fromkeys((*own, *quote.markings)))


def steps_when_ready(steps: tuple[BenchStep, ...], *, place: str, packed: str) -> tuple[BenchStep, ...]:
    """Return the steps of a parcel that was packed ahead: fetch it, prove it once more, weigh, label, hand over.

    ``steps`` are those of packing it; ``place`` is where it stands, ``packed`` when and by whom it was packed.
    """
    cautions = tuple(dict.fromkeys(text for step in steps for text in step.cautions))
    fetch = _step("gather", f"Take the parcel packed ahead from {place}", f"Packed {packed}.", cautions=cautions)
    return (fetch, *(step for step in steps if step.kind in ("prove", "weigh", "label", "hand_over")))


def _step(
    kind: StepKind,
    title: str,
    detail: str,
    *,
    takes: tuple[Take, ...] = (),
    ticks: int = 0,
    layer: int | None = None,
    cautions: tuple[str, ...] = (),
) -> BenchStep:
    return BenchStep(
        kind=kind, title=title, detail=detail, takes=takes, tick_units=ticks, layer=layer, cautions=cautions
    )


def _take(use: Use, names: dict[str, str]) -> Take:
    return Take(
        code=use.supply,
        name=names.get(use.supply, use.supply),
        quantity=use.quantity,
        role=use.role,
        detail=use.detail,
        sheets=use.sheets,
    )


def _goods(pieces: tuple[Piece, ...]) -> tuple[Take, ...]:
    units: dict[str, int] = {}
    for piece in pieces:
        units[piece.sku] = units.get(piece.sku, 0) + piece.units
    names = {piece.sku: piece.name for piece in pieces}
    return tuple(
        Take(code=sku, name=names[sku], quantity=Decimal(count), role="goods", detail="")
        for sku, count in units.items()
    )


def _units(pieces: tuple[Piece, ...]) -> int:
    return sum(piece.units for piece in pieces)


def _wrapping(
    candidate: Candidate, pieces: tuple[Piece, ...], recipes: tuple[Recipe, ...], names: dict[str, str]
) -> list[BenchStep]:
    notes = " ".join(dict.fromkeys(recipe.wrap_note for recipe in recipes if recipe.wrap_note))
    wraps = [use for use in candidate.uses if use.role == "wrap"]
    boxes = [use for use in candidate.uses if use.role == "unit box"]
    found = []
    for supply in dict.fromkeys(use.supply for use in wraps):
        takes = tuple(_take(use, names) for use in wraps if use.supply == supply)
        found.append(_step("wrap", f"Wrap in {names.get(supply, supply)}", notes, takes=takes, ticks=_units(pieces)))
    for supply in dict.fromkeys(use.supply for use in boxes):
        takes = tuple(_take(use, names) for use in boxes if use.supply == supply)
        count = int(sum((take.quantity for take in takes), Decimal(0)))
        sealed = any(piece.band.unit_box == supply and piece.band.unit_box_sealed for piece in pieces)
        detail = "Seal it: it must show when somebody opened it." if sealed else ""
        found.append(_step("wrap", f"Each into its {names.get(supply, supply)}", detail, takes=takes, ticks=count))
    return found


def _packing(
    candidate: Candidate, number: int, layers: tuple[PackLayer, ...], names: dict[str, str]
) -> list[BenchStep]:
    fills = [use for use in candidate.uses if use.role == "fill"]
    inner = next((use for use in candidate.uses if use.role == "inner"), None)
    divider = next((use for use in candidate.uses if use.role == "divider"), None)
    found: list[BenchStep] = []
    laid = False
    for index, layer in enumerate(layers):
        if layer.kind in ("close", "strap") or layer.carton != number:
            continue
        takes: tuple[Take, ...] = ()
        if layer.kind in ("cushion", "fill"):
            # The whole amount is fetched once; later layers come out of the same heap.
            mine = [use for use in fills if layer.title.startswith(names.get(use.supply, use.supply))]
            takes = tuple(_take(use, names) for use in mine)
            fills = [use for use in fills if use not in mine]
        elif layer.kind == "cut":
            takes = tuple(_take(use, names) for use in candidate.uses if use.role == "joint")
        elif layer.kind == "insert":
            takes = tuple(
                _take(u, names)
                for u in candidate.uses
                if u.role == "insert" and names.get(u.supply, u.supply) == layer.title
            )
        elif layer.kind == "divider" and divider is not None:
            # All sheets are fetched with the first.
            takes, laid = (() if laid else (_take(divider, names),)), True
        elif layer.kind == "inner_fill":
            takes = tuple(
                _take(use, names)
                for use in candidate.uses
                if use.role == "inner fill" and layer.title.startswith(names.get(use.supply, use.supply))
            )
        elif layer.kind == "units" and inner is not None:
            # What the first units are set in must be at hand by then.
            takes, inner = (_take(inner, names),), None
        ticks = len(layer.placements) if layer.kind == "units" else 0
        lead = {"units": "Set in ", "insert": "Lay in ", "divider": "Lay on "}.get(layer.kind, "")
        found.append(_step("pack", f"{lead}{layer.title}", layer.detail, takes=takes, ticks=ticks, layer=index))
    return found


def _closing(
    candidate: Candidate, number: int, layers: tuple[PackLayer, ...], names: dict[str, str]
) -> list[BenchStep]:
    index = next(i for i, layer in enumerate(layers) if layer.kind == "close" and layer.carton == number)
    takes = tuple(_take(use, names) for use in candidate.uses if use.role == "tape")
    return [_step("close", layers[index].title, layers[index].detail, takes=takes, layer=index)]


def _strapping(candidate: Candidate, layers: tuple[PackLayer, ...], names: dict[str, str]) -> list[BenchStep]:
    index = next((i for i, layer in enumerate(layers) if layer.kind == "strap"), None)
    if index is None:
        return []
    takes = tuple(_take(use, names) for use in candidate.uses if use.role == "strap")
    return [_step("close", layers[index].title, layers[index].detail, takes=takes, layer=index)]


def changes_of(parcel: PlannedParcel, names: dict[str, str], tares_mg: dict[str, int]) -> tuple[Change, ...]:
    """Return every single change that may explain a difference on the scale (rules, 8).

    ``tares_mg`` gives the tare of the other containers that would take the goods, by code.
    """
    candidate = parcel.candidate
    found: list[Change] = []
    for piece in parcel.pieces:
        # One unit out of a group leaves the group's wrap behind.
        each_mg = piece.weight_mg if piece.holds == 1 else piece.net_mg
        found.append(Change(kind="unit_missing", what=f"one {piece.name} is missing", effect_mg=-each_mg))
        found.append(Change(kind="unit_extra", what=f"one {piece.name} too many", effect_mg=each_mg))
    for use in candidate.uses:
        name = names.get(use.supply, use.supply)
        if use.role == "insert" and use.weight_mg > 0:
            each_mg = use.weight_mg // max(1, int(use.quantity))
            found.append(Change(kind="insert_missing", what=f"{name} was left out", effect_mg=-each_mg))
        if use.is_fill:
            where = "" if use.role == "fill" else " in the inner carton"
            found.append(Change(kind="no_fill", what=f"the {name}{where} was left out", effect_mg=-use.weight_mg))
    own_mg = next(use.weight_mg for use in candidate.uses if use.role == "outer")
    for code, tare_mg in tares_mg.items():
        if code != candidate.container and tare_mg != own_mg and candidate.strapped is None:
            found.append(
                Change(
                    kind="other_container",
                    what=f"it is in {code}, not {candidate.container}",
                    effect_mg=tare_mg - own_mg,
                )
            )
    return tuple(dict.fromkeys(found))
