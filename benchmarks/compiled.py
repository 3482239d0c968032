"""The compiled tests beside bare loops in C that share nothing with them; writes the table of docs/workloads.md.

Each figure is the best of several, measured by turns, so that a busy neighbour slows both. `python -m
benchmarks.compiled --print` writes nothing.
"""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from brachium.devices.native import library
from brachium.devices.native.build import compiler
from brachium.devices.workloads.drive import filled

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "docs" / "workloads.md"
# Beside the code, since a temporary folder may be memory; never kept by git, since a killed run leaves it behind.
SCRATCH = ROOT / ".benchmarks"
START, END = "<!-- compiled: start -->", "<!-- compiled: end -->"
TURNS = 12
MIB = 1 << 20
FILE_BYTES = 512 * MIB
FLAGS = ("-std=gnu11", "-O3", "-Wall")


def bare(program: Path, *arguments: str) -> dict[str, float]:
    """What the bare loops print, by name."""
    said = subprocess.run([str(program), *arguments], capture_output=True, text=True, check=True).stdout
    return {line.split()[0]: float(line.split()[1]) for line in said.splitlines() if line.strip()}


def by_turns(own: Callable[[], float], other: Callable[[], float], least: bool = False) -> tuple[float, float]:
    """The best of each, measured by turns: what a neighbour on the host takes away is nobody's."""
    pairs = [(own(), other()) for _ in range(TURNS)]
    best = min if least else max
    return best(a for a, _ in pairs), best(b for _, b in pairs)


def rows() -> list[tuple[str, str, float, float, str]]:
    """(what, unit, ours, bare, aim)."""
    found = compiler()
    out: list[tuple[str, str, float, float, str]] = []
    SCRATCH.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory(dir=SCRATCH) as folder:
        program = Path(folder) / "loops"
        subprocess.run([found, *FLAGS, "-o", str(program), str(Path(__file__).parent / "bare" / "loops.c")], check=True)
        block, other = library.Words(64 * MIB), library.Words(64 * MIB)
        for kind, names in (("read", ("read",)), ("write", ("write-loop", "write-memset")), ("copy", ("copy",))):
            library.streamed(kind, block, other, 0.0)
            ours, best = by_turns(
                lambda k=kind: library.streamed(k, block, other, 0.6).rate / 1e9,  # type: ignore[misc]
                lambda n=names: max(bare(program, "memory")[x] for x in n),
            )  # type: ignore[misc]
            out.append((f"memory, {kind}, one thread", "GB/s", ours, best, "at least 95 %"))
        for size in (16 << 10, 1 * MIB, 16 * MIB, 256 * MIB):
            ours, best = by_turns(
                lambda s=size: _latency(library.Words(s), s),  # pages anew each turn, as the bare loop has them
                lambda s=size: bare(program, "latency", str(s))["latency"],
                True,
            )  # type: ignore[misc]
            out.append((f"latency, {size >> 10} KiB", "ns", ours, best, "within 5 %"))
        path = Path(folder) / "blocks.bin"
        with path.open("wb") as file:
            for first in range(0, FILE_BYTES // 4096, 1024):
                file.write(filled(first, 1024))
            file.flush()
            os.fsync(file.fileno())
        handle = os.open(path, os.O_RDONLY | os.O_DIRECT)
        for depth in (1, 4, 32):
            ours, best = by_turns(
                lambda d=depth: library.requested(handle, FILE_BYTES, d, 1.5, ring=True).rate,  # type: ignore[misc]
                lambda d=depth: bare(program, "drive", str(path), str(FILE_BYTES), str(d))["reads"],
            )  # type: ignore[misc]
            out.append((f"reads of 4 KiB, {depth} at a time", "reads/s", ours, best, "within 10 %"))
        os.close(handle)
    return out


def _latency(ring: library.Words, size: int) -> float:
    done = library.chased(ring, size, 0.5)
    return 1e9 * done.seconds / done.units


def interpreter_share() -> float:
    """Processor time of a compiled test's child that is not the kernel's own, as a share of the test."""
    command = [sys.executable, "-c", _CHILD]
    told = json.loads(subprocess.run(command, capture_output=True, text=True, check=True).stdout)
    return float(told["outside"] / told["inside"])


_CHILD = """
import json, time
from brachium.devices.native import library
from brachium.devices.native.build import compiler
library.worked("integer", 0.0)
start, cpu = time.perf_counter(), time.process_time()
done = library.worked("integer", 4.0)
print(json.dumps({"outside": max(time.process_time() - cpu - done.seconds, time.perf_counter() - start - done.seconds),
                  "inside": done.seconds}))
"""


def table() -> str:
    """The table as it stands in the page."""
    lines = ["| what | unit | compiled test | bare loop | share | wanted |", "|---|---|---|---|---|---|"]
    for what, unit, ours, best, aim in rows():
        lines.append(f"| {what} | {unit} | {ours:.4g} | {best:.4g} | {100 * ours / best:.0f} % | {aim} |")
    share = interpreter_share()
    lines.append(f"| interpreter beside the kernel | share of the test | {100 * share:.2f} % | | | below 2 % |")
    return "\n".join(lines)


def main() -> None:
    started = time.monotonic()
    made = table()
    print(made)
    print(f"{time.monotonic() - started:.0f} s", file=sys.stderr)
    if "--print" not in sys.argv:
        text = PAGE.read_text(encoding="utf-8")
        PAGE.write_text(re.sub(f"{START}.*{END}", f"{START}\n{made}\n{END}", text, flags=re.S), encoding="utf-8")


if __name__ == "__main__":
    main()
