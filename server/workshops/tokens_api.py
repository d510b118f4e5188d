"""Tokens for other programs, over HTTP: thin."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.workshops import tokens
from server.workshops.models import ApiToken
from server.workshops.tokens import Scope

__all__ = ["RevokeTokenView", "TokensView"]


class TokenIn(Body):
    """A token to be made."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    scopes: Annotated[list[Scope], Field(min_length=1, max_length=3)]


class TokenOut(BaseModel):
    """A token; its text is not kept."""

    id: int
    name: str
    scopes: list[Scope]
    begins: str  #: its first letters, to tell it by
    made_by: str
    made_at: datetime
    used_at: datetime | None
    revoked_at: datetime | None


class NewTokenOut(BaseModel):
    """A token that was made, with its text: shown this once."""

    token: TokenOut
    text: str


def _out(row: ApiToken) -> TokenOut:
    return TokenOut(
        id=row.pk,
        name=row.name,
        scopes=row.scopes,
        begins=row.begins,
        made_by=row.member.name,
        made_at=row.made_at,
        used_at=row.used_at,
        revoked_at=row.revoked_at,
    )


class TokensView(MemberView):
    """GET, POST /api/tokens"""

    owner_only = frozenset({"GET", "POST"})
    closed_to_tokens = True

    @operation("tokens")
    def get(self) -> Page[TokenOut]:
        """All tokens, those that stand first."""
        rows = ApiToken.objects.of(self.workshop).select_related("member__user").order_by("revoked_at", "-id")
        return self.paged(rows, lambda page: map(_out, page))

    @operation("make_token", status=201)
    def post(self, body: TokenIn) -> NewTokenOut:
        """Make a token."""
        row, text = tokens.make_token(by=self.member, name=body.name.strip(), scopes=tuple(dict.fromkeys(body.scopes)))
        return NewTokenOut(token=_out(row), text=text)


class RevokeTokenView(MemberView):
    """POST /api/tokens/{id}/revoke"""

    owner_only = frozenset({"POST"})
    closed_to_tokens = True

    @operation("revoke_token")
    def post(self, token_id: int) -> TokenOut:
        """End a token at once."""
        return _out(tokens.revoke_token(by=self.member, token_id=token_id))
