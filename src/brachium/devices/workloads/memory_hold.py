"""Holds a process to so much memory: by a control group where one may be made, else by taking the rest away.

File cache counts into a control group, so that a task held to a size keeps only so much of its files in memory. Without
the right to make one, an own allocation takes memory until only the wanted size is left; it gives up before the machine
pages itself to death.
"""

from __future__ import annotations

import contextlib
import mmap
import os
import secrets
from pathlib import Path

from brachium_probe.tree import Tree

MIB = 1 << 20
OWN_BYTES = 24 * MIB  # what the interpreter itself may need inside a control group
CHUNK = 64 * MIB
MARGIN_BYTES = 192 * MIB  # left to everybody else
PREFIX = "brachium-"
MOST_STALL = 5.0  # of the last ten seconds in which everything waited for memory [%]
V2, V1 = Path("/sys/fs/cgroup"), Path("/sys/fs/cgroup/memory")


class ControlGroup:
    """A control group of our own, for one child at a time. Raises OSError where none may be made."""

    def __init__(self) -> None:
        self._folder, self._limit = _made()

    def hold(self, size_bytes: int) -> None:
        """The process that calls this, and what it starts, has so much memory from now on. Raises OSError."""
        (self._folder / self._limit).write_text(str(size_bytes + OWN_BYTES))
        (self._folder / "cgroup.procs").write_text(str(os.getpid()))

    def close(self) -> None:
        """Remove it; it must be empty."""
        with contextlib.suppress(OSError):
            self._folder.rmdir()


def _made() -> tuple[Path, str]:
    """(folder, name of its limit): version 1 where it has a hierarchy of its own for memory, else version 2."""
    name = f"{PREFIX}{secrets.token_hex(4)}"
    if (V1 / "memory.limit_in_bytes").exists():
        folder, limit = _own_place(V1, ":memory:") / name, "memory.limit_in_bytes"
    else:
        folder, limit = _own_place(V2, "0::").parent / name, "memory.max"
    _sweep(folder.parent)
    folder.mkdir()
    if not (folder / limit).exists():
        folder.rmdir()
        raise PermissionError(1, "memory is not shared out to control groups here", str(folder))
    return folder, limit


def _sweep(parent: Path) -> None:
    """Remove what killed tests left; one that still holds a process stays."""
    for left in parent.glob(f"{PREFIX}*"):
        with contextlib.suppress(OSError):
            left.rmdir()


def _own_place(root: Path, mark: str) -> Path:
    for line in Path("/proc/self/cgroup").read_text().splitlines():
        if mark in line:
            return root / line.rpartition(":")[2].lstrip("/")
    return root


class Ballast:
    """Takes memory until only a wanted size is left. `held` says whether it came so far."""

    def __init__(self, tree: Tree | None = None) -> None:
        self._tree = tree or Tree()
        self._blocks: list[mmap.mmap] = []

    def hold(self, size_bytes: int) -> bool:
        """Leave so much to the task and the margin to everybody else; False where that cannot be reached safely, or
        where the kernel does not tell how safe it is."""
        self.release(size_bytes)
        while True:
            left, stall = available_bytes(self._tree), memory_stall(self._tree)
            if left is None or stall is None or stall > MOST_STALL:
                self.close()
                return False
            if left <= size_bytes + MARGIN_BYTES:
                return True
            chunk = min(CHUNK, left - size_bytes - MARGIN_BYTES) // mmap.PAGESIZE * mmap.PAGESIZE
            if chunk <= 0:
                return True
            try:
                block = mmap.mmap(-1, chunk)
            except OSError:
                self.close()
                return False
            for at in range(0, chunk, mmap.PAGESIZE):
                block[at] = 1
            self._blocks.append(block)

    def release(self, size_bytes: int) -> None:
        """Give back until so much is left."""
        while self._blocks and (available_bytes(self._tree) or 0) < size_bytes + MARGIN_BYTES:
            self._blocks.pop().close()

    def close(self) -> None:
        for block in self._blocks:
            block.close()
        self._blocks = []


def available_bytes(tree: Tree) -> int | None:
    """Memory that programs can still have [byte]; None where the kernel does not say."""
    for line in (tree.text("/proc/meminfo") or "").splitlines():
        if line.startswith("MemAvailable:"):
            return int(line.split()[1]) * 1024
    return None


def memory_stall(tree: Tree) -> float | None:
    """Share of the last ten seconds in which every task waited for memory [%]; None where the kernel does not say."""
    for line in (tree.text("/proc/pressure/memory") or "").splitlines():
        if line.startswith("full"):
            return float(line.split()[1].partition("=")[2])
    return None
