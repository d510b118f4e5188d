"""What is still needed for a workshop's first parcel: asked of the rows themselves, so it holds whatever way they came.

The parts are the ones readiness speaks of: a supply, a product, a recipe, a price list; then an order and the bench.
"""

from dataclasses import dataclass
from typing import Literal

from django.db.models import Q

from server.bench.models import Parcel
from server.carriers.models import TariffVersion
from server.orders.models import Order
from server.recipes.models import Product, Recipe
from server.supplies.models import Supply
from server.supplies.selectors import supplies_with_stock
from server.workshops.models import Workshop

__all__ = ["FirstParcel", "Part", "first_parcel"]

PartCode = Literal["carton", "wrap", "fill", "tape", "product", "recipe", "price_list", "order", "packed"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """One thing a first parcel needs."""

    code: PartCode
    there: bool
    name: str  #: of what is there
    id: int | None  #: of what is there, or of what lacks: a product without a recipe, an order that is held
    place: str  #: where it lies
    lacks: str  #: there, but: "stock", "size", "held"; empty: nothing


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstParcel:
    """How far it is."""

    parts: tuple[Part, ...]
    packed: bool  #: the first parcel was closed: this page is done with

    @property
    def left(self) -> int:
        """Return how many parts are not there yet."""
        return sum(1 for part in self.parts if not part.there)


def first_parcel(workshop: Workshop) -> FirstParcel:
    """Return what is there and what is not, in a fixed number of queries."""
    supplies = list(supplies_with_stock(workshop).filter(retired_at=None).order_by("shelf", "slot", "code"))
    orders = Order.objects.of(workshop).exclude(state=Order.State.CANCELLED).order_by("id")
    # One that can go on before one that is held.
    order = orders.exclude(state=Order.State.HELD).first() or orders.first()
    packed = Parcel.objects.of(workshop).filter(state=Parcel.State.CLOSED).exists()
    used = _used(workshop, order)
    parts = (
        _of_kinds("carton", supplies, ("carton", "mailer"), used),
        _of_kinds("wrap", supplies, ("wrap",), used),
        _of_kinds("fill", supplies, ("fill",), used),
        _of_kinds("tape", supplies, ("tape",), used),
        _product(workshop),
        _recipe(workshop),
        _price_list(workshop),
        _order(order),
        Part(code="packed", there=packed, name="", id=order.pk if order else None, place="", lacks=""),
    )
    return FirstParcel(parts=parts, packed=packed)


def _used(workshop: Workshop, order: Order | None) -> set[str]:
    """The supplies the first order's plan asks for are the ones to show."""
    if order is None:
        return set()
    promised = Supply.objects.of(workshop).filter(promised__plan__order=order)
    return set(promised.values_list("code", flat=True))


def _of_kinds(code: PartCode, supplies: list[Supply], kinds: tuple[str, ...], used: set[str]) -> Part:
    mine = [row for row in supplies if row.kind in kinds]
    stocked = [row for row in mine if row.on_hand > 0]  # type: ignore[attr-defined]
    best = next((row for row in stocked if row.code in used), None) or next(iter(stocked or mine), None)
    if best is None:
        return Part(code=code, there=False, name="", id=None, place="", lacks="")
    lacks = "" if best in stocked else "stock"
    return Part(code=code, there=not lacks, name=best.name, id=best.pk, place=best.place, lacks=lacks)


def _product(workshop: Workshop) -> Part:
    rows = Product.objects.of(workshop).filter(contents=[])
    whole = rows.filter(length_um__isnull=False, weight_mg__isnull=False).order_by("id").first()
    best = whole or rows.order_by("id").first()
    if best is None:
        return Part(code="product", there=False, name="", id=None, place="", lacks="")
    return Part(
        code="product",
        there=whole is not None,
        name=best.name,
        id=best.pk,
        place=best.shelf,
        lacks="" if whole else "size",
    )


def _recipe(workshop: Workshop) -> Part:
    best = Recipe.objects.of(workshop).filter(~Q(versions=None)).order_by("id").first()
    named = Product.objects.of(workshop).exclude(recipe=None).exists()
    if best is None or not named:
        waiting = Product.objects.of(workshop).filter(recipe=None, contents=[]).order_by("id").first()
        return Part(
            code="recipe",
            there=False,
            name="",
            id=waiting.pk if waiting else None,
            place="",
            lacks="product" if best else "",
        )
    return Part(code="recipe", there=True, name=best.name, id=best.pk, place="", lacks="")


def _price_list(workshop: Workshop) -> Part:
    best = TariffVersion.objects.of(workshop).order_by("id").first()
    if best is None:
        return Part(code="price_list", there=False, name="", id=None, place="", lacks="")
    return Part(code="price_list", there=True, name=best.document["carrier_name"], id=best.pk, place="", lacks="")


def _order(order: Order | None) -> Part:
    if order is None:
        return Part(code="order", there=False, name="", id=None, place="", lacks="")
    held = order.state == Order.State.HELD
    name = f"{order.number}, {order.buyer}"
    return Part(code="order", there=not held, name=name, id=order.pk, place="", lacks="held" if held else "")
