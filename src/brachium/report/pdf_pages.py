"""The pages of a PDF as pictures and as text, for looking at them before they are printed."""

from __future__ import annotations

import re
import threading
from dataclasses import dataclass

_ONE_AT_A_TIME = threading.Lock()  # the library is not made for two threads at once


@dataclass(frozen=True)
class PdfPage:
    """A page: its size [px], its pixels as rows of RGBX bytes (4 a pixel), and the words on it."""

    width: int
    height: int
    pixels: bytes
    text: str


def pages_as_pictures(pdf: bytes, width_px: int) -> tuple[PdfPage, ...]:
    """Every page so many pixels wide. Raises ValueError where it is no PDF."""
    import pypdfium2  # late: only where pages are looked at

    with _ONE_AT_A_TIME:
        try:
            document = pypdfium2.PdfDocument(pdf)
        except pypdfium2.PdfiumError as error:
            raise ValueError(f"this is not a PDF: {error}") from error
        try:
            return tuple(_page(document[k], width_px) for k in range(len(document)))
        finally:
            document.close()


def _page(page: object, width_px: int) -> PdfPage:
    scale = width_px / page.get_width()  # type: ignore[attr-defined]
    bitmap = page.render(scale=scale, rev_byteorder=True, prefer_bgrx=True)  # type: ignore[attr-defined]
    words = page.get_textpage()  # type: ignore[attr-defined]
    text = re.sub(r"\s+", " ", words.get_text_bounded()).strip()
    pixels = bytes(bitmap.buffer)
    return PdfPage(bitmap.width, bitmap.height, pixels[: bitmap.stride * bitmap.height], text)
