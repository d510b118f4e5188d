"""What is answered where no view is: an address that is not there, a form from elsewhere, a fault of ours.

Under /api/ that is a problem like any other refusal; elsewhere the page of the front end says it.
"""

import sys
from http import HTTPStatus

from django.http import HttpRequest, HttpResponse, JsonResponse

from server.api.database_faults import database_fault
from server.api.problems import Problem

__all__ = ["bad_request", "csrf_failed", "forbidden", "not_found", "server_error"]


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Answer a request that could not be read at all."""
    return _answer(request, 400, "not_valid", "The request cannot be read.")


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Answer one that may not be made."""
    return _answer(request, 403, "not_allowed", "You may not do that.")


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Answer one for an address that is not there."""
    return _answer(request, 404, "not_found", "There is nothing at this address.")


def server_error(request: HttpRequest) -> HttpResponse:
    """Answer one that met a fault of the program: nothing of it was saved, and the log has it under this number.

    Or one that met a fault of the database before a view had it: who is signed in is read there, too.
    """
    fault = database_fault(sys.exc_info()[1])
    if fault is not None:
        answer = _answer(request, 503, fault.code, fault.words)
        answer["Retry-After"] = str(fault.again_after_s)
        return answer
    number = getattr(request, "calm_request_id", "")
    said = f" Its number in the log is {number}." if number else ""
    return _answer(request, 500, "fault", f"The program failed here. Nothing was saved.{said}")


def csrf_failed(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Answer one that did not come from the program's own page."""
    return _answer(request, 403, "csrf", "This did not come from the program's own page. Load the page again.")


def _answer(request: HttpRequest, status: int, code: str, detail: str) -> HttpResponse:
    if not request.path.startswith("/api/"):
        return HttpResponse(detail, status=status, content_type="text/plain; charset=utf-8")
    problem = Problem(title=HTTPStatus(status).phrase, status=status, code=code, detail=detail)
    return JsonResponse(problem.model_dump(), status=status, content_type="application/problem+json")
