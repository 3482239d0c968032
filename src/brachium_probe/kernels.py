"""The probe's own workloads: standard library only, checked like the program's, never mixed with them.

Hashing and sorting for the processor, copying for memory, a file inside a named folder for a drive.
"""

from __future__ import annotations

import hashlib
import os
import random
import zlib
from typing import Callable, Dict

from brachium_probe import direct_io
from brachium_probe.child_protocol import ChildStopwatch, say, wait_for_go
from brachium_probe.direct_io import BLOCK, CHUNK
from brachium_probe.own_folder import make_file

HASHED_BYTES = 1 << 18
SORTED = 12_000
DIGEST = "80d7c665"
PROGRESS_S = 0.5
PATTERNS = (0x00, 0xFF, 0xAA, 0x55, 0x0F, 0xF0)
PATTERN_CHUNK = 1 << 22


def unit() -> str:
    """One unit of work from a fixed start: a chained hash and a sort; returns a short digest of both."""
    block = bytes(range(256)) * (HASHED_BYTES // 256)
    digest = hashlib.sha256(block).digest()
    for _ in range(3):
        digest = hashlib.sha256(digest + block).digest()
    value, numbers = 12345, []
    for _ in range(SORTED):
        value = (value * 1103515245 + 12345) & 0x7FFFFFFF
        numbers.append(value)
    numbers.sort()
    return f"{zlib.crc32(digest + str(numbers[::64]).encode()):08x}"


def processor(duration_s: float) -> None:
    """Work until the time is over (0 = until stopped) [units/s]."""
    unit()
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    units = wrong = 0
    said = 0.0
    while not watch.over():
        wrong += unit() != DIGEST
        units += 1
        if watch.elapsed_s() - said >= PROGRESS_S:
            said = watch.elapsed_s()
            say(elapsed_s=said, units=units, wrong=wrong)
    say(result=units / watch.elapsed_s(), wrong=wrong)


def bandwidth(duration_s: float, size_bytes: int) -> None:
    """Copy a buffer; bytes read and bytes written both count [bytes/s]."""
    source = bytearray(bytes(range(256)) * (size_bytes // 256))
    wanted = zlib.crc32(source)
    target = bytearray(len(source))
    target[:] = source
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    moved = 0
    view = memoryview(target)
    while not watch.over():
        view[:] = source
        moved += 2 * len(source)
    rate = moved / watch.elapsed_s()
    say(result=rate, wrong=int(zlib.crc32(target) != wanted))


def memory_test(duration_s: float, size_bytes: int) -> None:
    """Write byte patterns and read them back, at least once; the result is the number of wrong pieces of 4 MiB."""
    pieces = [bytearray(PATTERN_CHUNK) for _ in range(max(size_bytes // PATTERN_CHUNK, 1))]
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    wrong = passes = 0
    while not watch.over():
        for pattern in PATTERNS:
            wanted = bytes([pattern]) * PATTERN_CHUNK
            for piece in pieces:
                piece[:] = wanted
            wrong += sum(piece != wanted for piece in pieces)
        passes += 1
        say(elapsed_s=watch.elapsed_s(), units=passes, wrong=wrong)
    say(result=float(wrong), wrong=wrong, passes=passes)


def layout(size_bytes: int, **where: object) -> None:
    """Write the test file, every block with its own number first; the result is the write rate [bytes/s]."""
    wait_for_go()
    body = random.Random(7).getrandbits(8 * (BLOCK - 8)).to_bytes(BLOCK - 8, "little")
    watch = ChildStopwatch(0)
    with os.fdopen(make_file(where), "wb") as file:
        for first in range(0, size_bytes // BLOCK, CHUNK // BLOCK):
            file.write(b"".join(_number(n) + body for n in range(first, first + CHUNK // BLOCK)))
        file.flush()
        os.fsync(file.fileno())
    say(result=size_bytes / watch.elapsed_s(), wrong=0)


def sequential(duration_s: float, **where: object) -> None:
    """Read the file from its start past the cache [bytes/s]."""
    rate, wrong = direct_io.sequential(where, duration_s, _number)
    say(result=rate, wrong=wrong)


def scattered(duration_s: float, depth: int, **where: object) -> None:
    """Read single blocks at random places past the cache, `depth` at a time [reads/s]."""

    def places(thread: int, blocks: int) -> Callable[[], int]:
        dice = random.Random(thread)
        return lambda: dice.randrange(blocks)

    rate, wrong = direct_io.scattered(where, duration_s, depth, _number, places)
    say(result=rate, wrong=wrong)


def _number(index: int) -> bytes:
    return index.to_bytes(8, "little")


KERNELS: Dict[str, Callable[..., None]] = {
    "processor": processor,
    "bandwidth": bandwidth,
    "memory-test": memory_test,
    "layout": layout,
    "sequential": sequential,
    "scattered": scattered,
}
