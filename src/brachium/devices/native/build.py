"""Builds every kernel of the program: `python -m brachium.devices.native.build`. Set-up calls it; without a compiler
nothing is built, the tests that need the kernels are left out with a sentence, and the day sheet is less close to the
best order.
"""

from __future__ import annotations

import sys
from pathlib import Path

from brachium.core.base.kernels import Kernels, built
from brachium.core.day.compiled.arrays import DAY_KERNELS

HERE = Path(__file__).parent
MEASURING = Kernels(HERE, ("memory.c", "processor.c", "drive.c"), ("kernels.h", "common.h"))


if __name__ == "__main__":
    for kernels in (MEASURING, DAY_KERNELS):
        library, why = built(kernels)
        told = f"Kernels built: {library.name}" if library is not None else f"Kernels not built: {why}"
        print(told, file=sys.stderr)
