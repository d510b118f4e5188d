"""Wrapping a unit: how it grows, how much sheet it takes, what that weighs (rules 2.1).

Worked case, a jar 72 x 72 x 98 mm in 4 mm wrap, 2 turns, 2 ends on each face, k 0.9: the sides grow by
2 x 2 x 4 x 0.9 = 14.4 mm, the height by (2 + 2) x 4 x 0.9 = 14.4 mm, giving 86.4 x 86.4 x 112.4 mm. Its sheet
is 683.6 x 210 mm = 0.1436 m2. Sums are kept as fractions and rounded once at the end.
"""

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from core.recipes.model import WrapLayer
from core.supplies.items import Wrap
from core.units import Micrometres, Milligrams, Size, round_half_away

__all__ = ["Cut", "WrapSheet", "cut_for", "grow", "sheet_for", "sheets_per_roll", "wrap_weight_mg"]

#: What the sheet stands over the unit at each end, to fold (rules 2.2).


@dataclass(frozen=True, slots=True, kw_only=True)
class WrapSheet:
    """The sheet one unit takes."""

    length_um: Micrometres  #: the way round, with the overlap
    width_um: Micrometres  #: along the unit's height, with the folds

    @property
    def area_m2(self) -> Decimal:
        """Area in m2, six places."""
        return _square_metres(self.length_um * self.width_um)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cut:
    """How the sheets of one layer are cut, and what leaves the stock for them."""

    lengths: int  #: so many are cut off a roll, or so many pre-cut sheets are taken
    length_um: Micrometres  #: each so long
    across_um: Micrometres | None  #: the roll's whole width; None: not from a roll
    keep_um: Micrometres  #: of that width the sheet takes so much
    sheets_each: int  #: sheets out of one length
    area_m2: Decimal  #: what leaves the stock, six places
    joined: int = 1  #: so many strips side by side make one sheet that is wider than the roll
    ready: bool = False  #: sheets that come cut: none is cut off anything


def grow(bare: Size, layer: WrapLayer, wrap: Wrap) -> Size:
    """Return the size of a unit with this layer round it, um."""
    pressed = Fraction(wrap.thickness_um) * Fraction(layer.compression)
    sides_um = round_half_away(2 * Fraction(layer.turns) * pressed)
    height_um = round_half_away((layer.ends_top + layer.ends_bottom) * pressed)
    return bare.grown(sides_um, sides_um, height_um)


def sheet_for(bare: Size, layer: WrapLayer, wrap: Wrap) -> WrapSheet:
    """Return the sheet for this layer round a unit of the given size.

    Each turn lies on the one before, so turn i is longer by 8 t k (i - 1/2); a part turn takes its share.
    """
    pressed = Fraction(wrap.thickness_um) * Fraction(layer.compression)
    length = Fraction(layer.overlap_um)
    left, turn = Fraction(layer.turns), 1
    while left > 0:
        share = min(left, Fraction(1))
        length += share * (2 * (bare.length_um + bare.width_um) + 8 * pressed * Fraction(2 * turn - 1, 2))
        left -= share
        turn += 1
    width_um = bare.height_um + min(bare.length_um, bare.width_um) + 2 * wrap.fold_um
    return WrapSheet(length_um=round_half_away(length), width_um=width_um)


def cut_for(sheet: WrapSheet, count: int, wrap: Wrap) -> Cut:
    """Return how ``count`` such sheets are cut and what leaves the stock (rules 2.3).

    From a roll lengths are cut across its whole width, in the better of both orientations; the offcut is put back only
    when it is at least as wide as the supply's rule says. A pre-cut sheet is used whole.

    A sheet of 683.6 x 210 mm from a 380 mm roll takes 683.6 x 380 mm = 0.259768 m2.
    """
    if wrap.roll_width_um:
        options = [_rolled(along, across, count, wrap) for along, across in _both_ways(sheet)]
        # Strips are joined only where no orientation fits the roll.
        return min(options, key=lambda cut: (cut.joined > 1, cut.area_m2, cut.lengths * cut.length_um))
    if wrap.sheet_um is None:
        return Cut(
            lengths=count,
            length_um=sheet.length_um,
            across_um=None,
            keep_um=sheet.width_um,
            sheets_each=1,
            area_m2=sheet.area_m2 * count,
        )
    long, wide = wrap.sheet_um
    fits = any(along <= long and across <= wide for along, across in _both_ways(sheet))
    each = 1 if fits else -(-sheet.length_um * sheet.width_um // (long * wide))
    return Cut(
        lengths=count * each,
        length_um=long,
        across_um=None,
        keep_um=wide,
        sheets_each=1,
        area_m2=_square_metres(count * each * long * wide),
        joined=each,
        ready=True,
    )


def _both_ways(sheet: WrapSheet) -> tuple[tuple[int, int], tuple[int, int]]:
    return (sheet.length_um, sheet.width_um), (sheet.width_um, sheet.length_um)


def _rolled(along: Micrometres, across: Micrometres, count: int, wrap: Wrap) -> Cut:
    """Cut sheets of ``along`` x ``across`` off a roll, the second side lying across it."""
    roll = wrap.roll_width_um or across
    beside = max(1, roll // across)
    strips = -(-across // roll)
    full, rest = divmod(count, beside)
    lengths = (full + (1 if rest else 0)) * strips
    offcuts = [(roll - beside * across, full), (roll - rest * across, 1 if rest else 0)] if strips == 1 else []
    put_back = sum(
        width * along * many
        for width, many in offcuts
        if wrap.offcut_from_um is not None and width >= wrap.offcut_from_um
    )
    return Cut(
        lengths=lengths,
        length_um=along,
        across_um=roll,
        keep_um=min(across, roll),
        sheets_each=beside,
        area_m2=_square_metres(lengths * along * roll - put_back),
        joined=strips,
    )


def _square_metres(area_um2: int) -> Decimal:
    return (Decimal(area_um2) / Decimal(10) ** 12).quantize(Decimal("0.000001"))


def sheets_per_roll(sheet: WrapSheet, *, roll_width_um: Micrometres, roll_length_um: Micrometres) -> int:
    """Return how many such sheets one roll gives, in the better of both orientations."""
    along = (roll_width_um // sheet.width_um) * (roll_length_um // sheet.length_um)
    across = (roll_width_um // sheet.length_um) * (roll_length_um // sheet.width_um)
    return max(along, across)


def wrap_weight_mg(area_m2: Decimal, wrap: Wrap) -> Milligrams:
    """Return the weight of so much wrap, mg."""
    return round_half_away(area_m2 * wrap.mg_per_m2)
