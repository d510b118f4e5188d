"""One line a request and a job: which workshop, which person, how long, under which id; never a name or an address.

Lines are JSON on standard error, so that any tool can read them. What a buyer is called, where a parcel goes and
what was typed is not in them: the path is logged without its query.
"""

import time
import uuid
from collections.abc import Callable
from typing import Any

import structlog
from django.http import HttpRequest, HttpResponse

__all__ = ["RequestLog", "job_line", "set_up"]

_REQUESTS = structlog.stdlib.get_logger("calm.requests")
_JOBS = structlog.stdlib.get_logger("calm.jobs")


def set_up() -> None:
    """Let structlog write through the standard library's handlers, as JSON with a time."""
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.stdlib.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.format_exc_info,
            structlog.processors.JSONRenderer(),
        ],
        logger_factory=structlog.stdlib.LoggerFactory(),
        wrapper_class=structlog.stdlib.BoundLogger,
        cache_logger_on_first_use=True,
    )


class RequestLog:
    """Gives a request its id, and writes a line when it is answered."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, and write down who asked what and how long it took."""
        request_id = uuid.uuid4().hex[:12]
        request.calm_request_id = request_id  # type: ignore[attr-defined]  # told to whoever meets a fault
        begun = time.perf_counter()
        with structlog.contextvars.bound_contextvars(request=request_id):
            response = self._answer(request)
            if request.path.startswith("/api/"):
                member = getattr(request, "calm_member", None)
                _REQUESTS.info(
                    "request",
                    method=request.method,
                    path=request.path,
                    status=response.status_code,
                    ms=round((time.perf_counter() - begun) * 1000, 1),
                    workshop=member.workshop_id if member else None,
                    person=member.pk if member else None,
                )
        response["X-Request-Id"] = request_id
        return response


def job_line(name: str, *, workshop: int, seconds: float, **facts: Any) -> None:
    """Write the line of a job that ended."""
    _JOBS.info("job", job=name, workshop=workshop, ms=round(seconds * 1000, 1), **facts)
