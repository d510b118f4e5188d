"""One page of a list, as quick far into it as at its beginning."""

from typing import Any, Generic, TypeVar

from django.db.models import QuerySet
from django.db.models.query import ModelIterable
from pydantic import BaseModel

__all__ = ["Page", "rows_between"]

Out = TypeVar("Out", bound=BaseModel)

#: From so many rows on, a page's numbers are looked up before its rows.
_DEEP = 1_000


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


def rows_between(rows: "QuerySet[Any]", start: int, end: int, count: int) -> list[Any]:
    """Return some of ``count`` rows. Far in, their numbers come first, out of an index and from the nearer end:
    skipping numbers takes a tenth of skipping rows.
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
