"""Reads a test file past the cache, by direct I/O; every block carries its own number and is checked.

Used by the workloads of the program and of the probe, whose files differ in content and name.
"""

from __future__ import annotations

import mmap
import os
import threading
from typing import Callable, Mapping, Tuple

from brachium_probe.child_protocol import ChildStopwatch, wait_for_go
from brachium_probe.own_folder import open_file

BLOCK = 4096
CHUNK = 4 << 20


def sequential(
    where: Mapping[str, object], duration_s: float, first_bytes: Callable[[int], bytes]
) -> Tuple[float, int]:
    """(bytes/s, wrong pieces) of reading from the start in large pieces, over and over."""
    handle, size = _open(where)
    buffer = mmap.mmap(-1, CHUNK)
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    at = moved = wrong = 0
    while not watch.over():
        moved += os.preadv(handle, [buffer], at)
        wrong += buffer[:8] != first_bytes(at // BLOCK)
        at = at + CHUNK if at + 2 * CHUNK <= size else 0
    return moved / watch.elapsed_s(), wrong


def scattered(
    where: Mapping[str, object], duration_s: float, depth: int, first_bytes: Callable[[int], bytes],
    places: Callable[[int, int], Callable[[], int]],
) -> Tuple[float, int]:  # fmt: skip
    """(reads/s, wrong blocks) of single blocks, `depth` at a time; `places(thread, blocks)` draws the block numbers."""
    handle, size = _open(where)
    blocks = size // BLOCK
    following = [places(number, blocks) for number in range(depth)]
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    counts, wrongs = [0] * depth, [0] * depth

    def reader(number: int) -> None:
        buffer = mmap.mmap(-1, BLOCK)
        place = following[number]
        while not watch.over():
            index = place()
            os.preadv(handle, [buffer], index * BLOCK)
            wrongs[number] += buffer[:8] != first_bytes(index)
            counts[number] += 1

    threads = [threading.Thread(target=reader, args=(n,)) for n in range(1, depth)]
    for thread in threads:
        thread.start()
    reader(0)
    for thread in threads:
        thread.join()
    return sum(counts) / watch.elapsed_s(), sum(wrongs)


def _open(where: Mapping[str, object]) -> Tuple[int, int]:
    handle = open_file(where)
    return handle, os.fstat(handle).st_size
