"""From a recipe and an order's lines to wrapped pieces and their materials (recipes; used by parcels).

Several products with several recipes give one list of pieces; each keeps the clearances of its own band. What
is missing is named all at once as ``Missing``, in the words the order screens show. Pure.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from core.messages import Text, say
from core.recipes.bodies import FillFace, FillPart, Missing, Piece, Shelf, Use, UseRole, amounts_of, bodies_of
from core.recipes.goods import Product
from core.recipes.model import Band, Recipe, band_for

__all__ = [
    "Apart",
    "Expansion",
    "FillFace",
    "FillPart",
    "Missing",
    "OrderLine",
    "Piece",
    "Shelf",
    "Use",
    "UseRole",
    "amounts_of",
    "apart",
    "expand",
    "merged",
]


#: Why two products may not share a parcel.
Apart = Literal["scented_food", "frozen", "live", "marked", "school"]


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderLine:
    """So many of one product. ``product`` and ``recipe`` are None when the workshop has none for the sku."""

    sku: str
    quantity: int
    product: Product | None
    recipe: Recipe | None
    bundle: str = ""  #: the set these are sold in; a set is never divided between parcels
    per_bundle: int = 0  #: units of this sku in each such set


@dataclass(frozen=True, slots=True, kw_only=True)
class Expansion:
    """What the recipes ask for, before a container is chosen; or what is missing."""

    pieces: tuple[Piece, ...]
    uses: tuple[Use, ...]
    missing: tuple[Missing, ...]


def expand(lines: tuple[OrderLine, ...], shelf: Shelf) -> Expansion:
    """Return the pieces and unit materials for an order, or every reason why there are none."""
    lines = merged(lines)
    missing = [*_missing_of_lines(lines), *_apart(lines), *_schools_apart(lines)]
    pieces: list[Piece] = []
    uses: list[Use] = []
    if not missing:
        units_of = _units_by_recipe(lines)
        for item in lines:
            if item.product is None or item.recipe is None:
                continue
            band = band_for(item.recipe, units_of[item.recipe.code])
            if band is None:
                continue
            band = _with_ahead(band, item.recipe)
            unknown = _unknown_supplies(band, item.recipe, shelf)
            missing.extend(unknown)
            if not unknown:
                missing.extend(_divider_faults(item.recipe, band, shelf))
                bodies, piece_uses, faults = bodies_of(item.product, item.recipe, band, item.quantity, shelf)
                pieces.extend(bodies)
                uses.extend(piece_uses)
                missing.extend(faults)
    # Two products of one recipe name the same unknown supply twice; say it once.
    return Expansion(pieces=tuple(pieces), uses=tuple(uses), missing=tuple(dict.fromkeys(missing)))


def _with_ahead(band: Band, recipe: Recipe) -> Band:
    """Return the band with the hands' minutes of what is done before the packing, once an order."""
    ahead = sum((one.minutes for one in recipe.ahead), Decimal(0))
    if not ahead:
        return band
    return replace(band, minutes=replace(band.minutes, per_order=band.minutes.per_order + ahead))


def merged(lines: tuple[OrderLine, ...]) -> tuple[OrderLine, ...]:
    """Return one line a sku: two lines of the same goods, or goods loose and in a set, are packed alike."""
    found: dict[str, OrderLine] = {}
    for line in lines:
        had = found.get(line.sku)
        found[line.sku] = replace(line, quantity=line.quantity + (had.quantity if had else 0), bundle="", per_bundle=0)
    return tuple(found.values())


def _units_by_recipe(lines: tuple[OrderLine, ...]) -> dict[str, int]:
    units: dict[str, int] = {}
    for item in lines:
        if item.recipe is not None:
            units[item.recipe.code] = units.get(item.recipe.code, 0) + item.quantity
    return units


def _missing_of_lines(lines: tuple[OrderLine, ...]) -> list[Missing]:
    found: list[Missing] = []
    units_of = _units_by_recipe(lines)
    for item in lines:
        product, recipe = item.product, item.recipe
        if product is None:
            found.append(_missing("unknown_product", item.sku, say("unknown_product", sku=item.sku)))
            continue
        if product.size is None:
            found.append(_missing("no_size", item.sku, say("no_size", name=product.name)))
        if product.weight_mg is None:
            found.append(_missing("no_weight", item.sku, say("no_weight", name=product.name)))
        if recipe is None:
            found.append(_missing("no_recipe", item.sku, say("no_recipe", name=product.name)))
        elif recipe.trial_needed and not recipe.tried:
            facts = {"recipe": recipe.name}
            found.append(
                _missing("never_tried", recipe.code, say("trial_needed", **facts), say("version_not_tested", **facts))
            )
        elif band_for(recipe, units_of[recipe.code]) is None:
            top = max((band.last for band in recipe.bands), default=0)
            fact = say("over_top_band", recipe=recipe.name, top=top, units=units_of[recipe.code])
            found.append(_missing("no_band", recipe.code, say("no_band", fact=fact), fact))
    return list(dict.fromkeys(found))


