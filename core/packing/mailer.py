"""Soft mailers: a flat inside that must go round the contents (rules 4.7).

Contents L x W x H need a flat length of L + H and a flat width of W + H, the length less the seal flap; filled,
the mailer is as thick as the contents and two walls. Equal units only: they are stacked as one block.
"""

from dataclasses import dataclass

from core.packing.model import PackUnit, Placement, Triple, orientations
from core.supplies.items import Mailer
from core.units import Size

__all__ = ["MailerFit", "MailerShort", "fit_mailer"]


@dataclass(frozen=True, slots=True, kw_only=True)
class MailerFit:
    """The contents as one block and the filled mailer's outside."""

    placements: tuple[Placement, ...]
    block: Size
    outer: Size


@dataclass(frozen=True, slots=True, kw_only=True)
class MailerShort:
    """By how much the flat inside is too small for the best arrangement, um."""

    short_by_um: int


def fit_mailer(mailer: Mailer, unit: PackUnit, gap_um: int) -> MailerFit | MailerShort:
    """Return the thinnest block of the units that goes into the mailer, or how much it lacks."""
    length_um, width_um = mailer.flat_length_um - mailer.seal_um, mailer.flat_width_um
    most_high = unit.most_high
    best: MailerFit | None = None
    least = None
    for size in orientations(unit):
        for across in range(1, unit.quantity + 1):
            fewest = -(-unit.quantity // (across * most_high))
            for along in range(fewest, -(-unit.quantity // across) + 1):
                high = -(-unit.quantity // (across * along))
                block = tuple(n * size[a] + (n - 1) * gap_um for a, n in enumerate((across, along, high)))
                short = max(block[0] + block[2] - length_um, block[1] + block[2] - width_um)
                least = short if least is None else min(least, short)
                if short <= 0 and (best is None or block[2] < best.block.height_um):
                    best = _filled(mailer, unit, size, (across, along, high), gap_um)
                if block[1] - width_um >= max(1, least):
                    break  # still more beside each other lack no less
            if least is not None and across * size[0] - length_um >= max(1, least):
                break
    return best if best is not None else MailerShort(short_by_um=max(1, least or 1))


def _filled(mailer: Mailer, unit: PackUnit, size: Triple, count: Triple, gap_um: int) -> MailerFit:
    across, along, high = count
    spots = [(x, y, z) for z in range(high) for y in range(along) for x in range(across)][: unit.quantity]
    placements = tuple(
        Placement(
            unit=unit.code,
            at_um=(x * (size[0] + gap_um), y * (size[1] + gap_um), z * (size[2] + gap_um)),
            size_um=size,
        )
        for x, y, z in spots
    )
    block = Size(
        length_um=max(p.at_um[0] + p.size_um[0] for p in placements),
        width_um=max(p.at_um[1] + p.size_um[1] for p in placements),
        height_um=max(p.top_um for p in placements),
    )
    # The flat outside draws in as the mailer fills: what goes round the contents is lost from its length.
    outer = Size(
        length_um=max(block.length_um, mailer.flat_length_um - mailer.seal_um - block.height_um) + 2 * mailer.wall_um,
        width_um=max(block.width_um, mailer.flat_width_um - block.height_um) + 2 * mailer.wall_um,
        height_um=block.height_um + 2 * mailer.wall_um,
    )
    return MailerFit(placements=placements, block=block, outer=outer)
