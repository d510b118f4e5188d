"""Files that go out: papers to look at in the browser, data to save."""

from django.http import HttpResponse

__all__ = ["paper", "saved_file"]


def paper(content: bytes, name: str) -> HttpResponse:
    """Return a PDF that the browser shows."""
    return _named(content, "application/pdf", f'inline; filename="{_plain(name)}"')


def saved_file(content: str | bytes, kind: str, name: str) -> HttpResponse:
    """Return text that the browser saves; ``kind`` is its media type. Bytes are UTF-8."""
    return _named(
        content.encode() if isinstance(content, str) else content,
        f"{kind}; charset=utf-8",
        f'attachment; filename="{_plain(name)}"',
    )


def _named(content: bytes, kind: str, disposition: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = disposition
    return response


def _plain(name: str) -> str:
    return "".join(ch if ch.isalnum() or ch in "-._" else "_" for ch in name)
