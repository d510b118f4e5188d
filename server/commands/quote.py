"""./calm quote REQUEST.json [--out RESULT.json] [--many FILE]: every service's price and refusal, without the
database.
"""

import sys

from core.errors import MixedCurrencies
from core.tariffs.quote import quote_all
from server.commands.script_interface import run_script_interface
from server.formats.quote_request import read_request, result_document
from server.formats.script_interface import WrongRequest
from server.words import METRIC

__all__ = ["answer", "main"]


def answer(text: str) -> dict[str, object]:
    """Return the result document for a request's text.

    Raises WrongRequest with every error.
    """
    request = read_request(text)
    tariffs = tuple(file.core() for file in request.tariffs)
    try:
        quoted = [
            (
                parcel.code,
                *quote_all(
                    tariffs,
                    outer=parcel.size(),
                    gross_mg=parcel.gross_weight_mg,
                    sending=request.sending(parcel),
                ),
            )
            for parcel in request.parcels
        ]
    except MixedCurrencies as mixed:
        raise WrongRequest([f"tariffs: {METRIC.of(mixed.message)}"]) from None
    return result_document(request, quoted)


def main(arguments: list[str]) -> int:
    """Run the script interface; return the exit code."""
    return run_script_interface("quote", "Quote parcels over all services of the tariffs given.", answer, arguments)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
