"""Reading JSON bodies within bounds: size before it is read, depth before anything walks it."""

from collections.abc import Mapping
from typing import IO, Any, cast

from django.conf import settings
from rest_framework import status
from rest_framework.exceptions import APIException, ParseError
from rest_framework.parsers import JSONParser

__all__ = ["BoundedJSON", "TooLarge"]

#: No body of this API is nested deeper than a recipe is.
_MOST_DEEP = 40


class TooLarge(APIException):
    """More was sent than is read."""

    status_code = status.HTTP_413_REQUEST_ENTITY_TOO_LARGE
    default_code = "too_large"

    def __init__(self) -> None:
        limit = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // (1024 * 1024)
        super().__init__(f"At most {limit} MB are read at once. Send less, or the file in parts.")


class BoundedJSON(JSONParser):
    """DRF's JSON parser, that reads no more than the limit and refuses what is nested without end."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """Return the value. Raises TooLarge (413) and ParseError (400)."""
        request = (parser_context or {}).get("request")
        declared = request.META.get("CONTENT_LENGTH") or "0" if request is not None else "0"
        if declared.isdecimal() and int(declared[:15]) > settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
            raise TooLarge
        try:
            value = super().parse(cast(IO[Any], _Limited(stream)), media_type, parser_context)
        except RecursionError:
            raise ParseError(_TOO_DEEP) from None
        _check_depth(value)
        return value


_TOO_DEEP = f"The JSON is nested too deep; at most {_MOST_DEEP} levels are read."


class _Limited:
    """A stream that ends with TooLarge when more comes than was declared and is allowed."""

    def __init__(self, stream: IO[bytes]) -> None:
        self._stream, self._left = stream, settings.DATA_UPLOAD_MAX_MEMORY_SIZE

    def read(self, size: int | None = -1) -> bytes:
        """Read so many bytes, or all that is left."""
        wanted = self._left + 1 if size is None or size < 0 else min(size, self._left + 1)
        read = self._stream.read(wanted)
        self._left -= len(read)
        if self._left < 0:
            raise TooLarge
        return read


def _check_depth(value: Any) -> None:
    level, depth = [value], 0
    while level:
        depth += 1
        if depth > _MOST_DEEP:
            raise ParseError(_TOO_DEEP)
        level = [
            inner
            for outer in level
            if isinstance(outer, dict | list)
            for inner in (outer.values() if isinstance(outer, dict) else outer)
            if isinstance(inner, dict | list)
        ]
