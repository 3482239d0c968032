"""Memory work: bandwidth by large copies, rate of random gathers, and a test by patterns with verification."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from brachium_probe.child_protocol import ChildStopwatch, say, wait_for_go

MIX = np.uint64(0x9E3779B97F4A7C15)
GATHER_CHUNK = 1 << 16
PATTERNS = (0x0, 0xFFFFFFFFFFFFFFFF, 0xAAAAAAAAAAAAAAAA, 0x5555555555555555, 0x00FF00FF00FF00FF, 0x0F0F0F0F0F0F0F0F)

Words = npt.NDArray[np.uint64]


def run_bandwidth(duration_s: float, size_bytes: int) -> None:
    """Copy a buffer over and over; bytes read and bytes written both count [bytes/s]."""
    source: Words = np.arange(size_bytes // 8, dtype=np.uint64) * MIX
    wanted = int(np.bitwise_xor.reduce(source))
    target = np.empty_like(source)
    np.copyto(target, source)
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    moved = 0
    while not watch.over():
        np.copyto(target, source)
        moved += 2 * source.nbytes
    rate = moved / watch.elapsed_s()
    say(result=rate, wrong=int(int(np.bitwise_xor.reduce(target)) != wanted))


def run_gather(duration_s: float, size_bytes: int) -> None:
    """Read single words of a table in random order [gathers/s]; several misses overlap, so this is no latency."""
    count = size_bytes // 8
    table: Words = np.arange(count, dtype=np.uint64) * MIX
    order = np.random.default_rng(1).permutation(count).astype(np.int64)
    out = np.empty(GATHER_CHUNK, dtype=np.uint64)
    chunks = count // GATHER_CHUNK
    np.take(table, order[:GATHER_CHUNK], out=out)
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    done = wrong = 0
    while not watch.over():
        at = (done % chunks) * GATHER_CHUNK
        chosen = order[at : at + GATHER_CHUNK]
        np.take(table, chosen, out=out)
        if done % 64 == 0:
            wrong += int(np.count_nonzero(out != chosen.astype(np.uint64) * MIX))
        done += 1
    say(result=done * GATHER_CHUNK / watch.elapsed_s(), wrong=wrong)


def run_test(duration_s: float, size_bytes: int) -> None:
    """Write patterns and read them back; at least one whole pass. The result is the number of memory errors."""
    words: Words = np.zeros(size_bytes // 8, dtype=np.uint64)
    address: Words = np.arange(words.size, dtype=np.uint64)
    wait_for_go()
    watch = ChildStopwatch(duration_s)
    wrong = passes = 0
    first_wrong = -1
    while not watch.over():
        for number in range(len(PATTERNS) + 2):
            wanted = _wanted(number, address)
            words[:] = wanted
            bad = np.flatnonzero(words != wanted)
            wrong += bad.size
            if bad.size and first_wrong < 0:
                first_wrong = int(bad[0]) * 8
        passes += 1
        say(elapsed_s=watch.elapsed_s(), units=passes, wrong=wrong)
    say(result=float(wrong), wrong=wrong, passes=passes, tested_bytes=words.nbytes, first_wrong=first_wrong)


def _wanted(number: int, address: Words) -> Words | np.uint64:
    if number < len(PATTERNS):
        return np.uint64(PATTERNS[number])
    return address * MIX if number == len(PATTERNS) else ~(address * MIX)
