"""Photos: opened, turned the right way up, made smaller, written anew without what was noted."""

from __future__ import annotations

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from clothyard.core.errors import BadInput

PHOTO_BYTES = 20_000_000
MOST_PIXELS = 25_000_000
PHOTO_PX = 1600
"""The longer side as it is kept."""


def small_photo(data: bytes, where: str) -> bytes:
    """Make a photo small: a JPEG of at most 1600 pixels a side, of nothing but its picture.

    Parameters
    ----------
    data : bytes
        A JPEG, PNG or WebP picture of at most 25 megapixels.
    where : str
        What an error is about.

    Raises
    ------
    BadInput
        If it is no picture, or too large.
    """
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise BadInput(
                    f"the photo is {opened.width} × {opened.height} pixels.",
                    where=where,
                    remedy="Send one of at most 25 megapixels, such as 5000 × 5000.",
                    code="too-large",
                )
            opened.draft("RGB", (PHOTO_PX, PHOTO_PX))  # a JPEG is read as small as it may be
            opened.thumbnail((PHOTO_PX, PHOTO_PX))
            picture = ImageOps.exif_transpose(opened).convert("RGB")
    except (
        UnidentifiedImageError,
        Image.DecompressionBombError,
        OSError,
        ValueError,
        SyntaxError,
    ) as error:
        raise BadInput(
            "this is no photo that can be read.",
            where=where,
            remedy="Send a JPEG, PNG or WebP picture.",
            code="photo-unreadable",
        ) from error
    written = io.BytesIO()
    picture.save(written, "JPEG", quality=82, optimize=True)
    return written.getvalue()
