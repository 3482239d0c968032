"""The compiled kernels in a test's child process; one call does the whole test, the interpreter only starts it."""

from __future__ import annotations

import os

from brachium.devices.native.library import Done, Words, chased, flushed, in_order, requested, streamed, worked
from brachium_probe.child_protocol import say, wait_for_go
from brachium_probe.own_folder import open_file

STREAM_BLOCK = 1 << 20


def run_latency(duration_s: float, sizes: list[int]) -> None:
    """Dependent loads over each working set [ns a load]; the result is that of the largest."""
    words = Words(max(sizes))
    chased(words, max(sizes), 0.0)  # every page is there before it counts
    wait_for_go()
    each = duration_s / len(sizes)
    curve = []
    for size in sizes:
        done = chased(words, size, each)
        curve.append([float(size), 1e9 * done.seconds / done.units])
    say(result=curve[-1][1], wrong=0, curve=curve)


def run_memory(duration_s: float, kind: str, size_bytes: int) -> None:
    """Read, write or copy a block over and over [bytes/s]."""
    words = Words(size_bytes)
    other = Words(size_bytes) if kind == "copy" else None
    streamed("write", words, None, 0.0)
    if other is not None:
        streamed("copy", words, other, 0.0)
    wait_for_go()
    done = streamed(kind, words, other, duration_s)
    say(result=done.rate, wrong=done.wrong)


def run_work(duration_s: float, kind: str) -> None:
    """Rounds of one kind of work [rounds/s]."""
    worked(kind, 0.0)
    wait_for_go()
    done = worked(kind, duration_s)
    say(result=done.rate, wrong=done.wrong)


def run_requests(duration_s: float, depth: int, mixed: bool = False, seed: int = 1, **where: object) -> None:
    """Single blocks at random places [requests/s]."""
    handle = open_file(where, write=mixed)
    size = os.fstat(handle).st_size
    wait_for_go()
    _told(requested(handle, size, depth, duration_s, mixed=mixed, seed=seed), 1.0)


def run_stream(duration_s: float, depth: int, **where: object) -> None:
    """Large pieces in order [bytes/s]."""
    handle = open_file(where)
    size = os.fstat(handle).st_size
    wait_for_go()
    _told(in_order(handle, size, depth, duration_s, block=STREAM_BLOCK), STREAM_BLOCK)


def run_flush(duration_s: float, **where: object) -> None:
    """Blocks written and flushed one after the other [writes/s]."""
    handle = open_file(where, write=True)
    size = os.fstat(handle).st_size
    wait_for_go()
    _told(flushed(handle, size, duration_s), 1.0)


def _told(done: Done, per_unit: float) -> None:
    if done.error:
        raise OSError(done.error, os.strerror(done.error))
    say(result=done.rate * per_unit, wrong=done.wrong)
