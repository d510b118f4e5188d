"""How a recipe would be changed where goods break: each change drafted for every band (outcomes; rules 17.3).

A draft changes one thing, by the least step that hands would make, and keeps everything else. Where the changed parcel
does not fit the recipe's own cartons any more, the cheapest that takes it is named instead.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal, get_args

from core.designing.cupboard import Desk, planned_for
from core.designing.propose import thermal_of
from core.designing.two_cartons import in_two_cartons
from core.messages import Message, say
from core.outcomes.places import Cause
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, PlannedOrder
from core.parcels.single import rank
from core.recipes.goods import Product
from core.recipes.model import Band, Recipe, judged_units
from core.supplies.items import Container
from core.units import Micrometres

__all__ = ["CHANGES", "ChangeCode", "Draft", "changes_for", "drafted", "plan_of", "wish_of"]

ChangeCode = Literal[
    "cushion_bottom", "cushion_top", "cushion_sides", "wrap", "double_wall", "fill", "divider", "gap", "unit_box",
    "inner_carton", "thermal",
]  # fmt: skip
CHANGES: tuple[ChangeCode, ...] = get_args(ChangeCode)

#: What helps at each place, most to the point first.
_HELPS: dict[Cause, tuple[ChangeCode, ...]] = {
    "bottom": ("cushion_bottom", "fill", "double_wall", "inner_carton"),
    "top": ("cushion_top", "double_wall", "wrap", "inner_carton"),
    "front": ("cushion_sides", "double_wall", "inner_carton"),
    "back": ("cushion_sides", "double_wall", "inner_carton"),
    "left": ("cushion_sides", "double_wall", "inner_carton"),
    "right": ("cushion_sides", "double_wall", "inner_carton"),
    "edge": ("double_wall", "cushion_sides", "inner_carton"),
    "corner": ("double_wall", "cushion_sides", "inner_carton"),
    "between_units": ("divider", "gap", "unit_box", "wrap"),
    "lid": ("wrap", "cushion_top", "unit_box"),
    "handle": ("wrap", "unit_box", "cushion_sides"),
    "spoiled": ("thermal",),
}
#: One step more of cushion, and of the gap between units (judgements).
CUSHION_STEP_UM: Micrometres = 10_000
_GAP_UM: Micrometres = 5_000
#: A wrap at most so thick is for looks: another turn of it protects nothing.
_SHEET_UM: Micrometres = 1_000
#: So many cartons are tried for a change, smallest first.
_TRIED = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """A recipe with one thing changed."""

    code: ChangeCode
    words: tuple[Message, ...]  #: what changes, each difference once
    recipe: Recipe


def changes_for(cause: Cause) -> tuple[ChangeCode, ...]:
    """Return what helps where goods break, most to the point first."""
    return _HELPS[cause]


#: So many steps of cushion at most: what a carton has anyway is not more of it.
_STEPS = 3


def drafted(
    code: ChangeCode, recipe: Recipe, products: Sequence[Product], desk: Desk, dividers: tuple[str, ...]
) -> Draft | None:
    """Return the recipe with this changed in every band where it can be; None when the parcels would be the same, or
    one of the products could not be packed any more.

    A cushion is made thicker step by step until a parcel is another: 10 mm more that the carton has anyway help
    nothing. Cartons are chosen for the largest of the products. ``dividers``: inserts that the workshop uses as
    dividers.
    """
    largest = max(products, key=lambda one: one.size.volume_um3 if one.size else 0)
    for step in range(1, _STEPS + 1):
        draft = _drafted(code, recipe, largest, desk, dividers, step * CUSHION_STEP_UM)
        if draft is None:
            return None
        pairs = list(zip(recipe.bands, draft.recipe.bands, strict=True))
        if any(_another(one, other, recipe, draft.recipe, largest, desk) for one, other in pairs):
            return draft if _takes_all(recipe, draft.recipe, products, desk) else None
        if not code.startswith("cushion"):
            return None
    return None


def _takes_all(recipe: Recipe, draft: Recipe, products: Sequence[Product], desk: Desk) -> bool:
    """Return whether every product that can be packed now can be packed by the draft."""
    for product in products:
        for band, other in zip(recipe.bands, draft.bands, strict=True):
            if band == other or isinstance(plan_of(draft, other, product, desk), PlannedOrder):
                continue
            if isinstance(plan_of(recipe, band, product, desk), PlannedOrder):
                return False
    return True


def _another(band: Band, other: Band, recipe: Recipe, draft: Recipe, product: Product, desk: Desk) -> bool:
    """Return whether the band's parcel is packed otherwise by the draft: other things, or goods standing elsewhere."""
    if band == other:
        return False
    now, then = plan_of(recipe, band, product, desk), plan_of(draft, other, product, desk)
    if not isinstance(now, PlannedOrder) or not isinstance(then, PlannedOrder):
        return False
    one, two = now.chosen.only, then.chosen.only
    used = [{use.supply: use.quantity for use in candidate.uses} for candidate in (one, two)]
    return (one.container, one.placements, used[0]) != (two.container, two.placements, used[1])


