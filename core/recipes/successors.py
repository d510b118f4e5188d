"""Recipes as they take one supply for another: what is to be used up first, or what takes its place (recipes; 13.6)."""

from collections.abc import Mapping
from dataclasses import replace

from core.recipes.expand import OrderLine
from core.recipes.model import Band, InsertAmount

__all__ = ["with_instead"]


def with_instead(lines: tuple[OrderLine, ...], instead: Mapping[str, str]) -> tuple[OrderLine, ...]:
    """Return the lines with recipes that take another supply wherever they name one of ``instead``."""
    if not instead:
        return lines
    return tuple(
        replace(line, recipe=replace(line.recipe, bands=tuple(_band(band, instead) for band in line.recipe.bands)))
        if line.recipe is not None
        else line
        for line in lines
    )


def _band(band: Band, instead: Mapping[str, str]) -> Band:
    def other(code: str | None) -> str | None:
        return instead.get(code, code) if code else code

    inner, closure, thermal = band.inner, band.closure, band.thermal
    return replace(
        band,
        layers=tuple(replace(layer, wrap=instead.get(layer.wrap, layer.wrap)) for layer in band.layers),
        unit_box=other(band.unit_box),
        inner=replace(inner, container=instead.get(inner.container, inner.container)) if inner else None,
        outers=tuple(dict.fromkeys(instead.get(code, code) for code in band.outers)),
        fill=other(band.fill),
        fill_below=other(band.fill_below),
        fill_above=other(band.fill_above),
        divider=other(band.divider),
        closure=replace(closure, tape=instead.get(closure.tape, closure.tape)) if closure else None,
        thermal=replace(
            thermal,
            liner=instead.get(thermal.liner, thermal.liner),
            packs=tuple(dict.fromkeys(instead.get(code, code) for code in thermal.packs)),
        )
        if thermal
        else None,
        inserts=tuple(_insert(one, instead) for one in band.inserts),
    )


def _insert(one: InsertAmount, instead: Mapping[str, str]) -> InsertAmount:
    return replace(one, insert=instead.get(one.insert, one.insert))
