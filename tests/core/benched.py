"""One container of one order of the bench's families, as the searches take it."""

from bench.packing.families import FAMILIES
from core.packing.canonical import canonical_units
from core.packing.model import Box, PackRules, PackUnit

__all__ = ["benched"]


def benched(family: str, number: int, code: str) -> tuple[Box, tuple[PackUnit, ...], PackRules]:
    """Return the container of that code that is offered for an order, its units and rules."""
    order = FAMILIES[family](f"{family}-{number}", number)
    inside = next(one.box for one in order.offered if one.box.code == code)
    return inside, canonical_units(order.units), order.rules
