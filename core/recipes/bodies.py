"""From goods to wrapped bodies: each unit in its layers, then groups wrapped together (recipes; used by expand).

Layers stack in order. Once a layer goes round a group of n, the units stand side by side along their shorter side
and the wrap goes round the box that bounds them (rules 2.4); what is left over makes a last, smaller group.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from core.messages import Text, say
from core.recipes.goods import UP_AXES, Fragility, Product
from core.recipes.model import Band, Cushion, InsertPlace, Recipe, WrapLayer
from core.recipes.wrap import Cut, cut_for, grow, sheet_for, wrap_weight_mg
from core.supplies.items import Fill, FillUnit, Insert, Tape, UnitBox, Wrap
from core.units import Milligrams, Size

__all__ = ["FillFace", "FillPart", "Missing", "Piece", "Shelf", "Use", "UseRole", "amounts_of", "bodies_of"]

#: What a supply is used as.
UseRole = Literal[
    "wrap", "unit box", "inner", "inner fill", "outer", "joint", "fill", "divider", "tape", "strap", "insert", "label",
    "liner", "pack",
]  # fmt: skip
FillFace = Literal["below", "round", "above"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Shelf:
    """The supplies a recipe may name, by code, without the containers."""

    wraps: Mapping[str, Wrap]
    fills: Mapping[str, Fill]
    tapes: Mapping[str, Tape]
    inserts: Mapping[str, Insert]
    unit_boxes: Mapping[str, UnitBox]


@dataclass(frozen=True, slots=True, kw_only=True)
class Missing:
    """One reason why an order cannot be planned yet."""

    code: str
    message: Text
    subject: str  #: the sku, recipe or supply it is about
    fact: Text = ""  #: the message without its way out, for when another way was found


@dataclass(frozen=True, slots=True, kw_only=True)
class FillPart:
    """So much of a fill on one face, as hands measure it; the parts of a use add up to what is fetched."""

    face: FillFace
    count: Decimal
    unit: FillUnit


@dataclass(frozen=True, slots=True, kw_only=True)
class Use:
    """So much of one supply, for one purpose."""

    supply: str
    quantity: Decimal  #: in the supply's stock unit
    weight_mg: Milligrams
    cost: Decimal  #: quantity x unit cost, unrounded
    role: UseRole
    detail: Text  #: how it is used
    goods: str = ""  #: code of the pieces it goes round; "": not round goods
    bodies: int = 0  #: how many of them
    cut: Cut | None = None  #: how wrap is cut
    parts: tuple[FillPart, ...] = ()  #: of a fill: how much on which face
    place: InsertPlace | None = None  #: of an insert: where it goes
    spread_mg: Milligrams = 0  #: one standard deviation of its weight

    @property
    def is_fill(self) -> bool:
        """Return whether it is loose stock, in the outer or in an inner carton."""
        return self.role in ("fill", "inner fill")


def amounts_of(uses: Iterable[Use]) -> dict[str, Decimal]:
    """Return how much of each supply is used in all, by code, in the order they are first used."""
    found: dict[str, Decimal] = {}
    for use in uses:
        found[use.supply] = found.get(use.supply, Decimal(0)) + use.quantity
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """Equal bodies of one product as they go into the container: a unit each, or a group wrapped together."""

    sku: str
    name: str
    quantity: int  #: bodies
    bare: Size
    size: Size  #: one body, wrapped
    net_mg: Milligrams  #: one unit, bare
    weight_mg: Milligrams  #: one body with its wraps
    spread_mg: Milligrams  #: one standard deviation of one unit
    up_axes: tuple[int, ...]
    clearance: Cushion
    gap_um: int
    load_on_top_mg: Milligrams | None
    recipe: str
    band: Band
    holds: int = 1  #: units in each body
    part: int = 0  #: 1 for the last, smaller group of a line
    unit_cost: Decimal = Decimal(0)  #: what one unit of goods costs the maker
    fragility: Fragility = "sturdy"
    frozen: bool = False  #: out of the freezer only while it is packed

    @property
    def code(self) -> str:
        """Return what names these bodies among the others of a parcel."""
        return self.sku if self.part == 0 else f"{self.sku}+{self.part}"

    @property
    def units(self) -> int:
        """Return how many units of goods these bodies are."""
        return self.quantity * self.holds

    @property
    def called(self) -> str:
        """Return the name for people: "3 x jar" for a group."""
        return self.name if self.holds == 1 else f"{self.holds} x {self.name}"


@dataclass(frozen=True, slots=True, kw_only=True)
class _Body:
    """So many equal things on their way through the layers."""

    quantity: int
    holds: int
    size: Size
    weight_mg: Milligrams


def bodies_of(
    product: Product, recipe: Recipe, band: Band, quantity: int, shelf: Shelf
) -> tuple[tuple[Piece, ...], list[Use], list[Missing]]:
    """Return a line of an order as bodies to pack, what wraps them, and what is wrong with it."""
    bare, net_mg = product.size, product.weight_mg
    if bare is None or net_mg is None:  # pragma: no cover - expand has named it already
        raise ValueError(f"{product.sku} has no size or weight")
    bodies = [_Body(quantity=quantity, holds=1, size=bare, weight_mg=net_mg)]
    uses: list[Use] = []
    for layer in band.layers:
        if layer.per_units > 1 and bodies[0].holds == 1 and quantity > 1:
            bodies = _grouped(bodies[0], layer.per_units)
        wrap = shelf.wraps[layer.wrap]
        bodies = [_in_wrap(body, layer, wrap, product, part, uses) for part, body in enumerate(bodies)]
    faults = _food_faults(product, recipe, band, shelf)
    if band.unit_box:
        box = shelf.unit_boxes[band.unit_box]
        bodies = [_in_box(body, product, part, box, uses, faults) for part, body in enumerate(bodies)]
    pieces = tuple(
        Piece(
            sku=product.sku,
            name=product.name,
            quantity=body.quantity,
            bare=bare,
            size=body.size,
            net_mg=net_mg,
            weight_mg=body.weight_mg,
            spread_mg=product.weight_spread_mg,
            up_axes=UP_AXES[product.orientation],
            clearance=band.cushion,
            gap_um=band.gap_um,
            load_on_top_mg=product.load_on_top_mg,
            recipe=recipe.code,
            band=band,
            holds=body.holds,
            part=part,
            unit_cost=product.goods_cost,
            fragility=product.fragility,
            frozen=product.frozen,
        )
        for part, body in enumerate(bodies)
    )
    return pieces, uses, faults


def _grouped(body: _Body, together: int) -> list[_Body]:
    """Return full groups and a last smaller one; units stand side by side along their shorter side."""
    full, rest = divmod(body.quantity, together)
    sizes = [(full, together), (1, rest)]
    return [
        _Body(quantity=count, holds=holds, size=_side_by_side(body.size, holds), weight_mg=body.weight_mg * holds)
        for count, holds in sizes
        if count and holds
    ]


def _side_by_side(size: Size, count: int) -> Size:
    if size.width_um <= size.length_um:
        return Size(length_um=size.length_um, width_um=size.width_um * count, height_um=size.height_um)
    return Size(length_um=size.length_um * count, width_um=size.width_um, height_um=size.height_um)


def _code(product: Product, part: int) -> str:
    return product.sku if part == 0 else f"{product.sku}+{part}"


def _in_wrap(body: _Body, layer: WrapLayer, wrap: Wrap, product: Product, part: int, uses: list[Use]) -> _Body:
    sheet = sheet_for(body.size, layer, wrap)
    cut = cut_for(sheet, body.quantity, wrap)
    each_mg = wrap_weight_mg(sheet.area_m2, wrap)
    uses.append(
        Use(
            supply=wrap.code,
            quantity=cut.area_m2,
            weight_mg=each_mg * body.quantity,
            cost=cut.area_m2 * wrap.unit_cost,
            role="wrap",
            detail=say(
                "wrap_turns" if body.holds == 1 else "wrap_turns_together",
                turns_number=layer.turns,
                name=product.name,
                bodies=body.quantity,
                holds=body.holds,
            ),
            goods=_code(product, part),
            bodies=body.quantity,
            cut=cut,
        )
    )
    return _Body(
        quantity=body.quantity,
        holds=body.holds,
        size=grow(body.size, layer, wrap),
        weight_mg=body.weight_mg + each_mg,
    )


def _in_box(body: _Body, product: Product, part: int, box: UnitBox, uses: list[Use], faults: list[Missing]) -> _Body:
    if any(have < need for have, need in zip(box.inner.sorted_um, body.size.sorted_um, strict=True)):
        text = say(
            "unit_box_too_small",
            name=product.name,
            wrapped_size_um=body.size.sides_um,
            box=box.name,
            box_size_um=box.inner.sides_um,
        )
        faults.append(Missing(code="unit_box_too_small", subject=product.sku, message=text))
    uses.append(
        Use(
            supply=box.code,
            quantity=Decimal(body.quantity),
            weight_mg=box.tare_mg * body.quantity,
            cost=box.unit_cost * body.quantity,
            role="unit box",
            detail=say("one_round_each", name=product.name, bodies=body.quantity),
            goods=_code(product, part),
            bodies=body.quantity,
        )
    )
    return _Body(quantity=body.quantity, holds=body.holds, size=box.outer, weight_mg=body.weight_mg + box.tare_mg)


def _food_faults(product: Product, recipe: Recipe, band: Band, shelf: Shelf) -> list[Missing]:
    """For food the first layer must be marked food-contact (rules 2.6)."""
    if not product.food or not band.layers or shelf.wraps[band.layers[0].wrap].food_contact:
        return []
    wrap = shelf.wraps[band.layers[0].wrap]
    text = say("food_contact", name=product.name, wrap=wrap.name, recipe=recipe.name)
    return [Missing(code="food_contact", subject=product.sku, message=text)]
