"""Every refusal as one shape: an RFC 9457 problem with a code, a field and, where there are many, all errors.

The one place where errors of the core and of the services become HTTP.
"""

from http import HTTPStatus
from typing import Any

from django.core.exceptions import PermissionDenied, RequestDataTooBig
from django.http import Http404, HttpRequest, JsonResponse
from pydantic import BaseModel, ValidationError
from rest_framework import exceptions
from rest_framework.response import Response

from core.errors import CoreError
from server.api.database_faults import database_fault
from server.api.parsing import TooLarge
from server.api.refused import Fault, Refused, validation_faults
from server.words import Words, words_of

#: Nobody mends more errors at a time; their number is in the detail.
_MOST_FAULTS = 1_000

__all__ = ["Fault", "Problem", "Refused", "locked_out", "to_problem", "validation_faults"]


class Problem(BaseModel):
    """What every refusal looks like."""

    type: str = "about:blank"
    title: str
    status: int
    code: str
    detail: str
    field: str | None = None
    faults: list[Fault] = []
    facts: dict[str, Any] = {}


def to_problem(error: Exception, context: dict[str, Any]) -> Response | None:
    """Return the problem for an exception; None lets Django answer 500."""
    headers: dict[str, str] = {}
    words = _words_for(context)
    if isinstance(error, Refused):
        problem = _problem(error.status, error.code, words.of(error.detail), error.field, error.faults, error.facts)
    elif isinstance(error, ValidationError):
        faults = validation_faults(error)
        first = faults[0]
        detail = f"{first.path}: {first.message}" + (f", and {len(faults) - 1} more." if len(faults) > 1 else ".")
        problem = _problem(422, "not_valid", detail, first.path, faults)
    elif isinstance(error, CoreError):
        problem = _problem(422, error.code, words.of(error.message))
    elif isinstance(error, Http404):
        problem = _problem(404, "not_found", "There is nothing here under that number.")
    elif isinstance(error, PermissionDenied):
        problem = _problem(403, "not_allowed", "You may not do that.")
    elif isinstance(error, RequestDataTooBig):
        problem = _of_drf(TooLarge())
    elif (fault := database_fault(error)) is not None:
        problem = _problem(503, fault.code, fault.words)
        headers["Retry-After"] = str(fault.again_after_s)
    elif isinstance(error, exceptions.APIException):
        problem = _of_drf(error)
        wait = getattr(error, "wait", None)
        if wait:
            headers["Retry-After"] = str(int(wait) + 1)
    else:
        return None
    response = Response(problem.model_dump(), status=problem.status, content_type="application/problem+json")
    for name, value in headers.items():
        response[name] = value
    return response


def _words_for(context: dict[str, Any]) -> Words:
    """Return the writer for whoever asks; a stranger has no units yet."""
    member = getattr(context.get("request"), "member", None)
    return words_of(member.workshop.unit_system if member is not None else "metric")


def locked_out(request: HttpRequest, *args: Any, **kwargs: Any) -> JsonResponse:
    """Return what axes answers for a name that rests after too many wrong passwords."""
    problem = _problem(429, "too_many_tries", "Too many wrong passwords. Wait ten minutes, then try again.")
    return JsonResponse(problem.model_dump(), status=429, content_type="application/problem+json")


def _of_drf(error: exceptions.APIException) -> Problem:
    if error.get_codes() == "bad_token":
        return _problem(401, "bad_token", str(error.detail))
    if isinstance(error, exceptions.NotAuthenticated | exceptions.AuthenticationFailed):
        return _problem(401, "not_signed_in", "Sign in first.")
    if isinstance(error, exceptions.Throttled):
        return _problem(429, "too_many_tries", "Too many tries. Wait a minute, then try again.")
    code = error.get_codes()
    return _problem(error.status_code, code if isinstance(code, str) else "refused", str(error.detail))


def _problem(
    status: int,
    code: str,
    detail: str,
    field: str | None = None,
    faults: list[Fault] | None = None,
    facts: dict[str, Any] | None = None,
) -> Problem:
    title = HTTPStatus(status).phrase
    return Problem(
        title=title,
        status=status,
        code=code,
        detail=detail,
        field=field,
        faults=(faults or [])[:_MOST_FAULTS],
        facts=facts or {},
    )
