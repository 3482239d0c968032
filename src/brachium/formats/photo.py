"""Photos taken in: turned upright, scaled down, and rid of everything but the picture (place, time, camera: EXIF)."""

from __future__ import annotations

import hashlib
import io
from dataclasses import dataclass
from pathlib import Path

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.formats.limits import SHAPE, read_bytes

LONGEST_PX = 1600
QUALITY = 85
MAX_BYTES, MAX_KEPT_BYTES = 80 << 20, 4 << 20
MAX_PIXELS, MAX_WHOLE_PIXELS = 120_000_000, 40_000_000  # of JPEG, which can be read reduced, and of the rest
FORMATS = ("JPEG", "PNG", "WEBP", "BMP", "TIFF", "GIF")
SUFFIXES = (".jpg", ".jpeg", ".png", ".webp", ".bmp", ".tif", ".tiff", ".gif")


@dataclass(frozen=True)
class ScaledPhoto:
    """A JPEG copy; `id` is made of its content, so that the same picture is kept once."""

    id: str
    data: bytes
    width: int
    height: int


def is_photo(path: Path) -> bool:
    return path.suffix.lower() in SUFFIXES


def read_photo(path: Path) -> ScaledPhoto:
    """Read and scale a picture; the file itself is left alone. Raises ExpectedProblem or EnvironmentProblem."""
    return scaled(read_bytes(path, MAX_BYTES), str(path))


def kept_or_scaled(data: bytes, place: str) -> ScaledPhoto:
    """A picture that was kept before, as it is where it is one of ours, else taken in anew. Raises ExpectedProblem."""
    from PIL import Image

    made = scaled(data, place)  # every pixel of it is read
    with Image.open(io.BytesIO(data)) as picture:
        bare = picture.format == "JPEG" and not picture.getexif() and "comment" not in picture.info
        ours = bare and max(picture.size) <= LONGEST_PX and len(data) <= MAX_KEPT_BYTES
        size = picture.size
    return ScaledPhoto(_id(data), data, *size) if ours else made


def _id(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()[:24]


def scaled(data: bytes, place: str) -> ScaledPhoto:
    """A picture's scaled copy; a very large JPEG is read at a fraction of its size. Raises ExpectedProblem."""
    from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError  # late: only needed once a photo comes

    lenient, ImageFile.LOAD_TRUNCATED_IMAGES = ImageFile.LOAD_TRUNCATED_IMAGES, False  # the report's printer sets it
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as picture:
            most = MAX_PIXELS if picture.format == "JPEG" else MAX_WHOLE_PIXELS
            if picture.width * picture.height > most:
                raise ExpectedProblem(
                    phrase("the picture has more than {most:.0f} million pixels", most=most / 1000000.0),
                    place,
                    "Scale it down, or use JPEG.",
                )
            picture.draft("RGB", (LONGEST_PX, LONGEST_PX))
            picture.thumbnail((LONGEST_PX, LONGEST_PX))
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError, MemoryError, *SHAPE) as error:
        raise ExpectedProblem("this is no picture, or it is cut short", place,
                              "Use JPEG, PNG, WebP or TIFF.") from error  # fmt: skip
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = lenient
    out = io.BytesIO()
    plain = Image.new("RGB", upright.size)  # a new picture carries none of the old one's notes
    plain.paste(upright)
    plain.save(out, "JPEG", quality=QUALITY, optimize=True)
    return ScaledPhoto(_id(out.getvalue()), out.getvalue(), *upright.size)
