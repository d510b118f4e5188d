"""``MemberView``, the base of every view of the trade: it knows the member, reads bodies, pages lists."""

import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from decimal import Decimal
from functools import lru_cache
from types import MappingProxyType
from typing import Any, ClassVar, Generic, TypeVar, get_args

from django.db.models import QuerySet
from django.db.models.query import ModelIterable
from pydantic import BaseModel, ConfigDict, model_validator
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.api.hiding import without_costs
from server.api.operation import MAX_PAGE_SIZE, PAGE_SIZE
from server.api.problems import Refused
from server.formats.text import no_nul
from server.words import Words, words_of
from server.workshops.models import Member, Workshop

__all__ = ["Body", "MemberView", "Page"]

#: A number in an address; not what other scripts call a digit.
_DIGITS = re.compile(r"[0-9]{1,9}")

Out = TypeVar("Out", bound=BaseModel)


class Body(BaseModel):
    """Base of everything that is sent in: unknown fields are errors, not silence."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _no_nul(cls, value: Any) -> Any:
        return no_nul(value)

    @model_validator(mode="before")
    @classmethod
    def _no_yes_for_a_number(cls, value: Any) -> Any:
        # Left to itself, true would be read as 1. As a word it is refused where it stands.
        if not isinstance(value, dict):
            return value
        return {
            name: _as_words(one) if name in cls.model_fields and not _takes_bool(cls, name) else one
            for name, one in value.items()
        }


def _as_words(value: Any) -> Any:
    if isinstance(value, list):
        return [_as_words(one) for one in value]
    return str(value).lower() if isinstance(value, bool) else value


@lru_cache(maxsize=2_000)
def _takes_bool(model: type[BaseModel], name: str) -> bool:
    """Return whether a field takes true and false, or no numbers at all: what else is wrong is said by its type."""
    kinds = set(_kinds(model.model_fields[name].annotation))
    return bool in kinds or not kinds & {int, float, Decimal}


def _kinds(annotation: Any) -> Iterator[type]:
    """Return the plain types an annotation is made of."""
    if isinstance(annotation, type) and not get_args(annotation):
        yield annotation
    for one in get_args(annotation):
        yield from _kinds(one)


class Page(BaseModel, Generic[Out]):
    """One page of a list."""

    count: int
    page: int
    pages: int
    results: list[Out]

    @classmethod
    def model_parametrized_name(cls, params: tuple[Any, ...]) -> str:
        """Name the page after its rows: OpenAPI allows no brackets in names."""
        return f"{params[0].__name__}Page"


#: From so many rows on, a page's numbers are looked up before its rows.
_DEEP = 1_000


def _slice(rows: "QuerySet[Any]", start: int, end: int, count: int) -> list[Any]:
    """Return some of the rows. Far in, their numbers come first, out of an index and from the nearer end: skipping
    numbers takes a tenth of skipping rows.
    """
    if start < _DEEP or start >= count or rows.query.combinator or not issubclass(rows._iterable_class, ModelIterable):
        return list(rows[start:end])
    numbers, end = rows.values_list("pk", flat=True), min(end, count)
    if 2 * start > count and rows.ordered:
        wanted = list(numbers.reverse()[count - end : count - start])[::-1]
    else:
        wanted = list(numbers[start:end])
    found = {row.pk: row for row in rows.filter(pk__in=wanted)}
    return [found[number] for number in wanted if number in found]


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
        results = list(show(_slice(rows, start, start + size, count)))
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
