"""``MemberView``, the base of every view of the trade: it knows the member, reads bodies, pages lists."""

import re
from collections.abc import Callable, Iterable, Mapping
from types import MappingProxyType
from typing import Any, ClassVar, TypeVar

from django.db.models import QuerySet
from pydantic import BaseModel
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.hiding import without_costs
from server.api.operation import MAX_PAGE_SIZE, PAGE_SIZE
from server.api.paging import Page, rows_between
from server.api.problems import Refused
from server.words import Words, words_of
from server.workshops.models import Member, Workshop

__all__ = ["MemberView"]

#: A number in an address; not what other scripts call a digit.
_DIGITS = re.compile(r"[0-9]{1,9}")

Out = TypeVar("Out", bound=BaseModel)


class MemberView(APIView):
    """Base of every view behind the sign-in."""

    owner_only: ClassVar[frozenset[str]] = frozenset()
    #: Nothing but what things cost: closed to packers where costs are kept from them.
    shows_costs: ClassVar[bool] = False
    #: What a token needs to come in, by method; reading anything else needs read_all, and writing is closed to tokens.
    token_scopes: ClassVar[Mapping[str, str]] = MappingProxyType({})
    #: Of people only: passwords, people, tokens.
    closed_to_tokens: ClassVar[bool] = False
    #: Also for somebody with a one-time password, who has to change it before anything else.
    open_to_one_time: ClassVar[bool] = False

    @property
    def member(self) -> Member:
        """The signed-in member, put there by the permission."""
        return self.request.member  # type: ignore[attr-defined,no-any-return]

    @property
    def workshop(self) -> Workshop:
        """The member's workshop: the scope of every query."""
        return self.member.workshop

    @property
    def words(self) -> Words:
        """Writes messages in the workshop's units, and without what is hidden from the member."""
        return words_of(self.workshop.unit_system, hide_money=self.hides_costs)

    @property
    def hides_costs(self) -> bool:
        """Return whether the member is not shown what things cost."""
        return self.member.role == Member.Role.PACKER and not self.workshop.packers_see_costs

    def finalize_response(self, request: Request, response: Response, *args: Any, **kwargs: Any) -> Response:
        """Write every message of the core in words: the one place where an answer leaves."""
        data = getattr(response, "data", None)
        if data is not None and hasattr(self.request, "member"):
            response.data = self.words.within(without_costs(data) if self.hides_costs else data)
        return super().finalize_response(request, response, *args, **kwargs)

    def paged(self, rows: "QuerySet[Any]", show: Callable[[list[Any]], Iterable[Out]]) -> Page[Out]:
        """Return one page of rows; ``show`` turns the page's rows into values at once."""
        page, size = self._number("page", 1, 1_000_000), self._number("page_size", PAGE_SIZE, MAX_PAGE_SIZE)
        count = rows.count()
        start = (page - 1) * size
        results = list(show(rows_between(rows, start, start + size, count)))
        # Not checked again: the rows are values already, and their type is known to the caller alone.
        return Page.model_construct(count=count, page=page, pages=max(1, -(-count // size)), results=results)

    @property
    def sought(self) -> str:
        """What the list is searched for (``?find=``); empty: nothing."""
        return self.request.query_params.get("find", "").strip().replace("\x00", "")[:80]

    @property
    def wants_retired(self) -> bool:
        """Whether the retired ones are asked for instead of those in use."""
        return self.request.query_params.get("retired") == "true"

    def _number(self, name: str, default: int, most: int) -> int:
        given = self.request.query_params.get(name)
        if given is None:
            return default
        if not _DIGITS.fullmatch(given) or not 1 <= int(given) <= most:
            raise Refused(
                f"{name} is a whole number from 1 to {most}; given: {given[:20]}.",
                code="not_valid",
                status=400,
                field=name,
            )
        return int(given)
