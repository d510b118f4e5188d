"""Files that a browser sends: their bytes as base64 text inside JSON."""

import base64
import binascii

from server.api.problems import Refused

__all__ = ["uploaded_bytes"]


def uploaded_bytes(name: str, content: str) -> bytes:
    """Return the bytes of a file.

    Raises Refused (not_valid) when the text is no base64.
    """
    try:
        return base64.b64decode(content, validate=True)
    except (binascii.Error, ValueError):
        raise Refused(f"{name} did not arrive whole. Choose it again.", code="not_valid", status=422) from None
