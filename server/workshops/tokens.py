"""Tokens for other programs: made by the owner, shown once, kept as a digest, for named purposes (workshops).

A token acts for the owner who made it, within its scopes and nothing else; when that person may not sign in any more,
it ends.
"""

import hashlib
import secrets
from datetime import timedelta
from typing import Literal, get_args

from django.db import transaction
from django.utils import timezone

from server.api.problems import Refused
from server.workshops.models import ApiToken, Member, lock_workshop

__all__ = ["SCOPES", "Scope", "find_token", "make_token", "revoke_token"]

#: What a token may do: send orders, fetch tracking numbers, read everything.
Scope = Literal["orders_in", "tracking_out", "read_all"]
SCOPES: tuple[Scope, ...] = get_args(Scope)
_PREFIX = "calm_"
_MOST = 30
#: How exact it is known when a token was last used.
_USED_EVERY = timedelta(minutes=1)


def _digest(text: str) -> str:
    # A token is 32 random bytes: nobody guesses it, so a plain digest is enough and is found by an index.
    return hashlib.sha256(text.encode()).hexdigest()


@transaction.atomic
def make_token(*, by: Member, name: str, scopes: tuple[Scope, ...]) -> tuple[ApiToken, str]:
    """Make a token; the text is returned this once and is not kept. Raises Refused: name_taken, too_many."""
    lock_workshop(by.workshop)
    standing = ApiToken.objects.of(by.workshop).filter(revoked_at=None)
    if standing.filter(name=name).exists():
        raise Refused(
            f"There is a token {name} already. Give another name, or revoke that one first.",
            code="name_taken",
            field="name",
        )
    if standing.count() >= _MOST:
        raise Refused(f"There are {_MOST} tokens already. Revoke one that is not used.", code="too_many")
    text = _PREFIX + secrets.token_urlsafe(32)
    row = ApiToken.objects.of(by.workshop).create(
        workshop=by.workshop,
        name=name,
        scopes=list(scopes),
        digest=_digest(text),
        begins=text[: len(_PREFIX) + 4],
        member=by,
        made_at=timezone.now(),
    )
    return row, text


@transaction.atomic
def revoke_token(*, by: Member, token_id: int) -> ApiToken:
    """End a token at once. Raises Refused (404)."""
    row = ApiToken.objects.of(by.workshop).select_for_update().filter(pk=token_id).first()
    if row is None:
        raise Refused("There is no such token in your workshop.", code="not_found", status=404)
    row.revoked_at = row.revoked_at or timezone.now()
    row.save(update_fields=["revoked_at"])
    return row


def find_token(text: str) -> ApiToken | None:
    """Return the token a text is, when it stands and its maker may still sign in; note that it was used."""
    if not text.startswith(_PREFIX) or len(text) > 100:
        return None
    row = ApiToken.standing(_digest(text))
    now = timezone.now()
    if row is not None and (row.used_at is None or now - row.used_at > _USED_EVERY):
        ApiToken.objects.of(row.member.workshop).filter(pk=row.pk).update(used_at=now)
    return row
