"""Compile the packing search's inner loops once, so that the first order does not wait for them (lib.sh calls this)."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from core.packing.canonical import canonical_units
from core.packing.model import Box, PackRules, PackUnit
from core.packing.ruled_out import ruled_out
from core.packing.search import STEPS, Effort, finish, quick
from core.recipes.model import Cushion

#: Pieces that cannot all be in a cube of 100 mm, which no quick sum shows: every step of the search is taken.
_PIECES = ((60, 60, 45), (60, 60, 41), (45, 45, 45), (41, 60, 60), (40, 40, 99), (60, 41, 60), (70, 30, 30))


def main() -> None:
    """Take every step with and without supports to keep."""
    units = canonical_units(tuple(_piece(number, size) for number, size in enumerate(_PIECES)))
    box = Box(code="box", inner_um=(100_000, 100_000, 100_000), max_load_mg=10**9)
    for support in (0, 75):
        rules = PackRules(gap_um=0, support_percent=support)
        ruled_out(box, units, rules)
        quick(box, units, rules)
        for step in range(STEPS):
            finish(box, units, rules, step, Effort(left=10**9))


def _piece(number: int, size: tuple[int, int, int]) -> PackUnit:
    return PackUnit(
        code=f"u{number}", name="piece", quantity=1, size_um=(size[0] * 1000, size[1] * 1000, size[2] * 1000),
        weight_mg=1000, up_axes=(0, 1, 2), clearance=Cushion(bottom_um=0, side_um=0, top_um=0), load_on_top_mg=None,
    )  # fmt: skip


if __name__ == "__main__":
    main()
