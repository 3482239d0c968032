"""Builds every kernel of the program: `python -m brachium.devices.native.build`. Set-up calls it; without a compiler
nothing is built, the tests that need the kernels are left out with a sentence, and the day sheet is less close to the
best order.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from brachium.core.base.kernels import FLAGS, Kernels
from brachium.core.day.compiled.arrays import DAY_KERNELS

COMPILERS = ("cc", "gcc", "clang")
HERE = Path(__file__).parent
MEASURING = Kernels(HERE, ("memory.c", "processor.c", "drive.c"), ("kernels.h", "common.h"))


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


if __name__ == "__main__":
    for kernels in (MEASURING, DAY_KERNELS):
        library, why = built(kernels)
        told = f"Kernels built: {library.name}" if library is not None else f"Kernels not built: {why}"
        print(told, file=sys.stderr)
