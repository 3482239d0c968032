"""Drive work on one file in a folder of our own inside the one that the user named: direct I/O, every block with its
own number.

Nothing is ever written outside that folder, and never to a device.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from itertools import cycle

import numpy as np

from brachium_probe import direct_io
from brachium_probe.child_protocol import ChildStopwatch, say, wait_for_go
from brachium_probe.direct_io import BLOCK, CHUNK
from brachium_probe.own_folder import make_file

MIX = 0x9E3779B97F4A7C15
MASK = (1 << 64) - 1
IN_MEMORY = ("tmpfs", "ramfs", "rootfs", "squashfs")


def block_word(index: int) -> int:
    """First word of a block of the test file."""
    return (index * MIX + 0x1234567) & MASK


def filled(first: int, count: int) -> bytes:
    """Content of `count` blocks from block number `first` on; blocks differ, so that no drive can fold them."""
    index = np.arange(first, first + count, dtype=np.uint64)
    base = np.random.default_rng(7).integers(0, 2**63, BLOCK // 8, dtype=np.uint64)
    base[0] = 0
    words = base[None, :] ^ (index * np.uint64(MIX) + np.uint64(0x1234567))[:, None]
    return words.tobytes()


def run_layout(size_bytes: int, **where: object) -> None:
    """Write the test file and bring it to the drive; the result is the write rate [bytes/s]."""
    wait_for_go()
    watch = ChildStopwatch(0)
    per_write = CHUNK // BLOCK
    with os.fdopen(make_file(where), "wb") as file:
        for first in range(0, size_bytes // BLOCK, per_write):
            file.write(filled(first, per_write))
            if first % (16 * per_write) == 0:
                say(elapsed_s=watch.elapsed_s(), units=first * BLOCK, wrong=0)
        file.flush()
        os.fsync(file.fileno())
    say(result=size_bytes / watch.elapsed_s(), wrong=0)


def run_sequential(duration_s: float, **where: object) -> None:
    """Read the file from its start in large pieces [bytes/s]."""
    rate, wrong = direct_io.sequential(where, duration_s, _first_bytes)
    say(result=rate, wrong=wrong)


def run_random(duration_s: float, depth: int, seed: int, **where: object) -> None:
    """Read single blocks at random places, `depth` at a time [reads/s]."""

    def places(thread: int, blocks: int) -> Callable[[], int]:
        drawn = np.random.default_rng([seed, thread]).integers(0, blocks, 1 << 16).tolist()
        return cycle(drawn).__next__

    rate, wrong = direct_io.scattered(where, duration_s, depth, _first_bytes, places)
    say(result=rate, wrong=wrong)


def _first_bytes(index: int) -> bytes:
    return block_word(index).to_bytes(8, "little")
