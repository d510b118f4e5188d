"""The same band packed several ways, as the screen shows it."""

from dataclasses import replace
from typing import Any

from core.designing.ways import PackedWay, compare_ways
from core.messages import say
from core.parcels.candidate import PlannedParcel
from core.parcels.layers import pack_layers
from core.recipes.expand import OrderLine, expand
from core.recipes.model import judged_units
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.designing.figures import shown_goods
from server.formats.recipe import RecipeFile, document_of
from server.recipes.mapping import core_products
from server.recipes.models import Product, Recipe
from server.recipes.selectors import with_their_families
from server.workshops.models import Workshop

__all__ = ["compared"]


def compared(workshop: Workshop, recipe: Recipe, document: Any, band_first: int) -> dict[str, Any]:
    """Return the fields of the ways' answer. Raises Refused when there is no such band or nothing to pack."""
    file = RecipeFile.model_validate(document)
    core = replace(file.core(number=0), tried=True)
    band = next((one for one in core.bands if one.first == band_first), None)
    if band is None:
        raise Refused(f"No order size starts at {band_first}.", code="not_found", status=404, field="band_first")
    rows = list(Product.objects.of(workshop).filter(recipe=recipe))
    known = core_products(rows, with_their_families(workshop, rows))
    goods = shown_goods(workshop, replace(core, mix=()), known)
    if isinstance(goods, str):
        raise Refused(goods, code="no_product", status=422)
    product = goods[0][0]
    units = judged_units(band.first, band.last)
    desk = desk_of(workshop)
    found = compare_ways(core, band, product, units, desk)

    def show(way: PackedWay) -> dict[str, Any]:
        wraps = [
            say("wrap_unit", wrap=desk.name(layer.wrap), turns_number=layer.turns, together=layer.per_units)
            for layer in way.band.layers
        ]
        plain = {"key": way.key, "name": way.name, "problem": way.problem, "wraps": wraps, "candidate": way.candidate}
        if way.candidate is None:
            return {**plain, "layers": ()}
        packed = replace(core, bands=(replace(way.band, first=1, last=units),))
        line = OrderLine(sku=product.sku, quantity=units, product=product, recipe=packed)
        pieces = expand((line,), desk.facts.shelf).pieces
        parcel = PlannedParcel(goods=((product.sku, units),), pieces=pieces, candidate=way.candidate)
        return {**plain, "layers": pack_layers(parcel, dict(desk.names))}

    bands = {}
    for way in found.ways:
        if way.candidate is not None:
            named = replace(way.band, first=band.first, last=band.last, outers=(way.candidate.container,))
            whole = document_of(replace(core, bands=(replace(named, first=1),)))
            bands[way.key] = {**whole.bands[0].model_dump(mode="json"), "first": band.first}
    return {
        "units": units,
        "goods": product.name,
        "winner": found.winner,
        "words": found.words,
        "balances": [balance.words for balance in found.balances],
        "ways": [show(way) for way in found.ways],
        "bands": bands,
    }
