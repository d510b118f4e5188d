"""./calm pack REQUEST.json [--out RESULT.json] [--many FILE]: the packing without the database."""

import argparse
import json
import sys
from collections.abc import Iterable
from pathlib import Path

from core.packing.cheapest import cheapest_container
from server.formats.pack_request import WrongRequest, read_request, result_document

__all__ = ["main"]


def answer(text: str) -> dict[str, object]:
    """Return the result document for a request's text.

    Raises WrongRequest with every fault.
    """
    return result_document(cheapest_container(*read_request(text).core()))


def _many(lines: Iterable[str]) -> tuple[str, int]:
    """Return one result a line for one request a line, and the exit code; a wrong line is answered in its place."""
    found, code = [], 0
    for number, line in enumerate(lines, start=1):
        if not line.strip():
            continue
        try:
            found.append(json.dumps(answer(line)))
        except WrongRequest as wrong:
            code = 2
            found.append(json.dumps({"format": "calm-cupboard/pack-result", "version": 1, "error": wrong.faults}))
            sys.stderr.write("".join(f"line {number}: {fault}\n" for fault in wrong.faults))
    return "".join(f"{one}\n" for one in found), code


def main(arguments: list[str]) -> int:
    """Answer one request, or many; return the exit code: 0, or 2 for a wrong request. Then nothing is written."""
    parser = argparse.ArgumentParser(
        prog="./calm pack", description="Find the cheapest container that holds all units."
    )
    parser.add_argument("request", nargs="?", help="a pack request, docs/formats/pack-request.md; - for standard input")
    parser.add_argument("--out", help="write the result here instead of to standard output")
    parser.add_argument("--many", metavar="FILE", help="one request a line in FILE, one result a line out")
    parser.add_argument("--folder", default=".", help=argparse.SUPPRESS)
    given = parser.parse_args(arguments)
    if (given.request is None) == (given.many is None):
        parser.error("give one request, or --many FILE")
    folder, name = Path(given.folder), given.request or given.many
    try:
        text = sys.stdin.read() if name == "-" else (folder / name).read_text(encoding="utf-8")
        result, code = _many(text.splitlines()) if given.many else (json.dumps(answer(text), indent=1) + "\n", 0)
        if given.out:
            (folder / given.out).write_text(result, encoding="utf-8")
        else:
            sys.stdout.write(result)
    except WrongRequest as wrong:
        sys.stderr.write("".join(f"{fault}\n" for fault in wrong.faults))
        return 2
    except (OSError, UnicodeDecodeError) as error:
        sys.stderr.write(f"{name}: cannot be read or written: {error}\n")
        return 2
    return code


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
