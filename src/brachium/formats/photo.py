"""Photos taken in: turned upright, scaled down, and rid of everything but the picture (place, time, camera: EXIF)."""

from __future__ import annotations

import hashlib
import io
from dataclasses import dataclass
from pathlib import Path

from brachium.core.problems import ExpectedProblem, from_os_error

LONGEST_PX = 1600
QUALITY = 85
MAX_BYTES = 80 << 20
MAX_PIXELS = 120_000_000
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
    try:
        size = path.stat().st_size
        data = path.read_bytes() if size <= MAX_BYTES else b""
    except OSError as error:
        raise from_os_error(error, str(path)) from error
    if size > MAX_BYTES:
        raise ExpectedProblem(f"the picture is larger than {MAX_BYTES >> 20} MB", str(path), "Scale it down first.")
    return scaled(data, str(path))


def scaled(data: bytes, place: str) -> ScaledPhoto:
    """A picture's scaled copy. Raises ExpectedProblem where it cannot be read."""
    from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError  # late: only needed once a photo comes

    lenient, ImageFile.LOAD_TRUNCATED_IMAGES = ImageFile.LOAD_TRUNCATED_IMAGES, False  # the report's printer sets it
    try:
        with Image.open(io.BytesIO(data)) as picture:
            if picture.width * picture.height > MAX_PIXELS:
                raise ExpectedProblem("the picture has more pixels than any camera takes", place, "Scale it down.")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
            upright.thumbnail((LONGEST_PX, LONGEST_PX))
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise ExpectedProblem("this is no picture, or it is cut short", place,
                              "Use JPEG, PNG, WebP or TIFF.") from error  # fmt: skip
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = lenient
    out = io.BytesIO()
    plain = Image.new("RGB", upright.size)  # a new picture carries none of the old one's notes
    plain.paste(upright)
    plain.save(out, "JPEG", quality=QUALITY, optimize=True)
    return ScaledPhoto(hashlib.sha256(out.getvalue()).hexdigest()[:24], out.getvalue(), *upright.size)
