"""Photos of what arrived: decoded, turned upright, made smaller and written again, so that nothing but the picture is
kept: no place, no camera, no hidden file (outcomes).
"""

import io

from django.db import transaction
from django.utils import timezone
from PIL import Image, ImageOps, UnidentifiedImageError

from server.api.problems import Refused
from server.formats.photo import Photo
from server.outcomes.models import Arrival, ArrivalPhoto
from server.workshops.models import Workshop, lock_workshop

__all__ = ["MOST_PHOTOS", "add_photo", "keep_photo", "made_again"]

#: Photos of one parcel.
MOST_PHOTOS = 6
_LONGEST = 1_600
#: A small file may unfold into a huge picture.
_MOST_PIXELS = 40_000_000
_QUALITY = 82


def made_again(photo: Photo) -> bytes:
    """Return a photo as a JPEG of our own making. Raises Refused (not_valid): no picture, or too large a one."""
    try:
        with Image.open(io.BytesIO(photo.content), formats=("JPEG", "PNG")) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                raise Refused(
                    f"The photo has {opened.width} x {opened.height} points; at most {_MOST_PIXELS // 1_000_000} "
                    "million. Make it smaller and choose it again.",
                    code="not_valid", status=422, field="photo",
                )  # fmt: skip
            upright = ImageOps.exif_transpose(opened).convert("RGB")
            upright.thumbnail((_LONGEST, _LONGEST))
            # A new picture: what was hidden in the old one's data does not come along.
            plain = Image.new("RGB", upright.size)
            plain.paste(upright)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refused(
            "The photo cannot be read: it is damaged, or no PNG or JPEG. Choose another.",
            code="not_valid", status=422, field="photo",
        ) from None  # fmt: skip
    out = io.BytesIO()
    plain.save(out, "JPEG", quality=_QUALITY)
    return out.getvalue()


def add_photo(workshop: Workshop, row: Arrival, photo: Photo, *, by_buyer: bool) -> ArrivalPhoto:
    """Keep a photo of a parcel. Raises Refused: not_valid, too_many."""
    return keep_photo(workshop, row, made_again(photo), by_buyer=by_buyer)  # made before the lock: it takes a moment


@transaction.atomic
def keep_photo(workshop: Workshop, row: Arrival, content: bytes, *, by_buyer: bool) -> ArrivalPhoto:
    """Keep a picture of our own making. Raises Refused (too_many)."""
    lock_workshop(workshop)
    if ArrivalPhoto.objects.of(workshop).filter(arrival=row).count() >= MOST_PHOTOS:
        raise Refused(
            f"This parcel has {MOST_PHOTOS} photos already, which is the most. Delete one first.", code="too_many"
        )
    return ArrivalPhoto.objects.of(workshop).create(
        workshop=workshop, arrival=row, content=content, by_buyer=by_buyer, at=timezone.now()
    )
