"""The narrowest piece any recipe cuts from each roll: an offcut that is narrower serves nobody (recipes; rules 2.3).
Pure.
"""

from collections.abc import Iterable, Mapping

from core.recipes.goods import Product
from core.recipes.model import Recipe
from core.recipes.wrap import cut_for, grow, sheet_for
from core.supplies.items import Wrap
from core.units import Micrometres

__all__ = ["narrowest_cuts"]


def narrowest_cuts(packed: Iterable[tuple[Product, Recipe]], wraps: Mapping[str, Wrap]) -> dict[str, Micrometres]:
    """Return, for each wrap on a roll that is used, how wide the narrowest piece is that is cut from it, um.

    ``packed``: every product of known size with the recipe that packs it.
    """
    found: dict[str, Micrometres] = {}
    for product, recipe in packed:
        for band in recipe.bands:
            size = product.size
            for layer in band.layers:
                wrap = wraps.get(layer.wrap)
                if size is None or wrap is None:
                    break
                if wrap.roll_width_um:
                    keep_um = cut_for(sheet_for(size, layer, wrap), 1, wrap).keep_um
                    found[wrap.code] = min(keep_um, found.get(wrap.code, keep_um))
                size = grow(size, layer, wrap)
    return found
