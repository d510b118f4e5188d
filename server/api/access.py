"""Who may come in: a signed-in member of a workshop; some doors are the owner's."""

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework.authentication import BaseAuthentication, SessionAuthentication
from rest_framework.exceptions import AuthenticationFailed, PermissionDenied
from rest_framework.permissions import BasePermission
from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle

from server.workshops.models import ApiToken, Member
from server.workshops.people import seen
from server.workshops.tokens import find_token

__all__ = ["IsMember", "MemberSession", "TokenAccess", "TokenThrottle"]

_BEARER = "bearer"


class TokenAccess(BaseAuthentication):
    """Another program, by the token in its ``Authorization: Bearer`` header."""

    def authenticate(self, request: Request) -> tuple[Any, ApiToken] | None:
        """Return the token's maker and the token. Raises AuthenticationFailed when it does not stand."""
        kind, _, text = request.headers.get("Authorization", "").partition(" ")
        if kind.lower() != _BEARER:
            return None
        token = find_token(text.strip())
        if token is None:
            raise AuthenticationFailed(
                "This token is not known, or was revoked. Ask the owner for another.", "bad_token"
            )
        return token.member.user, token

    def authenticate_header(self, request: Request) -> str:
        """Return what makes DRF answer 401."""
        return "Bearer"


class TokenThrottle(SimpleRateThrottle):
    """So many requests a minute for each token; people are not counted."""

    scope = "token"

    def get_cache_key(self, request: Request, view: Any) -> str | None:
        """Return what is counted; None: nothing."""
        return f"token-{request.auth.pk}" if isinstance(request.auth, ApiToken) else None


class MemberSession(SessionAuthentication):
    """Django's session, answering 401 (not 403) to a stranger."""

    def authenticate_header(self, request: Request) -> str:
        """Return what makes DRF answer 401."""
        return "Session"


class _MemberSessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    target_class = "server.api.access.MemberSession"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """Describe the session cookie."""
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}


class _TokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    target_class = "server.api.access.TokenAccess"
    name = "token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """Describe the header."""
        return {"type": "http", "scheme": "bearer"}


class IsMember(BasePermission):
    """A signed-in member; for the view's ``owner_only`` methods, the owner."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Return whether this request may go on."""
        if not request.user.is_authenticated:
            return False
        member = Member.of_user(request.user)
        if member is None:
            return False
        if isinstance(request.auth, ApiToken):
            _check_scope(request, view, request.auth)
        request.member = member  # type: ignore[attr-defined]
        request._request.calm_member = member  # type: ignore[attr-defined]  # for the line of the log
        if member.must_change and not getattr(view, "open_to_one_time", False):
            raise PermissionDenied("Change your one-time password first.", code="must_change_password")
        seen(request._request)
        if request.method in getattr(view, "owner_only", ()) and member.role != Member.Role.OWNER:
            raise PermissionDenied("This is the owner's to do. Ask the owner of the workshop.", code="owner_only")
        if getattr(view, "shows_costs", False) and not member.workshop.packers_see_costs and _packs(member):
            raise PermissionDenied("The owner keeps what things cost to the owners.", code="costs_hidden")
        return True


def _check_scope(request: Request, view: Any, token: ApiToken) -> None:
    """Raise PermissionDenied when the token is not for this."""
    method = request.method or ""
    wanted = getattr(view, "token_scopes", {}).get(method) or ("read_all" if method == "GET" else "")
    if not wanted or getattr(view, "closed_to_tokens", False):
        raise PermissionDenied("This is for people only, not for tokens.", code="not_for_tokens")
    if wanted not in token.scopes and not (method == "GET" and "read_all" in token.scopes):
        raise PermissionDenied(f"The token {token.name} is not for this: it needs {wanted}.", code="token_scope")


def _packs(member: Member) -> bool:
    return bool(member.role == Member.Role.PACKER)
