"""Pictures as a telephone makes them, drawn here."""

from __future__ import annotations

import io

from PIL import Image

TURNED, PLACE = 6, "N 47 16 9"


def picture(
    size: tuple[int, int] = (300, 200), kind: str = "JPEG", *, exif: bool = False, colour: str = "red"
) -> bytes:
    """A picture whose left half is of a colour; with tags it says where it was taken, and that it lies on its side."""
    image = Image.new("RGB", size, "white")
    image.paste(colour, (0, 0, size[0] // 2, size[1]))
    tags = Image.Exif()
    if exif:
        tags[0x0112], tags[0x010E] = TURNED, PLACE
        tags.get_ifd(0x8825)[2] = (47.0, 16.0, 9.0)
    data = io.BytesIO()
    image.save(data, kind, **({"exif": tags} if kind == "JPEG" else {}))
    return data.getvalue()
