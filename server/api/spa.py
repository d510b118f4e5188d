"""The one page of the front end: built by Vite, given this request's CSP nonce and a CSRF cookie."""

from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

__all__ = ["front_end"]


@lru_cache(maxsize=1)
def _page() -> str:
    """The page collected with the files it names; the build's own where nothing was collected (development, tests).

    A new build beside a running app must not change its page: the files of that build are not served yet.
    """
    collected = settings.STATIC_ROOT / "index.html"
    return (collected if collected.is_file() else settings.WEB_DIST / "index.html").read_text(encoding="utf-8")


@never_cache
@require_safe
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