def apart(one: Product, other: Product) -> Apart | None:
    """Return why two products may not share a parcel, None when they may.

    Scented with food, frozen with ambient, live with anything (rules 4.5).
    """
    if (one.scented and other.food) or (one.food and other.scented):
        return "scented_food"
    if one.frozen != other.frozen:
        return "frozen"
    if one.live != other.live:
        return "live"
    if other.sku in one.not_with or one.sku in other.not_with:
        return "marked"
    return None


def _apart(lines: tuple[OrderLine, ...]) -> list[Missing]:
    """Every reason why the goods may not all share one parcel, each told of the first two it is about."""
    products = [item.product for item in lines if item.product is not None]
    found: dict[Apart, Missing] = {}
    for index, one in enumerate(products):
        for other in products[index + 1 :]:
            why = apart(one, other)
            if why is not None and why not in found:
                found[why] = _keep_apart(one, other, why)
    return list(found.values())


def _schools_apart(lines: tuple[OrderLine, ...]) -> list[Missing]:
    """Goods that stand free on a fixed base may not share a parcel with goods that are filled all round (rules 4.5)."""
    units_of = _units_by_recipe(lines)
    stands: dict[str, Product] = {}
    for item in lines:
        band = band_for(item.recipe, units_of[item.recipe.code]) if item.recipe is not None else None
        if band is not None and item.product is not None:
            stands.setdefault(band.school, item.product)
    if len(stands) < 2:
        return []
    return [_keep_apart(stands["base_fixed"], stands["fill_tight"], "school")]


def _keep_apart(one: Product, other: Product, why: Apart) -> Missing:
    fact = say("keep_apart", one=one.name, other=other.name, why=say(f"apart_{why}"))
    return _missing("must_be_apart", one.sku, say("send_apart", fact=fact), fact)


def _missing(code: str, subject: str, message: Text, fact: Text = "") -> Missing:
    return Missing(code=code, subject=subject, message=message, fact=fact)


def _unknown_supplies(band: Band, recipe: Recipe, shelf: Shelf) -> list[Missing]:
    wanted: list[tuple[str, str, Mapping[str, object]]] = [("wrap", one.wrap, shelf.wraps) for one in band.layers]
    if band.unit_box:
        wanted.append(("unit box", band.unit_box, shelf.unit_boxes))
    fills = {code for code in (band.fill, band.fill_below, band.fill_above) if code}
    wanted.extend(("fill", code, shelf.fills) for code in sorted(fills))
    if band.closure:
        wanted.append(("tape", band.closure.tape, shelf.tapes))
    wanted.extend(("insert", one.insert, shelf.inserts) for one in band.inserts)
    wanted.extend(("sample", s.insert, shelf.inserts) for one in band.inserts for s in one.samples)
    if band.divider:
        wanted.append(("divider", band.divider, shelf.inserts))
    if band.thermal is not None:
        liners = {code: one for code, one in shelf.inserts.items() if one.liner is not None}
        packs = {code: one for code, one in shelf.inserts.items() if one.pack is not None}
        wanted.extend([("liner", band.thermal.liner, liners)] if band.thermal.liner else [])
        wanted.extend(("pack", code, packs) for code in band.thermal.packs)
    return [
        _missing("unknown_supply", code, say("unknown_supply", recipe=recipe.name, kind=kind, supply=code))
        for kind, code, known in wanted
        if code not in known
    ]


def _divider_faults(recipe: Recipe, band: Band, shelf: Shelf) -> list[Missing]:
    """A divider takes thickness between layers: the gap must be at least that (rules 3.5)."""
    if band.divider is None or shelf.inserts[band.divider].thickness_um <= band.gap_um:
        return []
    divider = shelf.inserts[band.divider]
    text = say(
        "divider_too_thick",
        divider=divider.name,
        thickness_um=divider.thickness_um,
        recipe=recipe.name,
        gap_um=band.gap_um,
    )
    return [_missing("divider_too_thick", recipe.code, text)]
