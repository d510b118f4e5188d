"""The workshop's policies: where a recipe breaks one, and how it would obey (designing; the job: schools).

A policy never changes a recipe by itself: breaches are marked, and what obeying would mean is offered as a new version.
"""

from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Literal, get_args

from core.designing.cupboard import Desk
from core.designing.two_cartons import in_two_cartons
from core.messages import Message, Text, say
from core.recipes.goods import Product
from core.recipes.model import Band, Recipe, judged_units, size_of
from core.supplies.items import GRADES, ClosureGrade

__all__ = ["POLICIES", "Breach", "Policy", "breaches_of", "obeying"]

Policy = Literal[
    "plant_based",
    "no_plastic_tape",
    "two_cartons_for_glass",
    "fragile_marks_always",
    "fragile_marks_never",
    "evident_for_food",
]

POLICIES: tuple[Policy, ...] = get_args(Policy)

_MARK = "Fragile"


@dataclass(frozen=True, slots=True, kw_only=True)
class Breach:
    """Where a recipe does not keep to a policy."""

    policy: Policy
    band: Text  #: the order sizes
    words: Text


def breaches_of(
    recipe: Recipe, products: tuple[Product, ...], desk: Desk, policies: Collection[Policy]
) -> tuple[Breach, ...]:
    """Return every place where the recipe breaks one of the policies."""
    found = []
    for band in recipe.bands:
        name = size_of(band.first, band.last)
        for policy in POLICIES:
            if policy in policies:
                found += [
                    Breach(policy=policy, band=name, words=words) for words in _broken(policy, band, products, desk)
                ]
    return tuple(found)


def _broken(policy: Policy, band: Band, products: tuple[Product, ...], desk: Desk) -> list[Message]:
    tape = band.closure.tape if band.closure else None
    marked = _MARK in band.marks
    match policy:
        case "plant_based":
            used = [
                *(layer.wrap for layer in band.layers),
                *(c for c in (band.fill, band.fill_below, band.fill_above, tape) if c),
                *(c for c in ((band.thermal.liner, *band.thermal.packs) if band.thermal else ()) if c),
            ]
            return [
                say("made_of", supply=desk.name(code), material=say(f"material_{desk.materials.get(code, 'paper')}"))
                for code in dict.fromkeys(used)
                if desk.plastic(code)
            ]
        case "no_plastic_tape":
            return (
                [say("made_of", supply=desk.name(tape), material=say("material_plastic"))]
                if tape and desk.plastic(tape)
                else []
            )
        case "two_cartons_for_glass":
            glass = next((product for product in products if product.glass), None)
            return [say("glass_in_one", name=glass.name)] if glass and band.inner is None else []
        case "fragile_marks_always":
            fragile = next((p for p in products if p.fragility == "fragile"), None)
            return [say("fragile_not_marked", name=fragile.name)] if fragile and not marked else []
        case "fragile_marks_never":
            return [say("marked_fragile")] if marked else []
        case "evident_for_food":
            food = next((product for product in products if product.food), None)
            sealed = band.unit_box is not None and band.unit_box_sealed
            shows = (
                tape is not None and desk.facts.shelf.tapes[tape].grade == "evident"
                if tape in desk.facts.shelf.tapes
                else False
            )
            return [say("food_not_evident", name=food.name)] if food and not (sealed or shows) else []


def obeying(
    recipe: Recipe, products: tuple[Product, ...], desk: Desk, policy: Policy
) -> tuple[Recipe, tuple[Message, ...]]:
    """Return the recipe as it would keep to the policy, and what could not be changed."""
    left: list[Message] = []
    bands = tuple(_fixed(policy, band, recipe, products, desk, left) for band in recipe.bands)
    return replace(recipe, bands=bands), tuple(dict.fromkeys(left))


def _fixed(
    policy: Policy, band: Band, recipe: Recipe, products: tuple[Product, ...], desk: Desk, left: list[Message]
) -> Band:
    if not _broken(policy, band, products, desk):
        return band
    match policy:
        case "plant_based":
            return _with_tape(_without_plastic(band, products, desk, left), desk, left, evident=False)
        case "no_plastic_tape":
            return _with_tape(band, desk, left, evident=False)
        case "evident_for_food":
            return _with_tape(band, desk, left, evident=True)
        case "fragile_marks_always":
            return replace(band, marks=(_MARK, *band.marks))
        case "fragile_marks_never":
            return replace(band, marks=tuple(mark for mark in band.marks if mark != _MARK))
        case "two_cartons_for_glass":
            glass = next((product for product in products if product.glass), products[0])
            floating = in_two_cartons(band, recipe, glass, desk)
            if floating is None:
                units = judged_units(band.first, band.last)
                left.append(say("no_two_cartons", units=units, name=glass.name))
            return floating or band


def _without_plastic(band: Band, products: tuple[Product, ...], desk: Desk, left: list[Message]) -> Band:
    shelf = desk.facts.shelf
    layers = []
    for layer in band.layers:
        wrap = shelf.wraps.get(layer.wrap)
        if wrap is None or not desk.plastic(layer.wrap):
            layers.append(layer)
            continue
        fit = [
            w for w in shelf.wraps.values() if not desk.plastic(w.code) and (w.food_contact or not wrap.food_contact)
        ]
        near = min(fit, key=lambda w: (abs(w.thickness_um - wrap.thickness_um), w.unit_cost, w.code), default=None)
        if near is None:
            left.append(say("no_plant_based", supply=wrap.name))
            layers.append(layer)
            continue
        # As thick as before, so the goods are held as well: more turns of a thinner wrap, at most twenty.
        scale = max(1, min(20, round(layer.turns * wrap.thickness_um / near.thickness_um)))
        layers.append(replace(layer, wrap=near.code, turns=type(layer.turns)(scale)))
    fills = [fill for fill in shelf.fills.values() if not desk.plastic(fill.code)]
    heaviest_mg = max((product.weight_mg or 0 for product in products), default=0)

    def fill(code: str | None) -> str | None:
        if code is None or not desk.plastic(code):
            return code
        now = shelf.fills.get(code)
        fit = [one for one in fills if one.holds(heaviest_mg) and (now is None or one.serves_for(now))]
        other = min(fit, key=lambda f: (f.unit_cost * f.packing_factor, f.code), default=None)
        if other is None:
            left.append(say("no_plant_based", supply=desk.name(code)))
            return code
        return other.code

    return replace(
        band,
        layers=tuple(layers),
        fill=fill(band.fill),
        fill_below=fill(band.fill_below),
        fill_above=fill(band.fill_above),
    )


def _with_tape(band: Band, desk: Desk, left: list[Message], *, evident: bool) -> Band:
    if band.closure is None:
        if evident:
            left.append(say("closes_by_itself"))
        return band
    tapes = desk.facts.shelf.tapes
    now = tapes.get(band.closure.tape)
    if not evident and not desk.plastic(band.closure.tape):
        return band
    # No weaker than before, and as strong as the recipe asks.
    wanted: list[ClosureGrade] = ["evident"] if evident else [now.grade if now else "none", band.closure.required_grade]
    least = max(wanted, key=lambda grade: GRADES[grade])
    fit = [t for t in tapes.values() if GRADES[t.grade] >= GRADES[least] and (evident or not desk.plastic(t.code))]
    best = min(fit, key=lambda t: (desk.plastic(t.code), t.unit_cost, t.code), default=None)
    if best is None:
        left.append(say("no_other_tape", tape=desk.name(band.closure.tape)))
        return band
    return replace(band, closure=replace(band.closure, tape=best.code))
