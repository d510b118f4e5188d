"""Photos that are sent in: PNG or JPEG, told by their first bytes, of a bounded size."""

import base64
import binascii
from dataclasses import dataclass

from server.api.refused import Refused

__all__ = ["MOST_BYTES", "Photo", "read_photo"]

MOST_BYTES = 3_000_000
_SIGNS = ((b"\x89PNG\r\n\x1a\n", "image/png"), (b"\xff\xd8\xff", "image/jpeg"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Photo:
    """The bytes of a picture and what they are."""

    content: bytes
    content_type: str


def read_photo(encoded: str) -> Photo:
    """Return the photo of a base64 text.

    Raises Refused when it is no picture of a known kind, or too large.
    """
    try:
        content = base64.b64decode(encoded, validate=True)
    except (binascii.Error, ValueError):
        raise Refused(
            "The photo did not arrive whole. Choose it again.", code="not_valid", status=422, field="photo"
        ) from None
    if len(content) > MOST_BYTES:
        raise Refused(
            f"The photo has {len(content) / 1e6:.1f} MB; at most {MOST_BYTES / 1e6:.0f} MB. Make it "
                "smaller and choose it again.",
            code="not_valid", status=422, field="photo",
        )  # fmt: skip
    for sign, kind in _SIGNS:
        if content.startswith(sign):
            return Photo(content=content, content_type=kind)
    raise Refused("A photo is a PNG or a JPEG file; this is neither.", code="not_valid", status=422, field="photo")
