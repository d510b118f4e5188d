"""The command line of a script interface: one request in and one result out, or many in one process; no database."""

import argparse
import json
import sys
from collections.abc import Callable, Iterable
from pathlib import Path

from server.formats.script_interface import WrongRequest

__all__ = ["Answer", "run_script_interface"]

#: From a request's text to its result document; raises WrongRequest with every error.
Answer = Callable[[str], dict[str, object]]


def run_script_interface(name: str, about: str, answer: Answer, arguments: list[str]) -> int:
    """Answer one request, or many; return the exit code: 0, or 2 for a wrong request. Then nothing is written."""
    parser = argparse.ArgumentParser(prog=f"./calm {name}", description=about)
    parser.add_argument("request", nargs="?", help=f"a request, docs/formats/{name}-request.md; - for standard input")
    parser.add_argument("--out", help="write the result here instead of to standard output")
    parser.add_argument("--many", metavar="FILE", help="one request a line in FILE, one result a line out")
    parser.add_argument("--folder", default=".", help=argparse.SUPPRESS)
    given = parser.parse_args(arguments)
    if (given.request is None) == (given.many is None):
        parser.error("give one request, or --many FILE")
    folder, source = Path(given.folder), given.request or given.many
    try:
        content = sys.stdin.buffer.read() if source == "-" else (folder / source).read_bytes()
        if given.many:
            result, code = _many(name, answer, content.split(b"\n"))
        else:
            result, code = json.dumps(answer(_text(content)), indent=1) + "\n", 0
        if given.out:
            (folder / given.out).write_text(result, encoding="utf-8")
        else:
            sys.stdout.write(result)
    except WrongRequest as wrong:
        sys.stderr.write("".join(f"{fault}\n" for fault in wrong.faults))
        return 2
    except OSError as error:
        sys.stderr.write(f"{source}: cannot be read or written: {error}\n")
        return 2
    return code


def _text(content: bytes) -> str:
    """Return a request's text. Raises WrongRequest that names the first byte that is not UTF-8."""
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise WrongRequest([f"$: not UTF-8: byte {error.start + 1} is 0x{content[error.start]:02x}"]) from None


def _many(name: str, answer: Answer, lines: Iterable[bytes]) -> tuple[str, int]:
    """Return one result a line for one request a line, and the exit code; a wrong line is answered in its place
    and loses none of the others."""
    found, code = [], 0
    for number, line in enumerate(lines, start=1):
        if not line.strip():
            continue
        try:
            found.append(json.dumps(answer(_text(line))))
        except WrongRequest as wrong:
            code = 2
            found.append(json.dumps({"format": f"calm-cupboard/{name}-result", "version": 1, "error": wrong.faults}))
            sys.stderr.write("".join(f"line {number}: {fault}\n" for fault in wrong.faults))
    return "".join(f"{one}\n" for one in found), code
