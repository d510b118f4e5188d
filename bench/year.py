"""Made-up years for several seeds, and the plot of docs/value.md (./calm bench year [SEEDS [N]])."""

import statistics
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from PIL import Image, ImageDraw, ImageFont

from server.commands.simulate import told
from server.config.env import ROOT
from server.simulation.playing import YearResult, simulate

FONT = next((ROOT / "server" / "formats" / "fonts").glob("*.ttf"))
INK, SOFT, LINE, SHEET = (20, 36, 42), (90, 110, 118), (205, 214, 217), "white"
PARTS = (
    ("materials", (216, 184, 141)),
    ("labour", (181, 198, 214)),
    ("postage", (29, 74, 154)),
    ("loss", (156, 47, 27)),
    ("holding", (143, 161, 164)),
)
NAMES = {"program": "the program", "one_carton": "one carton a size", "by_eye": "smallest box by eye"}


def main() -> None:
    """Print each year and the mean over the seeds; write docs/value-cost.png."""
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 5
    count = int(sys.argv[2]) if len(sys.argv) > 2 else 2_000
    results = []
    for seed in range(1, seeds + 1):
        results.append(simulate(ROOT / "demo", seed=seed, count=count))
        print(told(results[-1]), flush=True)
    saved = [one.saved for one in results]
    spread = statistics.stdev(saved) if len(saved) > 1 else 0.0
    print(f"over {seeds} years of {count} orders: saved {statistics.mean(saved):.1%}, deviation {spread:.1%}")
    plot(results, ROOT / "docs" / "value-cost.png")


def plot(results: list[YearResult], path: Path) -> None:
    """Draw what an order costs each player, part by part, as the mean over the years."""
    image = Image.new("RGB", (760, 250), SHEET)
    draw = ImageDraw.Draw(image)
    font = ImageFont.truetype(str(FONT), 14)
    left, scale = 180, 36.0
    for cr in range(0, 16, 2):
        x = left + cr * scale
        draw.line((x, 30, x, 190), fill=LINE)
        draw.text((x, 196), str(cr), fill=SOFT, font=font, anchor="ma")
    for row, player in enumerate(NAMES):
        y = 40 + row * 50
        mine = [one.of(player) for one in results]
        draw.text((left - 12, y + 15), NAMES[player], fill=INK, font=font, anchor="rm")
        x = float(left)
        for name, colour in PARTS:
            wide = statistics.mean(getattr(one, name) / max(1, one.orders) for one in mine) * scale
            draw.rectangle((x, y, x + wide, y + 30), fill=colour)
            x += wide
        whole = statistics.mean(one.per_order for one in mine)
        draw.text((x + 8, y + 15), f"{whole:.2f}", fill=INK, font=font, anchor="lm")
    x = left
    for name, colour in PARTS:
        draw.rectangle((x, 222, x + 12, 234), fill=colour)
        draw.text((x + 18, 228), name, fill=SOFT, font=font, anchor="lm")
        x += 104
    draw.text((left, 8), "Cr an order, all in", fill=INK, font=font)
    image.save(path)


if __name__ == "__main__":
    main()
