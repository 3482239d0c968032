"""The data of the everyday tasks, made on the spot and the same everywhere: files, pictures, a sheet.

Everything is drawn from PCG64 with a fixed seed by its raw words, which are the same on every machine and version.
"""

from __future__ import annotations

import ctypes
import os
import tarfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np

FILES, A_FOLDER = 5_000, 50
SMALLEST, SPREAD = 512, 15_872  # bytes of a small file: 0.5 to 16 KiB
FOLDER_FILES, FOLDER_FILE = 48, 512 << 10
PICTURES, PICTURE_W, PICTURE_H = 8, 3000, 2000
SHEET_ROWS, SHEET_COLUMNS = 5_000, 10
_WORDS = tuple(f"{a}{b}{c}" for a in "bdfgklmnprst" for b in "aeiou" for c in ("l", "n", "r", "s", ""))


def raw(seed: int, count: int) -> np.ndarray:
    """Random words of 64 bits, shape (count,)."""
    return np.random.PCG64(seed).random_raw(count)


def small_files() -> Iterator[tuple[str, bytes]]:
    """(name, content) of many small files: text in half of them, noise in the others."""
    sizes = SMALLEST + (raw(1, FILES) % np.uint64(SPREAD)).astype(np.int64)
    noise = raw(2, (SMALLEST + SPREAD) // 8 + 1).tobytes()
    text = words(3, (SMALLEST + SPREAD) // 3)
    for k, size in enumerate(sizes):
        shift = k % 97
        content = text[shift : shift + int(size)] if k % 2 else noise[: int(size)]
        yield f"f{k // A_FOLDER:03d}/{k:05d}.dat", f"{k:08d}".encode() + content[8:]


def words(seed: int, count: int) -> bytes:
    """Made-up words with spaces, which compress as text does."""
    picks = (raw(seed, count) % np.uint64(len(_WORDS))).astype(np.int64)
    return " ".join(_WORDS[k] for k in picks).encode()


def pack_small_files(name: str) -> int:
    """An archive of the small files in the present folder; returns the sum of their bytes as stored."""
    import io

    total = 0
    with tarfile.open(name, "w") as archive:
        for path, content in small_files():
            entry = tarfile.TarInfo(path)
            entry.size = len(content)
            archive.addfile(entry, io.BytesIO(content))
            total += len(content)
    return total


def write_folder(folder: str) -> int:
    """A folder of larger files, part text and part noise; returns the sum of their bytes."""
    Path(folder).mkdir()
    text, noise = words(4, 400_000), raw(5, FOLDER_FILE // 8).tobytes()
    total = 0
    for k in range(FOLDER_FILES):
        shift = 1009 * k % 100_000
        content = (text[shift:] + text)[:FOLDER_FILE] if k % 4 else noise
        Path(folder, f"{k:03d}.dat").write_bytes(content)
        total += len(content)
    return total


def write_pictures() -> None:
    """Photographs of soft shapes with grain, as JPEG files in the present folder."""
    from PIL import Image

    y, x = np.mgrid[0:PICTURE_H, 0:PICTURE_W].astype(np.float32)
    grain = (raw(6, PICTURE_H * PICTURE_W) % np.uint64(24)).astype(np.float32).reshape(PICTURE_H, PICTURE_W)
    for k in range(PICTURES):
        wave = 90.0 + 60.0 * np.sin(x / (180.0 + 20 * k)) + 40.0 * np.cos(y / (140.0 + 15 * k)) + grain
        planes = [np.clip(wave + shift, 0, 255).astype(np.uint8) for shift in (0, 12 * k % 40, 30)]
        Image.fromarray(np.dstack(planes), "RGB").save(f"picture{k}.jpg", quality=90)


def write_sheet(name: str) -> int:
    """A workbook of whole numbers; returns their sum."""
    from openpyxl import Workbook

    book = Workbook(write_only=True)
    sheet = book.create_sheet("figures")
    numbers = (raw(7, SHEET_ROWS * SHEET_COLUMNS) % np.uint64(100_000)).astype(np.int64)
    for row in numbers.reshape(SHEET_ROWS, SHEET_COLUMNS):
        sheet.append([int(v) for v in row])
    book.save(name)
    return int(numbers.sum())


def flush_files(folder: str = ".") -> None:
    """Everything that was written there is on the drive before this returns (syncfs(2)). Raises OSError."""
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        libc = ctypes.CDLL(None, use_errno=True)
        if libc.syncfs(handle):
            code = ctypes.get_errno()
            raise OSError(code, os.strerror(code), folder)
    finally:
        os.close(handle)


def forget_files(folder: str = ".") -> None:
    """Drop the file cache of all files below a folder; needs no rights, and works on what is flushed."""
    for place, _, names in os.walk(folder):
        for name in names:
            handle = os.open(Path(place, name), os.O_RDONLY | os.O_NOFOLLOW)
            try:
                os.posix_fadvise(handle, 0, 0, os.POSIX_FADV_DONTNEED)
            finally:
                os.close(handle)
