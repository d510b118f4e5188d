"""A liner and packs in a parcel: what room they take, where they lie, what they weigh and cost (parcels; rules 15.4).

Cold packs lie on top first, as many as one layer takes, then stand along the two long sides, then lie in a second
layer: cold falls. Where the height does not do for that, those along the sides come first. Heat packs are fixed under
the lid with air beneath, paper between them and the goods. The goods keep their cushion from them, so a liner and packs
make the room for goods smaller; the parcel is packed again with them. Pure.
"""

from dataclasses import replace
from decimal import Decimal

from core.messages import Message, say
from core.parcels.packed import Outer, Packed, Request, Thermal, ThermalPlaces, ThermalWish
from core.recipes.expand import Shelf, Use
from core.supplies.items import Container, Insert, Mailer, ThermalPack
from core.units import Size

__all__ = [
    "Thermal",
    "ThermalPlaces",
    "ThermalWish",
    "lined",
    "places_of",
    "thermal_minutes",
    "thermal_uses",
    "where_packs",
    "with_thermal",
    "without_packs",
]

_UM3_PER_LITRE = Decimal(10**15)
_MOST_LAYERS = 3


def lined(carton: Container, liner: Insert) -> Container | None:
    """Return the carton with the liner on all six sides; None when that leaves no room or it is not made for it."""
    if liner.liner is None or (liner.liner.fits and carton.code not in liner.liner.fits):
        return None
    less = -2 * liner.thickness_um
    inner = carton.inner
    if min(inner.length_um, inner.width_um, inner.height_um) <= 2 * liner.thickness_um:
        return None
    return replace(carton, inner=inner.grown(less, less, less), cut=None, telescope=None)


def places_of(inner: Size, pack: Insert, count: int, *, sides_first: bool = False) -> ThermalPlaces | None:
    """Return where so many packs lie in a room of that size, None where they have no room.

    ``sides_first``: where the height does not do for packs on top, those along the sides come first.
    """
    facts = pack.pack
    if facts is None or count < 1:
        return None
    layer = _in_a_layer(inner, facts)
    if layer < 1:
        return None
    if facts.kind == "heat":
        if count > layer:
            return None
        return ThermalPlaces(lid=count, top_um=pack.thickness_um + facts.air_um)
    standing = 2 * max(
        inner.length_um // facts.length_um if facts.width_um <= inner.height_um else 0,
        inner.length_um // facts.width_um if facts.length_um <= inner.height_um else 0,
    )
    sides = min(count if sides_first else max(0, count - layer), standing)
    layers = -(-(count - sides) // layer)
    if layers > _MOST_LAYERS:
        return None
    return ThermalPlaces(
        top=count - sides,
        sides=sides,
        top_um=layers * pack.thickness_um,
        side_um=pack.thickness_um if sides else 0,
    )


def _in_a_layer(inner: Size, pack: ThermalPack) -> int:
    one = (inner.length_um // pack.length_um) * (inner.width_um // pack.width_um)
    other = (inner.length_um // pack.width_um) * (inner.width_um // pack.length_um)
    return max(one, other)


def with_thermal(
    outer: Outer, request: Request, *, sides_first: bool = False
) -> tuple[Outer, Request, Thermal] | Message:
    """Return the container lined and the request with the packs' room kept free, or why they have no place."""
    wish = request.thermal
    if wish is None:  # pragma: no cover - asked only where there is one
        raise ValueError("nothing to put in")
    if isinstance(outer, Mailer):
        return say("thermal_in_mailer", container=outer.code)
    liner, pack = _inserts_of(wish, request.shelf)
    inside: Container | None = outer
    if liner is not None:
        inside = lined(outer, liner)
        if inside is None:
            return say("liner_does_not_fit", container=outer.code, liner=liner.name)
    if inside is None:  # pragma: no cover - only for the types
        raise ValueError("no container")
    places = ThermalPlaces()
    if pack is not None:
        found = places_of(inside.inner, pack, wish.count, sides_first=sides_first)
        if found is None:
            return say("no_room_for_packs", container=outer.code, pack=pack.name, count=wish.count)
        places = found
    cushion = request.band.cushion
    cushion = replace(cushion, top_um=cushion.top_um + places.top_um, side_um=cushion.side_um + places.side_um)
    thermal = Thermal(
        liner=liner.code if liner else "",
        liner_um=liner.thickness_um if liner else 0,
        pack=pack.code if pack else "",
        kind=pack.pack.kind if pack and pack.pack else None,
        count=wish.count if pack else 0,
        places=places,
        activate_minutes=pack.pack.activate_minutes if pack and pack.pack and pack.pack.kind == "heat" else 0,
    )
    return inside, replace(request, band=replace(request.band, cushion=cushion)), thermal


def _inserts_of(wish: ThermalWish, shelf: Shelf) -> tuple[Insert | None, Insert | None]:
    return shelf.inserts.get(wish.liner), shelf.inserts.get(wish.pack) if wish.count else None


def without_packs(packed: Packed, thermal: Thermal, pack: Insert | None) -> Packed:
    """Return what is packed with less void: where packs are there is no fill."""
    if packed.void is None or pack is None or pack.pack is None:
        return packed
    one_l = Decimal(pack.thickness_um * pack.pack.length_um * pack.pack.width_um) / _UM3_PER_LITRE
    void, places = packed.void, thermal.places
    above = max(Decimal(0), void.above_l - _six(one_l * (places.top + places.lid)))
    if places.lid:
        # Air stays free under a heat pack.
        air = Decimal(pack.pack.air_um * packed.inner.length_um * packed.inner.width_um) / _UM3_PER_LITRE
        above = max(Decimal(0), above - _six(air))
    round_l = max(Decimal(0), void.round_l - _six(one_l * places.sides))
    proud = void.proud_l if above else Decimal(0)
    return replace(packed, void=replace(void, above_l=above, round_l=round_l, proud_l=proud))


def _six(litres: Decimal) -> Decimal:
    return litres.quantize(Decimal("0.000001"))


def thermal_uses(thermal: Thermal, shelf: Shelf) -> tuple[Use, ...]:
    """Return what the shelf gives for it."""
    uses = []
    if thermal.liner:
        liner = shelf.inserts[thermal.liner]
        uses.append(
            Use(
                supply=liner.code,
                quantity=Decimal(1),
                weight_mg=liner.weight_mg,
                cost=liner.unit_cost,
                role="liner",
                detail=say("use_liner"),
            )
        )
    if thermal.pack:
        pack = shelf.inserts[thermal.pack]
        uses.append(
            Use(
                supply=pack.code,
                quantity=Decimal(thermal.count),
                weight_mg=pack.weight_mg * thermal.count,
                cost=pack.unit_cost * thermal.count,
                role="pack",
                detail=where_packs(thermal.places),
            )
        )
    return tuple(uses)


def where_packs(places: ThermalPlaces) -> Message:
    """Say where the packs lie."""
    if places.lid:
        return say("packs_on_lid", count=places.lid)
    if places.sides:
        return say("packs_top_and_sides", count=places.top, sides=places.sides)
    return say("packs_on_top", count=places.top)


def thermal_minutes(thermal: Thermal, shelf: Shelf) -> Decimal:
    """Return the minutes of hands to put it in."""
    liner, pack = shelf.inserts.get(thermal.liner), shelf.inserts.get(thermal.pack)
    minutes = liner.liner.minutes if liner is not None and liner.liner is not None else Decimal(0)
    if pack is not None and pack.pack is not None:
        minutes += pack.pack.minutes * thermal.count
    return minutes
