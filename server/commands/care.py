"""`./calm care REQUEST.json`: what a way does to goods, and what keeps them within their limits; no database."""

import sys

from server.commands.script_interface import run_script_interface
from server.formats.care_request import read_request, result_document, worked_out

__all__ = ["answer", "main"]


def answer(text: str) -> dict[str, object]:
    """Return the result document for a request's text.

    Raises WrongRequest with every error.
    """
    return result_document(worked_out(read_request(text)))


def main(arguments: list[str]) -> int:
    """Run the script interface; return the exit code."""
    return run_script_interface("care", "What a way does to goods, packs needed, days to ship on.", answer, arguments)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
