"""A group of child processes that do one workload together; they start at the same moment."""

from __future__ import annotations

import json
import os
import subprocess
import threading
from dataclasses import dataclass, field
from typing import List, Mapping, Sequence

Facts = Mapping[str, object]


@dataclass(frozen=True)
class ChildSpec:
    """What one child does: kernel name and its arguments."""

    kernel: str
    arguments: Mapping[str, object]


@dataclass
class _Child:
    process: subprocess.Popen[str]
    ready: bool = False
    lines: List[Facts] = field(default_factory=list)
    result: Facts | None = None
    problem: str = ""


class ChildGroup:
    """Starts, watches and ends the children. All state is filled by one reading thread per child."""

    def __init__(self, specs: Sequence[ChildSpec], command: Sequence[str]) -> None:
        """`command` starts a child; the kernel's name and its arguments as JSON are added to it."""
        self._specs, self._command = tuple(specs), list(command)
        self._children: list[_Child] = []
        self._lock = threading.Lock()
        self._going = False
        self._killed = False

    def start(self) -> None:
        """Start all; the last one that is ready sets them all going."""
        environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
        for spec in self._specs:
            arguments = json.dumps(dict(spec.arguments))
            process = subprocess.Popen(
                [*self._command, spec.kernel, arguments],
                stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env=environment,
            )  # fmt: skip
            self._children.append(_Child(process))
        for child in self._children:
            threading.Thread(target=self._read, args=(child,), daemon=True).start()

    def pids(self) -> list[int]:
        return [c.process.pid for c in self._children]

    def done(self) -> bool:
        """All have ended and everything they said is read."""
        return bool(self._children) and all(c.result is not None or c.problem for c in self._children)

    def problem(self) -> str:
        """The first thing that went wrong, empty where nothing did."""
        return next((c.problem for c in self._children if c.problem), "")

    def results(self) -> tuple[float, ...]:
        """The result of every child that has one."""
        return tuple(float(c.result["result"]) for c in self._children if c.result is not None)  # type: ignore[arg-type]

    def last_facts(self) -> tuple[Facts, ...]:
        """The last line of every child that said anything."""
        with self._lock:
            return tuple(c.result or (c.lines[-1] if c.lines else {}) for c in self._children)

    def progress(self) -> tuple[tuple[Facts, ...], ...]:
        """Progress lines per child."""
        with self._lock:
            return tuple(tuple(c.lines) for c in self._children)

    def wrong(self) -> int:
        """Wrong checksums or words found so far; each is a finding."""
        return sum(int(f.get("wrong", 0)) for f in self.last_facts())  # type: ignore[call-overload]

    def kill(self) -> None:
        """End all at once."""
        self._killed = True
        for child in self._children:
            child.process.kill()
        for child in self._children:
            child.process.wait()

    def _read(self, child: _Child) -> None:
        assert child.process.stdout is not None
        for line in child.process.stdout:
            self._take(child, _facts(line))
        child.process.wait()
        if child.result is None and not child.problem:
            code = child.process.returncode
            child.problem = "stopped" if self._killed else f"the test's process ended with code {code}"
        self._close(child)

    def _take(self, child: _Child, facts: Facts) -> None:
        with self._lock:
            if "ready" in facts:
                child.ready = True
            elif "result" in facts:
                child.result = facts
            elif "problem" in facts:
                child.problem = str(facts["problem"])
            elif facts:
                child.lines.append(facts)
            start = not self._going and all(c.ready for c in self._children)
            self._going = self._going or start
        if start:
            self._go()

    def _go(self) -> None:
        for child in self._children:
            assert child.process.stdin is not None
            try:
                child.process.stdin.write("go\n")
                child.process.stdin.flush()
            except (OSError, ValueError):
                continue  # that child has ended; its reader says why

    def _close(self, child: _Child) -> None:
        for pipe in (child.process.stdin, child.process.stdout):
            if pipe is not None:
                try:
                    pipe.close()
                except OSError:
                    continue


def _facts(line: str) -> Facts:
    try:
        found = json.loads(line)
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}
