"""The one page of the front end: built by Vite, given this request's CSP nonce and a CSRF cookie."""

from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET

__all__ = ["front_end"]


@lru_cache(maxsize=1)
def _page() -> str:
    return (settings.WEB_DIST / "index.html").read_text(encoding="utf-8")


@never_cache
@require_GET
@ensure_csrf_cookie
def front_end(request: HttpRequest) -> HttpResponse:
    """Return the page; 503 with words when the front end was not built."""
    try:
        page = _page()
    except FileNotFoundError:
        return HttpResponse("The front end is not built yet. Run ./start.", status=503, content_type="text/plain")
    nonce = str(request.csp_nonce)  # type: ignore[attr-defined]
    signed_in = "yes" if request.user.is_authenticated else "no"
    return HttpResponse(page.replace("__CSP_NONCE__", nonce).replace("__SIGNED_IN__", signed_in))
