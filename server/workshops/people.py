"""People's passwords and the places they are signed in at."""

import secrets
import time
from datetime import timedelta

from django.contrib.auth import login, update_session_auth_hash
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone

from server.api.problems import Refused
from server.workshops.models import Member, SignedIn, lock_workshop

__all__ = [
    "add_member",
    "change_member",
    "change_password",
    "end_place",
    "one_time_password",
    "places_of",
    "seen",
    "sign_in",
    "sign_out",
]

#: A one-time password is for the next working day, not for good.
_ONE_TIME = timedelta(hours=24)
#: How exact it is known when a place was last used, and for how many places that is remembered.
_SEEN_SECONDS, _MOST_KEYS = 300.0, 2_000
_WRITTEN: dict[str, float] = {}
#: No letters that are taken for others when read aloud or from paper.
_LETTERS = "abcdefghkmnpqrstuvwxyz23456789"


def sign_in(request: HttpRequest, member: Member) -> None:
    """Sign a person in whose password was right, and note the place.

    Raises Refused (401, one_time_over) when it was a one-time password whose day is over.
    """
    if member.must_change and member.one_time_until is not None and member.one_time_until < timezone.now():
        raise Refused(
            "This one-time password is over. Ask the owner for another.",
            code="one_time_over",
            status=401,
            field="password",
        )
    login(request, member.user, backend="django.contrib.auth.backends.ModelBackend")
    _note(request, member)


def _note(request: HttpRequest, member: Member) -> None:
    now = timezone.now()
    SignedIn.objects.update_or_create(
        session_key=request.session.session_key or "",
        defaults={
            "member": member,
            "began_at": now,
            "seen_at": now,
            "expires_at": request.session.get_expiry_date(),
            "agent": request.META.get("HTTP_USER_AGENT", "")[:160],
        },
    )


def sign_out(request: HttpRequest) -> None:
    """Forget the place that signs out."""
    SignedIn.objects.filter(session_key=request.session.session_key or "").delete()


def seen(request: HttpRequest) -> None:
    """Note that a place is in use; written every few minutes at most, by each process for itself."""
    key, now = request.session.session_key or "", time.monotonic()
    if now - _WRITTEN.get(key, -_SEEN_SECONDS) < _SEEN_SECONDS:
        return
    if len(_WRITTEN) > _MOST_KEYS:
        _WRITTEN.clear()
    _WRITTEN[key] = now
    SignedIn.objects.filter(session_key=key).update(seen_at=timezone.now())


def places_of(member: Member) -> "QuerySet[SignedIn]":
    """Return where a person is signed in, last used first."""
    return SignedIn.objects.filter(member=member, expires_at__gt=timezone.now()).order_by("-seen_at", "-id")


@transaction.atomic
def end_place(*, by: Member, place_id: int) -> None:
    """Sign a place out: one of one's own or, for the owner, of anybody in the workshop. Raises Refused (404)."""
    mine = SignedIn.objects.filter(pk=place_id, member__workshop=by.workshop)
    if by.role != Member.Role.OWNER:
        mine = mine.filter(member=by)
    row = mine.first()
    if row is None:
        raise Refused("Nobody is signed in there any more.", code="not_found", status=404)
    _end([row.session_key])


def _end(session_keys: list[str]) -> None:
    Session.objects.filter(session_key__in=session_keys).delete()
    SignedIn.objects.filter(session_key__in=session_keys).delete()


@transaction.atomic
def change_password(request: HttpRequest, *, by: Member, current: str, new: str) -> None:
    """Change one's own password; every other place is signed out. Raises Refused with the rule that is broken."""
    user = by.user
    if not user.check_password(current):
        raise Refused("That is not your password now.", code="wrong_password", status=422, field="current")
    if current == new:
        raise Refused("The new password is the old one.", code="weak_password", status=422, field="new")
    try:
        validate_password(new, user)
    except ValidationError as error:
        raise Refused(" ".join(error.messages), code="weak_password", status=422, field="new") from None
    user.set_password(new)
    user.save(update_fields=["password"])
    by.must_change, by.one_time_until = False, None
    by.save(update_fields=["must_change", "one_time_until"])
    _end(list(SignedIn.objects.filter(member=by).values_list("session_key", flat=True)))
    update_session_auth_hash(request, user)  # this place stays, under a new key
    _note(request, by)


@transaction.atomic
def one_time_password(*, by: Member, member_id: int) -> str:
    """Give a person of the workshop a password for one signing in: it must be changed, and is over after a day.

    Every place that person is signed in at is signed out. Raises Refused (404, own_password).
    """
    member = (
        Member.objects.select_for_update(of=("self",))
        .select_related("user")
        .filter(pk=member_id, workshop=by.workshop)
        .first()
    )
    if member is None:
        raise Refused("There is no such person in your workshop.", code="not_found", status=404)
    if member.pk == by.pk:
        raise Refused("Change your own password instead.", code="own_password")
    if not member.user.is_active:
        raise Refused(f"{member.name} is deactivated. Activate them first.", code="deactivated")
    return _one_time(member)


def _one_time(member: Member) -> str:
    word = "-".join("".join(secrets.choice(_LETTERS) for _ in range(4)) for _ in range(3))
    member.user.set_password(word)
    member.user.save(update_fields=["password"])
    member.must_change, member.one_time_until = True, timezone.now() + _ONE_TIME
    member.save(update_fields=["must_change", "one_time_until"])
    _end(list(SignedIn.objects.filter(member=member).values_list("session_key", flat=True)))
    return word


@transaction.atomic
def add_member(*, by: Member, username: str, name: str, role: str) -> tuple[Member, str]:
    """Add a person to the workshop with a one-time password, which is returned. Raises Refused (name_taken)."""
    if User.objects.filter(username__iexact=username).exists():
        raise Refused(
            f"Somebody signs in as {username} already. Choose another name.",
            code="name_taken",
            status=422,
            field="username",
        )
    user = User.objects.create(username=username, first_name=name)
    member = Member.objects.create(user=user, workshop=by.workshop, role=role)
    return member, _one_time(member)


@transaction.atomic
def change_member(*, by: Member, member_id: int, name: str, role: str, active: bool) -> Member:
    """Rename a person, give them another role, deactivate or activate them.

    Who is deactivated is signed out everywhere and cannot sign in; what they did keeps their name. Raises Refused:
    not_found, last_owner: a workshop keeps at least one owner who can sign in.
    """
    lock_workshop(by.workshop)
    mine = Member.objects.select_related("user").filter(workshop=by.workshop)
    member = mine.filter(pk=member_id).first()
    if member is None:
        raise Refused("There is no such person in your workshop.", code="not_found", status=404)
    others = mine.filter(role=Member.Role.OWNER, user__is_active=True).exclude(pk=member_id)
    if (role != Member.Role.OWNER or not active) and not others.exists():
        raise Refused(
            f"{member.name} is the only owner. Make somebody else an owner first.", code="last_owner", field="role"
        )
    member.user.first_name, member.user.is_active = name, active
    member.user.save(update_fields=["first_name", "is_active"])
    member.role = role
    member.save(update_fields=["role"])
    if not active:
        _end(list(SignedIn.objects.filter(member=member).values_list("session_key", flat=True)))
    return member
