"""`./calm simulate --seed N --orders N`: a made-up shop's year, by the program and by fixed habits; no database."""

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path

from server.config.env import ROOT
from server.simulation.playing import YearResult, simulate

__all__ = ["document_of", "main", "told"]

_NAMES = {"program": "the program", "one_carton": "one carton a size, one service", "by_eye": "smallest box by eye"}


def document_of(result: YearResult) -> dict[str, object]:
    """Return a result as JSON values; the time it took is left out, so that the same seed gives the same file."""
    outcomes = []
    for one in result.outcomes:
        row = {key: value for key, value in asdict(one).items() if key != "paid"}
        row |= {"all_in": one.all_in, "per_order": one.per_order}
        outcomes.append({key: round(value, 4) if isinstance(value, float) else value for key, value in row.items()})
    return {
        "format": "calm-cupboard/year",
        "version": 1,
        "seed": result.seed,
        "orders": result.orders,
        "contents": result.contents,
        "saved": round(result.saved, 4),
        "outcomes": outcomes,
        "flat_fees": [
            {"player": player, "fee": round(fee, 2), "short": round(share, 4), "short_sum": round(total, 2)}
            for player, fee, share, total in result.charges
        ],
    }


def told(result: YearResult) -> str:
    """Return a result as lines to read."""
    lines = [
        f"seed {result.seed}: {result.orders} orders, {result.contents} contents, {result.seconds:.0f} s",
        f"{'':32}{'per order':>10}{'materials':>10}{'minutes':>9}{'postage':>9}{'loss':>7}{'asleep':>8}"
        f"{'broken':>8}{'late':>7}{'waited':>8}{'unsent':>8}",
    ]
    for one in result.outcomes:
        n = max(1, one.orders)
        lines.append(
            f"{_NAMES[one.player]:32}{one.per_order:10.2f}{one.materials / n:10.2f}{one.labour / n:9.2f}"
            f"{one.postage / n:9.2f}{one.loss / n:7.2f}{one.asleep_mean:8.0f}{one.broken / n:8.2%}{one.late / n:7.1%}"
            f"{one.waited:8}{one.unsent:8}"
        )
    lines.append(f"saved against the better habit: {result.saved:.1%} an order")
    return "\n".join(lines)


def main(arguments: list[str]) -> int:
    """Run the year; return the exit code."""
    parser = argparse.ArgumentParser(prog="./calm simulate", description="A made-up shop's year.")
    parser.add_argument("--folder", default=".", help=argparse.SUPPRESS)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--orders", type=int, default=2_000, help="in the year, 50 to 20000")
    parser.add_argument("--processes", type=int, default=2)
    parser.add_argument("--out", help="write the result there as JSON")
    asked = parser.parse_args(arguments)
    if not 50 <= asked.orders <= 20_000:
        parser.error(f"--orders wants 50 to 20000; given: {asked.orders}")
    if not 1 <= asked.processes <= 64:
        parser.error(f"--processes wants 1 to 64; given: {asked.processes}")
    result = simulate(ROOT / "demo", seed=asked.seed, count=asked.orders, processes=asked.processes)
    sys.stdout.write(told(result) + "\n")
    if asked.out:
        (Path(asked.folder) / asked.out).write_text(json.dumps(document_of(result), indent=1) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
