"""Headers every answer of the API carries."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from server.config.env import ENV

__all__ = ["ApiHeaders", "client_address"]


class ApiHeaders:
    """Nothing of a workshop stays in a cache, unless the view says so (pictures do)."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, and forbid keeping it."""
        response = self._answer(request)
        if request.path.startswith("/api/") and not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store"
        return response


def client_address(request: HttpRequest) -> str:
    """Return where a request comes from, for counting tries.

    What the request itself says of that (X-Forwarded-For) is believed only as far as proxies of ours wrote it:
    ``CALM_PROXIES``, 0 unless set, counted from the end.
    """
    forwarded = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if part.strip()]
    if ENV.proxies and len(forwarded) >= ENV.proxies:
        return str(forwarded[-ENV.proxies])
    return str(request.META.get("REMOTE_ADDR", ""))
