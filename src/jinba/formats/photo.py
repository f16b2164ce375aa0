"""Photos: whatever a telephone makes, turned upright, made smaller, and without what it says of place, time and owner."""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from jinba.core.errors import JinbaError

LARGEST_BYTES = 20_000_000
LONGEST_SIDE = 1280
"""A crack is seen on it, and sixty of them are no burden to a backup."""

MOST = 60
"""Photos that are kept of one model: a project file with all of them is still sent by mail. Common practice, no source."""

_MOST_PIXELS = 60_000_000
_QUALITY = 80
_TOO_MANY = "This photo has more than 60 million pixels. Take it smaller."


class PhotoError(JinbaError):
    """Bytes that are no photo, or too much of one; the title says what to do."""

    code = "bad-photo"


@dataclass(frozen=True, slots=True)
class Photo:
    """A photo as it is kept: JPEG bytes, width and height in pixels."""

    jpeg: bytes
    width: int
    height: int


def read_photo(data: bytes) -> Photo:
    """Return a photo as it is kept: upright, at most :data:`LONGEST_SIDE` pixels, nothing in it but the picture.

    Raises: PhotoError for anything that is no picture, too large, or damaged.
    """
    if len(data) > LARGEST_BYTES:
        raise PhotoError("This photo is larger than 20 MB. Take it smaller, or crop it.")
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as opened:
            # Looked at before it is unpacked: a small file can hold a picture that fills the memory.
            if opened.width * opened.height > _MOST_PIXELS:
                raise PhotoError(_TOO_MANY)
            upright = ImageOps.exif_transpose(opened).convert("RGB")
    except PhotoError:
        raise
    except Image.DecompressionBombError:
        raise PhotoError(_TOO_MANY) from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        raise PhotoError(
            "This is no photo that can be read: it takes JPEG, PNG or WebP. Nothing was added; choose another file."
        ) from None
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    kept = io.BytesIO()
    # A picture made anew from its pixels carries no tag of place, time or camera.
    upright.save(kept, "JPEG", quality=_QUALITY, optimize=True, exif=b"")
    return Photo(kept.getvalue(), upright.width, upright.height)
