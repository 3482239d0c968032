"""Writes a run while it goes on, one JSON object a line, so that a killed program loses next to nothing.

The format is described in docs/formats/run.md (streaming form).
"""

from __future__ import annotations

import fcntl
import json
import math
import os
import time
from typing import Sequence, Tuple

FORMAT = "brachium-journal"
FORMAT_VERSION = 1


class JournalWriter:
    """One run in one new file. Every line is handed to the system at once, and to the disk every `sync_s` seconds.

    Raises OSError where the file cannot be made; a later failure to write is kept in `problem` and ends the writing,
    never the run.
    """

    def __init__(
        self, path: str, head: dict[str, object], channels: list[tuple[str, str, str]], sync_s: float,
        scan: dict[str, object] | None = None,
    ) -> None:  # fmt: skip
        self.path, self._sync_s = path, sync_s
        self._file = open(path, "x", encoding="utf-8")  # noqa: SIM115 - open as long as the run lasts
        self._synced = time.monotonic()
        self.quiet = False
        self.problem = ""
        self._write({"kind": "head", "format": FORMAT, "version": FORMAT_VERSION, "run": head,
                     "channels": [list(c) for c in channels], **({"scan": scan} if scan else {})})  # fmt: skip

    @classmethod
    def going_on(cls, path: str, sync_s: float) -> JournalWriter:
        """Go on with a file that was cut off; a line that was left half written is ended. Raises OSError."""
        writer = cls.__new__(cls)
        writer.path, writer._sync_s, writer.quiet, writer.problem = path, sync_s, False, ""
        with open(path, "rb") as file:
            file.seek(0, os.SEEK_END)
            file.seek(max(file.tell() - 1, 0))
            whole = file.read(1) == b"\n"
        writer._file = open(path, "a", encoding="utf-8")  # noqa: SIM115 - open as long as the run lasts
        writer._synced = time.monotonic()
        if not whole:
            writer._file.write("\n")
        return writer

    def hold(self) -> None:
        """Nobody else writes into this file as long as it is open; whoever asks for its lock sees that."""
        fcntl.flock(self._file.fileno(), fcntl.LOCK_EX | fcntl.LOCK_NB)

    def begin(self, number: int, boot_id: str) -> None:
        """A session begins; times count from here."""
        self._write({"kind": "session", "number": number, "boot": boot_id})

    def sample(self, time_s: float, values: list[float]) -> None:
        """One row of samples in the order of the channels; NaN is written as null."""
        row = [None if math.isnan(v) else v for v in values]
        self._write({"kind": "s", "t": time_s, "v": row})

    def enter(self, name: str, start_s: float) -> None:
        """A phase begins; `phase` repeats it with its end."""
        self._write({"kind": "enter", "name": name, "start_s": start_s})

    def phase(self, name: str, start_s: float, end_s: float) -> None:
        self._write({"kind": "phase", "name": name, "start_s": start_s, "end_s": end_s})

    def repeat(
        self, test: str, value: float, valid: bool, reason: str, curve: Sequence[Tuple[float, float]] = (),
        parts: Sequence[Tuple[str, float]] = (),
    ) -> None:  # fmt: skip
        told: dict[str, object] = {"curve": [list(p) for p in curve]} if curve else {}
        if parts:
            told["parts"] = [[name, amount] for name, amount in parts]
        self._write({"kind": "repeat", "test": test, "value": value, "valid": valid, "reason": reason, **told})

    def check(self, key: str, title: str, passed: bool | None, detail: str) -> None:
        self._write({"kind": "check", "key": key, "title": title, "passed": passed, "detail": detail})

    def end(self, complete: bool, notes: list[str]) -> None:
        """The last line; a file without it is a run that was cut off."""
        self._write({"kind": "end", "complete": complete, "notes": notes})
        self.close()

    def close(self) -> None:
        if not self._file.closed:
            try:
                self._file.close()
            except OSError as error:
                self.problem = self.problem or str(error.strerror or error)

    def _write(self, facts: dict[str, object]) -> None:
        if self.problem or self._file.closed:
            return
        try:
            self._file.write(json.dumps(facts, ensure_ascii=False, separators=(",", ":")) + "\n")
            self._file.flush()
            now = time.monotonic()
            # a drive test in progress must not be disturbed by the journal's own writes
            if not self.quiet and now - self._synced >= self._sync_s:
                os.fsync(self._file.fileno())
                self._synced = now
        except OSError as error:
            self.problem = str(error.strerror or error)
