"""How a workload's child process talks: one JSON object a line out, `go` and the end of the input in."""

from __future__ import annotations

import json
import os
import sys
import threading
import time


def say(**facts: object) -> None:
    """Send one line to the program."""
    sys.stdout.write(json.dumps(facts) + "\n")
    sys.stdout.flush()


def wait_for_go() -> None:
    """Say that everything is laid out, wait for the start; end with the program if it goes away.

    From then on the end of the input (the program stopped this test, or was itself killed) ends the process at once.
    """
    say(ready=True)
    if sys.stdin.readline().strip() != "go":
        os._exit(3)
    threading.Thread(target=_end_with_the_program, daemon=True).start()


def _end_with_the_program() -> None:
    while sys.stdin.readline():
        pass
    os._exit(3)


class Stopwatch:
    """Runs for a duration [s]; a duration of zero or less never ends by itself."""

    def __init__(self, duration_s: float) -> None:
        self._duration_s = duration_s if duration_s > 0 else float("inf")
        self.start_s = time.monotonic()

    def elapsed_s(self) -> float:
        return time.monotonic() - self.start_s

    def over(self) -> bool:
        return self.elapsed_s() >= self._duration_s
