"""How a workload's child process talks: one JSON object a line out, `go` and the end of the input in."""

from __future__ import annotations

import json
import os
import sys
import threading
import time

PARENT_S = 0.25
_GO = threading.Event()
_watched = False


def say(**facts: object) -> None:
    """Send one line to the program."""
    sys.stdout.write(json.dumps(facts) + "\n")
    sys.stdout.flush()


def wait_for_go() -> None:
    """Say that everything is laid out, wait for the start; end with the program if it goes away.

    The end of the input (the program stopped this test, or was itself killed) ends the process at once.
    """
    end_with_the_program()
    say(ready=True)
    _GO.wait()


def end_with_the_program() -> None:
    """Watch from now on, also while a test is still laying its memory out, whether the program is there.

    Its end closes the input; a helper of its that holds the input open is noticed by the change of parent.
    """
    global _watched
    if not _watched:
        _watched = True
        threading.Thread(target=_watch_input, daemon=True).start()
        threading.Thread(target=_watch_parent, args=(os.getppid(),), daemon=True).start()


def _watch_input() -> None:
    for line in iter(sys.stdin.readline, ""):
        if line.strip() == "go":
            _GO.set()
    os._exit(3)


def _watch_parent(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(PARENT_S)
    os._exit(3)


class ChildStopwatch:
    """Runs for a duration [s]; a duration of zero or less never ends by itself.

    `over` is asked before every unit of work: the first one is always done, also where a busy machine lets the whole
    time pass before it.
    """

    def __init__(self, duration_s: float) -> None:
        self._duration_s = duration_s if duration_s > 0 else float("inf")
        self._asked = False
        self.start_s = time.monotonic()

    def elapsed_s(self) -> float:
        return time.monotonic() - self.start_s

    def over(self) -> bool:
        asked, self._asked = self._asked, True
        return asked and self.elapsed_s() >= self._duration_s
