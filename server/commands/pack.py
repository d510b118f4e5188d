"""./calm pack REQUEST.json [--out RESULT.json] [--many FILE]: the packing without the database."""

import sys

from core.packing.cheapest import cheapest_container
from server.commands.script_interface import run_script_interface
from server.formats.pack_request import read_request, result_document

__all__ = ["answer", "main"]


def answer(text: str) -> dict[str, object]:
    """Return the result document for a request's text.

    Raises WrongRequest with every error.
    """
    return result_document(cheapest_container(*read_request(text).core()))


def main(arguments: list[str]) -> int:
    """Run the script interface; return the exit code."""
    return run_script_interface("pack", "Find the cheapest container that holds all units.", answer, arguments)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
