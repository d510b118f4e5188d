"""``operation``: one method of a view says once, in its signature, what comes in and what goes out."""

import inspect
from collections.abc import Callable, Mapping, Sequence
from functools import wraps
from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel
from rest_framework.request import Request
from rest_framework.response import Response

from server.api.problems import Problem

__all__ = ["MAX_PAGE_SIZE", "PAGE_PARAMETERS", "PAGE_SIZE", "PROBLEMS", "operation"]

PAGE_SIZE, MAX_PAGE_SIZE = 50, 200
PAGE_PARAMETERS = (
    OpenApiParameter("page", int, description="Page number, from 1"),
    OpenApiParameter("page_size", int, description=f"Rows a page, at most {MAX_PAGE_SIZE}"),
)
#: The error answers every door of the API documents.
PROBLEMS = {(code, "application/problem+json"): Problem for code in (400, 401, 403, 404, 409, 422)}


def operation(
    name: str,
    *,
    status: int = 200,
    parameters: Sequence[OpenApiParameter] = (),
    also: Mapping[Any, Any] | None = None,
    auth: Sequence[str] | None = None,
) -> Callable[[Callable[..., BaseModel]], Callable[..., Response]]:
    """Make a view's method out of one that takes values and returns a value.

    The parameter called ``body``, when there is one, is what must be sent: it is read and checked before the method
    runs. The return type is what is answered, with ``status``; a page takes ``page`` and ``page_size``. Both are
    described in OpenAPI under ``name``. ``also`` are answers besides the usual problems.
    """

    def wrap(method: Callable[..., BaseModel]) -> Callable[..., Response]:
        signature = inspect.signature(method)
        body = signature.parameters.get("body")
        answer = signature.return_annotation
        paged = PAGE_PARAMETERS if "page" in answer.model_fields and "results" in answer.model_fields else ()

        @extend_schema(
            operation_id=name,
            parameters=[*paged, *parameters],
            request=body.annotation if body is not None else None,
            responses={status: answer, **PROBLEMS, **(also or {})},
            auth=auth,
        )
        @wraps(method)
        def view(self: Any, request: Request, **path: Any) -> Response:
            if body is not None:
                path["body"] = body.annotation.model_validate(request.data)
            return Response(method(self, **path).model_dump(mode="json"), status=status)

        return view

    return wrap