def _drafted(
    code: ChangeCode, recipe: Recipe, product: Product, desk: Desk, dividers: tuple[str, ...], more_um: Micrometres
) -> Draft | None:
    words: list[Message] = []
    bands = []
    for band in recipe.bands:
        case = _Case(
            recipe=recipe, product=product, desk=desk, dividers=dividers, more_um=more_um, words=words
        )  # fmt: skip
        other = _CHANGED[code](band, case)
        bands.append(_fitted(other, recipe, product, desk) if other is not None and other != band else band)
    if any(band is None for band in bands) or tuple(bands) == recipe.bands:
        return None
    found = tuple(band for band in bands if band is not None)
    return Draft(code=code, words=tuple(dict.fromkeys(words)), recipe=replace(recipe, bands=found))


def wish_of(band: Band) -> ThermalWish | None:
    """Return what goes into every parcel of a band against heat and cold, whatever the weather."""
    one = band.thermal
    if one is None or one.when == "needed":
        return None
    return ThermalWish(liner=one.liner, pack=one.packs[0] if one.packs else "", count=one.least if one.packs else 0)


def plan_of(recipe: Recipe, band: Band, product: Product, desk: Desk) -> PlannedOrder | Blocked:
    """Return the plan of a band's largest order, in one parcel to the usual place."""
    units = judged_units(band.first, band.last)
    return planned_for(recipe, product, units, desk, thermal=wish_of(band))


def _fitted(band: Band, recipe: Recipe, product: Product, desk: Desk) -> Band | None:
    """Return the band with its own cartons where they take it, else with the cheapest that does; None when none."""
    units = judged_units(band.first, band.last)

    def plan(one: Band) -> PlannedOrder | Blocked:
        alone = replace(recipe, bands=(replace(one, first=1, last=units),))
        return planned_for(alone, product, units, desk, thermal=wish_of(one))

    if isinstance(plan(band), PlannedOrder):
        return band
    found = plan(replace(band, outers=(), any_outer=True))
    if not isinstance(found, PlannedOrder) or found.chosen.only.strapped is not None:
        return None
    return replace(band, outers=(found.chosen.only.container,))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Case:
    """What a change looks at; what it changes is told in ``words``."""

    recipe: Recipe
    product: Product
    desk: Desk
    dividers: tuple[str, ...]
    more_um: Micrometres  #: of cushion
    words: list[Message]

    def tell(self, code: str, **facts: int | str) -> None:
        self.words.append(say(code, **facts))


def _bottom(band: Band, case: _Case) -> Band | None:
    was = band.cushion.bottom_um
    case.tell("change_cushion_bottom", from_um=was, to_um=was + case.more_um)
    return replace(band, cushion=replace(band.cushion, bottom_um=was + case.more_um))


def _top(band: Band, case: _Case) -> Band | None:
    if band.school == "base_fixed":  # above them the air stays free
        return None
    was = band.cushion.top_um
    case.tell("change_cushion_top", from_um=was, to_um=was + case.more_um)
    return replace(band, cushion=replace(band.cushion, top_um=was + case.more_um))


def _sides(band: Band, case: _Case) -> Band | None:
    was = band.cushion.side_um
    case.tell("change_cushion_sides", from_um=was, to_um=was + case.more_um)
    return replace(band, cushion=replace(band.cushion, side_um=was + case.more_um))


def _wrap(band: Band, case: _Case) -> Band | None:
    """One more turn of what protects each unit, over its ends as well."""
    wraps = case.desk.facts.shelf.wraps
    for at, layer in enumerate(band.layers):
        wrap = wraps.get(layer.wrap)
        if wrap is None or layer.per_units > 1 or wrap.thickness_um <= _SHEET_UM:
            continue
        more = replace(layer, turns=layer.turns + 1, ends_top=layer.ends_top + 1, ends_bottom=layer.ends_bottom)
        case.tell("change_wrap", wrap=wrap.name, turns_number=f"{more.turns:f}")
        return replace(band, layers=(*band.layers[:at], more, *band.layers[at + 1 :]))
    return None


