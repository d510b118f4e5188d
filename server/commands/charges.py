"""`./calm charges REQUEST.json`: what buyers are charged by policies, and whether it covers postage; no database."""

import sys

from server.commands.script_interface import run_script_interface
from server.formats.charges_request import answered, read_request

__all__ = ["answer", "main"]


def answer(text: str) -> dict[str, object]:
    """Return the result document for a request's text.

    Raises WrongRequest with every error.
    """
    return answered(read_request(text))


def main(arguments: list[str]) -> int:
    """Run the script interface; return the exit code."""
    return run_script_interface("charges", "Policies of charging postage over orders.", answer, arguments)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
