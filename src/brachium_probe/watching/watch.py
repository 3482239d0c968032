"""`brachium-probe watch`: accompanies real days of use, a row every 15 s, with the owner's consent.

Lengths come from a clock that runs on through sleep and never jumps; the wall clock only tells the time of day. A sleep
begins a new stretch, a jump of the clock is noted. A file that a power loss cut off is gone on with.
"""

from __future__ import annotations

import argparse
import fcntl
import json
import os
import re
import signal
import sys
import time
from typing import Dict, List, Sequence

from brachium_probe import PROBE_VERSION, facts
from brachium_probe.journal import JournalWriter
from brachium_probe.scan import scan
from brachium_probe.tree import Tree
from brachium_probe.watching.sampler import CHANNELS, WatchSampler

LOOK_S, ROW_S, SYNC_S = 1.0, 15.0, 60.0
SLEEP_S, JUMP_S = 6.0, 30.0  # so much longer than asked = the machine slept; so much off = the clock was set
LONGEST_H = 24.0 * 14  # a longer file would be refused for its size
GO_ON_S = 48 * 3600.0  # so long after its last row a watch that was cut off is another one
WHAT = ("Recorded every 15 s: how busy processor, drives, network and graphics are, waiting, memory, clock, heat.\n"
        "No names of programs, files or sites, nothing typed or shown; once, what the machine is made of.\n"
        "The file stays where it is written; nothing is sent.")  # fmt: skip


class GoingOn(Exception):  # noqa: N818 - said to people as it is named
    """Another watch writes into this file."""


class NotAgreed(Exception):  # noqa: N818 - said to people as it is named
    """Nothing is recorded without consent."""


def arguments_of(arguments: List[str]) -> argparse.Namespace:
    """What follows `watch`."""
    parser = argparse.ArgumentParser(prog="brachium-probe watch", description=WHAT)
    parser.add_argument("--hours", type=float, default=24.0, help="how long [h]")
    parser.add_argument("--agreed-by", default="", help="who agreed to it, such as a desk or a room; asked otherwise")
    parser.add_argument("--configuration", default="as taken in", help="what state the machine is in")
    parser.add_argument("--out", default="", help="where the file goes, if not beside the probe")
    parser.add_argument("--root", default="/", help=argparse.SUPPRESS)
    given = parser.parse_args(arguments)
    if not 0.0 < given.hours <= LONGEST_H:
        parser.error(f"{given.hours:g} hours: between 0 and {LONGEST_H:g}")
    return given


def watch(arguments: List[str]) -> int:
    """Entry point; returns the exit code."""
    given = arguments_of(arguments)
    tree = Tree(given.root)
    try:
        agreed = consent(given.agreed_by)
        recorder = Watch.begun(tree, given.out, given.hours, agreed, given.configuration)
    except (NotAgreed, GoingOn) as why:
        print(why, file=sys.stderr)
        return 1
    except OSError as error:
        print(f"{error.filename}: {error.strerror or error}. Name a folder that can be written with --out.",
              file=sys.stderr)  # fmt: skip
        return 1
    print(f"writing {recorder.path}, {given.hours:g} h; ends with Ctrl+C", flush=True)
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, lambda *_: recorder.stop())
    recorder.run()
    print(f"{'done' if not recorder.problem else recorder.problem}: {recorder.path}")
    return 1 if recorder.problem else 0


def consent(agreed_by: str) -> str:
    """Who agreed, and when. Raises NotAgreed."""
    if not agreed_by and sys.stdin.isatty():
        print(WHAT)
        agreed_by = input("Who agrees to this being recorded (a desk or a room; empty = nobody)? ")
    if not agreed_by.strip():
        raise NotAgreed("Nothing is recorded without consent: say who agreed with --agreed-by.")
    return f"consent: {agreed_by.strip()}, {time.strftime('%Y-%m-%d %H:%M')}"


