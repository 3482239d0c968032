"""Compiled kernels: C sources in a folder that set-up makes a library of (`devices/native/build.py`), loaded by cffi.

A library bears the digest of its sources: another source is another file, and an old build is never taken for it.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

FLAGS = ("-std=gnu11", "-O3", "-ffp-contract=off", "-Wall", "-Wextra", "-shared", "-fPIC", "-include", "stdint.h")
NOT_BUILT = "the compiled kernels are not built; run set-up on a system with a C compiler"


@dataclass(frozen=True)
class Kernels:
    """Sources and headers of one library; the first header is what cffi reads."""

    folder: Path
    sources: tuple[str, ...]
    headers: tuple[str, ...]

    def path(self) -> Path:
        """Where the library of these sources lies once it is built."""
        digest = hashlib.sha256(" ".join(FLAGS).encode())
        for name in (*self.headers, *self.sources):
            digest.update((self.folder / name).read_bytes())
        return self.folder / "built" / f"kernels-{digest.hexdigest()[:16]}.so"

    def available(self) -> bool:
        return self.path().exists()


@cache
def loaded(kernels: Kernels) -> tuple[Any, Any]:
    """(cffi, library). Raises OSError where it is not built or cannot be loaded."""
    from cffi import FFI

    path = kernels.path()
    if not path.exists():
        raise OSError(NOT_BUILT)
    ffi = FFI()
    ffi.cdef((kernels.folder / kernels.headers[0]).read_text(encoding="utf-8"))
    return ffi, ffi.dlopen(str(path))
