"""The memory ladder: one task over and over, held to less memory each time; seconds against memory.

The task works on a file of a known size, a piece at a time, some pieces much more often than others (Zipf). What is not
in memory comes from the drive, so the curve shows what too little memory costs on this very machine, and its knee where
enough of it begins.
"""

from __future__ import annotations

import hashlib
import json
import os
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from brachium.devices.workloads import made_data as data
from brachium.devices.workloads.ends_with_us import forked
from brachium.devices.workloads.memory_hold import Ballast, ControlGroup
from brachium_probe.child_protocol import say, wait_for_go
from brachium_probe.own_folder import WorkPlace

PIECE = 4096
READ_AHEAD = 1 << 20
TOUCHES, WARM_UP = 60_000, 60_000
ZIPF = 0.85
STEP_LIMIT_S = 12.0
NAME = "table.bin"


def run_ladder(steps: list[float], working_bytes: int, **where: object) -> None:
    """`steps` are shares of the working set, the largest first; says seconds of the whole task by memory [byte]."""
    place = WorkPlace(where)
    group, ballast = _control_group(), Ballast()
    try:
        _write(working_bytes)
        wait_for_go()
        curve = []
        for step in steps:
            size = int(step * working_bytes)
            hold: Callable[[], object] = lambda: None  # noqa: E731
            if group is not None:
                hold = lambda s=size: group.hold(s)  # type: ignore[misc]  # noqa: E731
            elif not ballast.hold(size):
                break
            data.forget_files()
            seconds = _in_a_child(hold, working_bytes)
            if seconds is None:
                break
            curve.append([float(size), seconds])
    finally:
        ballast.close()
        if group is not None:
            group.close()
        place.close()
    if len(curve) < 2:
        say(problem="memory could not be held to less here without the whole machine paging")
        return
    say(result=curve[0][1], wrong=0, curve=curve, parts={"working_set": float(working_bytes)})


def _control_group() -> ControlGroup | None:
    try:
        return ControlGroup()
    except OSError:
        return None


def _write(working_bytes: int) -> None:
    block = data.raw(11, PIECE // 8).tobytes()
    with Path(NAME).open("wb") as file:
        for k in range(working_bytes // PIECE):
            file.write(k.to_bytes(8, "little") + block[8:])
    data.flush_files()


def _in_a_child(hold: Callable[[], object], working_bytes: int) -> float | None:
    """Seconds of the task in a process that is held; None where it was ended, as for want of memory."""
    heard, told = os.pipe()
    pid = forked()
    if pid == 0:
        code = 1
        try:
            hold()
            os.write(told, json.dumps(_task(working_bytes)).encode())
            code = 0
        finally:
            os._exit(code)
    os.close(told)
    with os.fdopen(heard, "rb") as pipe:
        text = pipe.read()
    _, status = os.waitpid(pid, 0)
    return float(json.loads(text)) if status == 0 and text else None


def touched(pieces: int) -> np.ndarray:
    """Which piece is worked on, in order, shape (WARM_UP + TOUCHES,): Zipf over a shuffled order of the pieces."""
    rng = np.random.default_rng(12)
    weights = np.arange(1, pieces + 1, dtype=np.float64) ** -ZIPF
    return rng.permutation(pieces)[rng.choice(pieces, WARM_UP + TOUCHES, p=weights / weights.sum())]


def _task(working_bytes: int) -> float:
    """Seconds of all touches after the warm-up; a task that takes too long is scaled up from what it did."""
    order = touched(working_bytes // PIECE)
    handle = os.open(NAME, os.O_RDONLY)
    os.posix_fadvise(handle, 0, 0, os.POSIX_FADV_RANDOM)
    start = time.monotonic()
    while os.read(handle, READ_AHEAD):  # what fits is there before anything counts
        pass
    for k in order[:WARM_UP]:
        _work(handle, int(k))
        if time.monotonic() - start > STEP_LIMIT_S:
            break
    start, done = time.monotonic(), 0
    for k in order[WARM_UP:]:
        _work(handle, int(k))
        done += 1
        if time.monotonic() - start > STEP_LIMIT_S:
            break
    return (time.monotonic() - start) * TOUCHES / done


def _work(handle: int, piece: int) -> None:
    content = os.pread(handle, PIECE, piece * PIECE)
    if int.from_bytes(content[:8], "little") != piece:
        raise OSError(5, "a piece of the table holds something else", NAME)
    hashlib.blake2b(content).digest()
