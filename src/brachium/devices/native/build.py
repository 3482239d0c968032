"""Builds the kernels: `python -m brachium.devices.native.build`. Set-up calls it; without a compiler nothing is built,
and the tests that need the kernels are left out with a sentence.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

HERE = Path(__file__).parent
SOURCES = ("memory.c", "processor.c", "drive.c")
HEADERS = ("kernels.h", "common.h")
FLAGS = ("-std=gnu11", "-O3", "-ffp-contract=off", "-Wall", "-Wextra", "-shared", "-fPIC", "-include", "stdint.h")
COMPILERS = ("cc", "gcc", "clang")


def library_path() -> Path:
    """Where the kernels of these sources lie once they are built: another source, another file."""
    digest = hashlib.sha256(" ".join(FLAGS).encode())
    for name in (*HEADERS, *SOURCES):
        digest.update((HERE / name).read_bytes())
    return HERE / "built" / f"kernels-{digest.hexdigest()[:16]}.so"


def compiler() -> str:
    """A C compiler of this system; empty where there is none."""
    return next((found for name in COMPILERS if (found := shutil.which(name))), "")


def build() -> tuple[Path | None, str]:
    """(the library, or None; why not). An older build beside it is removed."""
    target = library_path()
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
        command = [found, *FLAGS, "-o", str(part), *(str(HERE / s) for s in SOURCES), "-lpthread", "-lm"]
        made = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
        if made.returncode:
            part.unlink(missing_ok=True)
            return None, f"the compiler said: {made.stderr.strip().splitlines()[-1] if made.stderr.strip() else 'no'}"
        part.replace(target)
    except (OSError, subprocess.TimeoutExpired) as error:
        return None, f"they could not be built: {error}"
    return target, ""


if __name__ == "__main__":
    library, why = build()
    print(f"Kernels built: {library.name}" if library is not None else f"Kernels not built: {why}", file=sys.stderr)
