"""What a person changed of the recipe for one order: another fill, an insert left out, a sample of their choice
(parcels).

The recipe stays as it is; the order's lines carry a copy that is changed. Required inserts are never left out.
"""

from dataclasses import replace

from core.parcels.facts import Overrides
from core.recipes.expand import OrderLine
from core.recipes.model import Band, InsertAmount

__all__ = ["swapped"]


def swapped(lines: tuple[OrderLine, ...], overrides: Overrides) -> tuple[OrderLine, ...]:
    """Return the lines with their recipes as this order has them."""
    if not overrides.omitted and not overrides.substitutes:
        return lines
    return tuple(
        replace(line, recipe=replace(line.recipe, bands=tuple(_changed(band, overrides) for band in line.recipe.bands)))
        if line.recipe is not None
        else line
        for line in lines
    )


def _changed(band: Band, overrides: Overrides) -> Band:
    instead = dict(overrides.substitutes)

    def fill(code: str | None) -> str | None:
        return instead.get(code, code) if code else code

    return replace(
        band,
        fill=fill(band.fill),
        fill_below=fill(band.fill_below),
        fill_above=fill(band.fill_above),
        inserts=tuple(
            _insert(one, instead) for one in band.inserts if one.required or one.insert not in overrides.omitted
        ),
    )


def _insert(one: InsertAmount, instead: dict[str, str]) -> InsertAmount:
    other = instead.get(one.insert)
    if other is None or one.required:
        return one
    return replace(one, insert=other, samples=())