def _double_wall(band: Band, case: _Case) -> Band | None:
    """The cheapest of the smallest double-wall cartons that take the band's largest order."""
    cartons = {c.code: c for c in case.desk.facts.containers if isinstance(c, Container)}
    own = next((cartons[code] for code in band.outers if code in cartons), None)
    if own is not None and own.board == "double":
        return None
    units = judged_units(band.first, band.last)
    found = []
    doubles = (c for c in cartons.values() if c.board == "double")
    for carton in sorted(doubles, key=lambda c: (c.inner.volume_um3, c.code)):
        other = replace(band, outers=(carton.code,), any_outer=False)
        alone = replace(case.recipe, bands=(replace(other, first=1, last=units),))
        plan = planned_for(alone, case.product, units, case.desk, thermal=wish_of(band))
        if isinstance(plan, PlannedOrder) and plan.chosen.only.strapped is None:
            found.append((rank(plan.chosen.only), carton))
        if len(found) == _TRIED:
            break
    if not found:
        return None
    _, best = min(found, key=lambda one: (one[0], one[1].code))
    was = own.name if own is not None else case.desk.name(band.outers[0]) if band.outers else ""
    if was:
        case.tell("change_double_wall", was=was, carton=best.name)
    else:
        case.tell("change_to_double_wall", carton=best.name)
    return replace(band, outers=(best.code,), any_outer=False)


def _fill(band: Band, case: _Case) -> Band | None:
    """A fill in which goods neither sink nor burst it, for one in which they do."""
    fills = case.desk.facts.shelf.fills
    code = band.fill_below or band.fill
    now = fills.get(code or "")
    if now is None or not (now.sinks or now.bursts):
        return None
    heavy = case.product.weight_mg or 0
    fit = [one for one in fills.values() if not (one.sinks or one.bursts) and one.holds(heavy)]
    paper = [one for one in fit if not case.desk.plastic(one.code)]
    best = min(paper or fit, key=lambda one: (one.unit_cost * one.packing_factor, one.code), default=None)
    if best is None:
        return None
    case.tell("change_fill", was=now.name, fill=best.name)
    return replace(band, fill_below=best.code) if band.fill_below else replace(band, fill=best.code)


def _divider(band: Band, case: _Case) -> Band | None:
    inserts = case.desk.facts.shelf.inserts
    if band.last == 1 or band.divider is not None:
        return None
    known = [inserts[code] for code in case.dividers if code in inserts]
    best = min(known, key=lambda one: (one.unit_cost, one.code), default=None)
    if best is None:
        return None
    case.tell("change_divider", divider=best.name)
    return replace(band, divider=best.code, gap_um=max(band.gap_um, best.thickness_um))


def _gap(band: Band, case: _Case) -> Band | None:
    if band.last == 1:
        return None
    case.tell("change_gap", from_um=band.gap_um, to_um=band.gap_um + _GAP_UM)
    return replace(band, gap_um=band.gap_um + _GAP_UM)


def _unit_box(band: Band, case: _Case) -> Band | None:
    """The cheapest box that takes a wrapped unit: the plan says whether it does."""
    if band.unit_box is not None or any(layer.per_units > 1 for layer in band.layers):
        return None
    for box in sorted(case.desk.facts.shelf.unit_boxes.values(), key=lambda one: (one.unit_cost, one.code)):
        other = _fitted(replace(band, unit_box=box.code), case.recipe, case.product, case.desk)
        if other is not None:
            case.tell("change_unit_box", box=box.name)
            return other
    return None


def _inner(band: Band, case: _Case) -> Band | None:
    if band.inner is not None:
        return None
    other = in_two_cartons(band, case.recipe, case.product, case.desk)
    if other is not None and other.inner is not None:
        case.tell("change_inner", inner=case.desk.name(other.inner.container), outer=case.desk.name(other.outers[0]))
    return other


def _thermal(band: Band, case: _Case) -> Band | None:
    """A pack more, in every parcel; where nothing goes in yet, what the goods ask for."""
    one = band.thermal or thermal_of(case.product, case.desk)
    if one is None or not one.packs:
        return None
    pack = case.desk.name(one.packs[0])
    case.tell("change_thermal", pack=pack, count=one.least + 1)
    return replace(band, thermal=replace(one, when="always", least=one.least + 1))


_CHANGED: dict[ChangeCode, Callable[[Band, _Case], Band | None]] = {
    "cushion_bottom": _bottom,
    "cushion_top": _top,
    "cushion_sides": _sides,
    "wrap": _wrap,
    "double_wall": _double_wall,
    "fill": _fill,
    "divider": _divider,
    "gap": _gap,
    "unit_box": _unit_box,
    "inner_carton": _inner,
    "thermal": _thermal,
}
