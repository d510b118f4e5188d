"""The figures and plots of docs/care.md (./calm bench care): the box against the formula, on seeded cases.

Writes docs/care-worked.png and docs/care-bound.png and prints the figures. The fonts are those of the papers.
"""

import sys
from collections.abc import Sequence
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from PIL import Image, ImageDraw, ImageFont

from core.care.thermal import Box, Limits, bound_packs, heat_flow_j, need_of, simulate, u_of
from tests.core.caring import FOAM, GEL, PADDED, boxes_and_ways
from tests.core.samples import size

ROOT = Path(__file__).resolve().parent.parent
FONT = next((ROOT / "server" / "formats" / "fonts").glob("*.ttf"))
INK, SOFT, LINE, STOP = (21, 34, 40), (90, 110, 118), (205, 214, 217), (160, 50, 30)
HOT = [27.0] * 48
MIXED = [22.0] * 12 + [15.0] * 12 + [27.0] * 12 + [18.0] * 12


#: The box of the worked numbers of rules 15.3.
WORKED = Box(inner=size(250, 200, 150), u_w_per_m2k=u_of(FOAM), goods_j_per_k=2_500, start_c=18)


class Plot:
    """One small plot with axes."""

    def __init__(self, width: int, height: int, x: tuple[float, float], y: tuple[float, float]) -> None:
        self.image = Image.new("RGB", (width, height), "white")
        self.draw = ImageDraw.Draw(self.image)
        self.font = ImageFont.truetype(str(FONT), 13)
        self.x, self.y = x, y
        self.box = (48, 26, width - 16, height - 34)

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Return the point on the picture."""
        left, top, right, bottom = self.box
        return (
            left + (x - self.x[0]) / (self.x[1] - self.x[0]) * (right - left),
            bottom - (y - self.y[0]) / (self.y[1] - self.y[0]) * (bottom - top),
        )

    def axes(self, xs: Sequence[float], ys: Sequence[float], title: str, below: str) -> None:
        """Draw ticks and words."""
        left, top, right, bottom = self.box
        for one in ys:
            y = self.at(0, one)[1]
            self.draw.line((left, y, right, y), fill=LINE)
            self.draw.text((left - 8, y), f"{one:g}", fill=SOFT, font=self.font, anchor="rm")
        for one in xs:
            x = self.at(one, self.y[0])[0]
            self.draw.line((x, bottom, x, bottom + 4), fill=SOFT)
            self.draw.text((x, bottom + 6), f"{one:g}", fill=SOFT, font=self.font, anchor="ma")
        self.draw.text((left, top - 20), title, fill=INK, font=self.font)
        self.draw.text((right, bottom + 19), below, fill=SOFT, font=self.font, anchor="ra")

    def curve(self, points: Sequence[tuple[float, float]], colour: tuple[int, int, int], width: int) -> None:
        """Draw a line through points."""
        self.draw.line([self.at(*one) for one in points], fill=colour, width=width)

    def words(self, x: float, y: float, text: str, colour: tuple[int, int, int]) -> None:
        """Write beside a point."""
        self.draw.text(self.at(x, y), text, fill=colour, font=self.font)


def worked() -> None:
    """Draw the first worked case with too few packs, with enough, and in sleeves."""
    box = WORKED
    plot = Plot(760, 320, (0, 48), (-6, 30))
    plot.axes(
        (0, 12, 24, 36, 48), (0, 10, 18, 27), "48 hours at 27 C, at most 18 C: temperature of the goods, C", "hours"
    )
    plot.curve([(0, 18), (48, 18)], STOP, 2)
    for pack, count, colour, at in (
        (GEL, 5, SOFT, (33, 16.0)),
        (GEL, 7, INK, (25, 1.2)),
        (PADDED, 5, (40, 80, 160), (8, 13.6)),
    ):
        seen = simulate(box, HOT, pack=pack, count=count)
        plot.curve([(0, 18.0), *((hour + 1.0, one) for hour, one in enumerate(seen.inside_c))], colour, 3)
        sort = "in sleeves" if pack.pack is not None and pack.pack.padded else "bare"
        plot.words(*at, f"{count} packs {sort}", colour)
    plot.image.save(ROOT / "docs" / "care-worked.png", optimize=True)


def against_the_bound(count: int) -> None:
    """Draw what the simulation asks for against what the formula says at least, and print how they compare."""
    plot = Plot(420, 380, (0, 12), (0, 24))
    plot.axes((0, 4, 8, 12), (0, 6, 12, 18, 24), "Packs by the simulation", "packs by the formula")
    plot.curve([(0, 0), (12, 12)], SOFT, 1)
    below = other = asked = worst = 0.0
    for box, outside, limits in boxes_and_ways("care", count):
        pack = GEL
        found = need_of(lambda _, box=box: box, outside, limits, pack, most=40)  # type: ignore[misc]
        half = need_of(lambda _, box=box: box, outside, limits, pack, most=40, finer=2)  # type: ignore[misc]
        other += (found and found.count) != (half and half.count)
        seen = simulate(box, outside, pack=pack, count=5)
        worst = max(worst, abs(seen.through_walls_j - seen.taken_up_j) / max(1_000.0, abs(seen.through_walls_j)))
        if found is None:
            continue
        least = bound_packs(heat_flow_j(box, outside, limits)[0], pack)
        asked += found.count > 0
        below += found.count < least
        if least <= 12 and found.count <= 24:
            x, y = plot.at(least, found.count)
            plot.draw.ellipse((x - 2.5, y - 2.5, x + 2.5, y + 2.5), outline=INK)
    print(f"{count} cases, {asked:g} need packs; below the bound {below:g}; other answers with half the step {other:g}")
    print(f"heat that is not accounted for: at most {worst * 100:.5f} %")
    plot.image.save(ROOT / "docs" / "care-bound.png", optimize=True)


def main() -> None:
    """Print the worked numbers, draw the plots."""
    box = WORKED
    for name, outside in (("48 h at 27", HOT), ("12 h each at 22, 15, 27, 18", MIXED)):
        heat = heat_flow_j(box, outside, Limits(high_c=18))[0]
        counts = []
        for pack in (GEL, PADDED):
            found = need_of(lambda _: box, outside, Limits(high_c=18), pack)
            counts.append(found.count if found is not None else None)
        least = bound_packs(heat, GEL)
        print(f"{name}: {heat / 1e3:.1f} kJ, at least {least}; bare {counts[0]}, in sleeves {counts[1]}")
    worked()
    against_the_bound(500)


if __name__ == "__main__":
    main()
