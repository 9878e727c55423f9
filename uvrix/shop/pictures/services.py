"""Taking pictures in."""

from __future__ import annotations

import io
import warnings

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from PIL import ExifTags, Image, ImageFile, ImageOps

from uvrix.core.errors import Refusal
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.contents import keep, save
from uvrix.shop.pictures.models import Picture

# A JPEG is made smaller as it is decoded; a PNG stands in memory whole, at three or four bytes a pixel.
MOST_PIXELS = {"JPEG": 220_000_000, "PNG": 50_000_000}
# What is no picture, or one whose pixels cannot be decoded; a palette that is missing is an AssertionError.
NO_PICTURE = (
    OSError,
    ValueError,
    SyntaxError,
    AssertionError,
    Image.DecompressionBombError,
    Image.DecompressionBombWarning,
)
LONGEST_SIDE_PX = 4000
JPEG_QUALITY = 90
SMALL_QUALITY = 80


def take_picture(data: bytes, name: str, by: User) -> Picture:
    """The stored picture of an uploaded one: decoded, set upright, made no larger than is useful, written anew.

    Nothing of the file but its pixels is kept. Raises Refusal where it is no PNG or JPEG or has too many pixels.
    """
    pixels, kind = decoded(data, name)
    written = io.BytesIO()
    if kind == "jpeg":
        pixels.convert("RGB").save(written, "JPEG", quality=JPEG_QUALITY)
    else:
        pixels.save(written, "PNG")
    content = written.getvalue()
    kept = keep("pictures", content)
    size = {"width_px": pixels.width, "height_px": pixels.height}
    fields = {"kind": kind, "stored_as": kept.stored_as, "added_by": by, **size}
    return Picture.objects.get_or_create(pk=kept.sha256, defaults=fields)[0]


def thumbnail(picture: Picture, width: int) -> str:
    """Where the picture is kept in a small size, made the first time that it is asked for."""
    stored_as = f"{picture.stored_as}-{width}"
    if not default_storage.exists(stored_as):
        with default_storage.open(picture.stored_as) as stream:
            small = Image.open(io.BytesIO(stream.read())).convert("RGB")
        small.thumbnail((width, width))
        written = io.BytesIO()
        small.save(written, "JPEG", quality=SMALL_QUALITY)
        save(stored_as, ContentFile(written.getvalue()))
    return stored_as


def decoded(data: bytes, name: str) -> tuple[Image.Image, str]:
    """The upright pixels of a picture and its kind (png or jpeg); raises Refusal where it is none."""
    # other libraries allow half pictures for the whole process; half a photograph is a broken upload
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    try:
        with warnings.catch_warnings():
            # what is too much is said by `_check_size`, before anything is decoded
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            found = Image.open(io.BytesIO(data), formats=["PNG", "JPEG"])
            _check_size(found, name)
            kind = "png" if found.format == "PNG" else "jpeg"
            found.thumbnail((LONGEST_SIDE_PX, LONGEST_SIDE_PX))
            orientation = found.getexif().get(ExifTags.Base.Orientation)
            pixels = found.convert("RGB")
    except NO_PICTURE as error:
        reason = type(error).__name__
        raise Refusal(
            "",
            gettext("a file that is no picture ({reason})", reason=reason),
            gettext("a photograph as PNG or JPEG"),
            name,
        ) from None
    # of what the camera wrote beside the pixels only the way up is used: the rest may be damaged, or say where it was
    bare = Image.new("RGB", pixels.size)
    bare.paste(pixels)
    bare.getexif()[ExifTags.Base.Orientation] = orientation
    ImageOps.exif_transpose(bare, in_place=True)
    return bare, kind


def _check_size(found: Image.Image, name: str) -> None:
    most = MOST_PIXELS[found.format or "PNG"]
    if found.width * found.height > most:
        found_words = gettext("{width} by {height} pixels", width=found.width, height=found.height)
        raise Refusal(
            "",
            found_words,
            gettext("at most {most} million pixels in a {value}", most=most // 1000000, value=found.format),
            name,
        )
