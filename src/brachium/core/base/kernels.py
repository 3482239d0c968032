"""Compiled kernels: C sources in a folder that set-up makes a library of; loaded by cffi, absent where none was built.

A library bears the digest of its sources: another source is another file, and an old build is never taken for it.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

FLAGS = ("-std=gnu11", "-O3", "-ffp-contract=off", "-Wall", "-Wextra", "-shared", "-fPIC", "-include", "stdint.h")
COMPILERS = ("cc", "gcc", "clang")
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


def compiler() -> str:
    """A C compiler of this system; empty where there is none."""
    return next((found for name in COMPILERS if (found := shutil.which(name))), "")


def built(kernels: Kernels) -> tuple[Path | None, str]:
    """(the library, or None; why not). An older build beside it is removed."""
    target = kernels.path()
    if target.exists():
        return target, ""
    found = compiler()
    if not found:
        return None, "there is no C compiler here"
    try:
        target.parent.mkdir(exist_ok=True)
        for old in target.parent.glob("kernels-*.so*"):
            old.unlink()
        part = target.with_suffix(f".so.{os.getpid()}")
        sources = [str(kernels.folder / s) for s in kernels.sources]
        command = [found, *FLAGS, "-o", str(part), *sources, "-lpthread", "-lm"]
        made = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
        if made.returncode:
            part.unlink(missing_ok=True)
            return None, f"the compiler said: {made.stderr.strip().splitlines()[-1] if made.stderr.strip() else 'no'}"
        part.replace(target)
    except (OSError, subprocess.TimeoutExpired) as error:
        return None, f"they could not be built: {error}"
    return target, ""


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
