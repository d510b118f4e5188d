"""Signing in and out."""

from typing import Annotated, Any

from django.contrib.auth import authenticate, logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.workshops import people
from server.workshops.models import Member

__all__ = ["SessionOut", "SessionView", "SignInView", "session_out"]


class SignInIn(Body):
    """Who signs in."""

    username: Annotated[str, Field(min_length=1, max_length=150)]
    password: Annotated[str, Field(min_length=1, max_length=200)]


class SessionOut(BaseModel):
    """Who is signed in, where."""

    name: str
    role: str
    must_change: bool  #: signed in with a one-time password: nothing else is open until it is changed
    workshop: str
    currency: str
    money_digits: int
    unit_system: str
    country: str
    postcode: str
    sees_costs: bool  #: what things cost is shown; else "hidden" stands in its place


def session_out(member: Member) -> SessionOut:
    """Return who is signed in."""
    workshop = member.workshop
    return SessionOut(
        name=member.name,
        role=member.role,
        must_change=member.must_change,
        workshop=workshop.name,
        currency=workshop.currency,
        money_digits=workshop.money_digits,
        unit_system=workshop.unit_system,
        country=workshop.country,
        postcode=workshop.postcode,
        sees_costs=member.role == Member.Role.OWNER or workshop.packers_see_costs,
    )


@method_decorator(csrf_protect, name="dispatch")
class SignInView(APIView):
    """POST /api/session/sign-in"""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "sign_in"

    @operation("sign_in", auth=[])
    def post(self, body: SignInIn) -> SessionOut:
        """Sign in. After five wrong passwords the name rests for ten minutes."""
        user = authenticate(self.request._request, username=body.username, password=body.password)
        member = Member.of_user(user) if user is not None else None
        if user is None or member is None:
            raise Refused(
                "Name or password is wrong. Look at both and try again.",
                code="wrong_password",
                status=401,
                field="password",
            )
        people.sign_in(self.request._request, member)
        return session_out(member)


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(MemberView):
    """/api/session"""

    closed_to_tokens = True

    open_to_one_time = True

    @operation("session")
    def get(self) -> SessionOut:
        """Who is signed in."""
        return session_out(self.member)

    @extend_schema(operation_id="sign_out", responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        people.sign_out(request._request)
        logout(request._request)
        return Response(status=204)
