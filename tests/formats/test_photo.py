"""Photos: upright, small, and rid of place, time and camera."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.formats.photo import LONGEST_PX, read_photo, scaled

ORIENTATION, MAKER, GPS = 0x0112, 0x010F, 0x8825


def camera_picture(width: int = 4000, height: int = 1000) -> bytes:
    """A wide picture, red at its left end, as a camera held sideways would write it, with notes."""
    picture = Image.new("RGB", (width, height), "white")
    picture.paste("red", (0, 0, width // 10, height))
    exif = Image.Exif()
    exif[ORIENTATION], exif[MAKER] = 6, "Invented camera"
    exif.get_ifd(GPS)[1] = "N"
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    return out.getvalue()


def test_a_picture_is_turned_upright_scaled_and_rid_of_its_notes() -> None:
    raw = camera_picture()
    assert b"Invented camera" in raw
    photo = scaled(raw, "x.jpg")
    assert (photo.width, photo.height) == (400, LONGEST_PX), "held sideways: tall now"
    with Image.open(io.BytesIO(photo.data)) as kept:
        assert kept.size == (photo.width, photo.height) and not dict(kept.getexif())
        top, bottom = kept.getpixel((200, 20)), kept.getpixel((200, LONGEST_PX - 20))
    assert isinstance(top, tuple) and isinstance(bottom, tuple) and top[1] < 60 and bottom[1] > 200
    assert b"Invented camera" not in photo.data and b"Exif" not in photo.data
    assert scaled(raw, "again.jpg").id == photo.id


def test_a_small_picture_is_not_blown_up_and_a_transparent_one_is_taken() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (40, 30), (10, 200, 10, 128)).save(out, "PNG")
    photo = scaled(out.getvalue(), "x.png")
    assert (photo.width, photo.height) == (40, 30) and photo.data[:2] == b"\xff\xd8"


@pytest.mark.parametrize("data", [b"", b"no picture at all", camera_picture()[:3000], b"\x89PNG\r\n\x1a\n" + b"0" * 60])
def test_what_is_no_picture_says_so(tmp_path: Path, data: bytes) -> None:
    path = tmp_path / "photo.jpg"
    path.write_bytes(data)
    with pytest.raises(ExpectedProblem, match="no picture, or it is cut short") as caught:
        read_photo(path)
    assert "photo.jpg" in caught.value.text and path.read_bytes() == data


def test_a_missing_file_is_named(tmp_path: Path) -> None:
    with pytest.raises(EnvironmentProblem, match=r"away\.jpg"):
        read_photo(tmp_path / "away.jpg")


def test_a_bomb_of_pixels_is_refused() -> None:
    out = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(out, "PNG")
    with pytest.raises(ExpectedProblem):
        scaled(out.getvalue(), "bomb.png")
