"""The catalogue: one template for every message of the core, by its code."""

from server.words.catalogue.bench import BENCH
from server.words.catalogue.designing import DESIGNING
from server.words.catalogue.money import MONEY
from server.words.catalogue.outcomes import OUTCOMES
from server.words.catalogue.parcels import PARCELS
from server.words.catalogue.recipes import RECIPES
from server.words.catalogue.tariffs import TARIFFS

__all__ = ["CATALOGUE"]

CATALOGUE: dict[str, str] = {**RECIPES, **TARIFFS, **PARCELS, **DESIGNING, **BENCH, **OUTCOMES, **MONEY}
