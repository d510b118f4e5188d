"""Who may come in: a signed-in member of a workshop; some doors are the owner's."""

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework.authentication import SessionAuthentication
from rest_framework.exceptions import PermissionDenied
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from server.workshops.models import Member
from server.workshops.people import seen

__all__ = ["IsMember", "MemberSession"]


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


class IsMember(BasePermission):
    """A signed-in member; for the view's ``owner_only`` methods, the owner."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Return whether this request may go on."""
        if not request.user.is_authenticated:
            return False
        member = Member.of_user(request.user)
        if member is None:
            return False
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


def _packs(member: Member) -> bool:
    return bool(member.role == Member.Role.PACKER)
