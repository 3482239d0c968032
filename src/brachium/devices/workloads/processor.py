"""Processor work: integer mixing and floating point on a block in the inner caches, checked after every unit.

The integers follow xorshift64 (Marsaglia 2003); additions, products and square roots are exact by IEEE 754, so that
every processor must reach the same checksum. A wrong one is a finding: unstable memory or processor.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from brachium_probe.child_protocol import ChildStopwatch, say, wait_for_go

ELEMENTS = 4096
ROUNDS = 160
CHECKSUM = 0x3EE1610979E3C1FF
PROGRESS_S = 0.5

Words = npt.NDArray[np.uint64]


def mixed() -> tuple[Words, npt.NDArray[np.float64]]:
    """One unit of work from a fixed start: integers and floats after all rounds, shape (ELEMENTS,) each."""
    x: Words = np.arange(1, ELEMENTS + 1, dtype=np.uint64) * np.uint64(0x9E3779B97F4A7C15)
    f = np.full(ELEMENTS, 0.5)
    shifted = np.empty_like(x)
    part = np.empty(ELEMENTS)
    for _ in range(ROUNDS):
        for shift, left in ((13, True), (7, False), (17, True)):
            (np.left_shift if left else np.right_shift)(x, np.uint64(shift), out=shifted)
            np.bitwise_xor(x, shifted, out=x)
        np.right_shift(x, np.uint64(11), out=shifted)
        np.multiply(shifted, 2.0**-53, out=part, casting="unsafe")
        np.multiply(f, 0.999, out=f)
        np.add(f, part, out=f)
        np.multiply(f, f, out=part)
        np.add(part, 1.0, out=part)
        np.sqrt(part, out=f)
    return x, f


def unit() -> int:
    """One unit of work; returns its checksum."""
    x, f = mixed()
    return int(np.bitwise_xor.reduce(x) ^ np.bitwise_xor.reduce(f.view(np.uint64)))


def run(duration_s: float) -> None:
    """Work until the time is over; progress every half second, a result at the end."""
    unit()
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    units = wrong = 0
    said = 0.0
    while not watch.over():
        wrong += unit() != CHECKSUM
        units += 1
        elapsed = watch.elapsed_s()
        if elapsed - said >= PROGRESS_S:
            said = elapsed
            say(elapsed_s=elapsed, units=units, wrong=wrong)
    say(result=units / watch.elapsed_s(), wrong=wrong)