class Watch:
    """One file of one or more stretches. `number` is that of the last stretch in it."""

    def __init__(
        self, tree: Tree, writer: JournalWriter, hours: float, number: int, done_s: float, notes: Sequence[str] = ()
    ) -> None:  # fmt: skip
        self._tree, self._writer, self._number = tree, writer, number
        self._left_s = hours * 3600.0 - done_s
        self._sampler = WatchSampler(tree)
        self._stopped = False
        self._notes: List[str] = list(notes)
        self.path = writer.path

    @staticmethod
    def begun(tree: Tree, out: str, hours: float, agreed: str, configuration: str) -> Watch:
        """A new file, or the one that was cut off in the same configuration not long ago. Raises OSError, GoingOn."""
        folder = os.path.abspath(out) if out else os.path.dirname(os.path.abspath(sys.argv[0]))
        name = tree.text("/sys/class/dmi/id/product_name") or os.uname().nodename or "machine"
        stem = f"watch-{re.sub(r'[^a-z0-9]+', '-', name.lower()).strip('-') or 'machine'}-"
        for name in (n for n in os.listdir(folder) if n.startswith(stem)):
            if held(os.path.join(folder, name)):
                raise GoingOn(f"{os.path.join(folder, name)}: a watch is going on already.")
        cut = cut_off(folder, stem, configuration)
        if cut is not None:
            path, number, done_s = cut
            if done_s < hours * 3600.0:
                writer = JournalWriter.going_on(path, SYNC_S)
                writer.hold()
                return Watch(tree, writer, hours, number, done_s, [agreed])
        path = os.path.join(folder, f"{stem}{time.strftime('%Y%m%d-%H%M%S')}.jsonl")
        head = _head(tree, os.path.basename(path).rpartition(".")[0], configuration, agreed, hours)
        writer = JournalWriter(path, head, list(CHANNELS), SYNC_S, scan(tree))
        writer.hold()
        return Watch(tree, writer, hours, 0, 0.0)

    @property
    def problem(self) -> str:
        """Why nothing more could be written; empty while all is well."""
        return f"the file cannot be written any more: {self._writer.problem}" if self._writer.problem else ""

    def stop(self) -> None:
        """End after the present second; all is kept."""
        self._stopped = True

    def run(self) -> None:
        """Until the hours are over, it is stopped, or nothing can be written any more."""
        while self._left_s > 0 and not self._stopped and not self.problem:
            self._stretch()
        self._writer.end(True, self._notes)

    def _stretch(self) -> None:
        """One stretch without a sleep; times in it count from its own start."""
        self._number += 1
        self._writer.begin(self._number, facts.boot_id(self._tree))
        self._sampler.forget()
        start, written = _uptime_s(), 0.0
        apart = time.time() - start
        self._sampler.row(ROW_S, time.time())
        next_s, row_s = start + LOOK_S, start + ROW_S
        while self._left_s > written and not self._stopped and not self.problem:
            time.sleep(max(next_s - _uptime_s(), 0.0))
            now = _uptime_s()
            if now - next_s > SLEEP_S:
                break  # it slept, or was stopped
            next_s = max(next_s + LOOK_S, now)
            self._sampler.busy.look()
            if now >= row_s:
                self._write(now - start, now - start - written)
                written, row_s = now - start, max(row_s + ROW_S, now + 0.5 * ROW_S)
                apart = self._clock(apart, now)
        self._left_s -= written

    def _write(self, time_s: float, passed_s: float) -> None:
        values: Dict[str, float] = self._sampler.row(passed_s, time.time())
        self._writer.sample(round(time_s, 2), [round(values.get(k, float("nan")), 4) for k, _, _ in CHANNELS])

    def _clock(self, apart: float, now: float) -> float:
        """Notes when the wall clock was set; returns how far it is from the steady one."""
        found = time.time() - now
        if abs(found - apart) > JUMP_S:
            self._notes.append(f"the clock was set by {found - apart:+.0f} s, {time.strftime('%Y-%m-%d %H:%M')}")
        return found


def held(path: str) -> bool:
    """Whether a watch is writing this file now."""
    try:
        with open(path, "rb") as file:
            fcntl.flock(file.fileno(), fcntl.LOCK_SH | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    return False


def cut_off(folder: str, stem: str, configuration: str) -> tuple[str, int, float] | None:
    """(path, number of its last stretch, seconds recorded) of the newest file, where it has no last line, is of the
    same configuration and was written to not long ago; None = there is none to go on with."""
    names = sorted((n for n in os.listdir(folder) if n.startswith(stem) and n.endswith(".jsonl")), reverse=True)
    for name in names[:1]:
        path = os.path.join(folder, name)
        number, done_s, last_s, ended = 0, 0.0, 0.0, time.time() - os.path.getmtime(path) > GO_ON_S
        if ended:
            return None
        with open(path, encoding="utf-8", errors="replace") as file:
            for line in file:
                try:
                    facts_ = json.loads(line)
                except ValueError:
                    continue
                if facts_.get("kind") == "head" and facts_["run"]["configuration"] != configuration:
                    return None
                if facts_.get("kind") == "session":
                    number, done_s, last_s = int(facts_["number"]), done_s + last_s, 0.0
                elif facts_.get("kind") == "s":
                    last_s = float(facts_["t"])
                ended = facts_.get("kind") == "end"
        return None if ended else (path, number, done_s + last_s)
    return None


def _uptime_s() -> float:
    """Seconds since the start of the machine, with those in which it slept (CLOCK_BOOTTIME)."""
    return time.clock_gettime(time.CLOCK_BOOTTIME)


def _head(tree: Tree, run_id: str, configuration: str, agreed: str, hours: float) -> Dict[str, object]:
    return {
        "id": run_id, "configuration": configuration,
        "protocol": {
            "name": "Watch", "version": 1, "phases": [{"name": "use", "duration_s": 3600.0 * hours}], "tests": [],
            "repeats": 1, "sessions": 1, "rate_hz": 1.0 / ROW_S, "test_s": 0.0, "memory_test_s": 0.0,
            "memory_test_bytes": 0, "drive_bytes": 0,
        },
        "conditions": facts.conditions(tree, None, ""), "tests": [], "sessions": [],
        "taken_at": time.strftime("%Y-%m-%d %H:%M"), "origin": f"probe {PROBE_VERSION}", "complete": False,
        "machine": facts.machine_name(tree), "notes": [agreed],
    }  # fmt: skip
