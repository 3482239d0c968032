"""Where the seconds of a task went: processor, waiting for storage, paging, other. Measured, not left over.

The processor's share is the kernel's own account of the task and its children. The rest is looked at from a small
helper process that reads the state of the task at irregular moments (proc(5), field 3): D is waiting for storage, and
paging where pages came back from swap meanwhile; S, and R without a processor, are other. The parts are measured apart
from the whole, so that their sum shows how good they are.
"""

from __future__ import annotations

import json
import os
import random
import resource
import time
from pathlib import Path

from brachium.devices.workloads.ends_with_us import forked

BETWEEN_S = (0.0015, 0.0045)
PROCESSOR, STORAGE, PAGING, OTHER = "processor", "storage", "paging", "other"
_RUNS, _DISK = ("R",), ("D",)


class TimeSplit:
    """Looks at this process and its children from `start` to `stop`."""

    def __init__(self) -> None:
        self._to_helper, self._from_helper = -1, -1
        self._helper = 0
        self._started_s = self._cpu_s = 0.0

    def start(self) -> None:
        """Begin; what was computed before does not count."""
        heard, self._to_helper = os.pipe()
        self._from_helper, told = os.pipe()
        target = os.getpid()
        self._helper = forked()
        if self._helper == 0:
            try:
                os.close(self._to_helper)
                os.close(self._from_helper)
                _look(target, heard, told)
            finally:
                os._exit(0)
        os.close(heard)
        os.close(told)
        self._cpu_s, self._started_s = _computed_s(), time.monotonic()

    def stop(self) -> tuple[float, dict[str, float]]:
        """(seconds in all, seconds by where they went). Shares of a state are of the samples taken."""
        whole = time.monotonic() - self._started_s
        computed = _computed_s() - self._cpu_s
        os.close(self._to_helper)
        with os.fdopen(self._from_helper, "rb") as pipe:
            text = pipe.read()
        os.waitpid(self._helper, 0)
        counts = json.loads(text or b"{}")
        return whole, split_of(whole, computed, counts)


def split_of(whole_s: float, computed_s: float, counts: dict[str, int]) -> dict[str, float]:
    """Seconds by where they went, of counted states: `run`, `storage`, `paging`, `other`; several processors at once
    count as one. Empty where nothing was seen."""
    seen = sum(counts.values())
    if not seen:
        return {}
    part = {name: whole_s * n / seen for name, n in counts.items()}
    running = part.get("run", 0.0)
    processor = computed_s if computed_s < whole_s else running
    other = part.get("other", 0.0) + max(running - processor, 0.0)
    return {PROCESSOR: processor, STORAGE: part.get("storage", 0.0), PAGING: part.get("paging", 0.0), OTHER: other}


def _computed_s() -> float:
    own, children = resource.getrusage(resource.RUSAGE_SELF), resource.getrusage(resource.RUSAGE_CHILDREN)
    return own.ru_utime + own.ru_stime + children.ru_utime + children.ru_stime


def _look(target: int, heard: int, told: int) -> None:
    """The helper: count states until the pipe closes, or the task is gone."""
    os.set_blocking(heard, False)
    counts = {"run": 0, "storage": 0, "paging": 0, "other": 0}
    swapped = _swapped_in()
    draw = random.Random(1)
    while os.getppid() == target and not _closed(heard):
        state = _state(target)
        now = _swapped_in() if state == "storage" else swapped
        counts["paging" if state == "storage" and now > swapped else state] += 1
        swapped = now
        time.sleep(draw.uniform(*BETWEEN_S))
    os.write(told, json.dumps(counts).encode())


def _closed(handle: int) -> bool:
    try:
        return os.read(handle, 1) == b""
    except BlockingIOError:
        return False


def _state(target: int) -> str:
    """Of a task and its children: running if any of them runs, else waiting for storage if any does."""
    states = [_letter(pid) for pid in (target, *_children(target))]
    if any(s in _RUNS for s in states):
        return "run"
    return "storage" if any(s in _DISK for s in states) else "other"


def _letter(pid: int) -> str:
    try:
        text = Path(f"/proc/{pid}/stat").read_bytes()
    except OSError:
        return ""
    return text[text.rindex(b")") + 2 : text.rindex(b")") + 3].decode()


def _children(target: int) -> list[int]:
    """Children of all threads of the task but this helper."""
    try:
        text = Path(f"/proc/{target}/task/{target}/children").read_text()
    except OSError:
        return []
    return [int(p) for p in text.split() if int(p) != os.getpid()]


def _swapped_in() -> int:
    """Pages that came back from swap since the start."""
    try:
        text = Path("/proc/vmstat").read_text()
    except OSError:
        return 0
    return next((int(line.split()[1]) for line in text.splitlines() if line.startswith("pswpin ")), 0)
