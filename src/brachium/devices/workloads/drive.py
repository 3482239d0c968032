"""Drive work on one file inside a folder that the user named: direct I/O, every block carries its own number.

Nothing is ever written outside that folder, and never to a device.
"""

from __future__ import annotations

import mmap
import os
import threading
from pathlib import Path

import numpy as np

from brachium_probe.talk import Stopwatch, say, wait_for_go

VERSION = 1
BLOCK = 4096
CHUNK = 4 << 20
FILE_NAME = "brachium-drive-test.bin"
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


def run_layout(folder: str, size_bytes: int) -> None:
    """Write the test file and bring it to the drive; the result is the write rate [bytes/s]."""
    wait_for_go()
    path = Path(folder) / FILE_NAME
    watch = Stopwatch(0)
    per_write = CHUNK // BLOCK
    with path.open("wb") as file:
        for first in range(0, size_bytes // BLOCK, per_write):
            file.write(filled(first, per_write))
            if first % (16 * per_write) == 0:
                say(elapsed_s=watch.elapsed_s(), units=first * BLOCK, wrong=0)
        file.flush()
        os.fsync(file.fileno())
    say(result=size_bytes / watch.elapsed_s(), wrong=0)


def run_sequential(folder: str, duration_s: float) -> None:
    """Read the file from its start in large pieces [bytes/s]."""
    handle, size = _open(folder)
    buffer = mmap.mmap(-1, CHUNK)
    wait_for_go()
    watch = Stopwatch(duration_s)
    at = moved = wrong = 0
    while not watch.over():
        got = os.preadv(handle, [buffer], at)
        wrong += _word(buffer) != block_word(at // BLOCK)
        moved += got
        at = at + CHUNK if at + 2 * CHUNK <= size else 0
    say(result=moved / watch.elapsed_s(), wrong=wrong)


def run_random(folder: str, duration_s: float, depth: int, seed: int) -> None:
    """Read single blocks at random places, `depth` at a time [reads/s]."""
    handle, size = _open(folder)
    wait_for_go()
    watch = Stopwatch(duration_s)
    counts, wrongs = [0] * depth, [0] * depth

    def reader(number: int) -> None:
        places = np.random.default_rng([seed, number]).integers(0, size // BLOCK, 1 << 16).tolist()
        buffer = mmap.mmap(-1, BLOCK)
        done = 0
        while not watch.over():
            index = places[done & 0xFFFF]
            os.preadv(handle, [buffer], index * BLOCK)
            wrongs[number] += _word(buffer) != block_word(index)
            done += 1
        counts[number] = done

    threads = [threading.Thread(target=reader, args=(n,)) for n in range(1, depth)]
    for thread in threads:
        thread.start()
    reader(0)
    for thread in threads:
        thread.join()
    say(result=sum(counts) / watch.elapsed_s(), wrong=sum(wrongs))


def _word(buffer: mmap.mmap) -> int:
    return int.from_bytes(buffer[:8], "little")


def _open(folder: str) -> tuple[int, int]:
    path = Path(folder) / FILE_NAME
    handle = os.open(path, os.O_RDONLY | os.O_DIRECT)
    return handle, path.stat().st_size
