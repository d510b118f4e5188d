"""One's own password, the places one is signed in at, and the workshop's people, over HTTP: thin."""

from datetime import datetime
from typing import Annotated, Literal

from django.db.models import Count, Q
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request
from rest_framework.response import Response

from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.views import MemberView
from server.workshops import people
from server.workshops.api import SessionOut, session_out
from server.workshops.models import Member, SignedIn

__all__ = ["ChangeMemberView", "MembersView", "OneTimeView", "PasswordView", "PlaceView", "PlacesView"]


class PasswordIn(Body):
    """One's password now, and the new one."""

    current: Annotated[str, Field(min_length=1, max_length=200)]
    new: Annotated[str, Field(min_length=1, max_length=200)]


class PlaceOut(BaseModel):
    """Where somebody is signed in."""

    id: int
    agent: str  #: what the browser calls itself
    began_at: datetime
    seen_at: datetime
    here: bool  #: it is this very place


class MemberOut(BaseModel):
    """A person of the workshop."""

    id: int
    name: str
    username: str
    role: str
    places: int  #: signed in at so many
    must_change: bool  #: has a one-time password
    active: bool  #: may sign in
    me: bool


class NewMemberIn(Body):
    """A person to be added."""

    username: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{1,39}$")]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    role: Literal["owner", "packer"]


class MemberIn(Body):
    """A person as they shall be."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    role: Literal["owner", "packer"]
    active: bool


class OneTimeOut(BaseModel):
    """A password for one signing in; shown once."""

    password: str
    until: datetime


class MemberChangedOut(BaseModel):
    """A person as they are now."""

    id: int
    name: str
    role: str
    active: bool


class PasswordView(MemberView):
    """POST /api/session/password"""

    closed_to_tokens = True

    open_to_one_time = True

    @operation("change_password")
    def post(self, body: PasswordIn) -> SessionOut:
        """Change one's own password; every other place is signed out."""
        people.change_password(self.request._request, by=self.member, current=body.current, new=body.new)
        return session_out(self.member)


class PlacesView(MemberView):
    """GET /api/session/places"""

    closed_to_tokens = True

    @operation("places")
    def get(self) -> Page[PlaceOut]:
        """Where one is signed in, last used first."""
        here = self.request._request.session.session_key

        def show(rows: list[SignedIn]) -> list[PlaceOut]:
            return [
                PlaceOut(
                    id=row.pk,
                    agent=row.agent,
                    began_at=row.began_at,
                    seen_at=row.seen_at,
                    here=row.session_key == here,
                )
                for row in rows
            ]

        return self.paged(people.places_of(self.member), show)


class PlaceView(MemberView):
    """DELETE /api/session/places/{id}"""

    closed_to_tokens = True

    @extend_schema(operation_id="end_place", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, place_id: int) -> Response:
        """Sign a place out: one's own or, for the owner, anybody's of the workshop."""
        people.end_place(by=self.member, place_id=place_id)
        return Response(status=204)


class MembersView(MemberView):
    """GET and POST /api/members"""

    closed_to_tokens = True

    owner_only = frozenset({"GET", "POST"})

    @operation("members")
    def get(self) -> Page[MemberOut]:
        """The people of the workshop."""
        now = timezone.now()
        rows = (
            Member.objects.filter(workshop=self.workshop)
            .select_related("user")
            .annotate(places=Count("signed_in", filter=Q(signed_in__expires_at__gt=now)))
            .order_by("user__first_name", "pk")
        )
        return self.paged(
            rows,
            lambda page: [
                MemberOut(
                    id=row.pk,
                    name=row.name,
                    username=row.user.get_username(),
                    role=row.role,
                    places=row.places,
                    must_change=row.must_change,
                    active=row.user.is_active,
                    me=row.pk == self.member.pk,
                )
                for row in page
            ],
        )

    @operation("add_member", status=201)
    def post(self, body: NewMemberIn) -> OneTimeOut:
        """Add a person; the password is for their first signing in and is shown once."""
        member, password = people.add_member(by=self.member, **body.model_dump())
        return OneTimeOut(password=password, until=member.one_time_until or timezone.now())


class ChangeMemberView(MemberView):
    """PUT /api/members/{id}"""

    closed_to_tokens = True

    owner_only = frozenset({"PUT"})

    @operation("change_member")
    def put(self, body: MemberIn, member_id: int) -> MemberChangedOut:
        """Rename a person, set the role, deactivate or activate them."""
        row = people.change_member(by=self.member, member_id=member_id, **body.model_dump())
        return MemberChangedOut(id=row.pk, name=row.name, role=row.role, active=row.user.is_active)


class OneTimeView(MemberView):
    """POST /api/members/{id}/one-time-password"""

    closed_to_tokens = True

    owner_only = frozenset({"POST"})

    @operation("one_time_password")
    def post(self, member_id: int) -> OneTimeOut:
        """Give a person a password for one signing in."""
        password = people.one_time_password(by=self.member, member_id=member_id)
        until = Member.objects.get(pk=member_id).one_time_until
        return OneTimeOut(password=password, until=until or timezone.now())
